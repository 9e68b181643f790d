"""Arrows point one way: web and cli to store, figures and core; store and figures to core; core to nothing."""

import ast
import sys
from pathlib import Path

import pytest

SOURCE = Path(__file__).parent.parent / "src" / "sorvek"
OUTSIDE = {
    "core": {"numpy", "numba", "lark", "pydantic", "rapidfuzz"},
    "figures": set(),
    "store": {"peewee", "playhouse"},
    "demo": {"numpy"},
    "actions": set(),
    "web": {
        "fpdf",
        "fontTools",
        "segno",
        "icalendar",
        "flask",
        "flask_wtf",
        "flask_compress",
        "werkzeug",
        "wtforms",
    },
}
INSIDE = {
    "core": {"core"},
    "figures": {"core", "figures"},
    "store": {"core", "store"},
    "demo": {"core", "store"},
    "actions": {"core"},
    "web": {"core", "figures", "store", "demo", "actions", "web"},
}
BANNED_IN_CORE = {"time", "datetime", "random", "sqlite3", "socket", "threading"}
FILES = sorted(path for layer in OUTSIDE for path in (SOURCE / layer).rglob("*.py"))


def imported(path: Path) -> set[str]:
    names = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            names |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom):
            assert node.level == 0, f"{path.name}: relative import"
            names |= {f"{node.module}.{alias.name}" for alias in node.names}
    return names


@pytest.mark.parametrize("path", FILES, ids=lambda path: str(path.relative_to(SOURCE)))
def test_a_file_imports_only_what_its_layer_may(path):
    layer = path.relative_to(SOURCE).parts[0]
    for name in imported(path):
        parts = name.split(".")
        if parts[0] == "sorvek":
            assert parts[1] in INSIDE[layer], f"{layer} imports {name}"
        elif parts[0] in sys.stdlib_module_names:
            assert layer != "core" or parts[0] not in BANNED_IN_CORE, f"core imports {name}"
        else:
            assert parts[0] in OUTSIDE[layer], f"{layer} imports {name}"


def test_templates_end_in_a_suffix_that_is_escaped():
    """Flask escapes by ending; anything but these would let a title through as markup."""
    endings = {path.suffix for path in (SOURCE / "web").rglob("*") if path.is_file() and "static" not in path.parts}
    assert endings <= {".py", ".pyc", ".html", ".svg"}

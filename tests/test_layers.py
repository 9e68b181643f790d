"""The house: arrows point down only, outsiders come in by the face of a package, names stand once."""

import ast
import importlib
import inspect
import sys
from collections import Counter, defaultdict
from pathlib import Path

import pytest

SOURCE = Path(__file__).parent.parent / "src" / "sorvek"
# Floors from the ground up; who stands on one may use what lies below. Packages of the core come first.
ROOMS = (
    "workout",
    "athlete",
    "plan",
    "simulation",
    "planner",
    "advice",
    "lift",
    "club",
    "prep",
    "live",
    "season",
    "calendar",
)
BELOW = {
    "core": set(),
    "figures": {"core"},
    "paper": {"core"},
    "store": {"core"},
    "demo": {"core", "store"},
    "actions": {"core", "paper", "store"},
    "bench": {"core", "actions", "demo", "web"},
    "web": {"core", "figures", "paper", "store", "demo", "actions"},
    "cli": {"core", "actions", "paper", "store", "web", "bench"},
}
OUTSIDE = {
    "core": {"numpy", "numba", "lark", "ortools", "pydantic", "rapidfuzz"},
    "figures": set(),
    "paper": {"fpdf", "fontTools"},
    "store": {"argon2", "peewee", "playhouse"},
    "demo": {"numpy"},
    "actions": {"distributed"},
    "bench": {"numpy", "scipy"},
    "web": {
        *("flask", "flask_compress", "flask_limiter", "flask_login", "flask_wtf", "werkzeug", "wtforms"),
        *("icalendar", "segno"),
    },
    "cli": {"click", "waitress"},
}
BANNED_IN_CORE = {"time", "datetime", "random", "sqlite3", "socket", "threading"}
# The bench measures what a face hides: the kernel beside its twin, the search beside another.
MAY_LOOK_INSIDE = {"bench"}
MOST_MODULES = 12
MOST_FACE_LINES = 60
# Some verbs are unlike each other and bundling them would only hide them (docs/architecture.md); none may be added
# without a look at what could become a method of a noun.
MOST_VERBS = {
    "workout": 4,
    "plan": 5,
    "planner": 3,
    "season": 17,
    "calendar": 4,
    "simulation": 12,
    "athlete": 16,
    "advice": 16,
    "lift": 17,
    "club": 17,
    "prep": 14,
    "live": 16,
}
FILES = sorted(path for layer in BELOW for path in (SOURCE / layer).rglob("*.py"))


def imports(path: Path) -> list[tuple[str, str]]:
    """Return module and name of every import, wherever it stands in the file."""
    found = []
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            found += [(alias.name, "") for alias in node.names]
        elif isinstance(node, ast.ImportFrom):
            assert node.level == 0, f"{path.name}: relative import"
            found += [(node.module, alias.name) for alias in node.names]
    return found


def layer_of(path: Path) -> str:
    return path.relative_to(SOURCE).parts[0]


def room_of(module: str) -> str:
    """Return the core's package a module belongs to, empty for the ground floor and for other layers."""
    parts = module.split(".")
    return parts[2] if parts[:2] == ["sorvek", "core"] and len(parts) > 2 and parts[2] in ROOMS else ""


def name_of(path: Path) -> str:
    return ".".join(path.relative_to(SOURCE.parent).with_suffix("").parts).removesuffix(".__init__")


@pytest.mark.parametrize("path", FILES, ids=lambda path: str(path.relative_to(SOURCE)))
def test_a_file_imports_only_what_lies_below_it(path):
    layer = layer_of(path)
    for module, name in imports(path):
        parts = module.split(".")
        if parts[0] == "sorvek":
            target = parts[1] if len(parts) > 1 else name
            assert target in BELOW[layer] | {layer}, f"{layer} imports {module}"
        elif parts[0] in sys.stdlib_module_names:
            assert layer != "core" or parts[0] not in BANNED_IN_CORE, f"core imports {module}"
        else:
            assert parts[0] in OUTSIDE[layer], f"{layer} imports {module}"


@pytest.mark.parametrize("path", FILES, ids=lambda path: str(path.relative_to(SOURCE)))
def test_a_file_comes_into_a_room_of_the_core_by_its_face_and_from_above(path):
    mine = room_of(name_of(path))
    for module, name in imports(path):
        room = room_of(module)
        if not room or room == mine:
            continue
        if mine:
            assert ROOMS.index(room) < ROOMS.index(mine), f"{mine} climbs up to {room}"
        if layer_of(path) not in MAY_LOOK_INSIDE:
            assert module == f"sorvek.core.{room}", f"{path.name} goes past the face of {room}: {module}"
            assert name in importlib.import_module(module).__all__


def test_no_file_is_reached_from_itself():
    files = {name_of(path): path for path in FILES}
    arrows = defaultdict(set)
    for name, path in files.items():
        if path.name == "__init__.py":
            continue  # a face only hands names on
        for module, imported in imports(path):
            arrows[name] |= {target for target in (module, f"{module}.{imported}") if target in files}
    done: set[str] = set()

    def visit(name, trail):
        assert name not in trail, " -> ".join([*trail, name])
        if name not in done:
            for target in arrows[name]:
                visit(target, [*trail, name])
            done.add(name)

    for name in files:
        visit(name, [])


@pytest.mark.parametrize("room", ROOMS)
def test_a_room_is_small_and_its_face_only_hands_on_what_it_names(room):
    folder = SOURCE / "core" / room
    assert len([path for path in folder.glob("*.py") if path.name != "__init__.py"]) <= MOST_MODULES
    text = (folder / "__init__.py").read_text(encoding="utf-8")
    face = importlib.import_module(f"sorvek.core.{room}")
    kinds = {type(node) for node in ast.parse(text).body}
    assert kinds <= {ast.Expr, ast.ImportFrom, ast.Assign}
    assert len(text.splitlines()) <= MOST_FACE_LINES
    assert inspect.getdoc(face)
    handed = {name for module, name in imports(folder / "__init__.py")}
    assert handed == set(face.__all__)
    verbs = [name for name in face.__all__ if inspect.isfunction(inspect.unwrap(getattr(face, name)))]
    assert len(verbs) <= MOST_VERBS[room], verbs


def test_routes_import_no_other_feature():
    for path in (SOURCE / "web").rglob("*.py"):
        feature = path.relative_to(SOURCE / "web").parts[0]
        if feature == "__init__.py":
            continue
        for module, _ in imports(path):
            parts = module.split(".")
            if parts[:2] == ["sorvek", "web"] and len(parts) > 3:
                assert parts[2] == feature, f"{path} imports {module}"


def test_names_of_classes_stand_once():
    names = Counter(
        node.name
        for path in FILES
        for node in ast.parse(path.read_text(encoding="utf-8")).body
        if isinstance(node, ast.ClassDef) and not node.name.startswith("_")
    )
    assert [name for name, count in names.items() if count > 1] == []


def test_the_application_shadows_none_of_its_packages():
    folders = {path.name for path in (SOURCE / "web").iterdir() if path.is_dir()}
    tree = ast.parse((SOURCE / "web" / "__init__.py").read_text(encoding="utf-8"))
    bound = {a.asname or a.name for node in ast.walk(tree) if isinstance(node, ast.ImportFrom) for a in node.names}
    assert bound & folders == set()


def test_templates_end_in_a_suffix_that_is_escaped():
    """Flask escapes by ending; anything but these would let a title through as markup."""
    endings = {path.suffix for path in (SOURCE / "web").rglob("*") if path.is_file() and "static" not in path.parts}
    assert endings <= {".py", ".pyc", ".html", ".svg"}

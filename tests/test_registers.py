"""Registers that must not drift: constants and their sources, movements, the documents."""

import re
from pathlib import Path

from sorvek.core import constants
from sorvek.core.athlete.repetition import CURVES
from sorvek.core.workout.movements import shipped_library

DOCS = Path(__file__).parent.parent / "docs"


def test_every_constant_has_a_source_and_every_source_a_constant():
    names = {name for name in vars(constants) if name.isupper() and name[0] != "_"} - {"SOURCES", "RESOURCES"}
    assert names == set(constants.SOURCES)


def test_every_cited_key_stands_in_the_bibliography():
    text = (DOCS / "model.md").read_text(encoding="utf-8")
    keys = {source.cite for source in constants.SOURCES.values() if source.cite} | {c.cite for c in CURVES.values()}
    assert {key for key in keys if f"[{key}]" not in text} == set()
    assert all(
        source.ours != bool(source.cite) or "memory" in source.where for source in constants.SOURCES.values()
    )


def test_the_library_holds_movements_with_complete_numbers():
    library = shipped_library().movements
    assert len(library) >= 45
    for movement in library.values():
        for style in movement.styles:
            assert max(style.weights) > 0
            assert 0 < style.cycle_s < 15
            assert style.lift or style.unbroken == tuple(sorted(style.unbroken))
            assert not style.lift or style.lift in library


def test_every_spelling_finds_its_own_movement():
    for movement in shipped_library().movements.values():
        for spelling in (movement.name, movement.plural, *movement.aliases, movement.name.upper()):
            assert shipped_library().find(spelling).name == movement.name


def test_the_formats_page_names_every_field_of_the_plan_contract():
    text = (DOCS / "formats.md").read_text(encoding="utf-8")
    fields = [
        "kind",
        "value",
        "p10",
        "p50",
        "p90",
        "finished",
        "finish_probability",
        "tiebreak_s",
        "label",
        "start_s",
        "end_s",
        "reps",
        "movement",
    ]
    fields += ["load_kg", "sets", "rest_s", "pace", "style", "min_reps_in_reserve", "failed_reps", "warnings"]
    fields += ["forced_break_frac", "schemes", "verdict"]
    assert [name for name in fields if not re.search(rf"`{name}`", text)] == []

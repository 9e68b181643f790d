"""The fields of a movement as a coach edits them: what they are called, their unit, and what they mean."""

from collections.abc import Mapping
from dataclasses import dataclass

from sorvek.core.constants import RESOURCES
from sorvek.core.workout import ALL_COLUMNS, HINTS, TIERS, WORDS, Movement
from sorvek.store.library import Cells


@dataclass(frozen=True, slots=True)
class Field:
    """A column of the movements file: label, unit, and for choices what can be chosen."""

    column: str
    label: str
    unit: str = ""
    choices: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class FieldGroup:
    """Fields that belong together, with a sentence about them."""

    title: str
    note: str
    fields: tuple[Field, ...]


YES_NO = ("0", "1")
COMMON = (
    FieldGroup(
        "Names",
        "All spellings a coach or an announcement may use, with | between them.",
        (Field("plural", "Plural"), Field("aliases", "Other spellings"), Field("family", "Family")),
    ),
    FieldGroup(
        "Words",
        "On the read-out, on Break and on cards.",
        (
            Field("standard", "Standard"),
            Field("gear", "Gear"),
            Field("caution", "Caution"),
            Field("cue", "Cue"),
            Field("rest_at", "Where to rest"),
        ),
    ),
    FieldGroup(
        "Size",
        "What the number behind @ is, and the one the numbers below belong to.",
        (
            Field("size", "Kind", choices=("", "load", "height", "distance", "unit")),
            Field("ref_men", "Reference, men", "kg, cm or m"),
            Field("ref_women", "Reference, women", "kg, cm or m"),
        ),
    ),
)
BY_STYLE = (
    FieldGroup("What it loads", "Shares from 0 to 1.", tuple(Field(name, name.capitalize()) for name in RESOURCES)),
    FieldGroup(
        "Time",
        "Seconds when fresh; paces as shares of the usual rep.",
        (
            Field("cycle_s", "One rep", "s"),
            Field("setup_s", "Setting up a set", "s"),
            Field("single_s", "Drop-and-reset single, 0 for none", "s"),
            Field("pace_fast", "Fastest pace"),
            Field("pace_slow", "Slowest pace"),
        ),
    ),
    FieldGroup(
        "Capacity",
        "Longest fresh set at the reference, or the lift whose 1RM decides.",
        (
            *(Field(f"u_{tier}", f"Longest set, {tier}", "reps") for tier in TIERS),
            Field("lift", "Lift"),
            Field("lift_factor", "Share of that 1RM"),
        ),
    ),
    FieldGroup(
        "Fails",
        "Reps that do not count, and what goes when tired.",
        (
            Field("no_rep", "No-reps, share"),
            Field("skill", "Lost with breath, share"),
            Field("trip", "Trips and starts over", choices=YES_NO),
        ),
    ),
    FieldGroup(
        "Work",
        "Travel of body and bar for 1.75 m of stature; steady ones are not done in sets.",
        (
            Field("body_m", "Body", "m"),
            Field("bar_m", "Bar", "m"),
            Field("steady", "Steady", choices=YES_NO),
            Field("power", "Power from", choices=("work", "metre")),
        ),
    ),
)
LABELS = {field.column: field.label for group in (*COMMON, *BY_STYLE) for field in group.fields}


def rows_from(form: Mapping[str, str], name: str, styles: int) -> list[Cells]:
    """Return the rows a sent form means, one a style."""
    common = {f.column: form.get(f.column, "").strip() for group in COMMON for f in group.fields}
    rows = []
    for at in range(styles):
        cells = {f.column: form.get(f"{at}-{f.column}", "").strip() for group in BY_STYLE for f in group.fields}
        style = form.get(f"{at}-style", "").strip()
        row = {**dict.fromkeys(ALL_COLUMNS, ""), **common, **cells, "style": style, "name": name}
        rows.append({column: _typed(column, value) for column, value in row.items()})
    return rows


def _typed(column: str, value: str) -> str:
    """Return a cell as typed, with a full stop in numbers that were written with a comma."""
    text = " ".join(value.split())
    return text if column in WORDS or column in HINTS else text.replace(",", ".")


def rows_of(movement: Movement) -> list[Cells]:
    """Return a movement's rows as the form shows them; a nought that means nothing is left empty."""
    return [
        {k: "" if v == "0" and k.startswith(("u_", "ref_", "lift_factor")) else v for k, v in row.items()}
        for row in movement.rows()
    ]

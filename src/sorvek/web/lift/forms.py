"""The Lift form: text fields to wishes, or a message at the field; loads in the unit shown or written."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from sorvek.core.lift import Aim, Crew, Typed, Wishes
from sorvek.core.planner import Temper
from sorvek.core.quantities import kg_from_lb, lb_from_kg, plain, seconds_from_clock

ROWS = 7
# A bar that rises has a row for every step.
MOST_ROWS = 31
LOAD = re.compile(r"(-?[0-9]{1,6}(?:[.,][0-9]{1,6})?)\s*(kg|lbs?)?")


class AttemptResult(StrEnum):
    """What became of an attempt."""

    OPEN = ""
    MADE = "made"
    MISSED = "missed"


@dataclass(frozen=True, slots=True)
class Parsed:
    """Wishes and what is wrong, by field; wishes hold only what could be read."""

    wishes: Wishes
    errors: Mapping[str, str]


def load_text(load_kg: float | None, unit: str) -> str:
    """Return a load as it is typed, in a unit, without naming it: pounds as whole numbers."""
    if load_kg is None:
        return ""
    return f"{lb_from_kg(load_kg):.0f}" if unit == "lb" else plain(load_kg)


def _load(form: Mapping[str, str], field: str, unit: str, errors: dict[str, str]) -> float | None:
    text = form.get(field, "").strip().lower()
    if not text:
        return None
    match = LOAD.fullmatch(text)
    if match is None:
        errors[field] = f"“{text[:20]}” is no load; write 102.5, or 225 lb"
        return None
    value = float(match[1].replace(",", "."))
    if value <= 0:
        errors[field] = f"{plain(value)} is no load; give a number above 0"
        return None
    return kg_from_lb(value) if (match[2] or unit).startswith("lb") else value


def _start(form: Mapping[str, str], field: str, errors: dict[str, str]) -> float | None:
    text = form.get(field, "").strip()
    if not text:
        return None
    try:
        return seconds_from_clock(text)
    except ValueError:
        errors[field] = f"“{text[:20]}” is no time; write it as 1:40"
        return None


def _rows(form: Mapping[str, str], unit: str, errors: dict[str, str]) -> tuple[Typed, ...]:
    """Return the rows up to the last one that was touched."""
    rows = []
    for i in range(1, MOST_ROWS + 1):
        result = form.get(f"result-{i}", "")
        made = (
            {AttemptResult.MADE: True, AttemptResult.MISSED: False}.get(AttemptResult(result))
            if result in tuple(AttemptResult)
            else None
        )
        rows.append(Typed(_load(form, f"load-{i}", unit, errors), _start(form, f"start-{i}", errors), made))
    while rows and rows[-1] == Typed():
        rows.pop()
    return tuple(rows)


def parse_wishes(form: Mapping[str, str], unit: str) -> Parsed:
    """Return what a form asks for, and what in it cannot be read."""
    errors: dict[str, str] = {}
    aim, crew, temper = form.get("aim", ""), form.get("crew", ""), form.get("temper", "")
    wishes = Wishes(
        one_rep_max_kg=_load(form, "one_rm", unit, errors),
        goal_kg=_load(form, "goal", unit, errors),
        aim=Aim(aim) if aim in tuple(Aim) else Aim.LOAD,
        opening_kg=_load(form, "opening", unit, errors),
        crew=Crew(crew) if crew in tuple(Crew) else Crew.ONE,
        bar=form.get("bar", "")[:20],
        temper=Temper(temper) if temper in tuple(Temper) else Temper.STEADY,
        rows=_rows(form, unit, errors),
    )
    return Parsed(wishes, errors)


def form_of(wishes: Wishes, unit: str) -> dict[str, str]:
    """Return wishes as the fields of the form."""
    fields = {
        "one_rm": load_text(wishes.one_rep_max_kg, unit),
        "goal": load_text(wishes.goal_kg, unit),
        "aim": wishes.aim.value,
        "opening": load_text(wishes.opening_kg, unit),
        "crew": wishes.crew.value,
        "bar": wishes.bar,
        "temper": wishes.temper.value,
    }
    for i, row in enumerate(wishes.rows, 1):
        fields[f"load-{i}"] = load_text(row.load_kg, unit)
        fields[f"start-{i}"] = "" if row.start_s is None else f"{int(row.start_s // 60)}:{row.start_s % 60:02.0f}"
        fields[f"result-{i}"] = {True: AttemptResult.MADE, False: AttemptResult.MISSED, None: AttemptResult.OPEN}[
            row.made
        ].value
    return fields

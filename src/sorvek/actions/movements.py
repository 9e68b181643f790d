"""The club's movements: what a change of one would change, and making it."""

from collections.abc import Sequence
from dataclasses import dataclass

from sorvek.actions.kept import prospects_of
from sorvek.core.errors import CoreError, MovementFileError
from sorvek.core.workout import ALL_COLUMNS, Movement, shipped_library
from sorvek.store.library import (
    Cells,
    club_library,
    earlier_rows,
    last_changed,
    library_with,
    own_rows,
    save_movement,
    take_back_change,
)
from sorvek.store.outlooks import drop_outlooks
from sorvek.store.workouts import SavedWorkout, all_workouts

PROTOTYPE = "competing"
MOST_TRIED = 3


@dataclass(frozen=True, slots=True)
class CellChange:
    """One cell of a movement that differs; `style` is empty where there is one style only."""

    column: str
    style: str
    before: str
    after: str


@dataclass(frozen=True, slots=True)
class Effect:
    """Where a mid-level prototype ends on a workout before and after a change."""

    title: str
    before: str
    after: str


@dataclass(frozen=True, slots=True)
class Preview:
    """What a change of a movement would change; `untried` workouts use it as well."""

    changes: tuple[CellChange, ...]
    effects: tuple[Effect, ...]
    untried: int


def is_own(name: str) -> bool:
    """Return whether the club has numbers of its own for a movement."""
    return any(row["name"] == name for row in own_rows())


def using(name: str) -> list[SavedWorkout]:
    """Return the workouts a movement is part of."""
    return [saved for saved in all_workouts() if any(m.name == name for m in saved.readout.movements)]


def preview(name: str, rows: Sequence[Cells]) -> Preview:
    """Return what would change with these rows for a movement.

    Raises: MovementFileError for a row that cannot be right.
    """
    library = library_with(name, rows)
    before = club_library().movements.get(name)
    found, effects = using(name), []
    for saved in found[:MOST_TRIED]:
        ends = []
        for numbers in (club_library(), library):
            try:
                rows_by_tier = {p.tier: p.score for p in prospects_of(saved.text, "m", numbers)}
                ends.append(rows_by_tier.get(PROTOTYPE, "–"))
            except CoreError as error:
                ends.append(str(error))
        effects.append(Effect(saved.title, *ends))
    changes = tuple(_changes(before, library.movements[name])) if name in library.movements else ()
    return Preview(changes, tuple(effects), max(0, len(found) - MOST_TRIED))


def _changes(before: Movement | None, after: Movement) -> list[CellChange]:
    old = {row["style"]: row for row in before.rows()} if before else {}
    new = after.rows()
    found = []
    for row in new:
        was = old.get(row["style"], dict.fromkeys(ALL_COLUMNS, ""))
        style = row["style"] if len(new) > 1 else ""
        found += [CellChange(c, style, was[c], row[c]) for c in ALL_COLUMNS if was[c] != row[c]]
    return found


def _in_use(name: str, found: Sequence[SavedWorkout]) -> MovementFileError:
    titles = ", ".join(saved.title for saved in found)
    return MovementFileError(f"{name} is part of {titles}; take it out there first")


def change_movement(name: str, rows: Sequence[Cells], seen: str) -> int:
    """Write a movement's rows, or take the club's own away without any; return how many workouts use it.

    Their forecasts are computed again.
    Raises: MovementFileError for a row that cannot be right, or where workouts use a movement that would be gone;
    ConflictError if somebody changed the club's movements since `seen`.
    """
    found = using(name)
    if not rows and found and name not in shipped_library().movements:
        raise _in_use(name, found)
    save_movement(name, rows, seen)
    drop_outlooks(saved.id for saved in found)
    return len(found)


def undo_change(seen: str) -> str:
    """Take the last change of the club's movements back; return the movement it was of.

    Forecasts of the workouts that use it are computed again.
    Raises: ConflictError if they were changed since `seen`, or there is nothing to take back; MovementFileError if
    workouts use a movement that would be gone.
    """
    name = last_changed()
    found = using(name)
    before = [row for row in earlier_rows() if row["name"] == name]
    if not before and found and name not in shipped_library().movements:
        raise _in_use(name, found)
    take_back_change(seen)
    drop_outlooks(saved.id for saved in found)
    return name

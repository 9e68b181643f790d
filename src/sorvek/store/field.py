"""The leaderboards."""

from collections.abc import Iterable, Mapping, Sequence
from functools import lru_cache
from typing import cast

from peewee import chunked, fn

from sorvek.core.club import Leaderboard, Result, order_key
from sorvek.store.errors import ConflictError
from sorvek.store.settings import save_setting, setting, setting_version
from sorvek.store.tables import BoardRow, ResultRow, database

AT_ONCE = 120  # rows an insert, below SQLite's limit of variables


def results_of(workout_id: int) -> list[Result]:
    """Return a workout's leaderboard, best first."""
    # As tuples, because a field has thousands of rows: peewee's objects would take ten times as long.
    columns = (ResultRow.name, ResultRow.division, ResultRow.finished, ResultRow.value)
    more = (ResultRow.tiebreak_s, ResultRow.lift_kg)
    rows = ResultRow.select(*columns, *more).where(ResultRow.workout == workout_id).tuples()
    found = cast("Iterable[tuple[str, str, bool, float, float | None, float | None]]", rows)
    results = [Result(name, div, bool(done), value, tie, lift) for name, div, done, value, tie, lift in found]
    return sorted(results, key=order_key)


@lru_cache(maxsize=32)
def _boards(_database: str, workout_id: int, _version: int) -> Mapping[str, Leaderboard]:
    results = results_of(workout_id)
    divisions = sorted({result.division for result in results})
    return {"": Leaderboard(results)} | {d: Leaderboard([r for r in results if r.division == d]) for d in divisions}


def boards_of(workout_id: int) -> Mapping[str, Leaderboard]:
    """Return a workout's leaderboards by division, that of everybody under an empty name.

    They are kept in memory until results are replaced.
    """
    return _boards(str(database.database), workout_id, board_version(workout_id))


def board_version(workout_id: int) -> int:
    """Return how often a workout's leaderboard was replaced."""
    row = BoardRow.get_or_none(BoardRow.workout == workout_id)
    return int(row.version) if row else 0


def field_sizes() -> dict[int, int]:
    """Return how many results there are, by workout id."""
    rows = ResultRow.select(ResultRow.workout, fn.COUNT(ResultRow.id)).group_by(ResultRow.workout).tuples()
    return dict(cast("Iterable[tuple[int, int]]", rows))


def replace_results(workout_id: int, results: Sequence[Result], seen_version: int | None = None) -> None:
    """Store a leaderboard in place of the one before, all or nothing.

    Raises: ConflictError if somebody replaced it since `seen_version`; None replaces it in any case.
    """
    rows = [
        {
            "workout": workout_id,
            "name": r.name,
            "division": r.division,
            "finished": r.finished,
            "value": r.value,
            "tiebreak_s": r.tiebreak_s,
            "lift_kg": r.lift_kg,
        }
        for r in results
    ]
    with database.atomic("IMMEDIATE"):
        version = board_version(workout_id)
        if seen_version not in (None, version):
            raise ConflictError("this leaderboard")
        BoardRow.insert(workout=workout_id, version=version + 1).on_conflict_replace().execute()
        ResultRow.delete().where(ResultRow.workout == workout_id).execute()
        for some in chunked(rows, AT_ONCE):
            ResultRow.insert_many(some).execute()


def is_simulated(workout_id: int) -> bool:
    """Return whether a leaderboard is a simulated field that stands in for the real one."""
    return bool(setting(f"simulated_field_{workout_id}", False))


def mark_simulated(workout_id: int, simulated: bool) -> None:
    """Keep whether a leaderboard is a simulated field."""
    name = f"simulated_field_{workout_id}"
    if simulated != setting(name, False):
        save_setting(name, simulated, setting_version(name))

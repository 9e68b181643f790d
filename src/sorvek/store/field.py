"""The leaderboards."""

from collections.abc import Mapping, Sequence
from functools import lru_cache

from peewee import chunked, fn

from sorvek.core.club import Leaderboard, Result, order_key
from sorvek.store.tables import ResultRow, database

AT_ONCE = 120  # rows an insert, below SQLite's limit of variables


def results_of(workout_id: int) -> list[Result]:
    """Return a workout's leaderboard, best first."""
    rows = ResultRow.select().where(ResultRow.workout == workout_id).tuples()
    results = [Result(name, div, bool(done), value, tie, lift) for _, _, name, div, done, value, tie, lift in rows]
    return sorted(results, key=order_key)


@lru_cache(maxsize=32)
def _boards(_database: str, workout_id: int, _latest: int) -> Mapping[str, Leaderboard]:
    results = results_of(workout_id)
    divisions = sorted({result.division for result in results})
    return {"": Leaderboard(results)} | {d: Leaderboard([r for r in results if r.division == d]) for d in divisions}


def boards_of(workout_id: int) -> Mapping[str, Leaderboard]:
    """Return a workout's leaderboards by division, that of everybody under an empty name.

    They are kept in memory until results are replaced: new rows have new ids.
    """
    latest = ResultRow.select(fn.MAX(ResultRow.id)).where(ResultRow.workout == workout_id).scalar()
    return _boards(str(database.database), workout_id, latest or 0)


def field_sizes() -> dict[int, int]:
    """Return how many results there are, by workout id."""
    rows = ResultRow.select(ResultRow.workout, fn.COUNT(ResultRow.id).alias("n")).group_by(ResultRow.workout)
    return {row.workout_id: row.n for row in rows}


def replace_results(workout_id: int, results: Sequence[Result]) -> None:
    """Store a leaderboard in place of the one before, all or nothing."""
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
    with database.atomic():
        ResultRow.delete().where(ResultRow.workout == workout_id).execute()
        for some in chunked(rows, AT_ONCE):
            ResultRow.insert_many(some).execute()

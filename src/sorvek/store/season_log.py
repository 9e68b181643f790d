"""A whole season's attempts without reading every one: counts, bests, pages of a list that may be long."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from peewee import Tuple, fn

from sorvek.core.club import Result
from sorvek.store.log import LoggedAttempt, attempts_where
from sorvek.store.tables import AthleteRow, AttemptRow, database

# A score counts by finishing, then by time or reps, then by the tie-break: the order of core.club.order_key.
_BEST_FIRST = (
    AttemptRow.finished.desc(),
    (AttemptRow.value * (2 * AttemptRow.finished - 1)).asc(),
    fn.COALESCE(AttemptRow.tiebreak_s, 0).asc(),
    AttemptRow.id.desc(),
)


def _of_the_club() -> Any:
    there = AthleteRow.select(AthleteRow.id).where(AthleteRow.removed_at.is_null())
    return AttemptRow.removed_at.is_null() & AttemptRow.athlete.in_(there)


# How good a score is as one number, the less the better, of a pair of whether it was finished and its time or reps.
_LATE = 1e9
_SIDES = """
    SELECT
        SUM(score BETWEEN good AND bad), SUM(score NOT BETWEEN good AND bad AND score < middle),
        SUM(score NOT BETWEEN good AND bad AND score >= middle)
    FROM (
        SELECT
            CASE WHEN finished THEN value ELSE :late - value END AS score,
            {good} AS good, {middle} AS middle, {bad} AS bad
        FROM attempt
        WHERE expected != '' AND removed_at IS NULL
            AND athlete_id IN (SELECT id FROM athlete WHERE removed_at IS NULL)
    )
""".replace(":late", str(_LATE)).format(
    **{
        name: f"CASE WHEN json_extract(expected, '$[{i}][0]') THEN json_extract(expected, '$[{i}][1]')"
        f" ELSE {_LATE} - json_extract(expected, '$[{i}][1]') END"
        for i, name in enumerate(("good", "middle", "bad"))
    }
)


def results_beside_forecasts() -> tuple[int, int, int]:
    """Return of the attempts that had a forecast how many lay inside its band, were better, were worse."""
    inside, better, worse = database.execute_sql(_SIDES).fetchone()
    return inside or 0, better or 0, worse or 0


def gave_out_counts() -> list[tuple[str, int]]:
    """Return what gave out, the most frequent first, with how often."""
    count = fn.COUNT(AttemptRow.id)
    rows: Any = (
        AttemptRow.select(AttemptRow.gave_out, count)
        .where(_of_the_club() & (AttemptRow.gave_out != ""))
        .group_by(AttemptRow.gave_out)
        .order_by(count.desc(), AttemptRow.gave_out)
        .tuples()
    )
    return list(rows)


def taught_attempts() -> list[LoggedAttempt]:
    """Return the attempts that taught something, the latest first."""
    return attempts_where(_of_the_club() & (AttemptRow.taught != ""))


def best_among(numbers: Sequence[int]) -> set[int]:
    """Return which of these attempts are their athlete's best at their workout."""
    mine = AttemptRow.alias()
    better = mine.select(mine.athlete, mine.title).where(mine.id.in_(list(numbers)))
    same = Tuple(AttemptRow.athlete, AttemptRow.title).in_(better)
    place = fn.ROW_NUMBER().over(partition_by=[AttemptRow.athlete, AttemptRow.title], order_by=_BEST_FIRST)
    ranked = AttemptRow.select(AttemptRow.id, place.alias("place")).where(_of_the_club() & same)
    rows: Any = AttemptRow.select(ranked.c.id).from_(ranked).where(ranked.c.place == 1).tuples()
    return {number for (number,) in rows} & set(numbers)


@dataclass(frozen=True, slots=True)
class Best:
    """The best attempt of somebody at a workout."""

    id: int
    athlete_id: int
    title: str
    result: Result
    text: str


def bests() -> list[Best]:
    """Return everybody's best attempt at every workout, the workouts done latest first."""
    place = fn.ROW_NUMBER().over(partition_by=[AttemptRow.athlete, AttemptRow.title], order_by=_BEST_FIRST)
    columns = ("id", "athlete_id", "title", "finished", "value", "tiebreak_s", "lift_kg", "text")
    ranked = AttemptRow.select(
        *(getattr(AttemptRow, name) for name in columns if name != "athlete_id"),
        AttemptRow.athlete.alias("athlete_id"),
        AttemptRow.done_on,
        place.alias("place"),
    ).where(_of_the_club())
    rows: Any = (
        AttemptRow.select(*(getattr(ranked.c, name) for name in columns))
        .from_(ranked)
        .where(ranked.c.place == 1)
        .order_by(ranked.c.done_on.desc(), ranked.c.id.desc())
        .tuples()
    )
    return [
        Best(number, athlete_id, title, Result("", "", bool(finished), value, tiebreak_s, lift_kg), text)
        for number, athlete_id, title, finished, value, tiebreak_s, lift_kg, text in rows
    ]


def texts_by_title() -> list[tuple[str, str]]:
    """Return title and announcement of every workout in the log, each pair once."""
    rows: Any = AttemptRow.select(AttemptRow.title, AttemptRow.text).where(_of_the_club()).distinct().tuples()
    return sorted(rows)


def count_of(title: str, texts: Sequence[str] | None) -> int:
    """Return how many attempts there are at a title (empty for any), with one of some announcements (None: any)."""
    return int(AttemptRow.select().where(_narrowed(title, texts)).count())


def page_of(title: str, texts: Sequence[str] | None, first: int, size: int) -> list[LoggedAttempt]:
    """Return `size` of the attempts that `count_of` counts, from the `first` (counted from 0), the latest first."""
    return attempts_where(_narrowed(title, texts), first, size)


def _narrowed(title: str, texts: Sequence[str] | None) -> Any:
    found = _of_the_club()
    if title:
        found = found & (AttemptRow.title == title)
    return found if texts is None else found & AttemptRow.text.in_(list(texts))

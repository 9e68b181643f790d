"""A season looked back on: attempts, bests, forecasts against results, what was learnt, what limits whom."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from sorvek.core.club import Result, order_key, result_text
from sorvek.core.errors import CoreError
from sorvek.core.workout import Form, Readout, read_workout
from sorvek.store.athletes import SavedAthlete, all_athletes
from sorvek.store.library import club_library
from sorvek.store.log import LoggedAttempt, all_attempts, attempts_of

# Workouts that tax muscles alike but for this share, none so many times as long as the other, are alike; judgement.
ALIKE, LONGER = 0.5, 1.5


@dataclass(frozen=True, slots=True)
class SeasonRow:
    """An attempt in a season: the result in words, whether it is the best at its workout, how the forecast did.

    `side` says where the result lay: `inside` the band, `better`, `worse`, or empty without a forecast. `alike` are
    the titles of earlier workouts that tax the same muscles for a like time.
    """

    attempt: LoggedAttempt
    name: str
    result: str
    expected: str
    side: str
    best: bool
    form: str
    alike: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Honesty:
    """How results lay beside their forecasts: how many inside the band of eight days of ten, better, worse."""

    inside: int = 0
    better: int = 0
    worse: int = 0

    @property
    def total(self) -> int:
        """Return how many results had a forecast."""
        return self.inside + self.better + self.worse


@dataclass(frozen=True, slots=True)
class SeasonPage:
    """All a season's page shows; `limits` counts what gave out, `improved` numbers learnt: label, before, after."""

    rows: tuple[SeasonRow, ...]
    honesty: Honesty
    limits: tuple[tuple[str, int], ...]
    improved: tuple[tuple[str, str, float, float], ...]


def season_of(saved: SavedAthlete) -> SeasonPage:
    """Return an athlete's season."""
    return _page(attempts_of(saved.id), {saved.id: saved.athlete.name})


def season_of_club() -> SeasonPage:
    """Return the club's season."""
    names = {athlete.id: athlete.athlete.name for athlete in all_athletes()}
    return _page([attempt for attempt in all_attempts() if attempt.athlete_id in names], names)


def _page(attempts: Sequence[LoggedAttempt], names: dict[int, str]) -> SeasonPage:
    texts = {attempt.text: _read(attempt.text) for attempt in attempts}
    best: dict[tuple[int, str], LoggedAttempt] = {}
    for attempt in attempts:
        key = attempt.athlete_id, attempt.title
        if key not in best or order_key(attempt.result) < order_key(best[key].result):
            best[key] = attempt
    rows = tuple(_looked(attempt, attempts, names, texts, best) for attempt in attempts)
    sides = Counter(row.side for row in rows)
    limits = Counter(attempt.gave_out for attempt in attempts if attempt.gave_out)
    improved = tuple(
        (names[attempt.athlete_id], key, kept.value, kept.learnt)
        for attempt in attempts
        for key, kept in attempt.taught.items()
        if kept.value is not None
    )
    honesty = Honesty(sides["inside"], sides["better"], sides["worse"])
    return SeasonPage(rows, honesty, tuple(limits.most_common()), improved)


def _read(text: str) -> Readout | None:
    try:
        return read_workout(text, club_library())
    except CoreError:
        return None


def _looked(
    attempt: LoggedAttempt,
    attempts: Sequence[LoggedAttempt],
    names: dict[int, str],
    texts: dict[str, Readout | None],
    best: dict[tuple[int, str], LoggedAttempt],
) -> SeasonRow:
    readout, expected = texts[attempt.text], attempt.expected
    form = readout.workout.form if readout else Form.AMRAP
    side, told = "", ""
    if expected:
        middle = Result("", "", *expected.middle)
        told, above = result_text(middle, form), order_key(attempt.result) < order_key(middle)
        side = "inside" if expected.holds(attempt.result) else "better" if above else "worse"
    # Only on one athlete's page: for a club it would be a comparison of everything with everything.
    earlier = [one for one in attempts if one.done_on < attempt.done_on] if len(names) == 1 else []
    like = [one.title for one in earlier if one.title != attempt.title and _alike(readout, texts[one.text])]
    return SeasonRow(
        attempt,
        names[attempt.athlete_id],
        result_text(attempt.result, form),
        told,
        side,
        best[attempt.athlete_id, attempt.title] is attempt,
        str(form),
        tuple(dict.fromkeys(like)),
    )


def _alike(one: Readout | None, other: Readout | None) -> bool:
    """Return whether two workouts tax the same muscles for a like time."""
    if one is None or other is None:
        return False
    a, b = dict(one.taxes), dict(other.taxes)
    apart = sum(abs(a.get(name, 0.0) - b.get(name, 0.0)) for name in a | b)
    whole = max(1e-9, sum(a.values()), sum(b.values()))
    caps = sorted((one.workout.cap_s, other.workout.cap_s))
    return apart < ALIKE * whole and (caps[0] == 0 or caps[1] < LONGER * caps[0])

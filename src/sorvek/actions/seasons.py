"""A season looked back on: attempts, bests, forecasts against results, what was learnt, what limits whom."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace

from sorvek.core.athlete import Athlete
from sorvek.core.club import Result, order_key, result_text
from sorvek.core.errors import CoreError
from sorvek.core.workout import Form, Readout, read_workout
from sorvek.store.athletes import SavedAthlete, all_athletes
from sorvek.store.library import club_library
from sorvek.store.log import Expected, LoggedAttempt, attempts_of
from sorvek.store.outlooks import cruxes_by_athlete
from sorvek.store.season_log import (
    best_among,
    bests,
    count_of,
    gave_out_counts,
    page_of,
    results_beside_forecasts,
    taught_attempts,
    texts_by_title,
)

# Workouts that tax muscles alike but for this share, none so many times as long as the other, are alike; judgement.
ALIKE, LONGER = 0.5, 1.5
ROWS_A_PAGE = 100
# With fewer results than this a share says little; outside these shares the bands are off; judgement.
FEW, TOO_FEW_FRAC, TOO_MANY_FRAC = 20, 0.7, 0.9


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

    @property
    def words(self) -> str:
        """Return in words whether the forecasts held, empty where no result had one."""
        if not self.total:
            return ""
        beside = f"{self.better} were better, {self.worse} worse"
        lay = f"{self.inside} of {self.total} results lay in their band, {beside}."
        if self.total < FEW:
            return f"{lay} Eight of ten should; with so few that says little."
        if self.inside < TOO_FEW_FRAC * self.total:
            return f"{lay} Eight of ten should: be wary of the bands, and measure more."
        if self.inside > TOO_MANY_FRAC * self.total:
            return f"{lay} Eight of ten should: the bands are wide; measured numbers would narrow them."
        return f"{lay} That is what bands of eight days of ten promise."


@dataclass(frozen=True, slots=True)
class SeasonPage:
    """All a season's page shows: of `total` attempts the rows asked for, and what is told of all of them.

    `limits` counts what gave out by what somebody saw, `cruxes` on how many plans a movement decides the score,
    `improved` has numbers learnt: whose, label, before, after. `titles` and `forms` are those there are.
    """

    rows: tuple[SeasonRow, ...]
    total: int
    honesty: Honesty
    limits: tuple[tuple[str, int], ...]
    cruxes: tuple[tuple[str, int], ...]
    improved: tuple[tuple[str, str, float, float], ...]
    titles: tuple[str, ...]
    forms: tuple[str, ...]


def season_of(saved: SavedAthlete, title: str = "", form: str = "") -> SeasonPage:
    """Return an athlete's season, narrowed to a workout by its title or to a form."""
    return _season(saved, cruxes_by_athlete().get(saved.id, Counter()), title, form)


def _season(saved: SavedAthlete, cruxes: Counter[str], title: str = "", form: str = "") -> SeasonPage:
    attempts, name = attempts_of(saved.id), saved.athlete.name
    texts = {text: _read(text) for text in {attempt.text for attempt in attempts}}
    best: dict[str, LoggedAttempt] = {}
    for attempt in attempts:
        if attempt.title not in best or order_key(attempt.result) < order_key(best[attempt.title].result):
            best[attempt.title] = attempt
    rows = tuple(
        replace(
            _looked(attempt, name, texts),
            best=best[attempt.title] is attempt,
            alike=_like(attempt, attempts, texts),
        )
        for attempt in attempts
    )
    sides = Counter(row.side for row in rows)
    limits = Counter(attempt.gave_out for attempt in attempts if attempt.gave_out)
    return SeasonPage(
        tuple(row for row in rows if title in ("", row.attempt.title) and form in ("", row.form)),
        len(rows),
        Honesty(sides["inside"], sides["better"], sides["worse"]),
        tuple(limits.most_common()),
        tuple(cruxes.most_common()),
        _improved(attempts, {saved.id: name}),
        tuple(sorted({row.attempt.title for row in rows})),
        tuple(sorted({row.form for row in rows})),
    )


def season_of_club(title: str = "", form: str = "", page: int = 1) -> SeasonPage:
    """Return a page of the club's season, narrowed to a workout by its title or to a form; pages count from 1."""
    names = {athlete.id: athlete.athlete.name for athlete in all_athletes()}
    pairs = texts_by_title()
    texts = {text: _read(text) for text in {text for _, text in pairs}}
    wanted = [text for text, read in texts.items() if form == _form(read)] if form else None
    shown = page_of(title, wanted, ROWS_A_PAGE * (page - 1), ROWS_A_PAGE)
    best = best_among([one.id for one in shown])
    return SeasonPage(
        tuple(replace(_looked(one, names[one.athlete_id], texts), best=one.id in best) for one in shown),
        count_of(title, wanted),
        Honesty(*results_beside_forecasts()),
        tuple(gave_out_counts()),
        tuple(sum(cruxes_by_athlete().values(), Counter[str]()).most_common()),
        _improved(taught_attempts(), names),
        tuple(dict.fromkeys(one for one, _ in pairs)),
        tuple(sorted({_form(read) for read in texts.values()})),
    )


def bests_of_club() -> list[tuple[str, str, str]]:
    """Return everybody's bests: name, title of the workout, result; the workouts done latest first."""
    names = {athlete.id: athlete.athlete.name for athlete in all_athletes()}
    found = bests()
    forms = {text: _form(_read(text)) for text in {one.text for one in found}}
    return [
        (names[one.athlete_id], one.title, result_text(one.result, Form(forms[one.text])))
        for one in found
        if one.athlete_id in names
    ]


def _improved(
    attempts: Sequence[LoggedAttempt], names: dict[int, str]
) -> tuple[tuple[str, str, float, float], ...]:
    return tuple(
        (names[attempt.athlete_id], key, kept.value, kept.learnt)
        for attempt in attempts
        if attempt.athlete_id in names
        for key, kept in attempt.taught.items()
        if kept.value is not None
    )


def numbers_on_file(athlete: Athlete) -> list[str]:
    """Return the numbers somebody measured or the tool learnt, with unit, day and whether each was learnt."""
    entered = [
        *((f"longest set of {name} {reps:g}", name) for name, reps in athlete.unbroken.items()),
        *((f"{name} 1RM {kg:g} kg", name) for name, kg in athlete.one_rep_max_kg.items()),
    ]
    for key, label, unit in (("critical_power_w", "critical power", "W"), ("w_prime_j", "work above it", "J")):
        value = getattr(athlete, key)
        if value is not None:
            entered.append((f"{label} {value:g} {unit}", key))
    found = []
    for words, key in entered:
        day = athlete.measured_on.get(key, "")
        how = ", ".join(part for part in ("learnt" if key in athlete.learnt else "", day) if part)
        found.append(f"{words} ({how})" if how else words)
    return found


def seasons_of_everybody() -> list[tuple[SavedAthlete, SeasonPage]]:
    """Return the seasons of the athletes who have one, by name."""
    cruxes = cruxes_by_athlete()
    return [
        (saved, season)
        for saved in sorted(all_athletes(), key=lambda saved: saved.athlete.name)
        if (season := _season(saved, cruxes.get(saved.id, Counter()))).rows
    ]


def _read(text: str) -> Readout | None:
    try:
        return read_workout(text, club_library())
    except CoreError:
        return None


def _form(read: Readout | None) -> str:
    return str(read.workout.form if read else Form.AMRAP)


def _side(expected: Expected, result: Result) -> str:
    """Return where a result lay beside its forecast."""
    if expected.holds(result):
        return "inside"
    return "better" if order_key(result) < order_key(Result("", "", *expected.middle)) else "worse"


def _looked(attempt: LoggedAttempt, name: str, texts: dict[str, Readout | None]) -> SeasonRow:
    form, expected = _form(texts[attempt.text]), attempt.expected
    return SeasonRow(
        attempt,
        name,
        result_text(attempt.result, Form(form)),
        result_text(Result("", "", *expected.middle), Form(form)) if expected else "",
        _side(expected, attempt.result) if expected else "",
        False,
        form,
        (),
    )


def _like(
    attempt: LoggedAttempt, attempts: Sequence[LoggedAttempt], texts: dict[str, Readout | None]
) -> tuple[str, ...]:
    """Return the titles of earlier workouts that tax the same muscles for a like time."""
    earlier = [one for one in attempts if one.done_on < attempt.done_on and one.title != attempt.title]
    like = [one.title for one in earlier if _alike(texts[attempt.text], texts[one.text])]
    return tuple(dict.fromkeys(like))


def _alike(one: Readout | None, other: Readout | None) -> bool:
    """Return whether two workouts tax the same muscles for a like time."""
    if one is None or other is None:
        return False
    a, b = dict(one.taxes), dict(other.taxes)
    apart = sum(abs(a.get(name, 0.0) - b.get(name, 0.0)) for name in a | b)
    whole = max(1e-9, sum(a.values()), sum(b.values()))
    caps = sorted((one.workout.cap_s, other.workout.cap_s))
    return apart < ALIKE * whole and (caps[0] == 0 or caps[1] < LONGER * caps[0])

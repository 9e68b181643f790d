"""What the leaderboards say beside the model: a place, a second forecast, what one rep more is worth."""

from dataclasses import dataclass

from sorvek.core.athlete import Athlete
from sorvek.core.club import Leaderboard, Likeness, Outlook, Result, Standing, next_to, one_better
from sorvek.store.field import boards_of, field_sizes, is_simulated
from sorvek.store.log import best_on
from sorvek.store.outlooks import SavedOutlook, outlook_of_pair, outlooks_of
from sorvek.store.workouts import SavedWorkout, all_workouts

# With fewer people of a division on both boards everybody counts; judgement.
LEAST_PEOPLE = 40


@dataclass(frozen=True, slots=True)
class SecondForecast:
    """What people did here who scored alike on an earlier workout: `there` is the athlete's own score on it.

    `logged` says whether that score was done or is itself a forecast, `simulated` whether a field behind it is,
    `side` is 1 where these people did better than the model's good day, -1 worse than its bad one, 0 between.
    """

    earlier: SavedWorkout
    there: Result
    logged: bool
    likeness: Likeness
    side: int
    simulated: bool


@dataclass(frozen=True, slots=True)
class HeapWorth:
    """Where many of an athlete's days end on one rep: their share, and the places one rep more wins there."""

    reps: int
    share_frac: float
    places: int


def as_result(athlete: Athlete, outlook: Outlook) -> Result:
    """Return the middle of an athlete's forecast as a score on the leaderboard."""
    return Result(athlete.name, athlete.division, outlook.kind == "time", float(round(outlook.p50)))


def workout_before(saved: SavedWorkout) -> SavedWorkout | None:
    """Return the latest workout before this one that has a leaderboard."""
    workouts, sizes = all_workouts(), field_sizes()
    at = [w.id for w in workouts].index(saved.id)
    return next((w for w in reversed(workouts[:at]) if sizes.get(w.id)), None)


class FieldView:
    """A workout's leaderboard and that of the workout before, read once for everybody, or for one athlete."""

    def __init__(self, saved: SavedWorkout, only: int | None = None) -> None:
        self.boards = boards_of(saved.id)
        self.simulated = is_simulated(saved.id)
        self.earlier = workout_before(saved) if self.boards[""].results else None
        self._done, self._expected = dict[int, Result](), dict[int, SavedOutlook]()
        self._before, self._simulated_before = self.boards, False
        if self.earlier:
            self._read(self.earlier, only)

    def _read(self, earlier: SavedWorkout, only: int | None) -> None:
        self._before, self._simulated_before = boards_of(earlier.id), is_simulated(earlier.id)
        self._done = best_on(earlier.id, only)
        if only is None:
            self._expected = outlooks_of(earlier.id)
        elif expected := outlook_of_pair(earlier.id, only):
            self._expected = {only: expected}

    def _board(self, athlete: Athlete) -> Leaderboard:
        return self.boards.get(athlete.division, self.boards[""])

    def _pair(self, division: str) -> tuple[Leaderboard, Leaderboard]:
        """Return the boards before and now: a division's own where enough people stand on both."""
        before, now = self._before.get(division), self.boards.get(division)
        if before and now and min(len(before.results), len(now.results)) >= LEAST_PEOPLE:
            return before, now
        return self._before[""], self.boards[""]

    def standing(self, athlete: Athlete, outlook: Outlook) -> Standing | None:
        """Return where the middle of a forecast would stand among the athlete's division; None without a field."""
        if not self.boards[""].results:
            return None
        score = as_result(athlete, outlook)
        return self._board(athlete).standing(score, one_better(score))

    def heaps(self, athlete: Athlete, outlook: Outlook) -> tuple[HeapWorth, ...]:
        """Return what one rep more wins where many of the days end; nothing without a field."""
        found = []
        for reps, share in outlook.heaps if self.boards[""].results else ():
            score = Result(athlete.name, athlete.division, False, reps)
            found.append(HeapWorth(int(reps), share, self._board(athlete).standing(score, one_better(score)).worth))
        return tuple(found)

    def second(self, athlete_id: int, athlete: Athlete, outlook: Outlook) -> SecondForecast | None:
        """Return what people alike on the workout before did here; None where nobody or nothing is known of it."""
        there, expected = self._done.get(athlete_id), self._expected.get(athlete_id)
        logged = there is not None
        if there is None and expected is not None:
            there = as_result(athlete, expected.outlook)
        if self.earlier is None or there is None:
            return None
        before, now = self._pair(athlete.division)
        likeness, _ = next_to(before, now, before.standing(there, there).place)
        if likeness is None:
            return None
        good, bad = (Result("", "", finished, value) for finished, value, _ in (outlook.good, outlook.bad))
        simulated = self.simulated or self._simulated_before
        return SecondForecast(self.earlier, there, logged, likeness, likeness.beside(good, bad), simulated)

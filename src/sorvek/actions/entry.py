"""One athlete on one workout: what is stored of the two, read once; everything on a page follows from it."""

import json
from dataclasses import dataclass, field, replace

from sorvek.core.athlete import athlete_data, flagged_movements, substitutes_for, with_substitutes
from sorvek.core.season import aged
from sorvek.core.workout import Form, Movement, Workout
from sorvek.store.athletes import SavedAthlete, load_athlete
from sorvek.store.placings import Placing, placing_of
from sorvek.store.workouts import SavedWorkout, load_workout


@dataclass(frozen=True, slots=True)
class Entry:
    """An athlete on a workout with the substitutes chosen; two of the same versions of all three are equal."""

    saved: SavedWorkout
    athlete: SavedAthlete
    substitutes: tuple[tuple[str, str], ...]
    placing: Placing = field(compare=False)

    @property
    def workout(self) -> Workout:
        """Return the workout with the substitutes chosen for the athlete."""
        return (
            with_substitutes(self.saved.workout, dict(self.substitutes)) if self.substitutes else self.saved.workout
        )

    @property
    def open_flags(self) -> tuple[str, ...]:
        """Return the flagged movements of the workout nobody has decided about."""
        decided = dict(self.substitutes)
        flagged = flagged_movements(self.saved.workout, self.athlete.athlete)
        return tuple(name for name in flagged if name not in decided)

    @property
    def held(self) -> bool:
        """Return whether an injury flag or a coach keeps the athlete from being planned."""
        return self.placing.left_out or bool(self.open_flags)

    @property
    def offers(self) -> dict[str, tuple[Movement, ...]]:
        """Return what could stand in for every movement that is flagged and not decided about."""
        return {name: substitutes_for(self.saved.workout, name, self.athlete.athlete) for name in self.open_flags}

    @property
    def lift_alone(self) -> bool:
        """Return whether the workout is a max lift and nothing else."""
        return self.saved.workout.form is Form.LIFT


def entry_of(saved: SavedWorkout, athlete: SavedAthlete, placing: Placing) -> Entry:
    """Return the entry of what was loaded already; the athlete as known on the day the workout opens.

    What was learnt long before that day is doubted more than on the day it was learnt.
    """
    known = aged(athlete.athlete, saved.opens_on.isoformat())
    if known != athlete.athlete:
        athlete = replace(athlete, athlete=known, data=json.dumps(athlete_data(known)))
    return Entry(saved, athlete, tuple(sorted(placing.substitutes.items())), placing)


def load_entry(workout_id: int, athlete_id: int) -> Entry | None:
    """Return the entry of an athlete on a workout, None if either is not there.

    Raises: CoreError if what is stored of either cannot be read any more.
    """
    saved, athlete = load_workout(workout_id), load_athlete(athlete_id)
    if saved is None or athlete is None:
        return None
    return entry_of(saved, athlete, placing_of(workout_id, athlete_id))

"""What was done in an attempt: the plan it began with and all that was tapped, or written down afterwards."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

from pydantic import TypeAdapter, ValidationError

from sorvek.core.errors import FloorError
from sorvek.core.live import LaneState, Tap, TapKind, fold, standing_taps
from sorvek.core.plan import Plan, typed_plan
from sorvek.core.workout import Course

MOST_ROWS = 600


class DoneRow(NamedTuple):
    """A set as it is written down: when it ended in s on the clock of the work, and its reps."""

    at_s: float
    reps: int


@dataclass(frozen=True, slots=True)
class Record:
    """What was done: the sets it began with by movement, in shorthand, and taps on the clock of the work."""

    schemes: tuple[str, ...] = ()
    taps: tuple[Tap, ...] = ()

    def plan(self, course: Course, otherwise: Plan) -> Plan:
        """Return the plan the attempt began with, `otherwise` where its sets do not fit the course."""
        typed = typed_plan(course, otherwise, dict(enumerate(self.schemes)))
        return otherwise if typed.errors else typed.plan

    def state(self, course: Course, otherwise: Plan) -> LaneState:
        """Return what became of the lane."""
        return fold(course, self.plan(course, otherwise), self.taps)

    def corrected(self, course: Course, otherwise: Plan, rows: Sequence[DoneRow]) -> "Record":
        """Return the record with other sets; no-reps, failed reps, lifts and plans taken stay.

        Raises: FloorError naming the row that cannot be.
        """
        if len(rows) > MOST_ROWS:
            raise FloorError(f"{len(rows)} sets are more than anybody does; at most {MOST_ROWS} are kept")
        sets = (TapKind.SET, TapKind.BROKEN, TapKind.ROUND, TapKind.REPS)
        taps = [tap for tap in standing_taps(self.taps) if tap.kind not in sets]
        plan, before_s = self.plan(course, otherwise), 0.0
        for number, row in enumerate(rows, 1):
            if row.at_s <= before_s:
                raise FloorError(f"set {number} does not end after the one before it; write its time as m:ss")
            state = fold(course, plan, taps)
            left = state.left_of_visit(course)
            if not 0 < row.reps <= left:
                raise FloorError(f"set {number} has {row.reps} reps, but {left} are left of the movement it is in")
            before_s = row.at_s
            kind = TapKind.SET if row.reps == state.next_set(course) else TapKind.BROKEN
            taps.append(Tap(f"set-{number:04}", kind, row.at_s))
            if kind is TapKind.BROKEN:
                taps.append(
                    Tap(f"set-{number:04}-reps", TapKind.REPS, row.at_s, of=f"set-{number:04}", reps=row.reps)
                )
        return Record(self.schemes, tuple(taps))


def of_splits(schemes: Sequence[str], ends_s: Sequence[float]) -> Record:
    """Return the record of somebody of whom only the ends of rounds are known, in s from the start.

    Raises: FloorError naming the round that does not end after the one before it.
    """
    for number, (before, after) in enumerate(zip((0.0, *ends_s), ends_s, strict=False), 1):
        if after <= before:
            raise FloorError(f"round {number} does not end after the one before it")
    taps = tuple(Tap(f"round-{number:03}", TapKind.ROUND, at_s) for number, at_s in enumerate(ends_s, 1))
    return Record(tuple(schemes), taps)


_ADAPTER = TypeAdapter(Record)


def record_text(record: Record) -> str:
    """Return a record as JSON."""
    return _ADAPTER.dump_json(record, exclude_defaults=True).decode()


def read_record(text: str) -> Record:
    """Return the record in a JSON text, an empty one of an empty text.

    Raises: FloorError if it is none.
    """
    try:
        return _ADAPTER.validate_json(text) if text else Record()
    except ValidationError as error:
        raise FloorError(f"what was done cannot be read: {error.errors()[0]['msg']}") from error

"""One test result turned into an athlete's numbers."""

from dataclasses import dataclass, replace

from sorvek.core.athlete.athlete import Athlete, typed_over
from sorvek.core.athlete.repetition import one_rep_max
from sorvek.core.constants import ERG_W_S3_M3
from sorvek.core.errors import RosterError, require_range
from sorvek.core.quantities import kg_from_lb, seconds_from_clock
from sorvek.core.workout import Library, Movement

ROW_M = 2_000.0
USUAL_W_PRIME_J = 18_000.0  # where nobody measured it; judgement
ALMOST_ALL = 0.95  # share of W′ an all-out effort really uses; judgement


def row_power_w(time_s: float) -> float:
    """Return the mean mechanical power of a 2 km row.

    Source: the ergometer's published formula P = 2.80/(s per m)³ (from memory).
    Raises: OutOfRangeError outside 5:00 to 15:00.
    """
    require_range("2 km time in s", time_s, 300, 900)
    return float(ERG_W_S3_M3 / (time_s / ROW_M) ** 3)


def critical_power_from_effort_w(power_w: float, time_s: float, w_prime_j: float) -> float:
    """Return CP from one all-out effort and an assumed W′: P = CP + W′/t (Monod & Scherrer 1965, from memory).

    Raises: OutOfRangeError for efforts under 2 min, where the two-parameter model does not hold.
    """
    require_range("the effort's time in s", time_s, 120, 3_600)
    return power_w - ALMOST_ALL * w_prime_j / time_s


@dataclass(frozen=True, slots=True)
class Trial:
    """A test result as typed; `kind` is set, 1rm, repmax, row or time, `day` ISO or empty.

    For `time` the value reads `280 in 5:00`: mean watts and the time.
    """

    kind: str
    movement: str
    value: str
    weight: float
    unit: str
    day: str


def _with_engine(athlete: Athlete, test: Trial) -> Athlete:
    w_prime = athlete.w_prime_j if athlete.w_prime_j is not None else USUAL_W_PRIME_J
    if test.kind == "row":
        time_s = seconds_from_clock(test.value)
        power_w = row_power_w(time_s)
    else:
        watts, _, time_text = test.value.partition(" in ")
        if not time_text:
            raise RosterError("write watts and time, as in “280 in 5:00”")
        power_w, time_s = float(watts.replace(",", ".")), seconds_from_clock(time_text)
    cp = critical_power_from_effort_w(power_w, time_s, w_prime)
    require_range("critical power in W", cp, 50, 600)
    dates = {**athlete.measured_on, "critical_power_w": test.day}
    return replace(athlete, critical_power_w=round(cp, 1), measured_on=dates)


def with_test(athlete: Athlete, library: Library, test: Trial) -> Athlete:
    """Return the athlete with a test result entered; it replaces what was learnt.

    Raises: CoreError naming what is missing or out of range; ValueError for a value that is no number.
    """
    if test.kind in ("row", "time"):
        return typed_over(athlete, _with_engine(athlete, test), "critical_power_w")
    found = library.find(test.movement)
    return typed_over(athlete, _with_reps_or_load(athlete, found, test), found.name)


def _with_reps_or_load(athlete: Athlete, found: Movement, test: Trial) -> Athlete:
    number = float(test.value.replace(",", "."))
    dates = {**athlete.measured_on, found.name: test.day}
    if test.kind == "set":
        require_range("the longest set", number, 0, 20_000)
        return replace(athlete, unbroken={**athlete.unbroken, found.name: number}, measured_on=dates)
    if not found.styles[0].lift:
        raise RosterError(f"{found.name} has no 1RM; enter its longest set instead")
    in_kg = kg_from_lb if test.unit == "lb" else float
    load_kg, reps = (in_kg(number), 1.0) if test.kind == "1rm" else (in_kg(test.weight), number)
    if not load_kg:
        raise RosterError("a rep max needs the weight as well")
    require_range("the reps of a rep max", reps, 1, 30)
    limit = one_rep_max(load_kg, reps, athlete.curve) if reps > 1 else load_kg
    require_range("the 1RM in kg", limit, 1, 600)
    return replace(
        athlete, one_rep_max_kg={**athlete.one_rep_max_kg, found.name: round(limit, 1)}, measured_on=dates
    )

"""The lift window on the clock of the session: the work before it, attempts, loading, what is there to lift."""

import math
from collections.abc import Callable
from dataclasses import dataclass

from sorvek.core.advice import Briefing
from sorvek.core.constants import ATTEMPT_S
from sorvek.core.lift import AttemptPlan, LiftTask
from sorvek.core.lift import kernel as ak
from sorvek.core.quantities import clock
from sorvek.figures.colours import movement_resource

WIDTH, HEIGHT = 1060.0, 150.0
LEFT, RIGHT = 12.0, 16.0
TOP, LANE, AXIS_Y = 40.0, 34.0, 128.0
CURVE_TOP, CURVE_BOTTOM = 82.0, 122.0
# So many times the window's length is shown of the work before it.
MOST_BEFORE = 1.6
LEAST_LABEL = 40.0


@dataclass(frozen=True, slots=True)
class Work:
    """A visit of the conditioning piece."""

    x: float
    width: float
    resource: str
    title: str


@dataclass(frozen=True, slots=True)
class AttemptBar:
    """An attempt: its block, the loading before it, labels, and what became of it (made, missed or nothing)."""

    x: float
    width: float
    loading_x: float
    loading_width: float
    load: str
    at: str
    chance: str
    state: str


@dataclass(frozen=True, slots=True)
class LiftTape:
    """All coordinates of the tape; `curve` is the path of the day's best, with its ends in words."""

    width: float
    height: float
    work: tuple[Work, ...]
    bars: tuple[AttemptBar, ...]
    ticks: tuple[tuple[float, str], ...]
    window_x: float
    end_x: float
    curve: str
    curve_y: tuple[float, float]
    curve_words: tuple[str, str]


def lift_tape(
    task: LiftTask,
    plan: AttemptPlan,
    load_words: Callable[[float], str],
    before: Briefing | None,
    rest_s: float = 0.0,
) -> LiftTape:
    """Return the tape of a plan; `before` is the conditioning piece before the window, on the same clock.

    `rest_s` lies between them.
    Of a long piece only its end is shown, so that the window stays wide enough to read.
    """
    opens_s = max(1.0, before.timeline.end_s) + rest_s if before else 0.0
    from_s = max(0.0, opens_s - MOST_BEFORE * task.window_s)
    per_s = (WIDTH - LEFT - RIGHT) / (opens_s + task.window_s - from_s)

    def x(t: float) -> float:
        return LEFT + per_s * (t - from_s)

    bars = tuple(
        AttemptBar(
            x=x(opens_s + a.start_s),
            width=ATTEMPT_S * per_s,
            loading_x=x(opens_s + a.start_s - a.rest_s),
            loading_width=min(a.loading_s, a.rest_s) * per_s if i else 0.0,
            load=load_words(a.load_kg),
            at=clock(a.start_s),
            chance=f"{100 * a.chance:.0f} %",
            state={True: "made", False: "missed", None: "typed" if a.typed else ""}[a.made],
        )
        for i, a in enumerate(plan.attempts)
    )
    shares = task.shares
    low, high = float(shares.min()), float(shares.max())
    span = max(0.05, high - low)

    def y(share: float) -> float:
        return CURVE_BOTTOM - (CURVE_BOTTOM - CURVE_TOP) * (share - low) / span

    points = [(x(opens_s + i * ak.STEP_S), y(float(share))) for i, share in enumerate(shares)]
    return LiftTape(
        width=WIDTH,
        height=HEIGHT,
        work=_work(before, from_s, x) if before else (),
        bars=bars,
        ticks=_ticks(from_s, opens_s, opens_s + task.window_s, x),
        window_x=x(opens_s),
        end_x=x(opens_s + task.window_s),
        curve="M" + " L".join(f"{px:.1f} {py:.1f}" for px, py in points),
        curve_y=(points[0][1], points[-1][1]),
        curve_words=(
            load_words(float(shares[0]) * task.one_rep_max_kg),
            load_words(float(shares[-1]) * task.one_rep_max_kg),
        ),
    )


def _work(before: Briefing, from_s: float, x: Callable[[float], float]) -> tuple[Work, ...]:
    work = []
    for block in before.blocks:
        if block.end_s > from_s:
            left = x(max(from_s, block.start_s))
            resource = movement_resource(before.course.slots[block.slot].movement)
            work.append(Work(left, max(1.0, x(block.end_s) - left - 0.6), resource, f"{block.reps} {block.label}"))
    return tuple(work)


def _ticks(
    from_s: float, opens_s: float, end_s: float, x: Callable[[float], float]
) -> tuple[tuple[float, str], ...]:
    """Return minutes on the clock of the session; where the window opens counts anew from 0:00."""
    step = 60.0 if end_s - from_s > 150 else 30.0
    marks = [t * step for t in range(math.ceil(from_s / step), int(opens_s / step) + 1)] if opens_s else []
    before = [(x(t), clock(t)) for t in marks if x(opens_s) - x(t) > LEAST_LABEL]
    count = int((end_s - opens_s) / step)
    return (*before, *((x(opens_s + i * step), clock(i * step)) for i in range(count + 1)))

"""What happens: one plan carried out rep by rep, and the same on many likely days."""

from sorvek.core.simulation import columns
from sorvek.core.simulation.days import Draws, draw_samples, spread_samples
from sorvek.core.simulation.forecast import Band, DayScore, forecast, run_samples
from sorvek.core.simulation.kernel import simulate
from sorvek.core.simulation.midway import AfterSet, Midway, after_set, at_start, run_from, stand_at
from sorvek.core.simulation.problem import Choices, Floats, Ints, Problem, problem_for
from sorvek.core.simulation.steps import recover
from sorvek.core.simulation.timeline import Score, ScoreKind, SetRecord, Tank, Timeline, run_plan

__all__ = [
    "AfterSet",
    "Band",
    "Choices",
    "DayScore",
    "Draws",
    "Floats",
    "Ints",
    "Midway",
    "Problem",
    "Score",
    "ScoreKind",
    "SetRecord",
    "Tank",
    "Timeline",
    "after_set",
    "at_start",
    "columns",
    "draw_samples",
    "forecast",
    "problem_for",
    "recover",
    "run_from",
    "run_plan",
    "run_samples",
    "simulate",
    "spread_samples",
    "stand_at",
]

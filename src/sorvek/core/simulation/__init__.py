"""FACE."""

from sorvek.core.simulation import kernel
from sorvek.core.simulation.days import draw_samples, spread_samples
from sorvek.core.simulation.forecast import Band, forecast, run_samples
from sorvek.core.simulation.kernel import simulate
from sorvek.core.simulation.problem import Floats, Ints, Problem, choices, problem_for, typical_course
from sorvek.core.simulation.timeline import Score, ScoreKind, SetRecord, Tank, Timeline, run_plan, score_text

__all__ = [
    "Band",
    "Floats",
    "Ints",
    "Problem",
    "Score",
    "ScoreKind",
    "SetRecord",
    "Tank",
    "Timeline",
    "choices",
    "draw_samples",
    "forecast",
    "kernel",
    "problem_for",
    "run_plan",
    "run_samples",
    "score_text",
    "simulate",
    "spread_samples",
    "typical_course",
]

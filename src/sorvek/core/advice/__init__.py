"""What to say about a plan: the briefing, reasons, schools, exchange rates, splits, what to measure next."""

from sorvek.core.advice.briefing import BlockRun, Briefing, brief, briefing_data
from sorvek.core.advice.crux import find_crux
from sorvek.core.advice.exchange import exchange_rates, goals, nothing_won
from sorvek.core.advice.explain import SAME, gap_text, recommendation
from sorvek.core.advice.gaps import BODY_NUMBERS, Gap, missing_numbers, origins
from sorvek.core.advice.machines import Display
from sorvek.core.advice.schools import SchoolResult, compare_schools, school_plan
from sorvek.core.advice.splits import first_round_line, split_targets, stretches
from sorvek.core.advice.tempers import TemperResult, compare_tempers

__all__ = [
    "BODY_NUMBERS",
    "SAME",
    "BlockRun",
    "Briefing",
    "Display",
    "Gap",
    "SchoolResult",
    "TemperResult",
    "brief",
    "briefing_data",
    "compare_schools",
    "compare_tempers",
    "exchange_rates",
    "find_crux",
    "first_round_line",
    "gap_text",
    "goals",
    "missing_numbers",
    "nothing_won",
    "origins",
    "recommendation",
    "school_plan",
    "split_targets",
    "stretches",
]

"""From plan to start line: warm-up, gear, standards, judge sheet, rules for a day gone otherwise."""

from sorvek.core.prep.gear import (
    CueLine,
    Standard,
    cues,
    gear_list,
    lift_gear,
    movement_cues,
    standards,
)
from sorvek.core.prep.heats import Hall, Heat, Need, Turn, heats_of, machine_turns
from sorvek.core.prep.if_then import IfThen, if_then
from sorvek.core.prep.judge import JudgeCell, JudgeRow, judge_rows
from sorvek.core.prep.lane import LanePlan, lane_plan
from sorvek.core.prep.primer import Primer
from sorvek.core.prep.timetable import (
    Part,
    PrepWishes,
    Timetable,
    WarmKind,
    WarmSchool,
    lift_timetable,
    prep_text,
    read_prep,
    timetable,
)

__all__ = [
    "CueLine",
    "Hall",
    "Heat",
    "IfThen",
    "JudgeCell",
    "JudgeRow",
    "LanePlan",
    "Need",
    "Part",
    "PrepWishes",
    "Primer",
    "Standard",
    "Timetable",
    "Turn",
    "WarmKind",
    "WarmSchool",
    "cues",
    "gear_list",
    "heats_of",
    "if_then",
    "judge_rows",
    "lane_plan",
    "lift_gear",
    "lift_timetable",
    "machine_turns",
    "movement_cues",
    "prep_text",
    "read_prep",
    "standards",
    "timetable",
]

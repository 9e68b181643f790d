"""From plan to start line: warm-up, gear, standards, judge sheet, rules for a day gone otherwise."""

from sorvek.core.prep.gear import CueLine, Standard, cues, gear_list, standards
from sorvek.core.prep.if_then import IfThen, if_then
from sorvek.core.prep.judge import JudgeCell, JudgeRow, judge_rows
from sorvek.core.prep.primer import Primer
from sorvek.core.prep.timetable import (
    Part,
    PrepWishes,
    Timetable,
    WarmKind,
    WarmSchool,
    prep_text,
    read_prep,
    timetable,
)

__all__ = [
    "CueLine",
    "IfThen",
    "JudgeCell",
    "JudgeRow",
    "Part",
    "PrepWishes",
    "Primer",
    "Standard",
    "Timetable",
    "WarmKind",
    "WarmSchool",
    "cues",
    "gear_list",
    "if_then",
    "judge_rows",
    "prep_text",
    "read_prep",
    "standards",
    "timetable",
]

"""What of Break follows the sets: score, tape, reason, splits, and what every lane has chosen."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, fields, replace

from flask import render_template, session

from sorvek.core.advice import (
    SAME,
    Briefing,
    Display,
    first_round_line,
    gap_text,
    recommendation,
    split_targets,
    stretches,
)
from sorvek.core.plan import USUAL_STYLE, Plan
from sorvek.core.quantities import plain
from sorvek.core.workout import Course
from sorvek.figures.pace_tape import ALL_TRACKS, FEW_TRACKS, Frame, View, beside_fields, pace_tape, tape_end_s
from sorvek.paper.words import gate_words

# How wide a tape is drawn until the page has told what room there is.
USUAL_ROOM = 780
LEAST_VIEW_S = 5.0
LANE_PACES = (0.85, 0.9, 0.95, 1.0, 1.05, 1.1, 1.15, 1.2, 1.3, 1.4, 1.5)


def _frame(form: Mapping[str, str]) -> Frame:
    """Return the frame of the tape: as wide as the page has room for, which it tells and a session remembers."""
    width = form.get("room", "")
    if width.isascii() and width.isdecimal() and len(width) < 5:
        session["room"] = int(width)
    return beside_fields(session.get("room", USUAL_ROOM))


def _view(briefing: Briefing, wanted: str, frame: Frame) -> View:
    """Return the view of a round by its label or of a stretch `from-to` in seconds, else of the whole tape."""
    found = next((s for s in briefing.timeline.splits if s.label == wanted), None)
    if found:
        return View(found.start_s, found.end_s, frame=frame)
    stretch = re.fullmatch(r"(\d{1,5}(?:\.\d)?)-(\d{1,5}(?:\.\d)?)", wanted, re.ASCII)
    if stretch and float(stretch[2]) - float(stretch[1]) >= LEAST_VIEW_S:
        return View(float(stretch[1]), float(stretch[2]), frame=frame)
    return View(frame=frame)


@dataclass(frozen=True, slots=True)
class LaneChoice:
    """What may be chosen in a lane, and what is; an empty value stands for rounds that differ."""

    choices: tuple[str, ...]
    value: str


@dataclass(frozen=True, slots=True)
class LaneCast:
    """Pace and style of a movement's lane."""

    pace: LaneChoice
    style: LaneChoice


def casts_of(course: Course, plan: Plan) -> list[LaneCast]:
    """Return what may be chosen in every lane: usual paces its style allows, styles, and what it has."""
    found = []
    for phases, slot in zip(plan.slots, course.slots, strict=True):
        schemes = [phase.scheme for phase in phases]
        styles = [slot.movement.style(scheme.style) for scheme in schemes]
        usual = {plain(pace) for pace in LANE_PACES if styles[0].pace_fast <= pace <= styles[0].pace_slow}
        paces = {plain(scheme.pace) for scheme in schemes}
        names = [style.name or USUAL_STYLE for style in slot.movement.styles]
        found.append(
            LaneCast(
                _choice(paces, sorted(paces | usual, key=float)),
                _choice({style.name or USUAL_STYLE for style in styles}, names),
            )
        )
    return found


def _choice(own: set[str], offered: list[str]) -> LaneChoice:
    """Return what is offered with the one value all rounds have, or with an empty one in front."""
    return LaneChoice(tuple(offered), own.pop()) if len(own) == 1 else LaneChoice(("", *offered), "")


@dataclass(frozen=True, slots=True)
class PlanBoard:
    """The parts of the page that follow the sets, as HTML."""

    head: str
    tape: str
    reason: str
    splits: str


def board_of(briefing: Briefing, computed: Briefing, form: Mapping[str, str]) -> PlanBoard:
    """Return what follows the sets."""
    view = _view(briefing, form.get("view", ""), _frame(form))
    other, gaps = None, []
    if briefing.plan != computed.plan:
        ends = {s.label: s.end_s for s in computed.timeline.splits if s.complete}
        gaps = [
            s.end_s - ends[s.label] if s.complete and s.label in ends else None for s in briefing.timeline.splits
        ]
        if form.get("beside"):
            if not view.end_s:
                view = replace(view, end_s=max(tape_end_s(briefing), tape_end_s(computed)))
            other = pace_tape(computed, replace(view, reserves=False))
    view = replace(view, most=ALL_TRACKS if form.get("reserves") else FEW_TRACKS)
    shown = {
        "briefing": briefing,
        "tape": pace_tape(briefing, view),
        "other": other,
        "gaps": gaps,
        "gates": gate_words(briefing.band.gates),
        "against": _against(briefing, computed),
        "reason": recommendation(briefing),
        "targets": split_targets(briefing),
        "first_round": first_round_line(briefing),
        "stretches": stretches(briefing),
        "displays": [
            (slot.said, words)
            for i, slot in enumerate(briefing.course.slots)
            if (words := Display.over(briefing, i))
        ],
    }
    return PlanBoard(*(render_template(f"plans/_{part.name}.html", **shown) for part in fields(PlanBoard)))


def _against(briefing: Briefing, computed: Briefing) -> str:
    """Return how a typed plan compares with the computed one, empty if it is that plan."""
    if briefing.plan == computed.plan:
        return ""
    gap = gap_text(briefing, computed)
    if briefing.band.middle.finished is not computed.band.middle.finished:
        return f"{gap}, unlike the computed plan"
    return f"{gap} {'as' if gap in SAME else 'than'} the computed plan"

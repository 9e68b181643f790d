"""Editing a plan where it stands: one set is split, joined or moved, a rest made longer, a pace changed."""

from dataclasses import replace
from enum import StrEnum

from sorvek.core.errors import SetsError
from sorvek.core.plan.plan import USUAL_STYLE, Phase, Plan, Scheme, SetRule, check_sets
from sorvek.core.workout import Course

REST_STEP_S = 1.0
PACE_STEP = 0.05
MOST_REST_S, LEAST_PACE, MOST_PACE = 300.0, 0.8, 3.0


class Edit(StrEnum):
    """What is done to a set."""

    SPLIT = "split"
    JOIN = "join"
    MORE = "more"
    LESS = "less"
    REST_MORE = "rest more"
    REST_LESS = "rest less"
    SLOWER = "slower"
    FASTER = "faster"


class Scope(StrEnum):
    """How far an edit reaches."""

    ALL = "every round"
    ONWARD = "from here on"


def _edited_sizes(sizes: tuple[int, ...], index: int, edit: Edit, by: int) -> tuple[int, ...]:
    """Return set sizes after an edit.

    Raises: SetsError if there is nothing to split, join or take from.
    """
    changed = list(sizes)
    if edit is Edit.SPLIT:
        if sizes[index] < 2:
            raise SetsError("a single rep cannot be split")
        first = -(-sizes[index] // 2)
        changed[index : index + 1] = [first, sizes[index] - first]
        return tuple(changed)
    if index + 1 >= len(sizes):
        raise SetsError("this is the last set; there is none behind it to take from or join")
    if edit is Edit.JOIN:
        changed[index : index + 2] = [sizes[index] + sizes[index + 1]]
        return tuple(changed)
    move = by if edit is Edit.MORE else -by
    move = max(1 - sizes[index], min(move, sizes[index + 1] - 1))
    changed[index] += move
    changed[index + 1] -= move
    return tuple(changed)


def _edited(scheme: Scheme, count: int, index: int, edit: Edit, by: int) -> Scheme:
    match edit:
        case Edit.REST_MORE | Edit.REST_LESS:
            step = REST_STEP_S * by if edit is Edit.REST_MORE else -REST_STEP_S * by
            return replace(scheme, rest_s=min(MOST_REST_S, max(0.0, scheme.rest_s + step)))
        case Edit.SLOWER | Edit.FASTER:
            step = PACE_STEP * by if edit is Edit.SLOWER else -PACE_STEP * by
            return replace(scheme, pace=round(min(MOST_PACE, max(LEAST_PACE, scheme.pace + step)), 2))
        case _:
            sizes = _edited_sizes(scheme.rule.sets(count), index, edit, by)
            return replace(scheme, rule=_rule(sizes))


def _rule(sizes: tuple[int, ...]) -> SetRule:
    """Return the rule for sizes in the fewest words."""
    if len(sizes) == 1:
        return SetRule()
    if set(sizes) == {1}:
        return SetRule(then=1)
    return SetRule(sizes)


def edit_plan(course: Course, plan: Plan, segment: int, index: int, edit: Edit, scope: Scope, by: int = 1) -> Plan:
    """Return the plan after an edit of one set of a visit (`segment`, both counted from 0).

    With `Scope.ONWARD` the change holds from that round on; what came after is replaced.
    Raises: SetsError if the set cannot be edited that way, or if its new sizes fit this round but not others.
    """
    if not (0 <= segment < len(course.segments)) or not index >= 0:
        raise SetsError("there is no such set; reload the page")
    slot, count = course.segments[segment].slot, course.segments[segment].reps
    ranks = course.slot_rounds()
    rank = ranks[segment]
    phases = plan.slots[slot]
    at = next((i for i, phase in enumerate(phases) if phase.until is None or rank <= phase.until), len(phases) - 1)
    index = min(index, len(phases[at].scheme.rule.sets(count)) - 1)
    scheme = _edited(phases[at].scheme, count, index, edit, by)
    if scheme.rule.sizes:
        other = {
            s.reps for s, r in zip(course.segments, ranks, strict=True) if s.slot == slot and _held(phases, at, r)
        }
        if scope is Scope.ONWARD:
            other = {s.reps for s, r in zip(course.segments, ranks, strict=True) if s.slot == slot and r >= rank}
        if other != {count}:
            # Rounds of other counts take the largest set as their limit.
            scheme = replace(scheme, rule=SetRule(then=max(scheme.rule.sizes)))
    if scope is Scope.ALL or rank == 1:
        changed = (*phases[:at], Phase(phases[at].until, scheme), *phases[at + 1 :])
    else:
        kept = tuple(p for p in phases[:at] if p.until is not None and p.until < rank - 1)
        changed = (*kept, Phase(rank - 1, phases[at].scheme), Phase(None, scheme))
    return plan.with_slot(slot, changed)


def recast(course: Course, plan: Plan, slot: int, pace: float, style: str) -> Plan:
    """Return a plan with another pace (0 leaves it) or style (empty leaves it) for all rounds of a movement.

    Raises: SetsError for a movement or pace there is not; UnknownMovementError for a style.
    """
    if not 0 <= slot < len(plan.slots):
        raise SetsError("there is no such movement; reload the page")
    if pace and not LEAST_PACE <= pace <= MOST_PACE:
        raise SetsError(f"a pace of {pace:g}: choose one from {LEAST_PACE:g} to {MOST_PACE:g}")
    named = "" if style == course.slots[slot].movement.styles[0].name else style

    def changed(scheme: Scheme) -> Scheme:
        scheme = replace(scheme, pace=pace) if pace else scheme
        return replace(scheme, style="" if named == USUAL_STYLE else named) if style else scheme

    phases = tuple(replace(phase, scheme=changed(phase.scheme)) for phase in plan.slots[slot])
    check_sets(course, slot, phases)
    return plan.with_slot(slot, phases)


def _held(phases: tuple[Phase, ...], at: int, rank: int) -> bool:
    first = 1 + (phases[at - 1].until or 0) if at else 1
    until = phases[at].until
    return rank >= first and (until is None or rank <= until)

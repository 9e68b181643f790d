"""The set shorthand: `8/7 r6`, `singles 2br`, `rounds 1-2 unbroken, then 6/4 r5`."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cache, lru_cache
from importlib.resources import files
from typing import Any

from lark import Lark, Token, Tree, UnexpectedInput

from sorvek.core.constants import BREATH_S
from sorvek.core.errors import CoreError, NotationError, Place
from sorvek.core.plan.plan import UNBROKEN, USUAL_STYLE, Phase, Plan, Scheme, SetRule, check_sets
from sorvek.core.quantities import plain
from sorvek.core.workout import Course

KEPT_LINES = 4096  # a club has few schemes and asks for them again and again
DEFAULT_REST_S = 5.0
HELP = "type sets such as 8/7 r6, 5x3 r8, singles 2br, unbroken or sets of 5"
LIMITS = {"rest": (0, 300), "pace": (0.8, 3), "wait": (0, 300), "set": (1, 10_000), "round": (1, 10_000)}


@cache
def _parser() -> Lark:
    grammar = files("sorvek.core.plan").joinpath("shorthand.lark").read_text(encoding="utf-8")
    return Lark(grammar, parser="lalr", lexer="contextual")


def _refuse(token: Token, problem: str, remedy: str) -> NotationError:
    return NotationError(Place(token.line or 1, token.column or 1), problem, remedy)


def _numbers(token: Token, what: str) -> list[float]:
    """Return the numbers in a token to two decimals, as they are printed; each within the limits for `what`."""
    low, high = LIMITS[what]
    numbers = [round(float(n.replace(",", ".")), 2) for n in re.findall(r"\d+(?:[.,]\d+)?", token)]
    for number in numbers:
        if not low <= number <= high:
            raise _refuse(token, f"a {what} of {number:g}", f"give a number from {low:g} to {high:g}")
    return numbers


def _rule(tree: Tree[Token]) -> SetRule:
    token, *tail = tree.children
    assert isinstance(token, Token)
    then = 0
    if tail and isinstance(tail[0], Tree):
        word = tail[0].children[0]
        assert isinstance(word, Token)
        then = 1 if word.type == "THEN_SINGLES" else int(_numbers(word, "set")[0])
    match token.type:
        case "UNBROKEN":
            return SetRule()
        case "SINGLES":
            return SetRule(then=1)
        case "EVENLY":
            return SetRule(then=int(_numbers(token, "set")[0]))
        case "REPEATED":
            times, size = (int(n) for n in _numbers(token, "set"))
            return SetRule((size,) * times, then)
        case _:
            return SetRule(tuple(int(n) for n in _numbers(token, "set")), then)


def _clause(scheme: Scheme, part: Any) -> Scheme:
    if isinstance(part, Tree):
        rule = _rule(part)
        return replace(scheme, rule=rule)
    match part.type:
        case "REST":
            return replace(scheme, rest_s=_numbers(part, "rest")[0])
        case "BREATHS":
            return replace(scheme, rest_s=round(_numbers(part, "rest")[0] * BREATH_S, 2))
        case "PACE":
            return replace(scheme, pace=_numbers(part, "pace")[0])
        case "WAIT":
            return replace(scheme, wait_s=_numbers(part, "wait")[0])
        case _:
            style = " ".join(part.split()[1:]).lower()
            return replace(scheme, style="" if style == USUAL_STYLE else style)


def _until(token: Token, begins: int) -> int:
    first, *last = (int(n) for n in _numbers(token, "round"))
    until = last[0] if last else first
    if first != begins or until < first:
        raise _refuse(token, f"rounds {first}–{until}", f"go on at round {begins}, in rising order")
    return until


@lru_cache(maxsize=KEPT_LINES)
def parse_shorthand(text: str) -> tuple[Phase, ...]:
    """Return the phases a line of shorthand describes; the last one always holds to the end.

    A later phase keeps rest, pace and style of the one before unless it says otherwise.
    Raises: NotationError with column, problem and remedy.
    """
    try:
        tree = _parser().parse(text.strip())
    except UnexpectedInput as error:
        column = error.column if isinstance(error.column, int) and error.column > 0 else len(text) + 1
        found = " ".join(text[column - 1 :].split()) or "the line ends"
        raise NotationError(Place(1, column), f"“{found[:30]}” is not understood", HELP) from error
    scheme, phases, begins = Scheme(rest_s=DEFAULT_REST_S), [], 1
    for index, phase in enumerate(tree.children):
        assert isinstance(phase, Tree)
        parts: list[Any] = list(phase.children)
        until = None
        if isinstance(parts[0], Token) and parts[0].type == "ROUNDS":
            until = _until(parts.pop(0), begins)
            begins = until + 1
        elif index + 1 < len(tree.children):
            raise NotationError(
                Place(1, 1), "the first scheme does not say for which rounds", "type “rounds 1-2 …, then …”"
            )
        for part in parts:
            scheme = _clause(scheme, part)
        # Rest plays no part in unbroken work: it must not make two schemes differ, and later phases keep it.
        unbroken = scheme.rule == UNBROKEN
        phases.append(Phase(until, replace(scheme, rest_s=DEFAULT_REST_S) if unbroken else scheme))
    return (*phases[:-1], replace(phases[-1], until=None))


def _scheme_text(scheme: Scheme, before: Scheme) -> str:
    words = [scheme.rule.text()]
    if scheme.rule != UNBROKEN:
        words.append(f"r{plain(scheme.rest_s)}")
    if scheme.pace != before.pace:
        words.append(f"pace {plain(scheme.pace)}")
    if scheme.style != before.style:
        words.append(f"style {scheme.style or USUAL_STYLE}")
    if scheme.wait_s != before.wait_s:
        words.append(f"wait {plain(scheme.wait_s)}")
    return " ".join(words)


def shorthand(phases: tuple[Phase, ...]) -> str:
    """Return the canonical shorthand of phases: parsing it gives the same phases back."""
    texts, before, begins = [], Scheme(rest_s=DEFAULT_REST_S), 1
    for phase in phases:
        text = _scheme_text(phase.scheme, before)
        if phase.until is not None and len(phases) > 1:
            span = f"{begins}-{phase.until}" if phase.until > begins else f"{begins}"
            text = f"round{'s' if phase.until > begins else ''} {span} {text}"
            begins = phase.until + 1
        texts.append(text)
        before = phase.scheme
    return ", then ".join(texts)


@dataclass(frozen=True, slots=True)
class TypedPlan:
    """A plan with sets typed over it, and a message by slot for those that do not fit."""

    plan: Plan
    errors: Mapping[int, str]


def typed_plan(course: Course, plan: Plan, texts: Mapping[int, str]) -> TypedPlan:
    """Return a plan with the shorthand typed for some slots; what does not fit leaves the slot as it was."""
    errors: dict[int, str] = {}
    for slot, text in texts.items():
        if not 0 <= slot < len(plan.slots):
            continue
        try:
            phases = parse_shorthand(text)
            check_sets(course, slot, phases)
            plan = plan.with_slot(slot, phases)
        except NotationError as error:
            errors[slot] = error.in_line
        except CoreError as error:
            errors[slot] = str(error)
    return TypedPlan(plan, errors)

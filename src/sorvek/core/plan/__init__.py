"""How it is done: schemes of sets and rests, the shorthand they are typed in, edits on the tape."""

from sorvek.core.plan.edits import Edit, Scope, edit_plan, recast
from sorvek.core.plan.plan import UNBROKEN, USUAL_STYLE, Phase, Plan, Scheme, SetRule
from sorvek.core.plan.shorthand import TypedPlan, parse_shorthand, shorthand, typed_plan

__all__ = [
    "UNBROKEN",
    "USUAL_STYLE",
    "Edit",
    "Phase",
    "Plan",
    "Scheme",
    "Scope",
    "SetRule",
    "TypedPlan",
    "edit_plan",
    "parse_shorthand",
    "recast",
    "shorthand",
    "typed_plan",
]

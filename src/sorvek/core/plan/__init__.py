"""How it is done: schemes of sets and rests, the shorthand they are typed in, edits on the tape."""

from sorvek.core.plan.edits import Edit, Scope, edit_plan
from sorvek.core.plan.plan import UNBROKEN, Phase, Plan, Scheme, SetRule
from sorvek.core.plan.shorthand import TypedPlan, parse_shorthand, shorthand, typed_plan

__all__ = [
    "UNBROKEN",
    "Edit",
    "Phase",
    "Plan",
    "Scheme",
    "Scope",
    "SetRule",
    "TypedPlan",
    "edit_plan",
    "parse_shorthand",
    "shorthand",
    "typed_plan",
]

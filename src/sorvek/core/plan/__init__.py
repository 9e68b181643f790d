"""FACE."""

from sorvek.core.plan.edits import Edit, Scope, edit_plan
from sorvek.core.plan.plan import UNBROKEN, Phase, Plan, Scheme, SetRule, check_sets
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
    "check_sets",
    "edit_plan",
    "parse_shorthand",
    "shorthand",
    "typed_plan",
]

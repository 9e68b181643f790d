"""Many athletes on one workout: forecasts, tiers, the field and what a score is worth in it."""

from sorvek.core.club.board import (
    Leaderboard,
    Likeness,
    Pair,
    Result,
    Standing,
    lifts_of,
    next_to,
    one_better,
    order_key,
    plateaus,
    result_text,
)
from sorvek.core.club.following import LITTLE_FRAC, STAR_FRAC, Club, Following
from sorvek.core.club.leaderboard_csv import leaderboard_csv, read_leaderboard, score_typed
from sorvek.core.club.outlook import MODEL, Outlook, outlook_of, plan_of, plan_outlook
from sorvek.core.club.prospects import Prospect, prospects
from sorvek.core.club.simulated import people, simulate_field
from sorvek.core.club.tier_plan import Follower, TierPlan, tier_plan
from sorvek.core.club.tiering import CRUXES, Outcomes
from sorvek.core.club.tiers_by_plan import MOST_TIERS, plan_tiers

__all__ = [
    "CRUXES",
    "LITTLE_FRAC",
    "MODEL",
    "MOST_TIERS",
    "STAR_FRAC",
    "Club",
    "Follower",
    "Following",
    "Leaderboard",
    "Likeness",
    "Outcomes",
    "Outlook",
    "Pair",
    "Prospect",
    "Result",
    "Standing",
    "TierPlan",
    "leaderboard_csv",
    "lifts_of",
    "next_to",
    "one_better",
    "order_key",
    "outlook_of",
    "people",
    "plan_of",
    "plan_outlook",
    "plan_tiers",
    "plateaus",
    "prospects",
    "read_leaderboard",
    "result_text",
    "score_typed",
    "simulate_field",
    "tier_plan",
]

"""The athletes beside a page: the list by tier, the ones before and after, and who may not be planned."""

from flask import abort, render_template

from sorvek.actions.plan_club import open_flags
from sorvek.core.athlete import substitutes_for
from sorvek.core.workout import TIERS
from sorvek.store.athletes import SavedAthlete, all_athletes, load_athlete
from sorvek.store.placings import Placing, placings_of
from sorvek.store.workouts import SavedWorkout


def athlete_or_404(athlete_id: int) -> SavedAthlete:
    """Return a stored athlete or end the request with 404."""
    saved = load_athlete(athlete_id)
    if saved is None:
        abort(404)
    return saved


def people_by_tier(athletes: list[SavedAthlete]) -> list[tuple[str, list[SavedAthlete]]]:
    """Return the tiers that have members, the strongest first."""
    groups = [(tier, [a for a in athletes if a.athlete.tier == tier]) for tier in reversed(TIERS)]
    return [(tier, members) for tier, members in groups if members]


def listed_ids(athletes: list[SavedAthlete]) -> list[int]:
    """Return athlete ids in the order of the list on the page."""
    return [member.id for _, members in people_by_tier(athletes) for member in members]


def beside(saved: SavedWorkout, athlete: SavedAthlete) -> dict[str, object]:
    """Return what the list of people on a page needs: groups, and the ids before and after the athlete."""
    athletes = all_athletes()
    ids = listed_ids(athletes)
    at = ids.index(athlete.id)
    return {
        "saved": saved,
        "athlete": athlete,
        "groups": people_by_tier(athletes),
        "before": ids[at - 1],
        "after": ids[(at + 1) % len(ids)],
    }


def is_held(saved: SavedWorkout, athlete: SavedAthlete) -> bool:
    """Return whether an injury flag or a coach keeps an athlete from being planned."""
    placing = placings_of(saved.id).get(athlete.id, Placing())
    return placing.left_out or bool(open_flags(saved.workout, athlete.athlete, placing.substitutes))


def held_page(saved: SavedWorkout, athlete: SavedAthlete, stage: str) -> str:
    """Return the page of an athlete who is held back, with what can be done about it."""
    placing = placings_of(saved.id).get(athlete.id, Placing())
    flagged = open_flags(saved.workout, athlete.athlete, placing.substitutes)
    offers = {name: substitutes_for(saved.workout, name, athlete.athlete) for name in flagged}
    return render_template(
        "plans/held.html", **beside(saved, athlete), offers=offers, left_out=placing.left_out, stage=stage
    )

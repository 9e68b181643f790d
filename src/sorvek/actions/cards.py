"""What leaves the building: the card of one athlete, those of a club, one plan a tier for the wall."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from sorvek.actions import kept
from sorvek.actions.entry import Entry, entry_of, load_entry
from sorvek.actions.lifts import attempts_in_force
from sorvek.actions.place import Cut
from sorvek.actions.plans import KeptOn, in_force, kept_on
from sorvek.core.advice import Briefing, recommendation
from sorvek.core.club import Following, TierPlan
from sorvek.core.planner import Temper
from sorvek.core.prep import Standard, if_then, standards
from sorvek.paper.card import Card, lift_card, make_card, warm_up_words, with_lifts
from sorvek.store.athletes import SavedAthlete, all_athletes
from sorvek.store.cards import card_owner
from sorvek.store.lifts import the_gym
from sorvek.store.outlooks import outlooks_of
from sorvek.store.placings import Placing, placings_of
from sorvek.store.preps import load_prep
from sorvek.store.settings import save_setting, setting, setting_version
from sorvek.store.workouts import SavedWorkout


@dataclass(frozen=True, slots=True)
class MadeCard:
    """A card with the briefing behind it; a max lift alone has none."""

    card: Card
    briefing: Briefing | None


def card_of(entry: Entry, known: KeptOn | None = None) -> MadeCard | None:
    """Return the card of the plan in force with the attempts; None where somebody is held back or has no lift."""
    if entry.held:
        return None
    workout, bound = entry.workout, entry.saved.readout.bound
    unit = (known.gym if known else the_gym()).unit
    found = [attempts_in_force(entry, number + 1) for number in range(len(workout.lifts))]
    plans = [plan for plan in found if plan is not None]
    complete = len(plans) == len(workout.lifts)
    if entry.lift_alone:
        card = lift_card(workout, entry.athlete.athlete, plans, bound, unit) if complete else None
        return MadeCard(card, None) if card else None
    briefing = in_force(entry, known).briefing
    card = make_card(briefing, bound)
    lifts = list(zip(workout.lifts, plans, strict=True)) if complete else []
    return MadeCard(with_lifts(card, lifts, unit), briefing)


def _with_rules(entry: Entry, made: MadeCard) -> MadeCard:
    """Return a card with the rules for a day gone otherwise."""
    if made.briefing is None:
        return made
    rules = kept.rules_of(entry, made.briefing.plan)
    return MadeCard(replace(made.card, rules=tuple(rule.text for rule in rules)), made.briefing)


def own_card(entry: Entry) -> MadeCard | None:
    """Return an athlete's card with the rules for a day gone otherwise, and when to begin to warm up."""
    made = card_of(entry)
    if made is None or made.briefing is None:
        return made
    wishes = load_prep(entry.saved.id, entry.athlete.id).wishes
    table = kept.timetable_of(entry, made.briefing.plan, the_gym(), replace(wishes, starts_at=""))
    card = replace(made.card, warm_up=warm_up_words(table.length_s, wishes.starts_at))
    return _with_rules(entry, MadeCard(card, made.briefing))


def card_behind(token: str) -> MadeCard | None:
    """Return the card a link leads to, None if it leads nowhere any more."""
    owner = card_owner(token)
    entry = load_entry(*owner) if owner else None
    return own_card(entry) if entry else None


def takers(saved: SavedWorkout) -> list[SavedAthlete]:
    """Return the athletes who are planned and not left out, by name; attempts of a lift alone need no planning."""
    alone = not saved.workout.body
    planned, placings = outlooks_of(saved.id), placings_of(saved.id)
    return [a for a in all_athletes() if (alone or a.id in planned) and not placings.get(a.id, Placing()).left_out]


def cards_of(saved: SavedWorkout, athletes: Sequence[SavedAthlete]) -> list[Card]:
    """Return the cards of some athletes, without those who are held back."""
    placings, known = placings_of(saved.id), kept_on(saved.id)
    entries = [entry_of(saved, athlete, placings.get(athlete.id, Placing())) for athlete in athletes]
    return [_with_rules(entry, made).card for entry in entries if (made := card_of(entry, known))]


@dataclass(frozen=True, slots=True)
class Tier:
    """A tier with its members and the plan made for them."""

    name: str
    members: tuple[SavedAthlete, ...]
    temper: Temper
    planned: TierPlan

    def id_of(self, name: str) -> int:
        """Return the id of a member by name."""
        return next(member.id for member in self.members if member.athlete.name == name)


def _tempers_name(workout_id: int) -> str:
    return f"tier_tempers_{workout_id}"


def tier_tempers(workout_id: int) -> dict[str, Temper]:
    """Return the temperaments a coach chose for tiers of a workout."""
    return {tier: Temper(value) for tier, value in setting(_tempers_name(workout_id), {}).items()}


def tier_tempers_version(workout_id: int) -> int:
    """Return the version of that choice."""
    return setting_version(_tempers_name(workout_id))


def choose_tier_temper(workout_id: int, tier: str, temper: Temper, seen_version: int) -> None:
    """Keep the temperament of a tier's plan.

    Raises: ConflictError if somebody chose otherwise since `seen_version`.
    """
    chosen = {name: value.value for name, value in tier_tempers(workout_id).items()} | {tier: temper.value}
    save_setting(_tempers_name(workout_id), chosen, seen_version)


def tiers_of(saved: SavedWorkout) -> list[Tier]:
    """Return the tiers that have members, the best first: by plan where a coach cut them so, else by outcome."""
    outlooks, placings = outlooks_of(saved.id), placings_of(saved.id)
    tempers, cut, by_tier = tier_tempers(saved.id), Cut.of(saved), dict[str, list[SavedAthlete]]()
    for athlete in all_athletes():
        if athlete.id in outlooks:
            lane = cut.lane(athlete.id, outlooks[athlete.id].outlook, placings.get(athlete.id, Placing()))
            by_tier.setdefault(lane.name, []).append(athlete)
    found = []
    for name in cut.names:
        members = tuple(by_tier.get(name, ()))
        if members:
            pairs = tuple((a, outlooks[a.id].outlook) for a in members)
            temper, schemes = tempers.get(name, Temper.STEADY), cut.schemes(name)
            found.append(Tier(name, members, temper, kept.tier_plan_of(saved, name, pairs, temper, schemes)))
    return found


@dataclass(frozen=True, slots=True)
class Talk:
    """What is said to a tier before its heats: the plan as a card, what decides, rules, standards, names."""

    tier: str
    card: Card
    crux: str
    rules: tuple[str, ...]
    standards: tuple[Standard, ...]
    names: tuple[tuple[str, Following], ...]

    @property
    def starred(self) -> bool:
        """Return whether somebody in it goes by a card of their own."""
        return any(following.starred for _, following in self.names)


def talk_of(saved: SavedWorkout, tier: Tier) -> Talk:
    """Return the talk for a tier.

    Raises: SetsError if its plan does not fit the workout any more.
    """
    briefing = tier.planned.briefing
    return Talk(
        tier.name,
        make_card(briefing, saved.readout.bound, tier.planned.labels),
        recommendation(briefing),
        tuple(rule.text for rule in if_then(briefing.problem, briefing.plan)),
        standards(briefing.course.movements),
        tuple((follower.athlete.name, follower.following) for follower in tier.planned.followers),
    )

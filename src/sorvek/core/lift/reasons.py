"""Why an attempt is what it is, in one sentence, and what the page says about the plan as a whole."""

from collections.abc import Callable
from dataclasses import dataclass

from sorvek.core.lift.attempts import Attempt, AttemptPlan, Typing
from sorvek.core.lift.task import LiftTask
from sorvek.core.quantities import days_of_ten

# From here on a chance is called by what it nearly is; below, as days of ten or one day of so many.
NEARLY_ALWAYS, NEARLY_NEVER = 0.975, 0.02
# A typed attempt that costs less than this share of the 1RM costs nothing worth a word; judgement.
WORTH_SAYING_FRAC = 0.001
# From this share of the 1RM on the empty bar itself is the opening; judgement.
OPENING_ON_BAR = 0.7
# Means this near are the same to anybody who lifts.
LEAST_GAP_KG = 0.05


@dataclass(frozen=True, slots=True)
class Told:
    """A plan in words: `words` shows a load in kg as it is called in this hall, with its unit."""

    plan: AttemptPlan
    task: LiftTask
    words: Callable[[float], str]

    def why(self, index: int) -> str:
        """Return in one sentence why attempt `index` (from 0) of a plan is what it is, or what came of it."""
        a, often = self.plan.attempts[index], _days(self.plan.attempts[index].chance)
        share = f"{100 * a.load_kg / self.task.one_rep_max_kg:.0f} % of {self.task.reference}"
        if a.made is not None:
            return self._result(a)
        if index == 0:
            if not self.plan.opening_is_safe:
                return f"The lightest that can be loaded, and already {share}: it goes up on {often}."
            return f"First a number on the board: {share} goes up on {often}."
        before = self.plan.attempts[index - 1]
        if not a.best_kg:
            again = "the same again" if a.load_kg == before.load_kg else f"down to {share}"
            return f"Nothing stands yet: {again}, which goes up on {often} after that miss."
        stands = f"{self.words(a.best_kg)} is in the book"
        if before.made is False:
            again = "the same again" if a.load_kg == before.load_kg else f"{self.words(a.load_kg)} still betters it"
            return f"{stands}; after the miss {again}, on {often}."
        step = f"a step of {self.words(a.load_kg - a.best_kg)} made on {often}"
        if index == len(self.plan.attempts) - 1:
            return f"{stands} and nothing is lost any more: {step}."
        return f"{stands}; {self.words(a.load_kg)} is {step}."

    def _result(self, a: Attempt) -> str:
        now = a.after_make if a.made else a.after_miss
        surprise = "" if (a.chance >= 0.5) == a.made else " against the odds"
        what = f"Made{surprise}: {self.words(a.load_kg)} stands" if a.made else f"Missed{surprise}"
        return f"{what}. Today's best is now put at {self.words(now.best_kg)} ± {self.words(now.spread_kg)}."

    def typing(self, typing: Typing) -> str:
        """Return what a typed attempt costs and which rules it breaks; empty if neither is worth a word."""
        worth = WORTH_SAYING_FRAC * self.task.one_rep_max_kg
        cost = f"costs {self.words(round(typing.cost_kg, 1))} of expected lift" if typing.cost_kg > worth else ""
        if not cost and not typing.broken:
            return ""
        if not cost:
            cost = "costs nothing in the mean"
            if typing.cost_kg < -worth:
                cost = f"wins {self.words(round(-typing.cost_kg, 1))} in the mean, and gets made less often"
        broken = f" ({'; '.join(rule.value for rule in typing.broken)})" if typing.broken else ""
        return f"Attempt {typing.number} as typed {cost}{broken}."

    def bar(self) -> str:
        """Return a warning where the empty bar is heavy for the athlete, else an empty text."""
        share = self.task.empty_kg / self.task.one_rep_max_kg
        if share < OPENING_ON_BAR:
            return ""
        empty = f"{self.words(self.task.empty_kg)}, {100 * share:.0f} % of {self.task.reference}"
        bar = f"The empty bar with collars weighs {empty}"
        lighter = [bar for bar in self.task.gym.bars if bar.mass_kg < self.task.bar.mass_kg]
        if lighter:
            return f"{bar}: open with it bare, or take the {lighter[-1].label} bar if the rules allow it."
        if self.task.gym.collars_kg:
            return f"{bar}: open with it bare; without collars it weighs {self.words(self.task.bar.mass_kg)}."
        return f"{bar}: open with it bare; there is no lighter one here."

    def verdict(self, school: AttemptPlan) -> str:
        """Return what a school costs or brings against the plan."""
        gap_kg = self.plan.expected_kg - school.expected_kg
        said = [f"{self.words(abs(round(gap_kg, 1)))} {'less' if gap_kg > 0 else 'more'} in the mean"]
        if abs(gap_kg) < LEAST_GAP_KG or said[0].startswith("0 "):
            said = ["the same in the mean"]
        nothing = school.none_frac - self.plan.none_frac
        if abs(nothing) >= 0.005:
            said.append(f"no score {'more' if nothing > 0 else 'less'} often by {100 * abs(nothing):.0f} in 100")
        if len(school.attempts) < len(self.plan.attempts):
            said.append(f"{len(school.attempts)} attempts, not {len(self.plan.attempts)}")
        opening = school.attempts[0].chance if school.attempts else 0.0
        if opening < 0.9:
            said.append(f"the opener goes up on {100 * opening:.0f} of 100 days only")
        return "; ".join(said)


def _days(chance: float) -> str:
    """Return a chance (0–1) as days: “8 days of 10”, “1 day of 7”, “nearly every day”."""
    if chance >= NEARLY_ALWAYS:
        return "nearly every day"
    if chance <= NEARLY_NEVER:
        return "hardly any day"
    if chance < 0.15:
        return f"1 day of {round(1 / chance)}"
    return days_of_ten(chance)

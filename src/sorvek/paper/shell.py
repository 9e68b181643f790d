"""Read-outs and plans as plain text and data for the shell."""

from collections.abc import Callable, Sequence
from dataclasses import asdict, dataclass
from functools import partial

from sorvek.core.advice import (
    Briefing,
    Display,
    SchoolResult,
    exchange_rates,
    goals,
    nothing_won,
    recommendation,
    stretches,
)
from sorvek.core.club import LITTLE_FRAC, Following
from sorvek.core.lift import (
    AttemptPlan,
    Belief,
    Branch,
    LiftTask,
    SchoolRun,
    Told,
)
from sorvek.core.plan import Plan, shorthand
from sorvek.core.quantities import clock, plain
from sorvek.core.simulation import Band, Problem, forecast
from sorvek.core.workout import Reading, Readout
from sorvek.paper.words import as_planned, day_words, days_sentence, gate_words, load_words, middle_words


def readout_text(readout: Readout) -> str:
    """Return the read-out as lines of text."""
    total = (
        f"{readout.total_reps} reps" if readout.total_reps else "open" if readout.totals else "the heaviest counts"
    )
    lines = ["", f"{readout.bound}: {total}"]
    if readout.pace_s:
        lines.append(f"to finish: {readout.pace_s:.2f} s a rep on average")
    lines += [*readout.traps, *filter(None, [readout.bulk])]
    for end in readout.rounds:
        at = f"  by {clock(end.pace_s)}" if end.pace_s else ""
        lines.append(f"  {end.label:<28} {end.reps:>5} reps{at}{'  tie-break' if end.tiebreak else ''}")
    return "\n".join(lines)


def readout_data(readout: Readout) -> dict[str, object]:
    """Return the read-out as data."""
    return {
        "workout": readout.workout.title,
        "form": readout.bound,
        "total_reps": readout.total_reps,
        "pace_s": round(readout.pace_s, 2),
        "traps": list(readout.traps),
        "bulk": readout.bulk,
        "rounds": [{"label": e.label, "reps": e.reps, "tiebreak": e.tiebreak} for e in readout.rounds],
        "movements": [
            {
                "label": t.label,
                "reps": t.reps,
                "sizes": list(t.sizes),
                "instead": list(t.instead),
                "scored": t.scored,
                "per_rep": t.per_rep,
            }
            for t in readout.totals
        ],
        "taxes": {name: round(value, 3) for name, value in readout.taxes},
    }


def reading_data(reading: Reading) -> dict[str, object]:
    """Return how a text was read as data: the notation, its doubts, and what became of every word of the source."""
    return {
        "notation": reading.text,
        "doubts": [{"line": doubt.line, "words": doubt.words} for doubt in reading.doubts],
        "spans": [
            {"start": mark.start, "end": mark.end, "fate": mark.fate.value, "line": mark.line}
            for mark in reading.marks
        ],
    }


def briefing_text(briefing: Briefing) -> str:
    """Return a plan as lines of text to paste anywhere."""
    course, timeline = briefing.course, briefing.timeline
    score = timeline.score
    lines = [
        f"{course.workout.title or 'Workout'}: {briefing.problem.athlete.name}",
        f"Forecast {middle_words(briefing)}; {days_sentence(briefing.band)}",
    ]
    if as_planned(briefing):
        lines.append(f"As planned {as_planned(briefing)}")
    gates = gate_words(briefing.band.gates)
    if gates:
        lines.append("Chances: " + "; ".join(gates))
    if score.tiebreak_s:
        lines.append(f"Tie-break {clock(score.tiebreak_s)}")
    lines += ["", "Sets"]
    width = max(len(slot.said) for slot in course.slots)
    for i, (slot, phases) in enumerate(zip(course.slots, briefing.plan.slots, strict=True)):
        display = Display.over(briefing, i)
        lines.append(f"  {slot.said:<{width}}  {shorthand(phases)}{f'  ({display})' if display else ''}")
    lines += ["", "Splits"]
    left_s = {stretch.label: stretch.rest_s for stretch in stretches(briefing)}
    for split in timeline.splits:
        part = "" if split.complete else "  (not finished)"
        rest_s = left_s.get(split.label.lower(), 0.0)
        part += f"  then {clock(rest_s)} rest" if rest_s >= 1 else ""
        lines.append(
            f"  {split.label:<24} {clock(split.end_s):>6}  {plain(round(split.end_s - split.start_s)):>4} s"
            f"  {split.reps:>4} reps{part}"
        )
    if briefing.warnings:
        lines += ["", "Watch", *(f"  {warning}" for warning in briefing.warnings)]
    return "\n".join(lines)


def advice_data(briefing: Briefing, schools: Sequence[SchoolResult]) -> dict[str, object]:
    """Return reason, exchange rates, milestones and schools as data."""
    problem = briefing.problem
    near = goals(problem, briefing.timeline)
    ends = {result.school: result.briefing.band.ends(briefing.band.timed) for result in schools}
    return {
        "reason": recommendation(briefing),
        "exchange": [
            {name: round(value, 2) if isinstance(value, float) else value for name, value in asdict(row).items()}
            for row in exchange_rates(problem, briefing.plan)
        ],
        "milestones": [asdict(m) for m in near.milestones],
        "to_finish": near.to_finish,
        "schools": [
            {
                "school": result.school.value,
                "value": round(result.briefing.timeline.score.value, 1),
                "kind": result.briefing.timeline.score.kind.value,
                **dict(zip(("p10", "p50", "p90"), (round(end, 1) for end in ends[result.school]), strict=True)),
                "schemes": [shorthand(phases) for phases in result.briefing.plan.slots],
                "verdict": result.verdict,
            }
            for result in schools
        ],
    }


def _won(value: float, unit: str) -> str:
    """Return what is won or lost, in words."""
    return f"{'wins' if value >= 0 else 'loses'} {abs(value):.1f} {unit}"


def advice_text(briefing: Briefing, schools: Sequence[SchoolResult]) -> str:
    """Return reason, exchange rates, milestones and schools as lines of text."""
    problem = briefing.problem
    lines = ["", "Why", f"  {recommendation(briefing)}"]
    near = goals(problem, briefing.timeline)
    lines += [f"  {line}" for line in (near.to_finish,) if line]
    lines += ["", "Where a second comes cheap"]
    rates = exchange_rates(problem, briefing.plan)
    width = max(len(row.label) for row in rates)
    if nothing_won(rates):
        lines.append("  Nowhere: the score stays as planned with faster reps or shorter rests.")
        rates = ()
    for row in rates:
        lines.append(
            f"  {row.label:<{width}}  5 % faster {_won(row.pace_won, row.unit)}"
            f"  ·  20 % less rest {_won(row.rest_won, row.unit)}"
        )
    if near.milestones:
        lines += ["", "Milestones"]
        lines += [
            f"  {m.target}: {m.pace_s:.1f} {m.unit}{'  (in the plan)' if m.held else ''}" for m in near.milestones
        ]
    if schools:
        lines += ["", "Schools"]
        for result in schools:
            score = middle_words(result.briefing)
            lines.append(f"  {result.name:<18} {score:<20} {result.verdict}")
    return "\n".join(lines)


def attempts_text(task: LiftTask, best: AttemptPlan, schools: Sequence[SchoolRun], unit: str) -> str:
    """Return attempts and schools as lines of text, loads in kg or lb."""
    words = partial(load_words, unit=unit)
    told = Told(best, task, words)
    goal = "" if best.goal_frac is None else f", goal {words(task.goal_kg or 0)} on {best.goal_frac:.0%} of days"
    low, middle, high = (words(best.quantile(share)) for share in (0.1, 0.5, 0.9))
    lines = [
        f"Lift {middle} on a middle day, {low} to {high} on 8 days of 10, {words(best.expected_kg)} in the mean",
        f"No score on {best.none_frac:.1%} of days, every attempt below made on {best.line_frac:.0%}{goal}",
        f"Bar {task.bar.label}{' kg' if task.bar.unit == 'kg' else ''}, {words(task.empty_kg)} empty with collars",
    ]
    lines += [line for line in [told.bar()] if line] + [""]
    for i, a in enumerate(best.attempts):
        result = f"{a.chance:.0%}" if a.made is None else "made" if a.made else "missed"
        plates = " + ".join(piece.label for piece in a.stack) or "empty bar"
        then = "" if a.if_missed is None else f"; if missed {_next(a.if_missed, words)}"
        head = f"{i + 1}. {words(a.load_kg)} at {clock(a.start_s)}"
        lines += [f"{head:<22} {result:>6}  one side: {plates}{then}", f"     {told.why(i)}"]
    lines += [line for typing in best.typing if (line := told.typing(typing))] + [""]
    for run in schools:
        loads = ", ".join(words(a.load_kg).split()[0] for a in run.plan.attempts)
        lines.append(f"{run.school.value:<18} {words(run.plan.expected_kg):>9}  {loads}: {told.verdict(run.plan)}")
    return "\n".join(lines)


def _next(branch: Branch, words: Callable[[float], str]) -> str:
    return f"{words(branch.load_kg)} at {clock(branch.start_s)}"


def attempts_data(best: AttemptPlan, schools: Sequence[SchoolRun]) -> dict[str, object]:
    """Return attempts and schools as the JSON contract of docs/formats.md."""
    return {**_plan_data(best), "schools": [{"school": r.school.value, **_plan_data(r.plan)} for r in schools]}


def _plan_data(plan: AttemptPlan) -> dict[str, object]:
    low, middle, high = (plan.quantile(share) for share in (0.1, 0.5, 0.9))
    return {
        "temper": plan.temper.value,
        "expected_kg": round(plan.expected_kg, 2),
        "p10": round(low, 2),
        "p50": round(middle, 2),
        "p90": round(high, 2),
        "none_probability": round(plan.none_frac, 4),
        "line_probability": round(plan.line_frac, 4),
        "goal_probability": None if plan.goal_frac is None else round(plan.goal_frac, 4),
        "attempts": [
            {
                "load_kg": round(a.load_kg, 2),
                "start_s": a.start_s,
                "rest_s": a.rest_s,
                "loading_s": a.loading_s,
                "probability": round(a.chance, 4),
                "made": a.made,
                "one_side": [piece.label for piece in a.stack],
                "belief_if_made": _belief_data(a.after_make),
                "belief_if_missed": _belief_data(a.after_miss),
                "if_made": _branch_data(a.if_made),
                "if_missed": _branch_data(a.if_missed),
            }
            for a in plan.attempts
        ],
        "typed": [
            {
                "attempt": t.number,
                "cost_kg": round(t.cost_kg, 2),
                "breaks": [rule.name.lower() for rule in t.broken],
            }
            for t in plan.typing
        ],
    }


def _belief_data(belief: Belief) -> dict[str, float]:
    return {"best_kg": round(belief.best_kg, 2), "spread_kg": round(belief.spread_kg, 2)}


def _branch_data(branch: Branch | None) -> dict[str, float] | None:
    if branch is None:
        return None
    return {"load_kg": round(branch.load_kg, 2), "start_s": branch.start_s, "probability": round(branch.chance, 4)}


@dataclass(frozen=True, slots=True)
class Followed:
    """A member of a tier: the forecast of the own plan and of the tier's, and how that is followed."""

    name: str
    own: Band
    band: Band
    following: Following


@dataclass(frozen=True, slots=True)
class FollowedTier:
    """A tier's plan by movement, and who follows it, the best first."""

    schemes: tuple[tuple[str, str], ...]
    followers: tuple[Followed, ...]

    @property
    def name(self) -> str:
        """Return what its members reach on a middling day."""
        days = [day_words(f.band.middle) for f in self.followers]
        return days[0] if days[0] == days[-1] else f"{days[0]} to {days[-1]}"


def followed(problem: Problem, own_plan: Plan, plan: Plan, following: Following) -> Followed:
    """Return a member of a tier with the forecasts of the own plan and of the tier's."""
    own = forecast(problem, own_plan)
    # A plan that does not fit somebody leaves only the own one.
    fits = following.loss < float("inf")
    band = forecast(problem, plan.with_rests(following.rests.value)) if fits else own
    return Followed(problem.athlete.name, own, band, following)


def _served(tiers: Sequence[FollowedTier]) -> tuple[float, int, int]:
    followers = [f for tier in tiers for f in tier.followers]
    little = sum(f.following.loss < LITTLE_FRAC for f in followers)
    return little / len(followers), sum(f.following.starred for f in followers), len(followers)


def tiers_data(title: str, tiers: Sequence[FollowedTier], held: dict[str, list[str]]) -> dict[str, object]:
    """Return the tiers of a club as the JSON contract of docs/formats.md; `held` names flagged movements."""
    share, starred, _ = _served(tiers)
    return {
        "workout": title,
        "tiers": [
            {
                "name": tier.name,
                "schemes": [scheme for _, scheme in tier.schemes],
                "members": [
                    {
                        "name": f.name,
                        "kind": "time" if f.own.timed else "reps",
                        "own_p50": round(f.own.p50, 1),
                        "followed_kind": "time" if f.band.timed else "reps",
                        "followed_p50": round(f.band.p50, 1),
                        "rests": round(f.following.rests.value, 2),
                        "loss": None if f.following.loss == float("inf") else round(f.following.loss, 4),
                        "starred": f.following.starred,
                    }
                    for f in tier.followers
                ],
            }
            for tier in tiers
        ],
        "served": round(share, 3),
        "starred": starred,
        "held": held,
    }


def tiers_text(title: str, tiers: Sequence[FollowedTier], held: dict[str, list[str]]) -> str:
    """Return the tiers of a club as lines of text."""
    share, starred, count = _served(tiers)
    told = f"{share:.0%} of {count} lose under {LITTLE_FRAC:.0%} by their tier's plan; {starred} should have a card"
    lines = [f"{title or 'Workout'}: {told}"]
    for number, tier in enumerate(tiers, 1):
        width = max(len(label) for label, _ in tier.schemes)
        lines += ["", f"Tier {number}: {tier.name}", *(f"  {label:<{width}}  {how}" for label, how in tier.schemes)]
        for f in tier.followers:
            own, followed = day_words(f.own.middle), day_words(f.band.middle)
            how = f.following
            cost = "does not fit" if how.loss == float("inf") else f"{max(0.0, how.loss):.1%} lost"
            told = f"{cost}, rests {how.sign}" if how.sign else cost
            lines.append(f"  {'*' if how.starred else ' '} {f.name}: {followed} (own plan {own}), {told}")
    lines += (
        ["", *(f"Not placed: {name}, flagged {', '.join(names)}" for name, names in held.items())] if held else []
    )
    return "\n".join(lines)

"""Place: who gets where, the tiers, and the plans of the whole roster."""

import sys
from dataclasses import dataclass
from functools import partial

from flask import Blueprint, current_app, flash, jsonify, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue

from sorvek.actions.entry_rule import Asked, barred, entry_rule, entry_rule_version, keep_rule, read_rule
from sorvek.actions.place import (
    LEFT_OUT,
    UNPLANNED,
    Cut,
    Line,
    Tiering,
    counts_of,
    decide,
    lines_of,
    tasks_of,
)
from sorvek.actions.plan_club import Job, Planner
from sorvek.actions.plan_tiers import (
    KeptTier,
    cut_tiers,
    drop_tiers,
    merge_tiers,
    move_to_tier,
    plan_tiers_of,
    rename_tier,
    split_tier,
    undo_tiers,
    usual_tiers,
)
from sorvek.core.club import MOST_TIERS, STAR_FRAC, Following, result_text
from sorvek.core.errors import CoreError
from sorvek.core.workout import Form, unroll
from sorvek.figures.outlook_bars import BandBar, axis_ticks, forecast_axis, forecast_bar
from sorvek.store.accounts import Role
from sorvek.store.athletes import all_athletes
from sorvek.store.field import is_simulated
from sorvek.store.library import club_library
from sorvek.store.workouts import SavedWorkout
from sorvek.web.access import needs
from sorvek.web.entries import entry_or_404, workout_or_404

bp = Blueprint("place", __name__, url_prefix="/workouts/<int:workout_id>/place")

HARDLY = 0.0005  # a smaller loss is none
# Rows a tier shows at first; a club of hundreds would wait for pages nobody scrolls through.
ROWS_A_LANE = 40


@dataclass(frozen=True, slots=True)
class PlaceRow:
    """One athlete on the page with the bar of the forecast."""

    line: Line
    bar: BandBar | None

    @property
    def starred(self) -> bool:
        """Return whether following the tier's plan costs too much."""
        return self.line.lane.following is not None and self.line.lane.following.starred

    @property
    def loss(self) -> str:
        """Return what following the tier's plan costs, in words."""
        following = self.line.lane.following
        if following is None:
            return ""
        if following.loss == float("inf"):
            return "★ does not fit"
        return f"{'★ ' if self.starred else ''}{following.loss:.1%}" if following.loss >= HARDLY else "–"

    @property
    def rests(self) -> str:
        """Return with which rests the tier's plan is followed; nothing where with those written, or not at all."""
        following = self.line.lane.following
        return following.sign if following else ""


@dataclass(frozen=True, slots=True)
class LaneRows:
    """One tier with the athletes in it, the best first; beyond `most` they stand behind a link."""

    name: str
    rows: tuple[PlaceRow, ...]
    most: int
    tier: KeptTier | None = None

    @property
    def shown(self) -> tuple[PlaceRow, ...]:
        """Return the rows that are shown."""
        return self.rows[: self.most]

    @property
    def left(self) -> int:
        """Return how many are not shown."""
        return max(0, len(self.rows) - self.most)


def _planner() -> Planner:
    planner: Planner = current_app.extensions["planner"]
    return planner


def _board(saved: SavedWorkout, cut: Cut) -> str:
    lines = lines_of(saved, cut)
    axis = forecast_axis(saved.readout.course, [line.outlook for line in lines if line.outlook])
    rows = [
        PlaceRow(line, forecast_bar(axis, line.outlook) if line.outlook else None)
        for line in sorted(lines, key=lambda line: line.rank)
    ]
    most = sys.maxsize if request.args.get("all") == "yes" else ROWS_A_LANE
    tiers = {tier.name: tier for tier in cut.kept.tiers}
    people = [line.entry.athlete.athlete for line in lines if tiers and line.outlook]
    divisions = dict.fromkeys((athlete.division, athlete.sex) for athlete in people)
    return render_template(
        "place/_lanes.html",
        saved=saved,
        by_plan=cut.by is Tiering.PLAN,
        simulated=is_simulated(saved.id),
        kept=cut.kept,
        labels=saved.readout.course.labels([unroll(saved.workout, *who) for who in divisions]),
        lanes=[
            LaneRows(name, tuple(row for row in rows if row.line.lane.name == name), most, tiers.get(name))
            for name in (*cut.names, UNPLANNED, LEFT_OUT)
        ],
        plotted=any(row.bar for row in rows),
        movable=tuple(tiers) if cut.by is Tiering.PLAN else cut.names,
        ticks=axis_ticks(axis),
        axis=axis,
        earlier=next((row.line.second.earlier for row in rows if row.line.second), None),
        gates=max((dict(line.outlook.gates) for line in lines if line.outlook), key=len, default={}),
        text=partial(result_text, form=saved.workout.form),
        cruxes=sorted({line.outlook.crux for line in lines if line.outlook}),
    )


def _cut(saved: SavedWorkout) -> Cut:
    """Return the tiers that are looked at: as asked for, else as last time, else as the workout has them."""
    asked = request.args.get("by") or session.get("tiers_by")
    if asked in tuple(Tiering):
        session["tiers_by"] = asked
        return Cut.of(saved, Tiering(asked))
    return Cut.of(saved)


def _failures(job: Job | None) -> list[str]:
    """Return why some have no plan."""
    problems = job.failed if job else {}
    # Asked for several times a second while a job runs on all cores: the roster is only read where it is needed.
    names = {a.id: a.athlete.name for a in all_athletes()} if problems else {}
    return [f"{names[i]}: {problem}" if i in names else problem for i, problem in problems.items()]


def _page(saved: SavedWorkout, rule: list[Asked], rule_text: str = "", problem: str = "") -> ResponseReturnValue:
    job, cut = _planner().job(saved.id), _cut(saved)
    page = render_template(
        "place/show.html",
        saved=saved,
        cut=cut,
        board=_board(saved, cut),
        most_tiers=MOST_TIERS,
        count=len(cut.kept.tiers) or usual_tiers(),
        star=STAR_FRAC,
        plan_kept=bool(plan_tiers_of(saved).tiers),
        job=job,
        failed=_failures(job),
        counts=counts_of(saved),
        rule=rule,
        rule_text=rule_text or "".join(f"{asked.text}\n" for asked in rule),
        rule_version=entry_rule_version(),
        rule_problem=problem,
        barred=barred(saved.id),
    )
    return page, 422 if problem else 200


@bp.get("/")
def show(workout_id: int) -> ResponseReturnValue:
    """Show the forecasts of the roster in lanes; a max lift alone has attempts instead."""
    saved = workout_or_404(workout_id)
    if saved.workout.form is Form.LIFT:
        return redirect(url_for("lift.first", workout_id=workout_id))
    return _page(saved, entry_rule(workout_id))


@bp.get("/lanes")
def lanes(workout_id: int) -> str:
    """Return the lanes alone, while a job fills them."""
    saved = workout_or_404(workout_id)
    return _board(saved, _cut(saved))


@bp.post("/plan")
@needs(Role.COACH)
def plan(workout_id: int) -> ResponseReturnValue:
    """Start planning: who lacks a plan or has a stale one, or everybody."""
    saved = workout_or_404(workout_id)
    tasks = tasks_of(saved, request.form.get("who") == "all")
    if tasks:
        _planner().start(workout_id, saved.version, saved.text, tasks, club_library())
    else:
        flash("Everybody is planned.", "done")
    return redirect(url_for("place.show", workout_id=workout_id))


@bp.post("/cancel")
@needs(Role.COACH)
def cancel(workout_id: int) -> ResponseReturnValue:
    """Stop planning; finished plans stay."""
    _planner().cancel(workout_id)
    flash("Stopped. The plans that were finished are kept.", "done")
    return redirect(url_for("place.show", workout_id=workout_id))


@bp.get("/progress")
def progress(workout_id: int) -> ResponseReturnValue:
    """Return how far the job is."""
    job = _planner().job(workout_id)
    if job is None:
        return jsonify(running=False, done=0, total=0, failed=[])
    return jsonify(running=not job.finished, done=job.done, total=job.total, failed=_failures(job))


@bp.post("/<int:athlete_id>")
@needs(Role.COACH)
def move(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Overrule a tier, leave an athlete out, or decide about a flagged movement."""
    entry, form = entry_or_404(workout_id, athlete_id), request.form
    decide(entry, form.get("tier"), form.get("flagged", ""), form.get("instead", ""), form.get("version", -1, int))
    # From Break and Prep a decision leads back there, on Place to the row.
    came_from = request.referrer or ""
    if "/break/" in came_from or "/prep/" in came_from:
        stage = "prep.show" if "/prep/" in came_from else "plans.show"
        return redirect(url_for(stage, workout_id=workout_id, athlete_id=athlete_id))
    return redirect(url_for("place.show", workout_id=workout_id, _anchor=f"athlete-{athlete_id}"))


@bp.post("/tiers")
@needs(Role.COACH)
def tiers(workout_id: int) -> ResponseReturnValue:
    """Cut tiers by plan, or change those that are kept."""
    saved, form = workout_or_404(workout_id), request.form
    name, version = form.get("tier", ""), form.get("version", -1, int)
    try:
        match form.get("do"):
            case "merge":
                merge_tiers(saved, name, form.get("into", ""), version)
            case "split":
                split_tier(saved, name, version)
            case "rename":
                rename_tier(saved, name, form.get("name", ""), version)
            case "undo":
                undo_tiers(saved, version)
            case "drop":
                drop_tiers(saved, version)
                session["tiers_by"] = Tiering.OUTCOME.value
                return redirect(url_for("place.show", workout_id=workout_id))
            case _:
                cut_tiers(saved, form.get("count", None, int), version)
    except CoreError as error:
        flash(str(error), "problem")
    session["tiers_by"] = Tiering.PLAN.value
    return redirect(url_for("place.show", workout_id=workout_id))


@bp.post("/<int:athlete_id>/tier")
@needs(Role.COACH)
def follow(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Put an athlete into another tier by plan, or leave the athlete out."""
    entry, form = entry_or_404(workout_id, athlete_id), request.form
    name = form.get("tier", "")
    if name == LEFT_OUT or entry.placing.left_out:
        decide(entry, name if name == LEFT_OUT else "", "", "", form.get("version", -1, int))
    elif name:
        try:
            now = move_to_tier(entry.saved, athlete_id, name, form.get("tiers", -1, int))
            flash(f"{entry.athlete.athlete.name} is in {name} now: its plan {_following_words(now)}.", "done")
        except CoreError as error:
            flash(str(error), "problem")
    return redirect(url_for("place.show", workout_id=workout_id, _anchor=f"athlete-{athlete_id}"))


def _following_words(now: Following) -> str:
    if now.loss == float("inf"):
        return "does not fit at all"
    cost = f"costs {now.loss:.1%} of the own score" if now.loss > 0 else "costs nothing"
    return f"{cost}, with rests {now.sign}" if now.sign else cost


@bp.post("/rule")
@needs(Role.COACH)
def save_rule(workout_id: int) -> ResponseReturnValue:
    """Keep the entry rule: one movement a line with the reps asked for."""
    saved, text = workout_or_404(workout_id), request.form.get("rule", "")
    try:
        rule = read_rule(text)
    except CoreError as error:
        return _page(saved, entry_rule(workout_id), text, str(error))
    keep_rule(workout_id, rule, request.form.get("version", -1, int))
    return redirect(url_for("place.show", workout_id=workout_id))

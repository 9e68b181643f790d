"""Place: who gets where, the tiers, and the plans of the whole roster."""

import sys
from dataclasses import dataclass

from flask import Blueprint, current_app, flash, jsonify, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue

from sorvek.actions.entry_rule import Asked, barred, entry_rule, entry_rule_version, keep_rule, read_rule
from sorvek.actions.place import (
    CRUXES,
    LEFT_OUT,
    UNPLANNED,
    Line,
    counts_of,
    decide,
    lines_of,
    outcomes_of,
    tasks_of,
    workout_before,
)
from sorvek.actions.plan_club import Job, Planner
from sorvek.core.errors import CoreError
from sorvek.core.workout import Form
from sorvek.figures.outlook_bars import BandBar, axis_ticks, forecast_axis, forecast_bar
from sorvek.store.accounts import Role
from sorvek.store.athletes import all_athletes
from sorvek.store.library import club_library
from sorvek.store.workouts import SavedWorkout
from sorvek.web.access import needs
from sorvek.web.entries import entry_or_404, workout_or_404

bp = Blueprint("place", __name__, url_prefix="/workouts/<int:workout_id>/place")

CRUX, OUTCOME = "crux", "outcome"


# Rows a tier shows at first; a club of hundreds would wait for pages nobody scrolls through.
ROWS_A_LANE = 40


@dataclass(frozen=True, slots=True)
class PlaceRow:
    """One athlete on the page with the bar of the forecast."""

    line: Line
    bar: BandBar | None


@dataclass(frozen=True, slots=True)
class LaneRows:
    """One tier with the athletes in it, the best first; beyond `most` they stand behind a link."""

    name: str
    rows: tuple[PlaceRow, ...]
    most: int

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


def _board(saved: SavedWorkout, mode: str) -> str:
    lines = lines_of(saved, mode == CRUX)
    axis = forecast_axis(saved.readout.course, [line.outlook for line in lines if line.outlook])
    rows = [
        PlaceRow(line, forecast_bar(axis, line.outlook) if line.outlook else None)
        for line in sorted(lines, key=lambda line: line.rank)
    ]
    most = sys.maxsize if request.args.get("all") == "yes" else ROWS_A_LANE
    movable = CRUXES if mode == CRUX else outcomes_of(saved)
    return render_template(
        "place/_lanes.html",
        saved=saved,
        mode=mode,
        lanes=[
            LaneRows(name, tuple(row for row in rows if row.line.lane.name == name), most)
            for name in (*movable, UNPLANNED, LEFT_OUT)
        ],
        plotted=any(row.bar for row in rows),
        movable=movable,
        ticks=axis_ticks(axis),
        axis=axis,
        earlier=workout_before(saved),
        cruxes=sorted({line.outlook.crux for line in lines if line.outlook}),
    )


def _mode() -> str:
    asked = request.args.get("by") or session.get("tiers_by", OUTCOME)
    session["tiers_by"] = mode = asked if asked in (OUTCOME, CRUX) else OUTCOME
    return mode


def _failures(job: Job | None) -> list[str]:
    """Return why some have no plan."""
    problems = job.failed if job else {}
    # Asked for several times a second while a job runs on all cores: the roster is only read where it is needed.
    names = {a.id: a.athlete.name for a in all_athletes()} if problems else {}
    return [f"{names[i]}: {problem}" if i in names else problem for i, problem in problems.items()]


def _page(saved: SavedWorkout, rule: list[Asked], rule_text: str = "", problem: str = "") -> ResponseReturnValue:
    job, mode = _planner().job(saved.id), _mode()
    page = render_template(
        "place/show.html",
        saved=saved,
        mode=mode,
        board=_board(saved, mode),
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
    return _board(workout_or_404(workout_id), _mode())


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

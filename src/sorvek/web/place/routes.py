"""Place: who gets where, the tiers, and the plans of the whole roster."""

from dataclasses import dataclass

from flask import Blueprint, current_app, flash, jsonify, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue

from sorvek.actions.plan_club import Job, Planner, Task, open_flags
from sorvek.core.athlete import Athlete, substitutes_for
from sorvek.core.club import CRUX_BANDS, CRUX_TOP, Likeness, Outcome, Outlook, Result, Standing, next_to, one_better
from sorvek.core.quantities import clock
from sorvek.core.workout import Form, unroll
from sorvek.figures.outlook_bars import Axis, Bar, axis_ticks, forecast_axis, forecast_bar
from sorvek.store.athletes import SavedAthlete, all_athletes
from sorvek.store.field import boards_of, field_sizes
from sorvek.store.library import club_library
from sorvek.store.outlooks import SavedOutlook, drop_outlook, outlooks_of, save_outlook
from sorvek.store.placings import Placing, placings_of, save_placing
from sorvek.store.settings import save_setting, setting
from sorvek.store.tables import database
from sorvek.store.workouts import SavedWorkout, all_workouts
from sorvek.web.read.routes import workout_or_404

bp = Blueprint("place", __name__, url_prefix="/workouts/<int:workout_id>/place")

OUTCOMES = tuple(o.value for o in reversed(Outcome))
CRUXES = (CRUX_TOP, *(name for _, name in reversed(CRUX_BANDS)))
UNPLANNED = "not planned yet"
LEFT_OUT = "left out"


@dataclass(frozen=True, slots=True)
class Line:
    """One athlete on the page."""

    saved: SavedAthlete
    outlook: Outlook | None
    bar: Bar | None
    stale: bool
    flags: tuple[str, ...]
    standing: Standing | None
    likeness: Likeness | None
    lane: str
    overruled: bool


def store_outlook(job: Job, athlete_id: int, version: int, outlook: Outlook) -> None:
    """Store what a worker computed, on the collecting thread's own connection."""
    with database.connection_context():
        save_outlook(job.workout_id, athlete_id, SavedOutlook(outlook, job.workout_version, version))


def _planner() -> Planner:
    planner: Planner = current_app.extensions["planner"]
    return planner


def as_result(athlete: Athlete, outlook: Outlook) -> Result:
    """Return the middle of an athlete's forecast as a score on the leaderboard."""
    value = float(round(outlook.p50))
    return Result(athlete.name, athlete.division, outlook.kind == "time", value)


def _stale(saved: SavedWorkout, athlete: SavedAthlete, kept: SavedOutlook | None) -> bool:
    return kept is not None and (kept.workout_version, kept.athlete_version) != (saved.version, athlete.version)


def lane_of(outlook: Outlook | None, placing: Placing, mode: str) -> tuple[str, bool]:
    """Return the tier an athlete stands in, and whether a coach put the athlete there."""
    if placing.left_out:
        return LEFT_OUT, False
    if outlook is None:
        return UNPLANNED, False
    lanes = CRUXES if mode == "crux" else OUTCOMES
    if placing.tier in lanes:
        return placing.tier, True
    return (outlook.crux_band if mode == "crux" else outlook.outcome), False


def _before(saved: SavedWorkout) -> SavedWorkout | None:
    """Return the workout before this one that has a leaderboard."""
    workouts, sizes = all_workouts(), field_sizes()
    at = [w.id for w in workouts].index(saved.id)
    return next((w for w in reversed(workouts[:at]) if sizes.get(w.id)), None)


def _lines(saved: SavedWorkout, mode: str) -> tuple[list[Line], Axis]:
    course = unroll(saved.workout, saved.workout.divisions[0])
    outlooks, placings = outlooks_of(saved.id), placings_of(saved.id)
    axis = forecast_axis(course, [kept.outlook for kept in outlooks.values()])
    boards = boards_of(saved.id)
    results = boards[""].results
    earlier = _before(saved)
    earlier_outlooks = outlooks_of(earlier.id) if earlier else {}
    board_before = boards_of(earlier.id)[""] if earlier else boards[""]
    lines = []
    for athlete in all_athletes():
        kept, placing = outlooks.get(athlete.id), placings.get(athlete.id, Placing())
        lane, overruled = lane_of(kept.outlook if kept else None, placing, mode)
        standing = likeness = None
        if kept and results:
            score = as_result(athlete.athlete, kept.outlook)
            standing = boards.get(athlete.athlete.division, boards[""]).standing(score, one_better(score))
        if kept and results and athlete.id in earlier_outlooks:
            there = as_result(athlete.athlete, earlier_outlooks[athlete.id].outlook)
            likeness, _ = next_to(board_before, boards[""], board_before.standing(there, there).place)
        lines.append(
            Line(
                athlete,
                kept.outlook if kept else None,
                forecast_bar(axis, kept.outlook) if kept else None,
                _stale(saved, athlete, kept),
                () if placing.left_out else open_flags(saved.workout, athlete.athlete, placing.substitutes),
                standing,
                likeness,
                lane,
                overruled,
            )
        )
    return lines, axis


def _order(line: Line) -> tuple[bool, float]:
    outlook = line.outlook
    if outlook is None:
        return (True, 0.0)
    return (outlook.kind != "time", outlook.p50 if outlook.kind == "time" else -outlook.p50)


def _board(saved: SavedWorkout, mode: str) -> str:
    lines, axis = _lines(saved, mode)
    names = [*(CRUXES if mode == "crux" else OUTCOMES), UNPLANNED, LEFT_OUT]
    lanes = [(name, sorted((line for line in lines if line.lane == name), key=_order)) for name in names]
    earlier = _before(saved)
    return render_template(
        "place/_lanes.html",
        saved=saved,
        mode=mode,
        lanes=lanes,
        movable=names[:-2],
        ticks=axis_ticks(axis),
        axis=axis,
        earlier=earlier,
        cruxes=sorted({line.outlook.crux for line in lines if line.outlook}),
        substitutes={
            (line.saved.id, name): substitutes_for(saved.workout, name, line.saved.athlete)
            for line in lines
            for name in line.flags
        },
    )


def _mode() -> str:
    asked = request.args.get("by") or session.get("tiers_by", "outcome")
    session["tiers_by"] = mode = asked if asked in ("outcome", "crux") else "outcome"
    return mode


def _counts(saved: SavedWorkout) -> tuple[int, int, int]:
    """Return how many athletes take part, and how many of them lack an outlook or have a stale one."""
    outlooks, placings = outlooks_of(saved.id), placings_of(saved.id)
    taking = [a for a in all_athletes() if not placings.get(a.id, Placing()).left_out]
    missing = sum(a.id not in outlooks for a in taking)
    return len(taking), missing, sum(_stale(saved, a, outlooks.get(a.id)) for a in taking)


def _failures(job: Job | None) -> list[str]:
    """Return why some have no plan."""
    problems = job.failed if job else {}
    # Asked for several times a second while a job runs on all cores: the roster is only read where it is needed.
    names = {a.id: a.athlete.name for a in all_athletes()} if problems else {}
    return [f"{names[i]}: {problem}" if i in names else problem for i, problem in problems.items()]


@bp.get("/")
def show(workout_id: int) -> ResponseReturnValue:
    """Show the forecasts of the roster in lanes; a max lift alone has attempts instead."""
    saved, mode = workout_or_404(workout_id), _mode()
    if saved.workout.form is Form.LIFT:
        return redirect(url_for("lift.first", workout_id=workout_id))
    athletes, missing, stale = _counts(saved)
    return render_template(
        "place/show.html",
        saved=saved,
        mode=mode,
        board=_board(saved, mode),
        job=_planner().job(workout_id),
        failed=_failures(_planner().job(workout_id)),
        athletes=athletes,
        missing=missing,
        stale=stale,
        rule=entry_rule(workout_id),
        barred=barred(workout_id),
    )


def entry_rule(workout_id: int) -> list[tuple[str, float]]:
    """Return the club's entry rule for a workout: movements and the longest set each that is asked for."""
    rules = setting("entry_rules", {}).get(str(workout_id), [])
    return [(name, reps) for name, reps in rules]


def barred(workout_id: int) -> list[tuple[str, str]]:
    """Return athletes who do not meet the entry rule, or whose numbers for it nobody has measured, and why."""
    found = []
    rule = entry_rule(workout_id)
    for saved in all_athletes() if rule else ():
        for name, reps in rule:
            own = saved.athlete.unbroken.get(name)
            if own is None:
                found.append((saved.athlete.name, f"{name} not measured"))
            elif own < reps:
                found.append((saved.athlete.name, f"{own:.0f} of {reps:.0f} {name}"))
    return found


@bp.get("/lanes")
def lanes(workout_id: int) -> str:
    """Return the lanes alone, while a job fills them."""
    return _board(workout_or_404(workout_id), _mode())


@bp.post("/plan")
def plan(workout_id: int) -> ResponseReturnValue:
    """Start planning: who lacks a plan or has a stale one, or everybody."""
    saved = workout_or_404(workout_id)
    outlooks, placings = outlooks_of(workout_id), placings_of(workout_id)
    everybody = request.form.get("who") == "all"
    tasks = []
    for athlete in all_athletes():
        placing, kept = placings.get(athlete.id, Placing()), outlooks.get(athlete.id)
        if not placing.left_out and (everybody or kept is None or _stale(saved, athlete, kept)):
            tasks.append(Task(athlete.id, athlete.data, athlete.version, dict(placing.substitutes)))
    if tasks:
        _planner().start(workout_id, saved.version, saved.text, tasks, club_library())
    else:
        flash("Everybody is planned.", "done")
    return redirect(url_for("place.show", workout_id=workout_id))


@bp.post("/cancel")
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
def move(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Overrule a tier, leave an athlete out, or decide about a flagged movement."""
    workout_or_404(workout_id)
    placing = placings_of(workout_id).get(athlete_id, Placing())
    form = request.form
    substitutes = dict(placing.substitutes)
    if form.get("flagged") in club_library().movements and form.get("instead") in club_library().movements:
        substitutes[form["flagged"]] = form["instead"]
        drop_outlook(workout_id, athlete_id)
    tier = form.get("tier", placing.tier)
    left_out = tier == LEFT_OUT if "tier" in form else placing.left_out
    known = tier in (*OUTCOMES, *CRUXES)
    save_placing(workout_id, athlete_id, Placing(tier if known else "", substitutes, left_out))
    # From the Break page a decision leads back to the plan, on Place to the row.
    if "/break/" in (request.referrer or ""):
        return redirect(url_for("plans.show", workout_id=workout_id, athlete_id=athlete_id))
    return redirect(url_for("place.show", workout_id=workout_id, _anchor=f"athlete-{athlete_id}"))


@bp.post("/rule")
def save_rule(workout_id: int) -> ResponseReturnValue:
    """Keep the entry rule: one movement a line with the reps asked for."""
    workout_or_404(workout_id)
    rules = []
    for line in request.form.get("rule", "").splitlines():
        count, _, name = line.strip().partition(" ")
        if line.strip():
            if not count.isdigit():
                flash(f"Entry rule, “{line.strip()[:40]}”: begin with a number, as in “8 pull-ups”.", "warn")
                return redirect(url_for("place.show", workout_id=workout_id))
            rules.append((club_library().find(name).name, float(count)))
    save_setting("entry_rules", {**setting("entry_rules", {}), str(workout_id): rules})
    return redirect(url_for("place.show", workout_id=workout_id))


def band_text(outlook: Outlook) -> str:
    """Return an 80 % band in words."""
    if outlook.kind == "time":
        return f"{clock(outlook.p10)}–{clock(outlook.p90)}"
    return f"{outlook.p10:.0f}–{outlook.p90:.0f}"

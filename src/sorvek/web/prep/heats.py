"""Heats: who starts when, in which lane, and whose turn it is on the machines."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from flask import Blueprint, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from sorvek.actions.preps import HeatsPlan, plan_heats
from sorvek.core.errors import CoreError
from sorvek.core.prep import Hall
from sorvek.core.quantities import clock
from sorvek.store.accounts import Role
from sorvek.store.preps import load_heats, save_heats
from sorvek.web.access import needs
from sorvek.web.entries import workout_or_404
from sorvek.web.prep.times import after_first, read_start

bp = Blueprint("heats", __name__, url_prefix="/workouts/<int:workout_id>/heats")


@dataclass(frozen=True, slots=True)
class LaneRow:
    """One athlete of a heat: when to begin, the turn on a machine, and what to do with time that is over."""

    name: str
    athlete_id: int
    begins: str
    machine: str
    note: str


@dataclass(frozen=True, slots=True)
class HeatRows:
    """A heat as it is shown: its number, its start, its lanes."""

    number: int
    at: str
    lanes: tuple[LaneRow, ...]


def _heat_rows(plan: HeatsPlan, start: datetime | None) -> list[HeatRows]:
    rows = []
    for heat in plan.heats:
        lanes = []
        for name in heat.names:
            turn, length_s = plan.turns.get(name), plan.lengths_s.get(name)
            begins_s = turn.begins_s if turn else heat.starts_s - (length_s or 0.0)
            between = "–" if start else " to "
            span = between.join(after_first(start, at) for at in (turn.begins_s, turn.ends_s)) if turn else ""
            lanes.append(
                LaneRow(
                    name,
                    plan.ids[name],
                    after_first(start, begins_s) if length_s else "",
                    f"{turn.machine}, {span}" if turn else "",
                    f"then {clock(turn.early_s)} more of mobility" if turn and turn.early_s else "",
                )
            )
        rows.append(HeatRows(heat.number, after_first(start, heat.starts_s), tuple(lanes)))
    return rows


@bp.get("/")
def show(workout_id: int) -> ResponseReturnValue:
    """Show the heats of a workout with everybody's turn on the machines."""
    saved = load_heats(workout_id)
    form = {
        "starts_at": saved.starts_at,
        "lanes": str(saved.hall.lanes),
        "machines": str(saved.hall.machines),
        "between": f"{saved.hall.between_s / 60:g}",
        "mixed": "yes" if saved.hall.mixed else "",
    }
    return _heats_page(workout_id, form)


def _heats_page(workout_id: int, form: Mapping[str, str], problem: str = "") -> ResponseReturnValue:
    workout, laid_out = workout_or_404(workout_id), load_heats(workout_id)
    page = render_template(
        "prep/heats.html",
        saved=workout,
        workout=workout.workout,
        form=form,
        problem=problem,
        version=laid_out.version,
    )
    return page, 422 if problem else 200


@bp.get("/lanes")
def lanes(workout_id: int) -> str:
    """Return the heats of a workout as part of its page: everybody's warm-up is worked out, which takes seconds."""
    workout, laid_out = workout_or_404(workout_id), load_heats(workout_id)
    rows = _heat_rows(plan_heats(workout, laid_out.hall), read_start(laid_out.starts_at))
    return render_template("prep/_heats.html", saved=workout, heats=rows)


@bp.post("/")
@needs(Role.COACH)
def lay_out(workout_id: int) -> ResponseReturnValue:
    """Keep how the heats are laid out."""
    form, starts_at = request.form, request.form.get("starts_at", "").strip()
    if starts_at and not read_start(starts_at):
        return _heats_page(workout_id, form, f"“{starts_at[:20]}” is no day and time; write it as 2026-03-13T18:40")
    try:
        lanes, machines, between = (form.get(name, "") for name in ("lanes", "machines", "between"))
        hall = Hall(int(lanes), int(machines), 60 * float(between), bool(form.get("mixed")))
        hall.check()
    except ValueError:
        return _heats_page(workout_id, form, "lanes, machines and minutes are numbers, such as 6, 2 and 20")
    except CoreError as error:
        return _heats_page(workout_id, form, str(error))
    workout_or_404(workout_id)
    save_heats(workout_id, hall, starts_at, form.get("version", -1, int))
    flash("The heats are laid out; every warm-up counts back from its heat.", "done")
    return redirect(url_for("heats.show", workout_id=workout_id))

"""Season: what an athlete or the club did, how the forecasts held, what was learnt; a page to print."""

from flask import Blueprint, render_template, request

from sorvek.actions.seasons import SeasonPage, season_of, season_of_club
from sorvek.store.athletes import SavedAthlete
from sorvek.web.entries import athlete_or_404

bp = Blueprint("season", __name__, url_prefix="/season")


@bp.get("/")
def club() -> str:
    """Show the club's season; the query narrows it to an athlete's name, a form or a workout."""
    return _page(None, season_of_club())


@bp.get("/<int:athlete_id>")
def athlete(athlete_id: int) -> str:
    """Show an athlete's season."""
    saved = athlete_or_404(athlete_id)
    return _page(saved, season_of(saved))


def _page(saved: SavedAthlete | None, season: SeasonPage) -> str:
    wanted = {name: request.args.get(name, "") for name in ("title", "form")}
    rows = [
        row
        for row in season.rows
        if wanted["title"] in ("", row.attempt.title) and wanted["form"] in ("", row.form)
    ]
    return render_template(
        "season/index.html",
        saved=saved,
        season=season,
        rows=rows,
        wanted=wanted,
        titles=sorted({row.attempt.title for row in season.rows}),
        forms=sorted({row.form for row in season.rows}),
    )

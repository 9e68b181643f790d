"""Season: what an athlete or the club did, how the forecasts held, what was learnt; a page to print."""

from flask import Blueprint, Response, render_template, request

from sorvek.actions.seasons import (
    ROWS_A_PAGE,
    SeasonPage,
    SeasonRow,
    bests_of_club,
    numbers_on_file,
    season_of,
    season_of_club,
    seasons_of_everybody,
)
from sorvek.paper.season_pdf import SeasonSheet, season_pdf
from sorvek.store.athletes import SavedAthlete
from sorvek.web.entries import athlete_or_404
from sorvek.web.paging import Paged, paged

MOST_LEARNT, MOST_COLUMNS = 14, 6
HEADINGS = ("Workout", "On", "Score", "Expected", "Beside the band", "Gave out")

bp = Blueprint("season", __name__, url_prefix="/season")


@bp.get("/")
def club() -> str:
    """Show the club's season; the query narrows it to a form or a workout, and asks for a page."""
    wanted, number = _wanted(), max(1, request.args.get("page", 1, int))
    season = season_of_club(wanted["title"], wanted["form"], number)
    pages = max(1, -(-season.total // ROWS_A_PAGE))
    return _page(None, season, wanted, Paged(season.rows, number, pages, season.total, ROWS_A_PAGE))


@bp.get("/<int:athlete_id>")
def athlete(athlete_id: int) -> str:
    """Show an athlete's season."""
    saved, wanted = athlete_or_404(athlete_id), _wanted()
    season = season_of(saved, wanted["title"], wanted["form"])
    return _page(saved, season, wanted, paged(season.rows, ROWS_A_PAGE))


def _wanted() -> dict[str, str]:
    return {name: request.args.get(name, "") for name in ("title", "form")}


@bp.get("/season.pdf")
def club_as_pdf() -> Response:
    """Return the club's season as PDF: a page for the club, then one for every athlete with results."""
    return _pdf([_club_sheet(), *(_sheet(*one) for one in seasons_of_everybody())])


@bp.get("/<int:athlete_id>/season.pdf")
def athlete_as_pdf(athlete_id: int) -> Response:
    """Return an athlete's season as PDF, one page."""
    saved = athlete_or_404(athlete_id)
    return _pdf([_sheet(saved, season_of(saved))])


def _pdf(sheets: list[SeasonSheet]) -> Response:
    headers = {"Content-Disposition": "attachment; filename=season.pdf"}
    return Response(season_pdf(sheets), mimetype="application/pdf", headers=headers)


def _club_sheet() -> SeasonSheet:
    """Return the club's page: everybody's best at the workouts done last."""
    best = bests_of_club()
    titles = tuple(dict.fromkeys(title for _, title, _ in best))[:MOST_COLUMNS]
    by_pair = {(name, title): result for name, title, result in best}
    names = sorted({name for name, _, _ in best})
    rows = tuple((name, *(by_pair.get((name, title), "–") for title in titles)) for name in names)
    return SeasonSheet("The club", _told(season_of_club(), club=True), "Bests", ("Athlete", *titles), rows)


def _sheet(saved: SavedAthlete, season: SeasonPage) -> SeasonSheet:
    """Return an athlete's page: every attempt beside its forecast, and the numbers on file."""
    told = (*_told(season, club=False), ("Numbers on file", "; ".join(numbers_on_file(saved.athlete))))
    rows = tuple(
        (
            row.attempt.title,
            f"{row.attempt.done_on:%-d %b %Y}",
            row.result + (", best" if row.best else ""),
            row.expected or "–",
            row.side,
            row.attempt.gave_out,
        )
        for row in season.rows
    )
    return SeasonSheet(saved.athlete.name, told, "Attempts", HEADINGS, rows)


def _told(season: SeasonPage, club: bool) -> tuple[tuple[str, str], ...]:
    told = (
        ("Did the forecasts hold?", season.honesty.words or "No result had a forecast made before it."),
        ("What decides the score", _crux_words(season.cruxes)),
        ("What gave out first", ", ".join(f"{what} {count}×" for what, count in season.limits)),
        ("What the tool learnt", _learnt_words(season.improved, club)),
    )
    return tuple((heading, words) for heading, words in told if words)


def _crux_words(cruxes: tuple[tuple[str, int], ...]) -> str:
    """Return what decides the score of the plans there are."""
    total = sum(count for _, count in cruxes)
    shown = ", ".join(f"{what} on {count}" for what, count in cruxes[:4])
    return f"{shown} of {total} plan{'s' if total > 1 else ''}." if shown else ""


def _learnt_words(improved: tuple[tuple[str, str, float, float], ...], club: bool) -> str:
    """Return the numbers that were learnt, before and after."""
    return "; ".join(
        f"{f'{name}, ' if club else ''}{key.replace('_', ' ')} {before:g} → {after:g}"
        for name, key, before, after in improved[:MOST_LEARNT]
    )


def _page(saved: SavedAthlete | None, season: SeasonPage, wanted: dict[str, str], page: Paged[SeasonRow]) -> str:
    return render_template("season/index.html", saved=saved, season=season, page=page, wanted=wanted)

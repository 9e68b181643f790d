"""The pages: HTTP in, HTML out; the work is done in core, figures and store."""

import hashlib
import secrets
from datetime import date
from functools import cache
from pathlib import Path

from flask import Flask, Response, render_template
from flask_compress import Compress
from flask_wtf.csrf import CSRFError, CSRFProtect
from werkzeug.exceptions import HTTPException

from sorvek.actions.plan_club import Planner
from sorvek.actions.warm import warm_up
from sorvek.core.errors import CoreError
from sorvek.core.quantities import clock
from sorvek.demo.club import CLUB, EVENT, fill
from sorvek.figures.colours import movement_resource
from sorvek.paper.card import wall_words
from sorvek.store.database import connect, disconnect, open_database
from sorvek.web.cards.routes import bp as cards
from sorvek.web.field.routes import bp as field
from sorvek.web.lift.routes import bp as lift
from sorvek.web.lift.routes import has_lift_stage
from sorvek.web.place.routes import band_text, store_outlook
from sorvek.web.place.routes import bp as place
from sorvek.web.plans.routes import bp as plans
from sorvek.web.read.routes import bp as read
from sorvek.web.roster.lessons import bp as lessons
from sorvek.web.roster.routes import bp as roster
from sorvek.web.week.routes import bp as week

# 'unsafe-inline' and 'unsafe-eval' are missing on purpose: Alpine runs in its CSP build.
POLICY = "; ".join(
    (
        "default-src 'none'",
        "script-src 'self'",
        "style-src 'self'",
        "font-src 'self'",
        "img-src 'self' data:",
        "connect-src 'self'",
        "form-action 'self'",
        "base-uri 'none'",
        "frame-ancestors 'none'",
    )
)
UPLOAD_LIMIT = 1_000_000


def _secret(path: Path) -> str:
    """Return the signing key that stays with the database, made on the first start."""
    if not path.exists():
        path.touch(mode=0o600)
        path.write_text(secrets.token_hex(32), encoding="utf-8")
    return path.read_text(encoding="utf-8")


def create_app(database: Path, demo: bool = False, today: date | None = None) -> Flask:
    """Return the application on a database file; `demo` fills an empty one with the demo club."""
    # One template tree, so that a page lies beside its routes and its name is unique by construction.
    app = Flask(__name__, template_folder=".")
    open_database(database)
    if demo:
        fill(today or date.today())
    app.config.update(
        SECRET_KEY=_secret(database.with_suffix(".key")),
        MAX_CONTENT_LENGTH=UPLOAD_LIMIT,
        SESSION_COOKIE_SAMESITE="Lax",
        WTF_CSRF_TIME_LIMIT=None,
        SEND_FILE_MAX_AGE_DEFAULT=31_536_000,
        COMPRESS_MIMETYPES=["text/html", "text/css", "text/javascript", "application/json", "image/svg+xml"],
        COMPRESS_ALGORITHM=["br", "gzip"],
        COMPRESS_ALGORITHM_STREAMING=["br", "gzip"],
        TODAY=today,
    )
    CSRFProtect(app)
    Compress(app)
    warm_up()
    app.extensions["planner"] = Planner(store_outlook)
    for blueprint in (week, read, place, plans, lift, cards, roster, lessons, field):
        app.register_blueprint(blueprint)
    app.jinja_env.filters.update(clock=clock, resource=movement_resource, band=band_text, wall_words=wall_words)
    app.jinja_env.filters.update(has_lift=has_lift_stage)
    app.jinja_env.globals.update(CLUB=CLUB if demo else "", EVENT=EVENT if demo else "")
    app.jinja_env.trim_blocks = app.jinja_env.lstrip_blocks = True
    app.url_defaults(_static_version)
    app.before_request(connect)
    app.teardown_request(lambda _error: disconnect())
    app.after_request(_secure)
    app.register_error_handler(CoreError, _refused)
    app.register_error_handler(CSRFError, _stale_form)
    app.register_error_handler(HTTPException, _http_error)
    return app


@cache
def _digest(filename: str) -> str:
    return hashlib.sha256(Path(__file__).parent.joinpath("static", filename).read_bytes()).hexdigest()[:10]


def _static_version(endpoint: str, values: dict[str, str]) -> None:
    """Give every static file an address that changes with it: it may then be kept for a year."""
    if endpoint == "static":
        values["v"] = _digest(values["filename"])


def _secure(response: Response) -> Response:
    response.headers["Content-Security-Policy"] = POLICY
    response.headers["X-Content-Type-Options"] = "nosniff"
    response.headers["Referrer-Policy"] = "same-origin"
    return response


def _refused(error: CoreError) -> tuple[str, int]:
    return render_template("shared/error.html", heading="That does not work", message=str(error)), 422


def _stale_form(_error: CSRFError) -> tuple[str, int]:
    message = "This page was open too long to be trusted. Go back, reload it and send again."
    return render_template("shared/error.html", heading="Please send that again", message=message), 400


def _http_error(error: HTTPException) -> tuple[str, int]:
    headings = {404: "There is nothing here", 413: "That is too large", 405: "Not this way"}
    messages = {
        404: "The page you asked for does not exist, or what it showed was removed.",
        413: "A form may hold at most 1 MB.",
        405: "This address does not take that kind of request.",
    }
    code = error.code or 500
    heading = headings.get(code, "Something went wrong")
    message = messages.get(code, "The server could not do that. What you had saved is safe.")
    return render_template("shared/error.html", heading=heading, message=message), code

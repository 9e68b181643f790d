"""The pages: HTTP in, HTML out; the work is done in core, figures, actions and store."""

import hashlib
import os
import secrets
from datetime import date
from functools import cache
from pathlib import Path

from flask import Flask, Response, current_app, g, request
from flask_compress import Compress
from flask_wtf.csrf import CSRFProtect
from werkzeug.middleware.proxy_fix import ProxyFix
from werkzeug.routing import IntegerConverter

from sorvek.actions.executors import opener_of
from sorvek.actions.lifts import has_lift_stage
from sorvek.actions.place import store_outlook
from sorvek.actions.plan_club import Planner
from sorvek.actions.warm import warm_up
from sorvek.core.quantities import clock, clock_exact
from sorvek.core.simulation import DayScore
from sorvek.demo.club import CLUB, EVENT, fill
from sorvek.figures.colours import movement_resource
from sorvek.paper.card import wall_words
from sorvek.paper.words import (
    as_planned,
    band_words,
    day_words,
    days_sentence,
    gate_words,
    middle_words,
    outlook_band,
)
from sorvek.store.database import OWNER_ONLY, connect, disconnect, open_database
from sorvek.store.errors import StoreError
from sorvek.store.hall import club_names
from sorvek.web.access import control_access, needs_account
from sorvek.web.accounts.routes import bp as account_pages
from sorvek.web.calendar.routes import bp as calendar_pages
from sorvek.web.cards.routes import bp as card_pages
from sorvek.web.field.routes import bp as field_pages
from sorvek.web.floor.lane import bp as lane_pages
from sorvek.web.floor.routes import bp as floor_pages
from sorvek.web.hosts import guard, is_loopback
from sorvek.web.lift.routes import bp as lift_pages
from sorvek.web.log.attempt import bp as attempt_pages
from sorvek.web.log.lessons import bp as lesson_pages
from sorvek.web.log.routes import bp as log_pages
from sorvek.web.movements.routes import bp as movement_pages
from sorvek.web.once import once_token
from sorvek.web.place.routes import bp as place_pages
from sorvek.web.plans.routes import bp as plan_pages
from sorvek.web.prep.heats import bp as heat_pages
from sorvek.web.prep.routes import bp as prep_pages
from sorvek.web.read.routes import bp as read_pages
from sorvek.web.refusals import answer_errors
from sorvek.web.request_log import log_requests
from sorvek.web.roster.routes import bp as roster_pages
from sorvek.web.season.routes import bp as season_pages
from sorvek.web.settings.routes import bp as setting_pages
from sorvek.web.settings.routes import ops as operation_pages
from sorvek.web.week.routes import bp as week_pages

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
LOOPBACK = "127.0.0.1"
YEAR_S = 31_536_000


class Pages(Flask):
    """The application; a static file asked for by its digest may be kept for a year, others are asked for again."""

    def get_send_file_max_age(self, filename: str | None) -> int | None:
        """Return how long a browser may keep a file, in seconds; modules import each other without a digest."""
        return YEAR_S if "v" in request.args else None


class RowId(IntegerConverter):
    """An id in an address: digits a database can count, so that longer ones are simply not there."""

    regex = r"\d{1,18}"


def _secret(path: Path) -> str:
    """Return the signing key that stays with the database, made on the first start for its owner only.

    Raises: StoreError if it cannot be read or written, or is empty.
    """
    try:
        if not path.exists():
            os.close(os.open(path, os.O_WRONLY | os.O_CREAT, OWNER_ONLY))
            path.write_text(secrets.token_hex(32), encoding="utf-8")
        path.chmod(OWNER_ONLY)
        key = path.read_text(encoding="utf-8").strip()
    except (OSError, UnicodeDecodeError) as error:
        raise StoreError(f"the key file {path} cannot be used ({error}); make it readable, or delete it") from error
    if len(key) < 32:
        raise StoreError(f"the key file {path} is empty or cut short; delete it, a new one is made at the start")
    return key


PAGES = (
    week_pages,
    read_pages,
    movement_pages,
    place_pages,
    plan_pages,
    lift_pages,
    prep_pages,
    heat_pages,
    floor_pages,
    lane_pages,
    card_pages,
    roster_pages,
    lesson_pages,
    attempt_pages,
    log_pages,
    calendar_pages,
    season_pages,
    field_pages,
    account_pages,
    setting_pages,
    operation_pages,
)


def create_app(
    database: Path,
    demo: bool = False,
    today: date | None = None,
    host: str = LOOPBACK,
    port: int = 0,
    behind_proxy: bool = False,
    executor: str = "local",
) -> Flask:
    """Return the application on a database file; `demo` fills an empty one with the demo club.

    `host` is what it will listen on: beyond loopback people have to sign in. `behind_proxy` says that one reverse
    proxy with TLS stands before it, whose headers name the client. `executor` says where clubs are planned: here,
    or on a cluster.
    Raises: StoreError if the database or the key beside it cannot be used, ExecutorError for an unknown executor.
    """
    # One template tree, so that a page lies beside its routes and its name is unique by construction.
    app = Pages(__name__, template_folder=".")
    open_database(database)
    if demo:
        fill(today or date.today())
    app.config.update(
        SECRET_KEY=_secret(database.with_suffix(".key")),
        MAX_CONTENT_LENGTH=UPLOAD_LIMIT,
        SESSION_COOKIE_SAMESITE="Lax",
        WTF_CSRF_TIME_LIMIT=None,
        COMPRESS_MIMETYPES=["text/html", "text/css", "text/javascript", "application/json", "image/svg+xml"],
        COMPRESS_ALGORITHM=["br", "gzip"],
        COMPRESS_ALGORITHM_STREAMING=["br", "gzip"],
        TODAY=today,
    )
    if behind_proxy:
        trust_proxy(app)
    guard(app, host, port)
    log_requests(app)
    csrf = CSRFProtect(app)
    csrf.exempt("sorvek.web.floor.lane.splits")  # watches and machines have no session; the link is the key
    Compress(app)
    warm_up()
    app.extensions["planner"] = Planner(store_outlook, opener_of(executor))
    app.url_map.converters["int"] = RowId
    for pages in PAGES:
        app.register_blueprint(pages)
    _prepare_templates(app, demo)
    app.url_defaults(_static_version)
    app.before_request(connect)
    control_access(app, beyond_loopback=behind_proxy or not is_loopback(host))
    app.teardown_request(lambda _error: disconnect())
    app.after_request(_secure)
    answer_errors(app)
    return app


def trust_proxy(app: Flask) -> None:
    """Take client, scheme and name from the one proxy before us; sessions travel under TLS only."""
    app.wsgi_app = ProxyFix(app.wsgi_app, x_for=1, x_proto=1, x_host=1)  # type: ignore[method-assign]
    app.config.update(BEHIND_PROXY=True, SESSION_COOKIE_SECURE=True, PREFERRED_URL_SCHEME="https")


def _prepare_templates(app: Flask, demo: bool) -> None:
    app.jinja_env.filters.update(
        clock=clock,
        clock_exact=clock_exact,
        resource=movement_resource,
        band=outlook_band,
        band_words=band_words,
        middle_words=middle_words,
        as_planned=as_planned,
        days_sentence=days_sentence,
        gate_words=gate_words,
        day_words=lambda day: day_words(DayScore(*day)),
        wall_words=wall_words,
        has_lift=has_lift_stage,
    )
    app.jinja_env.globals.update(once_token=once_token)
    club, event = (CLUB, EVENT) if demo else ("", "")

    def names() -> dict[str, str]:
        if "names" not in g:  # a page is made of many templates
            g.names = club_names(club, event)
        return dict(zip(("CLUB", "EVENT"), g.names, strict=True))

    app.context_processor(names)
    app.jinja_env.trim_blocks = app.jinja_env.lstrip_blocks = True


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
    response.headers["X-Frame-Options"] = "DENY"
    response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
    if request.endpoint != "static":
        # A page kept by a shared computer or a proxy would outlive the session that may see it.
        response.headers.setdefault("Cache-Control", "no-store" if needs_account() else "private, no-cache")
    if current_app.config.get("BEHIND_PROXY"):
        response.headers["Strict-Transport-Security"] = f"max-age={YEAR_S}"
    return response

"""Who may do what: every view that changes something names the role it needs; nobody gets further than that.

On loopback, without accounts, whoever sits at the computer may do everything. As soon as there is an account, and
always beyond loopback, people sign in (Flask-Login); what stands behind an unguessable link needs no account.
"""

import time
from collections.abc import Callable
from typing import Any, TypeVar, cast

from flask import Flask, current_app, g, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue
from flask_limiter import Limiter
from flask_limiter.util import get_remote_address
from flask_login import LoginManager, UserMixin, current_user, login_user, logout_user
from flask_wtf.csrf import generate_csrf

from sorvek.store.accounts import Account, Role, any_account, load_account
from sorvek.store.changes import act_as

View = TypeVar("View", bound=Callable[..., Any])

IDLE_S, LONGEST_S = 8 * 3600.0, 7 * 24 * 3600.0
# What needs no more than an unguessable link, and what is there before anybody can have signed in.
LINK_PAGES = ("cards.card", "cards.keep", "lane.show", "lane.send", "lane.splits")
OPEN_PAGES = (
    "static",
    "accounts.login",
    "accounts.signing_in",
    "accounts.first",
    "accounts.make_first",
    "operations.health",
)
# Guesses at links an address may make; a phone that works makes none.
GUESSES = "20/minute"

limiter = Limiter(get_remote_address, storage_uri="memory://")


def needs(role: Role) -> Callable[[View], View]:
    """Name the least role a view needs; put it below the route."""

    def named(view: View) -> View:
        setattr(view, "needs", role)  # noqa: B010
        return view

    return named


def by_link(view: View) -> View:
    """Slow down guesses at a view that whoever holds its link may use; put it below the route."""
    wrong = limiter.limit(GUESSES, deduct_when=lambda response: response.status_code in (404, 410))
    return cast(View, wrong(view))


class SignedIn(UserMixin):
    """An account for Flask-Login."""

    def __init__(self, account: Account) -> None:
        self.account = account

    def get_id(self) -> str:
        """Return what the session remembers."""
        return str(self.account.id)


def sign_in(account: Account) -> None:
    """Begin a session for an account, with nothing of the one before."""
    session.clear()
    # A clock that was set back must not make a session older than the last sign-out everywhere.
    session["begun_s"] = session["seen_s"] = max(time.time(), account.sessions_from)
    login_user(SignedIn(account))
    generate_csrf()


def sign_out() -> None:
    """End the session."""
    logout_user()
    session.clear()


def account_now() -> Account | None:
    """Return who is signed in, None where nobody is."""
    return current_user.account if current_user.is_authenticated else None


def may(role: Role) -> bool:
    """Return whether whoever asks may do what needs a role."""
    account = account_now()
    return account.role.may(role) if account else not needs_account()


def needs_account() -> bool:
    """Return whether people have to sign in here."""
    if "needs_account" not in g:
        g.needs_account = bool(current_app.config["BEYOND_LOOPBACK"]) or any_account()
    return bool(g.needs_account)


def control_access(app: Flask, beyond_loopback: bool) -> None:
    """Have an application answer those only who may be answered."""
    app.config["BEYOND_LOOPBACK"] = beyond_loopback
    limiter.init_app(app)
    manager = LoginManager(app)
    manager.session_protection = None  # phones change their address; the session is bound to its cookie
    manager.user_loader(_load)
    app.before_request(_check)
    app.jinja_env.globals.update(may=may, account_now=account_now, Role=Role)


def _load(user_id: str) -> SignedIn | None:
    account = load_account(int(user_id)) if user_id.isdigit() else None
    now, begun_s = time.time(), float(session.get("begun_s", 0.0))
    idle = now - float(session.get("seen_s", 0.0)) > IDLE_S
    if account is None or idle or now - begun_s > LONGEST_S or begun_s < account.sessions_from:
        return None
    return SignedIn(account)


def _check() -> ResponseReturnValue | None:
    """Refuse what is not open to whoever asks."""
    act_as("")
    endpoint = request.endpoint
    if endpoint is None or endpoint in LINK_PAGES or endpoint in OPEN_PAGES:
        return None
    if not needs_account():
        return None
    account = account_now()
    if account is None:
        return _asked_to_sign_in()
    act_as(account.name)
    if time.time() - session["seen_s"] > 60.0:
        session["seen_s"] = time.time()
    needed = getattr(current_app.view_functions[endpoint], "needs", Role.ASSISTANT)
    if account.role.may(needed):
        return None
    current_app.logger.warning("refused %s %s to %s", request.method, request.path, account.name)
    message = (
        f"This needs the role of {needed.value}; you are signed in as {account.name}, {account.role.value}."
        " Ask an owner of the club's accounts."
    )
    return render_template("shared/error.html", heading="Not yours to do", message=message), 403


def _asked_to_sign_in() -> ResponseReturnValue:
    if not any_account():
        return redirect(url_for("accounts.first"))
    if request.method == "GET":
        return redirect(url_for("accounts.login", then=request.full_path.rstrip("?")))
    message = (
        "You were signed out. Sign in in another tab, come back and send it again; what you typed is still here."
    )
    return render_template("shared/error.html", heading="Please sign in", message=message), 401


def safe_path(text: str) -> str:
    """Return a path of our own to go on to, the first page for anything else."""
    own = text.startswith("/") and not text.startswith(("//", "/\\")) and "\n" not in text and "\r" not in text
    return text if own else url_for("week.index")

"""Accounts: sign in and out, the first owner, one's own password, and who may sign in."""

import hmac

from flask import Blueprint, current_app, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from sorvek.store.accounts import (
    Role,
    account_with,
    add_account,
    add_first_owner,
    all_accounts,
    any_account,
    change_account,
    load_account,
    remove_account,
)
from sorvek.store.errors import ConflictError, StoreError
from sorvek.web.access import account_now, limiter, needs, safe_path, sign_in, sign_out

bp = Blueprint("accounts", __name__)

WRONG = "No account has this name and password."
# Wrong passwords: from one address, and for one name from anywhere.
AN_ADDRESS, A_NAME = "10/minute;60/hour", "20/hour"


def _failed(response: object) -> bool:
    return getattr(response, "status_code", 0) == 401


def _name_tried() -> str:
    return "name:" + request.form.get("name", "").strip().casefold()[:80]


@bp.get("/login")
def login() -> ResponseReturnValue:
    """Show where to sign in."""
    if not any_account():
        return redirect(url_for("accounts.first"))
    return render_template("accounts/login.html", then=request.args.get("then", ""), name="", problem="")


@bp.post("/login")
@limiter.limit(AN_ADDRESS, deduct_when=_failed)
@limiter.limit(A_NAME, key_func=_name_tried, deduct_when=_failed)
def signing_in() -> ResponseReturnValue:
    """Sign somebody in."""
    name, then = request.form.get("name", ""), request.form.get("then", "")
    account = account_with(name, request.form.get("password", ""))
    if account is None:
        return render_template("accounts/login.html", then=then, name=name[:80], problem=WRONG), 401
    sign_in(account)
    return redirect(safe_path(then))


@bp.post("/logout")
@needs(Role.ASSISTANT)
def logout() -> ResponseReturnValue:
    """Sign out here."""
    sign_out()
    return redirect(url_for("accounts.login"))


@bp.get("/first")
def first() -> ResponseReturnValue:
    """Show where the first owner is made; only whoever sees the shell knows the code."""
    if any_account():
        return redirect(url_for("accounts.login"))
    return render_template("accounts/first.html", name="", problem="", needs_code=_code() != "")


def _code() -> str:
    return str(current_app.config.get("FIRST_CODE", ""))


@bp.post("/first")
@limiter.limit(AN_ADDRESS)
def make_first() -> ResponseReturnValue:
    """Make the first owner."""
    name = request.form.get("name", "")
    typed = request.form.get("code", "").strip().lower()
    fits = hmac.compare_digest(typed.encode(), _code().encode())
    if not _code() and current_app.config["BEYOND_LOOPBACK"]:
        fits = False  # started in a way that printed no code: nobody from outside makes himself the owner
    problem = "" if fits else "That is not the code in the shell."
    if not problem:
        try:
            account = add_first_owner(name, request.form.get("password", ""))
            sign_in(account)
            flash(f"Welcome, {account.name}. You are the owner: accounts, backups and settings are yours.", "done")
            return redirect(url_for("week.index"))
        except (StoreError, ConflictError) as error:
            problem = str(error)
    page = render_template("accounts/first.html", name=name[:80], problem=problem, needs_code=_code() != "")
    return page, 422


def _page(problem: str = "", status: int = 200) -> ResponseReturnValue:
    page = render_template("accounts/index.html", accounts=all_accounts(), roles=list(Role), problem=problem)
    return page, status


@bp.get("/accounts/")
@needs(Role.OWNER)
def index() -> ResponseReturnValue:
    """Show who may sign in."""
    return _page()


@bp.post("/accounts/")
@needs(Role.OWNER)
def add() -> ResponseReturnValue:
    """Add an account; with the first one everybody has to sign in, and it is an owner's."""
    form = request.form
    try:
        if any_account():
            add_account(form.get("name", ""), Role(form.get("role", "")), form.get("password", ""))
        else:
            sign_in(add_first_owner(form.get("name", ""), form.get("password", "")))
    except (StoreError, ConflictError, ValueError) as error:
        return _page(str(error), 422)
    flash(f"{' '.join(form.get('name', '').split())} may sign in now.", "done")
    return redirect(url_for("accounts.index"))


@bp.post("/accounts/<int:account_id>")
@needs(Role.OWNER)
def change(account_id: int) -> ResponseReturnValue:
    """Give an account another role or password, sign it out everywhere, or remove it."""
    form, account = request.form, load_account(account_id)
    if account is None:
        return _page("this account is gone", 404)
    me = account_now()
    try:
        if form.get("action") == "remove":
            remove_account(account_id)
        else:
            change_account(account_id, Role(form.get("role", account.role)), form.get("password") or None)
    except (StoreError, ValueError) as error:
        return _page(str(error), 422)
    if me and me.id == account_id:
        now = load_account(account_id)
        if now:
            sign_in(now)
        else:
            sign_out()
    flash(f"{account.name}: done. Sessions that were open are over.", "done")
    return redirect(url_for("accounts.index"))


@bp.get("/account")
@needs(Role.ASSISTANT)
def own() -> ResponseReturnValue:
    """Show one's own account."""
    return render_template("accounts/own.html", problem="") if account_now() else redirect(url_for("week.index"))


@bp.post("/account")
@needs(Role.ASSISTANT)
@limiter.limit(AN_ADDRESS, deduct_when=_failed)
def own_change() -> ResponseReturnValue:
    """Change one's own password, or sign out everywhere else."""
    me, form = account_now(), request.form
    if me is None:
        return redirect(url_for("week.index"))
    if form.get("action") == "everywhere":
        change_account(me.id)
        told = "Signed out everywhere else."
    else:
        if account_with(me.name, form.get("old", "")) is None:
            return render_template("accounts/own.html", problem="That is not your password."), 401
        try:
            change_account(me.id, password=form.get("password", ""))
        except StoreError as error:
            return render_template("accounts/own.html", problem=str(error)), 422
        told = "Your password is changed; you are signed out everywhere else."
    now = load_account(me.id)
    if now:
        sign_in(now)
    flash(told, "done")
    return redirect(url_for("accounts.own"))

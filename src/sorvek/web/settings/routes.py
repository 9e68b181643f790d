"""Settings: what the club says of itself and its hall, copies of everything, and the latest changes."""

import json
from datetime import UTC, date, datetime, timedelta

from flask import Blueprint, Response, abort, current_app, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from sorvek.actions.entry_rule import keep_usual_rule, read_rule, usual_rule, usual_rule_version
from sorvek.actions.hall import equipment_of, slots_of
from sorvek.actions.plan_tiers import keep_usual_tiers, usual_tiers, usual_tiers_version
from sorvek.core.club import MOST_TIERS
from sorvek.core.errors import CoreError
from sorvek.core.lift import gym_text, parse_gym
from sorvek.store.accounts import Role, all_accounts
from sorvek.store.archive import MOST_BYTES, club_archive, merge, preview_merge, read_archive
from sorvek.store.backup import backups_of, make_backup
from sorvek.store.changes import latest_changes
from sorvek.store.database import opened
from sorvek.store.errors import StoreError
from sorvek.store.hall import public_address, public_address_version, save_public_address
from sorvek.store.lifts import gym_version, save_gym, the_gym
from sorvek.store.settings import save_setting, setting, setting_version
from sorvek.store.weekend import UsualHall, save_usual_hall, usual_hall, usual_hall_version
from sorvek.web.access import needs
from sorvek.web.entries import today
from sorvek.web.hosts import read_address

bp = Blueprint("settings", __name__, url_prefix="/settings")

# A club's archive is larger than what a form may hold.
LARGEST_ARCHIVE = 50_000_000
NAMES = ("club_name", "event_name")
LONGEST_NAME, CHANGES = 80, 15
MONDAY = date(2026, 3, 9)  # any will do: hours are tried on a week


@bp.get("/")
@needs(Role.OWNER)
def show() -> ResponseReturnValue:
    """Show the settings."""
    return _page()


def _page(problem: str = "", typed: dict[str, str] | None = None, status: int = 200) -> ResponseReturnValue:
    page = render_template(
        "settings/show.html",
        problem=problem,
        typed=typed or {},
        names={name: setting(name, "") for name in NAMES},
        versions={name: setting_version(name) for name in NAMES},
        address=public_address(),
        address_version=public_address_version(),
        own_address=current_app.config["OWN_ADDRESS"],
        gym=gym_text(the_gym()),
        gym_version=gym_version(),
        usual=usual_hall(),
        usual_version=usual_hall_version(),
        rule="".join(f"{asked.text}\n" for asked in usual_rule()),
        rule_version=usual_rule_version(),
        tiers=usual_tiers(),
        tiers_version=usual_tiers_version(),
        most_tiers=MOST_TIERS,
        accounts=all_accounts(),
        backups=backups_of(opened())[:8],
        changes=latest_changes(CHANGES),
    )
    return page, status


@bp.post("/names")
@needs(Role.OWNER)
def names() -> ResponseReturnValue:
    """Keep the name of the club and of what it takes part in."""
    for name in NAMES:
        value = " ".join(request.form.get(name, "").split())[:LONGEST_NAME]
        if value != setting(name, ""):
            save_setting(name, value, request.form.get(f"{name}_version", -1, int))
    flash("Kept.", "done")
    return redirect(url_for("settings.show"))


@bp.post("/hall")
@needs(Role.OWNER)
def hall() -> ResponseReturnValue:
    """Keep bars and plates, and the address under which phones reach this server."""
    form = request.form
    try:
        gym, address = parse_gym(form.get("gym", "")), read_address(form.get("address", ""))
    except (CoreError, ValueError) as error:
        return _page(str(error), form.to_dict(), 422)
    if gym != the_gym():
        save_gym(gym, form.get("gym_version", -1, int))
    if address != public_address():
        save_public_address(address, form.get("address_version", -1, int))
    flash("Kept for the whole club.", "done")
    return redirect(url_for("settings.show"))


@bp.post("/usual")
@needs(Role.OWNER)
def usual() -> ResponseReturnValue:
    """Keep the hall on usual days, the usual entry rule and number of tiers."""
    form = request.form
    try:
        rule = read_rule(form.get("rule", ""))
        hall = UsualHall(
            form.get("week", "")[:80],
            form.get("weekend", "")[:80],
            form.get("every_min", 30, int),
            max(1, min(12, form.get("lanes", 6, int))),
            max(0, min(40, form.get("judges", 6, int))),
            form.get("equipment", "")[:1000],
        )
        days = [MONDAY + timedelta(days=day) for day in range(7)]
        slots_of(hall.on(days), days)
        equipment_of(hall.on(days))
    except CoreError as error:
        return _page(str(error), form.to_dict(), 422)
    tiers = form.get("tiers", 0, int)
    if rule != usual_rule():
        keep_usual_rule(rule, form.get("rule_version", -1, int))
    if hall != usual_hall():
        save_usual_hall(hall, form.get("usual_version", -1, int))
    if tiers != usual_tiers():
        keep_usual_tiers(tiers, form.get("tiers_version", -1, int))
    flash("Kept for the whole club.", "done")
    return redirect(url_for("settings.show"))


@bp.post("/backup")
@needs(Role.OWNER)
def back_up() -> ResponseReturnValue:
    """Make a backup now; it is put back into a scratch file and compared before it counts."""
    try:
        made = make_backup(opened(), datetime.now())
    except StoreError as error:
        return _page(str(error), status=503)
    flash(f"{made.name}: {made.rows} rows, put back into a scratch file and compared.", "done")
    return redirect(url_for("settings.show"))


@bp.get("/backups/<name>")
@needs(Role.OWNER)
def download(name: str) -> ResponseReturnValue:
    """Return a backup as a file."""
    found = next((one for one in backups_of(opened()) if one.name == name), None) or abort(404)
    return _attachment(found.path.read_bytes(), "application/vnd.sqlite3", found.name)


@bp.get("/club.zip")
@needs(Role.OWNER)
def export() -> ResponseReturnValue:
    """Return the whole club as one ZIP."""
    made = datetime.now(UTC).replace(tzinfo=None, microsecond=0)
    return _attachment(club_archive(made), "application/zip", f"club-{today():%Y-%m-%d}.zip")


def _attachment(data: bytes, kind: str, name: str) -> Response:
    return Response(data, mimetype=kind, headers={"Content-Disposition": f"attachment; filename={name}"})


@bp.post("/import")
@needs(Role.OWNER)
def take_in() -> ResponseReturnValue:
    """Show what an archive would add, or take it in; all of it or nothing."""
    request.max_content_length = min(LARGEST_ARCHIVE, MOST_BYTES)
    file = request.files.get("file")
    data = file.read() if file else b""
    try:
        archive = read_archive(data)
        if request.form.get("action") == "merge":
            done = merge(archive)
            flash(f"Taken in: {sum(done.added.values())} rows; what was here already stayed as it was.", "done")
            return redirect(url_for("settings.show"))
        merged = preview_merge(archive)
    except StoreError as error:
        return _page(str(error), status=422)
    return render_template("settings/preview.html", merged=merged, made_at=archive.made_at[:16])


ops = Blueprint("operations", __name__)


@ops.get("/health")
def health() -> ResponseReturnValue:
    """Tell whether the server answers and its database can be read, and nothing else."""
    setting("club_name", "")
    return Response(json.dumps({"ok": True}), mimetype="application/json")

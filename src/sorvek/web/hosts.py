"""Who is answered: on loopback only under its own names, from other machines only pages behind a link.

A page of somebody else's that resolves its own name to this computer (DNS rebinding) would otherwise read the
roster through the coach's browser; and until there are accounts a phone in the hall gets its card, not the club.
"""

import ipaddress
from urllib.parse import urlsplit

from flask import Flask, current_app, render_template, request
from flask.typing import ResponseReturnValue
from werkzeug.sansio.utils import host_is_trusted

OWN_NAMES = ["localhost", "127.0.0.1"]
# What needs no more than an unguessable link: cards, lanes for judges, and what pages are drawn with.
LINK_PAGES = ("cards.card", "cards.keep", "lane.show", "lane.send", "lane.splits", "static")


def is_loopback(host: str) -> bool:
    """Return whether an address reaches this computer only."""
    if host == "localhost":
        return True
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return False


def read_address(text: str) -> str:
    """Return an address such as `http://192.168.1.20:8173` without a slash at its end; empty stays empty.

    Raises: ValueError with what to write instead.
    """
    bare = text.strip().rstrip("/")
    if not bare:
        return ""
    parts = urlsplit(bare)
    plain = not (parts.path or parts.query or parts.fragment or parts.username)
    if parts.scheme not in ("http", "https") or not parts.hostname or not plain or len(bare) > 200:
        raise ValueError(f"“{bare[:60]}” is no address of a server; write it as http://192.168.1.20:8173")
    return bare


def guard(app: Flask, host: str, port: int, everybody: bool) -> None:
    """Have an application answer those only who may be answered when it listens on `host`."""
    app.config["OWN_ADDRESS"] = f"http://{host}:{port}"
    if is_loopback(host):
        app.config["TRUSTED_HOSTS"] = [*OWN_NAMES, host]
    elif not everybody:
        app.before_request(_link_pages_only)


def _link_pages_only() -> ResponseReturnValue | None:
    """Refuse other machines, and other names of this one, everything but pages behind a link."""
    here = is_loopback(request.remote_addr or "") and host_is_trusted(request.host, OWN_NAMES)
    if here or request.endpoint in LINK_PAGES:
        return None
    current_app.logger.warning("refused %s to %s", request.path, request.remote_addr)
    message = (
        "Other machines may open cards by their link. Everything else is answered on the coach's own computer, or"
        " once Sorvek is started with --open-to-everybody."
    )
    return render_template("shared/refused.html", heading="This is not open to you", message=message), 403

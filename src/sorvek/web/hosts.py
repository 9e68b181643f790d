"""Under which names a server answers, and how its own address is written.

A page of somebody else's that resolves its own name to this computer (DNS rebinding) would otherwise read the
roster through the coach's browser. Beyond loopback people sign in, and a session belongs to one name.
"""

import ipaddress
from urllib.parse import urlsplit

from flask import Flask

OWN_NAMES = ["localhost", "127.0.0.1"]


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


def guard(app: Flask, host: str, port: int) -> None:
    """Have an application know its own address, and on loopback answer under its own names only."""
    app.config["OWN_ADDRESS"] = f"http://{host}:{port}"
    # A proxy before us hands on names of its own choice; beyond it people sign in.
    if is_loopback(host) and not app.config.get("BEHIND_PROXY"):
        app.config["TRUSTED_HOSTS"] = [*OWN_NAMES, host]

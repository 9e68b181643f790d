"""Telling what was done together with the button that takes it back."""

from flask import flash, url_for

UNDO = "undo"


def offer_undo(message: str, endpoint: str, **values: int) -> None:
    """Show a message on the next page with a button that posts to an address."""
    flash({"message": message, "address": url_for(endpoint, **values)}, UNDO)  # type: ignore[arg-type]

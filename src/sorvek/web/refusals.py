"""What is answered when something does not work: one page with one sentence; traces go to the log."""

from flask import Flask, current_app, g, render_template, request
from flask.typing import ResponseReturnValue
from flask_wtf.csrf import CSRFError
from werkzeug.exceptions import HTTPException

from sorvek.core.errors import CoreError, UnsettledError
from sorvek.store.errors import ConflictError, DatabaseFailure, failure_words
from sorvek.store.workouts import load_text

HEADINGS = {
    400: "That could not be read",
    404: "There is nothing here",
    405: "Not this way",
    413: "That is too large",
    429: "Too many tries",
}
MESSAGES = {
    400: "The request was not complete, or came under a name this server does not go by. Open it as localhost.",
    404: "The page you asked for does not exist, or what it showed was removed.",
    405: "This address does not take that kind of request.",
    413: "A form may hold at most 1 MB.",
    429: "Somebody at this address tried too often. Wait some minutes, then try again.",
}


def answer_errors(app: Flask) -> None:
    """Have an application answer every error with a page."""
    app.register_error_handler(UnsettledError, _unsettled)
    app.register_error_handler(CoreError, _refused)
    app.register_error_handler(ConflictError, _changed_meanwhile)
    app.register_error_handler(CSRFError, _stale_form)
    app.register_error_handler(DatabaseFailure, _not_stored)
    app.register_error_handler(HTTPException, _http_error)
    app.register_error_handler(Exception, _failed)


def _page(heading: str, message: str, status: int) -> ResponseReturnValue:
    return render_template("shared/error.html", heading=heading, message=message), status


def _refused(error: CoreError) -> ResponseReturnValue:
    return _page("That does not work", str(error), 422)


def _unsettled(error: UnsettledError) -> ResponseReturnValue:
    saved = load_text((request.view_args or {}).get("workout_id", 0))
    if saved is None:
        return _refused(error)
    return render_template("shared/unsettled.html", saved=saved, doubts=error.doubts), 409


def _changed_meanwhile(error: ConflictError) -> ResponseReturnValue:
    return _page("Nothing was changed", f"{error} Go back and reload the page to see it.", 409)


def _stale_form(_error: CSRFError) -> ResponseReturnValue:
    return _page(
        "Please send that again",
        "This page was open too long to be trusted. Go back, reload it and send again.",
        400,
    )


def _not_stored(error: Exception) -> ResponseReturnValue:
    current_app.logger.error("request %s could not be stored", g.request_id, exc_info=error)
    message = f"{failure_words(error)} Your browser still has what you typed: go back to it."
    return _page("Nothing was changed", message, 507)


def _http_error(error: HTTPException) -> ResponseReturnValue:
    code = error.code or 500
    if code == 400:
        # Nothing of a request under a foreign name may be trusted, its session included.
        return f"{HEADINGS[400]}. {MESSAGES[400]}", 400, {"Content-Type": "text/plain; charset=utf-8"}
    message = MESSAGES.get(code, "The server could not do that. What you had saved is safe.")
    return _page(HEADINGS.get(code, "Something went wrong"), message, code)


def _failed(error: Exception) -> ResponseReturnValue:
    current_app.logger.error("request %s failed", g.request_id, exc_info=error)
    message = (
        f"The server could not do that. What you had saved is safe. The log names this request {g.request_id}."
    )
    return _page("Something went wrong", message, 500)

"""One line in the log for every request, with an id that error pages name too."""

import logging
import secrets
import time

from flask import Flask, Response, g, request

log = logging.getLogger("sorvek.requests")


def log_requests(app: Flask) -> None:
    """Have an application log its requests."""
    app.before_request(_begin)
    app.after_request(_end)


def _begin() -> None:
    g.request_id, g.begun = secrets.token_hex(4), time.perf_counter()


def _end(response: Response) -> Response:
    # A request refused before anything of ours ran has no id yet.
    if "request_id" in g and request.endpoint != "static":
        taken_ms = 1000 * (time.perf_counter() - g.begun)
        log.info("%s %s %s %s %.0f ms", g.request_id, request.method, request.path, response.status_code, taken_ms)
        response.headers["X-Request-Id"] = g.request_id
    return response

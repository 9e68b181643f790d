"""Forms that make something new carry a number of their own, so that sending one again makes nothing twice."""

import re
import secrets
from collections.abc import Callable
from functools import wraps
from typing import Any, TypeVar, cast

from flask import redirect, request

from sorvek.store.database import one_change
from sorvek.store.once import answer_of, carried_out

View = TypeVar("View", bound=Callable[..., Any])
TOKEN = re.compile(r"[\w-]{16,40}")


def once_token() -> str:
    """Return a number for a form that is about to be shown."""
    return secrets.token_urlsafe(16)


def once(view: View) -> View:
    """Carry a form out once: its changes and the note that it was carried out are one transaction.

    A form without a number, as a script sends it, is carried out as often as it is sent. Put it below `needs`.
    """

    @wraps(view)
    def carried(*args: Any, **values: Any) -> Any:
        token = request.form.get("once", "")
        if not TOKEN.fullmatch(token):
            return view(*args, **values)
        with one_change():
            before = answer_of(token)
            if before:
                return redirect(before)
            answer = view(*args, **values)
            location = getattr(answer, "location", None)
            if location and answer.status_code == 302:
                carried_out(token, location)
        return answer

    return cast(View, carried)

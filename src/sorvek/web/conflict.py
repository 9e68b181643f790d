"""Two people changed the same thing: both versions side by side, and by field which of them to keep."""

from collections.abc import Mapping
from dataclasses import dataclass

from flask import render_template
from flask.typing import ResponseReturnValue


@dataclass(frozen=True, slots=True)
class Difference:
    """A field of a form that differs; `prefer_mine` if this coach changed it."""

    name: str
    label: str
    mine: str
    theirs: str
    prefer_mine: bool


def differences(
    labels: Mapping[str, str], mine: Mapping[str, str], theirs: Mapping[str, str], before: Mapping[str, str]
) -> list[Difference]:
    """Return the fields in which two versions of a form differ, in the order of `labels`.

    A field that is still as it was `before` was not meant to be changed: theirs is offered first there.
    """
    found = []
    for name, label in labels.items():
        own, other = mine.get(name, ""), theirs.get(name, "")
        if own != other:
            found.append(Difference(name, label, own, other, own != before.get(name, own + "?")))
    return found


def conflict_page(
    what: str, found: list[Difference], same: Mapping[str, str], version: int, back: str
) -> ResponseReturnValue:
    """Return the page on which a conflict over `what` is settled: it posts the chosen fields with the new version.

    `same` are the form's other fields, sent along as they are; `back` shows what the other coach saved.
    """
    page = render_template("shared/conflict.html", what=what, found=found, same=same, version=version, back=back)
    return page, 409

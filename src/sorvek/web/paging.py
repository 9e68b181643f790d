"""Long lists in pages: what of a list a request asks for."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Generic, TypeVar

from flask import request, url_for

Item = TypeVar("Item")


@dataclass(frozen=True, slots=True)
class Paged(Generic[Item]):
    """A page of a list: its items, its number from 1, of how many pages and items in all."""

    items: tuple[Item, ...]
    number: int
    pages: int
    total: int
    size: int

    @property
    def first(self) -> int:
        """Return the number of the first item shown, from 1."""
        return self.size * (self.number - 1) + 1

    @property
    def last(self) -> int:
        """Return the number of the last item shown."""
        return self.first + len(self.items) - 1

    def address(self, number: int) -> str:
        """Return the address of another page, the rest of the query as it is."""
        values = {**(request.view_args or {}), **request.args.to_dict(), "page": number}
        return url_for(request.endpoint or "", **values)


def paged(items: Sequence[Item], size: int) -> Paged[Item]:
    """Return the page of a list that the query asks for, the nearest one where there is none such."""
    pages = max(1, -(-len(items) // size))
    number = min(pages, max(1, request.args.get("page", 1, int)))
    return Paged(tuple(items[size * (number - 1) : size * number]), number, pages, len(items), size)

"""An announcement as it was published, in pieces: used and where, of no account, or in doubt."""

from dataclasses import dataclass

from sorvek.core.errors import CoreError
from sorvek.core.workout import Fate, Library, read_announcement


@dataclass(frozen=True, slots=True)
class SourcePiece:
    """Words that became of one kind; `line` is the line of the notation they are in, empty for none."""

    words: str
    fate: Fate
    line: str


def pieces_of(source: str, library: Library) -> list[SourcePiece]:
    """Return a source in pieces, all of it; nothing for an empty one or one that is far too long."""
    source = "\n".join(source.splitlines())
    try:
        reading = read_announcement(source, library, prose=True)
    except CoreError:
        return []
    rows = ["", *(row.strip() for row in reading.text.splitlines())]
    found: list[SourcePiece] = []
    at = 0
    for mark in reading.marks:
        line = rows[mark.line] if mark.line < len(rows) else ""
        between, words = source[at : mark.start], source[mark.start : mark.end]
        if found and (found[-1].fate, found[-1].line) == (mark.fate, line) and "\n" not in between:
            found[-1] = SourcePiece(found[-1].words + between + words, mark.fate, line)
        else:
            found += [SourcePiece(between, Fate.NO_ACCOUNT, "")] if between else []
            found.append(SourcePiece(words, mark.fate, line))
        at = mark.end
    return found

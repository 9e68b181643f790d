"""How far a phone's clock is off the server's, from questions and answers between them.

Every exchange gives three times: asked (phone), answered (server), heard (phone). The server's time lies somewhere
between the two of the phone; the shorter the way, the closer (Cristian 1989, from memory). A clock that drifts is
followed by asking again: only late exchanges count.
"""

from collections.abc import Sequence
from dataclasses import dataclass

# Exchanges older than this are left out while there are newer ones: a clock drifts by some ms a minute.
YOUNG_S = 120.0
LONGEST_S = 30.0


@dataclass(frozen=True, slots=True)
class ClockExchange:
    """A question and its answer: asked and heard by the phone's clock, answered by the server's, in s."""

    asked_s: float
    answered_s: float
    heard_s: float

    @property
    def way_s(self) -> float:
        """Return how long the way there and back took."""
        return self.heard_s - self.asked_s

    @property
    def ahead_s(self) -> float:
        """Return by how much the server is ahead of the phone, wrong by half the way at most."""
        return self.answered_s - 0.5 * (self.asked_s + self.heard_s)


def server_ahead_s(exchanges: Sequence[ClockExchange]) -> float | None:
    """Return by how much the server's clock is ahead of the phone's in s, None if no exchange tells.

    Of the exchanges of the last two minutes the one with the shortest way decides.
    """
    sound = [one for one in exchanges if 0.0 <= one.way_s <= LONGEST_S]
    if not sound:
        return None
    latest_s = max(one.heard_s for one in sound)
    young = [one for one in sound if one.heard_s >= latest_s - YOUNG_S]
    return min(young, key=lambda one: one.way_s).ahead_s

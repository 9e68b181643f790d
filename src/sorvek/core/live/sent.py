"""What a device on the floor sends: its taps, and what tells how far its clock is off."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field, TypeAdapter, ValidationError

from sorvek.core.errors import FloorError
from sorvek.core.live.clocks import ClockExchange, server_ahead_s
from sorvek.core.live.taps import Tap, TapKind

Word = Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{0,64}$")]
Seconds = Annotated[float, Field(ge=0, le=1e11, allow_inf_nan=False)]
MOST_TAPS, MOST_EXCHANGES, MOST_REPS, MOST_LOAD_KG = 500, 60, 10_000, 1000.0
# Only the coach's own page changes a plan.
FROM_DEVICES = frozenset(TapKind) - {TapKind.PLAN}
EARLIEST_S, LATEST_S = -30.0, 6 * 3600.0


@dataclass(frozen=True, slots=True)
class SentTap:
    """A tap with the time on the device's clock; `lane` is the lane's number where a device taps for several."""

    id: Annotated[Word, Field(min_length=8)]
    kind: TapKind
    made_s: Seconds
    of: Word = ""
    reps: Annotated[int, Field(ge=0, le=MOST_REPS)] = 0
    lane: Annotated[int, Field(ge=0, le=40)] = 0
    load_kg: Annotated[float, Field(ge=0, le=MOST_LOAD_KG, allow_inf_nan=False)] = 0.0


@dataclass(frozen=True, slots=True)
class Sent:
    """One sending of a device: when by its own clock, earlier exchanges, taps the server has not confirmed yet."""

    device: Annotated[Word, Field(min_length=8)]
    asked_s: Seconds
    exchanges: Annotated[Sequence[tuple[Seconds, Seconds, Seconds]], Field(max_length=MOST_EXCHANGES)] = ()
    taps: Annotated[Sequence[SentTap], Field(max_length=MOST_TAPS)] = ()

    def ahead_s(self, now_s: float) -> float:
        """Return by how much the server's clock (now `now_s`) is ahead of the device's."""
        known = server_ahead_s([ClockExchange(*times) for times in self.exchanges])
        return now_s - self.asked_s if known is None else known

    def on_clock(self, started_s: float, speed: float, now_s: float) -> list[tuple[SentTap, Tap]]:
        """Return the taps that a device may make with their time on the clock of a heat.

        Nothing is from the future: a tap made later than now, by an estimate that is off, counts as made now.
        """
        ahead_s, found = self.ahead_s(now_s), []
        for sent in self.taps:
            at_s = speed * (min(now_s, sent.made_s + ahead_s) - started_s)
            if sent.kind in FROM_DEVICES:
                at_s = max(EARLIEST_S, min(LATEST_S, at_s))
                found.append((sent, Tap(sent.id, sent.kind, at_s, sent.of, sent.reps, load_kg=sent.load_kg)))
        return found


_ADAPTER = TypeAdapter(Sent)


def read_sent(text: bytes) -> Sent:
    """Return what a device sent.

    Raises: FloorError naming the first thing that cannot be.
    """
    try:
        return _ADAPTER.validate_json(text)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        raise FloorError(f"{where or 'the sending'}: {first['msg']}") from error

"""Heats as they are run: lanes with their plans and links, and every tap, stored once and for good."""

import json
import secrets
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from peewee import fn

from sorvek.core.live import Tap, TapKind
from sorvek.store.cards import TOKEN_BYTES
from sorvek.store.links import end_link
from sorvek.store.tables import AthleteRow, FloorLaneRow, HeatRow, TapRow, WorkoutRow, database


@dataclass(frozen=True, slots=True)
class SavedLane:
    """A lane: its number from 1, who is in it, the sets it begins with, its judge, the token of its link."""

    id: int
    heat_id: int
    number: int
    athlete_id: int
    schemes: tuple[str, ...]
    judge: str
    token: str
    stand_in: int | None


@dataclass(frozen=True, slots=True)
class SavedHeat:
    """A heat: `started_s` is the server's time (epoch) at which its clock shows 0:00, None before it is started."""

    id: int
    workout_id: int
    number: int
    started_s: float | None
    speed: float
    version: int
    lanes: tuple[SavedLane, ...]

    def clock_s(self, now_s: float) -> float:
        """Return what the heat's clock shows at a time of the server, below 0 while it counts down."""
        since_s = 0.0 if self.started_s is None else now_s - self.started_s
        return max(1.0, self.speed) * since_s if since_s > 0 else since_s


@dataclass(frozen=True, slots=True)
class NewLane:
    """Somebody who is to be in a heat: the athlete, the sets to begin with, a seed for a simulated one."""

    athlete_id: int
    schemes: Sequence[str]
    stand_in: int | None = None


def make_heat(workout_id: int, number: int, lanes: Sequence[NewLane], speed: float = 1.0) -> int:
    """Store a heat with its lanes in their order; return its id."""
    with database.atomic():
        heat = HeatRow.create(workout=workout_id, number=number, speed=speed)
        for place, lane in enumerate(lanes, 1):
            FloorLaneRow.create(
                heat=heat.id,
                number=place,
                athlete=lane.athlete_id,
                schemes=json.dumps(list(lane.schemes)),
                judge="",
                token=secrets.token_urlsafe(TOKEN_BYTES),
                stand_in=lane.stand_in,
            )
        return int(heat.id)


def _lane(row: FloorLaneRow) -> SavedLane:
    schemes = tuple(json.loads(row.schemes))
    return SavedLane(row.id, row.heat_id, row.number, row.athlete_id, schemes, row.judge, row.token, row.stand_in)


def _heat(row: HeatRow, lanes: Sequence[FloorLaneRow]) -> SavedHeat:
    there = tuple(_lane(lane) for lane in lanes)
    return SavedHeat(row.id, row.workout_id, row.number, row.started_s, row.speed, row.version, there)


def load_heat(heat_id: int) -> SavedHeat | None:
    """Return a heat with the lanes of athletes who are still there, None if there is none."""
    there = (HeatRow.id == heat_id) & WorkoutRow.removed_at.is_null()
    row = HeatRow.select().join(WorkoutRow).where(there).first()
    if row is None:
        return None
    mine = (FloorLaneRow.heat == heat_id) & AthleteRow.removed_at.is_null()
    lanes = FloorLaneRow.select().join(AthleteRow).where(mine).order_by(FloorLaneRow.number)
    return _heat(row, list(lanes))


def heats_run(workout_id: int) -> list[SavedHeat]:
    """Return the heats of a workout that were set up, the first first."""
    rows = HeatRow.select(HeatRow.id).where(HeatRow.workout == workout_id).order_by(HeatRow.number, HeatRow.id)
    found = [load_heat(row.id) for row in rows]
    return [heat for heat in found if heat is not None]


def heat_of_token(token: str) -> tuple[SavedHeat, SavedLane] | None:
    """Return the heat and lane a link leads to, None if it leads nowhere."""
    row = FloorLaneRow.get_or_none(FloorLaneRow.token == token)
    heat = load_heat(row.heat_id) if row else None
    lane = next((one for one in heat.lanes if one.token == token), None) if heat else None
    return (heat, lane) if heat and lane else None


def new_lane_link(lane_id: int) -> None:
    """Give a lane another link; the one before says that it was revoked."""
    with database.atomic():
        row = FloorLaneRow.get_by_id(lane_id)
        end_link(row.token)
        row.token = secrets.token_urlsafe(TOKEN_BYTES)
        row.save()


def start_heat(heat_id: int, started_s: float | None) -> bool:
    """Start a heat that is not started, or with None put it back before its start; return whether it was so."""
    now = HeatRow.started_s.is_null() if started_s is not None else HeatRow.started_s.is_null(False)
    changed = HeatRow.update(started_s=started_s).where((HeatRow.id == heat_id) & now).execute()
    return bool(changed)


def save_schemes(lane_id: int, schemes: Sequence[str]) -> None:
    """Keep the sets a lane begins with."""
    FloorLaneRow.update(schemes=json.dumps(list(schemes))).where(FloorLaneRow.id == lane_id).execute()


def name_judge(lane_id: int, judge: str) -> None:
    """Keep who judges a lane."""
    FloorLaneRow.update(judge=judge[:80]).where(FloorLaneRow.id == lane_id).execute()


def add_taps(lane_id: int, device: str, taps: Sequence[tuple[Tap, float]]) -> None:
    """Store taps with the time on their device's clock (epoch) when they were made; a known one stays as it is."""
    rows = [
        {
            "lane": lane_id,
            "id": tap.id,
            "device": device,
            "kind": tap.kind.value,
            "made_s": made_s,
            "at_s": tap.at_s,
            "of": tap.of,
            "reps": tap.reps,
            "texts": json.dumps(list(tap.texts)) if tap.texts else "",
            "load_kg": tap.load_kg,
        }
        for tap, made_s in taps
    ]
    if rows:
        with database.atomic():
            TapRow.insert_many(rows).on_conflict_ignore().execute()


def tap_counts(heat_id: int) -> dict[int, int]:
    """Return how many taps every lane of a heat has, by its id: taps are only ever added."""
    mine = TapRow.lane.in_(FloorLaneRow.select(FloorLaneRow.id).where(FloorLaneRow.heat == heat_id))
    rows: Any = TapRow.select(TapRow.lane, fn.COUNT(TapRow.id)).where(mine).group_by(TapRow.lane).tuples()
    return dict(rows)


def taps_of(lane_id: int) -> tuple[Tap, ...]:
    """Return all taps of a lane by their time."""
    columns = (TapRow.id, TapRow.kind, TapRow.at_s, TapRow.of, TapRow.reps, TapRow.texts, TapRow.load_kg)
    rows: Iterable[Any] = (
        TapRow.select(*columns).where(TapRow.lane == lane_id).order_by(TapRow.at_s, TapRow.id).tuples()
    )
    return tuple(
        Tap(tap_id, TapKind(kind), at_s, of, reps, tuple(json.loads(texts)) if texts else (), load_kg)
        for tap_id, kind, at_s, of, reps, texts, load_kg in rows
    )

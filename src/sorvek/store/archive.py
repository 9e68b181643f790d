"""The whole club in one ZIP (docs/formats.md, “Club archive”): out without loss, in with a preview, all or nothing.

Computed outlooks stay behind, they are computed again; so do accounts, which belong to a server. Into an empty club
everything goes as it was. Into a running one athletes are matched by name and workouts by title and first day; what
both have stays as it is here, and what only the archive has is added.
"""

import hashlib
import io
import json
import re
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any

from peewee import Model, PeeweeException

from sorvek.core.athlete import read_athlete, roster_csv
from sorvek.core.errors import CoreError
from sorvek.core.table import table_csv
from sorvek.store.changes import Changed, note
from sorvek.store.errors import StoreError
from sorvek.store.library import Cells, club_library, own_rows, own_version, save_movement
from sorvek.store.migrations import STEPS
from sorvek.store.tables import (
    AthleteRow,
    AttemptRow,
    BoardRow,
    CardRow,
    ChangeRow,
    DeadLinkRow,
    FloorLaneRow,
    HeatRow,
    LiftRow,
    PlacingRow,
    PlanRow,
    PlanVersionRow,
    ResultRow,
    SettingRow,
    TapRow,
    TextRow,
    WorkoutRow,
    database,
)

FORMAT, VERSION = "sorvek-club", 1
MANIFEST, MOVEMENTS = "manifest.json", "movements.json"
# What a club of thousands with all its taps needs many times over; more is no archive of ours.
MOST_BYTES = 200_000_000
Rows = list[dict[str, Any]]

# Parents first. Beside each: what makes a row of the archive the same as one here.
TABLES: dict[str, type[Model]] = {
    "workout": WorkoutRow,
    "athlete": AthleteRow,
    "workout_text": TextRow,
    "plan": PlanRow,
    "plan_version": PlanVersionRow,
    "placing": PlacingRow,
    "lift": LiftRow,
    "result": ResultRow,
    "board": BoardRow,
    "attempt": AttemptRow,
    "card": CardRow,
    "dead_link": DeadLinkRow,
    "heat": HeatRow,
    "lane": FloorLaneRow,
    "tap": TapRow,
    "setting": SettingRow,
    "change": ChangeRow,
}
SAME: dict[str, tuple[str, ...]] = {
    "workout": ("title", "opens_on"),
    "athlete": ("name",),
    "workout_text": ("workout", "version"),
    "plan": ("workout", "athlete"),
    "plan_version": ("workout", "athlete", "saved_at", "schemes"),
    "placing": ("workout", "athlete"),
    "lift": ("workout", "athlete"),
    "result": ("workout", "name", "division"),
    "board": ("workout",),
    "attempt": ("athlete", "title", "done_on", "finished", "value"),
    "card": ("workout", "athlete"),
    "dead_link": ("token",),
    "heat": ("workout", "number"),
    "lane": ("heat", "number"),
    "tap": ("lane", "id"),
    "setting": ("name",),
    "change": ("kind", "thing_id", "made_at", "what"),
}
# Which table the number in a column is of.
PARENTS = {"workout": "workout", "athlete": "athlete", "heat": "heat", "lane": "lane"}
OF_KIND = {
    Changed.ATHLETE: "athlete",
    Changed.WORKOUT: "workout",
    Changed.ATTEMPT: "attempt",
    Changed.PLAN: "athlete",
}
Ids = dict[str, dict[int, int]]


def _plain(value: object) -> object:
    return value.isoformat() if isinstance(value, date | datetime) else value


def _dicts(table: type[Model]) -> Rows:
    rows: Any = table.select().dicts()
    return list(rows)


def _rows(table: type[Model]) -> Rows:
    return [{name: _plain(value) for name, value in row.items()} for row in _dicts(table)]


def club_archive(now: datetime) -> bytes:
    """Return the whole club as a ZIP."""
    out = io.BytesIO()
    with database.atomic(), zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as file:
        sums: dict[str, dict[str, object]] = {}
        for name, table in TABLES.items():
            rows = _rows(table)
            text = json.dumps(rows, ensure_ascii=False, indent=0)
            file.writestr(f"tables/{name}.json", text)
            sums[name] = {"rows": len(rows), "sha256": hashlib.sha256(text.encode()).hexdigest()}
        file.writestr(MOVEMENTS, json.dumps(own_rows(), ensure_ascii=False))
        file.writestr("roster.csv", _roster())
        file.writestr("attempts.csv", _attempts())
        manifest = {"format": FORMAT, "version": VERSION, "schema": len(STEPS), "made_at": now.isoformat()}
        file.writestr(MANIFEST, json.dumps({**manifest, "tables": sums}, indent=1))
    return out.getvalue()


def _roster() -> str:
    found = []
    for row in AthleteRow.select().where(AthleteRow.removed_at.is_null()).order_by(AthleteRow.name):
        try:
            found.append(read_athlete(row.data, club_library()))
        except CoreError:
            continue
    return roster_csv(found)


def _attempts() -> str:
    names = {row.id: row.name for row in AthleteRow.select()}
    columns = ("title", "done_on", "finished", "value", "tiebreak_s", "lift_kg", "gave_out", "notes")
    rows = AttemptRow.select().where(AttemptRow.removed_at.is_null()).order_by(AttemptRow.done_on)
    return table_csv(
        [["athlete", *columns], *([names[row.athlete_id], *(getattr(row, c) for c in columns)] for row in rows)]
    )


@dataclass(frozen=True, slots=True)
class Archive:
    """An archive that was read and is whole: when it was made, its rows by table, the club's own movements."""

    made_at: str
    tables: dict[str, Rows]
    movements: list[Cells]


def read_archive(data: bytes) -> Archive:
    """Return what an archive holds.

    Raises: StoreError saying what is wrong with it.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as file:
            if sum(info.file_size for info in file.infolist()) > MOST_BYTES:
                raise StoreError("the archive holds more than any club; it was not unpacked")
            manifest = json.loads(_member(file, MANIFEST))
            if manifest.get("format") != FORMAT or manifest.get("version") != VERSION:
                raise StoreError("this is no club archive, or one of another version of Sorvek")
            if not isinstance(manifest.get("schema"), int) or manifest["schema"] > len(STEPS):
                raise StoreError("this archive was written by a newer Sorvek; update the program first")
            movements = json.loads(_member(file, MOVEMENTS))
            if any(not isinstance(row, dict) or not row.get("name") for row in movements):
                raise ValueError(MOVEMENTS)
            return Archive(str(manifest.get("made_at", "")), _tables(file, manifest["tables"]), movements)
    except StoreError:
        raise
    except (zipfile.BadZipFile, ValueError, KeyError, TypeError, AttributeError, RecursionError, OSError) as error:
        raise StoreError("this file is no club archive, or it is damaged; export it once more") from error


def _member(file: zipfile.ZipFile, name: str) -> bytes:
    """Return a member's bytes, at most so many whatever the ZIP says of its size."""
    with file.open(name) as member:
        data = member.read(MOST_BYTES + 1)
    if len(data) > MOST_BYTES:
        raise StoreError("the archive holds more than any club; it was not unpacked")
    return data


def _tables(file: zipfile.ZipFile, sums: Mapping[str, Mapping[str, object]]) -> dict[str, Rows]:
    found: dict[str, Rows] = {}
    for name, table in TABLES.items():
        # A table that came with a later version of the program is simply empty.
        text = _member(file, f"tables/{name}.json") if name in sums else b"[]"
        if name in sums and hashlib.sha256(text).hexdigest() != sums[name]["sha256"]:
            raise StoreError(f"the table {name} is damaged; export the archive once more")
        rows = json.loads(text)
        if any(not isinstance(row, dict) or not row.keys() <= _fields(table) for row in rows):
            raise ValueError(name)
        found[name] = rows
    return found


def _fields(table: type[Model]) -> set[str]:
    return set(table._meta.fields)


@dataclass(slots=True)
class Merged:
    """What an import did, or would do: rows added and rows that were there already, by table."""

    added: dict[str, int] = field(default_factory=dict)
    there: dict[str, int] = field(default_factory=dict)
    names: dict[str, list[str]] = field(default_factory=dict)

    @staticmethod
    def count(by_table: dict[str, int], name: str) -> None:
        """Count one more row of a table."""
        by_table[name] = by_table.get(name, 0) + 1


class _TakenBackError(Exception):
    """Ends the transaction of a preview."""


def preview_merge(archive: Archive) -> Merged:
    """Return what taking in an archive would do; nothing is changed.

    Raises: StoreError if it cannot be taken in.
    """
    found: list[Merged] = []
    try:
        with database.atomic("IMMEDIATE"):
            found.append(_merged(archive))
            raise _TakenBackError
    except _TakenBackError:
        return found[0]


def merge(archive: Archive) -> Merged:
    """Take in an archive, all of it or nothing, and return what was added.

    Raises: StoreError if it cannot be taken in; nothing is changed then.
    """
    with database.atomic("IMMEDIATE"):
        merged = _merged(archive)
        note(Changed.CLUB, 0, f"archive of {archive.made_at[:16]} taken in: {sum(merged.added.values())} rows")
        ours = {row["name"] for row in own_rows()}
        for name in dict.fromkeys(row["name"] for row in archive.movements if row["name"] not in ours):
            try:
                save_movement(name, [row for row in archive.movements if row["name"] == name], own_version())
            except CoreError as error:
                raise StoreError(f"the archive's own movement {name} cannot be used: {error}") from error
    return merged


def _merged(archive: Archive) -> Merged:
    merged, ids = Merged(), Ids({name: {} for name in TABLES})
    # Nobody to be told apart from: everything goes in as it is, also what looks the same twice.
    empty = not WorkoutRow.select().exists() and not AthleteRow.select().exists()
    try:
        for name, table in TABLES.items():
            for row in archive.tables[name]:
                _take(merged, ids, name, table, dict(row), empty)
        for row in archive.tables["setting"]:
            _take_setting(merged, ids, row)
    except (PeeweeException, KeyError, TypeError, ValueError, AttributeError) as error:
        raise StoreError(f"the archive cannot be taken in ({error}); nothing was changed") from error
    return merged


def _take(merged: Merged, ids: Ids, name: str, table: type[Model], row: dict[str, Any], empty: bool) -> None:
    """Add one row unless it is there, its numbers changed to those of this club."""
    if name == "setting":
        return  # see `_take_setting`
    for column, parent in PARENTS.items():
        if column in row and row[column] is not None:
            row[column] = ids[parent][row[column]]
    if name == "change":
        row["thing_id"] = ids.get(OF_KIND.get(Changed(row["kind"]), ""), {}).get(row["thing_id"], 0)
    old = row.pop("id") if "id" in row and name != "tap" else None
    apart = empty and name not in ("dead_link", "board")
    same: Any = None if apart else table.get_or_none(*(getattr(table, key) == row[key] for key in SAME[name]))
    if same is None:
        same = table.create(**row) if old is None else _with_number(table, row, old)
        merged.count(merged.added, name)
        if name in ("athlete", "workout"):
            merged.names.setdefault(name, []).append(str(row.get("name") or row.get("title")))
    else:
        merged.count(merged.there, name)
    if old is not None:
        ids[name][old] = same.id


def _with_number(table: type[Model], row: dict[str, Any], number: int) -> Any:
    """Return the row stored, under its own number if that is free here."""
    key = table._meta.primary_key
    if table.get_or_none(key == number) is None:
        return table.create(**row, id=number, force_insert=True)
    return table.create(**row)


# Settings whose names end with the numbers of a workout, or of a workout and an athlete.
NUMBERED = re.compile(r"(?P<what>[a-z_]+?)_(?P<workout>\d+)(?:_(?P<athlete>\d+))?")


def _take_setting(merged: Merged, ids: Ids, row: dict[str, Any]) -> None:
    """Add a setting unless there is one, with the numbers that workouts and athletes have here."""
    name, match = str(row["name"]), NUMBERED.fullmatch(str(row["name"]))
    value = json.loads(row["value"])
    if match:
        numbers = [ids["workout"].get(int(match["workout"]))]
        if match["athlete"]:
            numbers.append(ids["athlete"].get(int(match["athlete"])))
        if None in numbers:
            return
        name = "_".join([match["what"], *map(str, numbers)])
    elif name == "entry_rules":
        value = {str(ids["workout"][int(key)]): rule for key, rule in value.items() if int(key) in ids["workout"]}
    elif name == "weekend" and value:
        value = json.dumps(_weekend(json.loads(value), ids))
    if SettingRow.get_or_none(SettingRow.name == name) is not None:
        merged.count(merged.there, "setting")
        return
    SettingRow.create(name=name, value=json.dumps(value), version=row["version"])
    merged.count(merged.added, "setting")


def _weekend(data: dict[str, Any], ids: Ids) -> dict[str, Any]:
    tries = [
        {**one, "athlete_id": ids["athlete"][one["athlete_id"]], "workout_id": ids["workout"][one["workout_id"]]}
        for one in data["tries"]
        if one["athlete_id"] in ids["athlete"] and one["workout_id"] in ids["workout"]
    ]
    return {**data, "tries": tries}

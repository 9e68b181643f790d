"""Backups: made while somebody writes, checked, put back; and what cannot be opened says what to do."""

import os
import sqlite3
import stat
import threading
from dataclasses import replace
from datetime import datetime

import pytest

from sorvek.core.athlete.athlete import Athlete
from sorvek.store import backup as module
from sorvek.store.athletes import add_athlete, all_athletes
from sorvek.store.backup import (
    KEPT_DAILY,
    back_up,
    backups_of,
    daily,
    make_backup,
    preview_restore,
    restore,
)
from sorvek.store.database import connection, disconnect, open_database
from sorvek.store.errors import StoreError
from sorvek.store.lock import alone_on
from sorvek.store.migrations import STEPS

NOW = datetime(2026, 3, 12, 18, 30)


@pytest.fixture
def database(tmp_path):
    path = tmp_path / "club.db"
    open_database(path)
    with connection():
        add_athlete(Athlete("Ada", "racing"))
    return path


def names(path):
    open_database(path)
    with connection():
        return [saved.athlete.name for saved in all_athletes()]


def mode(path):
    return stat.S_IMODE(os.stat(path).st_mode)


def test_a_backup_is_whole_belongs_to_its_owner_and_comes_back(database, tmp_path):
    copy = tmp_path / "copy.db"
    assert back_up(database, copy) >= 1
    assert mode(copy) == mode(database) == 0o600
    with connection():
        add_athlete(Athlete("Bo", "starting"))
    disconnect()
    kept = restore(copy, database, NOW)
    assert names(database) == ["Ada"]
    assert names(kept) == ["Ada", "Bo"]  # what was replaced is there to the last write


def test_a_backup_taken_while_others_write_is_one_state_of_the_club(database, tmp_path):
    stop = threading.Event()

    def write():
        with connection():
            number = 0
            while not stop.is_set():
                add_athlete(Athlete(f"New {number:05d}", "building"))
                number += 1

    writer = threading.Thread(target=write)
    writer.start()
    try:
        for number in range(5):
            back_up(database, tmp_path / f"{number}.db")
    finally:
        stop.set()
        writer.join()
    found = [name for name in names(tmp_path / "4.db") if name != "Ada"]
    assert found == [f"New {number:05d}" for number in range(len(found))]


def test_what_is_no_backup_is_refused_and_nothing_is_changed(database, tmp_path):
    whole = tmp_path / "whole.db"
    back_up(database, whole)
    newer, other, text, cut = (tmp_path / name for name in ("newer.db", "other.db", "text.db", "cut.db"))
    newer.write_bytes(whole.read_bytes())
    with sqlite3.connect(newer) as db:
        db.execute(f"PRAGMA user_version = {len(STEPS) + 1}")
    sqlite3.connect(other).execute("CREATE TABLE notes (text)").connection.close()
    text.write_text("not a database at all, but long enough to be looked at " * 20)
    cut.write_bytes(whole.read_bytes()[:6_000])
    for file, words in (
        (newer, "newer"),
        (other, "no Sorvek"),
        (text, "no database"),
        (cut, "malformed|damaged|cannot"),
    ):
        with pytest.raises(StoreError, match=words):
            restore(file, database, NOW)
    with pytest.raises(StoreError, match="does not exist"):
        restore(tmp_path / "nowhere.db", database, NOW)
    assert names(database) == ["Ada"]


def test_a_backup_that_cannot_be_written_keeps_the_older_one(database, tmp_path):
    target = tmp_path / "copy.db"
    back_up(database, target)
    before = target.read_bytes()
    disconnect()
    database.write_bytes(b"x" * 8_192)
    with pytest.raises(StoreError, match="cannot be copied"):
        back_up(database, target)
    assert target.read_bytes() == before
    assert list(tmp_path.glob("*.part")) == []
    with pytest.raises(StoreError, match="does not exist"):
        back_up(target, tmp_path / "nowhere" / "copy.db")
    with pytest.raises(StoreError, match="itself"):
        back_up(target, target)


def test_one_backup_a_day_is_made_and_the_latest_are_kept(database):
    for day in range(1, KEPT_DAILY + 4):
        assert daily(database, datetime(2026, 3, day, 9)) is not None
        assert daily(database, datetime(2026, 3, day, 20)) is None
    kept = sorted(path.name for path in (database.parent / "backups").iterdir())
    # Of the days before the last two weeks one is left, the latest of its week (the 1st of March was a Sunday).
    latest = [f"club-2026-03-{day:02d}.db" for day in range(4, KEPT_DAILY + 4)]
    assert kept == ["club-2026-03-01.db", "club-2026-03-03.db", *latest]
    assert daily(database, datetime(2026, 7, 1, 9)) is not None
    assert [one.name for one in backups_of(database)] == ["club-2026-07-01.db"]


def test_a_backup_made_by_hand_is_put_back_and_compared(database, monkeypatch):
    made = make_backup(database, datetime(2026, 3, 12, 18, 0, 5))
    assert made.name == "club-2026-03-12-180005.db"
    assert made.rows > 0
    assert made in [replace(one, rows=made.rows) for one in backups_of(database)]

    def lossy(file, scratch, _now):
        scratch.write_bytes(file.read_bytes())
        with sqlite3.connect(scratch) as db:
            db.execute("DELETE FROM athlete")

    monkeypatch.setattr(module, "restore", lossy)
    with pytest.raises(StoreError, match="did not come back as it went in"):
        make_backup(database, datetime(2026, 3, 12, 19))


@pytest.mark.parametrize(
    ("damage", "words"),
    [
        (lambda path: path.write_text("no database, only words " * 400), "damaged or no database"),
        (lambda path: path.write_bytes(path.read_bytes()[:9_000]), "damaged or no database"),
    ],
    ids=["corrupt", "truncated"],
)
def test_a_damaged_database_says_how_to_go_on(database, damage, words):
    back_up(database, database.with_name("whole.db"))
    whole = database.with_name("whole.db")
    damage(whole)
    with pytest.raises(StoreError, match=words) as caught:
        open_database(whole)
    assert "sorvek restore" in str(caught.value)
    assert "\n" not in str(caught.value)


def test_a_folder_that_is_a_file_says_so(tmp_path):
    (tmp_path / "data").write_text("")
    with pytest.raises(StoreError, match="--data"):
        open_database(tmp_path / "data" / "club.db")


def test_one_server_on_one_database(database):
    with alone_on(database), pytest.raises(StoreError, match="another Sorvek"), alone_on(database):
        pass
    with alone_on(database):
        pass  # free again once the first has ended


def test_a_preview_of_putting_a_backup_back_counts_and_changes_nothing(database, tmp_path):
    copy = tmp_path / "copy.db"
    back_up(database, copy)
    with connection():
        add_athlete(Athlete("Ben", "racing"))
    before = database.read_bytes()
    found = {name: (held, now) for name, held, now in preview_restore(copy, database)}
    assert found["athlete"] == (1, 2)
    assert found["workout"] == (0, 0)
    assert {name: held for name, (held, _) in found.items()}.keys() >= {"attempt", "change", "account"}
    assert preview_restore(copy, tmp_path / "none.db")[0][2] == 0
    assert database.read_bytes() == before
    with pytest.raises(StoreError, match="does not exist"):
        preview_restore(tmp_path / "none.db", database)

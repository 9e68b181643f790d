"""The whole club as one ZIP: out and in again without loss, into an empty and a running club, all or nothing."""

import io
import json
import zipfile
from datetime import date, datetime

import pytest

from sorvek.core.athlete import Athlete
from sorvek.core.club import Result
from sorvek.demo.club import fill
from sorvek.store import archive as module
from sorvek.store.archive import club_archive, merge, preview_merge, read_archive
from sorvek.store.athletes import add_athlete, all_athletes
from sorvek.store.database import connection, open_database
from sorvek.store.errors import StoreError
from sorvek.store.log import LoggedAttempt, add_attempt, attempts_of
from sorvek.store.settings import save_setting, setting
from sorvek.store.workouts import add_workout, all_workouts

NOW = datetime(2026, 3, 12, 18)


@pytest.fixture
def demo(tmp_path):
    """Open a demo club and return its archive."""
    open_database(tmp_path / "demo.db")
    fill(date(2026, 3, 12))
    with connection():
        workout, athlete = all_workouts()[1], all_athletes()[3]
        save_setting(f"prep_{workout.id}_{athlete.id}", "kept", 0)
        save_setting("entry_rules", {str(workout.id): [["pull-up", 5, ""]]}, 0)
        return club_archive(NOW)


def rows_of(data):
    with zipfile.ZipFile(io.BytesIO(data)) as file:
        return {name: json.loads(file.read(name)) for name in file.namelist() if name.startswith("tables/")}


def changed(data, **members):
    """Return an archive with members replaced."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            new.writestr(name, members.pop(name, None) or old.read(name))
    return out.getvalue()


def test_into_an_empty_club_everything_comes_back_as_it_was(demo, tmp_path):
    open_database(tmp_path / "empty.db")
    with connection():
        planned = preview_merge(read_archive(demo))
        assert all_athletes() == []  # a preview changes nothing
        done = merge(read_archive(demo))
        again = club_archive(NOW)
    assert planned.added == done.added
    assert len(planned.names["athlete"]) == 24
    before, after = rows_of(demo), rows_of(again)
    after["tables/change.json"].pop()  # that it was taken in
    assert after == before


def test_into_a_running_club_names_and_dates_are_matched_and_what_is_here_stays(demo, tmp_path):
    open_database(tmp_path / "own.db")
    with connection():
        add_athlete(Athlete("Somebody Else", "racing"))
        ours = add_athlete(Athlete("Ansel Brook", "starting"))
        add_attempt(ours, LoggedAttempt("Here", "max snatch in 6:00", date(2026, 3, 1), Result("", "", False, 60)))
        text = next(saved for saved in read_archive(demo).tables["workout"] if saved["title"] == "Two Lamps")
        days = date.fromisoformat(text["opens_on"]), date.fromisoformat(text["due_on"])
        own = add_workout(text["text"], *days)
        merge(read_archive(demo))
        names = {saved.athlete.name: saved for saved in all_athletes()}
        assert len(names) == 25
        assert names["Ansel Brook"].athlete.tier == "starting"
        assert [saved.id for saved in all_workouts() if saved.title == "Two Lamps"] == [own]
        of_ansel = [one.title for one in attempts_of(ours)]
        assert sorted(of_ansel) == ["Harbour Bell", "Here", "Low Water", "Mooring"]
        fourth = sorted(name for name in names if name != "Somebody Else")[3]
        numbers = {saved.title: saved.id for saved in all_workouts()}
        (title,) = [row["title"] for row in read_archive(demo).tables["workout"] if row["id"] == 2]
        assert setting(f"prep_{numbers[title]}_{names[fourth].id}", "") == "kept"
        assert setting("entry_rules", {}) == {str(numbers[title]): [["pull-up", 5, ""]]}
        twice = preview_merge(read_archive(demo))
        assert twice.added == {}


@pytest.mark.parametrize(
    ("member", "told"),
    [
        ("manifest.json", "another version"),
        ("tables/athlete.json", "athlete is damaged"),
        ("tables/attempt.json", "attempt is damaged"),
    ],
)
def test_a_damaged_archive_is_refused_and_says_where(demo, member, told):
    with pytest.raises(StoreError, match=told):
        read_archive(changed(demo, **{member: b"[]" if member != "manifest.json" else b"{}"}))


@pytest.mark.parametrize("data", [b"", b"PK", b"no zip at all", b"\x00" * 5000])
def test_what_is_no_archive_is_refused(data):
    with pytest.raises(StoreError, match="no club archive"):
        read_archive(data)


def test_a_zip_bomb_is_not_unpacked(monkeypatch, demo):
    monkeypatch.setattr(module, "MOST_BYTES", 50_000)
    with pytest.raises(StoreError, match="more than any club"):
        read_archive(demo)


def test_an_archive_whose_rows_do_not_hang_together_changes_nothing(demo, tmp_path):
    archive = read_archive(demo)
    archive.tables["attempt"][-1]["athlete"] = 4711
    open_database(tmp_path / "empty.db")
    with connection():
        with pytest.raises(StoreError, match="cannot be taken in"):
            merge(archive)
        assert all_athletes() == []
        assert all_workouts() == []

"""The command line, run as a user runs it."""

import json
from pathlib import Path

import pytest
from click.testing import CliRunner

from examples import BY_TITLE
from sorvek.cli import main


@pytest.fixture
def files(tmp_path):
    (tmp_path / "w.txt").write_text(BY_TITLE["Two Lamps"], encoding="utf-8")
    (tmp_path / "a.json").write_text('{"name": "Mira Sol", "tier": "competing", "sex": "f"}', encoding="utf-8")
    return tmp_path


def run(*args: str | Path):
    return CliRunner().invoke(main, [str(arg) for arg in args])


def test_read_prints_the_canonical_text_and_totals(files):
    result = run("read", files / "w.txt")
    assert result.exit_code == 0
    assert "105 reps" in result.stdout
    assert json.loads(run("read", files / "w.txt", "--json").stdout)["total_reps"] == 105


def test_plan_prints_the_documented_contract(files):
    data = json.loads(run("plan", files / "w.txt", "--athlete", files / "a.json", "--json").stdout)
    assert {"workout", "athlete", "score", "splits", "blocks", "warnings"} <= set(data)
    score = {"kind", "value", "p10", "p50", "p90", "finished", "finish_probability", "tiebreak_s"}
    assert score == set(data["score"])
    block = {"movement", "reps", "load_kg", "sets", "rest_s", "pace", "style", "start_s", "end_s"}
    assert block | {"min_reps_in_reserve", "failed_reps"} == set(data["blocks"][0])
    assert data["splits"][-1]["reps"] == sum(b["reps"] for b in data["blocks"])
    assert all(sum(b["sets"]) >= b["reps"] for b in data["blocks"])
    assert data["blocks"][0]["load_kg"] == 27.5


def test_typed_sets_are_taken_and_checked(files):
    args = ("plan", files / "w.txt", "--athlete", files / "a.json")
    assert "5/5 r9" in run(*args, "--sets", "2=5/5 r9").stdout
    bad = run(*args, "--sets", "2=5/6 r9")
    assert bad.exit_code == 2
    assert "5/6 adds up to 11, not 10" in bad.stderr


@pytest.mark.parametrize(
    ("workout", "athlete", "words"),
    [
        ("amrap\n5 burpees", '{"name": "A", "tier": "racing"}', "line 1, column 6"),
        ("amrap 5:00\n5 burpes", '{"name": "A", "tier": "racing"}', "nearest known one is “burpee”"),
        ("amrap 5:00\n5 burpees", '{"name": "A"}', "athlete file, tier: field required"),
        ("then max deadlift in 5:00", '{"name": "A", "tier": "racing"}', "bounds the work"),
    ],
)
def test_bad_input_ends_with_code_2_and_one_line(tmp_path, workout, athlete, words):
    (tmp_path / "w.txt").write_text(workout, encoding="utf-8")
    (tmp_path / "a.json").write_text(athlete, encoding="utf-8")
    result = run("plan", tmp_path / "w.txt", "--athlete", tmp_path / "a.json")
    assert result.exit_code == 2
    assert result.stdout == ""
    assert words in result.stderr
    assert result.stderr.count("\n") == 1

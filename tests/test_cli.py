"""The command line, run as a user runs it."""

import json
import re
import sqlite3
import stat
from pathlib import Path

import pytest
from click.testing import CliRunner

from examples import BY_TITLE
from sorvek.cli import main
from sorvek.store.lock import alone_on
from sorvek.web import create_app


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


PROSE = """Tonight: as many rounds as possible in 9 minutes of 12 toes-to-bar and 9 power cleans.
The bar is 60 kg for men and 42.5 kg for women."""


def test_prose_is_read_printed_as_notation_and_planned(files):
    (files / "prose.txt").write_text(PROSE, encoding="utf-8")
    notation = run("read", files / "prose.txt", "--notation")
    assert (notation.exit_code, notation.stdout) == (0, "amrap 9:00\n12 toes-to-bar\n9 power cleans @ 60/42.5 kg\n")
    data = json.loads(run("read", files / "prose.txt", "--json").stdout)
    assert data["notation"] == notation.stdout
    line = [span for span in data["spans"] if span["line"] == 3]
    assert {"9", "power cleans", "60", "42.5"} <= {PROSE[span["start"] : span["end"]] for span in line}
    assert run("plan", files / "prose.txt", "--athlete", files / "a.json").exit_code == 0


def test_doubts_are_printed_in_their_place_and_stop_planning(files):
    (files / "prose.txt").write_text("AMRAP of 9 minutes: 12 toes-to-bar, 9 power cleans.", encoding="utf-8")
    notation = run("read", files / "prose.txt", "--notation")
    assert notation.stdout == "amrap 9:00\n12 toes-to-bar\n# ? 9 power cleans: no load is given\n"
    (files / "doubted.txt").write_text(notation.stdout, encoding="utf-8")
    refused = run("plan", files / "doubted.txt", "--athlete", files / "a.json")
    assert refused.exit_code == 2
    assert "9 power cleans: no load is given" in refused.stderr
    (files / "settled.txt").write_text(notation.stdout.partition("# ?")[0], encoding="utf-8")
    assert run("plan", files / "settled.txt", "--athlete", files / "a.json").exit_code == 0


def test_broken_notation_keeps_its_line_unless_prose_is_forced(files):
    (files / "broken.txt").write_text("amrap 9:00\n12 toes-to-bra\n", encoding="utf-8")
    broken = run("read", files / "broken.txt", "--notation")
    assert broken.exit_code == 2
    assert "line 2, column 4" in broken.stderr
    assert "# ? 12 toes-to-bra\n" in run("read", files / "broken.txt", "--notation", "--prose").stdout
    (files / "nothing.txt").write_text("see you on Saturday", encoding="utf-8")
    assert run("read", files / "nothing.txt", "--notation").exit_code == 2


def test_plan_prints_the_documented_contract(files):
    data = json.loads(run("plan", files / "w.txt", "--athlete", files / "a.json", "--json").stdout)
    assert {"workout", "athlete", "score", "splits", "blocks", "warnings"} <= set(data)
    score = {"kind", "value", "p10", "p50", "p90", "finished", "finish_probability", "tiebreak_s"}
    score |= {"band_kind", "finish_s", "short_reps", "heaps"}
    assert score == set(data["score"])
    block = {"movement", "reps", "load_kg", "sets", "rest_s", "pace", "style", "start_s", "end_s"}
    block |= {"min_reps_in_reserve", "failed_reps", "forced_break_frac", "failed_try_frac"}
    assert block == set(data["blocks"][0])
    assert data["splits"][-1]["reps"] == sum(b["reps"] for b in data["blocks"])
    assert all(sum(b["sets"]) >= b["reps"] for b in data["blocks"])
    assert data["blocks"][0]["load_kg"] == 27.5


def test_a_plan_can_be_asked_for_by_temperament(files):
    args = ("plan", files / "w.txt", "--athlete", files / "a.json", "--json")
    safe, steady, attack = (
        json.loads(run(*args, *temper).stdout) for temper in (("--temper", "safe"), (), ("--temper", "attack"))
    )
    assert [data["temper"] for data in (safe, steady, attack)] == ["safe", "steady", "attack"]
    assert attack["schemes"] != safe["schemes"]
    assert not any(name.startswith(("window", "stage")) for name in steady["gates"])
    assert run(*args, "--temper", "wild").exit_code == 2


def test_schools_beside_the_plan_come_with_their_band(files):
    data = json.loads(run("plan", files / "w.txt", "--athlete", files / "a.json", "--schools", "--json").stdout)
    assert data["schools"]
    for school in data["schools"]:
        assert {"school", "kind", "value", "p10", "p50", "p90", "schemes", "verdict"} == set(school)
        assert school["p10"] <= school["p50"] <= school["p90"]


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
        ("then max deadlift in 5:00", '{"name": "A", "tier": "racing"}', "attempts stand on Lift"),
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


def test_lift_prints_attempts_schools_and_the_documented_contract(files):
    text = run("lift", "--1rm", 100, "--goal", 105).stdout
    assert re.match(r"Lift 9\d(\.\d)? kg on a middle day, 8\d(\.\d)? kg to 9\d(\.\d)? kg on 8 days of 10", text)
    assert "goal 105 kg on" in text
    assert all(f"\n{school} " in text for school in ("by the goal", "safe number first", "few and heavy"))
    data = json.loads(run("lift", "--1rm", 100, "--attempt", "85@0:00 made", "--attempt", "95", "--json").stdout)
    chances = {"none_probability", "line_probability", "goal_probability"}
    assert {"temper", "expected_kg", "p10", "p50", "p90", *chances, "attempts", "typed", "schools"} == set(data)
    one = {"load_kg", "start_s", "rest_s", "loading_s", "probability", "made", "one_side", "if_made", "if_missed"}
    assert one | {"belief_if_made", "belief_if_missed"} == set(data["attempts"][0])
    assert data["p10"] <= data["p50"] <= data["p90"]
    assert data["typed"][0]["attempt"] == 2
    first = data["attempts"][0]
    assert first["belief_if_missed"]["best_kg"] < first["belief_if_made"]["best_kg"]
    assert (data["attempts"][0]["made"], data["attempts"][0]["one_side"]) == (True, ["25", "5"])
    assert data["attempts"][1]["load_kg"] == 95
    assert data["none_probability"] == 0
    assert [s["school"] for s in data["schools"]] == ["by the goal", "safe number first", "few and heavy"]


def test_a_lift_after_work_is_lower_than_the_same_alone(files):
    (files / "mast.txt").write_text(BY_TITLE["Signal Mast"], encoding="utf-8")
    (files / "alone.txt").write_text("max clean-and-jerk in 5:00\n", encoding="utf-8")
    found = [
        json.loads(run("lift", files / name, "--athlete", files / "a.json", "--json").stdout)["expected_kg"]
        for name in ("mast.txt", "alone.txt")
    ]
    assert found[0] < found[1]


def test_a_hall_in_pounds_is_read_from_its_file(files):
    (files / "hall.txt").write_text("bar 45 lb\npairs 2x45 2x25 2x10 2x5 2x2.5 lb\n", encoding="utf-8")
    args = ("lift", "--1rm", "225lb", "--gym", files / "hall.txt", "--attempt", "185lb@0:00 made")
    assert "1. 185 lb at 0:00" in run(*args).stdout
    found = json.loads(run(*args, "--temper", "safe", "--json").stdout)
    assert found["temper"] == "safe"
    # 185 lb = 83.91 kg by NIST SP 811, appendix B.8
    assert found["attempts"][0]["load_kg"] == pytest.approx(83.91, abs=0.01)
    sides = [a["one_side"] for a in found["attempts"]]
    assert all(label.endswith(" lb") for side in sides for label in side)


@pytest.mark.parametrize(
    ("args", "words"),
    [
        ((), "give a workout file with --athlete, or --1rm, or --goal"),
        (("--1rm", "3"), "from 10 to 500"),
        (("--1rm", "100", "--window", "5"), "is not a time"),
        (("--1rm", "100", "--window", "0:05"), "shorter than one attempt"),
        (("--1rm", "100", "--goal", "12"), "below the empty bar"),
        (("--1rm", "100", "--attempt", "much"), "write 85, 225lb, 85@0:40"),
        (("--1rm", "100", "--attempt", "81"), "nearest are 80 kg and 82.5 kg"),
        (("--1rm", "100", "--aim", "best chance of the goal"), "needs a goal"),
    ],
)
def test_a_lift_that_cannot_be_is_refused_in_words(args, words):
    result = run("lift", *args)
    assert result.exit_code == 2
    assert words in " ".join(result.stderr.split())


def test_a_workout_file_needs_its_athlete(files):
    assert "belong together" in run("lift", files / "w.txt").stderr
    refused = run("lift", files / "w.txt", "--athlete", files / "a.json")
    assert (refused.exit_code, "no max lift" in refused.stderr) == (2, True)


def served(*args, data):
    """Run a command about the database; it must end by itself."""
    return run(*args, "--data", data)


@pytest.mark.parametrize(
    ("spoil", "words"),
    [
        (lambda data: (data / "sorvek.key").write_text(""), "sorvek.key is empty or cut short; delete it"),
        (lambda data: (data / "sorvek.db").write_text("words " * 900), "damaged or no database"),
        (
            lambda data: (data / "sorvek.db").write_bytes((data / "sorvek.db").read_bytes()[:9_000]),
            "sorvek restore",
        ),
        (lambda data: spoil_version(data / "sorvek.db"), "newer Sorvek; update the program"),
    ],
    ids=["empty key", "corrupt", "truncated", "newer"],
)
def test_a_server_that_cannot_start_says_in_one_line_what_to_do_and_ends_with_code_2(tmp_path, spoil, words):
    create_app(tmp_path / "sorvek.db")
    spoil(tmp_path)
    ended = served("serve", "--port", "0", data=tmp_path)
    assert (ended.exit_code, ended.stdout) == (2, "")
    assert words in ended.stderr
    assert ended.stderr.count("\n") == 1


def cut_short(path):
    path.write_bytes(path.read_bytes()[:9_000])


def spoil_version(path):
    with sqlite3.connect(path) as db:
        db.execute("PRAGMA user_version = 99")


def test_a_second_server_on_the_same_data_is_refused_and_a_backup_is_not(tmp_path):
    create_app(tmp_path / "sorvek.db")
    assert stat.S_IMODE((tmp_path / "sorvek.key").stat().st_mode) == 0o600
    copy = tmp_path / "copy.db"
    with alone_on(tmp_path / "sorvek.db"):
        second = served("serve", "--port", "0", data=tmp_path)
        assert second.exit_code == 2
        assert "another Sorvek is using" in second.stderr
        assert "checked" in served("backup", copy, data=tmp_path).stdout
        busy = served("restore", copy, data=tmp_path)
        assert (busy.exit_code, "stop it first" in busy.stderr) == (2, True)
    assert "is kept as" in served("restore", copy, data=tmp_path).stdout


def test_a_roster_is_placed_in_tiers_with_their_plans(files):
    rows = [
        "name,tier,sex,toes-to-bar",
        "Ada,racing,f,40",
        "Ben,competing,m,25",
        "Cy,building,m,10",
        "Di,starting,f,4",
    ]
    (files / "r.csv").write_text("\n".join(rows), encoding="utf-8")
    data = json.loads(run("place", files / "w.txt", "--roster", files / "r.csv", "--tiers", "2", "--json").stdout)
    assert {"workout", "tiers", "served", "starred", "held"} == set(data)
    members = [member for tier in data["tiers"] for member in tier["members"]]
    assert sorted(member["name"] for member in members) == ["Ada", "Ben", "Cy", "Di"]
    kinds = {"name", "kind", "own_p50", "followed_kind", "followed_p50", "rests", "loss", "starred"}
    assert all(kinds == set(member) for member in members)
    assert data["starred"] == sum(member["starred"] for member in members)
    text = run("place", files / "w.txt", "--roster", files / "r.csv").stdout
    assert "Tier 1:" in text
    assert all(name in text for name in ("Ada", "Ben", "Cy", "Di"))


def test_a_roster_with_a_mistake_places_nobody_and_names_the_row(files):
    (files / "r.csv").write_text("name,tier\nAda,racing\nBen,fastest\n", encoding="utf-8")
    refused = run("place", files / "w.txt", "--roster", files / "r.csv")
    assert refused.exit_code == 2
    assert "row 3" in refused.output


def test_a_heat_is_rehearsed_set_by_set_and_the_same_for_a_seed(files):
    args = ("rehearse", files / "w.txt", "--athlete", files / "a.json")
    lines = run(*args, "--seed", "3").stdout.splitlines()
    assert lines == run(*args, "--seed", "3").stdout.splitlines() != run(*args, "--seed", "4").stdout.splitlines()
    events = [json.loads(line) for line in run(*args, "--json").stdout.splitlines()]
    assert [event["at_s"] for event in events] == sorted(event["at_s"] for event in events)
    assert [event["reps"] for event in events] == sorted(event["reps"] for event in events)
    told = [event["forecast"] for event in events if event["forecast"]]
    assert all(one["p10"] <= one["p50"] <= one["p90"] for one in told)
    assert told[-1]["p90"] - told[-1]["p10"] < 0.5 * (told[0]["p90"] - told[0]["p10"]) + 1
    assert run("rehearse", files / "w.txt", "--athlete", files / "a.json", "--speed", "0").exit_code == 2


def test_max_lifts_are_rehearsed_attempt_by_attempt_after_the_work(files):
    (files / "lift.txt").write_text("amrap 2:00\n10 burpees\nthen max clean-and-jerk in 4:00\n", encoding="utf-8")
    out = run("rehearse", files / "lift.txt", "--athlete", files / "a.json", "--json").output
    events = [json.loads(line) for line in out.splitlines()]
    lifts = [event for event in events if "load_kg" in event]
    assert len(lifts) >= 3
    assert events[-len(lifts) :] == lifts
    assert all(120 < event["at_s"] <= 360 for event in lifts)
    best = max((event["load_kg"] for event in lifts if event["kind"] == "made"), default=0.0)
    assert lifts[-1]["forecast"]["p50"] == best
    (files / "alone.txt").write_text("max snatch in 4:00\n", encoding="utf-8")
    assert "snatch, " in run("rehearse", files / "alone.txt", "--athlete", files / "a.json").output

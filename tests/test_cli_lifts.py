"""Forms of a max lift at the shell: totals, rising bars, few attempts, complexes, temperaments."""

import json
from pathlib import Path

import pytest
from click.testing import CliRunner

from sorvek.cli import main

TEXTS = {
    "total": "max snatch in 6:00, 3 attempts\nthen max clean-and-jerk in 6:00\n",
    "rise": "max power clean from 60/40 kg, +5/2.5 kg every 1:00 in 8:00\n",
    "complex": "max clean + 2 push jerks in 7:00\n",
    "alone": "max push jerk in 7:00\n",
    "before": "amrap 6:00\nfirst max snatch in 5:00\n10 burpees\n12 thrusters @ 43/29 kg\n",
    "after": "amrap 6:00\n10 burpees\n12 thrusters @ 43/29 kg\nthen max snatch in 5:00\n",
}


@pytest.fixture
def files(tmp_path):
    for name, text in TEXTS.items():
        (tmp_path / name).write_text(f"{name.capitalize()} Day\n{text}", encoding="utf-8")
    (tmp_path / "a.json").write_text('{"name": "Mira Sol", "tier": "competing", "sex": "f"}', encoding="utf-8")
    return tmp_path


def lifted(folder: Path, name: str, *args: str):
    """Return what `sorvek lift` prints of a workout as data."""
    result = CliRunner().invoke(
        main, ["lift", str(folder / name), "--athlete", str(folder / "a.json"), "--json", *args]
    )
    assert result.exit_code == 0, result.output
    return json.loads(result.stdout)


def test_of_a_total_both_lifts_and_their_sum_are_printed(files):
    found = lifted(files, "total")
    first, second = found["lifts"]
    assert len(first["attempts"]) == 3 < len(second["attempts"])
    assert found["total"]["p10"] <= found["total"]["p50"] <= found["total"]["p90"]
    assert found["total"]["p50"] == pytest.approx(first["p50"] + second["p50"], abs=7.5)
    text = CliRunner().invoke(main, ["lift", str(files / "total"), "--athlete", str(files / "a.json")]).stdout
    assert text.count("No score on") == 2
    assert "Both added up" in text


def test_options_of_a_total_are_for_the_part_that_is_named(files):
    load = "70@0:00 made"
    for part in ("1", "2"):
        lifts = lifted(files, "total", "--part", part, "--attempt", load)["lifts"]
        made = [lift["attempts"][0]["made"] for lift in lifts]
        assert made == [True if part == "1" else None, True if part == "2" else None]


def test_a_rising_bar_is_printed_as_the_organiser_set_it(files):
    found = lifted(files, "rise")
    assert [a["load_kg"] for a in found["attempts"]] == [40 + 2.5 * i for i in range(8)]
    assert [a["start_s"] for a in found["attempts"]] == [60 * i for i in range(8)]
    assert all(a["if_missed"] is None for a in found["attempts"])
    assert found["schools"] == []


def test_a_complex_gives_less_than_its_weakest_part_alone(files):
    assert lifted(files, "complex")["expected_kg"] < lifted(files, "alone")["expected_kg"]


def test_a_lift_before_the_work_gives_more_than_the_same_after_it(files):
    assert lifted(files, "before")["expected_kg"] > lifted(files, "after")["expected_kg"]


def test_temperaments_and_beliefs_are_in_the_data(files):
    safe, attack = (lifted(files, "alone", "--temper", temper) for temper in ("safe", "attack"))
    assert (safe["temper"], attack["temper"]) == ("safe", "attack")
    assert [a["load_kg"] for a in safe["attempts"]] != [a["load_kg"] for a in attack["attempts"]]
    for attempt in safe["attempts"]:
        assert attempt["belief_if_missed"]["best_kg"] < attempt["belief_if_made"]["best_kg"]


def test_what_the_notation_cannot_hold_is_refused_with_its_line(files):
    (files / "wrong").write_text("Wrong Day\nmax snatch in 5:00\n10 burpees\n", encoding="utf-8")
    result = CliRunner().invoke(main, ["lift", str(files / "wrong"), "--athlete", str(files / "a.json")])
    assert result.exit_code == 2
    assert "no other work beside it" in result.stderr

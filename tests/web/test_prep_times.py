"""Times of a warm-up as they are typed and shown."""

from datetime import datetime

import pytest

from sorvek.web.prep.times import after_first, before_start, read_start

START = datetime(2026, 3, 13, 0, 10)


@pytest.mark.parametrize(
    "text", ["", "18:40", "2026-02-30T18:40", "2026-03-13 18:40", "2026-03-13T18:40:00", "soon"]
)
def test_what_is_no_day_and_time_is_none(text):
    assert read_start(text) is None


def test_a_start_is_read_as_typed():
    assert read_start("2026-03-13T00:10") == START


@pytest.mark.parametrize(
    ("seconds", "alone", "known"),
    [(90, "−1:30", "00:08:30"), (600, "−10:00", "00:00"), (1200, "−20:00", "23:50"), (8100, "−2:15 h", "21:55")],
)
def test_moments_before_the_start_go_over_midnight_and_hours(seconds, alone, known):
    assert before_start(None, seconds) == alone
    assert before_start(START, seconds) == known


@pytest.mark.parametrize(("seconds", "alone", "known"), [(-600, "−10:00", "00:00"), (1200, "20:00", "00:30")])
def test_moments_on_the_clock_of_the_first_start(seconds, alone, known):
    assert after_first(None, seconds) == alone
    assert after_first(START, seconds) == known

"""Learning from the bar: what attempts at a max lift say of its 1RM (docs/model.md, “Learning”).

Every attempt, made or missed, changes what is believed of the day (Bayes; core.lift): of the day's own form and the
doubt about the number together. Both are near normal, so the number takes its share of the shift and the certainty.
"""

import math
from collections.abc import Sequence
from dataclasses import replace

from sorvek.core.athlete import Athlete
from sorvek.core.club import Result, result_text
from sorvek.core.lift import Platform, Setup, Typed
from sorvek.core.season.learn import LEAST_LUCK_FRAC, Lessons
from sorvek.core.season.numbers import MOST_DOUBTS, WORTH_TELLING_FRAC, Lesson
from sorvek.core.workout import Form


def with_bar(lessons: Lessons, athlete: Athlete, setup: Setup, attempts: Sequence[Typed]) -> Lessons:
    """Return lessons with what attempts say of the 1RM behind a lift, on top of what the lessons said of it.

    `athlete` and `setup` are as believed after those lessons.

    Each attempt has a load in kg, its start in s of the window, and whether it was made. A best lift alone counts
    as one attempt made: it says that so much is within reach, not that more is not.
    Raises: LiftError or PlatesError if the lift cannot be planned.
    """
    if not attempts:
        return lessons
    figure, doubt = setup.one_rep_max, athlete.doubt_frac(setup.movement, setup.one_rep_max)
    task = replace(setup.task, spread_frac=doubt)
    form = Platform(task).form(attempts)
    share = doubt**2 / task.form_spread**2
    by = min(MOST_DOUBTS * doubt, max(-MOST_DOUBTS * doubt, share * math.log1p(form.mean)))
    left = min(doubt, math.hypot(share * form.spread, doubt * math.sqrt(1.0 - share)))
    if max(abs(by), doubt - left) < WORTH_TELLING_FRAC:
        return lessons
    after = round(figure.value * math.exp(by), 1)
    more = Lesson(setup.movement, f"1RM {setup.movement}", "kg", figure, doubt, after, left)
    rows = {lesson.key: lesson for lesson in lessons.lessons}
    rows[more.key] = rows[more.key].then(more) if more.key in rows else more
    return replace(lessons, lessons=tuple(sorted(rows.values(), key=Lesson.weight, reverse=True)))


def lessons_of_lift(setup: Setup, result: Result) -> Lessons:
    """Return what was expected of a max lift alone and what happened, with no lesson yet.

    Raises: LiftError or PlatesError if the lift cannot be planned.
    """
    outcomes = Platform(setup.task).ahead(()).outcomes
    middle = sum(kg * chance for kg, chance in outcomes)
    spread = math.sqrt(sum(chance * (kg - middle) ** 2 for kg, chance in outcomes))
    luck = max(spread, LEAST_LUCK_FRAC * middle)
    expected = result_text(replace(result, value=round(middle, 1)), Form.LIFT)
    return Lessons(expected, result_text(result, Form.LIFT), (result.value - middle) / luck, ())

"""Which ways of breaking a count are worth trying, in general and by the schools of breaking sets."""

from enum import StrEnum

from sorvek.core.plan import UNBROKEN, SetRule
from sorvek.core.simulation import Problem
from sorvek.core.simulation import columns as k


class School(StrEnum):
    """The schools of breaking sets, and of spreading pace."""

    EVEN = "even sets"
    BIG_FIRST = "big then small"
    DESCENDING = "descending"
    SINGLES = "quick singles"
    UNBROKEN = "unbroken"
    PROBE = "probe and adapt"
    EVEN_PACE = "even pace"
    HOLD_BACK = "hold back"
    BANK_EARLY = "bank early"

    def slots_of(self, problem: Problem) -> tuple[int, ...]:
        """Return the slots of a problem on which the school of breaking sets has a say."""
        found = []
        for slot, variant in enumerate(problem.first_variant):
            counts = [segment.reps for segment in problem.course.segments_of(slot)]
            row = problem.variants[variant]
            if not row[k.STEADY] and self.speaks_of(counts, float(problem.unbroken[variant]), row[k.SINGLE] > 0):
                found.append(slot)
        return tuple(found)

    def speaks_of(self, counts: list[int], fresh_reps: float, drops: bool) -> bool:
        """Return whether the school has a say on a movement; elsewhere one does as one likes.

        `counts` are the reps of every visit, `fresh_reps` what the athlete does in one set, `drops` says whether
        the bar is dropped between reps. Quick singles are for the barbell, probing is for hard skills, and nobody
        breaks what is light.
        """
        if max(counts) == 1 or not self.rules(counts):
            return False
        if self is School.SINGLES:
            return drops
        if self is School.PROBE:
            return not drops and fresh_reps <= HARD_SKILL_REPS
        return self is School.UNBROKEN or max(counts) > LIGHT_FRAC * fresh_reps

    def rules(self, counts: list[int]) -> tuple[SetRule, ...]:
        """Return the set rules of the school for visits of so many reps; none where it has nothing to say of them.

        Listed sizes belong to one count: of visits that differ, only schools that fit any count speak.
        """
        if self is School.UNBROKEN:
            return (UNBROKEN,)
        if self is School.SINGLES:
            return (SetRule(then=1),)
        if self is School.EVEN:
            return tuple(rule for rule in _even(counts) if rule != UNBROKEN) or (SetRule(then=1),)
        listed = {School.BIG_FIRST: _big_first, School.DESCENDING: _stairs, School.PROBE: _probe}
        one_count = len(set(counts)) == 1
        return tuple(listed[self](counts[0])) if one_count and self in listed else ()


# Into how many sets a count is divided, and the smaller sets that a longer one may need; judgement.
MOST_SETS = (1, 2, 3, 4, 5, 6, 7, 8, 10, 12, 15)
SMALL_SETS = (2, 3, 4, 5, 6, 7, 8, 9, 10, 12, 15, 20, 25)
# A skill is hard for who has so few in one set, a visit light that takes so much of one set; judgement.
HARD_SKILL_REPS, LIGHT_FRAC = 15.0, 1 / 3
PACE_SCHOOLS = (School.EVEN_PACE, School.HOLD_BACK, School.BANK_EARLY)
SET_SCHOOLS = tuple(school for school in School if school not in PACE_SCHOOLS)


def descending_rule(count: int, sets: int) -> SetRule | None:
    """Return a staircase of `sets` falling sets that adds up to `count`, None where none fits."""
    base = count - sets * (sets - 1) // 2
    smallest, extra = divmod(base, sets)
    if smallest < 1:
        return None
    return SetRule(tuple(smallest + sets - 1 - i + (1 if i < extra else 0) for i in range(sets)))


def even_rule(count: int, sets: int) -> SetRule:
    """Return `sets` sets as even as whole reps allow, larger ones first, in the form a coach would say."""
    small, larger = divmod(count, sets)
    if sets >= count or sets == 1:
        return SetRule(then=1) if sets > 1 else UNBROKEN
    if small == 1:
        return SetRule((2,) * larger, 1)
    if sets > 4 and -(-count // -(-count // sets)) == sets:
        return SetRule(then=-(-count // sets))
    return SetRule((small + 1,) * larger + (small,) * (sets - larger))


def _even(counts: list[int]) -> list[SetRule]:
    most = max(counts)
    if len(set(counts)) > 1:
        sizes = sorted({-(-most // sets) for sets in range(2, 13)} | {2, 3, 4, 5}, reverse=True)
        return [UNBROKEN, *(SetRule(then=size) for size in sizes if 1 < size < most)]
    even = [even_rule(most, sets) for sets in MOST_SETS if sets < most]
    return [*even, *(SetRule(then=size) for size in reversed(SMALL_SETS) if size < most / MOST_SETS[-1])]


def _big_first(count: int) -> list[SetRule]:
    firsts = sorted({round(count * share) for share in (0.6, 0.7, 0.8)}, reverse=True)
    return [SetRule((first, count - first)) for first in firsts if 0 < count - first < first]


def _stairs(count: int) -> list[SetRule]:
    if count < 6:
        return []
    return [rule for sets in (3, 4, 5, 6) if (rule := descending_rule(count, sets))]


def _probe(count: int) -> list[SetRule]:
    if count < 4:
        return []
    ones_and_twos = tuple(2 if i % 2 else 1 for i in range(count))
    sizes: list[int] = []
    while sum(sizes) + ones_and_twos[len(sizes)] <= count:
        sizes.append(ones_and_twos[len(sizes)])
    tail = [1] * (count - sum(sizes))
    return [SetRule((*sizes, *tail)), SetRule((1,), 2)]


def set_rules(counts: list[int]) -> tuple[SetRule, ...]:
    """Return the set rules worth trying for a slot with these counts, unbroken first, singles last.

    Listed sizes belong to one count: where counts differ only rules that fit any count are on the menu.
    """
    most = max(counts)
    if most == 1:
        return (UNBROKEN,)
    one_count = len(set(counts)) == 1
    listed = [*_big_first(most), *_stairs(most)] if one_count else []
    return tuple(dict.fromkeys([UNBROKEN, *_even(counts), *listed, SetRule(then=1)]))

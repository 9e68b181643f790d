"""Made-up workouts and athletes on which plans are looked at: from a seed, so that nobody can have tuned them."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.random import Generator

from sorvek.core.athlete.athlete import Athlete
from sorvek.core.simulation.problem import Problem, problem_for
from sorvek.core.workout.notation import parse_workout

WORKOUTS = 60
# Movements with the usual reps a visit and, where there is one, the size for men and women: light, middle, heavy.
SKILLS = {
    "toes-to-bar": (8, 18),
    "pull-ups": (8, 20),
    "chest-to-bar pull-ups": (6, 15),
    "bar muscle-ups": (3, 8),
    "ring muscle-ups": (3, 7),
    "handstand push-ups": (6, 15),
    "strict handstand push-ups": (4, 10),
    "ring dips": (8, 15),
}
BARS = {
    "power cleans": (6, 14, (50, 62, 80)),
    "hang power cleans": (6, 12, (43, 52, 70)),
    "squat cleans": (4, 10, (52, 70, 92)),
    "power snatches": (5, 12, (34, 48, 61)),
    "thrusters": (6, 15, (35, 43, 52)),
    "overhead squats": (6, 15, (34, 43, 56)),
    "front squats": (6, 12, (48, 61, 80)),
    "deadlifts": (8, 20, (70, 100, 130)),
    "shoulder-to-overheads": (6, 15, (43, 52, 66)),
    "clean-and-jerks": (4, 10, (43, 61, 80)),
    "dumbbell snatches": (10, 20, (15, 22.5, 30)),
}
STEADY = {
    "burpees": (6, 15, ""),
    "bar-facing burpees": (5, 12, ""),
    "box jump-overs": (8, 18, " @ 60/50 cm"),
    "double-unders": (30, 70, ""),
    "wall balls": (12, 25, " @ 9/6 kg"),
    "cal row": (10, 20, ""),
    "cal bike": (8, 15, ""),
    "front-rack lunge steps": (10, 20, " @ 2x20/2x15 kg"),
    "wall walks": (2, 5, ""),
}
WOMEN_FRAC = 0.68
KINDS: dict[str, dict[str, tuple[int, int]]] = {
    "s": SKILLS,
    "b": {name: (low, high) for name, (low, high, _) in BARS.items()},
    "e": {name: (low, high) for name, (low, high, _) in STEADY.items()},
}


@dataclass(frozen=True, slots=True)
class Case:
    """One athlete on one workout: the text, who it is in words, and the problem."""

    text: str
    who: str
    problem: Problem


def _bar(rng: Generator, name: str, weight: int | None = None) -> str:
    men = BARS[name][2][int(rng.integers(3)) if weight is None else weight]
    return f"{name} @ {men:g}/{round(men * WOMEN_FRAC / 2.5) * 2.5:g} kg"


def _items(rng: Generator, kinds: str, more: float = 1.0) -> list[tuple[int, str]]:
    """Return a movement for every letter of `kinds`: s a skill, b a bar, e something steady; none twice."""
    found: list[tuple[int, str]] = []
    taken: set[str] = set()
    for kind in kinds:
        name = str(rng.choice([n for n in KINDS[kind] if n not in taken]))
        taken.add(name)
        low, high = KINDS[kind][name]
        reps = max(1, round(more * int(rng.integers(low, high + 1))))
        found.append((reps, _bar(rng, name) if kind == "b" else name + (STEADY[name][2] if kind == "e" else "")))
    return found


def _kinds(rng: Generator, least: int, most: int) -> str:
    kinds = str(rng.choice(["sb", "se", "be", "sbe", "bs", "es", "ess", "bes", "sbs", "bse"]))
    while not least <= len(kinds) <= most:
        kinds = str(rng.choice(["s", "b", "e", "sb", "sbe", "bes", "sebs", "bsesb", "esbsb"]))
    return kinds


def _pair(rng: Generator) -> list[str]:
    """Return the names of two movements whose reps stand elsewhere; a machine would need its unit there."""
    names = [name for _, name in _items(rng, _kinds(rng, 2, 2))]
    return _pair(rng) if any(name.startswith("cal ") for name in names) else names


def _lines(items: list[tuple[int, str]], indent: str = "") -> str:
    return "\n".join(f"{indent}{reps} {name}" for reps, name in items)


def _amrap(rng: Generator) -> str:
    return f"amrap {rng.integers(6, 21)}:00\n{_lines(_items(rng, _kinds(rng, 2, 3)))}"


def _rounds(rng: Generator) -> str:
    items = _items(rng, _kinds(rng, 2, 3))
    return f"for time, cap {rng.integers(8, 19)}:00\n{rng.integers(4, 9)} rounds:\n{_lines(items, '  ')}"


def _chipper(rng: Generator) -> str:
    items = _items(rng, _kinds(rng, 4, 5), more=2.5)
    return f"for time, cap {rng.integers(11, 20)}:00\n{_lines(items)}"


def _series(rng: Generator) -> str:
    series = str(rng.choice(["21-15-9", "15-12-9-6", "27-21-15-9", "12-9-6", "18-15-12-9", "10-9-8-7-6-5-4-3-2-1"]))
    names = _pair(rng)
    return f"for time, cap {rng.integers(7, 14)}:00\nreps {series}:\n" + "\n".join(f"  {n}" for n in names)


def _ladder(rng: Generator) -> str:
    step = int(rng.integers(1, 4))
    names = _pair(rng)
    return f"amrap {rng.integers(7, 14)}:00\nladder {step},+{step}:\n" + "\n".join(f"  {n}" for n in names)


def _one(rng: Generator) -> str:
    name = str(rng.choice([*SKILLS, *BARS]))
    reps = int(rng.choice([30, 40, 50, 75]))
    return f"for time, cap {rng.integers(5, 12)}:00\n{reps} {_bar(rng, name) if name in BARS else name}"


def _parts(rng: Generator) -> str:
    first, second = _items(rng, _kinds(rng, 2, 2)), _items(rng, _kinds(rng, 2, 2))
    return (
        f"for time, cap {rng.integers(11, 16)}:00\n{rng.integers(3, 6)} rounds:\n{_lines(first, '  ')}\n"
        f"tiebreak\nrest {rng.integers(1, 3)}:00\n{rng.integers(3, 5)} rounds:\n{_lines(second, '  ')}"
    )


def _windows(rng: Generator) -> str:
    names = _pair(rng)
    body = "\n".join(f"    n {name}" for name in names)
    start, step = rng.integers(5, 11), rng.integers(1, 4)
    return f"windows {rng.integers(2, 5)}:00, until missed\nladder {start},+{step}:\n  2 rounds:\n{body}"


def _stages(rng: Generator) -> str:
    skill, bar = str(rng.choice(list(SKILLS))), str(rng.choice(list(BARS)))
    steady, low = str(rng.choice(list(STEADY))), SKILLS[skill][0]
    reps = [(2 * low, skill), (STEADY[steady][0], steady + STEADY[steady][2])]
    blocks, cap = [], 0
    for stage in range(3):
        cap += int(rng.integers(3, 6)) if stage == 0 else int(rng.integers(2, 4))
        items = [*reps, (BARS[bar][1] - 3 * stage, _bar(rng, bar, stage))]
        blocks.append(f"stage cap {cap}:00:\n{_lines(items, '  ')}")
    return "for reps\n" + "\n".join(blocks)


FORMS: tuple[Callable[[Generator], str], ...] = (
    _amrap,
    _rounds,
    _chipper,
    _series,
    _ladder,
    _one,
    _parts,
    _windows,
    _stages,
    _amrap,
    _rounds,
    _parts,
)


def workouts(seed: int, count: int = WORKOUTS) -> list[str]:
    """Return made-up workouts in our notation, the forms in turn."""
    rng = np.random.Generator(np.random.PCG64(seed))
    return [FORMS[i % len(FORMS)](rng) for i in range(count)]


def _athletes(rng: Generator) -> Iterator[tuple[str, Athlete]]:
    """Yield six unlike athletes: every tier, both sexes, fully, partly and not measured."""

    def near(value: float) -> float:
        return float(value * np.exp(0.15 * rng.standard_normal()))

    def reps(value: float) -> float:
        return float(max(1, round(near(value))))

    yield (
        "racing woman, measured",
        Athlete(
            "R",
            "racing",
            "f",
            mass_kg=near(65),
            critical_power_w=near(240),
            w_prime_j=near(16_500),
            unbroken={
                "toes-to-bar": reps(38),
                "pull-up": reps(42),
                "bar muscle-up": reps(13),
                "ring muscle-up": reps(9),
            }
            | {"handstand push-up": reps(32), "strict handstand push-up": reps(16), "double-under": reps(200)},
            one_rep_max_kg={"power clean": near(92), "thruster": near(84), "power snatch": near(74)},
        ),
    )
    yield "racing man, unmeasured", Athlete("S", "racing")
    yield (
        "competing man, partly measured",
        Athlete(
            "C",
            "competing",
            mass_kg=near(81),
            unbroken={
                "toes-to-bar": reps(22),
                "pull-up": reps(26),
                "bar muscle-up": reps(6),
                "ring muscle-up": reps(4),
            },
            one_rep_max_kg={"power clean": near(110), "thruster": near(94)},
        ),
    )
    yield "competing woman, unmeasured", Athlete("D", "competing", "f")
    yield (
        "building man, partly measured",
        Athlete(
            "B",
            "building",
            unbroken={"toes-to-bar": reps(11), "pull-up": reps(12), "chest-to-bar pull-up": reps(8)}
            | {"bar muscle-up": float(rng.integers(0, 3)), "handstand push-up": reps(9)},
        ),
    )
    yield "starting woman, unmeasured", Athlete("N", "starting", "f")


def athletes(seed: int, groups: int) -> list[Athlete]:
    """Return six unlike athletes in every group, no two groups alike."""
    rng = np.random.Generator(np.random.PCG64(seed))
    return [replace(athlete, name=f"{athlete.name}{i}") for i in range(groups) for _, athlete in _athletes(rng)]


def cases(seed: int, count: int = WORKOUTS) -> list[Case]:
    """Return six athletes on each of `count` workouts."""
    rng = np.random.Generator(np.random.PCG64(seed + 1))
    return [
        Case(text, who, problem_for(parse_workout(text), athlete))
        for text in workouts(seed, count)
        for who, athlete in _athletes(rng)
    ]


def season(rng: Generator) -> list[str]:
    """Return three workouts, and a fourth made of their movements with other reps and in another form."""
    skill, bar, steady, other = _items(rng, "sbe" + str(rng.choice(["s", "e"])))

    def lines(*items: tuple[int, str], indent: str = "") -> str:
        return _lines([(max(1, round(reps * rng.uniform(0.7, 1.3))), name) for reps, name in items], indent)

    return [
        f"amrap {rng.integers(7, 14)}:00\n{lines(skill, bar, steady)}",
        f"for time, cap {rng.integers(8, 14)}:00\n{rng.integers(4, 7)} rounds:\n{lines(bar, other, indent='  ')}",
        f"for time, cap {rng.integers(10, 16)}:00\n{rng.integers(4, 7)} rounds:\n"
        f"{lines(skill, other, steady, indent='  ')}",
        f"amrap {rng.integers(8, 16)}:00\n{lines(other, skill, bar)}",
    ]

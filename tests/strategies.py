"""All hypothesis generators: workouts, plans in shorthand, athletes, gyms."""

from dataclasses import replace
from itertools import product

from hypothesis import strategies as st

from sorvek.core.athlete.athlete import Athlete
from sorvek.core.lift.hall.plates import Gym, Piece
from sorvek.core.plan.plan import Phase, Scheme, SetRule
from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import TIERS, SizeKind, shipped_library

counts = st.integers(1, 40)
falling = st.tuples(counts, counts).map(lambda two: tuple(sorted(two, reverse=True)))
labels = st.sampled_from(["masters", "men 55+"])
comments = st.sampled_from(["", "a remark", "watch the clock"])
_SIZES = {
    SizeKind.LOAD: st.tuples(
        st.lists(st.sampled_from([20.0, 42.5, 60.0]), min_size=1, max_size=2).map(tuple),
        st.sampled_from(["kg", "lb"]),
        st.booleans(),
    ),
    SizeKind.HEIGHT: st.tuples(st.just((60.0, 50.0)), st.sampled_from(["cm", "in"]), st.just(False)),
    SizeKind.DISTANCE: st.tuples(st.just((15.0,)), st.sampled_from(["m", "ft"]), st.just(False)),
}


targets = st.sampled_from([w.Size(), w.Size((3.0,), "m"), w.Size((10.0, 9.0), "ft"), w.Size((300.0, 275.0), "cm")])


@st.composite
def items(draw, count=counts, rising=False):
    movement = draw(st.sampled_from(sorted(shipped_library().movements.values(), key=lambda m: m.name)))
    size = w.Size(*draw(_SIZES[movement.size])) if movement.size in _SIZES else w.Size()
    cal = movement.name in ("row", "ski", "bike")
    unit = draw(st.sampled_from(["cal", "m"] if cal else ["m"])) if movement.size is SizeKind.UNIT else ""
    counts = () if rising else draw(st.just(()) | falling)
    named = rising and draw(st.booleans())
    styles = ["", *(f"{no}{style.name}" for style in movement.styles if style.name for no in ("", "no "))]
    alike = sorted(m.name for m in shipped_library().movements.values() if m.size is movement.size)
    return w.Item(
        movement=movement.name,
        count=w.RISING if rising else counts[0] if counts else draw(count),
        unit="" if rising else unit,
        counts=counts,
        style=draw(st.sampled_from(styles)),
        others=draw(st.just(()) | st.tuples(st.tuples(labels, st.sampled_from(alike)))),
        size=size,
        side=draw(st.sampled_from(list(w.Side))),
        tiebreak=draw(st.booleans()),
        rising=named,
        times=draw(st.sampled_from([1, 1, 2, 3])) if named else 1,
        more=draw(st.sampled_from([0, 0, 5, -2])) if named else 0,
        comment=draw(comments),
        per_rep=draw(st.sampled_from([0.0, 0.0, 0.0, 1.5, 2.0])) if rising or min(counts, default=0) > 1 else 0.0,
        target=draw(targets) if movement.to_target else w.Size(),
    )


plain_bodies = st.lists(items(), min_size=1, max_size=3).map(tuple)
rising_bodies = st.lists(items(rising=True), min_size=1, max_size=3).map(tuple)
rounds = st.builds(w.Rounds, st.integers(1, 5), plain_bodies, comments)
series = st.builds(
    w.Series, st.lists(st.integers(1, 21), min_size=2, max_size=4).map(tuple), rising_bodies, comments
)
turns = st.lists(st.integers(1, 9), min_size=1, max_size=2).map(tuple)
finite_ladders = st.builds(w.Ladder, st.integers(1, 9), st.just(0), turns, rising_bodies, comments)
endless_ladders = st.builds(w.Ladder, st.integers(1, 9), st.integers(0, 5), st.just(()), rising_bodies, comments)
rests = st.builds(w.Rest, st.integers(5, 300).map(float), comments)
blocks = st.one_of(items(), rounds, series, finite_ladders, rests, st.builds(w.TieBreak, comments))
bodies = st.lists(blocks, min_size=0, max_size=3).flatmap(lambda body: items().map(lambda item: (*body, item)))
clocks = st.integers(30, 1800).map(float)
bar_sizes = st.lists(st.sampled_from([5.0, 42.5, 60.0]), min_size=1, max_size=2).map(
    lambda values: w.Size(tuple(values), "kg")
)
max_lifts = st.builds(
    w.MaxLift,
    st.just("clean-and-jerk"),
    clocks,
    comments,
    st.sampled_from([1, 3]),
    st.sampled_from([(), (("push jerk", 2),), (("front squat", 1), ("push jerk", 1))]),
    st.none() | st.integers(1, 6),
    st.none() | st.builds(w.RisingBar, bar_sizes, bar_sizes, st.sampled_from([45.0, 60.0])),
)
lifts = (
    st.none()
    | st.builds(replace, max_lifts, first=st.booleans())
    | st.builds(replace, max_lifts, first=st.booleans(), rest_s=clocks)
)
divisions = st.sampled_from([("men", "women"), ("open", "masters men")])
titles = st.sampled_from(["", "Harbour Light", "Three Piers"])


def _workout(form, cap, body):
    return st.builds(
        w.Workout,
        titles,
        divisions,
        st.just(form),
        cap,
        body,
        lifts,
        st.just(""),
        comments,
    )


stages = st.lists(plain_bodies, min_size=1, max_size=3).map(
    lambda parts: tuple(w.Stage(180.0 * (i + 1), part) for i, part in enumerate(parts))
)
some_windows = st.lists(st.builds(w.Window, plain_bodies), min_size=1, max_size=3).map(tuple)
windows = st.one_of(
    endless_ladders.map(lambda ladder: (ladder,)),
    some_windows,
    st.builds(w.Rounds, st.sampled_from([0, 2, 5]), some_windows).map(lambda rounds: (rounds,)),
)
intervals = st.builds(w.Every, st.integers(60, 300).map(float), st.integers(1, 8), plain_bodies, comments)


open_bodies = plain_bodies | endless_ladders.map(lambda ladder: (ladder,))


def _parted(form, inner):
    """Return workouts in parts with a time each, rests between them."""
    part = st.builds(w.TimedPart, st.integers(60, 300).map(float), inner, comments)
    if form is w.Form.PARTS:
        part |= st.builds(w.TimedPart, st.integers(60, 300).map(float), plain_bodies, comments, st.just(True))
    bodies = st.lists(st.tuples(part) | st.tuples(rests, part), min_size=1, max_size=3)
    body = bodies.map(lambda blocks: (blocks[0][-1], *(block for pair in blocks[1:] for block in pair)))
    body |= st.builds(w.Rounds, st.integers(2, 4), body).map(lambda rounds: (rounds,))
    return body.flatmap(lambda body: _workout(form, st.just(w.clocked_s(body)), st.just(body)))


def _paced(block):
    """Return a workout by the clock; without a cap of its own it has the one its intervals make."""
    cap_s = block.seconds * block.count
    fixed = (("men", "women"), w.Form.FOR_TIME, cap_s, (block,))
    return st.builds(w.Workout, titles, *(st.just(value) for value in fixed))


def _by_the_clock(workout, later_s):
    """Return a workout whose last lift begins so long after the work must be over, if it can."""
    lift = workout.lift
    if later_s is None or lift is None or lift.first or lift.rest_s or not workout.ends_s:
        return workout
    if later_s > 60 and not lift.rising:
        until = replace(lift, ends_s=workout.ends_s + later_s)
        return replace(workout, lift=replace(until, window_s=until.lasts_s(workout.ends_s)))
    return replace(workout, lift=replace(lift, at_s=workout.ends_s + later_s))


def _scored(workout, count):
    """Return a workout of which only the first so many movements count, if its score is in reps of all its work."""
    if workout.form not in (w.Form.AMRAP, w.Form.PARTS):
        return workout
    names = dict.fromkeys(block.movement for block in _all_blocks(workout.body) if isinstance(block, w.Item))
    return replace(workout, scored=tuple(names)[:count])


def _all_blocks(body):
    for block in body:
        yield block
        yield from _all_blocks(w.body_of(block))


_forms = st.one_of(
    intervals.flatmap(_paced),
    _workout(w.Form.FOR_TIME, clocks | st.just(0.0), bodies),
    _workout(w.Form.AMRAP, clocks, bodies | endless_ladders.map(lambda ladder: (ladder,))),
    _workout(w.Form.STAGES, st.just(0.0), stages),
    _parted(w.Form.PARTS, open_bodies),
    _parted(w.Form.FOR_TIME, bodies),
    _workout(w.Form.WINDOWS, st.integers(60, 300).map(float), windows),
)
workouts = st.builds(
    _scored,
    st.builds(_by_the_clock, _forms, st.none() | st.sampled_from([0.0, 60.0, 300.0])),
    st.sampled_from([0, 0, 0, 1, 2]),
)
lift_workouts = st.builds(
    lambda title, divisions, lift, second: w.Workout(
        title, divisions, w.Form.LIFT, lift.window_s, (), replace(lift, comment="", second=second)
    ),
    titles,
    divisions,
    max_lifts,
    st.none() | max_lifts | st.builds(replace, max_lifts, rest_s=clocks),
)

rules = st.one_of(
    st.just(SetRule()),
    st.builds(SetRule, st.just(()), st.integers(1, 20)),
    st.builds(SetRule, st.lists(st.integers(1, 20), min_size=1, max_size=6).map(tuple), st.integers(0, 9)),
)
schemes = st.builds(
    Scheme,
    rules,
    st.integers(0, 60).map(float),
    st.sampled_from([1.0, 1.15, 2.0]),
    st.sampled_from(["", "strict", "clean-and-jerk", "push press"]),
    st.sampled_from([0.0, 4.5, 10.0]),
)


@st.composite
def phases(draw):
    """Phases as they can be typed: later ones keep what they do not change."""
    cuts = sorted(draw(st.sets(st.integers(1, 12), max_size=2)))
    return tuple(Phase(until, draw(schemes)) for until in (*cuts, None))


athletes = st.builds(
    Athlete,
    name=st.just("Test"),
    tier=st.sampled_from(TIERS),
    sex=st.sampled_from(["m", "f"]),
    mass_kg=st.none() | st.floats(45, 130),
    critical_power_w=st.none() | st.floats(90, 420),
    w_prime_j=st.none() | st.floats(5_000, 35_000),
    unbroken=st.dictionaries(
        st.sampled_from(["toes-to-bar", "pull-up", "burpee", "double-under"]), st.integers(0, 80)
    ),
    one_rep_max_kg=st.dictionaries(st.sampled_from(["power clean", "thruster", "deadlift"]), st.integers(30, 220)),
)

KG_PLATES = (25.0, 20.0, 15.0, 10.0, 5.0, 2.5, 1.25, 0.5)
BAR = Piece(20)


def gyms():
    """Small gyms with kg plates only."""
    pairs = st.dictionaries(st.sampled_from(KG_PLATES), st.integers(1, 2), min_size=1, max_size=5)
    return st.builds(
        lambda own, collars: Gym((BAR,), collars, tuple((Piece(kg), own[kg]) for kg in sorted(own, reverse=True))),
        pairs,
        st.sampled_from([0.0, 5.0]),
    )


def every_stack(gym):
    """Return every stack a gym allows, by brute force."""
    for counts in product(*(range(n + 1) for _, n in gym.pairs)):
        yield tuple(p for (p, _), n in zip(gym.pairs, counts, strict=True) for _ in range(n))

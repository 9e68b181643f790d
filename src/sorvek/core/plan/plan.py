"""A plan: for every slot a scheme of sets, rest, pace and style, with changes from some round on."""

from dataclasses import dataclass, replace

from sorvek.core.errors import SetsError
from sorvek.core.workout import Course


@dataclass(frozen=True, slots=True)
class SetRule:
    """How a count is broken: the listed `sizes` first, what is left in sets of `then`.

    Without listed sizes the count is split evenly into sets of at most `then`; `then` 0 means unbroken
    (or, behind listed sizes, that these must add up).
    """

    sizes: tuple[int, ...] = ()
    then: int = 0

    def sets(self, count: int) -> tuple[int, ...]:
        """Return the set sizes for a count.

        Raises: SetsError if listed sizes do not add up to the count.
        """
        if not self.sizes:
            if self.then == 0 or self.then >= count:
                return (count,)
            k = -(-count // self.then)
            return tuple(count // k + (1 if i < count % k else 0) for i in range(k))
        total = sum(self.sizes)
        if total == count:
            return self.sizes
        if self.then == 0 or total > count:
            raise SetsError(f"{self.text()} adds up to {total}, not {count}")
        left = count - total
        full, rest = divmod(left, self.then)
        return (*self.sizes, *([self.then] * full), *([rest] if rest else []))

    def left(self, count: int, begun: int) -> tuple[int, ...]:
        """Return the sets that are left of a count when so many reps are done.

        Where those end a planned set, the rest goes on as planned; where a set broke, what is left is split evenly
        into sets no larger than the largest of those to come, or where none is, than the largest that was done.
        Raises: SetsError if listed sizes do not add up to the count.
        """
        sizes, done = self.sets(count), 0
        for i, size in enumerate(sizes):
            if done == begun:
                return sizes[i:]
            done += size
            if done > begun:
                in_this = max(1, begun - done + size)
                most = max(sizes[i + 1 :] or (*sizes[:i], in_this))
                return SetRule(then=most).sets(count - begun)
        return ()

    def text(self) -> str:
        """Return the shorthand of the sets alone."""
        if not self.sizes:
            return {0: "unbroken", 1: "singles"}.get(self.then, f"sets of {self.then}")
        if len(self.sizes) > 2 and len(set(self.sizes)) == 1:
            listed = f"{len(self.sizes)}x{self.sizes[0]}"
        else:
            listed = "/".join(map(str, self.sizes))
        tail = {0: "", 1: " then singles"}.get(self.then, f" then {self.then}s")
        return listed + tail


UNBROKEN = SetRule()
# What the style a movement has without saying so is called.
USUAL_STYLE = "usual"


@dataclass(frozen=True, slots=True)
class Scheme:
    """How a movement is done: sets, rest between them, pace (1 = usual, 1.2 = a fifth slower), style.

    `wait_s` is rest taken before the first rep, beyond the usual change of movement.
    """

    rule: SetRule = UNBROKEN
    rest_s: float = 5.0
    pace: float = 1.0
    style: str = ""
    wait_s: float = 0.0


@dataclass(frozen=True, slots=True)
class Phase:
    """A scheme and the last of the slot's rounds (from 1) it holds for; None means to the end."""

    until: int | None
    scheme: Scheme


@dataclass(frozen=True, slots=True)
class Plan:
    """Phases for every slot of a course, in slot order."""

    slots: tuple[tuple[Phase, ...], ...]

    def scheme(self, slot: int, slot_round: int) -> Scheme:
        """Return the scheme of a slot in its `slot_round`-th round (from 1)."""
        for phase in self.slots[slot]:
            if phase.until is None or slot_round <= phase.until:
                return phase.scheme
        return self.slots[slot][-1].scheme

    def check(self, course: Course) -> None:
        """Refuse a plan whose sets do not add up somewhere on a course.

        Raises: SetsError naming movement, round and remedy; UnknownMovementError for a style.
        """
        if len(self.slots) != len(course.slots):
            raise SetsError(f"the plan has {len(self.slots)} movements, the workout {len(course.slots)}")
        for slot, phases in enumerate(self.slots):
            check_sets(course, slot, phases)

    def with_slot(self, slot: int, phases: tuple[Phase, ...]) -> "Plan":
        """Return the plan with one slot's phases replaced."""
        return Plan((*self.slots[:slot], phases, *self.slots[slot + 1 :]))

    def with_rests(self, share: float, slot: int | None = None) -> "Plan":
        """Return the plan with so many times the rest between sets, in whole seconds, of one slot or of all."""

        def rested(phase: Phase) -> Phase:
            return replace(phase, scheme=replace(phase.scheme, rest_s=float(round(share * phase.scheme.rest_s))))

        return Plan(
            tuple(
                tuple(rested(phase) for phase in phases) if slot in (None, at) else phases
                for at, phases in enumerate(self.slots)
            )
        )


def check_sets(course: Course, slot: int, phases: tuple[Phase, ...]) -> None:
    """Refuse phases whose sets do not add up in some round or whose style the movement does not have.

    Raises: SetsError naming movement, round and remedy; UnknownMovementError for the style.
    """
    movement = course.slots[slot].movement
    plan = Plan(tuple(phases if i == slot else (Phase(None, Scheme()),) for i in range(len(course.slots))))
    for phase in phases:
        movement.style(phase.scheme.style)
    for segment, rank in zip(course.segments, course.slot_rounds(), strict=True):
        if segment.slot != slot:
            continue
        rule = plan.scheme(slot, rank).rule
        try:
            rule.sets(segment.reps)
        except SetsError as error:
            half = -(-segment.reps // 2)
            raise SetsError(
                f"{movement.name}, round {rank}: {error}; type {half}/{segment.reps - half}"
                f" or “sets of {half}”, which fits every round"
            ) from error

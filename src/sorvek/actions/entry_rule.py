"""The club's entry rule of a workout: longest sets asked for, and what is done instead without them."""

from dataclasses import astuple, dataclass

from sorvek.actions.entry import Entry
from sorvek.core.errors import CellError
from sorvek.store.athletes import all_athletes
from sorvek.store.library import club_library
from sorvek.store.placings import Placing, placings_of
from sorvek.store.settings import save_setting, setting, setting_version
from sorvek.store.workouts import load_workout

RULES, USUAL_RULE = "entry_rules", "usual_entry_rule"


@dataclass(frozen=True, slots=True)
class Asked:
    """What an entry rule asks: a longest set of a movement, and the movement of the scaled version, if it says."""

    movement: str
    reps: float
    instead: str = ""

    @property
    def text(self) -> str:
        """Return the rule as it is typed."""
        return f"{self.reps:.0f} {self.movement}" + (f", else {self.instead}" if self.instead else "")


@dataclass(frozen=True, slots=True)
class Barred:
    """An athlete who does not meet the entry rule, or of whom the number for it was never measured."""

    name: str
    why: str


@dataclass(frozen=True, slots=True)
class EntryLine:
    """One line of the rule for one athlete: what it asks, and what is on file (None: not measured)."""

    asked: Asked
    own: float | None

    @property
    def met(self) -> bool:
        """Return whether the athlete may do the workout as prescribed."""
        return self.own is not None and self.own >= self.asked.reps


def entry_rule(workout_id: int) -> list[Asked]:
    """Return the club's entry rule for a workout: its own, else what of the usual rule its movements need."""
    own = setting(RULES, {}).get(str(workout_id))
    if own is not None:
        return [Asked(*line) for line in own]
    usual = usual_rule()
    saved = load_workout(workout_id) if usual else None
    movements = {slot.movement.name for slot in saved.readout.course.slots} if saved else set()
    return [asked for asked in usual if asked.movement in movements]


def usual_rule() -> list[Asked]:
    """Return the entry rule of workouts that have none of their own."""
    return [Asked(*line) for line in setting(USUAL_RULE, [])]


def usual_rule_version() -> int:
    """Return the version of that rule."""
    return setting_version(USUAL_RULE)


def keep_usual_rule(rule: list[Asked], seen_version: int) -> None:
    """Keep the entry rule of workouts that have none of their own.

    Raises: ConflictError if somebody changed it since `seen_version`.
    """
    save_setting(USUAL_RULE, [astuple(asked) for asked in rule], seen_version)


def entry_rule_version() -> int:
    """Return the version of the club's entry rules."""
    return setting_version(RULES)


def read_rule(text: str) -> list[Asked]:
    """Return the rule in a text: a line holds reps and a movement, and behind `, else` that of the scaled version.

    Raises: CellError naming the line; UnknownMovementError for a movement nobody knows.
    """
    found = []
    for line in filter(None, map(str.strip, text.splitlines())):
        asked, _, instead = line.partition(",")
        count, _, name = asked.partition(" ")
        instead = instead.strip().removeprefix("else ").strip()
        if not (count.isascii() and count.isdecimal() and len(count) <= 5):
            raise CellError("Entry rule", f"“{line[:40]}”: begin with a number, as in “8 pull-ups, else ring rows”")
        library = club_library()
        found.append(Asked(library.find(name).name, float(count), library.find(instead).name if instead else ""))
    return found


def keep_rule(workout_id: int, rule: list[Asked], seen_version: int) -> None:
    """Keep the entry rule of a workout.

    Raises: ConflictError if somebody changed a rule since `seen_version`.
    """
    rules = [[asked.movement, asked.reps, asked.instead] for asked in rule]
    save_setting(RULES, {**setting(RULES, {}), str(workout_id): rules}, seen_version)


def barred(workout_id: int) -> list[Barred]:
    """Return who does not meet the entry rule of a workout and does not do the scaled version yet."""
    found = []
    rule = entry_rule(workout_id)
    placings = placings_of(workout_id)
    for saved in all_athletes() if rule else ():
        scaled = placings.get(saved.id, Placing()).substitutes
        for asked in rule:
            if asked.movement in scaled:
                continue
            line = EntryLine(asked, saved.athlete.unbroken.get(asked.movement))
            if line.own is None:
                found.append(Barred(saved.athlete.name, f"{asked.movement} not measured"))
            elif not line.met:
                found.append(Barred(saved.athlete.name, f"{line.own:.0f} of {asked.reps:.0f} {asked.movement}"))
    return found


def entry_lines(entry: Entry) -> list[EntryLine]:
    """Return the rule of a workout for one athlete; movements already substituted are not asked for."""
    own = entry.athlete.athlete.unbroken
    replaced = dict(entry.substitutes)
    rule = [asked for asked in entry_rule(entry.saved.id) if asked.movement not in replaced]
    return [EntryLine(asked, own.get(asked.movement)) for asked in rule]

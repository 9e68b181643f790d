"""What coaches chose of warm-ups: for one athlete on one workout, and the club's own template."""

from dataclasses import dataclass

from sorvek.core.prep import PrepWishes, prep_text, read_prep
from sorvek.store.settings import save_setting, setting, setting_version

TEMPLATE = "prep_template"


@dataclass(frozen=True, slots=True)
class SavedPrep:
    """What is chosen, its version, and whether it was chosen for this athlete or is the club's template."""

    wishes: PrepWishes
    version: int
    own: bool


def _name(workout_id: int, athlete_id: int) -> str:
    return f"prep_{workout_id}_{athlete_id}"


def load_prep(workout_id: int, athlete_id: int) -> SavedPrep:
    """Return what was chosen for an athlete's warm-up, else the club's template, else what the rule makes."""
    name = _name(workout_id, athlete_id)
    own = setting(name, "")
    chosen = own or setting(TEMPLATE, "")
    return SavedPrep(read_prep(chosen) if chosen else PrepWishes(), setting_version(name), bool(own))


def save_prep(workout_id: int, athlete_id: int, wishes: PrepWishes | None, seen_version: int) -> None:
    """Keep what was chosen for an athlete's warm-up; None forgets it.

    Raises: ConflictError if somebody chose something else since `seen_version`.
    """
    save_setting(_name(workout_id, athlete_id), prep_text(wishes) if wishes else "", seen_version)


def save_template(wishes: PrepWishes) -> None:
    """Keep a warm-up as the club's template."""
    save_setting(TEMPLATE, prep_text(wishes), setting_version(TEMPLATE))

"""What coaches chose of warm-ups: for one athlete on one workout, and the club's own template."""

from collections.abc import Callable
from dataclasses import asdict, dataclass

from sorvek.core.prep import Hall, PrepWishes, prep_text, read_prep
from sorvek.store.settings import save_setting, setting, setting_version, settings_like

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


def preps_on(workout_id: int) -> Callable[[int], PrepWishes]:
    """Return what tells of an athlete by id what `load_prep` does, with everything read once."""
    texts, template = settings_like(f"prep_{workout_id}_"), setting(TEMPLATE, "")

    def of(athlete_id: int) -> PrepWishes:
        chosen = texts.get(_name(workout_id, athlete_id)) or template
        return read_prep(chosen) if chosen else PrepWishes()

    return of


def save_prep(workout_id: int, athlete_id: int, wishes: PrepWishes | None, seen_version: int) -> None:
    """Keep what was chosen for an athlete's warm-up; None forgets it.

    Raises: ConflictError if somebody chose something else since `seen_version`.
    """
    save_setting(_name(workout_id, athlete_id), prep_text(wishes) if wishes else "", seen_version)


def save_template(wishes: PrepWishes) -> None:
    """Keep a warm-up as the club's template."""
    save_setting(TEMPLATE, prep_text(wishes), setting_version(TEMPLATE))


@dataclass(frozen=True, slots=True)
class SavedHeats:
    """The hall as a workout's heats use it, the first start (`YYYY-MM-DDTHH:MM` or empty), and the version."""

    hall: Hall
    starts_at: str
    version: int


def _heats_name(workout_id: int) -> str:
    return f"heats_{workout_id}"


def load_heats(workout_id: int) -> SavedHeats:
    """Return how a workout's heats were laid out, a usual hall if nobody did yet."""
    name = _heats_name(workout_id)
    kept = setting(name, {})
    usual = Hall()
    hall = Hall(
        int(kept.get("lanes", usual.lanes)),
        int(kept.get("machines", usual.machines)),
        float(kept.get("between_s", usual.between_s)),
        bool(kept.get("mixed", usual.mixed)),
    )
    return SavedHeats(hall, str(kept.get("starts_at", "")), setting_version(name))


def save_heats(workout_id: int, hall: Hall, starts_at: str, seen_version: int) -> None:
    """Keep how a workout's heats are laid out.

    Raises: ConflictError if somebody laid them out otherwise since `seen_version`.
    """
    save_setting(_heats_name(workout_id), {**asdict(hall), "starts_at": starts_at}, seen_version)

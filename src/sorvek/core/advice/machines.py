"""What the display of a machine shows while a plan is followed: time for 500 m, calories an hour."""

from dataclasses import dataclass

from sorvek.core.advice.briefing import Briefing
from sorvek.core.quantities import clock
from sorvek.core.workout import SizeKind, Slot

# Over how many metres a display tells the pace, elsewhere a kilometre. Common practice, no source.
METRES = {"row": 500, "ski": 500}
KILOMETRE = 1000
# Paces this near each other are told as one.
ALIKE_S, ALIKE_CAL_H = 2.0, 30.0


@dataclass(frozen=True, slots=True)
class Display:
    """The pace of a machine or a run: calories an hour, or the time for so many metres (0 for calories)."""

    metres: int

    @classmethod
    def of(cls, slot: Slot) -> "Display | None":
        """Return the display of a movement, None for what is not metres or calories at a pace."""
        movement = slot.movement
        if not slot.unit or movement.size is not SizeKind.UNIT or not movement.styles[0].steady:
            return None
        return cls(0 if slot.unit == "cal" else METRES.get(movement.name, KILOMETRE))

    @classmethod
    def over(cls, briefing: Briefing, index: int) -> str:
        """Return what a slot's display shows over all its visits, “1:45–1:52 per 500 m”; empty if it has none."""
        display = cls.of(briefing.course.slots[index])
        visits = [block for block in briefing.blocks if block.slot == index and block.end_s > block.start_s]
        if display is None or not visits:
            return ""
        return display._told([display._shown(block.reps, block.end_s - block.start_s) for block in visits])

    def words(self, count: int, seconds: float) -> str:
        """Return what so many metres or calories in so many seconds are: “1:45 per 500 m”."""
        return self._told([self._shown(count, seconds)])

    def _shown(self, count: int, seconds: float) -> float:
        return self.metres * seconds / count if self.metres else 3600 * count / seconds

    def _told(self, values: list[float]) -> str:
        low, high = min(values), max(values)
        if high - low <= (ALIKE_S if self.metres else ALIKE_CAL_H):
            low = high = sum(values) / len(values)
        said = [clock(value) if self.metres else f"{round(value, -1):.0f}" for value in (low, high)]
        return f"{'–'.join(dict.fromkeys(said))} {f'per {self.metres} m' if self.metres else 'cal/h'}"

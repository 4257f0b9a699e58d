"""What is asked: what the builder is trying out with a vehicle."""

from dataclasses import dataclass, field

from mild_badger.core.axle.road_state import Road, Straight
from mild_badger.core.ids import GearId
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["Situation"]


@dataclass(frozen=True)
class Situation:
    """What the builder is trying out; none of it is saved with the document.

    ``gear`` None is neutral; ``motor_rpm`` None is the motor's working speed;
    ``released`` is the clutch with its pedal down.
    """

    gear: GearId | None = None
    road: Road = field(default_factory=Straight)
    locked: bool = False
    motor_rpm: float | None = None
    released: bool = False

    def clutch_released(self, vehicle: Vehicle) -> bool:
        """Say whether the clutch parts motor and box: only one that is there can."""
        return self.released and vehicle.clutch is not None

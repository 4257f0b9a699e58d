"""No gearbox: the motor straight to the final drive, or only outputs and functions."""

from collections.abc import Sequence
from typing import ClassVar

from mild_badger.core.architectures.base import Architecture
from mild_badger.core.drivetrain.builder import Builder
from mild_badger.core.drivetrain.graph import fixed
from mild_badger.core.vehicle.boxes import NoBox
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.tally import Tally

__all__ = ["NoArchitecture"]


class NoArchitecture(Architecture[NoBox]):
    """One shaft from the motor to what it drives."""

    model: ClassVar[type[NoBox]] = NoBox
    shafts: ClassVar[int] = 0

    def blank(self, gears: Sequence[str]) -> NoBox:
        """There is nothing to lay out."""
        return NoBox()

    def between(self, builder: Builder, box: NoBox, start: str, end: str, motor_turns: int) -> None:
        """Join input and output."""
        builder.equations.append(fixed(start, end))

    def layers(self, box: NoBox) -> int:
        """Count no layer."""
        return 0

    def count(self, tally: Tally, box: NoBox, kit: Kit) -> None:
        """Count nothing: the motor's shaft is what the final drive hangs on."""

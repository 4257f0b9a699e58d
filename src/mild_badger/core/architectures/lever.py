"""The stepless lever drive, as the box or beside it; a gear is a place of the fulcrum."""

from collections.abc import Sequence
from typing import ClassVar

from mild_badger.core.architectures.base import Architecture
from mild_badger.core.drivetrain.builder import Builder
from mild_badger.core.drivetrain.graph import fixed, held, ratchets
from mild_badger.core.drivetrain.lever_motion import lever_efficiency, mean_turns
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.message import say
from mild_badger.core.vehicle.box import LeverPlace
from mild_badger.core.vehicle.boxes import FULCRUM, LEVER_KEY, LeverBox
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.tally import Tally

__all__ = ["LEVER_THROWS", "LEVER_WHEEL", "LeverArchitecture", "build_lever"]

LEVER_THROWS, LEVER_WHEEL = "lever throws", "lever wheel"


class LeverArchitecture(Architecture[LeverBox]):
    """Throws swing a lever, whose ratchets turn the output one way."""

    model: ClassVar[type[LeverBox]] = LeverBox
    shafts: ClassVar[int] = 0

    def blank(self, gears: Sequence[str]) -> LeverBox:
        """Take the usual lever drive; gears get their places when the fulcrum is placed."""
        return LeverBox()

    def between(
        self, builder: Builder, box: LeverBox, start: str, end: str, motor_turns: int
    ) -> None:
        """Add the lever drive with its fulcrum at a place a gear."""
        wheel = build_lever(builder, box.drive, start, motor_turns, box.slots)
        builder.equations.append(fixed(wheel, end))

    def layers(self, box: LeverBox) -> int:
        """Count the pairs before the throws and the ratchet wheels."""
        return len(box.drive.pairs) + box.drive.wheels

    def count(self, tally: Tally, box: LeverBox, kit: Kit) -> None:
        """Count nothing: all of it is counted as a lever drive."""


def build_lever(
    builder: Builder,
    drive: LeverDrive,
    start: str,
    motor_turns: int,
    places: tuple[LeverPlace, ...] | None = None,
) -> str:
    """Add a lever drive: its throws over pairs, its wheel at the mean ratio of a turn.

    The wheel turns its own way whatever way the throws turn. With ``places`` its fulcrum stands at
    one of them in each gear, else where the drive has it. Returns the wheel.
    """
    throws = builder.shaft(LEVER_THROWS, say("architectures.throws-of-the-lever-drive"))
    if drive.pairs:
        builder.train(
            LEVER_KEY, drive.pairs, start=start, end=throws, title=say("architectures.lever-drive")
        )
    else:
        builder.equations.append(fixed(start, throws))
    wheel = builder.shaft(LEVER_WHEEL, say("architectures.ratchet-wheel-of-the-lever-drive"))
    way = drive.turns * motor_turns * (-1) ** sum(1 + len(pair.idlers) for pair in drive.pairs)
    efficiency = lever_efficiency(drive)
    if places is None:
        mean = mean_turns(drive)
        if mean:
            builder.equations.append(ratchets(throws, wheel, way * mean, efficiency=efficiency))
        else:
            builder.equations.append(held(wheel))
    for place in places or ():
        mean = mean_turns(drive, place.fulcrum_mm)
        if mean:
            builder.equations.append(
                ratchets(
                    throws,
                    wheel,
                    way * mean,
                    efficiency=efficiency,
                    sleeve=FULCRUM,
                    position=place.gear,
                )
            )
    return wheel

"""The lever drive as a mechanism: findings, trial step, parts and figures."""

from collections.abc import Iterator
from typing import Any, ClassVar

from mild_badger.core.drivetrain.lever_motion import motion_of
from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding
from mild_badger.core.mechanisms.base import Mechanism, MechanismStep, PageDescription, RunningState
from mild_badger.core.mechanisms.bearings.loads import usual_bearing
from mild_badger.core.mechanisms.chapter import Chapter
from mild_badger.core.mechanisms.lever.chapter import lever_chapter
from mild_badger.core.mechanisms.lever.edits import add_lever, remove_lever
from mild_badger.core.mechanisms.lever.findings import lever_box_findings, lever_findings
from mild_badger.core.mechanisms.lever.reach import lever_seen
from mild_badger.core.mechanisms.lever.templates import lever_templates
from mild_badger.core.message import say
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.tally import Tally

__all__ = ["LeverMechanism"]


class LeverMechanism(Mechanism):
    """A stepless lever drive, as the box or beside it."""

    key: ClassVar[str] = "lever"
    title: ClassVar[str] = say("lever.lever-drive")
    data_key: ClassVar[str] = "lever_drive"
    page: ClassVar[PageDescription] = PageDescription("lever", 2, "lever drive")

    def planned(self, vehicle: Vehicle) -> bool:
        """Tell whether a vehicle has it."""
        return vehicle.stepless is not None

    def add(self, vehicle: Vehicle) -> Edit | None:
        """Plan it."""
        return add_lever()

    def remove(self, vehicle: Vehicle, number: int = 0) -> Edit:
        """Take it away."""
        return remove_lever(vehicle)

    def findings(self, vehicle: Vehicle) -> Iterator[Finding]:
        """Find where it jams, and gears that it cannot give."""
        yield from lever_findings(vehicle)
        yield from lever_box_findings(vehicle)

    def steps(self, vehicle: Vehicle) -> Iterator[MechanismStep]:
        """Turn its throws with the fulcrum at either stop."""
        drive = vehicle.stepless
        if drive is None:
            return
        low, high = (motion_of(drive, mm).mean for mm in (drive.stop_low_mm, drive.stop_high_mm))
        words = say(
            "lever.turn-the-throws-ten-times-with-the-fulcrum",
            stop_low_mm=in_mm(drive.stop_low_mm),
            low=10 * low,
            stop_high_mm=in_mm(drive.stop_high_mm),
            high=10 * high,
        )
        yield MechanismStep("lever drive", "", "", words)

    def count(self, tally: Tally, vehicle: Vehicle) -> None:
        """Count a lever and a rod each, a ratchet wheel and a pawl for each stroke.

        A rod runs between two pins, a pawl on one, a lever on its fulcrum; throws and wheel turn
        in two bearings each.
        """
        drive = vehicle.stepless
        if drive is None:
            return
        user = "lever drive"
        bearing = usual_bearing(vehicle.kit)
        tally.add("rod", 0, user, drive.ratchets)
        tally.add("pin", 0, user, drive.ratchets * 3 + drive.pawls)
        tally.add(f"{bearing} bearing", round(10 * vehicle.kit.shaft_diameter_mm), user, 4)
        tally.train(drive.pairs, user, free=None)
        tally.add("shaft", 0, user, 2)
        tally.add("lever", 0, user, drive.ratchets)
        tally.add("ratchet", 0, user, drive.wheels)
        tally.add("pawl", 0, user, drive.pawls)
        tally.add("eccentric", 0, user, drive.ratchets)

    def templates(self, vehicle: Vehicle) -> Iterator[Template]:
        """List levers, ratchet wheels and pawls."""
        yield from lever_templates(vehicle)

    def chapter(self, vehicle: Vehicle, gear: str | None) -> Chapter | None:
        """Write its figures for the plan book."""
        return lever_chapter(vehicle, gear)

    def data(self, vehicle: Vehicle, drive: RunningState) -> Any:
        """Give its ratio, stroke and efficiency where the fulcrum stands."""
        seen = lever_seen(vehicle, drive.chosen)
        if seen is None:
            return None
        motion = motion_of(seen)
        return {
            "mean_turns": motion.mean,
            "peak": motion.peak,
            "trough": motion.trough,
            "stroke_mm": motion.stroke_mm,
            "efficiency": motion.efficiency,
            "jams": motion.jams or None,
        }

"""The outputs of a crane as a mechanism: findings, trial steps, parts and figures."""

from collections.abc import Iterator
from typing import Any, ClassVar

from mild_badger.core.driveline.crane import inner_shafts
from mild_badger.core.findings.finding import Finding
from mild_badger.core.mechanisms.base import Mechanism, MechanismStep, PageDescription, RunningState
from mild_badger.core.mechanisms.chapter import Chapter
from mild_badger.core.mechanisms.crane.chapter import crane_chapter
from mild_badger.core.mechanisms.crane.describe import describe_pace
from mild_badger.core.mechanisms.crane.edits import add_crane, remove_crane
from mild_badger.core.mechanisms.crane.figures import OutputFigures, crane_figures
from mild_badger.core.mechanisms.crane.findings import crane_findings
from mild_badger.core.mechanisms.crane.model import (
    BOX_OUTPUT,
    OWN_INPUT,
    CraneOutput,
    Rack,
    Ring,
    Screw,
    Spool,
)
from mild_badger.core.mechanisms.crane.templates import crane_templates
from mild_badger.core.mechanisms.plain import finite
from mild_badger.core.message import say
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.tally import Tally

__all__ = ["CraneMechanism"]


class CraneMechanism(Mechanism):
    """Outputs that lift, slew and travel."""

    key: ClassVar[str] = "crane"
    title: ClassVar[str] = say("crane.outputs")
    data_key: ClassVar[str] = "outputs"
    page: ClassVar[PageDescription] = PageDescription("crane", 6, "outputs")

    def planned(self, vehicle: Vehicle) -> bool:
        """Tell whether a vehicle has it."""
        return vehicle.crane is not None

    def add(self, vehicle: Vehicle) -> Edit | None:
        """Plan it."""
        return add_crane(vehicle)

    def remove(self, vehicle: Vehicle, number: int = 0) -> Edit:
        """Take it away."""
        return remove_crane()

    def findings(self, vehicle: Vehicle) -> Iterator[Finding]:
        """Find outputs that stand, run back, or miss what is asked of them."""
        yield from crane_findings(vehicle)

    def steps(self, vehicle: Vehicle) -> Iterator[MechanismStep]:
        """Run every output, and see that loads are held."""
        crane = vehicle.crane
        if crane is None:
            return
        first = vehicle.real.gears[0].name
        rpm = vehicle.motor.working_rpm
        gears = {name: crane_figures(vehicle, name, rpm) for name in (None, first)}
        for number, output in enumerate(crane.outputs):
            boxed = crane.way_to(output.id)[0].source == BOX_OUTPUT
            row = gears[first if boxed else None][number]
            held = say("crane.at-rest-must-hold-its-load", holds=row.holds) if row.holds else ""
            where = say("crane.in-gear", first=first) if boxed else ""
            yield MechanismStep(
                "output", output.id, output.name, f"{where}{describe_pace(row)}.{held}"
            )

    def count(self, tally: Tally, vehicle: Vehicle) -> None:
        """Count every output's gears, shafts, bearings and end."""
        for output in vehicle.crane.outputs if vehicle.crane is not None else ():
            _count_output(tally, output)

    def templates(self, vehicle: Vehicle) -> Iterator[Template]:
        """List rings, racks and flanges."""
        yield from crane_templates(vehicle)

    def chapter(self, vehicle: Vehicle, gear: str | None) -> Chapter | None:
        """Write its figures for the plan book."""
        return crane_chapter(vehicle, gear)

    def data(self, vehicle: Vehicle, drive: RunningState) -> Any:
        """Give turns, speed and torque of every output."""
        return [_output(f) for f in crane_figures(vehicle, drive.gear, drive.rpm)] or None


def _output(row: OutputFigures) -> dict[str, Any]:
    return {
        "id": row.output.id,
        "name": row.output.name,
        "input": row.input,
        "input_rpm": row.input_rpm,
        "turns": None if row.turns is None else str(row.turns),
        "rate": row.rate,
        "unit": row.unit,
        "end_n_mm": finite(row.end_n_mm),
        "input_n_mm": row.input_n_mm,
        "held_by": row.holds or None,
    }


def _count_output(tally: Tally, output: CraneOutput) -> None:
    """Count an output: what runs loose on another's shaft is free, the rest is glued."""
    user, carried, end = output.name, output.carried, output.end
    loose, last = output.loose_on is not None, len(output.pairs) - 1
    for number, pair in enumerate(output.pairs):
        tally.add("free" if loose and number else "fixed", pair.driver, user)
        tally.add("free" if loose and number < last else "fixed", pair.driven, user)
        for idler in pair.idlers:
            tally.add("fixed", idler, user)
        tally.add("shaft", 0, user, len(pair.idlers))
    own = (output.source == OWN_INPUT) + bool(output.pairs or output.worm)
    tally.add("shaft", 0, user, own + (0 if loose else len(inner_shafts(output))))
    if output.worm is not None:
        tally.add("worm", output.worm.starts, user)
        tally.add("worm wheel", output.worm.teeth, user)
    tally.add("coupling half", 0, user, 2 if output.keys else 0)
    tally.add(f"{carried.bearing} bearing", round(10 * carried.shaft_mm), user, 2)
    match end:
        case Ring():
            tally.add("fixed", end.pinion, user)
            tally.add("slewing ring", end.teeth, user)
        case Screw():
            tally.add("lead screw", round(10 * end.lead_mm), user, end.screws)
            tally.add("lead nut", round(10 * end.lead_mm), user, end.screws)
        case Spool():
            for rope in range(end.ropes):
                drum = end.made_mm[rope] if end.made_mm else end.drum_mm
                tally.add("drum", round(10 * drum), user)
            tally.add("rope", round(10 * end.rope_length_mm), user, end.ropes)
            tally.add("adjuster", 0, user, end.ropes if end.ropes > 1 else 0)
        case Rack():
            tally.add("fixed", end.pinion, user)
            tally.add("rack", round(10 * end.travel_mm), user)
        case _:
            pass

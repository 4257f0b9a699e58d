"""Liquid lines as a mechanism: findings, trial steps, parts and figures."""

from collections.abc import Iterator
from typing import Any, ClassVar

from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding
from mild_badger.core.mechanisms.base import Mechanism, MechanismStep, PageDescription, RunningState
from mild_badger.core.mechanisms.chapter import Chapter
from mild_badger.core.mechanisms.liquid.chapter import liquid_chapter
from mild_badger.core.mechanisms.liquid.edits import add_line, remove_line
from mild_badger.core.mechanisms.liquid.findings import liquid_findings
from mild_badger.core.mechanisms.liquid.needs import needed_mm
from mild_badger.core.mechanisms.liquid.pressure import liquid_figures
from mild_badger.core.mechanisms.liquid.templates import liquid_templates
from mild_badger.core.message import say
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.tally import Tally

__all__ = ["LiquidMechanism"]


class LiquidMechanism(Mechanism):
    """Lines that work brakes or the clutch."""

    key: ClassVar[str] = "liquid"
    title: ClassVar[str] = say("liquid.liquid-lines")
    data_key: ClassVar[str] = "liquid_lines"
    page: ClassVar[PageDescription] = PageDescription("liquid", 4, say("liquid.liquid-line"))

    def planned(self, vehicle: Vehicle) -> bool:
        """Tell whether a vehicle has it."""
        return bool(vehicle.hydraulic_lines)

    def add(self, vehicle: Vehicle) -> Edit | None:
        """Plan it."""
        return add_line(vehicle)

    def remove(self, vehicle: Vehicle, number: int = 0) -> Edit:
        """Take it away."""
        return remove_line(vehicle, number)

    def findings(self, vehicle: Vehicle) -> Iterator[Finding]:
        """Find where travel or force is too small."""
        yield from liquid_findings(vehicle)

    def steps(self, vehicle: Vehicle) -> Iterator[MechanismStep]:
        """Try where the slaves bite, and that the pedal holds."""
        for planned in vehicle.hydraulic_lines:
            line, needed = liquid_figures(planned), needed_mm(vehicle, planned)
            words = say(
                "liquid.press-the-pedal-at-the-slaves-have-moved-and",
                pedal_at=in_mm(line.pedal_at(needed), 1),
                needed=in_mm(needed, 2),
            )
            yield MechanismStep("liquid", planned.id, planned.name, words)

    def count(self, tally: Tally, vehicle: Vehicle) -> None:
        """Count masters and slaves by their bores."""
        for line in vehicle.hydraulic_lines:
            tally.add("master", round(10 * line.master_mm), line.name)
            tally.add("slave", round(10 * line.slave_mm), line.name, line.slaves)

    def templates(self, vehicle: Vehicle) -> Iterator[Template]:
        """List brake discs and the cheeks of calipers."""
        yield from liquid_templates(vehicle)

    def chapter(self, vehicle: Vehicle, gear: str | None) -> Chapter | None:
        """Write its figures for the plan book."""
        return liquid_chapter(vehicle, gear)

    def data(self, vehicle: Vehicle, drive: RunningState) -> Any:
        """Give pressure, force and travel of every line."""
        lines = [(line.name, liquid_figures(line)) for line in vehicle.hydraulic_lines]
        return [
            {
                "name": name,
                "pressure_n_mm2": line.pressure,
                "slave_n": line.slave_n,
                "travel_mm": line.travel,
            }
            for name, line in lines
        ] or None

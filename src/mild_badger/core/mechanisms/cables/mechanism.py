"""Cables as a mechanism: findings, trial steps, parts and figures."""

from collections.abc import Iterator
from typing import Any, ClassVar

from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding
from mild_badger.core.mechanisms.base import Mechanism, MechanismStep, PageDescription, RunningState
from mild_badger.core.mechanisms.cables.chapter import cables_chapter
from mild_badger.core.mechanisms.cables.edits import add_cables, remove_cables
from mild_badger.core.mechanisms.cables.findings import cables_findings
from mild_badger.core.mechanisms.cables.templates import cable_templates
from mild_badger.core.mechanisms.cables.travel import run_figures
from mild_badger.core.mechanisms.chapter import Chapter
from mild_badger.core.message import say
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.tally import Tally

__all__ = ["CablesMechanism"]


class CablesMechanism(Mechanism):
    """Cables from the hand lever to what they move."""

    key: ClassVar[str] = "cables"
    title: ClassVar[str] = say("cables.cables")
    data_key: ClassVar[str] = "cables"
    page: ClassVar[PageDescription] = PageDescription("cables", 5, say("cables.cables-2"))

    def planned(self, vehicle: Vehicle) -> bool:
        """Tell whether a vehicle has it."""
        return vehicle.cables is not None

    def add(self, vehicle: Vehicle) -> Edit | None:
        """Plan it."""
        return add_cables()

    def remove(self, vehicle: Vehicle, number: int = 0) -> Edit:
        """Take it away."""
        return remove_cables()

    def findings(self, vehicle: Vehicle) -> Iterator[Finding]:
        """Find cables that pull too little, jam, or fall out of step."""
        yield from cables_findings(vehicle)

    def steps(self, vehicle: Vehicle) -> Iterator[MechanismStep]:
        """Throw the hand lever over and watch every end."""
        cables = vehicle.cables
        if cables is None:
            return
        for run in cables.runs:
            figures = run_figures(cables, run)
            words = say(
                "cables.move-the-hand-lever-through-the-end-moves",
                stroke_mm=in_mm(cables.stroke_mm),
                travel=in_mm(figures.travel, 1),
                starts=in_mm(figures.starts * cables.stroke_mm, 1),
            )
            yield MechanismStep("cable", run.id, run.name, words)

    def count(self, tally: Tally, vehicle: Vehicle) -> None:
        """Count levers and cables."""
        for run in vehicle.cables.runs if vehicle.cables is not None else ():
            tally.add("holed lever", 0, run.name, len(run.levers))
            tally.add("cable", 0, run.name)
        tally.add("holed lever", 0, "hand lever", 1 if vehicle.cables is not None else 0)

    def templates(self, vehicle: Vehicle) -> Iterator[Template]:
        """List its levers with holes."""
        yield from cable_templates(vehicle)

    def chapter(self, vehicle: Vehicle, gear: str | None) -> Chapter | None:
        """Write its figures for the plan book."""
        return cables_chapter(vehicle, gear)

    def data(self, vehicle: Vehicle, drive: RunningState) -> Any:
        """Give how far every cable pulls."""
        if vehicle.cables is None:
            return None
        runs = [run_figures(vehicle.cables, run) for run in vehicle.cables.runs]
        return [
            {
                "name": run.run.name,
                "travel_mm": run.travel,
                "wanted_mm": run.run.wanted_mm,
                "jams": run.jams or None,
            }
            for run in runs
        ]

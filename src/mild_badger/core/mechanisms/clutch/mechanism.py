"""The clutch as a mechanism: findings, trial step, parts and figures."""

from collections.abc import Iterator
from typing import Any, ClassVar

from mild_badger.core.figures import in_mm, in_n_mm
from mild_badger.core.findings.finding import Finding
from mild_badger.core.mechanisms.base import Mechanism, MechanismStep, PageDescription, RunningState
from mild_badger.core.mechanisms.chapter import Chapter
from mild_badger.core.mechanisms.clutch.chapter import clutch_chapter
from mild_badger.core.mechanisms.clutch.edits import add_clutch, remove_clutch
from mild_badger.core.mechanisms.clutch.findings import clutch_findings
from mild_badger.core.mechanisms.clutch.grip import clutch_figures, lining_limit
from mild_badger.core.mechanisms.clutch.templates import clutch_templates
from mild_badger.core.message import say
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.tally import Tally

__all__ = ["ClutchMechanism"]


class ClutchMechanism(Mechanism):
    """A friction clutch before the box."""

    key: ClassVar[str] = "clutch"
    title: ClassVar[str] = say("clutch.clutch")
    data_key: ClassVar[str] = "clutch"
    page: ClassVar[PageDescription] = PageDescription("clutch", 3, say("clutch.clutch-2"))

    def planned(self, vehicle: Vehicle) -> bool:
        """Tell whether a vehicle has it."""
        return vehicle.clutch is not None

    def add(self, vehicle: Vehicle) -> Edit | None:
        """Plan it."""
        return add_clutch(vehicle)

    def remove(self, vehicle: Vehicle, number: int = 0) -> Edit:
        """Take it away."""
        return remove_clutch()

    def findings(self, vehicle: Vehicle) -> Iterator[Finding]:
        """Find where it slips or does not release."""
        yield from clutch_findings(vehicle)

    def steps(self, vehicle: Vehicle) -> Iterator[MechanismStep]:
        """Try that it parts and that it holds."""
        if vehicle.clutch is None:
            return
        clutch = clutch_figures(vehicle.clutch)
        words = say(
            "clutch.press-its-lever-the-driven-side-must-stand",
            pedal_needed=in_mm(clutch.pedal_needed, 1),
            wear=in_n_mm(clutch.wear, 0),
        )
        yield MechanismStep("clutch", "", "", words)

    def count(self, tally: Tally, vehicle: Vehicle) -> None:
        """Count linings, plates and the shaft."""
        if vehicle.clutch is not None:
            tally.add("lining", 0, "clutch", vehicle.clutch.faces)
            tally.add("clutch plate", 0, "clutch", vehicle.clutch.faces + 1)
            tally.add("shaft", 0, "clutch")

    def templates(self, vehicle: Vehicle) -> Iterator[Template]:
        """List rings of lining."""
        yield from clutch_templates(vehicle)

    def chapter(self, vehicle: Vehicle, gear: str | None) -> Chapter | None:
        """Write its figures for the plan book."""
        return clutch_chapter(vehicle, gear)

    def data(self, vehicle: Vehicle, drive: RunningState) -> Any:
        """Give what it holds and what it takes to release it."""
        if vehicle.clutch is None:
            return None
        clutch = clutch_figures(vehicle.clutch)
        return {
            "uniform_wear_n_mm": clutch.wear,
            "uniform_pressure_n_mm": clutch.pressure,
            "worn_n_mm": clutch.worn,
            "release_n": clutch.release_n,
            "pressure_n_mm2": clutch.pressure_n_mm2,
            "lining_stands_n_mm2": lining_limit(vehicle.clutch),
        }

"""The display engine as a mechanism: findings, trial step, parts and figures."""

from collections.abc import Iterator
from typing import Any, ClassVar

from mild_badger.core.findings.finding import Finding
from mild_badger.core.mechanisms.base import Mechanism, MechanismStep, PageDescription, RunningState
from mild_badger.core.mechanisms.chapter import Chapter
from mild_badger.core.mechanisms.display.chapter import display_chapter
from mild_badger.core.mechanisms.display.edits import add_engine, remove_engine
from mild_badger.core.mechanisms.display.findings import display_findings
from mild_badger.core.mechanisms.display.result import crank_turns, display_result
from mild_badger.core.mechanisms.display.templates import engine_templates
from mild_badger.core.message import say
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.tally import Tally

__all__ = ["DisplayMechanism"]


class DisplayMechanism(Mechanism):
    """Cylinders whose pistons move with the drive."""

    key: ClassVar[str] = "display"
    title: ClassVar[str] = say("display.display-engine")
    data_key: ClassVar[str] = "display_engine"
    page: ClassVar[PageDescription] = PageDescription("engine", 1, "display engine")

    def planned(self, vehicle: Vehicle) -> bool:
        """Tell whether a vehicle has it."""
        return vehicle.display_engine is not None

    def add(self, vehicle: Vehicle) -> Edit | None:
        """Plan it."""
        return add_engine(vehicle)

    def remove(self, vehicle: Vehicle, number: int = 0) -> Edit:
        """Take it away."""
        return remove_engine()

    def findings(self, vehicle: Vehicle) -> Iterator[Finding]:
        """Find throws that are wrong and crank speeds that rattle."""
        yield from display_findings(vehicle)

    def steps(self, vehicle: Vehicle) -> Iterator[MechanismStep]:
        """Turn the crank by hand."""
        engine = vehicle.display_engine
        if engine is None:
            return
        turns = crank_turns(vehicle, None) if engine.drive == "motor" else None
        often = say("display.for-one-turn-of-the-motor", turns=abs(float(turns))) if turns else ""
        words = say(
            "display.turn-the-crank-twice-round-by-hand-nothing",
            listed="-".join(map(str, engine.order)),
            often=often,
        )
        yield MechanismStep("display engine", "", "", words)

    def count(self, tally: Tally, vehicle: Vehicle) -> None:
        """Count its gears and their shaft."""
        if vehicle.display_engine is not None:
            tally.train(vehicle.display_engine.pairs, "display engine", free=None)
            tally.add("shaft", 0, "display engine", 1 if vehicle.display_engine.pairs else 0)

    def templates(self, vehicle: Vehicle) -> Iterator[Template]:
        """List rods, webs and jig."""
        yield from engine_templates(vehicle)

    def chapter(self, vehicle: Vehicle, gear: str | None) -> Chapter | None:
        """Write its figures for the plan book."""
        return display_chapter(vehicle, gear)

    def data(self, vehicle: Vehicle, drive: RunningState) -> Any:
        """Give how it fires and how fast it turns."""
        engine = display_result(vehicle, drive.gear, drive.rpm)
        if engine is None:
            return None
        return {
            "crank_rpm": engine.rpm,
            "intervals_deg": list(engine.firing.intervals_deg),
            "even": engine.firing.even,
            "wrong_throws": [w.cylinder for w in engine.wrong],
        }

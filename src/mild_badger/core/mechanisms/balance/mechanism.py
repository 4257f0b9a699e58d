"""The balance of a machine with a boom as a mechanism: findings, trial step, figures."""

from collections.abc import Iterator
from typing import Any, ClassVar

from mild_badger.core.figures import in_a_row, in_kg, in_mm, in_n
from mild_badger.core.findings.finding import Finding
from mild_badger.core.mechanisms.balance.chapter import balance_chapter
from mild_badger.core.mechanisms.balance.edits import add_balance, remove_balance
from mild_badger.core.mechanisms.balance.figures import balance_figures
from mild_badger.core.mechanisms.balance.findings import balance_findings
from mild_badger.core.mechanisms.balance.statics import Stability
from mild_badger.core.mechanisms.base import Mechanism, MechanismStep, PageDescription, RunningState
from mild_badger.core.mechanisms.chapter import Chapter
from mild_badger.core.mechanisms.plain import finite
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["BalanceMechanism"]


class BalanceMechanism(Mechanism):
    """Whether a machine with a boom stands."""

    key: ClassVar[str] = "balance"
    title: ClassVar[str] = say("balance.balance")
    data_key: ClassVar[str] = "balance"
    page: ClassVar[PageDescription] = PageDescription("balance", 7, say("balance.balance-plan"))

    def planned(self, vehicle: Vehicle) -> bool:
        """Tell whether a vehicle has it."""
        return vehicle.balance is not None

    def add(self, vehicle: Vehicle) -> Edit | None:
        """Plan it."""
        return add_balance(vehicle)

    def remove(self, vehicle: Vehicle, number: int = 0) -> Edit:
        """Take it away."""
        return remove_balance()

    def findings(self, vehicle: Vehicle) -> Iterator[Finding]:
        """Find where it tips."""
        yield from balance_findings(vehicle)

    def steps(self, vehicle: Vehicle) -> Iterator[MechanismStep]:
        """Hang the load where the machine stands worst."""
        balance = balance_figures(vehicle)
        if balance is None or vehicle.balance is None:
            return
        worst = balance.loaded
        feet = in_a_row(in_n(n, 1) for n in worst.feet_n)
        words = say(
            "balance.put-the-boom-at-and-hands-clear-and-hang-on",
            slew_deg=worst.slew_deg,
            reach_mm=in_mm(worst.reach_mm, 0),
            load_kg=in_kg(vehicle.balance.load_kg),
            feet=feet,
        )
        yield MechanismStep("balance", "", "", words)

    def chapter(self, vehicle: Vehicle, gear: str | None) -> Chapter | None:
        """Write its figures for the plan book."""
        return balance_chapter(vehicle, gear)

    def data(self, vehicle: Vehicle, drive: RunningState) -> Any:
        """Give how it stands here and at its worst, and the load chart."""
        balance = balance_figures(vehicle)
        if balance is None:
            return None
        chart = balance.chart
        return {
            "here": _standing(balance.here),
            "worst_loaded": _standing(balance.loaded),
            "worst_empty": _standing(balance.empty),
            "road": _standing(balance.road),
            "ballast_kg": None if balance.window is None else [finite(kg) for kg in balance.window],
            "load_chart": [
                {"reach_mm": mm, "allowed_kg": finite(allowed), "tips_kg": finite(tips)}
                for mm, allowed, tips in zip(
                    chart.reach_mm, chart.allowed_kg, chart.tips_kg, strict=True
                )
            ],
        }


def _standing(stability: Stability) -> dict[str, Any]:
    return {
        "slew_deg": stability.slew_deg,
        "reach_mm": stability.reach_mm,
        "margin_mm": stability.margin_mm,
        "factor": finite(stability.factor),
        "edge": stability.edge,
        "feet_n": list(stability.feet_n),
    }

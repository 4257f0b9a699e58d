"""The bearings of a machine as a mechanism: findings and figures."""

from collections.abc import Iterator
from typing import Any, ClassVar

from mild_badger.core.findings.finding import Finding
from mild_badger.core.mechanisms.base import Mechanism, PageDescription, RunningState
from mild_badger.core.mechanisms.bearings.findings import bearing_findings
from mild_badger.core.mechanisms.bearings.rows import bearing_rows
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["BearingsMechanism"]


class BearingsMechanism(Mechanism):
    """What bears on every bearing, and from what it may be made."""

    key: ClassVar[str] = "bearings"
    title: ClassVar[str] = say("core.bearings")
    data_key: ClassVar[str] = "bearings"
    page: ClassVar[PageDescription] = PageDescription("bearings", 8)
    has_chapter: ClassVar[bool] = False

    def findings(self, vehicle: Vehicle) -> Iterator[Finding]:
        """Find bearings that do not serve."""
        yield from bearing_findings(vehicle)

    def data(self, vehicle: Vehicle, drive: RunningState) -> Any:
        """Give the load, the speed and what serves."""
        return [
            {
                "name": row.name,
                "load_n": row.load.load_n,
                "rpm": row.load.rpm,
                "serve": [judged.kind for judged in row.judged if judged.serves],
            }
            for row in bearing_rows(vehicle)
        ]

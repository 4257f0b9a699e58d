"""What every mechanism offers: whether it is planned, its findings, trial steps, parts, figures."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, ClassVar

from mild_badger.core.findings.finding import Finding
from mild_badger.core.mechanisms.chapter import Chapter
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.tally import Tally

__all__ = ["Mechanism", "MechanismStep", "PageDescription", "RunningState"]


@dataclass(frozen=True)
class RunningState:
    """How a vehicle runs when figures are asked for.

    ``gear`` is the one that drives, None in neutral or with the clutch released; ``chosen`` the one
    that is engaged; ``rpm`` the motor's speed.
    """

    gear: str | None
    chosen: str | None
    rpm: float


@dataclass(frozen=True)
class MechanismStep:
    """A step of the trial list: kind of thing, id and name where there are several, what to see."""

    kind: str
    id: str
    name: str
    words: str


@dataclass(frozen=True)
class PageDescription:
    """Where the window shows a mechanism: the page's key and its place among the pages, from 1.

    ``thing`` is what is added and removed there, "" where nothing is.
    """

    key: str
    place: int
    thing: str = ""


class Mechanism:
    """One mechanism of a vehicle.

    ``key`` names its chapter of the plan book, ``title`` is what it is called, ``data_key`` what
    its figures stand under in a report, ``page`` where the window shows it.
    """

    key: ClassVar[str]
    title: ClassVar[str]
    data_key: ClassVar[str]
    page: ClassVar[PageDescription]
    has_chapter: ClassVar[bool] = True

    def planned(self, vehicle: Vehicle) -> bool:
        """Tell whether a vehicle has it; what follows from other parts is never planned."""
        return False

    def add(self, vehicle: Vehicle) -> Edit | None:
        """Plan it, or one more where there may be several; None where no more fits."""
        return None

    def remove(self, vehicle: Vehicle, number: int = 0) -> Edit:
        """Take it away, or the one of a number where there may be several."""
        raise NotImplementedError

    def findings(self, vehicle: Vehicle) -> Iterator[Finding]:
        """Find what is wrong with it."""
        yield from ()

    def steps(self, vehicle: Vehicle) -> Iterator[MechanismStep]:
        """List what to try at it."""
        yield from ()

    def count(self, tally: Tally, vehicle: Vehicle) -> None:
        """Count its parts; lengths in tenths of a millimetre."""

    def templates(self, vehicle: Vehicle) -> Iterator[Template]:
        """List the templates of what is made for it."""
        yield from ()

    def chapter(self, vehicle: Vehicle, gear: str | None) -> Chapter | None:
        """Write its chapter of the plan book, in a gear; None where it is not planned or has none.

        One that never has a chapter says so by ``has_chapter``.
        """
        return None

    def data(self, vehicle: Vehicle, drive: RunningState) -> Any:
        """Give its figures as plain data: mm, N, N·mm, kg, rpm; None where it is not planned."""
        return None

"""Where a box's main shafts stand and what is keyed to them whatever the trains: its places.

The layout turns them into a stack of layers in mm; here stands only what the architecture says.
"""

from dataclasses import dataclass
from typing import NamedTuple

from mild_badger.core.ids import ShaftId
from mild_badger.core.vehicle.bodies import input_shaft, row_gear, selector_shaft, tie_gear
from mild_badger.core.vehicle.box import Link

__all__ = ["Columns", "InLine", "RowGear", "Series", "Stage", "StagePair"]


@dataclass(frozen=True)
class InLine:
    """Main shafts at the box's one centre distance, its pairs side by side along them.

    Gears' own pairs lead from ``driving`` to ``driven``. ``coaxial`` says that input and output
    stand in one line, either side of a middle wall; the ``shared`` pairs, from the input to
    ``driving``, stand before that wall.
    """

    driving: ShaftId
    driven: ShaftId
    coaxial: bool = False
    shared: tuple[Link, ...] = ()


class StagePair(NamedTuple):
    """A pair of a stage: its link, and the sleeve and face that couple its free driven gear.

    A pair without a sleeve is in constant mesh, its gears fixed on both shafts.
    """

    link: Link
    sleeve: str | None = None
    face: str = ""


@dataclass(frozen=True)
class Stage:
    """Pairs side by side between two shafts, at one distance; sleeves sit on the driven one."""

    driving: ShaftId
    driven: ShaftId
    pairs: tuple[StagePair, ...]


@dataclass(frozen=True)
class Series:
    """A box whose power passes stages one after another, those of a bay between the same walls.

    The first shaft of all is the input, the driven one of the last bay the output; every other one
    reaches through the whole box.
    """

    bays: tuple[tuple[Stage, ...], ...]


class RowGear(NamedTuple):
    """A gear of drive row or tie: its body, its shaft, its teeth, and whether it is of the tie."""

    body: str
    shaft: ShaftId
    teeth: int
    tie: bool


@dataclass(frozen=True)
class Columns:
    """Columns side by side, each with a selector shaft, a sleeve and the input that feeds it.

    Where ``by_row``, a row of equal gears feeds each column by an input shaft of its own, else one
    input shaft feeds all. ``row_teeth`` and ``tie_teeth`` are those rows' gears.
    """

    count: int
    by_row: bool
    row_teeth: int
    tie_teeth: int

    def input_of(self, column: int) -> ShaftId:
        """Name the input shaft that feeds a column."""
        return input_shaft(column if self.by_row else 1)

    def gears(self) -> tuple[RowGear, ...]:
        """List the gears of both rows, none where there is one column."""
        if self.count < 2:
            return ()
        numbers = range(1, self.count + 1)
        ties = (RowGear(tie_gear(n), selector_shaft(n), self.tie_teeth, True) for n in numbers)
        fed = (RowGear(row_gear(n), input_shaft(n), self.row_teeth, False) for n in numbers)
        return (*ties, *fed) if self.by_row else (*ties,)

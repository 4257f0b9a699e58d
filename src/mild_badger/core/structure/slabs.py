"""A box laid out slab by slab along its shafts: walls, gears and what stands between them."""

from itertools import accumulate
from math import ceil

from mild_badger.core.kit.part_sizes import tip_mm
from mild_badger.core.structure.stack import Disc, SlabKind
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["SlabBuilder"]

SHARE: dict[SlabKind, float] = {"wall": 1.0, "gears": 0.5, "row": 0.5}
"""What of the gap beside a gear a slab's neighbour leaves it."""


class SlabBuilder:
    """Adds slabs one after another, and the gears in them; widths in mm."""

    def __init__(self, vehicle: Vehicle) -> None:
        self.vehicle, self.kit = vehicle, vehicle.kit
        self.slabs: list[tuple[str, float, SlabKind]] = []
        self.discs: list[Disc] = []

    @property
    def kinds(self) -> tuple[SlabKind, ...]:
        """What each slab is."""
        return tuple(kind for *_, kind in self.slabs)

    def add(self, name: str, width_mm: float, kind: SlabKind) -> int:
        """Add a slab and give its number."""
        self.slabs.append((name, width_mm, kind))
        return len(self.slabs) - 1

    def wall(self, name: str) -> int:
        """Add a wall."""
        return self.add(name, self.wall_mm, "wall")

    def gears(self, name: str, pair: GearPair) -> int:
        """Add a slab as wide as a pair's gears, on a grid whole units."""
        return self.add(name, self.on_grid(self.width_of(pair)), "gears")

    def on_grid(self, width_mm: float) -> float:
        """Give the room that something so wide takes: whole units on a grid."""
        unit = self.kit.grid_unit_mm
        return width_mm if self.kit.any_seat else ceil(width_mm / unit - 1e-9) * unit

    def disc(self, body: str, teeth: int, shaft: str, slab: int) -> None:
        """Put a gear on a shaft into a slab."""
        self.discs.append(Disc(body, shaft, slab, tip_mm(self.kit, teeth), teeth))

    @property
    def wall_mm(self) -> float:
        """How thick walls are: one unit on a grid."""
        return self.vehicle.frame.wall_mm if self.kit.any_seat else self.kit.grid_unit_mm

    def width_of(self, pair: GearPair) -> float:
        """How wide a pair's gears are."""
        widths = [s.face_width_mm for z in (pair.driver, pair.driven) if (s := self.kit.size(z))]
        return max(widths, default=self.kit.grid_unit_mm)

    def spaced(self) -> tuple[tuple[float, ...], tuple[float, ...]]:
        """Give where slabs begin and how far their gears stand in from there.

        Beside gears and walls is a gap, shared between two gears; before a wall the end play too.
        On a grid slabs follow one another, and gears stand in their middle.
        """
        if not self.kit.any_seat:
            return (0.0, *accumulate(width for _, width, _ in self.slabs)), ()
        kinds, play = self.kinds, self.vehicle.frame.end_play_mm
        gap = self.vehicle.frame.gap_mm
        widths, lefts = [], []
        for number, (_, width, _) in enumerate(self.slabs):
            left = right = 0.0
            if kinds[number] in ("gears", "row", "hub"):
                left, right = (SHARE.get(kinds[n], 0.0) * gap for n in (number - 1, number + 1))
            if kinds[number] != "wall" and kinds[number + 1] == "wall":
                right += play
            widths.append(left + width + right)
            lefts.append(left)
        return (0.0, *accumulate(widths)), tuple(lefts)

"""A gearbox as a line diagram: shafts as lines, pairs across them, sleeves between pairs.

Places along the box count cells from the input end; levels count shafts from the top. For boxes
whose pairs stand between shafts; the slot box has a diagram of its own.
"""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

from mild_badger.core.vehicle.box import Face, GearPair, Link, Slot, gear_key
from mild_badger.core.vehicle.train import Role

__all__ = ["Crossing", "Scheme", "SchemeLine", "SchemeSketch", "SchemeSleeve"]


@dataclass(frozen=True)
class SchemeLine:
    """A shaft from one place to another."""

    name: str
    level: int
    start: float
    end: float


@dataclass(frozen=True)
class Crossing:
    """A pair between two levels; ``gears`` pass it, ``active`` is on the engaged gear's way."""

    key: str
    pair: GearPair
    place: float
    from_level: int
    to_level: int
    gears: tuple[str, ...]
    active: bool


@dataclass(frozen=True)
class SchemeSleeve:
    """A sleeve or slider; ``front`` and ``back`` name the gears it engages either way.

    ``column`` is its number where gears may change places, 0 in a range × splitter box.
    """

    place: float
    level: int
    front: tuple[str, ...]
    back: tuple[str, ...]
    position: Face | None
    front_direct: bool = False
    back_direct: bool = False
    column: int = 0


@dataclass(frozen=True)
class Scheme:
    """The whole diagram."""

    lines: tuple[SchemeLine, ...]
    crossings: tuple[Crossing, ...]
    couplings: tuple[SchemeSleeve, ...]
    levels: int
    places: float


class SchemeSketch:
    """Collects a diagram, with a gear engaged or none."""

    def __init__(self, gear: str | None, chain: Iterable[Link]) -> None:
        """Begin with nothing; ``chain`` is what the power passes in the gear."""
        self.gear = gear
        self.active = {(link.key, link.number) for link in chain}
        self.crossings: list[Crossing] = []
        self.sleeves: list[SchemeSleeve] = []

    def cross(
        self,
        key: str,
        pair: GearPair,
        place: float,
        levels: tuple[int, int],
        gears: Iterable[str],
    ) -> None:
        """Add a pair across two levels."""
        active = (key, 0) in self.active
        self.crossings.append(Crossing(key, pair, place, *levels, tuple(gears), active))

    def columns(
        self,
        slots: Sequence[Slot],
        columns: Iterable[int],
        start: float,
        levels: tuple[int, int],
        couples: Callable[[str], Role] = lambda _gear: "driven",
    ) -> float:
        """Lay out columns of two pairs with their sleeve between; give the place after them.

        ``couples`` says on which gear's level a gear's sleeve sits.
        """
        place = start
        for column in columns:
            faces: dict[str, Slot] = {s.face: s for s in slots if s.column == column}
            for face in ("front", "sleeve", "back"):
                if face == "sleeve":
                    roles = {couples(slot.gear) for slot in faces.values()}
                    level = levels[0] if roles == {"driver"} else levels[1]
                    self.sleeves.append(self._sleeve(column, faces, place, level))
                elif face in faces and faces[face].train:
                    slot = faces[face]
                    self.cross(gear_key(slot.gear), slot.train[0], place, levels, [slot.gear])
                elif face not in faces and not (face == "front" and place == start):
                    continue
                place += 1
        return place

    def _sleeve(
        self, column: int, faces: dict[str, Slot], place: float, level: int
    ) -> SchemeSleeve:
        front, back = faces.get("front"), faces.get("back")
        position: Face | None = None
        for slot in (front, back):
            if slot is not None and slot.gear == self.gear:
                position = slot.face
        return SchemeSleeve(
            place,
            level,
            (front.gear,) if front else (),
            (back.gear,) if back else (),
            position,
            bool(front and front.direct),
            bool(back and back.direct),
            column,
        )

    def scheme(self, lines: Iterable[SchemeLine], levels: int, places: float) -> Scheme:
        """Give the diagram."""
        return Scheme(tuple(lines), tuple(self.crossings), tuple(self.sleeves), levels, places)

"""A gearbox as a line diagram: shafts as lines, pairs across them, sleeves between pairs.

Places along the box count cells from the input end; levels count shafts from the top. For boxes
whose pairs stand between shafts; the slot box has a diagram of its own.
"""

from dataclasses import dataclass

from mild_badger.core.drivetrain.boxes import sleeves_of
from mild_badger.core.vehicle.box import (
    Box,
    Face,
    GearPair,
    LayshaftBox,
    LeverBox,
    RangeBox,
    Slot,
    TwinLayshaftBox,
    TwoShaftBox,
    gear_key,
)
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["Coupling", "Crossing", "Line", "Scheme", "box_scheme"]


@dataclass(frozen=True)
class Line:
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
class Coupling:
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

    lines: tuple[Line, ...]
    crossings: tuple[Crossing, ...]
    couplings: tuple[Coupling, ...]
    levels: int
    places: float


def box_scheme(vehicle: Vehicle, gear: str | None) -> Scheme | None:
    """Lay a box out as lines, in the engaged gear; None for a slot box."""
    box = vehicle.box
    match box:
        case LayshaftBox() | TwoShaftBox():
            return _Layout(box, gear).between_two()
        case TwinLayshaftBox():
            return _Layout(box, gear).twin()
        case RangeBox():
            return _Layout(box, gear).ranges()
        case _:
            return None


class _Layout:
    def __init__(self, box: Box, gear: str | None) -> None:
        self.box, self.gear = box, gear
        self.closed = sleeves_of(box, gear) if gear is not None else {}
        self.active = {(x.key, x.number) for x in box.chain(gear)} if gear is not None else set()
        self.crossings: list[Crossing] = []
        self.couplings: list[Coupling] = []

    def cross(
        self, key: str, pair: GearPair, place: float, levels: tuple[int, int], gears: list[str]
    ) -> None:
        self.crossings.append(
            Crossing(key, pair, place, *levels, tuple(gears), (key, 0) in self.active)
        )

    def columns(self, columns: list[int], start: float, levels: tuple[int, int]) -> float:
        """Lay out columns of two pairs with their sleeve between; give the place after them."""
        if isinstance(self.box, RangeBox | LeverBox):
            return start
        sleeve_level = levels[1]
        place = start
        for column in columns:
            found: dict[str, Slot] = {s.face: s for s in self.box.slots if s.column == column}
            for face in ("front", "sleeve", "back"):
                if face == "sleeve":
                    self.couplings.append(self._coupling(column, found, place, sleeve_level))
                elif face in found and found[face].train:
                    slot = found[face]
                    self.cross(gear_key(slot.gear), slot.train[0], place, levels, [slot.gear])
                elif face not in found and not (face == "front" and place == start):
                    continue
                place += 1
        return place

    def _coupling(self, column: int, found: dict[str, Slot], place: float, level: int) -> Coupling:
        front, back = found.get("front"), found.get("back")
        position: Face | None = None
        for slot in (front, back):
            if slot is not None and slot.gear == self.gear:
                position = slot.face
        return Coupling(
            place,
            level,
            (front.gear,) if front else (),
            (back.gear,) if back else (),
            position,
            bool(front and front.direct),
            bool(back and back.direct),
            column,
        )

    def between_two(self) -> Scheme:
        box = self.box
        numbers = sorted({slot.column for slot in box.slots if isinstance(slot, Slot)})
        lines: tuple[Line, ...]
        if isinstance(box, LayshaftBox):
            for pair in box.input_pair:
                every = [s.gear for s in box.slots if not s.direct]
                self.cross("input pair", pair, 0.0, (0, 1), every)
            # the direct gear's sleeve stands next to the input
            numbers.sort(key=lambda n: not any(s.direct and s.column == n for s in box.slots))
            end = self.columns(numbers, 1.0, (1, 0))
            lines = (
                Line("input", 0, -0.7, 0.45),
                Line("layshaft", 1, -0.4, end - 0.4),
                Line("output", 0, 0.75, end + 0.3),
            )
        else:
            end = self.columns(numbers, 0.0, (0, 1))
            lines = (
                Line("input", 0, -0.7, end - 0.4),
                Line("output", 1, -0.4, end + 0.3),
            )
        return Scheme(lines, tuple(self.crossings), tuple(self.couplings), 2, end)

    def twin(self) -> Scheme:
        box = self.box
        if not isinstance(box, TwinLayshaftBox):
            raise TypeError(box)
        columns = sorted({slot.column for slot in box.slots})
        ends = [
            self.columns([c for c in columns if box.layshaft(c) == number], start, (1, level))
            for number, level, start in ((0, 0, 0.0), (1, 2, 0.5))
        ]
        end = max(*ends, 1.0)
        for number, (key, _, train) in enumerate(box.shared()):
            gears = [s.gear for s in box.slots if box.layshaft(s.column) == number]
            for pair in train:
                self.cross(key, pair, end + 0.5 * number, (2 * number, 1), gears)
        lines = (
            Line("layshaft 1", 0, -0.4, end + 0.4),
            Line("input", 1, -0.7, end - 0.6),
            Line("output", 1, end - 0.3, end + 1.2),
            Line("layshaft 2", 2, 0.1, end + 0.9),
        )
        return Scheme(lines, tuple(self.crossings), tuple(self.couplings), 3, end + 1)

    def ranges(self) -> Scheme:
        box = self.box
        if not isinstance(box, RangeBox):
            raise TypeError(box)
        place = 0.0
        middle = 0.0
        for kind, trains, levels in (
            ("splitter", box.splitter, (0, 1)),
            ("range", box.ranges, (1, 2)),
        ):
            middle = place if kind == "range" else middle
            for number, train in enumerate(trains, start=1):
                gears = [
                    s.gear
                    for s in box.slots
                    if (s.splitter if kind == "splitter" else s.range) == number
                ]
                for pair in train:
                    self.cross(f"{kind} {number}", pair, place, levels, gears)
                place += 1
                if number % 2:
                    back = [
                        s.gear
                        for s in box.slots
                        if (s.splitter if kind == "splitter" else s.range) == number + 1
                    ]
                    position = self.closed.get(f"{kind} sleeve.{(number + 1) // 2}")
                    face: Face | None = None
                    if position is not None:
                        face = "front" if position == "front" else "back"
                    self.couplings.append(
                        Coupling(place, levels[1], tuple(gears), tuple(back), face)
                    )
                    place += 1
            place += 0.5
        lines = (
            Line("input", 0, -0.7, max(middle - 0.8, 0.4)),
            Line("middle", 1, -0.4, place - 0.6),
            Line("output", 2, middle - 0.2, place + 0.2),
        )
        return Scheme(lines, tuple(self.crossings), tuple(self.couplings), 3, place)

"""Range × splitter: two small boxes in series, whose pairs make every gear between them."""

from collections.abc import Sequence
from typing import ClassVar

from mild_badger.core.architectures.base import Architecture, SetSearch
from mild_badger.core.architectures.places import Series, Stage, StagePair
from mild_badger.core.architectures.scheme import Scheme, SchemeLine, SchemeSketch, SchemeSleeve
from mild_badger.core.drivetrain.builder import Builder
from mild_badger.core.drivetrain.graph import dog
from mild_badger.core.message import say
from mild_badger.core.ratios.box_question import BoxMatch, BoxQuestion
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.ratios.ranges import match_ranges
from mild_badger.core.vehicle.bodies import input_shaft
from mild_badger.core.vehicle.box import Face, RangeSlot, links_of
from mild_badger.core.vehicle.boxes import RangeBox
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.tally import Tally

__all__ = ["RangeArchitecture"]

MIDDLE = "middle"


class RangeArchitecture(Architecture[RangeBox]):
    """Splitter pairs from input to middle shaft, range pairs on to the output."""

    model: ClassVar[type[RangeBox]] = RangeBox
    shafts: ClassVar[int] = 3

    def __init__(self) -> None:
        self.searches = (SetSearch("range-splitter", self.title, search_ranges),)

    def blank(self, gears: Sequence[str]) -> RangeBox:
        """Give either small box two empty pairs; gears say later which they take."""
        return RangeBox(splitter=((), ()), ranges=((), ()))

    def between(
        self, builder: Builder, box: RangeBox, start: str, end: str, motor_turns: int
    ) -> None:
        """Add the middle shaft and all pairs, each with its side of a sleeve."""
        middle = builder.shaft(MIDDLE, say("core.middle"))
        for part, trains, first, last in (
            ("splitter", box.splitter, start, middle),
            ("range", box.ranges, middle, end),
        ):
            for number, train in enumerate(trains, start=1):
                if train:
                    key = f"{part} {number}"
                    free = builder.train(key, train, start=first, end=None, title=key.capitalize())
                    sleeve, position = box.sleeve(part, number)
                    builder.equations.append(dog(free, last, sleeve=sleeve, position=position))

    def places(self, box: RangeBox) -> Series:
        """Stand both small boxes one behind the other, coupled by the middle shaft."""
        bays = []
        for part, trains, driving, driven in (
            ("splitter", box.splitter, input_shaft(), MIDDLE),
            ("range", box.ranges, MIDDLE, box.output),
        ):
            pairs = []
            for number, train in enumerate(trains, start=1):
                sleeve, face = box.sleeve(part, number)
                links = links_of(f"{part} {number}", train)
                pairs += [StagePair(link, sleeve, face) for link in links]
            bays.append((Stage(driving, driven, tuple(pairs)),))
        return Series(tuple(bays))

    def layers(self, box: RangeBox) -> int:
        """Count all pairs and the sleeves."""
        return len(box.splitter) + len(box.ranges) + box.sleeves

    def count(self, tally: Tally, box: RangeBox, kit: Kit) -> None:
        """Count the three shafts, every pair with a free gear, and the sleeves."""
        tally.add("shaft", 0, "box", self.shafts)
        for shared in box.shared():
            tally.train(shared.train, shared.key, free="driven")
        tally.add("sleeve", 0, "box", box.sleeves)

    def scheme(self, box: RangeBox, gear: str | None) -> Scheme:
        """Draw the three shafts below one another, two pairs to a sleeve."""
        sketch = SchemeSketch(gear, box.chain(gear) if gear is not None else ())
        closed = box.engaged(gear) if gear is not None else {}
        place, middle = 0.0, 0.0
        for part, trains, levels in (
            ("splitter", box.splitter, (0, 1)),
            ("range", box.ranges, (1, 2)),
        ):
            middle = place if part == "range" else middle
            for number, train in enumerate(trains, start=1):
                gears = _passing(box, part, number)
                for pair in train:
                    sketch.cross(f"{part} {number}", pair, place, levels, gears)
                place += 1
                if number % 2:
                    position = closed.get(box.sleeve(part, number)[0])
                    face: Face | None = None
                    if position is not None:
                        face = "front" if position == "front" else "back"
                    back = _passing(box, part, number + 1)
                    sketch.sleeves.append(SchemeSleeve(place, levels[1], gears, back, face))
                    place += 1
            place += 0.5
        lines = (
            SchemeLine("input", 0, -0.7, max(middle - 0.8, 0.4)),
            SchemeLine("middle", 1, -0.4, place - 0.6),
            SchemeLine("output", 2, middle - 0.2, place + 0.2),
        )
        return sketch.scheme(lines, 3, place)


def _passing(box: RangeBox, part: str, number: int) -> tuple[str, ...]:
    """Name the gears that pass a pair."""
    return tuple(
        slot.gear
        for slot in box.slots
        if (slot.splitter if part == "splitter" else slot.range) == number
    )


def search_ranges(asked: BoxQuestion) -> BoxMatch | Impossible:
    """Find the best splitter and range pairs."""
    low, high = asked.bounds
    matched = match_ranges(
        asked.standings(),
        asked.goals,
        low=low,
        high=high,
        tolerance=asked.tolerance,
        have=asked.have(any_bore=asked.any_coupled),
        watch=asked.watch,
    )
    if isinstance(matched, Impossible):
        return matched
    slots = tuple(
        RangeSlot(gear=gear.goal.gear, splitter=i + 1, range=j + 1, kept=bool(gear.goal.kept))
        for gear, (i, j) in zip(matched.found.gears, matched.places, strict=True)
    )
    box = RangeBox(
        splitter=tuple((pair,) for pair in matched.splitter),
        ranges=tuple((pair,) for pair in matched.ranges),
        slots=slots,
    )
    return BoxMatch("range-splitter", matched.found, box, matched, proven=matched.proven)

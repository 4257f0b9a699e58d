"""Gearboxes as the document holds them: which gear is served by which trains, in which place.

Every architecture says the same of a gear: the *chain* of pairs that the power passes from the
box's input to its output, and the sleeves that engage it. Pairs that several gears pass (a
layshaft box's input pair, the pairs of a range) stand once and are shared.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction
from math import prod
from typing import Annotated, Literal, NamedTuple, Self

from pydantic import Field, model_validator

from mild_badger.core.ids import Identity
from mild_badger.core.vehicle.base import Length, Part, RefersTo, Teeth
from mild_badger.core.vehicle.edit.change import Path
from mild_badger.core.vehicle.lever_drive import LeverDrive
from mild_badger.core.vehicle.train import MAX_PAIRS, GearPair, Train, pair_id

__all__ = [
    "ARCHITECTURES",
    "LEVER_KEY",
    "MAX_GEARS",
    "MAX_PAIRS",
    "Between",
    "Box",
    "Face",
    "GearPair",
    "LayshaftBox",
    "LeverBox",
    "LeverPlace",
    "Link",
    "RangeBox",
    "RangeSlot",
    "Shared",
    "Slot",
    "SlotBox",
    "Train",
    "TwinLayshaftBox",
    "TwoShaftBox",
    "chain_ratio",
    "gear_key",
    "second_key",
    "summed",
]

MAX_GEARS = 24
LEVER_KEY = "lever drive"
"""The key of the train that drives a lever drive's throws."""

Face = Literal["front", "back"]

ARCHITECTURES: dict[str, str] = {
    "slot": "slot box",
    "layshaft": "layshaft box",
    "two-shaft": "two-shaft box",
    "twin-layshaft": "two parallel layshafts",
    "range-splitter": "range × splitter",
    "lever": "lever drive",
}
"""The architectures and what they are called on screen."""


GearRef = Annotated[Identity, RefersTo("gear")]
OnePair = Annotated[tuple[GearPair, ...], Field(max_length=1)]


class Slot(Part):
    """One gear's place: its sleeve and the side to which that sleeve moves, and its own train.

    An empty train means that nothing has been chosen yet, unless ``direct`` couples the box's
    input to its output. ``second`` is the other branch of a summing differential, whose housing is
    then what the sleeve engages. A ``kept`` train is left alone by the set's search.
    """

    gear: GearRef
    column: Annotated[int, Field(ge=1, le=MAX_GEARS)]
    face: Face
    train: Train = ()
    second: Train = ()
    direct: bool = False
    kept: bool = False

    @model_validator(mode="after")
    def _branches_go_together(self) -> Self:
        if self.second and not self.train:
            raise ValueError(f"gear {self.gear}: a summing differential takes two trains")
        if self.direct and self.train:
            raise ValueError(f"gear {self.gear}: a direct gear has no train of its own")
        return self


@dataclass(frozen=True)
class Link:
    """One pair on a gear's way: the train it belongs to, its number there, and the pair."""

    key: str
    number: int
    pair: GearPair

    @property
    def id(self) -> str:
        """The pair's id in its train."""
        return pair_id(self.pair, self.number)


class Between(NamedTuple):
    """Pairs that stand between the same two shafts, so at one centre distance."""

    name: str
    links: tuple[Link, ...]


class Shared(NamedTuple):
    """A train that several gears pass: its key, its field in the box, and what stands there."""

    key: str
    path: Path
    train: tuple[GearPair, ...]


def gear_key(gear: str) -> str:
    """Name the train that is a gear's own."""
    return f"gear {gear}"


def second_key(gear: str) -> str:
    """Name the second branch of a gear with a summing differential."""
    return f"{gear_key(gear)}, second"


def summed(one: Fraction, other: Fraction) -> Fraction:
    """Ratio of a summing differential: i = 2 / (1/i_a + 1/i_b) (domain.md §4)."""
    return 2 / (1 / one + 1 / other)


def chain_ratio(train: Iterable[GearPair]) -> Fraction:
    """Multiply up pairs in a row: turns in per turn out, positive, as idlers only turn over."""
    pairs = tuple(train)
    return Fraction(prod(p.driven for p in pairs), prod(p.driver for p in pairs))


class _SlottedBox(Part):
    """What boxes with one slot a gear have in common."""

    slots: Annotated[tuple[Slot, ...], Field(max_length=MAX_GEARS)] = ()

    @model_validator(mode="after")
    def _places_taken_once(self) -> Self:
        gears = [slot.gear for slot in self.slots]
        places = [(slot.column, slot.face) for slot in self.slots]
        for gear, place in zip(gears, places, strict=True):
            if gears.count(gear) > 1:
                raise ValueError(f"gear {gear} has two slots")
            if places.count(place) > 1:
                raise ValueError(f"two gears share the {place[1]} of column {place[0]}")
        return self

    @property
    def columns(self) -> int:
        """How many columns, one sleeve each, the box has: the highest one in use."""
        return max((slot.column for slot in self.slots), default=0)

    @property
    def sleeves(self) -> int:
        """How many sleeves are in use."""
        return len({slot.column for slot in self.slots})

    def slot(self, gear: str) -> Slot | None:
        """Find the slot that serves a gear."""
        return next((slot for slot in self.slots if slot.gear == gear), None)

    def ready(self, gear: str) -> bool:
        """Whether something has been chosen for a gear."""
        slot = self.slot(gear)
        return slot is not None and bool(slot.train or slot.direct)

    def shared(self) -> tuple[Shared, ...]:
        """List the trains that several gears pass."""
        return ()

    def between(self) -> tuple[Between, ...]:
        """Group the pairs that stand between the same two shafts; none where trains are free."""
        return ()

    def chain(self, gear: str) -> tuple[Link, ...]:
        """List the pairs from the box's input to its output in a gear."""
        return self._own(gear)

    def coupled(self, gear: str) -> tuple[GearPair, ...]:
        """List the pairs whose driven gear a sleeve couples, so that it must run free with dogs."""
        slot = self.slot(gear)
        return slot.train[-1:] if slot is not None and not slot.second else ()

    def _own(self, gear: str) -> tuple[Link, ...]:
        slot = self.slot(gear)
        train = slot.train if slot else ()
        return _links(gear_key(gear), train)


def _links(key: str, train: tuple[GearPair, ...]) -> tuple[Link, ...]:
    return tuple(Link(key, n, pair) for n, pair in enumerate(train))


class SlotBox(_SlottedBox):
    """A slot box (domain: every speed has a train that drives a free gear with dog faces).

    ``feed`` "rail": a row of equal gears hands the input to each column, so that neighbouring
    columns are driven in opposite ways; "shaft": one input shaft feeds every column. The selector
    shafts are tied by equal gears of ``tie_teeth``; the first one is the output.
    """

    architecture: Literal["slot"] = "slot"
    feed: Literal["rail", "shaft"] = "rail"
    rail_teeth: Teeth = 24
    tie_teeth: Teeth = 24

    @model_validator(mode="after")
    def _nothing_is_direct(self) -> Self:
        for slot in self.slots:
            if slot.direct:
                raise ValueError(f"gear {slot.gear}: a slot box has no direct gear")
        return self


class _ShaftBox(_SlottedBox):
    """Boxes whose gears sit between shafts that stand at one centre distance.

    ``engagement`` "dog": pairs are in constant mesh and sleeves couple the driven gear; "slide":
    the driven gear itself slides into mesh.
    """

    engagement: Literal["dog", "slide"] = "dog"

    @model_validator(mode="after")
    def _one_train_a_gear(self) -> Self:
        for slot in self.slots:
            if slot.second:
                raise ValueError(f"gear {slot.gear}: only a slot box has summing differentials")
            if len(slot.train) > 1:
                raise ValueError(
                    f"gear {slot.gear}: between two shafts sits one pair a gear, not "
                    f"{len(slot.train)}"
                )
        return self

    def coupled(self, gear: str) -> tuple[GearPair, ...]:
        """List the gear's own pair, unless its driven gear slides into mesh itself."""
        return () if self.engagement == "slide" else super().coupled(gear)


class LayshaftBox(_ShaftBox):
    """Three shafts: an input pair in constant mesh, then a pair a gear from layshaft to output.

    A ``direct`` gear couples the input to the output shaft, which stand in one line.
    """

    architecture: Literal["layshaft"] = "layshaft"
    input_pair: OnePair = ()

    def ready(self, gear: str) -> bool:
        """Whether a gear is direct, or has a pair behind an input pair."""
        slot = self.slot(gear)
        if slot is None:
            return False
        return slot.direct or bool(slot.train and self.input_pair)

    def shared(self) -> tuple[Shared, ...]:
        """List the input pair."""
        return (Shared("input pair", ("input_pair",), self.input_pair),)

    def chain(self, gear: str) -> tuple[Link, ...]:
        """List the input pair, then the gear's own."""
        own = self._own(gear)
        if not own:
            return ()
        return (*_links("input pair", self.input_pair), *own)

    def between(self) -> tuple[Between, ...]:
        """Group all: they stand between the layshaft and the line of input and output."""
        own = (link for slot in self.slots for link in self._own(slot.gear))
        return (Between("box", (*_links("input pair", self.input_pair), *own)),)


class TwoShaftBox(_ShaftBox):
    """Pairs between an input and an output shaft; the output turns against the input."""

    architecture: Literal["two-shaft"] = "two-shaft"

    @model_validator(mode="after")
    def _nothing_is_direct(self) -> Self:
        for slot in self.slots:
            if slot.direct:
                raise ValueError(f"gear {slot.gear}: a two-shaft box has no direct gear")
        return self

    def between(self) -> tuple[Between, ...]:
        """Group all: they stand between input and output."""
        own = tuple(link for slot in self.slots for link in self._own(slot.gear))
        return (Between("box", own),)


class TwinLayshaftBox(_ShaftBox):
    """Two parallel layshafts between a common input and a common output.

    A gear's own pair leads from the input to its layshaft; each layshaft's output pair leads on to
    the one output wheel. Odd columns sit on the first layshaft, even ones on the second.
    """

    architecture: Literal["twin-layshaft"] = "twin-layshaft"
    output_pairs: Annotated[tuple[OnePair, ...], Field(min_length=2, max_length=2)] = ((), ())

    @model_validator(mode="after")
    def _nothing_is_direct_here(self) -> Self:
        if any(slot.direct for slot in self.slots):
            raise ValueError("two parallel layshafts have no direct gear")
        return self

    def layshaft(self, column: int) -> int:
        """Which layshaft, 0 or 1, a column sits on."""
        return (column - 1) % 2

    def ready(self, gear: str) -> bool:
        """Whether a gear has a pair and its layshaft an output pair."""
        slot = self.slot(gear)
        if slot is None or not slot.train:
            return False
        return bool(self.output_pairs[self.layshaft(slot.column)])

    def shared(self) -> tuple[Shared, ...]:
        """List the two output pairs."""
        return tuple(
            Shared(f"output pair {n + 1}", ("output_pairs", n), train)
            for n, train in enumerate(self.output_pairs)
        )

    def chain(self, gear: str) -> tuple[Link, ...]:
        """List the gear's own pair, then its layshaft's output pair."""
        slot, own = self.slot(gear), self._own(gear)
        if slot is None or not own:
            return ()
        key, _, train = self.shared()[self.layshaft(slot.column)]
        return (*own, *_links(key, train))

    def between(self) -> tuple[Between, ...]:
        """Group by layshaft: each has its distance from the input, and one from the output."""
        groups = []
        for number, shared in enumerate(self.shared()):
            own = tuple(
                link
                for slot in self.slots
                if self.layshaft(slot.column) == number
                for link in self._own(slot.gear)
            )
            groups.append(Between(f"layshaft {number + 1}", own))
            groups.append(Between(shared.key, _links(shared.key, shared.train)))
        return tuple(groups)


class RangeSlot(Part):
    """Which splitter pair and which range pair make a gear; both count from 1."""

    gear: GearRef
    splitter: Annotated[int, Field(ge=1, le=MAX_GEARS)]
    range: Annotated[int, Field(ge=1, le=MAX_GEARS)]
    kept: bool = False


class RangeBox(Part):
    """Two small two-shaft boxes in series: m splitter pairs, then n range pairs, m × n speeds."""

    architecture: Literal["range-splitter"] = "range-splitter"
    splitter: Annotated[tuple[OnePair, ...], Field(max_length=MAX_GEARS)] = ()
    ranges: Annotated[tuple[OnePair, ...], Field(max_length=MAX_GEARS)] = ()
    slots: Annotated[tuple[RangeSlot, ...], Field(max_length=MAX_GEARS)] = ()

    @model_validator(mode="after")
    def _pairs_are_there(self) -> Self:
        gears = [slot.gear for slot in self.slots]
        for slot in self.slots:
            if gears.count(slot.gear) > 1:
                raise ValueError(f"gear {slot.gear} has two slots")
            if slot.splitter > len(self.splitter) or slot.range > len(self.ranges):
                raise ValueError(
                    f"gear {slot.gear} asks for splitter {slot.splitter} and range {slot.range}; "
                    f"there are {len(self.splitter)} and {len(self.ranges)}"
                )
        return self

    @property
    def columns(self) -> int:
        """How many columns of sleeves: two pairs share one, in either small box."""
        return self.sleeves

    @property
    def sleeves(self) -> int:
        """How many sleeves the two small boxes take."""
        return (len(self.splitter) + 1) // 2 + (len(self.ranges) + 1) // 2

    def slot(self, gear: str) -> RangeSlot | None:
        """Find the slot that serves a gear."""
        return next((slot for slot in self.slots if slot.gear == gear), None)

    def ready(self, gear: str) -> bool:
        """Whether both of a gear's pairs have been chosen."""
        return len(self.chain(gear)) > 1

    def shared(self) -> tuple[Shared, ...]:
        """List all pairs of either small box."""
        return (
            *(Shared(f"splitter {n + 1}", ("splitter", n), t) for n, t in enumerate(self.splitter)),
            *(Shared(f"range {n + 1}", ("ranges", n), t) for n, t in enumerate(self.ranges)),
        )

    def chain(self, gear: str) -> tuple[Link, ...]:
        """List the splitter pair, then the range pair."""
        slot = self.slot(gear)
        if slot is None:
            return ()
        first, then = self.splitter[slot.splitter - 1], self.ranges[slot.range - 1]
        if not first or not then:
            return ()
        return (
            Link(f"splitter {slot.splitter}", 0, first[0]),
            Link(f"range {slot.range}", 0, then[0]),
        )

    def coupled(self, gear: str) -> tuple[GearPair, ...]:
        """List both pairs: a sleeve couples either's driven gear."""
        return tuple(link.pair for link in self.chain(gear))

    def between(self) -> tuple[Between, ...]:
        """Group by small box: each has its own centre distance."""
        groups = []
        for name in ("splitter", "range"):
            found = (s for s in self.shared() if s.key.startswith(name))
            groups.append(
                Between(name, tuple(link for s in found for link in _links(s.key, s.train)))
            )
        return tuple(groups)


class LeverPlace(Part):
    """Where the fulcrum stands in a gear, from the lever's input pin."""

    gear: GearRef
    fulcrum_mm: Length
    kept: bool = False


class LeverBox(Part):
    """A stepless lever drive as the box; a gear is a mark at which its fulcrum stands.

    Ratchets turn the output one way whatever the motor does: there is no reverse in it.
    """

    architecture: Literal["lever"] = "lever"
    drive: LeverDrive = LeverDrive()
    slots: Annotated[tuple[LeverPlace, ...], Field(max_length=MAX_GEARS)] = ()

    @model_validator(mode="after")
    def _on_the_lever(self) -> Self:
        gears = [slot.gear for slot in self.slots]
        for slot in self.slots:
            if gears.count(slot.gear) > 1:
                raise ValueError(f"gear {slot.gear} has two places")
            if slot.fulcrum_mm >= self.drive.lever_mm:
                raise ValueError(
                    f"gear {slot.gear}: the fulcrum at {slot.fulcrum_mm:g} mm is beyond the end of "
                    f"the lever of {self.drive.lever_mm:g} mm"
                )
        return self

    @property
    def columns(self) -> int:
        """How many columns of sleeves: none."""
        return 0

    @property
    def sleeves(self) -> int:
        """How many sleeves: none, the fulcrum slides."""
        return 0

    def slot(self, gear: str) -> LeverPlace | None:
        """Find the place that serves a gear."""
        return next((slot for slot in self.slots if slot.gear == gear), None)

    def ready(self, gear: str) -> bool:
        """Whether the fulcrum has a place for a gear."""
        return self.slot(gear) is not None

    def shared(self) -> tuple[Shared, ...]:
        """List the pairs from the input to the throws."""
        return (Shared(LEVER_KEY, ("drive", "pairs"), self.drive.pairs),)

    def chain(self, gear: str) -> tuple[Link, ...]:
        """List the pairs before the throws; what the lever does comes on top."""
        return _links(LEVER_KEY, self.drive.pairs) if self.ready(gear) else ()

    def coupled(self, gear: str) -> tuple[GearPair, ...]:
        """List what a sleeve couples: nothing."""
        return ()

    def between(self) -> tuple[Between, ...]:
        """Group what stands between the same shafts: nothing has to."""
        return ()


Box = Annotated[
    SlotBox | LayshaftBox | TwoShaftBox | TwinLayshaftBox | RangeBox | LeverBox,
    Field(discriminator="architecture"),
]
"""The union of box architectures, told apart by ``architecture``."""

"""The gearboxes as the document holds them, one model an architecture."""

from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from mild_badger.core.figures import in_mm
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.message import say
from mild_badger.core.vehicle.base import Teeth
from mild_badger.core.vehicle.bodies import selector_shaft
from mild_badger.core.vehicle.box import (
    MAX_GEARS,
    Between,
    BoxBase,
    Engagement,
    Face,
    GearPair,
    GearRow,
    LeverPlace,
    Link,
    RangeSlot,
    Shared,
    Slot,
    Ways,
    gear_key,
    links_of,
)
from mild_badger.core.vehicle.sleeves import Rail, SleeveId
from mild_badger.core.vehicle.train import Role

__all__ = [
    "BOXES",
    "FULCRUM",
    "LEVER_KEY",
    "Box",
    "EitherSideBox",
    "LayshaftBox",
    "LeverBox",
    "NoBox",
    "RangeBox",
    "SlotBox",
    "SlottedBox",
    "TwinLayshaftBox",
    "TwoShaftBox",
    "free_place",
]

LEVER_KEY = "lever drive"
"""The key of the train that drives a lever drive's throws."""

FULCRUM = "fulcrum"
"""What slides in a lever box in place of a sleeve; its positions are the gears."""

OnePair = Annotated[tuple[GearPair, ...], Field(max_length=1)]


def free_place(slots: tuple[Slot, ...]) -> tuple[int, Face]:
    """Find the first place no slot takes, front before back, column by column."""
    taken = {(slot.column, slot.face) for slot in slots}
    column = 1
    faces: tuple[Face, Face] = ("front", "back")
    while True:
        for face in faces:
            if (column, face) not in taken:
                return column, face
        column += 1


class SlottedBox(BoxBase):
    """What boxes with one slot a gear have in common."""

    has_places: ClassVar[bool] = True
    slots: Annotated[tuple[Slot, ...], Field(max_length=MAX_GEARS)] = ()

    @model_validator(mode="after")
    def _places_taken_once(self) -> Self:
        gears = [slot.gear for slot in self.slots]
        places = [(slot.column, slot.face) for slot in self.slots]
        for gear, place in zip(gears, places, strict=True):
            if gears.count(gear) > 1:
                raise ValueError(say("vehicle.gear-has-two-slots", gear=gear))
            if places.count(place) > 1:
                raise ValueError(
                    say("vehicle.two-gears-share-the-of-column", place=place[1], place_2=place[0])
                )
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

    def own_keys(self) -> tuple[str, ...]:
        """List the key of every gear's train."""
        return tuple(gear_key(slot.gear) for slot in self.slots)

    def sleeve_at(self, column: int) -> SleeveId:
        """Give the sleeve, or the slider, of a column."""
        coupled = tuple([slot.gear for slot in self.slots if slot.column == column])
        return SleeveId.of("sleeve", column, coupled)

    def engaged(self, gear: str) -> dict[str, str]:
        """Give the sleeve that engages a gear and its side; none for a gear without a slot."""
        slot = self.slot(gear)
        return {self.sleeve_at(slot.column): slot.face} if slot else {}

    def chain(self, gear: str) -> tuple[Link, ...]:
        """List the pairs from the box's input to its output in a gear."""
        return self._own(gear)

    def coupled(self, gear: str) -> tuple[GearPair, ...]:
        """List the pairs of which a sleeve couples a gear, so that it must run free with dogs."""
        slot = self.slot(gear)
        return slot.train[-1:] if slot is not None and not slot.second else ()

    def _own(self, gear: str) -> tuple[Link, ...]:
        slot = self.slot(gear)
        train = slot.train if slot else ()
        return links_of(gear_key(gear), train)


class SlotBox(SlottedBox):
    """A slot box (domain: every speed has a train that drives a free gear with dog faces).

    ``feed`` "rail": a row of equal gears hands the input to each column, so that neighbouring
    columns are driven in opposite ways; "shaft": one input shaft feeds every column. The selector
    shafts are tied by equal gears of ``tie_teeth``; the first one is the output.
    """

    title: ClassVar[str] = say("vehicle.slot-box")
    free_trains: ClassVar[bool] = True
    architecture: Literal["slot"] = "slot"
    feed: Literal["rail", "shaft"] = "rail"
    rail_teeth: Teeth = 24
    tie_teeth: Teeth = 24

    @model_validator(mode="after")
    def _nothing_is_direct(self) -> Self:
        for slot in self.slots:
            if slot.direct:
                raise ValueError(say("vehicle.gear-a-slot-box-has-no-direct-gear", gear=slot.gear))
        return self

    @property
    def output(self) -> str:
        """The first selector shaft."""
        return selector_shaft()

    def rows(self, columns: int) -> tuple[GearRow, ...]:
        """List the drive row, where a row feeds the columns, and the tie."""
        if columns < 2:
            return ()
        tie = GearRow("selector tie", "tie_teeth", self.tie_teeth, columns)
        return (
            (GearRow("drive row", "rail_teeth", self.rail_teeth, columns), tie)
            if self.feed == "rail"
            else (tie,)
        )

    @property
    def alternates(self) -> bool:
        """Where one shaft feeds all columns: the tie turns every second one back."""
        return self.feed == "shaft"

    def flips(self, gear: str) -> bool:
        """Whether a gear stands in a column that turns the other way: every second on one shaft."""
        slot = self.slot(gear)
        column = slot.column if slot else free_place(self.slots)[0]
        return self.alternates and column % 2 == 0


class _ShaftBox(SlottedBox):
    """Boxes whose gears sit between shafts that stand at one centre distance.

    ``engagement`` "dog": pairs are in constant mesh and sleeves couple the driven gear; "slide":
    the driven gear itself slides into mesh.
    """

    engagement: Engagement = "dog"

    @model_validator(mode="after")
    def _one_train_a_gear(self) -> Self:
        for slot in self.slots:
            if slot.second:
                raise ValueError(say("vehicle.gear-only-a-slot-box-has-summing", gear=slot.gear))
            if len(slot.train) > 1:
                raise ValueError(
                    say(
                        "vehicle.gear-between-two-shafts-sits-one-pair-a-gear",
                        gear=slot.gear,
                        count_of_train=len(slot.train),
                    )
                )
        return self

    @property
    def engaged_by(self) -> Engagement:
        """As the builder chose."""
        return self.engagement

    def coupled(self, gear: str) -> tuple[GearPair, ...]:
        """List the gear's own pair, unless its driven gear slides into mesh itself."""
        return () if self.slides else super().coupled(gear)


class EitherSideBox(_ShaftBox):
    """Boxes of two rows of gears, either of which the sleeves may sit among.

    ``sleeves_on`` "driven": on the shaft that gears' own pairs drive; "driving": on the one they
    are driven from, with the driven gears fixed. Sliding gears are the driven ones always.
    ``shared_slider``: a forward gear and reverse on one slider have one driven gear for both, which
    slides from the one's driver to the other's idler.
    """

    sleeves_on: Literal["driven", "driving"] = "driven"
    shared_slider: bool = False

    def couples(self, gear: str) -> Role:
        """Give the gear on its sleeve's shaft: the output where the sleeve couples directly too."""
        slot = self.slot(gear)
        beside = (s.direct for s in self.slots if slot is not None and s.column == slot.column)
        if self.sleeves_on == "driven" or self.slides or any(beside):
            return "driven"
        return "driver"

    def sharing(self) -> tuple[tuple[Slot, Slot], ...]:
        """List the gears of one slider that are to have one driven gear, the forward one first."""
        if not (self.slides and self.shared_slider):
            return ()
        ahead = [slot for slot in self.slots if slot.train and not _turned_over(slot)]
        back = [slot for slot in self.slots if slot.train and _turned_over(slot)]
        return tuple((a, b) for a in ahead for b in back if a.column == b.column)

    def one_gear(self, column: int) -> bool:
        """Whether the two gears of a slider have one driven gear."""
        return any(
            a.column == column and a.train[-1].driven == b.train[-1].driven
            for a, b in self.sharing()
        )


def _turned_over(slot: Slot) -> bool:
    return sum(len(pair.idlers) for pair in slot.train) % 2 == 1


class LayshaftBox(EitherSideBox):
    """Three shafts: an input pair in constant mesh, then a pair a gear from layshaft to output.

    A ``direct`` gear couples the input to the output shaft, which stand in one line; its sleeve
    sits on the output whatever ``sleeves_on`` says, with the gear that shares it. A slider couples
    by dogs, or ``direct_by`` "ring" by its own gear's teeth, in a ring on the input's end.
    """

    title: ClassVar[str] = say("vehicle.layshaft-box")
    coaxial: ClassVar[bool] = True
    architecture: Literal["layshaft"] = "layshaft"
    direct_by: Literal["dogs", "ring"] = "dogs"
    input_pair: OnePair = ()

    def ringed(self, column: int) -> bool:
        """Whether a slider's gear enters a ring for the direct drive."""
        own = [slot for slot in self.slots if slot.column == column]
        sides = {slot.face: slot for slot in own}
        front, back = sides.get("front"), sides.get("back")
        if self.direct_by != "ring" or not self.slides or front is None or back is None:
            return False
        return front.direct and bool(back.train)

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
        return (*links_of("input pair", self.input_pair), *own)

    def between(self) -> tuple[Between, ...]:
        """Group all: they stand between the layshaft and the line of input and output."""
        own = (link for slot in self.slots for link in self._own(slot.gear))
        return (Between("box", (*links_of("input pair", self.input_pair), *own)),)

    def ways(self, gear: str) -> Ways | None:
        """Place a pair behind the input pair."""
        return Ways(self.between()[0], self.input_pair, ())


class TwoShaftBox(EitherSideBox):
    """Pairs between an input and an output shaft; the output turns against the input."""

    title: ClassVar[str] = say("vehicle.two-shaft-box")
    turns: ClassVar[Literal[1, -1]] = -1
    architecture: Literal["two-shaft"] = "two-shaft"

    @model_validator(mode="after")
    def _nothing_is_direct(self) -> Self:
        for slot in self.slots:
            if slot.direct:
                raise ValueError(
                    say("vehicle.gear-a-two-shaft-box-has-no-direct-gear", gear=slot.gear)
                )
        return self

    def between(self) -> tuple[Between, ...]:
        """Group all: they stand between input and output."""
        own = tuple(link for slot in self.slots for link in self._own(slot.gear))
        return (Between("box", own),)

    def ways(self, gear: str) -> Ways | None:
        """Place a pair between input and output."""
        return Ways(self.between()[0], (), ())


class TwinLayshaftBox(_ShaftBox):
    """Two parallel layshafts between a common input and a common output.

    A gear's own pair leads from the input to its layshaft; each layshaft's output pair leads on to
    the one output wheel. Odd columns sit on the first layshaft, even ones on the second.
    """

    title: ClassVar[str] = say("vehicle.two-parallel-layshafts")
    architecture: Literal["twin-layshaft"] = "twin-layshaft"
    output_pairs: Annotated[tuple[OnePair, ...], Field(min_length=2, max_length=2)] = ((), ())

    @model_validator(mode="after")
    def _nothing_is_direct_here(self) -> Self:
        if any(slot.direct for slot in self.slots):
            raise ValueError(say("vehicle.two-parallel-layshafts-have-no-direct-gear"))
        return self

    @property
    def layshafts(self) -> int:
        """Two, side by side."""
        return 2

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
        return (*own, *links_of(key, train))

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
            groups.append(Between(shared.key, links_of(shared.key, shared.train)))
        return tuple(groups)

    def ways(self, gear: str) -> Ways | None:
        """Place a pair before its layshaft's output pair; nowhere while it has no column."""
        slot = self.slot(gear)
        if slot is None:
            return None
        number = self.layshaft(slot.column)
        return Ways(self.between()[2 * number], (), self.output_pairs[number])


class RangeBox(BoxBase):
    """Two small two-shaft boxes in series: m splitter pairs, then n range pairs, m × n speeds."""

    title: ClassVar[str] = say("vehicle.range-splitter")
    architecture: Literal["range-splitter"] = "range-splitter"
    splitter: Annotated[tuple[OnePair, ...], Field(max_length=MAX_GEARS)] = ()
    ranges: Annotated[tuple[OnePair, ...], Field(max_length=MAX_GEARS)] = ()
    slots: Annotated[tuple[RangeSlot, ...], Field(max_length=MAX_GEARS)] = ()

    @model_validator(mode="after")
    def _pairs_are_there(self) -> Self:
        gears = [slot.gear for slot in self.slots]
        for slot in self.slots:
            if gears.count(slot.gear) > 1:
                raise ValueError(say("vehicle.gear-has-two-slots", gear=slot.gear))
            if slot.splitter > len(self.splitter) or slot.range > len(self.ranges):
                raise ValueError(
                    say(
                        "vehicle.gear-asks-for-splitter-and-range-there-are",
                        gear=slot.gear,
                        splitter=slot.splitter,
                        range=slot.range,
                        count_of_splitter=len(self.splitter),
                        count_of_ranges=len(self.ranges),
                    )
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

    def engaged(self, gear: str) -> dict[str, str]:
        """Give the splitter's and the range's sleeve: two pairs share one."""
        slot = self.slot(gear)
        if slot is None:
            return {}
        return dict((self.sleeve("splitter", slot.splitter), self.sleeve("range", slot.range)))

    @staticmethod
    def sleeve(part: str, number: int) -> tuple[str, Face]:
        """Say which sleeve closes a pair of a small box, and to which side."""
        rail: Rail = "splitter sleeve" if part == "splitter" else "range sleeve"
        first = number - 1 + number % 2
        sleeve = SleeveId.of(rail, (number + 1) // 2, (str(first), str(first + 1)))
        return sleeve, "front" if number % 2 else "back"

    def between(self) -> tuple[Between, ...]:
        """Group by small box: each has its own centre distance."""
        groups = []
        for name, where in (("splitter", "splitter"), ("range", "ranges")):
            pairs = (shared for shared in self.shared() if shared.path[0] == where)
            groups.append(
                Between(name, tuple(link for s in pairs for link in links_of(s.key, s.train)))
            )
        return tuple(groups)


class LeverBox(BoxBase):
    """A stepless lever drive as the box; a gear is a mark at which its fulcrum stands.

    Ratchets turn the output one way whatever the motor does: there is no reverse in it.
    """

    title: ClassVar[str] = say("vehicle.lever-drive")
    sleeved: ClassVar[bool] = False
    architecture: Literal["lever"] = "lever"
    drive: LeverDrive = LeverDrive()
    slots: Annotated[tuple[LeverPlace, ...], Field(max_length=MAX_GEARS)] = ()

    @model_validator(mode="after")
    def _on_the_lever(self) -> Self:
        gears = [slot.gear for slot in self.slots]
        for slot in self.slots:
            if gears.count(slot.gear) > 1:
                raise ValueError(say("vehicle.gear-has-two-places", gear=slot.gear))
            if slot.fulcrum_mm >= self.drive.lever_mm:
                raise ValueError(
                    say(
                        "vehicle.gear-the-fulcrum-at-is-beyond-the-end-of-the",
                        gear=slot.gear,
                        fulcrum_mm=in_mm(slot.fulcrum_mm),
                        lever_mm=in_mm(self.drive.lever_mm),
                    )
                )
        return self

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
        return links_of(LEVER_KEY, self.drive.pairs) if self.ready(gear) else ()

    @property
    def lever(self) -> LeverDrive:
        """The box itself."""
        return self.drive

    def closed(self, gear: str) -> dict[str, str]:
        """Say where the fulcrum stands."""
        return {FULCRUM: gear} if self.ready(gear) else {}


class NoBox(BoxBase):
    """No gearbox: the motor's shaft goes straight on to the final drive.

    For a vehicle of one speed, and for a machine of which only outputs and functions are planned.
    """

    title: ClassVar[str] = say("vehicle.no-box")
    sleeved: ClassVar[bool] = False
    geared: ClassVar[bool] = False
    architecture: Literal["none"] = "none"
    slots: Annotated[tuple[Slot, ...], Field(max_length=0)] = ()

    def slot(self, gear: str) -> Slot | None:
        """Find the slot that serves a gear: there is none."""
        return None

    def ready(self, gear: str) -> bool:
        """Whether a gear drives: whatever it is called, the motor does."""
        return True

    def chain(self, gear: str) -> tuple[Link, ...]:
        """List the pairs that the power passes: none."""
        return ()


Box = Annotated[
    SlotBox | LayshaftBox | TwoShaftBox | TwinLayshaftBox | RangeBox | LeverBox | NoBox,
    Field(discriminator="architecture"),
]
"""The union of box architectures, told apart by ``architecture``."""

BOXES: dict[str, type[BoxBase]] = {
    model.model_fields["architecture"].default: model
    for model in (SlotBox, LayshaftBox, TwoShaftBox, TwinLayshaftBox, RangeBox, LeverBox, NoBox)
}
"""The models by what files call them."""

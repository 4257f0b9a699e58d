"""What gearboxes of every architecture have in common: links, slots, and what each answers.

Every architecture says the same of a gear: the *chain* of pairs that the power passes from the
box's input to its output, and the sleeves that engage it. Pairs that several gears pass (a
layshaft box's input pair, the pairs of a range) stand once and are shared.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction
from math import prod
from typing import Annotated, ClassVar, Literal, NamedTuple, Self

from pydantic import Field, model_validator

from mild_badger.core.ids import Identity
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.message import say
from mild_badger.core.vehicle.base import DocumentNode, Length, RefersTo
from mild_badger.core.vehicle.edit.change import Path
from mild_badger.core.vehicle.sleeves import SleeveId
from mild_badger.core.vehicle.train import MAX_PAIRS, GearPair, Role, Train, pair_id

__all__ = [
    "MAX_GEARS",
    "MAX_PAIRS",
    "Between",
    "BoxBase",
    "Engagement",
    "Face",
    "GearPair",
    "GearRow",
    "LeverPlace",
    "Link",
    "RangeSlot",
    "Shared",
    "Slot",
    "Train",
    "Ways",
    "chain_ratio",
    "gear_key",
    "links_of",
    "second_key",
    "summed",
]

MAX_GEARS = 24
Face = Literal["front", "back"]
Engagement = Literal["dog", "slide"]

GearRef = Annotated[Identity, RefersTo("gear")]


class Slot(DocumentNode):
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
            raise ValueError(
                say("vehicle.gear-a-summing-differential-takes-two-trains", gear=self.gear)
            )
        if self.direct and self.train:
            raise ValueError(
                say("vehicle.gear-a-direct-gear-has-no-train-of-its-own", gear=self.gear)
            )
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


class RangeSlot(DocumentNode):
    """Which splitter pair and which range pair make a gear; both count from 1."""

    gear: GearRef
    splitter: Annotated[int, Field(ge=1, le=MAX_GEARS)]
    range: Annotated[int, Field(ge=1, le=MAX_GEARS)]
    kept: bool = False


class LeverPlace(DocumentNode):
    """Where the fulcrum stands in a gear, from the lever's input pin."""

    gear: GearRef
    fulcrum_mm: Length
    kept: bool = False


class GearRow(NamedTuple):
    """A row of equal gears that joins shafts: name, field in the box, size, how many."""

    key: str
    field: str
    teeth: int
    number: int


class Ways(NamedTuple):
    """Where a gear's own pair would stand, and the pairs that the power passes on either side."""

    group: Between
    before: Train
    after: Train


def links_of(key: str, train: Train) -> tuple[Link, ...]:
    """Say of every pair of a train where it stands."""
    return tuple(Link(key, n, pair) for n, pair in enumerate(train))


class BoxBase(DocumentNode):
    """What every box answers, whatever it is; an architecture differs where it must.

    ``free_trains`` says that a gear's own train may have several pairs, idlers between them and a
    summing differential, else its pairs stand between fixed shafts; ``has_places``, that gears
    have a column and a face that can be changed; ``coaxial``, that input and output stand in one
    line; ``turns``, which way the output turns in a forward gear, +1 as the input does;
    ``sleeved``, that sleeves or sliders engage gears; ``geared``, that there are gears to follow
    the targets.
    """

    title: ClassVar[str]
    free_trains: ClassVar[bool] = False
    has_places: ClassVar[bool] = False
    coaxial: ClassVar[bool] = False
    turns: ClassVar[Literal[1, -1]] = 1
    sleeved: ClassVar[bool] = True
    geared: ClassVar[bool] = True

    @classmethod
    def of(cls, box: "BoxBase") -> Self | None:
        """Give a box if it is of this architecture: for what no other one has."""
        return box if isinstance(box, cls) else None

    @property
    def lever(self) -> LeverDrive | None:
        """The lever drive that the box is; None in a box of gears."""
        return None

    @property
    def engaged_by(self) -> Engagement | None:
        """How gears are engaged, where that can be chosen."""
        return None

    @property
    def slides(self) -> bool:
        """Whether gears slide into mesh, so that nothing runs free and no sleeve couples."""
        return self.engaged_by == "slide"

    @property
    def output(self) -> str:
        """The body that leaves the box."""
        return "output"

    @property
    def columns(self) -> int:
        """How many columns of sleeves there are."""
        return 0

    @property
    def sleeves(self) -> int:
        """How many sleeves, or sliders, it takes."""
        return 0

    def rows(self, columns: int) -> tuple[GearRow, ...]:
        """List the rows of equal gears that join so many columns."""
        return ()

    @property
    def alternates(self) -> bool:
        """Whether side by side columns turn opposite ways though one shaft feeds them."""
        return False

    @property
    def layshafts(self) -> int:
        """On how many shafts side by side the columns stand in turn."""
        return 1

    def flips(self, gear: str) -> bool:
        """Whether a forward gear's own chain takes an odd number of meshes."""
        return self.turns < 0

    def own_keys(self) -> tuple[str, ...]:
        """List the keys of the trains that are one gear's own."""
        return ()

    def shared(self) -> tuple[Shared, ...]:
        """List the trains that several gears pass."""
        return ()

    def between(self) -> tuple[Between, ...]:
        """Group the pairs that stand between the same two shafts; none where trains are free."""
        return ()

    def ways(self, gear: str) -> Ways | None:
        """Say where a gear's own pair would stand; None where it has none between fixed shafts."""
        return None

    def coupled(self, gear: str) -> tuple[GearPair, ...]:
        """List the pairs of which a sleeve couples a gear, so that it must run free with dogs."""
        return ()

    def couples(self, gear: str) -> Role:
        """Say which gear of such a pair a sleeve couples."""
        return "driven"

    def sleeve_at(self, column: int) -> SleeveId:
        """Give the sleeve, or the slider, of a column."""
        return SleeveId("sleeve", column, ())

    def engaged(self, gear: str) -> dict[str, str]:
        """Give the sleeves that engage a gear and their sides; none for a gear without a place."""
        return {}

    def closed(self, gear: str) -> dict[str, str]:
        """Give all that a gear closes in the graph: its sleeves, or what stands in their place."""
        return self.engaged(gear)

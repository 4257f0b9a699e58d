"""How a box is held and stacked: walls, posts, sleeves, end play and bearings.

Lengths mm. A brick kit's walls and layers are whole grid units whatever stands here.
"""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from mild_badger.core.message import say
from mild_badger.core.vehicle.base import DocumentNode, Length

__all__ = ["Frame", "SeatBearing", "SleeveKind"]

SleeveKind = Literal["grooved", "thin"]
Play = Annotated[float, Field(ge=0, le=20)]
BodyName = Annotated[str, Field(min_length=1, max_length=60)]


class SeatBearing(DocumentNode):
    """The bearing in one wall for one shaft, by its name in the kit."""

    shaft: BodyName
    wall: BodyName
    bearing: Annotated[str, Field(min_length=1, max_length=40)]


class Frame(DocumentNode):
    """What walls, sleeves and shafts keep to.

    ``edge_mm`` is the least material left between a bore and an edge or another bore;
    ``post_mm`` the diameter of the posts that tie walls of wood and print, ``access_holes``
    whether shafts that end inside get a hole to drive them out through. ``end_play_mm`` is left
    on every shaft, ``gap_mm`` beside gears in wood and print (common practice, no source). A
    ``grooved`` sleeve has its fork's groove outside and is ``grooved_mm`` long; a ``thin`` one is
    ``thin_mm`` long, its dogs let in, and the gears on either side
    reach ``recess_mm`` over it. ``fork_mm`` is the thickness of a fork,
    ``sleeve_radius_mm`` a sleeve's outer radius, None for what its shaft needs. ``stub_mm`` is how
    far input and output stand out of the box, for motor, crank or coupling, None for one and a half
    diameters; ``sensor_discs`` whether a tachometer's slotted discs stand on them. Shafts between
    the same walls shall be equal within ``equal_within_mm``; ``far_mm`` is how far a gear may sit
    from its nearest support; ``max_stack_mm`` the greatest length over the outer walls, None for
    none.
    """

    wall_mm: Length = 8.0
    edge_mm: Annotated[float, Field(ge=0, le=100)] = 4.0
    post_mm: Length = 8.0
    access_holes: bool = True
    end_play_mm: Play = 0.3
    gap_mm: Length = 0.5
    sleeve: SleeveKind = "grooved"
    grooved_mm: Length = 8.0
    thin_mm: Length = 5.0
    recess_mm: Play = 1.5
    fork_mm: Length = 3.0
    sleeve_radius_mm: Length | None = None
    stub_mm: Annotated[float, Field(ge=0, le=200)] | None = None
    sensor_discs: bool = False
    equal_within_mm: Annotated[float, Field(ge=0, le=100)] = 1.0
    far_mm: Length = 24.0
    max_stack_mm: Length | None = None
    bearings: Annotated[tuple[SeatBearing, ...], Field(max_length=400)] = ()

    @model_validator(mode="after")
    def _makes_sense(self) -> Self:
        seats = [(s.shaft, s.wall) for s in self.bearings]
        if len(set(seats)) < len(seats):
            raise ValueError(say("vehicle.one-seat-has-two-bearings"))
        return self

    def bearing_at(self, shaft: str, wall: str) -> str | None:
        """Name the bearing chosen for a seat; None for a plain hole."""
        bearings = (s.bearing for s in self.bearings if (s.shaft, s.wall) == (shaft, wall))
        return next(bearings, None)

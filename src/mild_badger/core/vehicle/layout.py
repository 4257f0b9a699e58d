"""Where a slot box's shafts and gears sit, as the document holds it.

Seen from the input end: x to the right, y upwards, in mm. Along the shafts, from the input end:
the front side's layers, highest number first; the middle with sleeves and drive row; the back
side's layers, lowest number first; last the gears that tie the selector shafts. Walls stand at both
ends of either side.
"""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from mild_badger.core.message import say
from mild_badger.core.vehicle.base import DocumentNode, RefersTo, ShortName, Teeth

__all__ = ["BoxLayout", "LayoutGear", "LayoutShaft", "Pin", "PlacementSettings", "Zone"]

Place = Annotated[float, Field(ge=-10_000, le=10_000)]
Size = Annotated[float, Field(gt=0, le=10_000)]
Layer = Annotated[int, Field(ge=1, le=24)]
Zone = Literal["front", "back"]
Corner = tuple[float, float]
Side = tuple[Corner, Corner]
Body = Annotated[str, Field(min_length=1, max_length=60)]


class Pin(DocumentNode):
    """A shaft that the builder holds at a point."""

    shaft: Body
    x_mm: Place
    y_mm: Place


class PlacementSettings(DocumentNode):
    """What a placement keeps to.

    ``spacing_u`` from column to column in units of the grid, ``layers`` a side; ``wide_mm`` and
    ``high_mm`` are the clear width and height for all gears, None for no limit, the width about
    the middle of the columns, the height from the drive row's lower edge; ``half_units`` lets
    shafts stand between the grid's points; ``near_percent`` is how far from the wanted ratio a
    train may be chosen when that helps; ``seconds`` how long is looked at most. ``outline_mm`` is
    the hull that all gears and sleeves stay in, corner by corner, empty for none. ``pins`` are
    shafts held at a point.
    """

    spacing_u: Annotated[int, Field(ge=2, le=8)] = 3
    layers: Annotated[int, Field(ge=1, le=12)] = 3
    wide_mm: Size | None = None
    high_mm: Size | None = None
    half_units: bool = False
    near_percent: Annotated[float, Field(gt=0, le=20)] = 3.0
    seconds: Annotated[float, Field(gt=0, le=600)] = 8.0
    outline_mm: Annotated[tuple[tuple[Place, Place], ...], Field(max_length=60)] = ()
    pins: Annotated[tuple[Pin, ...], Field(max_length=12)] = ()

    @model_validator(mode="after")
    def _pins_hold_one_shaft_each(self) -> Self:
        shafts = [pin.shaft for pin in self.pins]
        if len(set(shafts)) < len(shafts):
            raise ValueError(say("vehicle.a-shaft-is-held-at-two-points"))
        return self

    @model_validator(mode="after")
    def _outline_is_one_line(self) -> Self:
        corners = self.outline_mm
        if not corners:
            return self
        if len(corners) < 3:
            raise ValueError(
                say(
                    "vehicle.the-hulls-outline-has-corners-it-takes-three",
                    count_of_corners=len(corners),
                )
            )
        sides = list(zip(corners, (*corners[1:], corners[0]), strict=True))
        for n, one in enumerate(sides):
            for m, other in enumerate(sides[n + 1 :], start=n + 1):
                beside = m == n + 1 or (n == 0 and m == len(sides) - 1)
                if not beside and _cross(one, other):
                    raise ValueError(
                        say("vehicle.the-hulls-outline-crosses-itself-between", n=n + 1, m=m + 1)
                    )
        return self


def _cross(one: Side, other: Side) -> bool:
    """Whether two sides of an outline meet."""

    def turn(a: Corner, b: Corner, c: Corner) -> float:
        return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])

    (a, b), (c, d) = one, other
    return turn(a, b, c) * turn(a, b, d) <= 0 and turn(c, d, a) * turn(c, d, b) <= 0


class LayoutShaft(DocumentNode):
    """A shaft by the name of its body; intermediate ones stand on one side of the sleeves."""

    name: Body
    x_mm: Place
    y_mm: Place
    side: Literal["front", "back", "both"] = "both"


class LayoutGear(DocumentNode):
    """A gear by the name of its body, on a shaft, in a layer of a side; layer 1 is at the sleeves.

    ``teeth`` is what it was placed with, so that a later change of its train is noticed.
    """

    body: Body
    teeth: Teeth
    shaft: Body
    side: Zone
    layer: Layer


class BoxLayout(DocumentNode):
    """A whole box, placed."""

    layers: Layer
    shafts: Annotated[tuple[LayoutShaft, ...], Field(max_length=400)] = ()
    gears: Annotated[tuple[LayoutGear, ...], Field(max_length=400)] = ()
    unplaced: Annotated[tuple[ShortName, ...], Field(max_length=24), RefersTo("gear")] = ()

    @property
    def shared(self) -> tuple[tuple[LayoutGear, ...], ...]:
        """List gears of several trains that are one part: same shaft, side, layer and teeth."""
        groups: dict[tuple[str, str, int, int], list[LayoutGear]] = {}
        for gear in self.gears:
            groups.setdefault((gear.shaft, gear.side, gear.layer, gear.teeth), []).append(gear)
        return tuple(tuple(group) for group in groups.values() if len(group) > 1)

    def shaft(self, name: str) -> LayoutShaft | None:
        """Find a shaft by its name."""
        return next((shaft for shaft in self.shafts if shaft.name == name), None)

    @model_validator(mode="after")
    def _gears_sit_on_shafts(self) -> Self:
        names = [shaft.name for shaft in self.shafts]
        if len(set(names)) < len(names):
            raise ValueError(say("vehicle.two-shafts-of-the-layout-share-a-name"))
        known = set(names)
        for gear in self.gears:
            if gear.shaft not in known:
                raise ValueError(
                    say("vehicle.sits-on-which-is-not-there", body=gear.body, shaft=gear.shaft)
                )
            if gear.layer > self.layers:
                raise ValueError(
                    say(
                        "vehicle.is-in-layer-of",
                        body=gear.body,
                        layer=gear.layer,
                        layers=self.layers,
                    )
                )
        return self

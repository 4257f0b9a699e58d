"""The vehicle: one document from which everything else is assembled and solved.

Ratios in the document are turns in per turn out; lengths mm, speeds rpm, torque N·mm.
"""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from mild_badger.core.vehicle.base import Length, Part, Positive, Rpm, ShortName, Teeth
from mild_badger.core.vehicle.kit import Kit

__all__ = [
    "MAX_GEARS",
    "MAX_PAIRS",
    "Axle",
    "Box",
    "Differential",
    "FinalDrive",
    "GearPair",
    "GearTarget",
    "Motor",
    "RealVehicle",
    "Scale",
    "SearchSettings",
    "Side",
    "Slot",
    "SlotBox",
    "Train",
    "Vehicle",
    "Wheels",
]

MAX_GEARS = 24
MAX_PAIRS = 4

Ratio = Annotated[float, Field(ge=0.01, le=1000)]
Side = Literal["left", "right"]


class GearTarget(Part):
    """One gear of the real vehicle; the ratio is positive, reverse too."""

    name: ShortName
    ratio: Ratio
    reverse: bool = False


class RealVehicle(Part):
    """What the model is to behave like."""

    gears: Annotated[tuple[GearTarget, ...], Field(min_length=1, max_length=MAX_GEARS)]
    final_drive: Ratio
    tyre_diameter_mm: Length
    idle_rpm: Rpm = 700
    peak_rpm: Rpm = 2000
    limit_rpm: Rpm = 2900

    @model_validator(mode="after")
    def _speeds_in_order(self) -> Self:
        if not self.idle_rpm <= self.peak_rpm <= self.limit_rpm:
            raise ValueError(
                f"idle, peak and limit speed must rise: {self.idle_rpm:g}, "
                f"{self.peak_rpm:g}, {self.limit_rpm:g} rpm"
            )
        names = [gear.name for gear in self.gears]
        for name in names:
            if names.count(name) > 1:
                raise ValueError(f"two gears are called {name}")
        return self


class Scale(Part):
    """Scale 1:n, and which school of scale speed is in force."""

    denominator: Annotated[float, Field(ge=1, le=500)]
    speed_school: Literal["geometric", "froude"] = "geometric"


class Motor(Part):
    """A motor with a linear curve; ``turns`` +1 is clockwise seen along the box's axis."""

    name: Annotated[str, Field(max_length=80)] = ""
    no_load_rpm: Rpm
    stall_torque_n_mm: Positive
    working_rpm: Rpm
    turns: Literal[1, -1] = 1

    @model_validator(mode="after")
    def _works_below_no_load(self) -> Self:
        if self.working_rpm > self.no_load_rpm:
            raise ValueError(
                f"the working speed {self.working_rpm:g} rpm is above the no-load speed "
                f"{self.no_load_rpm:g} rpm"
            )
        return self


class Wheels(Part):
    """The model's driven wheels."""

    diameter_mm: Length


class Axle(Part):
    """The model's main dimensions on the ground."""

    track_mm: Length
    wheelbase_mm: Length


class GearPair(Part):
    """Two gears in mesh, or joined by idlers in a line between them."""

    driver: Teeth
    driven: Teeth
    idlers: Annotated[tuple[Teeth, ...], Field(max_length=4)] = ()


Train = Annotated[tuple[GearPair, ...], Field(max_length=MAX_PAIRS)]


class Slot(Part):
    """One place of a slot box: the gear it serves, where it sits, and its train.

    ``face`` names the side of the column's sleeve towards which the sleeve moves; an empty train
    means that nothing has been chosen yet. A ``kept`` train is left alone by the set's search.
    """

    gear: ShortName
    column: Annotated[int, Field(ge=1, le=MAX_GEARS)]
    face: Literal["front", "back"]
    train: Train = ()
    kept: bool = False


class SlotBox(Part):
    """A slot box (domain: every speed has a train that drives a free gear with dog faces).

    ``feed`` "rail": a row of equal gears hands the input to each column, so that neighbouring
    columns are driven in opposite ways; "shaft": one input shaft feeds every column. The selector
    shafts are tied by equal gears of ``tie_teeth``; the first one is the output.
    """

    architecture: Literal["slot"] = "slot"
    feed: Literal["rail", "shaft"] = "rail"
    rail_teeth: Teeth = 24
    tie_teeth: Teeth = 24
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
        """How many columns the box has: the highest one in use."""
        return max((slot.column for slot in self.slots), default=0)

    def slot(self, gear: str) -> Slot | None:
        """Find the slot that serves a gear."""
        return next((slot for slot in self.slots if slot.gear == gear), None)


Box = SlotBox
"""The union of box architectures, told apart by ``architecture``; the slot box is its first."""


class FinalDrive(Part):
    """Spur pairs, then a bevel pinion on a crown wheel.

    The crown wheel sits ``left`` or ``right`` of the pinion, seen by the driver.
    """

    pairs: Train = ()
    pinion: Teeth
    crown: Teeth
    crown_side: Side = "left"


class Differential(Part):
    """What sits between the two driven wheels."""

    kind: Literal["open", "locked"] = "open"


class SearchSettings(Part):
    """How the builder wants trains chosen; tolerance in per cent, the factor is k of domain §1."""

    fit: Literal["absolute", "spacing"] = "absolute"
    max_pairs: Annotated[int, Field(ge=1, le=4)] = 2
    tolerance_percent: Annotated[float, Field(gt=0, le=50)] = 3.0
    factor_low: Annotated[float, Field(ge=0.01, le=100)] = 0.5
    factor_high: Annotated[float, Field(ge=0.01, le=100)] = 2.0

    @model_validator(mode="after")
    def _range_in_order(self) -> Self:
        if self.factor_low > self.factor_high:
            raise ValueError(
                f"the factor's range is upside down: {self.factor_low:g} to {self.factor_high:g}"
            )
        return self


class Vehicle(Part):
    """The whole document."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    notes: Annotated[str, Field(max_length=20_000)] = ""
    real: RealVehicle
    scale: Scale
    kit: Kit
    search: SearchSettings = SearchSettings()
    motor: Motor
    wheels: Wheels
    box: Box
    final_drive: FinalDrive
    differential: Differential = Differential()
    axle: Axle

    @model_validator(mode="after")
    def _slots_serve_gears(self) -> Self:
        names = {gear.name for gear in self.real.gears}
        for slot in self.box.slots:
            if slot.gear not in names:
                raise ValueError(f"box: a slot serves gear {slot.gear}, which has no target")
        return self

    def gear(self, name: str) -> GearTarget | None:
        """Find a target by its gear's name."""
        return next((gear for gear in self.real.gears if gear.name == name), None)

"""Masses and arms of a machine with a boom, and what it stands on; as the document holds it.

Lengths mm from the slewing axis on the ground: x ahead, y to the left, z up (ISO 8855). Angles in
degrees.
"""

from typing import Annotated, Literal, Self

from pydantic import Field, field_validator, model_validator

from mild_badger.core.ids import MAX_ID, Held, MassId, OutputId
from mild_badger.core.message import say
from mild_badger.core.vehicle.base import (
    DocumentNode,
    Identified,
    Length,
    RefersTo,
    ShortName,
    identified,
)

__all__ = ["Balance", "Mass", "MassPlace"]

MassPlace = Literal["chassis", "turntable", "carriage", "counterweight"]
Meant = Annotated[OutputId, Field(min_length=1, max_length=MAX_ID)]
"""An output that may be gone, or in an older file may never have been."""
At = Annotated[float, Field(ge=-10_000, le=10_000)]
Kilogram = Annotated[float, Field(ge=0, le=1000)]
Slope = Annotated[float, Field(ge=-30, le=30)]


class Mass(Identified):
    """A mass and where it is.

    On the ``turntable`` x points along the boom; the ``carriage`` runs along the boom and the
    ``counterweight`` behind the axis, their x is counted from where those stand. ``removable``
    ballast stays at home on the road.
    """

    id: Held[MassId] = MassId("")
    name: ShortName
    mass_kg: Kilogram
    on: MassPlace = "chassis"
    x_mm: At = 0.0
    y_mm: At = 0.0
    z_mm: Annotated[float, Field(ge=0, le=10_000)] = 40.0
    removable: bool = False


class Balance(DocumentNode):
    """The masses, the feet or wheels, the ground, and where boom, carriage and load are.

    ``feet_*`` are the feet from the slewing axis, ``axis_ahead_mm`` the axis ahead of the rear
    axle, for standing on the wheels. Each foot can be let down ``foot_travel_mm`` against the
    slope of the ground: along, nose up, and across, left side up. The load hangs from the boom at
    ``boom_mm`` above the ground, at a reach between ``reach_low_mm`` and ``reach_high_mm``. The
    counterweight stands ``weight_at_mm`` behind the axis with the carriage in, and goes
    ``weight_share`` of the carriage's way outwards; where ``carriage`` and ``counterweight`` name
    outputs of the crane, the share is theirs. ``least_factor`` is the stability that is asked:
    holding moment by tipping moment.
    """

    masses: Annotated[tuple[Mass, ...], Field(max_length=40)] = ()
    stands: Literal["feet", "wheels"] = "feet"
    feet_ahead_mm: At = 80.0
    feet_behind_mm: At = 80.0
    feet_apart_mm: Length = 150.0
    axis_ahead_mm: At = 60.0
    foot_travel_mm: Annotated[float, Field(ge=0, le=1000)] = 12.0
    slope_along_deg: Slope = 0.0
    slope_across_deg: Slope = 0.0
    load_kg: Kilogram = 0.25
    boom_mm: Length = 260.0
    reach_low_mm: Length = 60.0
    reach_high_mm: Length = 260.0
    reach_mm: Length = 160.0
    slew_deg: Annotated[float, Field(ge=-3600, le=3600)] = 0.0
    weight_at_mm: At = 60.0
    weight_share: Annotated[float, Field(ge=-10, le=10)] = 0.5
    carriage: Annotated[Meant | None, RefersTo("crane output")] = None
    counterweight: Annotated[Meant | None, RefersTo("crane output")] = None
    least_factor: Annotated[float, Field(ge=1, le=10)] = 1.4

    @field_validator("masses")
    @classmethod
    def _have_ids(cls, masses: tuple[Mass, ...]) -> tuple[Mass, ...]:
        return identified(masses)

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if self.feet_ahead_mm + self.feet_behind_mm <= 0:
            raise ValueError(say("balance.the-front-feet-must-stand-ahead-of-the-rear"))
        names = [mass.name for mass in self.masses]
        for name in names:
            if names.count(name) > 1:
                raise ValueError(say("balance.two-masses-are-called", name=name))
        return self

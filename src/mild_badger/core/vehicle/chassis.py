"""Axles, steering, suspension, shaft line and outline of the vehicle, as the document holds them.

Lengths mm from the ground up or from an axle's middle, angles degrees, masses kg, forces N.
"""

from typing import Annotated, Literal

from pydantic import Field

from mild_badger.core.vehicle.base import DocumentNode, Length, Positive, Teeth

__all__ = ["AxleShape", "Chassis", "Hub", "RunningGear", "ShaftLine", "Steering", "Suspension"]

Hub = Literal["straight", "raised", "geared"]
Offset = Annotated[float, Field(ge=-1000, le=1000)]
Slack = Annotated[float, Field(ge=0, le=1000)]
Tilt = Annotated[float, Field(gt=-60, lt=60)]


class AxleShape(DocumentNode):
    """What hangs under the vehicle: housing, arms and hubs of the driven axle.

    ``hub`` "raised": the axle's shafts lie ``rise_mm`` above the wheels' middles; "geared": a pair
    of spur gears at each wheel, ``hub_driver`` above ``hub_driven``, lifts them by its own centre
    distance and reduces by its ratio. ``case_mm`` is the wall of housing and hub cases.
    """

    housing_mm: Length = 32.0
    arm_mm: Length = 12.0
    hub: Hub = "straight"
    rise_mm: Slack = 0.0
    hub_driver: Teeth = 12
    hub_driven: Teeth = 24
    case_mm: Slack = 2.0


class Chassis(DocumentNode):
    """The outline that meets the ground first, and the tyres' width.

    Overhangs run from the axle's middle to the foremost and hindmost low point, ``belly_mm`` is the
    lowest point between the axles; ``half_width_mm`` is what the front tyres must not touch.
    """

    tyre_width_mm: Length = 24.0
    front_overhang_mm: Length = 60.0
    front_low_mm: Length = 40.0
    rear_overhang_mm: Length = 60.0
    rear_low_mm: Length = 40.0
    belly_mm: Length = 40.0
    half_width_mm: Length = 32.0
    mass_kg: Annotated[float, Field(gt=0, le=500)] = 1.0
    driven_share: Annotated[float, Field(gt=0, le=1)] = 0.6


class Steering(DocumentNode):
    """Rack and pinion with a tie rod and an arm a side, seen from above.

    Kingpins stand ``kingpin_mm`` inside the tyres' middles. Arms point back (or forward, where the
    rack lies before the axle), inwards by ``arm_angle_deg``. The rack's ball joints are
    ``rack_mm`` apart, ``rack_offset_mm`` ahead of the axle's line (behind it: negative). A tie rod
    of None is as long as it takes for both wheels to stand straight. ``pinion_block_mm`` is what
    the rack's ends must keep from the middle; ``stop_deg`` a stop at the knuckles, None for none.
    ``joint_limit_deg`` is how far a driven front wheel's joint may bend.
    """

    kingpin_mm: Slack = 12.0
    arm_mm: Length = 20.0
    arm_angle_deg: Tilt = 12.0
    rack_mm: Length = 48.0
    rack_offset_mm: Offset = -16.0
    rod_mm: Length | None = None
    travel_mm: Length = 8.0
    pinion_teeth: Teeth = 8
    pinion_block_mm: Slack = 6.0
    wheel_ratio: Positive = 1.0
    stop_deg: Annotated[float, Field(gt=0, lt=90)] | None = None
    column_deg: Annotated[float, Field(ge=0, lt=80)] = 20.0
    column_second_deg: Annotated[float, Field(ge=0, lt=80)] = 20.0
    column_phase_deg: Annotated[float, Field(ge=-180, le=180)] = 0.0
    driven: bool = False
    joint_limit_deg: Annotated[float, Field(gt=0, lt=90)] = 35.0


class Suspension(DocumentNode):
    """Springs at the wheels: rate of each, how far a wheel moves from where it stands loaded.

    ``link_mm`` is the length of the link or half shaft that swings with it; None of it for a rigid
    axle, whose ``rate_n_mm`` is None.
    """

    rate_n_mm: Positive | None = None
    up_mm: Slack = 6.0
    down_mm: Slack = 6.0
    link_mm: Length = 40.0
    front_share: Annotated[float, Field(gt=0, lt=1)] = 0.45


class ShaftLine(DocumentNode):
    """The propeller shaft's height and what stands on it.

    ``offset_mm`` is how far the pinion lies below the crown wheel's middle. A drop gear pair of two
    equal or unequal spur gears hangs the shaft lower by its centre distance. ``floor_mm`` is the
    floor's upper face as wanted, None for as low as the shaft allows without a tunnel.
    """

    offset_mm: Offset = 0.0
    offset_limit: Annotated[float, Field(gt=0, le=0.5)] = 0.25
    drop_driver: Teeth | None = None
    drop_driven: Teeth | None = None
    room_mm: Slack = 2.0
    floor_thick_mm: Slack = 3.0
    floor_mm: Length | None = None
    seat_mm: Slack = 30.0
    head_mm: Slack = 70.0

    @property
    def drop(self) -> tuple[int, int] | None:
        """Tooth counts of the drop gears, driver first; None unless both are given."""
        if self.drop_driver is None or self.drop_driven is None:
            return None
        return self.drop_driver, self.drop_driven


class RunningGear(DocumentNode):
    """All that carries the vehicle and steers it."""

    shape: AxleShape = AxleShape()
    chassis: Chassis = Chassis()
    steering: Steering = Steering()
    suspension: Suspension = Suspension()
    line: ShaftLine = ShaftLine()

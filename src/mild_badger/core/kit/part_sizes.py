"""Sizes of parts that follow from kit and frame: sleeves, forks, one-way clutches, spacers, gears.

Lengths mm. What the vehicle does not give is an estimate, no source.
"""

from dataclasses import dataclass
from math import ceil

from mild_badger.core.vehicle.frame import SleeveKind
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "BUSH_ROOM_MM",
    "GROOVE_DEPTH_MM",
    "RING_ROOM_MM",
    "RUN_MM",
    "TUBE_MM",
    "SleeveForm",
    "arm_mm",
    "bushes_for",
    "clutch_radius_mm",
    "direct_reach_mm",
    "fork_radius_mm",
    "groove_mm",
    "is_washer",
    "ring_radius_mm",
    "sleeve_form",
    "sleeve_radius_mm",
    "sleeve_room_mm",
    "spacer_radius_mm",
    "tip_mm",
]

RUN_MM = 0.05
"""Room drawn between a shaft and what it carries, so that they do not touch."""
GROOVE_DEPTH_MM, GROOVE_PLAY_MM = 1.5, 0.4
"""How deep a fork's groove is, and how much wider than the fork (estimates, no source)."""
DOG_CLEAR_MM = 0.2
"""Room between the ends of dogs and what they face, engaged or not."""
RING_ROOM_MM, RING_WALL_MM = 0.25, 2.5
"""Room between a slider's teeth and the ring they enter, and its wall (estimates, no source)."""
CLUTCH_OVER_MM = 2.5
"""How far a ring of pawls stands out over a sleeve (an estimate, no source)."""
LEAST_DOGS_MM = 4.0
"""What a sleeve has round its bore at least: a rim, dogs, and a rim (an estimate, no source)."""
LEAST_SLEEVE_MM, ROUND_SHAFT_MM = 9.0, 4.5
"""Outer radius of a sleeve with its fork's groove, and what it has round a thick shaft's bore.

Estimates, no source: material round the bore, dogs, and material outside them.
"""


RING_MM = 2.0
"""How far a fork's half ring stands out of its sleeve (an estimate, no source)."""
ARM_MM = 8.0
"""Width of a fork's arm (an estimate, no source)."""
EYE_WALL_MM = 1.6
"""Least material round the rail's hole in a fork (an estimate, no source)."""
WASHER_MM = 1.0
"""Rings thinner than this are washers (common practice, no source)."""
SPACER_MM = 2.5
"""How thick a spacer's ring is (an estimate, no source)."""
TUBE_MM = 0.8
"""The thinnest wall of a spacer (an estimate, no source)."""
BUSH_ROOM_MM = 0.2
"""How far a brick's bush stays within its unit, so that two lie side by side (no source)."""


def is_washer(length_mm: float) -> bool:
    """Whether what fills a gap is too thin to be sawn off a tube."""
    return length_mm < WASHER_MM


def bushes_for(length_mm: float, unit_mm: float) -> tuple[tuple[int, int], ...]:
    """Give the bushes that a brick builder fills a gap with: size in half units, and how many."""
    halves = round(2 * length_mm / unit_mm)
    return tuple((size, number) for size, number in ((2, halves // 2), (1, halves % 2)) if number)


def sleeve_room_mm(vehicle: Vehicle, kind: SleeveKind | None = None) -> float:
    """Length kept between the gears for a sleeve and its travel either way.

    Over a thin sleeve the gears reach from either side; on a grid the next whole unit is taken.
    """
    frame, travel = vehicle.frame, vehicle.lever.fork_travel_mm
    if (kind or frame.sleeve) == "thin":
        room = frame.thin_mm + 2 * travel - 2 * frame.recess_mm
    else:
        room = frame.grooved_mm + 2 * travel
    unit = vehicle.kit.grid_unit_mm
    return room if vehicle.kit.any_seat else ceil(room / unit - 1e-9) * unit


def groove_mm(vehicle: Vehicle) -> float:
    """Width of the groove in which a fork lies."""
    return vehicle.frame.fork_mm + GROOVE_PLAY_MM


def sleeve_radius_mm(vehicle: Vehicle) -> float:
    """Outer radius of a dog sleeve: as typed, else what its shaft, dogs and groove need.

    No less than what leaves dogs round the shaft.
    """
    bore = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, "running") / 2
    typed = vehicle.frame.sleeve_radius_mm
    if typed is not None:
        return max(typed, bore + LEAST_DOGS_MM)
    return max(LEAST_SLEEVE_MM, bore + ROUND_SHAFT_MM)


def clutch_radius_mm(vehicle: Vehicle) -> float:
    """Outer radius of a one-way clutch's ring of pawls."""
    return sleeve_radius_mm(vehicle) + CLUTCH_OVER_MM


def tip_mm(kit: Kit, teeth: int) -> float:
    """Tip radius of a gear, full-depth teeth where the kit has not the size."""
    size = kit.size(teeth)
    return size.tip_diameter_mm / 2 if size else kit.module_mm * (teeth + 2) / 2


def fork_radius_mm(vehicle: Vehicle) -> float:
    """Outer radius of a fork's half ring."""
    return sleeve_radius_mm(vehicle) + RING_MM


def arm_mm(vehicle: Vehicle) -> float:
    """Width of a fork's arm, and of its eye round the rail's hole."""
    return max(ARM_MM, vehicle.kit.shaft_diameter_mm + 2 * EYE_WALL_MM)


def spacer_radius_mm(vehicle: Vehicle) -> float:
    """Give a spacer's outer radius; on a grid no more than leaves room for one beside it."""
    kit = vehicle.kit
    radius = vehicle.hole_mm(kit.shaft_diameter_mm, "running") / 2 + SPACER_MM
    return radius if kit.any_seat else min(radius, kit.grid_unit_mm / 2 - BUSH_ROOM_MM)


@dataclass(frozen=True)
class SleeveForm:
    """A sleeve's sizes in mm: over all, the groove about its middle, dogs at either end.

    ``cup_mm`` is how deep its cups are, or how far its own star reaches in a thin one; ``dog_mm``
    how long the gear's dogs are, or how deep it is let in.
    """

    thin: bool
    length_mm: float
    outer_mm: float
    groove_mm: float
    groove_radius_mm: float
    cup_mm: float
    dog_mm: float


def sleeve_form(vehicle: Vehicle) -> SleeveForm:
    """Give the sizes of a vehicle's sleeves."""
    frame = vehicle.frame
    thin = frame.sleeve == "thin"
    length = frame.thin_mm if thin else frame.grooved_mm
    groove = min(groove_mm(vehicle), length)
    cup = frame.recess_mm if thin else max((length - groove) / 2, 0.0)
    travel = vehicle.lever.fork_travel_mm
    dog = (
        frame.recess_mm + DOG_CLEAR_MM
        if thin
        else max(min(vehicle.making.dog_mm, cup - DOG_CLEAR_MM, travel - DOG_CLEAR_MM), 0.0)
    )
    outer = sleeve_radius_mm(vehicle)
    return SleeveForm(thin, length, outer, groove, outer - GROOVE_DEPTH_MM - DOG_CLEAR_MM, cup, dog)


def direct_reach_mm(vehicle: Vehicle) -> float:
    """How far the dogs of a slider reach into the input's hub; less than 0 where its stand before.

    A thin sleeve's own star enters the hub; a cup drops over the hub's star and stops before it.
    """
    form = sleeve_form(vehicle)
    return form.cup_mm if form.thin else -DOG_CLEAR_MM


def ring_radius_mm(kit: Kit, teeth: int) -> float:
    """Outer radius of the ring with inner teeth that a gear enters."""
    return tip_mm(kit, teeth) + RING_ROOM_MM + RING_WALL_MM

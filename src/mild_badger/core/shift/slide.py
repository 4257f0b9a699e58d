"""Boxes whose gears slide into mesh: clearances of the reverse gear, gaps between positions."""

from dataclasses import dataclass
from math import ceil

from mild_badger.core.figures import in_mm
from mild_badger.core.mesh.centres import centre_of
from mild_badger.core.message import say
from mild_badger.core.vehicle.boxes import SlottedBox
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["LEAST_GAP_MM", "SlideCheck", "describe_slide", "slide_checks"]

LEAST_GAP_MM = 0.5
"""Least clearance that is called safe in a model, tips or faces (common practice, no source)."""


@dataclass(frozen=True)
class SlideCheck:
    """One sliding gear.

    ``gap_mm`` is what stays free between the slider's face and its partner's in neutral: the
    travel less the face width; ``needed_mm`` is the travel that brings it into its partner, which
    stands on whole units of a grid; ``tips_mm`` the room between the tips of a reverse slider and
    the gear beneath it while it meshes with the idler, None where there is no idler.
    """

    gear: str
    gap_mm: float
    needed_mm: float
    tips_mm: float | None


def slide_checks(vehicle: Vehicle) -> tuple[SlideCheck, ...]:
    """Check every gear that slides into mesh; none where sleeves couple gears in constant mesh.

    Tips reach one module beyond the pitch circle (ISO 53 profile A), or as the kit says of a size.
    """
    box, kit = SlottedBox.of(vehicle.box), vehicle.kit
    if box is None or not box.slides or len(box.between()) != 1:
        return ()
    links = [link for group in box.between() for link in group.links]
    centre = centre_of(kit, [link.pair for link in links])
    checks = []
    for slot in box.slots:
        for pair in slot.train:
            size = kit.size(pair.driven)
            width = size.face_width_mm if size else kit.grid_unit_mm
            tips = None
            if pair.idlers and centre is not None:
                radii = sum(_tip_mm(vehicle, z) / 2 for z in (pair.driver, pair.driven))
                tips = centre.distance_mm - radii
            travel = vehicle.lever.fork_travel_mm
            needed = travel
            if not kit.any_seat:  # its own unit, and those that are open before its partner
                open_u = max(ceil((travel - LEAST_GAP_MM) / kit.grid_unit_mm) - 1, 1)
                needed = (1 + open_u) * kit.grid_unit_mm
            checks.append(SlideCheck(slot.gear, travel - width, needed, tips))
    return tuple(checks)


def describe_slide(vehicle: Vehicle) -> str:
    """Say how much room the sliding gears have; empty where sleeves couple gears in mesh."""
    checks = slide_checks(vehicle)
    if not checks:
        return ""
    gaps = "; ".join(
        f"{vehicle.gear_name(c.gear)} {in_mm(c.gap_mm, 1)}"
        + (
            say("shift.over-the-gear-beneath", tips_mm=in_mm(c.tips_mm, 2))
            if c.tips_mm is not None
            else ""
        )
        for c in checks
    )
    return say("shift.clear-of-its-mesh-in-neutral", gaps=gaps)


def _tip_mm(vehicle: Vehicle, teeth: int) -> float:
    size = vehicle.kit.size(teeth)
    return size.tip_diameter_mm if size else vehicle.kit.module_mm * (teeth + 2)

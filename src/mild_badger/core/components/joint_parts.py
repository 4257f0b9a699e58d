"""A universal joint in space: two yokes and a cross, about the place where their shafts meet.

Seen unturned, the driving yoke's eyes lie to either side and the driven one's above and below. A
yoke with its cross fits in a ball of the joint's radius, save for the hubs behind. Sizes go by the
shaft's (estimates, no source).
"""

from mild_badger.core.components.component import Outline, Prism
from mild_badger.core.components.solids import circle
from mild_badger.core.kit.part_sizes import RUN_MM

__all__ = ["cross_solid", "hub_mm", "joint_radius_mm", "yoke_solid"]

RADIUS, EYE, HUB = 2.6, 0.8, 0.8
"""Of the joint, of an eye across its prong, and how long a hub is: in radii of the shaft."""


def joint_radius_mm(shaft_mm: float) -> float:
    """Give how far a joint reaches from its middle, for a shaft's radius."""
    return RADIUS * shaft_mm


def hub_mm(shaft_mm: float) -> float:
    """Give how far from its middle a joint's hub begins and its shaft ends."""
    return joint_radius_mm(shaft_mm) + HUB * shaft_mm


def yoke_solid(shaft_mm: float, *, driven: bool) -> tuple[Prism, ...]:
    """Shape a yoke for a shaft of a radius; the ``driven`` one lies ahead of the joint's middle."""
    outer, eye = joint_radius_mm(shaft_mm), EYE * shaft_mm
    inner = outer - shaft_mm
    prongs: tuple[Outline, ...] = tuple(
        _plate(sign, inner, outer, eye, upright=driven) for sign in (-1.0, 1.0)
    )
    bridge: Outline = circle(outer, corners=24)
    far = hub_mm(shaft_mm)
    # a hair of overlap makes one solid of prongs and hub
    if driven:
        return Prism(prongs, -eye, outer + 0.01), Prism((bridge,), outer, far)
    return Prism((bridge,), -far, -outer), Prism(prongs, -outer - 0.01, eye)


def cross_solid(shaft_mm: float) -> tuple[Prism, ...]:
    """Shape a cross: two pins at a right angle, to the inner faces of the yokes' prongs."""
    reach, thick = joint_radius_mm(shaft_mm) - shaft_mm - RUN_MM, 0.35 * shaft_mm
    arms = ((-reach, -thick, reach, thick), (-thick, -reach, thick, reach))
    outlines: tuple[Outline, ...] = tuple(
        ((left, low), (right, low), (right, high), (left, high)) for left, low, right, high in arms
    )
    return (Prism(outlines, -thick, thick),)


def _plate(sign: float, inner: float, outer: float, eye: float, *, upright: bool) -> Outline:
    near, far = sorted((sign * inner, sign * outer))
    corners = ((near, -eye), (far, -eye), (far, eye), (near, eye))
    return tuple((-y, x) for x, y in corners) if upright else corners

"""The true outline of a gear as a rack would cut it: flanks, root fillet and undercut.

Involute flanks and the fillet that a rack's rounded tip leaves (ISO 53 basic rack, ISO 21771); both
are written down as half the gap's angle over the radius, and the wider of the two is what is cut
away, so undercut comes out by itself. Lengths mm, angles radians, x is the profile shift.
"""

from dataclasses import dataclass
from functools import lru_cache
from math import acos, cos, pi, radians, sin, tan

import numpy as np

from mild_badger.core.mesh.involute import involute
from mild_badger.core.mesh.shift import undercut_limit
from mild_badger.core.message import say

__all__ = [
    "GearForm",
    "flank_start_mm",
    "gear_shape",
    "rack_shape",
    "ring_shape",
    "span_mm",
    "tooth_profile",
    "tooth_thickness_mm",
]

FLANK_POINTS = 28
FILLET_STEPS = 240
ARC_POINTS = 6
Point = tuple[float, float]


@dataclass(frozen=True)
class GearForm:
    """What a gear is cut to.

    ``teeth`` are a whole number but for what a bevel gear's cone gives when it is laid flat.
    ``thinning_mm`` is taken off the tooth's thickness on the pitch circle, for the backlash;
    addendum, dedendum and the rack's tip radius are in modules (ISO 53 profile A).
    """

    teeth: float
    module_mm: float
    pressure_angle_deg: float = 20.0
    shift: float = 0.0
    thinning_mm: float = 0.0
    addendum: float = 1.0
    dedendum: float = 1.25
    tip_radius: float = 0.38

    @property
    def pitch_mm(self) -> float:
        """Radius of the pitch circle."""
        return self.teeth * self.module_mm / 2

    @property
    def base_mm(self) -> float:
        """Radius of the base circle."""
        return self.pitch_mm * cos(radians(self.pressure_angle_deg))

    @property
    def tip_mm(self) -> float:
        """Radius of the tip circle."""
        return self.pitch_mm + (self.addendum + self.shift) * self.module_mm

    @property
    def root_mm(self) -> float:
        """Radius of the root circle."""
        return self.pitch_mm - (self.dedendum - self.shift) * self.module_mm

    @property
    def ring_tip_mm(self) -> float:
        """Radius of a ring's tip circle: a module inside the pitch circle, at least the base."""
        return max(self.pitch_mm - (self.addendum - self.shift) * self.module_mm, self.base_mm)

    @property
    def ring_root_mm(self) -> float:
        """Radius of a ring's root circle."""
        return self.pitch_mm + (self.dedendum + self.shift) * self.module_mm

    @property
    def undercut(self) -> bool:
        """Whether the rack's tip cuts into the flank's foot."""
        return self.teeth < undercut_limit(self.pressure_angle_deg) * (1 - self.shift)


def tooth_thickness_mm(form: GearForm, radius_mm: float) -> float:
    """Give a tooth's thickness along a circle (ISO 21771): s_y = 2 r_y (s / 2r + inv α − inv α_y).

    0 below the base circle, where there is no flank.
    """
    half = _half_tooth(form, radius_mm)
    return 2 * radius_mm * half if half is not None else 0.0


def _half_tooth(form: GearForm, radius: float) -> float | None:
    """Half a tooth's angle at a radius; None inside the base circle."""
    if radius < form.base_mm - 1e-12:
        return None
    alpha = radians(form.pressure_angle_deg)
    thick = form.module_mm * (pi / 2 + 2 * form.shift * tan(alpha)) - form.thinning_mm
    at = acos(min(form.base_mm / radius, 1.0))
    return thick / (2 * form.pitch_mm) + involute(alpha) - involute(at)


def span_mm(form: GearForm, over: int) -> float:
    """Give the base tangent length over so many teeth (ISO 21771).

    W = m cos α ((k − ½) π + z inv α) + 2 x m sin α, less the thinning times cos α.
    """
    alpha = radians(form.pressure_angle_deg)
    plain = form.module_mm * cos(alpha) * ((over - 0.5) * pi + form.teeth * involute(alpha))
    shifted = 2 * form.shift * form.module_mm * sin(alpha)
    return plain + shifted - form.thinning_mm * cos(alpha)


def _fillet(form: GearForm) -> tuple[np.ndarray, np.ndarray]:
    """Give the fillet's radii and half-gap angles from the root to where the flank begins.

    The rack's tip is rounded about a point c; with the pitch point at the origin it touches the
    gear on the line from there through c, from straight below to where that line stands square on
    the rack's flank.
    """
    m, alpha = form.module_mm, radians(form.pressure_angle_deg)
    pitch, depth = form.pitch_mm, (form.dedendum - form.shift) * m
    half = m * pi / 4 + form.thinning_mm / 2  # the rack's tooth at its reference line
    low = form.dedendum * m  # its tip below that line
    # the rounding's middle must not lie beyond the tooth's own middle
    room = (half - low * tan(alpha)) * cos(alpha) / (1 - sin(alpha)) * (1 - 1e-9)
    round_ = max(min(form.tip_radius * m, room, 0.9 * depth), 1e-6)
    cx = half - (low - round_) * tan(alpha) - round_ / cos(alpha)
    cy = -(depth - round_)
    px = np.linspace(0.0, -cy / tan(alpha), FILLET_STEPS)
    reach = np.hypot(px, cy)
    x = px + round_ * px / reach
    y = pitch + cy + round_ * cy / reach
    turn = (px - cx) / pitch  # the gear turns as the rack rolls by
    gx, gy = x * np.cos(turn) - y * np.sin(turn), x * np.sin(turn) + y * np.cos(turn)
    radius, angle = np.hypot(gx, gy), np.arctan2(gx, gy)
    order = np.argsort(radius, kind="stable")
    return radius[order], angle[order]


@lru_cache(maxsize=256)  # a board or a sheet draws the same gear many times
def gear_shape(form: GearForm) -> tuple[Point, ...]:
    """Outline a gear about its centre, a tooth at angle zero, counter-clockwise.

    Raises
    ------
    ValueError
        The teeth would be pointed below their tips, or the root has no radius left.
    """
    return _round(round(form.teeth), tooth_profile(form))


def tooth_profile(form: GearForm) -> list[tuple[float, float]]:
    """Give one tooth as radii from root to tip with half its angle there; errors as the gear's."""
    if form.root_mm <= 0:
        raise ValueError(
            say("templates.teeth-leave-no-body-inside-the-root-circle", teeth=form.teeth)
        )
    tip = form.tip_mm
    top = _half_tooth(form, tip)
    if top is None or top <= 0:
        raise ValueError(
            say(
                "templates.teeth-with-a-shift-of-come-to-a-point",
                teeth=form.teeth,
                shift=form.shift,
            )
        )
    radii, angles = _fillet(form)
    start = _form_mm(form, radii, angles)
    below = np.linspace(float(radii[0]), start, FLANK_POINTS, endpoint=False)
    profile = [(float(r), pi / form.teeth - float(np.interp(r, radii, angles))) for r in below]
    profile += [
        (float(r), _half_tooth(form, float(r)) or 0.0)
        for r in np.linspace(start, tip, FLANK_POINTS)
    ]
    return profile


def _round(teeth: int, profile: list[tuple[float, float]]) -> tuple[Point, ...]:
    """Repeat a tooth's profile (radius, half angle), tips and roots joined along their circles."""
    (root, wide), (tip, narrow) = profile[0], profile[-1]
    gap = pi / teeth - wide
    across = np.linspace(-1.0, 1.0, ARC_POINTS)[1:-1]
    polar = [(r, -h) for r, h in profile]
    polar += [(tip, float(a) * narrow) for a in across]
    polar += [(r, h) for r, h in reversed(profile)]
    polar += [(root, pi / teeth + float(a) * gap) for a in across]
    radius, angle = np.array(polar).T
    around = np.add.outer(2 * pi * np.arange(teeth) / teeth, angle)
    x, y = (radius * np.cos(around)).ravel(), (radius * np.sin(around)).ravel()
    return tuple(zip(x.tolist(), y.tolist(), strict=True))


def _form_mm(form: GearForm, radii: np.ndarray, angles: np.ndarray) -> float:
    """Give the radius at which the flank begins: the last one at which the fillet cuts as wide."""
    best = max(form.base_mm, float(radii[0]))
    for radius, angle in zip(radii, angles, strict=True):
        own = _half_tooth(form, float(radius))
        if own is not None and angle >= pi / form.teeth - own - 1e-9:
            best = max(best, float(radius))
    return best


@lru_cache(maxsize=256)
def flank_start_mm(form: GearForm) -> float:
    """Give the radius at which a gear's involute flank begins: what undercut leaves of it."""
    return _form_mm(form, *_fillet(form))


def ring_shape(form: GearForm) -> tuple[Point, ...]:
    """Outline the toothed inside of a ring, its gaps shaped as an external gear's teeth.

    ``thinning_mm`` widens the gaps.

    Raises
    ------
    ValueError
        Teeth or gaps would come to a point.
    """
    wide = GearForm(
        form.teeth, form.module_mm, form.pressure_angle_deg, form.shift, -form.thinning_mm
    )
    inner, outer = form.ring_tip_mm, form.ring_root_mm
    profile = [
        (float(r), _half_tooth(wide, float(r)) or 0.0)
        for r in np.linspace(inner, outer, FLANK_POINTS)
    ]
    if inner >= outer or profile[-1][1] <= 0 or profile[0][1] >= pi / form.teeth:
        raise ValueError(say("templates.a-ring-of-teeth-comes-to-a-point", teeth=form.teeth))
    return _round(round(form.teeth), profile)


def rack_shape(
    module_mm: float,
    teeth: int,
    *,
    pressure_angle_deg: float = 20.0,
    thinning_mm: float = 0.0,
    back_mm: float = 4.0,
) -> tuple[Point, ...]:
    """Outline a rack of so many teeth, its pitch line at y = 0, teeth up, with a back below.

    Raises
    ------
    ValueError
        The teeth would come to a point.
    """
    alpha, pitch = radians(pressure_angle_deg), pi * module_mm
    half = pitch / 4 - thinning_mm / 2
    top, low = module_mm, -1.25 * module_mm
    if half - top * tan(alpha) <= 0:
        raise ValueError(say("templates.the-racks-teeth-come-to-a-point"))
    points: list[Point] = [(0.0, low - back_mm), (0.0, low)]
    for tooth in range(teeth):
        middle = (tooth + 0.5) * pitch
        foot, tip = half - low * tan(alpha), half - top * tan(alpha)
        points += [
            (middle - foot, low),
            (middle - tip, top),
            (middle + tip, top),
            (middle + foot, low),
        ]
    return (*points, (teeth * pitch, low), (teeth * pitch, low - back_mm))

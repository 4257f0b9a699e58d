"""Contact of a tilting bar, and of a star of arms, with the side arms of two half-axles.

The bar swings about a pin that stands off the axle by R; g is how far a side arm's plane is from
the bar's middle. A side arm turned by φ from the pin's direction meets the plane of the bar at
R tan φ to the side and R / cos φ out. The bar, tilted by ψ, touches both where tan ψ = R tan φ / g:
one side is turned ahead and the other back by the same φ. It lets go at the bar's end,
g / cos ψ = h, or at the side arm's, R / cos φ = s.

A star of N arms hands over from arm to arm every 2π/N. At the hand-over one arm stands π/N past the
middle and the next π/N before it, so that the side arms that they touch stand 2 φ(π/N) apart, with
tan φ = g tan ψ / R, while the side's own arms are 2π/N apart. Where that is more, the arms would
overlap and the star cannot turn; where less, there is free play.
"""

from math import acos, atan, cos, degrees, pi, radians, sqrt, tan

import numpy as np

from mild_badger.core.lesson.state import Setting

__all__ = [
    "bar_tilt_rad",
    "free_play_deg",
    "let_go_rad",
    "overlap_rad",
    "reach_mm",
    "star_tilt_rad",
    "star_turns",
    "star_unevenness",
]

LEAST_ARMS = 3
NONE_RAD = radians(0.05)


def let_go_rad(setting: Setting) -> float:
    """Give how far one side may run ahead of the carrier before the bar slips off."""
    bar = spoke = 0.0
    if setting.bar_mm > setting.gap_mm:
        bar = atan(sqrt(setting.bar_mm**2 - setting.gap_mm**2) / setting.arm_mm)
    if setting.spoke_mm > setting.arm_mm:
        spoke = acos(setting.arm_mm / setting.spoke_mm)
    return min(bar, spoke)


def bar_tilt_rad(setting: Setting, ahead_rad: float) -> float:
    """Give how the bar tilts where a side runs ahead by less than a quarter turn."""
    return atan(setting.arm_mm * tan(ahead_rad) / setting.gap_mm)


def _side_rad(setting: Setting, tilt: float) -> float:
    return atan(setting.gap_mm * tan(tilt) / setting.arm_mm)


def overlap_rad(setting: Setting) -> float:
    """Give by how much arms overlap at the hand-over; negative where that is free play."""
    if setting.arms < LEAST_ARMS:
        return pi
    return 2 * (pi / setting.arms - _side_rad(setting, pi / setting.arms))


def star_turns(setting: Setting) -> bool:
    """Whether a star can turn at all."""
    return overlap_rad(setting) < NONE_RAD


def star_tilt_rad(setting: Setting, ahead_rad: float) -> float:
    """Give how far a star has turned where a side is ahead by any angle."""
    pitch = 2 * pi / setting.arms
    number = round(ahead_rad / pitch)
    own = ahead_rad - number * pitch
    share = _side_rad(setting, pitch / 2) / (pitch / 2)
    return number * pitch + bar_tilt_rad(setting, own * share)


def star_unevenness(setting: Setting) -> float | None:
    """Give the range of a side's speed over a pitch by its mean, for a star that turns evenly.

    dφ/dψ = (g/R) cos² φ / cos² ψ while one arm pushes, and nothing during free play. None where
    the star cannot turn.
    """
    if not star_turns(setting):
        return None
    tilt = np.linspace(-pi / setting.arms, pi / setting.arms, 181)
    share = setting.gap_mm / setting.arm_mm
    side = np.arctan(share * np.tan(tilt))
    rate = share * np.cos(side) ** 2 / np.cos(tilt) ** 2
    least = 0.0 if -overlap_rad(setting) > NONE_RAD else float(rate.min())
    return float((rate.max() - least) / rate.mean())


def free_play_deg(setting: Setting) -> float:
    """Give a side's free play at each hand-over of a star."""
    return max(-degrees(overlap_rad(setting)), 0.0)


def reach_mm(setting: Setting) -> tuple[float, float]:
    """Give how long a star's arms and the side arms must be to hand over, within what has room."""
    half = pi / max(setting.arms, LEAST_ARMS)
    arm = setting.gap_mm / cos(half)
    side = setting.arm_mm / cos(_side_rad(setting, half))
    return arm + 1.5, side + 1.5

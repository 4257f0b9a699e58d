"""Universal joints: how unevenly they turn, alone and in pairs (Shigley; Norton).

A joint bent by β turns its output at cos β / (1 − sin² β cos² θ) of its input's speed, where θ is
counted from the place of the greatest speed; a second one in phase and bent alike evens it out.
"""

from dataclasses import dataclass
from math import cos, pi, radians, sin, tan

import numpy as np

__all__ = ["Ripple", "double_ripple", "fluctuation_percent", "joint_speed", "single_ripple"]

SAMPLES = 720


@dataclass(frozen=True)
class Ripple:
    """The greatest and the least speed of the output, for one of the input."""

    most: float
    least: float

    @property
    def percent(self) -> float:
        """Range of the speed in per cent of its mean."""
        return 100 * (self.most - self.least)


def joint_speed(bend_deg: float, turn_rad: float) -> float:
    """Speed of a single joint's output for one of its input, at an angle of turn."""
    bend = radians(bend_deg)
    return cos(bend) / (1 - sin(bend) ** 2 * cos(turn_rad) ** 2)


def single_ripple(bend_deg: float) -> Ripple:
    """Give the extremes of a single joint, 1/cos β and cos β."""
    bend = radians(bend_deg)
    return Ripple(1 / cos(bend), cos(bend))


def double_ripple(first_deg: float, second_deg: float, phase_deg: float = 0.0) -> Ripple:
    """Give the extremes of two joints in a row; phase 0 is as it should be, 90° the worst.

    The shaft between turns by tan θ₂ = tan θ₁ / cos β₁ (counted from the greatest speed); the
    second joint's fork stands ``phase_deg`` from where it evens the first one out.
    """
    turn = (np.arange(SAMPLES) + 0.5) * 2 * pi / SAMPLES
    one, two = radians(first_deg), radians(second_deg)
    speed = np.cos(one) / (1 - sin(one) ** 2 * np.cos(turn) ** 2)
    between = np.arctan2(np.sin(turn), np.cos(turn) * cos(one))
    # a quarter turn on from its own greatest speed the second joint slows what the first sped up
    there = between + pi / 2 + radians(phase_deg)
    whole = speed * np.cos(two) / (1 - sin(two) ** 2 * np.cos(there) ** 2)
    return Ripple(float(whole.max()), float(whole.min()))


def fluctuation_percent(bend_deg: float) -> float:
    """Range over mean of a single joint, tan β sin β, in per cent."""
    return 100 * tan(radians(bend_deg)) * sin(radians(bend_deg))

"""Road speeds of the real vehicle, and the two schools of scale speed (domain.md §2).

Speeds in mm/s unless a name says otherwise.
"""

import itertools
from math import sqrt

from mild_badger.core.units import rim_speed_mm_s
from mild_badger.core.vehicle.model import RealVehicle, Scale

__all__ = [
    "deviation_percent",
    "full_size_speed_mm_s",
    "real_speed_mm_s",
    "scaled_diameter_mm",
    "signed_error_percent",
    "spread",
    "steps",
]


def real_speed_mm_s(real: RealVehicle, ratio: float, rpm: float) -> float:
    """Road speed of the real vehicle in a gear at an engine speed."""
    return rim_speed_mm_s(rpm=rpm / (ratio * real.final_drive), diameter_mm=real.tyre_diameter_mm)


def full_size_speed_mm_s(speed_mm_s: float, scale: Scale) -> float:
    """Full-size speed that a model's speed stands for.

    Geometric: times n; Froude: times √n (similarity mechanics, equal v²/(g L)).
    """
    if scale.speed_school == "geometric":
        return speed_mm_s * scale.denominator
    return speed_mm_s * sqrt(scale.denominator)


def scaled_diameter_mm(real: RealVehicle, scale: Scale) -> float:
    """Diameter that the real tyre has at the model's scale."""
    return real.tyre_diameter_mm / scale.denominator


def steps(real: RealVehicle) -> tuple[float, ...]:
    """Give the steps i_k / i_(k+1) between neighbouring forward gears, in the order given."""
    forward = [gear.ratio for gear in real.gears if not gear.reverse]
    return tuple(a / b for a, b in itertools.pairwise(forward))


def spread(real: RealVehicle) -> float:
    """Spread i_1 / i_n over the forward gears; 1 for a single gear."""
    forward = [gear.ratio for gear in real.gears if not gear.reverse]
    return max(forward) / min(forward) if forward else 1.0


def signed_error_percent(ratio: float, target: float, factor: float = 1.0) -> float:
    """Error of a ratio against factor × target, 100·(ratio/(k·target) − 1) (domain.md §1)."""
    return 100.0 * (abs(ratio) / (factor * target) - 1.0)


def deviation_percent(error_percent: float) -> float:
    """Size of a signed error, too short and too long weighed alike: 100·(e^|d| − 1).

    This is what a tolerance limits, and what the worst error of a set is the greatest of
    (domain.md §1).
    """
    ratio = 1.0 + error_percent / 100.0
    return 100.0 * (max(ratio, 1.0 / ratio) - 1.0)

"""Profile shift: letting a pair sit at a centre distance that is not its nominal one.

Lengths mm, angles radians.
"""

from dataclasses import dataclass
from math import acos, ceil, cos, radians, sin, tan

from mild_badger.core.mesh.involute import involute
from mild_badger.core.mesh.seats import Seat, SeatVerdict, seat_at
from mild_badger.core.message import say
from mild_badger.core.vehicle.kit import GearSize, Kit

__all__ = [
    "ProfileShift",
    "least_sound_teeth",
    "profile_shift",
    "shifted_seat",
    "undercut_limit",
    "undercut_shift",
]

SLIGHT_TEETH = 0.1
"""By so little of a tooth a gear may fall short of the limit: 17 teeth do at 20° (17.097)."""


@dataclass(frozen=True)
class ProfileShift:
    """Profile shift coefficients of a driver and a driven gear, their sum split evenly.

    ``centre_distance_mm`` is the distance at which they run so.
    """

    total: float
    driver: float
    driven: float
    centre_distance_mm: float


def profile_shift(
    teeth: tuple[int, int],
    *,
    centre_distance_mm: float,
    module_mm: float,
    pressure_angle_rad: float,
) -> ProfileShift:
    """Give the shift with which two gears run without added play at a centre distance.

    x1 + x2 = (inv α' − inv α)(z1 + z2) / (2 tan α), cos α' = a cos α / a' (ISO 21771).

    Raises
    ------
    ValueError
        The distance is so small that the base circles would overlap.
    """
    nominal = (teeth[0] + teeth[1]) * module_mm / 2
    cosine = nominal * cos(pressure_angle_rad) / centre_distance_mm
    if cosine > 1:
        raise ValueError(
            say("mesh.no-shift-brings-and-teeth-so-close", teeth=teeth[0], teeth_2=teeth[1])
        )
    working = acos(cosine)
    total = (
        (involute(working) - involute(pressure_angle_rad))
        * (teeth[0] + teeth[1])
        / (2 * tan(pressure_angle_rad))
    )
    return ProfileShift(total, total / 2, total / 2, centre_distance_mm)


def shifted_seat(
    kit: Kit, first: GearSize, second: GearSize, offset_u: tuple[float, float]
) -> Seat:
    """Judge a pair whose profile shift fits its distance: it sits without error or added play."""
    plain = seat_at(kit, first, second, offset_u)
    mesh = plain.engagement
    allowance = (first.tooth_thinning_mm + second.tooth_thinning_mm) / 2
    fitted = type(mesh)(
        centre_distance_mm=mesh.centre_distance_mm,
        seat_error_mm=0.0,
        working_angle_rad=mesh.working_angle_rad,
        contact_ratio=mesh.contact_ratio,
        contact_ratio_clipped=mesh.contact_ratio_clipped,
        interference=mesh.interference,
        added_backlash_mm=0.0,
    )
    return Seat(plain.dx_u, plain.dy_u, fitted, allowance, SeatVerdict.GOOD)


def undercut_limit(pressure_angle_deg: float) -> float:
    """Teeth below which a rack cuts into the flank's foot: 2 / sin²α at full depth (ISO 21771)."""
    return 2 / sin(radians(pressure_angle_deg)) ** 2


def least_sound_teeth(pressure_angle_deg: float, shift: float = 0.0) -> int:
    """Give the fewest teeth that are not undercut: (1 − x) 2 / sin²α, a little less is allowed.

    Without shift 32, 17 and 12 at 14.5°, 20° and 25°, as handbooks list them.
    """
    return max(ceil(undercut_limit(pressure_angle_deg) * (1 - shift) - SLIGHT_TEETH), 1)


def undercut_shift(teeth: int, pressure_angle_deg: float) -> float:
    """Profile shift coefficient that just avoids undercut, x = 1 − z sin²α / 2; 0 if none is."""
    return max(0.0, 1 - teeth / undercut_limit(pressure_angle_deg))

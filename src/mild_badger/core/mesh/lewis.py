"""Bending of a tooth by Lewis, an estimate of what breaks it: σ = F / (b m Y).

Factors Y for 20° full-depth teeth (Shigley, Mechanical Engineering Design, table of the Lewis form
factor). The table starts at 12 teeth; below there is no value.
"""

from bisect import bisect_left

__all__ = ["lewis_factor", "lewis_load_n", "lewis_stress_mpa"]

TABLE = (
    (12, 0.245),
    (13, 0.261),
    (14, 0.277),
    (15, 0.290),
    (16, 0.296),
    (17, 0.303),
    (18, 0.309),
    (19, 0.314),
    (20, 0.322),
    (21, 0.328),
    (22, 0.331),
    (24, 0.337),
    (26, 0.346),
    (28, 0.353),
    (30, 0.359),
    (34, 0.371),
    (38, 0.384),
    (43, 0.397),
    (50, 0.409),
    (60, 0.422),
    (75, 0.435),
    (100, 0.447),
    (150, 0.460),
    (300, 0.472),
    (400, 0.480),
)


def lewis_factor(teeth: int) -> float | None:
    """Give Y, between the table's counts in a line; None below 12 teeth, the last one above 400."""
    counts = [count for count, _ in TABLE]
    if teeth < counts[0]:
        return None
    place = bisect_left(counts, teeth)
    if place == len(counts):
        return TABLE[-1][1]
    high, upper = TABLE[place]
    if high == teeth:
        return upper
    low, lower = TABLE[place - 1]
    return lower + (upper - lower) * (teeth - low) / (high - low)


def lewis_stress_mpa(
    force_n: float, *, face_mm: float, module_mm: float, teeth: int
) -> float | None:
    """Give the bending stress at the root in N/mm²; None where there is no factor."""
    factor = lewis_factor(teeth)
    return None if factor is None else force_n / (face_mm * module_mm * factor)


def lewis_load_n(
    strength_mpa: float, *, face_mm: float, module_mm: float, teeth: int
) -> float | None:
    """Give the force at which a tooth reaches a stress; None where there is no factor."""
    factor = lewis_factor(teeth)
    return None if factor is None else strength_mpa * face_mm * module_mm * factor

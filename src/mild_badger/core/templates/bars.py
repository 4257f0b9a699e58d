"""Bars with eyes, and the sheet such a small part is drawn on."""

from collections.abc import Sequence
from math import cos, radians, sin

from mild_badger.core.templates.drawing import Drawing

__all__ = ["EYE_MM", "bar", "sheet_for", "throw_jig"]

EYE_MM = 2.0
"""Material round an eye or a pin's hole (an estimate, no source)."""
MARGIN_MM, STEPS = 6.0, 24
Point = tuple[float, float]


def bar(one: float, other: float, between: float) -> list[Point]:
    """Outline two eyes with a bar between them: the first at the origin, the other above it."""
    points = [
        (other * cos(radians(a)), between + other * sin(radians(a)))
        for a in range(0, 181, 180 // STEPS)
    ]
    points += [
        (one * cos(radians(a)), one * sin(radians(a))) for a in range(180, 361, 180 // STEPS)
    ]
    return points


def sheet_for(title: str, words: Sequence[str], wide: float, high: float) -> tuple[Drawing, Point]:
    """Give a sheet with its words at the foot, and where the part's foot stands in the middle."""
    foot = MARGIN_MM + 4.0 * (len(words) + 1)
    sheet = Drawing(title, max(wide, 70.0) + 2 * MARGIN_MM, high + foot + MARGIN_MM)
    for number, line in enumerate((title, *words)):
        sheet.words("mark", (MARGIN_MM, foot - 4.0 * (number + 1)), line, height_mm=2.6)
    return sheet, (sheet.width_mm / 2, foot)


def throw_jig(
    title: str,
    words: Sequence[str],
    throws_deg: Sequence[float],
    sizes_mm: tuple[float, float, float],
) -> Drawing:
    """Draw a disc in which throws are glued: the shaft's hole, for each angle a line and a hole.

    Angles are from straight up, clockwise as drawn; ``sizes_mm`` are the throw, and the radii of
    the shaft's hole and of the pins', 0 for none.
    """
    throw, shaft, pin = sizes_mm
    radius = throw + pin + 3 * EYE_MM
    angles: dict[float, list[int]] = {}
    for number, angle in enumerate(throws_deg, start=1):
        angles.setdefault(angle % 360.0, []).append(number)
    sheet, (cx, foot) = sheet_for(title, words, 2 * radius, 2 * radius + 8)
    at = (cx, foot + radius + 4)
    sheet.circle("cut", at, radius)
    sheet.circle("cut", at, shaft)
    for angle, numbers in angles.items():
        way = sin(radians(angle)), cos(radians(angle))
        if pin:
            sheet.circle("cut", (at[0] + way[0] * throw, at[1] + way[1] * throw), pin)
        sheet.line(
            "engrave",
            (at[0] + way[0] * (shaft + 1), at[1] + way[1] * (shaft + 1)),
            (at[0] + way[0] * radius, at[1] + way[1] * radius),
        )
        label = f"{', '.join(map(str, numbers))}: {angle:g}°"
        # beside its line, within the disc
        out = max(0.5 * radius, shaft + 2.0)
        place = at[0] + way[0] * out + 0.8, at[1] + way[1] * out + 0.8
        sheet.words("mark", place, label, height_mm=2.2)
    return sheet

"""Bars with eyes, and the sheet such a small part is drawn on."""

from collections.abc import Sequence
from math import cos, radians, sin

from mild_badger.core.templates.drawing import Drawing

__all__ = ["EYE_MM", "bar", "sheet_for"]

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

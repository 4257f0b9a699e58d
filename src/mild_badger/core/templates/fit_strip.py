"""A strip of graded holes, cut or printed first, to find what fits one's own material and tool."""

from mild_badger.core.figures import in_a_row, in_mm, plain
from mild_badger.core.message import say
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.vehicle.making import FITS
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import word

__all__ = ["GRADES_MM", "fit_strip"]

GRADES_MM = (-0.2, -0.1, 0.0, 0.1, 0.2, 0.3, 0.4, 0.6)
MARGIN_MM, WEB_MM = 6.0, 5.0


def fit_strip(vehicle: Vehicle) -> Drawing:
    """Draw a row of holes for the kit's shaft, each with what it is wider; fits in force below."""
    shaft = vehicle.kit.shaft_diameter_mm
    making = vehicle.making
    pitch = max(shaft + max(GRADES_MM) + WEB_MM, 12.0)
    long, high = pitch * len(GRADES_MM) + WEB_MM, shaft + 2 * WEB_MM + 6.0
    fits = in_a_row(
        f"{word(fit)} {in_mm(making.allowance_mm(fit, vehicle.kit.kind), 2, sign=True)}"
        for fit in FITS
    )
    words = say("templates.in-force-for", made_of=making.made_of(vehicle.kit.kind), fits=fits)
    title = say("templates.fit-test-strip-for-shafts-of", shaft=in_mm(shaft))
    foot = 2 * MARGIN_MM + 6.0
    sheet = Drawing(
        title, max(long, len(plain(words)) * 1.6) + 2 * MARGIN_MM, foot + high + MARGIN_MM
    )
    sheet.rectangle("cut", MARGIN_MM, foot, MARGIN_MM + long, foot + high)
    for number, grade in enumerate(GRADES_MM):
        x = MARGIN_MM + WEB_MM / 2 + pitch * (number + 0.5)
        sheet.circle("cut", (x, foot + WEB_MM + shaft / 2), (shaft + grade) / 2)
        sheet.words("engrave", (x - 4.0, foot + high - 5.0), f"{grade:+.1f}", height_mm=3.0)
    sheet.words("mark", (MARGIN_MM, foot - 5.0), title, height_mm=2.6)
    sheet.words("mark", (MARGIN_MM, foot - 10.0), words, height_mm=2.6)
    return sheet

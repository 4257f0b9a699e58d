"""The circles of a PDF's pages, read back from what the pages draw."""

import re
from collections.abc import Iterator
from dataclasses import dataclass

from pypdf import PageObject

__all__ = ["Circle", "circles_of"]

POINTS_MM = 25.4 / 72
NUMBER = rb"(-?[\d.]+)"
START = re.compile(NUMBER + rb" " + NUMBER + rb" m$")
CURVE = re.compile(rb" ".join([NUMBER] * 6) + rb" c$")


@dataclass(frozen=True)
class Circle:
    """A circle of four curves: its middle and radius, mm from the page's lower left corner."""

    x: float
    y: float
    radius: float


def circles_of(page: PageObject) -> Iterator[Circle]:
    """List what a page draws as closed rows of four curves, as wide as high."""
    contents = page.get_contents()
    data = contents.get_data() if contents is not None else b""
    ends: list[tuple[float, float]] = []
    for raw in re.split(rb"\n|(?<= [mch]) ", data):
        line = raw.strip()
        kind = line[-2:]
        if kind == b" m" and (start := START.search(line)):
            ends = [(float(start[1]), float(start[2]))]
        elif ends and kind == b" c" and (curve := CURVE.search(line)):
            ends.append((float(curve[5]), float(curve[6])))
        elif ends:
            if len(ends) == 5 and ends[0] == ends[-1]:
                xs, ys = zip(*ends, strict=True)
                wide, high = max(xs) - min(xs), max(ys) - min(ys)
                if abs(wide - high) < 0.05:
                    x, y = (max(xs) + min(xs)) / 2, (max(ys) + min(ys)) / 2
                    yield Circle(x * POINTS_MM, y * POINTS_MM, wide / 2 * POINTS_MM)
            ends = []

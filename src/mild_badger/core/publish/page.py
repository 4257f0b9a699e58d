"""Pages of a PDF measured in millimetres from the top left corner, with words, lines and tables."""

import io
from collections.abc import Sequence
from datetime import date
from math import hypot

from PIL import Image
from reportlab.lib.colors import HexColor, white
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader, simpleSplit
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas

from mild_badger.core.figures import METRIC, UnitChoice, write
from mild_badger.core.message import say
from mild_badger.core.palette import PAPER
from mild_badger.core.publish.fonts import register_fonts
from mild_badger.core.templates.drawing import Drawing
from mild_badger.version import __version__

__all__ = [
    "BACK",
    "HAIR",
    "HEIGHT",
    "INK",
    "LEFT",
    "RIGHT",
    "RUN",
    "SOFT",
    "WIDTH",
    "Book",
    "Page",
    "fitted",
]

INK, SOFT, HAIR, RUN, BACK = (
    HexColor(PAPER[name]) for name in ("ink", "soft", "hair", "run", "back")
)
WIDTH, HEIGHT = A4[0] / mm, A4[1] / mm
LEFT, RIGHT = 14.0, WIDTH - 14.0
ARROW_LINE, HEAD_MM = 0.3, 1.8
"""How heavy an arrow's line is, and how long its head, mm."""
NUMBERS = "contents-numbers"
"""The form that they are drawn in, a name of the PDF: no spaces."""
HEAD_GAP_MM = 4.6
"""From a table's heads to its first row: letters stay clear of the line between."""
FOOT = 16.0
"""What is kept free at the lower edge for the page's number."""


class Page:
    """A canvas that measures from the top left, in millimetres, page after page of A4.

    Figures are written in ``units``.
    """

    def __init__(self, title: str, units: UnitChoice = METRIC) -> None:
        self.units = units
        self.told: list[str] = []
        """What was written, for the list of words at the end."""
        register_fonts()
        self.stream = io.BytesIO()
        self.canvas = Canvas(self.stream, pagesize=A4, invariant=1)
        self.canvas.setTitle(title)
        self.canvas.setCreator(f"Mild Badger {__version__}")

    def text(
        self,
        x: float,
        y: float,
        words: str,
        size: float,
        *,
        font: str = "Text",
        color: HexColor = INK,
        width: float | None = None,
        align: str = "left",
    ) -> None:
        """Write a line; where a width is given it is shortened to that."""
        words = write(words, self.units)
        self.told.append(words)
        if width is not None:
            words = fitted(words, font, size, width)
        self.canvas.setFont(font, size)
        self.canvas.setFillColor(color)
        draw = {
            "left": self.canvas.drawString,
            "right": self.canvas.drawRightString,
            "centre": self.canvas.drawCentredString,
        }[align]
        draw(x * mm, (HEIGHT - y) * mm, words)

    def picture(self, x: float, y: float, size: tuple[float, float], image: Image.Image) -> None:
        """Draw a picture with its upper left corner at a place, so many mm wide and high."""
        wide, high = size
        self.canvas.drawImage(
            ImageReader(image), x * mm, (HEIGHT - y - high) * mm, wide * mm, high * mm
        )

    def drawing(self, x: float, y: float, drawing: Drawing, scale: float) -> None:
        """Draw a drawing's lines to a scale, without its words, below a place."""
        for stroke in drawing.strokes:
            self.canvas.setStrokeColor(HAIR if stroke.layer == "mark" else INK)
            self.canvas.setLineWidth(0.12 * mm)
            low = y + drawing.height_mm * scale
            path = self.canvas.beginPath()
            for number, (px, py) in enumerate(stroke.points):
                at = (x + px * scale) * mm, (HEIGHT - low + py * scale) * mm
                path.lineTo(*at) if number else path.moveTo(*at)
            if stroke.closed:
                path.close()
            self.canvas.drawPath(path, stroke=1, fill=0)
        for ring in drawing.rounds:
            middle = drawing.height_mm - ring.at[1]
            self.circle(
                x + ring.at[0] * scale, y + middle * scale, ring.radius_mm * scale, INK, 0.12
            )

    def paragraph(
        self,
        x: float,
        y: float,
        words: str,
        size: float,
        *,
        width: float,
        color: HexColor = INK,
        most: int = 99,
        font: str = "Text",
    ) -> float:
        """Write words over as many lines as they take; give where the next line begins."""
        whole = write(words, self.units)
        self.told.append(whole)  # a term may stand over the end of a line
        lines = simpleSplit(whole, font, size, width * mm)
        if len(lines) > most:
            lines = [*lines[: most - 1], fitted(" ".join(lines[most - 1 :]), font, size, width)]
        for line in lines:
            self.text(x, y, line, size, color=color, font=font)
            y += size * 0.46
        return y

    def line(self, x1: float, y1: float, x2: float, y2: float, *, width: float = 0.2) -> None:
        """Draw a hairline."""
        self.canvas.setStrokeColor(HAIR)
        self.canvas.setLineWidth(width * mm)
        self.canvas.line(x1 * mm, (HEIGHT - y1) * mm, x2 * mm, (HEIGHT - y2) * mm)

    def width_of(self, words: str, font: str, size: float) -> float:
        """Give how wide words are, mm."""
        points: float = pdfmetrics.stringWidth(write(words, self.units), font, size)
        return float(points / mm)

    def arrow(self, start: tuple[float, float], end: tuple[float, float], color: HexColor) -> None:
        """Draw a dashed arrow."""
        canvas, (x0, y0), (x1, y1) = self.canvas, start, end
        long = hypot(x1 - x0, y1 - y0) or 1.0
        ux, uy = (x1 - x0) / long, (y1 - y0) / long
        canvas.setStrokeColor(color)
        canvas.setLineWidth(ARROW_LINE * mm)
        canvas.setDash(1.2 * mm, 0.8 * mm)
        canvas.line(x0 * mm, (HEIGHT - y0) * mm, x1 * mm, (HEIGHT - y1) * mm)
        canvas.setDash()
        head = canvas.beginPath()
        head.moveTo(x1 * mm, (HEIGHT - y1) * mm)
        for sign in (1.0, -1.0):
            x = x1 - HEAD_MM * ux - sign * HEAD_MM * 0.45 * uy
            y = y1 - HEAD_MM * uy + sign * HEAD_MM * 0.45 * ux
            head.lineTo(x * mm, (HEIGHT - y) * mm)
        head.close()
        canvas.setFillColor(color)
        canvas.drawPath(head, stroke=0, fill=1)

    def tag(
        self,
        at: tuple[float, float],
        size: tuple[float, float],
        words: str,
        points: float,
        leads_from: tuple[float, float] | None = None,
    ) -> None:
        """Write a short name on white, with a line from what it names where it stands off."""
        (x, y), (wide, high) = at, size
        if leads_from is not None:
            self.canvas.setStrokeColor(INK)
            self.canvas.setLineWidth(0.15 * mm)
            to = x + wide / 2, y + high / 2
            x0, y0 = leads_from
            self.canvas.line(x0 * mm, (HEIGHT - y0) * mm, to[0] * mm, (HEIGHT - to[1]) * mm)
        self.canvas.setFillColor(white)
        self.canvas.rect(x * mm, (HEIGHT - y - high) * mm, wide * mm, high * mm, stroke=0, fill=1)
        self.text(x + wide / 2, y + high * 0.8, words, points, align="centre")

    def circle(self, x: float, y: float, radius: float, color: HexColor, width: float) -> None:
        """Draw a circle."""
        self.canvas.setStrokeColor(color)
        self.canvas.setLineWidth(width * mm)
        self.canvas.circle(x * mm, (HEIGHT - y) * mm, radius * mm)

    def box(self, x: float, y: float, width: float, height: float, color: HexColor) -> None:
        """Draw a rectangle."""
        self.canvas.setStrokeColor(color)
        self.canvas.setLineWidth(0.25 * mm)
        self.canvas.rect(x * mm, (HEIGHT - y - height) * mm, width * mm, height * mm)

    def next(self) -> None:
        """Begin a new page."""
        self.canvas.showPage()

    def finish(self) -> bytes:
        """End the last page and give the PDF."""
        self.canvas.showPage()
        self.canvas.save()
        return self.stream.getvalue()


class Book(Page):
    """A document of numbered pages with a head each, and tables that go on over pages."""

    def __init__(self, title: str, day: date, version: str, units: UnitChoice = METRIC) -> None:
        super().__init__(title, units)
        self.title, self.day, self.version = title, day, version
        self.number = 0
        self.heading = ""
        self._open = False
        self.starts: dict[str, int] = {}
        """On which page each chapter begins, by its key."""
        self._chapter: tuple[str, str] | None = None
        self._listed: list[tuple[str, float]] = []

    def chapter(self, key: str, title: str) -> None:
        """Take note that the next page begins a chapter: it is marked and in the outline."""
        self._chapter = key, write(title, self.units)

    def _marked(self) -> None:
        if self._chapter is not None:
            key, title = self._chapter
            self.canvas.bookmarkPage(key)
            self.canvas.addOutlineEntry(title, key, 0)
            self.starts[key] = self.number
            self._chapter = None

    def entry(self, y: float, key: str, title: str) -> None:
        """Write a line of the contents that leads to a chapter; its page comes in at the end."""
        self.text(LEFT + 2, y, title, 9, width=RIGHT - LEFT - 20)
        self.line(LEFT, y + 1.8, RIGHT, y + 1.8, width=0.1)
        corners = (LEFT * mm, (HEIGHT - y - 1.6) * mm, RIGHT * mm, (HEIGHT - y + 4.2) * mm)
        self.canvas.linkRect("", key, corners, relative=0, Border="[0 0 0]")
        if not self._listed:
            self.canvas.doForm(NUMBERS)
        self._listed.append((key, y))

    def _number_entries(self) -> None:
        """Fill in on which pages the chapters of the contents begin."""
        if not self._listed:
            return
        self.canvas.beginForm(NUMBERS)
        for key, y in self._listed:
            if key not in self.starts:  # one without a page leads to where it would be
                self.canvas.bookmarkPage(key)
            self.text(RIGHT - 2, y, str(self.starts.get(key, "–")), 9, align="right")
        self.canvas.endForm()

    def begin(self, heading: str) -> float:
        """Begin a page with a heading; give where its body begins."""
        if self._open:
            self.canvas.showPage()
        self._open, self.heading = True, heading
        self.number += 1
        self._marked()
        self.text(LEFT, 18, heading, 16, font="Figure", width=RIGHT - LEFT - 30)
        self.text(RIGHT, 18, self.title, 7, color=SOFT, align="right", width=70)
        self.line(LEFT, 21, RIGHT, 21)
        self.foot()
        return 29.0

    def bare(self) -> None:
        """Begin a page that something else fills whole."""
        if self._open:
            self.canvas.showPage()
        self._open = True
        self.number += 1
        self._marked()

    def foot(self) -> None:
        """Write the page's number, the version and the day."""
        words = say(
            "publish.mild-badger",
            title=self.title,
            version=self.version,
            isoformat=self.day.isoformat(),
            version_2=__version__,
        )
        self.text(LEFT, HEIGHT - 9, words, 6.5, color=SOFT, width=RIGHT - LEFT - 16)
        self.text(RIGHT, HEIGHT - 9, str(self.number), 8, color=SOFT, align="right")

    def left(self, y: float) -> float:
        """Say how much of the page is left below a place."""
        left: float = max(HEIGHT - FOOT - y, 0.0)
        return left

    def room(self, y: float, needed: float) -> float:
        """Go on at y if so much fits there, else on a new page under the same heading."""
        if y + needed <= HEIGHT - FOOT:
            return y
        heading = self.heading.removesuffix(", continued")
        return self.begin(say("publish.continued", heading=heading))

    def table(
        self,
        y: float,
        columns: Sequence[tuple[str, float, str]],
        rows: Sequence[Sequence[str]],
        *,
        size: float = 7.5,
        step: float = 4.6,
    ) -> float:
        """Write rows under column heads (words, place, align); give where it ends.

        A column reaches to the next one's place; what does not fit is cut off with dots.
        """
        edges = [x for _, x, _ in columns]

        def wide(number: int) -> float:
            if columns[number][2] == "right":
                before = edges[number - 1] if number else LEFT
                return edges[number] - before - (0 if columns[number - 1][2] == "right" else 14)
            after = edges[number + 1] if number + 1 < len(edges) else RIGHT
            right = number + 1 < len(edges) and columns[number + 1][2] == "right"
            return after - edges[number] - (14 if right else 2)

        def heads(y: float) -> float:
            for title, x, align in columns:
                self.text(x, y, title, size - 1, color=SOFT, align=align)
            self.line(LEFT, y + 1.4, RIGHT, y + 1.4, width=0.1)
            return y + max(step, HEAD_GAP_MM)

        y = heads(self.room(y, 3 * step))
        for row in rows:
            after = self.room(y, step)
            if after != y:
                y = heads(after)
            for number, (cell, (_, x, align)) in enumerate(zip(row, columns, strict=True)):
                self.text(x, y, cell, size, align=align, width=max(wide(number), 8.0))
            y += step
        self.line(LEFT, y - step + 1.4, RIGHT, y - step + 1.4, width=0.1)
        return y + 2

    def close(self) -> bytes:
        """Give the PDF; a book of no chapter at all says so on its one page."""
        if not self._open:
            y = self.begin(say("publish.nothing-to-show"))
            self.paragraph(
                LEFT,
                y,
                say("publish.the-chosen-chapters-have-nothing-to-show-for"),
                8,
                width=RIGHT - LEFT,
            )
        self._number_entries()
        return self.finish()


def fitted(words: str, font: str, size: float, width_mm: float) -> str:
    """Shorten a text with three dots until it fits."""
    register_fonts()
    if pdfmetrics.stringWidth(words, font, size) <= width_mm * mm:
        return words
    low, high = 0, len(words)
    while low < high:
        middle = (low + high + 1) // 2
        if pdfmetrics.stringWidth(words[:middle] + "...", font, size) <= width_mm * mm:
            low = middle
        else:
            high = middle - 1
    return words[:low].rstrip() + "..."

"""Pages of a PDF measured in millimetres from the top left corner, with words, lines and tables."""

import io
from collections.abc import Callable, Sequence
from datetime import date
from hashlib import sha256
from math import hypot
from typing import Literal

from reportlab import rl_config
from reportlab.lib.colors import HexColor, white
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.units import mm
from reportlab.lib.utils import simpleSplit
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.pdfdoc import PDFImageXObject
from reportlab.pdfgen.canvas import Canvas

from mild_badger.core.figures import METRIC, UnitChoice, write
from mild_badger.core.message import say
from mild_badger.core.palette import PAPER
from mild_badger.core.publish.figures import draw_figure
from mild_badger.core.publish.fonts import register_fonts
from mild_badger.core.publish.space_picture import PackedPicture
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.workshop.figure import Figure
from mild_badger.version import __version__

__all__ = [
    "BACK",
    "HAIR",
    "INK",
    "LEFT",
    "LETTERED",
    "LINE",
    "RIGHT",
    "RUN",
    "SOFT",
    "WIDTH",
    "Book",
    "BookPaper",
    "Page",
    "fitted",
]

rl_config.useA85 = 0
"""Pages go in as bytes, not spelled out in letters, which takes a quarter more."""
INK, SOFT, HAIR, RUN, BACK = (
    HexColor(PAPER[name]) for name in ("ink", "soft", "hair", "run", "back")
)
BookPaper = Literal["A4", "Letter"]
WIDTH = A4[0] / mm
LEFT, RIGHT = 14.0, WIDTH - 14.0
ARROW_LINE, HEAD_MM = 0.3, 1.8
"""How heavy an arrow's line is, and how long its head, mm."""
NUMBERS = "contents-numbers"
"""The form that they are drawn in, a name of the PDF: no spaces."""
LETTERS, LETTERED, LETTERS_MM = "letters", "shafts by letter", 44.0
"""What tells at the foot where letters are drawn: its form, what is marked there, its room."""
LINE = 0.46
"""From line to line, mm for a point of size."""
HEAD_GAP_MM = 5.2
"""From a table's heads to its first row: letters stay clear of the line between."""
FOOT, APART_MM, TOP, FILLED = 16.0, 12.0, 29.0, 0.69
"""What is kept free at the lower edge for the page's number, and between chapters on a page; where
a page begins below its heading, and down to what share of it it should be filled."""


class _PictureCanvas(Canvas):  # type: ignore[misc]
    """A canvas that takes pictures as they are packed already."""

    def draw_packed(
        self, picture: PackedPicture, x: float, y: float, wide: float, high: float
    ) -> None:
        """Draw a picture into a rectangle, in points from the lower left."""
        name = f"picture{sha256(picture.data).hexdigest()[:20]}"
        if not self.hasForm(name):
            held = PDFImageXObject(name)
            held.width, held.height = picture.size
            held.bitsPerComponent, held.colorSpace = 8, "DeviceRGB"
            held._filters, held.streamContent = ("FlateDecode",), picture.data
            self._setXObjects(held)
            self._doc.Reference(held, self._doc.getXObjectName(name))
            self._doc.addForm(name, held)
        self._currentPageHasImages = 1
        self.saveState()
        self.translate(x, y)
        self.scale(wide, high)
        self.doForm(name)
        self.restoreState()


class Page:
    """A canvas that measures from the top left, in millimetres, page after page.

    Figures are written in ``units``. Everything stands as on A4; Letter is wider and less high.
    """

    def __init__(self, title: str, units: UnitChoice = METRIC, paper: BookPaper = "A4") -> None:
        self.units = units
        size = {"A4": A4, "Letter": LETTER}[paper]
        self.high = size[1] / mm
        self.aside = (size[0] / mm - WIDTH) / 2
        """By how much everything is moved to the right, to stand in the middle of the paper."""
        self.low = 0.0
        """How far down the page anything is drawn so far."""
        self.told: list[str] = []
        """What was written, for the list of words at the end."""
        register_fonts()
        self.stream = io.BytesIO()
        self.canvas = _PictureCanvas(self.stream, pagesize=size, invariant=1)
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
        draw(x * mm, (self.high - y) * mm, words)
        self.low = max(self.low, y)

    def picture(
        self, x: float, y: float, size: tuple[float, float], picture: PackedPicture
    ) -> None:
        """Draw a picture with its upper left corner at a place, so many mm wide and high."""
        wide, high = size
        self.canvas.draw_packed(picture, x * mm, (self.high - y - high) * mm, wide * mm, high * mm)
        self.low = max(self.low, y + high)

    def figure(
        self,
        figure: Figure,
        place: tuple[float, float],
        size: tuple[float, float],
        scale: float,
        *,
        from_left: bool = False,
    ) -> None:
        """Draw a figure to a scale into a box: in its middle, or from its left."""
        (x, y), (wide, high) = place, size
        box = x, self.high - y, wide, high
        draw_figure(self.canvas, figure, box, scale, from_left=from_left, units=self.units)
        _, low, _, top = figure.box()
        self.low = max(self.low, y + high / 2 + (top - low) * scale / 2)

    def drawing(self, x: float, y: float, drawing: Drawing, scale: float) -> None:
        """Draw a drawing's lines to a scale, without its words, below a place."""
        for stroke in drawing.strokes:
            self.canvas.setStrokeColor(HAIR if stroke.layer == "mark" else INK)
            self.canvas.setLineWidth(0.12 * mm)
            low = y + drawing.height_mm * scale
            path = self.canvas.beginPath()
            for number, (px, py) in enumerate(stroke.points):
                at = (x + px * scale) * mm, (self.high - low + py * scale) * mm
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
            y += size * LINE
        return y

    def parted(self, words: str, size: float, width: float) -> list[str]:
        """Part words into lines that are no wider than so much, mm; a long word is shortened."""
        whole = write(words, self.units)
        self.told.append(whole)  # a term may stand over the end of a line
        lines = simpleSplit(whole, "Text", size, width * mm) or [""]
        return [fitted(line, "Text", size, width) for line in lines]

    def lines(self, words: str, size: float, width: float) -> int:
        """Say over how many lines words go."""
        return len(simpleSplit(write(words, self.units), "Text", size, width * mm))

    def line(self, x1: float, y1: float, x2: float, y2: float, *, width: float = 0.2) -> None:
        """Draw a hairline."""
        self.canvas.setStrokeColor(HAIR)
        self.canvas.setLineWidth(width * mm)
        self.canvas.line(x1 * mm, (self.high - y1) * mm, x2 * mm, (self.high - y2) * mm)
        self.low = max(self.low, y1, y2)

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
        canvas.line(x0 * mm, (self.high - y0) * mm, x1 * mm, (self.high - y1) * mm)
        canvas.setDash()
        head = canvas.beginPath()
        head.moveTo(x1 * mm, (self.high - y1) * mm)
        for sign in (1.0, -1.0):
            x = x1 - HEAD_MM * ux - sign * HEAD_MM * 0.45 * uy
            y = y1 - HEAD_MM * uy + sign * HEAD_MM * 0.45 * ux
            head.lineTo(x * mm, (self.high - y) * mm)
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
            self.canvas.line(x0 * mm, (self.high - y0) * mm, to[0] * mm, (self.high - to[1]) * mm)
        self.canvas.setFillColor(white)
        self.canvas.rect(
            x * mm, (self.high - y - high) * mm, wide * mm, high * mm, stroke=0, fill=1
        )
        self.text(x + wide / 2, y + high * 0.8, words, points, align="centre")

    def outline(self, points: Sequence[tuple[float, float]], color: HexColor) -> None:
        """Draw a closed thin line."""
        path = self.canvas.beginPath()
        for number, (x, y) in enumerate(points):
            at = x * mm, (self.high - y) * mm
            path.lineTo(*at) if number else path.moveTo(*at)
        path.close()
        self.canvas.setStrokeColor(color)
        self.canvas.setLineWidth(0.1 * mm)
        self.canvas.drawPath(path, stroke=1, fill=0)

    def circle(self, x: float, y: float, radius: float, color: HexColor, width: float) -> None:
        """Draw a circle."""
        self.canvas.setStrokeColor(color)
        self.canvas.setLineWidth(width * mm)
        self.canvas.circle(x * mm, (self.high - y) * mm, radius * mm)
        self.low = max(self.low, y + radius)

    def box(self, x: float, y: float, width: float, height: float, color: HexColor) -> None:
        """Draw a rectangle."""
        self.canvas.setStrokeColor(color)
        self.canvas.setLineWidth(0.25 * mm)
        self.canvas.rect(x * mm, (self.high - y - height) * mm, width * mm, height * mm)
        self.low = max(self.low, y + height)

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

    def __init__(
        self,
        title: str,
        day: date,
        version: str,
        units: UnitChoice = METRIC,
        paper: BookPaper = "A4",
    ) -> None:
        super().__init__(title, units, paper)
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
            top = (self.high - max(self.low, 0.0)) * mm
            self.canvas.bookmarkPage(key, fit="XYZ", left=0, top=top, zoom=0)
            self.canvas.addOutlineEntry(title, key, 0)
            self.starts[key] = self.number
            self._chapter = None

    def entry(self, y: float, key: str, title: str) -> None:
        """Write a line of the contents that leads to a chapter; its page comes in at the end."""
        self.text(LEFT + 2, y, title, 9, width=RIGHT - LEFT - 20)
        self.line(LEFT, y + 1.8, RIGHT, y + 1.8, width=0.1)
        left, right = LEFT + self.aside, RIGHT + self.aside  # links know of no moving aside
        corners = (left * mm, (self.high - y - 1.6) * mm, right * mm, (self.high - y + 4.2) * mm)
        self.canvas.linkRect("", key, corners, relative=0, Border="[0 0 0]")
        if not self._listed:
            self.canvas.doForm(NUMBERS)
        self._listed.append((key, y))

    def _number_entries(self) -> None:
        """Fill in on which pages the chapters of the contents begin."""
        if not self._listed:
            return
        for key, _ in self._listed:
            if key not in self.starts:  # one without a page leads to where it would be
                self.canvas.bookmarkPage(key)
        self.canvas.beginForm(NUMBERS)
        for key, y in self._listed:
            self.text(RIGHT - 2, y, str(self.starts.get(key, "–")), 9, align="right")
        self.canvas.endForm()

    def _say_where_letters_are(self) -> None:
        """Fill in at the foot of all pages where the shafts are drawn by their letters."""
        self.canvas.beginForm(LETTERS)
        number = self.starts.get(LETTERED, self.starts.get("layers"))
        if number is not None:
            words = say("publish.shafts-by-letter", page=number)
            self.text(RIGHT - 8, self.high - 9, words, 6.5, color=SOFT, align="right")
        self.canvas.endForm()

    def begin(self, heading: str, *, share: float = 0.0) -> float:
        """Begin a page with a heading, and give where its body begins.

        With a ``share`` the heading goes on this page where so much room is left below it, mm.
        """
        self.heading = heading
        start = self.low + APART_MM
        if share and self._open and self.low and start + share <= self.high - FOOT:
            self._marked()
            self.text(LEFT, start, heading, 13, font="Figure", width=RIGHT - LEFT)
            self.line(LEFT, start + 2.5, RIGHT, start + 2.5)
            return start + 10.0
        self.bare()
        self.text(LEFT, 18, heading, 16, font="Figure", width=RIGHT - LEFT - 30)
        self.text(RIGHT, 18, self.title, 7, color=SOFT, align="right", width=70)
        self.line(LEFT, 21, RIGHT, 21)
        self.foot()
        self.low = 21.0
        return TOP

    def bare(self) -> None:
        """Begin a page that has no heading."""
        self.sheet()
        self.canvas.translate(self.aside * mm, 0)

    def sheet(self) -> None:
        """Begin a page that something else fills whole, on paper of its own."""
        if self._open:
            self.canvas.showPage()
        self._open = True
        self.low = 0.0
        self.number += 1
        self._marked()

    def foot(self) -> None:
        """Write the page's number, the version and the day."""
        low = self.low
        words = say(
            "publish.mild-badger",
            title=self.title,
            version=self.version,
            isoformat=self.day.isoformat(),
            version_2=__version__,
        )
        self.text(LEFT, self.high - 9, words, 6.5, color=SOFT, width=RIGHT - LEFT - 16 - LETTERS_MM)
        self.canvas.doForm(LETTERS)
        self.text(RIGHT, self.high - 9, str(self.number), 8, color=SOFT, align="right")
        self.low = low  # the foot is not what the page is filled with

    def left(self, y: float) -> float:
        """Say how much of the page is left below a place."""
        left: float = max(self.high - FOOT - y, 0.0)
        return left

    def room(self, y: float, needed: float) -> float:
        """Go on at y if so much fits there, else on a new page under the same heading."""
        if y + needed <= self.high - FOOT:
            return y
        heading = self.heading.removesuffix(", continued")
        return self.begin(say("publish.continued", heading=heading))

    def spread(
        self, y: float, heights: Callable[[float], Sequence[float]], gaps: Sequence[float]
    ) -> float:
        """Choose between rows the first gap with which they fill their last page far enough.

        ``heights`` gives what the rows take from y on, mm, with a gap; where no gap will do, the
        first is taken.
        """
        for gap in gaps:
            at = y
            for high in heights(gap):
                at = (at if at + high <= self.high - FOOT else TOP) + high
            if at >= self.high * FILLED:
                return gap
        return gaps[0]

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

        A column reaches to the next one's place; what does not fit goes over several lines.
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
            cells = [self.parted(c, size, max(wide(n), 8.0)) for n, c in enumerate(row)]
            more = (max(map(len, cells), default=1) - 1) * size * LINE
            after = self.room(y, step + more)
            if after != y:
                y = heads(after)
            for lines, (_, x, align) in zip(cells, columns, strict=True):
                for number, line in enumerate(lines):
                    self.text(x, y + number * size * LINE, line, size, align=align)
            y += step + more
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
        self._say_where_letters_are()
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

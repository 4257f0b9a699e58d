"""The words of a PDF's pages with the rectangles about them, read back by pypdf."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from pypdf import PageObject

__all__ = ["Line", "cut_off", "lines_of", "overlapping", "overlapping_of"]

POINTS_MM = 25.4 / 72
ASCENT, DESCENT = 0.62, 0.12
"""How far letters reach above and below their line, by the size: without accents and brackets."""
MARGIN_MM = 5.0


@dataclass(frozen=True)
class Line:
    """A line of words: left, low, right, high in mm from the page's lower left corner."""

    words: str
    box: tuple[float, float, float, float]


def _multiplied(a: list[float], b: list[float]) -> list[float]:
    return [
        a[0] * b[0] + a[1] * b[2],
        a[0] * b[1] + a[1] * b[3],
        a[2] * b[0] + a[3] * b[2],
        a[2] * b[1] + a[3] * b[3],
        a[4] * b[0] + a[5] * b[2] + b[4],
        a[4] * b[1] + a[5] * b[3] + b[5],
    ]


class _Font:
    """Reads a font's characters: what they are, how wide."""

    def __init__(self, font: Any) -> None:
        held = font.get_object()
        self.first = int(held.get("/FirstChar", 0))
        self.widths = [float(w) for w in held.get("/Widths", [])]
        self.known = _mapped(held)

    def width(self, data: bytes) -> float:
        places = (code - self.first for code in data)
        return sum(self.widths[n] if 0 <= n < len(self.widths) else 500.0 for n in places) / 1000

    def words(self, data: bytes) -> str:
        return "".join(self.known.get(code, chr(code)) for code in data)


def _mapped(font: Any) -> dict[int, str]:
    """Read which signs a subset's codes stand for."""
    table = font.get("/ToUnicode")
    if table is None:
        return {}
    text = table.get_object().get_data().decode("latin-1")
    known: dict[int, str] = {}
    for block in text.split("beginbfrange")[1:]:
        for row in block.split("endbfrange")[0].strip().splitlines():
            low, _, rest = row.replace("> <", ">|<").partition("|")
            start = int(low.strip("<> "), 16)
            if "[" in row:
                signs = row[row.index("[") + 1 : row.index("]")].split()
                for n, sign in enumerate(signs):
                    known[start + n] = chr(int(sign.strip("<>"), 16))
            elif rest:
                known[start] = chr(int(rest.split(">")[-2].strip(" <|"), 16))
    for block in text.split("beginbfchar")[1:]:
        for row in block.split("endbfchar")[0].strip().splitlines():
            code, sign = (part.strip("<> ") for part in row.split())
            known[int(code, 16)] = chr(int(sign, 16))
    return known


def lines_of(page: PageObject) -> list[Line]:
    """List every line that a page shows."""
    contents = page.get_contents()
    data = contents.get_data() if contents is not None else b""
    return list(_shown(data, page["/Resources"].get_object(), [1, 0, 0, 1, 0, 0]))


OPERATORS = re.compile(
    rb"\((?P<words>(?:\\[\s\S]|[^\\()])*)\)\s*Tj"
    rb"|(?P<numbers>(?:[-+.\d]+\s+)+)(?P<with>cm|Tm|Td|TL)\b"
    rb"|/(?P<font>[^\s/]+)\s+(?P<size>[-.\d]+)\s+Tf\b"
    rb"|/(?P<form>[^\s/]+)\s+Do\b"
    rb"|(?<![\w/*])(?P<bare>BT|T\*|q|Q)(?![\w*])"
)
"""What moves and writes words, in the pages as they are written here; lines and curves are passed
over, which are by far the most."""
WRITES = re.compile(rb"[TqQD]|cm")
ESCAPED = re.compile(rb"\\([0-7]{1,3}|[\s\S])")
NAMED = {b"n": b"\n", b"r": b"\r", b"t": b"\t", b"b": b"\b", b"f": b"\f"}


def _plain(raw: bytes) -> bytes:
    def one(found: re.Match[bytes]) -> bytes:
        sign = found[1]
        return bytes([int(sign, 8) & 255]) if sign[:1].isdigit() else NAMED.get(sign, sign)

    return ESCAPED.sub(one, raw)


def _shown(data: bytes, resources: Any, base: list[float]) -> Iterator[Line]:
    fonts: dict[str, _Font] = {}
    held, forms = resources.get("/Font"), resources.get("/XObject")
    names = held.get_object() if held is not None else {}
    kept: list[list[float]] = []
    matrix, text, line = list(base), [1.0, 0, 0, 1, 0, 0], [1.0, 0, 0, 1, 0, 0]
    font, size, leading = "", 0.0, 0.0
    written = b"\n".join(line for line in data.split(b"\n") if WRITES.search(line))
    for found in OPERATORS.finditer(written):
        if found["words"] is not None:
            raw = _plain(found["words"])
            if font not in fonts:
                fonts[font] = _Font(names[font])
            wide = fonts[font].width(raw) * size
            at = _multiplied(text, matrix)
            text = _multiplied([1, 0, 0, 1, wide, 0], text)
            words = fonts[font].words(raw)
            if words.strip():
                yield Line(words, _boxed(at, wide, size))
        elif found["with"] is not None:
            numbers = [float(number) for number in found["numbers"].split()]
            match found["with"]:
                case b"cm":
                    matrix = _multiplied(numbers[-6:], matrix)
                case b"Tm":
                    text = line = numbers[-6:]
                case b"Td":
                    text = line = _multiplied([1, 0, 0, 1, *numbers[-2:]], line)
                case _:
                    leading = numbers[-1]
        elif found["font"] is not None:
            font, size = f"/{found['font'].decode()}", float(found["size"])
        elif found["form"] is not None and forms is not None:
            form = forms.get_object()[f"/{found['form'].decode()}"].get_object()
            if form["/Subtype"] == "/Form":
                own = form.get("/Resources", resources).get_object()
                yield from _shown(form.get_data(), own, matrix)
        elif found["bare"] == b"q":
            kept.append(matrix)
        elif found["bare"] == b"Q":
            matrix = kept.pop()
        elif found["bare"] == b"BT":
            text = line = [1.0, 0, 0, 1, 0, 0]
        elif found["bare"] == b"T*":
            text = line = _multiplied([1, 0, 0, 1, 0, -leading], line)


def _boxed(at: list[float], wide: float, size: float) -> tuple[float, float, float, float]:
    corners = [
        (x * at[0] + y * at[2] + at[4], x * at[1] + y * at[3] + at[5])
        for x in (0.0, wide)
        for y in (-DESCENT * size, ASCENT * size)
    ]
    xs, ys = [x * POINTS_MM for x, _ in corners], [y * POINTS_MM for _, y in corners]
    return min(xs), min(ys), max(xs), max(ys)


def overlapping(page: PageObject, *, by_mm: float = 0.25) -> list[tuple[str, str]]:
    """List pairs of lines whose rectangles go into one another."""
    return overlapping_of(lines_of(page), by_mm=by_mm)


def overlapping_of(lines: Sequence[Line], *, by_mm: float = 0.25) -> list[tuple[str, str]]:
    """List pairs of lines whose rectangles go into one another."""
    found = []
    low_first = sorted(enumerate(lines), key=lambda row: row[1].box[1])
    for n, (at, one) in enumerate(low_first):
        a = one.box
        for place, other in low_first[n + 1 :]:
            b = other.box
            if b[1] > a[3] - by_mm:
                break  # what follows begins higher still
            if min(a[2], b[2]) - max(a[0], b[0]) > by_mm and min(a[3], b[3]) - b[1] > by_mm:
                first, second = sorted(((at, one), (place, other)), key=lambda row: row[0])
                found.append((first[1].words, second[1].words))
    return found


def cut_off(page: PageObject, lines: Sequence[Line] | None = None) -> list[str]:
    """List lines that reach into the page's edge."""
    wide, high = (float(v) * POINTS_MM for v in (page.mediabox.width, page.mediabox.height))
    return [
        line.words
        for line in (lines_of(page) if lines is None else lines)
        if line.box[0] < MARGIN_MM
        or line.box[1] < MARGIN_MM - 2
        or line.box[2] > wide - MARGIN_MM
        or line.box[3] > high - MARGIN_MM
    ]

"""Dimensions round a wall: chains from hole to hole, and each place from the lower left corner.

Chains stand below and at the left, places above and at the right. Words that have no room are left
out; the sheet's table has them all.
"""

import math
from collections.abc import Callable, Sequence

from mild_badger.core.figures import bare, in_mm
from mild_badger.core.publish.page import SOFT, Book
from mild_badger.core.workshop.sheets import WallSheet

__all__ = ["chain_of", "dimensioned"]

WORDS_PT, LETTERS_MM, HAIR = 5.0, 1.6, 0.12
OFF_MM, TICK_MM, ASIDE_MM = 3.5, 0.8, 0.6
"""From the wall to the line of a chain, half a tick, and words from what they belong to."""
NEAR_MM = 0.02
"""Places as near to one another as this are one."""
Point = tuple[float, float]


def chain_of(places: Sequence[float], end: float) -> list[float]:
    """Give the places of a chain in order, mm: from 0 to an end, each once."""
    made = [0.0]
    for place in sorted((*places, end)):
        if place - made[-1] > NEAR_MM:
            made.append(place)
    return made


def dimensioned(book: Book, sheet: WallSheet, on_page: Callable[[Point], Point]) -> None:
    """Draw the dimensions of a wall round it; ``on_page`` says where a place of its frame is."""
    left, low, right, high = sheet.wall.reach_mm
    bores = [hole for hole in sheet.holes if hole.kind != "access"]
    (x0, y0), (x1, y1) = on_page((left, low)), on_page((right, high))
    across = chain_of([hole.x_mm for hole in bores], right - left)
    upwards = chain_of([hole.y_mm for hole in bores], high - low)
    _chained(book, across, [on_page((left + x, low))[0] for x in across], (y0, y1), upright=False)
    _chained(book, upwards, [on_page((left, low + y))[1] for y in upwards], (x0, x1), upright=True)


def _chained(
    book: Book,
    chain: Sequence[float],
    places: Sequence[float],
    edges: tuple[float, float],
    *,
    upright: bool,
) -> None:
    """Draw a chain off one edge of a wall, and its places, told from its start, off the other.

    ``places`` are those of the chain on the page, along the edges.
    """
    away = -OFF_MM if upright else OFF_MM
    near, far = edges[0] + away, edges[1] - away

    def line(along: float, off: float, along_1: float, off_1: float) -> None:
        ends = (off, along, off_1, along_1) if upright else (along, off, along_1, off_1)
        book.line(*ends, width=HAIR)

    def size(words: str) -> float:
        wide: float = LETTERS_MM if upright else book.width_of(words, "Text", WORDS_PT)
        return wide

    free = -math.inf
    line(places[0], near, places[-1], near)
    for number, (at, place) in enumerate(zip(places, chain, strict=True)):
        line(at, near - TICK_MM, at, near + TICK_MM)
        line(at, far, at, edges[1] - away * ASIDE_MM / OFF_MM)
        words = bare(in_mm(place, 2))
        passed = abs(at - places[0])
        if passed - size(words) / 2 > free:
            free = passed + size(words) / 2 + (0.0 if upright else ASIDE_MM)
            spot = (far + ASIDE_MM, at + LETTERS_MM / 2) if upright else (at, far - ASIDE_MM)
            align = "left" if upright else "centre"
            book.text(*spot, words, WORDS_PT, color=SOFT, align=align)
        if not number:
            continue
        words, before = bare(in_mm(place - chain[number - 1], 2)), places[number - 1]
        if size(words) < abs(at - before) - ASIDE_MM:
            middle = (at + before) / 2
            if upright:
                spot = near - TICK_MM - ASIDE_MM, middle + LETTERS_MM / 2
            else:
                spot = middle, near + TICK_MM + LETTERS_MM
            book.text(*spot, words, WORDS_PT, align="right" if upright else "centre")

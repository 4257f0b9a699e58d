"""Dimensions round a wall: chains from hole to hole, and each place from the lower left corner.

Chains stand below and at the left, places above and at the right. Words that have no room are left
out; the sheet's table has them all.
"""

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
    _across(book, chain_of([hole.x_mm for hole in bores], right - left), (left, low, high), on_page)
    _upwards(book, chain_of([hole.y_mm for hole in bores], high - low), (low, left, right), on_page)


def _across(
    book: Book,
    chain: Sequence[float],
    wall: tuple[float, float, float],
    on_page: Callable[[Point], Point],
) -> None:
    start, low, high = wall
    xs = [on_page((start + place, low))[0] for place in chain]
    below, above = on_page((start, low))[1] + OFF_MM, on_page((start, high))[1] - OFF_MM
    book.line(xs[0], below, xs[-1], below, width=HAIR)
    taken = [xs[0] - OFF_MM]
    for number, (x, place) in enumerate(zip(xs, chain, strict=True)):
        book.line(x, below - TICK_MM, x, below + TICK_MM, width=HAIR)
        book.line(x, above, x, above + OFF_MM - ASIDE_MM, width=HAIR)
        words = bare(in_mm(place, 2))
        half = book.width_of(words, "Text", WORDS_PT) / 2
        if x - half > taken[-1] + ASIDE_MM:
            book.text(x, above - ASIDE_MM, words, WORDS_PT, color=SOFT, align="centre")
            taken.append(x + half)
        if number:
            words = bare(in_mm(place - chain[number - 1], 2))
            if book.width_of(words, "Text", WORDS_PT) < x - xs[number - 1] - ASIDE_MM:
                middle = (x + xs[number - 1]) / 2
                book.text(middle, below + TICK_MM + LETTERS_MM, words, WORDS_PT, align="centre")


def _upwards(
    book: Book,
    chain: Sequence[float],
    wall: tuple[float, float, float],
    on_page: Callable[[Point], Point],
) -> None:
    start, left, right = wall
    ys = [on_page((left, start + place))[1] for place in chain]
    beside, beyond = on_page((left, start))[0] - OFF_MM, on_page((right, start))[0] + OFF_MM
    book.line(beside, ys[0], beside, ys[-1], width=HAIR)
    taken = [ys[0] + 2 * LETTERS_MM]
    for number, (y, place) in enumerate(zip(ys, chain, strict=True)):
        book.line(beside - TICK_MM, y, beside + TICK_MM, y, width=HAIR)
        book.line(beyond - OFF_MM + ASIDE_MM, y, beyond, y, width=HAIR)
        if y + LETTERS_MM / 2 < taken[-1] - LETTERS_MM / 2:
            at = beyond + ASIDE_MM, y + LETTERS_MM / 2
            book.text(*at, bare(in_mm(place, 2)), WORDS_PT, color=SOFT)
            taken.append(y)
        if number and ys[number - 1] - y > LETTERS_MM + ASIDE_MM:
            at = beside - TICK_MM - ASIDE_MM, (y + ys[number - 1]) / 2 + LETTERS_MM / 2
            words = bare(in_mm(place - chain[number - 1], 2))
            book.text(*at, words, WORDS_PT, align="right")

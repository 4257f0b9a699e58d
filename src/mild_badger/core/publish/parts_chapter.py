"""The chapter of parts: what to have at hand before one begins, and what is to be bought."""

from mild_badger.core.components.component import Component
from mild_badger.core.message import say
from mild_badger.core.publish.figures import scale_to_fit
from mild_badger.core.publish.page import LEFT, RIGHT, SOFT, Book
from mild_badger.core.publish.work import Work
from mild_badger.core.words import capitalized, signed, word
from mild_badger.core.workshop.part_figure import part_figure
from mild_badger.core.workshop.parts import describe_cost
from mild_badger.core.workshop.shopping import ShopLine, shopping
from mild_badger.core.workshop.states import describe_progress, progress_of

__all__ = ["parts_chapter"]

ROW_MM, PICTURE_MM, NAME, NEEDED, STOCK, SHORT, LETTERS, SOURCE, STATE = (
    5.6,
    (11.0, 4.6),
    LEFT + 14,
    LEFT + 74,
    LEFT + 87,
    LEFT + 98,
    LEFT + 102,
    LEFT + 136,
    LEFT + 154,
)
"""How high a row is, how large its picture, and where each column begins."""
LARGEST = 4.0
"""Of the scales of a small picture."""


def parts_chapter(work: Work) -> None:
    """Write what is needed, group by group: with a picture, letters, stock, how one comes by it."""
    book = work.book
    y = book.begin(say("publish.parts"), share=40)
    lines = shopping(work.vehicle)
    group = ""
    for line in lines:
        if line.group != group:
            group = line.group
            y = _heads(book, book.room(y + 3, 4 * ROW_MM), group)
        done = describe_progress(progress_of(work.vehicle, line.keys))
        y = _row(book, line, done, y)
    _totals(work, lines, y + 2)


def _heads(book: Book, y: float, group: str) -> float:
    book.text(LEFT, y, capitalized(word(group)), 9.5, font="Figure")
    for x, words, align in (
        (NEEDED, say("publish.needed"), "right"),
        (STOCK, say("publish.owned"), "right"),
        (SHORT, say("publish.short-of"), "right"),
        (LETTERS, say("publish.on-shafts"), "left"),
        (SOURCE, say("publish.source"), "left"),
        (STATE, say("publish.how-far-it-is"), "left"),
    ):
        book.text(x, y, words, 6.5, color=SOFT, align=align)
    book.line(LEFT, y + 1.4, RIGHT, y + 1.4, width=0.1)
    return y + ROW_MM


def _row(book: Book, line: ShopLine, done: str, y: float) -> float:
    """Write a line, over as many as its words take; give where the next begins."""
    part = line.part
    name = book.parted(part.name, 7.5, NEEDED - 9 - NAME)
    letters = book.parted(", ".join(line.letters), 7, SOURCE - LETTERS - 2)
    state = book.parted(done, 7, RIGHT - STATE)
    more = (max(len(name), len(letters), len(state)) - 1) * 3.4
    y = book.room(y, ROW_MM + more)
    if line.sample is not None:
        _picture(book, line.sample, (LEFT, y - 3.4))
    for number, words in enumerate(name):
        book.text(NAME, y + 3.4 * number, words, 7.5)
    stock = "–" if part.made or not part.there else str(part.stock)
    book.text(NEEDED, y, str(part.needed), 8.5, align="right")
    book.text(STOCK, y, stock, 7.5, align="right")
    book.text(SHORT, y, str(part.short or ""), 7.5, align="right")
    for number, words in enumerate(letters):
        book.text(LETTERS, y + 3.4 * number, words, 7)
    book.text(SOURCE, y, word(line.source), 7)
    for number, words in enumerate(state):
        book.text(STATE, y + 3.4 * number, words, 7)
    return y + ROW_MM + more


def _picture(book: Book, part: Component, at: tuple[float, float]) -> None:
    """Draw a part small."""
    figure = part_figure(part)
    scale = scale_to_fit(figure, PICTURE_MM, most=LARGEST)
    book.figure(figure, at, PICTURE_MM, scale)


def _totals(work: Work, lines: tuple[ShopLine, ...], y: float) -> None:
    """List what is short or bought, in packs with prices, and what all comes to."""
    book = work.book
    wanted = [line.part for line in lines if line.part.packs and _bought(line)]
    if wanted:
        y = book.room(y + 4, 30)
        book.text(LEFT, y, say("publish.to-buy"), 11, font="Figure")
        rows = [
            (
                part.name,
                str(part.needed if part.made else part.short),
                str(part.pack),
                str(part.packs),
                "" if part.price is None else signed(part.price, ".2f"),
                "" if part.to_buy is None else signed(part.to_buy, ".2f"),
            )
            for part in wanted
        ]
        columns = (
            (say("publish.part"), LEFT, "left"),
            (say("publish.missing"), LEFT + 100, "right"),
            (say("publish.in-a-pack"), LEFT + 120, "right"),
            (say("publish.packs"), LEFT + 138, "right"),
            (say("publish.price-of-one"), LEFT + 158, "right"),
            (say("publish.total"), RIGHT, "right"),
        )
        y = book.table(y + 6, columns, rows)
    words = say("publish.nothing-is-short") if not any(line.part.short for line in lines) else ""
    parts = tuple(line.part for line in lines)
    told = f"{words} {describe_cost(parts)}".strip()
    if told:
        book.paragraph(LEFT, book.room(y + 2, 12), told, 8, width=RIGHT - LEFT)


def _bought(line: ShopLine) -> bool:
    """Whether a line is for the shop: what is short, or never counted and not made."""
    return line.part.short > 0 or line.source == "bought"

"""The plan book's chapters on mechanisms: what a mechanism says, set on the book's pages."""

from mild_badger.core.mechanisms.base import Mechanism
from mild_badger.core.mechanisms.chapter import Chapter, Table
from mild_badger.core.publish.page import INK, LEFT, RIGHT, RUN, Book
from mild_badger.core.publish.work import Work

__all__ = ["write_chapter", "write_mechanism"]


def write_mechanism(work: Work, mechanism: Mechanism) -> None:
    """Write a mechanism's chapter; nothing where the vehicle has none."""
    chapter = mechanism.chapter(work.vehicle, work.evaluation.situation.gear)
    if chapter is not None:
        write_chapter(work.book, chapter)


def write_chapter(book: Book, chapter: Chapter) -> None:
    """Set a chapter from a new page on."""
    y = book.begin(chapter.title)
    for block in chapter.blocks:
        if isinstance(block, Table):
            columns = [(head, LEFT + at, side) for head, at, side in block.columns]
            y = book.table(book.room(y, 30) + 1, columns, block.rows) + 3
        else:
            color = RUN if block.wrong else INK
            y = book.room(y, 12)
            y = book.paragraph(LEFT, y, block.text, 8, width=RIGHT - LEFT, color=color) + 2

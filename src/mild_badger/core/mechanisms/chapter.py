"""What a mechanism writes in the plan book: sentences and tables, without their place on paper."""

from dataclasses import dataclass

__all__ = ["Chapter", "Column", "Sentences", "Table"]

Column = tuple[str, float, str]
"""Heading, distance from the left margin in mm, and which side of it the words are: left, right."""


@dataclass(frozen=True)
class Sentences:
    """A paragraph; ``wrong`` is set apart by the accent."""

    text: str
    wrong: bool = False


@dataclass(frozen=True)
class Table:
    """Rows of words under headings."""

    columns: tuple[Column, ...]
    rows: tuple[tuple[str, ...], ...]


@dataclass(frozen=True)
class Chapter:
    """A chapter: its title, and what stands in it from top to bottom."""

    title: str
    blocks: tuple[Sentences | Table, ...]

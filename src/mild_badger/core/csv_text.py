"""Tables as CSV (RFC 4180): commas, a header, points for decimals; safe in a spreadsheet."""

import csv
import io
import re
from collections.abc import Iterable, Sequence

from mild_badger.core.errors import InputError
from mild_badger.core.figures import MARK, METRIC, UnitChoice, symbol_of, write
from mild_badger.core.message import say

__all__ = ["bare_cell", "column_in", "csv_text", "split_line"]

_NUMBER = re.compile(r"[-+]?(\d+(\.\d*)?|\.\d+)(/\d+|[eE][-+]?\d+)?", re.ASCII)
LONGEST_LINE = 10_000


def csv_text(
    header: Sequence[str], rows: Iterable[Sequence[object]], units: UnitChoice = METRIC
) -> str:
    """Write a header and rows; a cell that a spreadsheet would run gets an apostrophe before it.

    Figures in words stand in ``units``; numbers are as the header says.
    """
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow([_safe(name) for name in header])
    writer.writerows(
        [["" if cell is None else _safe(_written(cell, units)) for cell in row] for row in rows]
    )
    return text.getvalue()


def column_in(what: str, symbol: str, units: UnitChoice) -> str:
    """Name a column of figures by the unit chosen for them: speed_m_s, speed_mph.

    ``symbol`` is the unit in which the figures are worked out; `figures.in_units` gives the cells.
    """
    return f"{what}_{symbol_of(symbol, units).replace('/', '_').replace('·', '_')}"


def split_line(line: str, mark: str) -> list[str]:
    """Split one line into cells.

    Raises
    ------
    InputError
        The line is far longer than any row of a table.
    """
    if len(line) > LONGEST_LINE:
        raise InputError(
            say("csv-text.a-line-of-letters-is-no-row-of-a-table-of", count_of_line=len(line))
        )
    try:
        return [bare_cell(cell) for cell in next(csv.reader([line], delimiter=mark), [])]
    except csv.Error as error:
        raise InputError(
            say("csv-text.is-no-row-of-a-table", line=line[:40], error=error)
        ) from error


def bare_cell(cell: str) -> str:
    """Take the apostrophe off that :func:`csv_text` has put before a cell."""
    return cell[1:] if cell[:1] == "'" and _runs(cell[1:]) else cell


def _written(cell: object, units: UnitChoice) -> object:
    return write(cell, units) if isinstance(cell, str) and MARK in cell else cell


def _safe(cell: object) -> object:
    return f"'{cell}" if isinstance(cell, str) and _runs(cell) else cell


def _runs(cell: str) -> bool:
    """Whether a spreadsheet would take a text for a formula; figures stay figures."""
    return cell[:1] in tuple("=+-@\t\r") and not _NUMBER.fullmatch(cell)

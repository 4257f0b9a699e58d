"""Targets from a spreadsheet: a pasted column, or a CSV file with a header."""

import re

from pydantic import ValidationError

from mild_badger.core.csv_text import bare_cell, csv_text, split_line
from mild_badger.core.errors import InputError
from mild_badger.core.message import say
from mild_badger.core.targets.schools import RatioConvention, parse_signed_ratio
from mild_badger.core.vehicle.box import MAX_GEARS
from mild_badger.core.vehicle.codec import explain
from mild_badger.core.vehicle.model import GearTarget, RealVehicle

__all__ = ["read_targets", "targets_csv"]

TRUE_WORDS = {"1", "true", "yes", "x", "reverse", "r"}


def targets_csv(real: RealVehicle) -> str:
    """Write the targets as CSV with a header; ratios are turns in per turn out."""
    rows = [(gear.name, repr(gear.ratio), "yes" if gear.reverse else "") for gear in real.gears]
    return csv_text(("gear", "ratio", "reverse"), rows)


def read_targets(text: str, school: RatioConvention) -> list[GearTarget]:
    """Read targets from what a spreadsheet gives.

    With a header naming ``gear``, ``ratio`` and perhaps ``reverse``, columns apart by comma,
    semicolon or tab; or without one: a column of ratios, or lines of a name and a ratio. Decimals
    with a point, or with a comma where the columns are not apart by commas. A name beginning with
    R, a negative ratio or a mark in ``reverse`` makes a reverse gear.

    Raises
    ------
    InputError
        A line that is no gear; the message names the line.
    """
    lines = [
        (n, line) for n, line in enumerate(text.lstrip("\ufeff").splitlines(), 1) if line.strip()
    ]
    if not lines:
        raise InputError(say("targets.there-is-nothing-to-read-copy-a-column-of"))
    if len(lines) > MAX_GEARS + 1:
        raise InputError(
            say(
                "targets.lines-are-more-than-the-gears-a-vehicle-can",
                count_of_lines=len(lines),
                max_gears=MAX_GEARS,
            )
        )
    mark = _separator(lines[0][1])
    header = [cell.strip().lower() for cell in split_line(lines[0][1], mark)]
    if "ratio" in header:
        columns = {name: header.index(name) for name in header}
        rows = [_from_columns(n, split_line(line, mark), columns, school) for n, line in lines[1:]]
    else:
        rows = [_from_line(n, line, school) for n, line in lines]
    return _named(rows)


_Row = tuple[int, str, float, bool]


def _separator(line: str) -> str:
    for mark in (";", "\t"):
        if mark in line:
            return mark
    return ","


def _from_columns(
    number: int, cells: list[str], columns: dict[str, int], school: RatioConvention
) -> _Row:
    def cell(name: str) -> str:
        place = columns.get(name, len(cells))
        return cells[place].strip() if place < len(cells) else ""

    name = cell("gear")
    ratio, negative = _ratio(number, cell("ratio"), school)
    reverse = negative or cell("reverse").lower() in TRUE_WORDS or (name[:1] in "Rr" and bool(name))
    return number, name, ratio, reverse


def _from_line(number: int, line: str, school: RatioConvention) -> _Row:
    words = [word for word in re.split(r"[;\t ]+", line.strip()) if word]
    if len(words) == 1 and re.fullmatch(r"[^,]*[A-Za-z][^,]*,.+", words[0]):
        words = words[0].split(",", 1)
    if not 1 <= len(words) <= 2:
        raise InputError(
            say(
                "targets.line-is-no-gear-write-a-name-and-a-ratio",
                number=number,
                strip=line.strip()[:40],
            )
        )
    name = bare_cell(words[0]) if len(words) == 2 else ""
    ratio, negative = _ratio(number, words[-1], school)
    return number, name, ratio, negative or (name[:1] in "Rr" and bool(name))


def _ratio(number: int, text: str, school: RatioConvention) -> tuple[float, bool]:
    return parse_signed_ratio(text, school, what=say("targets.line", number=number))


def _named(rows: list[_Row]) -> list[GearTarget]:
    gears = []
    forward = backward = 0
    for number, given, ratio, reverse in rows:
        if reverse:
            backward += 1
            name = given or ("R" if backward == 1 else f"R{backward}")
        else:
            forward += 1
            name = given or str(forward)
        try:
            gears.append(GearTarget(name=name, ratio=ratio, reverse=reverse))
        except ValidationError as error:
            raise InputError(
                say("targets.line-2", number=number, explain=explain(error, None, GearTarget))
            ) from error
    if not gears:
        raise InputError(say("targets.there-is-a-header-but-no-gear-below-it"))
    return gears

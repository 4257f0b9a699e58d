"""What a sleeve or slider is called in graph, shifter and readings: its rail, and its column.

A column's number is stored with the slots that it serves and never counted anew, so that a sleeve
keeps its readings when gears come, go or change places. This is the one place that makes such an
id or reads it.
"""

from typing import Literal, cast

__all__ = ["Rail", "column_of", "describe_sleeve", "rail_of", "rail_title", "sleeve_id"]

Rail = Literal["sleeve", "splitter sleeve", "range sleeve"]
TITLES: dict[str, str] = {"splitter sleeve": "splitter", "range sleeve": "range"}


def sleeve_id(rail: Rail, column: int) -> str:
    """Make the id of a sleeve on a rail."""
    return f"{rail}.{column}"


def rail_of(sleeve: str) -> Rail:
    """Tell which rail a sleeve belongs to."""
    return cast(Rail, sleeve.partition(".")[0])


def column_of(sleeve: str) -> int:
    """Give a sleeve's number along its rail."""
    return int(sleeve.partition(".")[2])


def describe_sleeve(sleeve: str) -> str:
    """Say what a sleeve is called: sleeve 1, range sleeve 2; what slides alone as it is."""
    rail, _, column = sleeve.partition(".")
    return f"{rail} {column}".strip()


def rail_title(rail: str, what: str) -> str:
    """Say what belongs to a rail: gate, splitter gate, range gate."""
    return f"{TITLES[rail]} {what}" if rail in TITLES else what

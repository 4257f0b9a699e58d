"""What the shafts and gears of a box are called in graph, layout and readings.

This is the one place that makes such an id or reads it; for sleeves it is `sleeves`.
"""

from typing import Literal, NamedTuple

from mild_badger.core.ids import ShaftId

__all__ = [
    "CLUTCH",
    "INNER_WALL",
    "MOTOR",
    "ColumnShaft",
    "column_shaft",
    "gear_body",
    "idler_shaft",
    "input_shaft",
    "is_driver",
    "is_idler_shaft",
    "lay_shaft",
    "pair_of",
    "partner_of",
    "row_gear",
    "selector_shaft",
    "shaft_after",
    "tie_gear",
    "train_of",
]


MOTOR = "motor"
INNER_WALL = "inner wall"
"""What walls between a function box's sleeves are named by, with their number."""
CLUTCH = "clutch"
"""The driven side of a clutch between motor and box."""


class ColumnShaft(NamedTuple):
    """A shaft that a column of slots has, whatever trains stand in them."""

    kind: Literal["input", "selector"]
    column: int


def input_shaft(column: int = 1) -> ShaftId:
    """Name the input shaft, or the one of a column that a row of gears feeds."""
    return f"input.{column}"


def selector_shaft(column: int = 1) -> ShaftId:
    """Name the selector shaft of a column."""
    return f"selector.{column}"


def lay_shaft(number: int = 1) -> ShaftId:
    """Name a layshaft."""
    return f"layshaft.{number}"


def column_shaft(shaft: ShaftId) -> ColumnShaft | None:
    """Tell what a column's shaft is; None for a shaft of a train."""
    kind, _, column = shaft.partition(".")
    match kind:
        case "input" | "selector":
            return ColumnShaft(kind, int(column))
        case _:
            return None


def row_gear(column: int) -> str:
    """Name a gear of the drive row."""
    return f"rail.{column}"


def tie_gear(column: int) -> str:
    """Name a gear of the tie, which joins the selector shafts."""
    return f"tie.{column}"


def gear_body(key: str, pair: str, role: str) -> str:
    """Name the body of a gear by its pair's id: ``role`` is driver, driven, idler0, idler1 …."""
    return f"{key}/{pair}.{role}"


def shaft_after(key: str, pair: str) -> ShaftId:
    """Name the shaft that a pair drives, where another pair follows."""
    return f"{key}/shaft {int(pair) + 1 if pair.isdigit() else pair}"


def idler_shaft(key: str, pair: str, place: int) -> ShaftId:
    """Name the shaft of an idler in a train."""
    return f"{key}/idler shaft {pair}.{place}"


def train_of(body: str) -> str:
    """Give the key of the train that a gear or a shaft belongs to; the body itself for others."""
    return body.partition("/")[0]


def pair_of(gear: str) -> str:
    """Give what the gears of one pair have in common, idlers included."""
    return gear.rpartition(".")[0]


def is_driver(gear: str) -> bool:
    """Tell whether a gear drives its pair."""
    return gear.endswith(".driver")


def is_idler_shaft(shaft: ShaftId) -> bool:
    """Tell whether a train's shaft carries an idler."""
    return shaft.partition("/")[2].startswith("idler")


def partner_of(driver: str) -> str:
    """Name the driven gear of a driver's pair."""
    return f"{pair_of(driver)}.driven"

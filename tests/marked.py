"""Vehicles whose ids cannot be taken for names, to find where an id is shown."""

import re
from collections.abc import Iterator
from typing import Any

from mild_badger.core.vehicle.model import Vehicle

__all__ = ["MARK", "leaks", "marked"]

MARK = "Qq"
_KEYS = ("gear", "order", "position", "unplaced", "ticks")
_OTHERS: tuple[tuple[tuple[str, ...], tuple[str, ...]], ...] = (
    (("functions", "outputs"), ("output", "of")),
    (("crane", "outputs"), ("source", "loose_on", "keeps", "carriage", "counterweight")),
    (("balance", "masses"), ()),
    (("additional_axles",), ()),
    (("hydraulic_lines",), ()),
    (("cables", "runs"), ()),
    (("versions",), ("version",)),
)


def marked(vehicle: Vehicle) -> Vehicle:
    """Give everything an id that holds the mark; the names stay."""
    data = vehicle.model_dump(mode="json")
    gears = data["real"]["gears"]
    ids = {gear["id"]: f"{MARK}{n}" for n, gear in enumerate(gears)}

    def put(value: Any, key: str = "") -> Any:
        if isinstance(value, dict):
            return {k: put(v, k) for k, v in value.items()}
        if isinstance(value, list):
            return [put(item, key) for item in value]
        if not isinstance(value, str):
            return value
        part = re.match(r"^gear ([A-Za-z0-9-]+)($|[/,: ].*)", value)
        if part and part[1] in ids and key != "notes":
            return f"gear {ids[part[1]]}{part[2]}"
        return ids.get(value, value) if key in _KEYS else value

    names = [gear["name"] for gear in gears]
    data = put(data)
    for gear, name, made in zip(data["real"]["gears"], names, ids.values(), strict=True):
        gear |= {"id": made, "name": name}
    for path, keys in _OTHERS:
        _mark(data, path, keys)
    return Vehicle.model_validate(data)


def _mark(data: dict[str, Any], path: tuple[str, ...], keys: tuple[str, ...]) -> None:
    """Mark the ids of a list's entries, and what refers to them."""
    rows: Any = data
    for step in path:
        rows = rows[step] if rows else None
    ids = {row["id"]: f"{MARK}{path[0]}{number}" for number, row in enumerate(rows or ())}
    for row in rows or ():
        row["id"] = ids[row["id"]]

    def put(value: Any) -> None:
        if isinstance(value, list):
            for item in value:
                put(item)
        elif isinstance(value, dict):
            for key, inner in value.items():
                if key in keys and isinstance(inner, str):
                    value[key] = ids.get(inner, inner)
                else:
                    put(inner)

    for name, part in data.items():
        if name in ("functions", "crane", "balance", "log"):
            put(part)


def leaks(value: Any, where: str = "") -> Iterator[str]:
    """List the places of plain data in which a marked id stands."""
    if isinstance(value, dict):
        for key, inner in value.items():
            yield from leaks(key, f"{where}/{key}")
            yield from leaks(inner, f"{where}/{key}")
    elif isinstance(value, list | tuple):
        for number, inner in enumerate(value):
            yield from leaks(inner, f"{where}[{number}]")
    elif isinstance(value, str) and MARK in value:
        yield f"{where}: {value[:120]}"

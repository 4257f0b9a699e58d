"""Vehicles whose ids cannot be taken for names, to find where an id is shown."""

import re
from collections.abc import Iterator
from typing import Any

from mild_badger.core.vehicle.model import Vehicle

__all__ = ["MARK", "leaks", "marked"]

MARK = "Qq"
_KEYS = ("gear", "order", "position", "unplaced", "ticks")


def marked(vehicle: Vehicle) -> Vehicle:
    """Give every gear an id that holds the mark; the names stay."""
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
    return Vehicle.model_validate(data)


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

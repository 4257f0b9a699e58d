"""Older files: each version's step to the next, on plain data."""

from typing import Any

__all__ = ["VERSION", "migrate"]

VERSION = 3


def migrate(data: dict[str, Any]) -> dict[str, Any]:
    """Bring a file's data to the present version.

    Version 2 added box architectures, made gears, search limits and the change gear: every new
    field has a default, so version 1 reads as it stands. Version 3 has several liquid lines where
    there was one.
    """
    vehicle = data.get("vehicle")
    if data.get("version") != VERSION and isinstance(vehicle, dict) and "liquid" in vehicle:
        kept = {key: value for key, value in vehicle.items() if key != "liquid"}
        line = vehicle["liquid"]
        data = {**data, "vehicle": {**kept, "liquids": [] if line is None else [line]}}
    return {**data, "version": VERSION}

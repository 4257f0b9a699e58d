"""Older files: each version's step to the next, on plain data."""

from typing import Any

__all__ = ["VERSION", "migrate"]

VERSION = 4


def migrate(data: dict[str, Any]) -> dict[str, Any]:
    """Bring a file's data to the present version, the versions kept in it too.

    Version 2 added box architectures, made gears, search limits and the change gear: every new
    field has a default, so version 1 reads as it stands. Version 3 has several liquid lines where
    there was one. Version 4 says where a gate lever's pivot is; before, it was between knob and
    finger.
    """
    vehicle = data.get("vehicle")
    if data.get("version") != VERSION and isinstance(vehicle, dict):
        data = {**data, "vehicle": _vehicle(vehicle)}
    return {**data, "version": VERSION}


def _vehicle(old: dict[str, Any]) -> dict[str, Any]:
    new = {key: value for key, value in old.items() if key != "liquid"}
    if "liquid" in old:
        new["liquids"] = [] if old["liquid"] is None else [old["liquid"]]
    lever = old.get("lever", {})
    if isinstance(lever, dict):
        new["lever"] = {"pivot": "between", **lever}
    versions = old.get("versions")
    if isinstance(versions, list):
        new["versions"] = [
            {**kept, "data": _vehicle(kept["data"])}
            if isinstance(kept, dict) and isinstance(kept.get("data"), dict)
            else kept
            for kept in versions
        ]
    return new

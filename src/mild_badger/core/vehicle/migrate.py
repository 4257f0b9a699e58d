"""Older files: each version's step to the next, on plain data."""

from typing import Any

__all__ = ["VERSION", "migrate"]

VERSION = 2


def migrate(data: dict[str, Any]) -> dict[str, Any]:
    """Bring a file's data to the present version.

    Version 2 added box architectures, made gears, search limits and the change gear: every new
    field has a default, so version 1 reads as it stands.
    """
    return {**data, "version": VERSION}

"""Older files: each version's step to the next, on plain data."""

from typing import Any

__all__ = ["VERSION", "migrate"]

VERSION = 1


def migrate(data: dict[str, Any]) -> dict[str, Any]:
    """Bring a file's data to the present version; version 1 is the first there is."""
    return {**data, "version": VERSION}

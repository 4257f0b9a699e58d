"""Figures on their way into a report."""

from math import inf

__all__ = ["finite"]


def finite(value: float) -> float | None:
    """Give a figure, or None where it has no limit: JSON knows no infinity."""
    return None if value == inf else value

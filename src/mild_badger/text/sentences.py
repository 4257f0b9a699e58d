"""Things in a row."""

from collections.abc import Sequence

__all__ = ["listed"]


def listed(things: Sequence[str], last: str = "and") -> str:
    """Write things in a row: a; a and b; a, b and c."""
    if len(things) < 2:
        return "".join(things)
    return f"{', '.join(things[:-1])} {last} {things[-1]}"

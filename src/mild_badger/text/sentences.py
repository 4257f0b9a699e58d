"""Sentences and lists: capitals, and things in a row."""

from collections.abc import Sequence

__all__ = ["capitalized", "listed"]


def capitalized(words: str) -> str:
    """Begin with a capital; the rest stays as it is."""
    return words[:1].upper() + words[1:]


def listed(things: Sequence[str], last: str = "and") -> str:
    """Write things in a row: a; a and b; a, b and c."""
    if len(things) < 2:
        return "".join(things)
    return f"{', '.join(things[:-1])} {last} {things[-1]}"

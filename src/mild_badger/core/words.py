"""One minus sign, one way to begin a sentence and to write things in a row."""

from collections.abc import Sequence
from typing import Literal

from mild_badger.core.message import say

__all__ = ["capitalized", "listed", "signed"]


def signed(value: float, form: str) -> str:
    """Write a number by a format such as ``+.1f``, with a true minus sign and no minus zero."""
    text = f"{value:{form}}"
    if text.startswith("-") and not any(sign in text for sign in "123456789nN"):
        text = text[1:]
    return text.replace("-", "−")


def capitalized(words: str) -> str:
    """Begin with a capital; the rest stays as it is."""
    return words[:1].upper() + words[1:]


def listed(things: Sequence[str], last: Literal["and", "or"] = "and") -> str:
    """Write things in a row: a; a and b; a, b and c."""
    if len(things) < 2:
        return "".join(things)
    before, word = ", ".join(things[:-1]), say("words.and") if last == "and" else say("words.or")
    return f"{before} {word} {things[-1]}"

"""One minus sign, one way to begin a sentence, to write things in a row and to call kinds."""

from collections.abc import Sequence
from functools import cache
from pathlib import Path
from typing import Literal

from mild_badger.core.message import say

__all__ = ["capitalized", "kind_words", "listed", "signed", "word"]

TABLE = Path(__file__).parents[1] / "data" / "words.txt"


@cache
def kind_words() -> frozenset[str]:
    """Read the table of the words that name kinds of things in files and in code."""
    lines = TABLE.read_text(encoding="utf-8").splitlines()
    return frozenset(line for line in lines if line and not line.startswith("#"))


def word(key: str) -> str:
    """Say what a kind of thing is called; a text that names none stays as it is."""
    code = f"word.{key}"
    return say(code) if key in kind_words() else key


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

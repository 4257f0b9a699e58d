"""One plural rule, one minus sign, one way to begin a sentence."""

__all__ = ["capitalized", "counted", "plural", "signed"]


def plural(noun: str, count: float, many: str = "") -> str:
    """Give a noun as it stands behind a count: 1 turn, 0 turns, 2 turns, 2 axes."""
    return noun if count == 1 else many or f"{noun}s"


def counted(count: int, noun: str, many: str = "") -> str:
    """Write a count and its noun."""
    return f"{count} {plural(noun, count, many)}"


def signed(value: float, form: str) -> str:
    """Write a number by a format such as ``+.1f``, with a true minus sign and no minus zero."""
    text = f"{value:{form}}"
    if text.startswith("-") and not any(sign in text for sign in "123456789nN"):
        text = text[1:]
    return text.replace("-", "−")


def capitalized(words: str) -> str:
    """Begin with a capital; the rest stays as it is."""
    return words[:1].upper() + words[1:]

"""One minus sign, one way to begin a sentence."""

__all__ = ["capitalized", "signed"]


def signed(value: float, form: str) -> str:
    """Write a number by a format such as ``+.1f``, with a true minus sign and no minus zero."""
    text = f"{value:{form}}"
    if text.startswith("-") and not any(sign in text for sign in "123456789nN"):
        text = text[1:]
    return text.replace("-", "−")


def capitalized(words: str) -> str:
    """Begin with a capital; the rest stays as it is."""
    return words[:1].upper() + words[1:]

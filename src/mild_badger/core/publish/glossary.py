"""The glossary: what the trade's words mean, read from the handbook's own chapter."""

import re
from collections.abc import Iterable
from functools import cache
from importlib import resources
from pathlib import Path

__all__ = ["glossary", "handbook_folder", "term_in", "terms_in"]

TERM = re.compile(r"^\*\*(?P<term>[^*]+?)\.\*\* (?P<text>.+)$", re.MULTILINE)


def handbook_folder() -> Path:
    """Tell where the handbook's chapters lie."""
    return Path(str(resources.files("mild_badger") / "data" / "handbook"))


@cache
def glossary() -> dict[str, str]:
    """Give every term with what it means, in the order of the alphabet."""
    chapter = (handbook_folder() / "glossary.md").read_text(encoding="utf-8")
    return {match["term"]: match["text"] for match in TERM.finditer(chapter)}


@cache
def _terms() -> re.Pattern[str]:
    """Find any term, the longer ones first, in the singular or with an s."""
    longest = sorted(glossary(), key=len, reverse=True)
    return re.compile(rf"\b({'|'.join(map(re.escape, longest))})s?\b", re.IGNORECASE)


@cache
def _by_lower() -> dict[str, str]:
    return {term.lower(): term for term in glossary()}


def term_in(label: str) -> str:
    """Give the first term of the glossary that a label has in it, as the glossary writes it."""
    match = _terms().search(label)
    return "" if match is None else _by_lower()[match[1].lower()]


def terms_in(texts: Iterable[str]) -> tuple[str, ...]:
    """List the terms of the glossary that texts have in them, in the order of the alphabet."""
    seen = {_by_lower()[match[1].lower()] for text in texts for match in _terms().finditer(text)}
    return tuple(term for term in glossary() if term in seen)

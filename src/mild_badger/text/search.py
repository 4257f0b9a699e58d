"""Finding things by their words: all words typed must occur, however each begins."""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Generic, Literal, TypeVar

__all__ = ["Entry", "EntryKind", "matching"]

Target = TypeVar("Target")
EntryKind = Literal["page", "command", "gear", "field", "term", "section"]
ORDER: tuple[EntryKind, ...] = ("gear", "page", "command", "field", "term", "section")
WORD = re.compile(r"\w+")


@dataclass(frozen=True)
class Entry(Generic[Target]):
    """Something that can be found: what it is called, what else is said of it, where it leads."""

    kind: EntryKind
    title: str
    text: str
    target: Target


def matching(
    entries: Iterable[Entry[Target]], typed: str, *, most: int = 40
) -> list[Entry[Target]]:
    """List what has every word that was typed, in its title first, then anywhere in its text."""
    wanted = WORD.findall(typed.casefold())
    if not wanted:
        return []
    ranked = []
    for number, entry in enumerate(entries):
        title = WORD.findall(entry.title.casefold())
        whole = [*title, *WORD.findall(entry.text.casefold())]
        if not all(any(word.startswith(w) for word in whole) for w in wanted):
            continue
        in_title = sum(any(word.startswith(w) for word in title) for w in wanted)
        same = title == wanted
        rank = (not same, -in_title, len(title) if in_title else 0, ORDER.index(entry.kind), number)
        ranked.append((rank, entry))
    ranked.sort(key=lambda pair: pair[0])
    return [entry for _, entry in ranked[:most]]

"""The handbook that ships with the program: chapters, their sections, the glossary.

Chapters are Markdown files. A section is a heading of the second level with what follows it; the
chapter of a tab has a section for each of its pages.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from mild_badger.core.publish.glossary import handbook_folder
from mild_badger.text.pages import PAGES

__all__ = [
    "Section",
    "chapter_text",
    "chapters",
    "folder",
    "picture_of",
    "place_of",
    "sections",
]

HEADING = re.compile(r"^## (.+)$", re.MULTILINE)


@dataclass(frozen=True)
class Section:
    """A section of a chapter: the chapter's file name, its heading ("" for the beginning)."""

    chapter: str
    heading: str
    text: str

    @property
    def title(self) -> str:
        """What the section is called on its own."""
        return self.heading or chapter_title(self.chapter)


def folder() -> Path:
    """Tell where the chapters lie; their pictures are beside it, in ``screenshots``."""
    return handbook_folder()


@cache
def chapters() -> tuple[str, ...]:
    """List the chapters' names in the order in which the first one links them."""
    linked = re.findall(r"\(([a-z]+)\.md\)", chapter_text("index"))
    return ("index", *dict.fromkeys(linked))


@cache
def chapter_text(name: str) -> str:
    """Read a chapter.

    Raises
    ------
    OSError
        There is none of that name.
    """
    return (folder() / f"{name}.md").read_text(encoding="utf-8")


def chapter_title(name: str) -> str:
    """Give the heading of a chapter."""
    return chapter_text(name).splitlines()[0].removeprefix("# ")


def sections() -> Iterator[Section]:
    """List every section of every chapter but the glossary, whose terms stand for themselves."""
    for name in chapters():
        if name == "glossary":
            continue
        beginning, *rest = HEADING.split(chapter_text(name))
        yield Section(name, "", beginning)
        for heading, text in zip(rest[::2], rest[1::2], strict=True):
            yield Section(name, heading, text)


def picture_of(term: str) -> Path | None:
    """Give the drawing of a term, where it has one."""
    file = folder() / "pictures" / f"{term.lower().replace(' ', '-')}.svg"
    return file if file.is_file() else None


def place_of(tab: str, page: str = "") -> tuple[str, str]:
    """Tell which chapter and section explain a page of a tab; the first chapter for none."""
    if tab not in PAGES:
        return ("trouble", "The box locks") if not tab else ("index", "")
    return tab.lower(), PAGES[tab].get(page, "")

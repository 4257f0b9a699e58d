"""The handbook: every page has its section, every link and picture leads somewhere."""

import re
import xml.etree.ElementTree as ET
from collections.abc import Iterator

import pytest

from mild_badger.core.findings.catalogue import CATALOGUE
from mild_badger.core.kit.cautions import cautions
from mild_badger.core.lesson.catalogue import COURSES
from mild_badger.core.publish.glossary import glossary
from mild_badger.core.publish.term_pictures import TERM_PICTURES, term_picture
from mild_badger.text.handbook import chapter_text, chapters, folder, place_of, sections
from mild_badger.text.pages import PAGES
from mild_badger.text.search import Entry, matching

HEADINGS = {(section.chapter, section.heading) for section in sections()} | {("glossary", "")}
SENTENCE = re.compile(r"[^.!?:;]+[.!?:;]")
LONGEST = 30
"""Words to a sentence of the handbook, lists of things included; wording.md asks for 20."""


def links() -> Iterator[tuple[str, str]]:
    """Every link of every chapter, and where it stands."""
    for name in chapters():
        for target in re.findall(r"\]\(([^)]+)\)", chapter_text(name)):
            yield name, target


def test_every_chapter_is_linked_from_the_first_and_is_there() -> None:
    assert {f"{name}.md" for name in chapters()} == {path.name for path in folder().glob("*.md")}


@pytest.mark.parametrize(("tab", "page"), [(tab, page) for tab in PAGES for page in PAGES[tab]])
def test_every_page_has_its_section(tab: str, page: str) -> None:
    assert place_of(tab, page) in HEADINGS


def test_every_finding_is_explained_where_it_is_seen_to() -> None:
    for kind in CATALOGUE.values():
        tab, _, page = kind.help_page.partition("/")
        assert place_of(tab, page) in HEADINGS, kind.code
        assert not tab or page in PAGES[tab], kind.code


def test_links_and_pictures_lead_somewhere() -> None:
    for name, target in links():
        if target.startswith("lesson:"):
            assert target.removeprefix("lesson:") in {course.key for course in COURSES}
            continue
        path, _, heading = target.partition("#")
        assert (folder() / path).is_file(), (name, target)
        assert not heading or (path.removesuffix(".md"), heading) in HEADINGS, (name, target)


def test_terms_are_in_the_order_of_the_alphabet_and_short() -> None:
    terms = list(glossary())
    assert len(terms) >= 120
    assert terms == sorted(terms, key=lambda term: term.casefold())
    for term, meaning in glossary().items():
        assert 1 <= len(SENTENCE.findall(meaning)) <= 3, term


def test_sentences_of_the_handbook_are_short() -> None:
    for section in sections():
        for line in section.text.splitlines():
            if line.startswith(("!", "|")):
                continue
            plain = re.sub(r"`[^`]*`", "x", re.sub(r"\[([^\]]*)\]\([^)]*\)", r"\1", line))
            for sentence in re.split(r"[.!?:;]", plain):
                assert len(sentence.split()) <= LONGEST, (section.chapter, sentence)


ENTRIES = [
    Entry("field", "Kerf", "What saw, laser or cutter takes away.", 1),
    Entry("term", "Kerf", "The width of a cut.", 2),
    Entry("page", "Workshop: Cut list", "tab page", 3),
    Entry("gear", "Gear 2", "engage", 4),
    Entry("command", "Find the set", "Ctrl+F", 5),
]


@pytest.mark.parametrize(
    ("typed", "found"),
    [
        ("kerf", [1, 2]),
        ("KER", [1, 2]),
        ("cut", [3, 1, 2]),
        ("cut width", [2]),
        ("gear 2", [4]),
        ("set find", [5]),
        ("", []),
        ("zebra", []),
    ],
)
def test_all_words_typed_must_occur_and_titles_come_first(typed: str, found: list[int]) -> None:
    assert [entry.target for entry in matching(ENTRIES, typed)][: len(found)] == found
    assert (not found) == (matching(ENTRIES, typed) == [])


@pytest.mark.parametrize("caution", cautions())
def test_cautions_stand_in_the_handbook_as_the_program_shows_them(caution: str) -> None:
    assert caution in chapter_text("cautions")


@pytest.mark.parametrize("term", TERM_PICTURES)
def test_a_drawn_term_stands_in_the_glossary_beside_the_programs_own_drawing(term: str) -> None:
    assert term in glossary()
    name = term.lower().replace(" ", "-")
    assert f"![{term}](pictures/{name}.svg)" in chapter_text("glossary")
    drawn = (folder() / "pictures" / f"{name}.svg").read_text(encoding="utf-8")
    assert drawn == term_picture(term)
    words = ET.fromstring(drawn).iter("{http://www.w3.org/2000/svg}text")
    assert [word for word in words if word.text]


def test_no_drawing_is_left_over() -> None:
    names = {term.lower().replace(" ", "-") for term in TERM_PICTURES}
    assert {path.stem for path in (folder() / "pictures").iterdir()} == names

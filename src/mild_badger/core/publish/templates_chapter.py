"""The chapter of templates: what is made, and all of it at true scale on the builder's paper."""

from functools import lru_cache

from mild_badger.core.figures import MM, bare, in_mm
from mild_badger.core.message import say
from mild_badger.core.publish.page import LEFT, RIGHT, RUN
from mild_badger.core.publish.tiles import draw_tiles, field_of
from mild_badger.core.publish.work import Work
from mild_badger.core.vehicle.cache_key import Same
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.nested import (
    NestedSheet,
    PaperTemplate,
    nested_sheets,
    paper_templates,
)

__all__ = ["templates_chapter", "templates_list"]


def templates_chapter(work: Work) -> None:
    """Draw the sheets, the fit-test strip first; their list is with what is cut, else before them.

    The list says what is made, of what, and on which sheet.
    """
    book, making = work.book, work.vehicle.making
    if "cuts" not in work.wanted:
        templates_list(work)
    _, _, sheets, large = _sheets(Same(work.vehicle))
    drawings = [*(sheet.drawing for sheet in sheets), *(one.drawing for one in large)]
    for done, drawing in enumerate(drawings, 1):
        draw_tiles(
            book.canvas, drawing, making.paper, making.overlap_mm, book.sheet, units=book.units
        )
        work.tick(done / len(drawings))


def templates_list(work: Work) -> None:
    """List what is made, and on which sheet each stands."""
    book, vehicle, making = work.book, work.vehicle, work.vehicle.making
    y = book.begin(say("publish.templates"), share=30)
    templates, refused, sheets, large = _sheets(Same(vehicle))
    if not templates and not refused:
        words = say("publish.nothing-is-cut-out-the-kit-has-all")
        book.paragraph(LEFT, y, words, 8, width=RIGHT - LEFT)
        return
    places = {key: number for number, sheet in enumerate(sheets, 1) for key in sheet.keys}
    places |= {one.template.key: len(sheets) + n for n, one in enumerate(large, 1)}
    words = say("publish.on-at-true-scale-on-the-last-pages", paper=making.paper)
    y = book.paragraph(LEFT, y, words, 8, width=RIGHT - LEFT) + 3
    rows = []
    for one in templates:
        named = one.template.words
        if one.also:
            named = say("publish.template-also", words=named, listed=", ".join(one.also))
        number = say("publish.template-sheet-number", number=places[one.template.key])
        thick = bare(in_mm(one.template.thick_mm, 2))
        rows.append((named, str(one.count), thick, number))
    y = book.table(
        y,
        (
            ("template", LEFT, "left"),
            ("make", 140, "right"),
            (say("publish.thick", mm=MM), 164, "right"),
            (say("publish.sheet"), RIGHT, "right"),
        ),
        rows,
    )
    for trouble in refused:
        y = book.paragraph(LEFT, book.room(y, 8), trouble, 8, width=RIGHT - LEFT, color=RUN)


@lru_cache(maxsize=1)
def _sheets(
    same: Same[Vehicle],
) -> tuple[
    tuple[PaperTemplate, ...], tuple[str, ...], tuple[NestedSheet, ...], tuple[PaperTemplate, ...]
]:
    """Lay a vehicle's templates on sheets, once for list and drawings."""
    vehicle = same.it
    templates, refused = paper_templates(vehicle)
    return templates, refused, *nested_sheets(vehicle, templates, field_of(vehicle.making.paper))

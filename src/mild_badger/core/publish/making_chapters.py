"""The chapters at the bench: what parts, cut how, put together in what order."""

from mild_badger.core.figures import in_mm
from mild_badger.core.layout.reason import why_no_place
from mild_badger.core.message import say
from mild_badger.core.publish.figures import draw_figure, scale_to_fit
from mild_badger.core.publish.page import HEIGHT, INK, LEFT, RIGHT, RUN, SOFT
from mild_badger.core.publish.work import Work
from mild_badger.core.words import signed
from mild_badger.core.workshop.assembly import (
    Build,
    assembly_findings,
    step_done,
)
from mild_badger.core.workshop.cutlist import CutPiece, CutPlan, cut_plans
from mild_badger.core.workshop.parts import describe_cost
from mild_badger.core.workshop.scene import step_figure

__all__ = ["assembly_chapter", "cuts_chapter", "parts_chapter"]


def parts_chapter(work: Work) -> None:
    """Write what is needed, what the builder has and what is short."""
    book, evaluation = work.book, work.evaluation
    y = book.begin(say("publish.parts"))
    priced = any(part.price is not None for part in evaluation.parts)
    columns = [
        ("part", LEFT, "left"),
        ("needed", 116, "right"),
        ("owned", 132, "right"),
        ("short", 143, "right"),
        (say("publish.where-used"), 148, "left"),
    ]
    if priced:
        columns[1:] = [
            ("needed", 92, "right"),
            ("owned", 108, "right"),
            ("short", 119, "right"),
            ("price", 134, "right"),
            ("cost", 150, "right"),
            (say("publish.where-used"), 154, "left"),
        ]
    rows = []
    for part in evaluation.parts:
        stock = (
            say("publish.made")
            if part.made
            else say("publish.not-in-the-kit")
            if not part.there
            else str(part.stock)
        )
        money = (
            "" if part.price is None else signed(part.price, ".2f"),
            "" if part.cost is None else signed(part.cost, ".2f"),
        )
        rows.append(
            (
                part.name,
                str(part.needed),
                stock,
                str(part.short or ""),
                *(money if priced else ()),
                ", ".join(part.used_by),
            )
        )
    y = book.table(y, columns, rows)
    short = [part.name for part in evaluation.parts if part.short]
    words = (
        say("publish.short", listed=", ".join(short)) if short else say("publish.nothing-is-short")
    )
    book.paragraph(
        LEFT, book.room(y, 12), f"{words} {describe_cost(evaluation.parts)}", 8, width=RIGHT - LEFT
    )


def cuts_chapter(work: Work) -> None:
    """Write how shafts are cut from their stock, with each rod to scale."""
    book = work.book
    y = book.begin(say("publish.cut-list"))
    plans = cut_plans(work.vehicle)
    if not plans:
        words = say("publish.nothing-is-cut-to-length-shafts-come-in")
        book.paragraph(LEFT, y, words, 8, width=RIGHT - LEFT)
    for plan in plans:
        y = book.room(y, 20)
        y = book.paragraph(LEFT, y, plan.summary, 8.5, width=RIGHT - LEFT) + 1
        for rod in plan.rods:
            y = book.room(y, 10)
            _rod(work, plan, rod.pieces, y)
            book.text(
                RIGHT,
                y + 4,
                say("publish.left", offcut_mm=in_mm(rod.offcut_mm, 0)),
                6,
                color=SOFT,
                align="right",
            )
            y += 9
        y += 4


def _rod(work: Work, plan: CutPlan, pieces: tuple[CutPiece, ...], y: float) -> None:
    scale = (RIGHT - LEFT - 16) / plan.stock_mm
    x = LEFT
    for piece in pieces:
        width = piece.length_mm * scale
        work.book.box(x, y, width, 6, INK)
        words = f"{piece.words} · {in_mm(piece.length_mm, significant=4)}"
        if width > 14:
            work.book.text(x + 1, y + 4, words, 6, width=width - 2)
        x += width + plan.saw_mm * scale


def assembly_chapter(work: Work) -> None:
    """Write the steps in which the box goes together, each with its picture."""
    book, plan = work.book, work.plan
    title = say("publish.assembly")
    if not plan.steps:
        words = why_no_place(work.vehicle)
        book.paragraph(LEFT, book.begin(title), words, 8, width=RIGHT - LEFT)
        return
    wide, tall = (RIGHT - LEFT - 8) / 2, 80.0
    for number, step in enumerate(plan.steps):
        place = number % 6
        if not place:
            y0 = book.begin(title if not number else say("publish.assembly-continued"))
        x, y = LEFT + (place % 2) * (wide + 8), y0 + (place // 2) * (tall + 2)
        _step(work, step, (x, y), wide)
        work.tick((number + 1) / len(plan.steps))
    for finding in assembly_findings(work.vehicle):
        book.paragraph(
            LEFT,
            book.begin(say("publish.assembly-what-stands-in-the-way")),
            f"{finding.title}. {finding.text}",
            8,
            width=RIGHT - LEFT,
        )


def _step(work: Work, step: Build, at: tuple[float, float], wide: float) -> None:
    book, (x, y) = work.book, at
    book.box(x, y - 3, 3.2, 3.2, INK)
    if step_done(work.vehicle, step):
        book.text(x + 0.5, y - 0.4, "x", 8)
    book.text(x + 5, y, f"{step.number}. {step.title}", 9, font="Figure", width=wide - 5)
    low = y + 3
    if step.keys:
        figure = step_figure(work.plan, step)
        size = (wide, 44.0)
        scale = scale_to_fit(figure, size)
        draw_figure(book.canvas, figure, (x, HEIGHT - low, *size), scale, units=book.units)
        low += 48
    low = book.paragraph(x, low + 1, step.words, 6.5, width=wide, most=5)
    if step.mistakes:
        book.paragraph(
            x,
            low + 0.6,
            say("publish.often-done-wrong", listed=" ".join(step.mistakes)),
            6,
            width=wide,
            color=RUN,
            most=3,
        )

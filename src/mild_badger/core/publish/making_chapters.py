"""The chapters at the bench: what parts, cut how, put together in what order."""

from collections import Counter
from dataclasses import replace
from math import hypot

from mild_badger.core.figures import bare, in_mm
from mild_badger.core.labels import Box, LabelAsk, place_labels
from mild_badger.core.layout.reason import why_no_place
from mild_badger.core.message import say
from mild_badger.core.publish.page import HAIR, INK, LEFT, LINE, RIGHT, RUN, SOFT, Book
from mild_badger.core.publish.step_pictures import StepPicture, StepPictures
from mild_badger.core.publish.templates_chapter import templates_list
from mild_badger.core.publish.work import Work, describe_scale
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.words import capitalized
from mild_badger.core.workshop.assembly import (
    Build,
    assembly_findings,
)
from mild_badger.core.workshop.boards import (
    BoardPlan,
    PlacedPart,
    board_drawing,
    board_plans,
)
from mild_badger.core.workshop.checks import describe_check, meshes_made
from mild_badger.core.workshop.cutlist import CutPiece, CutPlan, cut_plans
from mild_badger.core.workshop.states import step_done
from mild_badger.core.workshop.step_words import part_tag

__all__ = ["assembly_chapter", "cuts_chapter", "step_picture_mm"]

COLUMNS, ROWS, GAP_MM = 2, 3, 8.0
COLUMN_MM = (RIGHT - LEFT - GAP_MM) / COLUMNS
HEAD_MM, WORDS_MM = 45.0, 34.0
"""What a page of steps has above and below them, and a step's words beside its picture."""
BOARDS, BOARD_GAP = 3, 5.0
BOARD_MM = (RIGHT - LEFT - BOARD_GAP * (BOARDS - 1)) / BOARDS
BOARD_STEP = BOARD_MM + BOARD_GAP
ARROW_MM, TAG_PT, TAG_LINE, MOST_CHECKS = 3.0, 6.0, 0.42, 4
FINISHED_MM, LEAST_FINISHED_MM, BESIDE_MM, MOST_BOARD_MM = 120.0, 70.0, 62.0, 58.0
NOTE_MM, NOTE_HIGH_MM, BELOW_MM = 26.0, 3.4, 5.0
"""Room to write what turning takes, and what is left below a step."""
TITLE_PT, STEP_PT = (9.0, 8.0, 7.0), (6.5, 6.0, 5.5)
"""Sizes of a step's title and words: the first in which they have room."""
BOARD_SCALES = (1.0, 0.5, 0.4, 0.333, 0.25, 0.2, 0.1)


def cuts_chapter(work: Work) -> None:
    """Write how shafts are cut from their stock, with each rod to scale."""
    book = work.book
    y = book.begin(say("publish.cut-list"), share=50)
    plans = cut_plans(work.vehicle)
    if not plans:
        words = say("publish.nothing-is-cut-to-length-shafts-come-in")
        book.paragraph(LEFT, y, words, 8, width=RIGHT - LEFT)
    for plan in plans:
        y = book.room(y, 20)
        y = book.paragraph(LEFT, y, plan.summary, 8.5, width=RIGHT - LEFT) + 3
        rows = [
            (piece.words, in_mm(piece.length_mm, significant=4), str(count))
            for piece, count in plan.listed
        ]
        columns = (
            (say("publish.piece"), LEFT, "left"),
            (say("publish.length"), 130.0, "right"),
            (say("publish.saw"), 160.0, "right"),
        )
        y = book.table(y, columns, rows) + 2
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
    _boards(work)
    if "templates" in work.wanted:
        templates_list(work)


def _boards(work: Work) -> None:
    """Draw every board with the parts on it, each by a number that stands in the list below."""
    book, vehicle = work.book, work.vehicle
    plans = board_plans(vehicle)
    if not any(plan.boards for plan in plans):
        return
    y = book.begin(say("publish.boards"), share=MOST_BOARD_MM + 34)
    boards = [(plan, number) for plan in plans for number in range(len(plan.boards))]
    for start in range(0, len(boards), BOARDS):
        y = book.room(y, MOST_BOARD_MM + 24)
        row = enumerate(boards[start : start + BOARDS])
        lows = [_board(work, plan, n, (LEFT + at * BOARD_STEP, y)) for at, (plan, n) in row]
        y = max(lows) + 6


def _numbered(board: tuple[PlacedPart, ...]) -> dict[str, int]:
    """Give each kind of part on a board a number."""
    return {words: n for n, words in enumerate(dict.fromkeys(p.want.words for p in board), 1)}


def _board(work: Work, plan: BoardPlan, number: int, at: tuple[float, float]) -> float:
    """Draw what is used of a board, its list below; give where that ends."""
    book, board, (x, y) = work.book, plan.boards[number], at
    gap = work.vehicle.making.gap_mm
    wide = max(part.x_mm + part.size_mm[0] for part in board) + gap
    high = max(part.y_mm + part.size_mm[1] for part in board) + gap
    scale = min(BOARD_MM / wide, MOST_BOARD_MM / high)
    scale = next((s for s in BOARD_SCALES if s <= scale), scale)
    names = _numbered(board)
    title = say(
        "publish.board-of",
        number=number + 1,
        most=len(plan.boards),
        thick=in_mm(plan.thick_mm),
        board=bare(in_mm(plan.board_mm[0])),
        high=in_mm(plan.board_mm[1]),
        scale=describe_scale(scale),
    )
    y = book.paragraph(x, y, title, 7.5, width=BOARD_MM) + 0.5
    book.box(x, y, wide * scale, high * scale, HAIR)
    book.drawing(x, y, _cropped(board_drawing(work.vehicle, plan, number), high), scale)
    asks = []
    for part in board:
        w, h = part.size_mm
        size = book.width_of(str(names[part.want.words]), "Text", TAG_PT) + 1.0, TAG_PT * TAG_LINE
        middle = (part.x_mm + w / 2) * scale, (high - part.y_mm - h / 2) * scale
        asks.append(LabelAsk(middle, size, 0.5, first=middle))
    room = Box(0.0, 0.0, BOARD_MM, high * scale)
    placed = place_labels(asks, room, line=TAG_PT * TAG_LINE)
    for part, ask, label in zip(board, asks, placed, strict=True):
        if label is not None:
            place = x + label.box.left, y + label.box.top
            book.tag(place, ask.size, str(names[part.want.words]), TAG_PT)
    counts = Counter(part.want.words for part in board)
    listed = "   ".join(f"{n}: {counts[words]} × {words}" for words, n in names.items())
    return book.paragraph(x, y + high * scale + 3.5, listed, 6.5, width=BOARD_MM)


def _cropped(drawing: Drawing, high: float) -> Drawing:
    """Give the lower part of a board's drawing, without its edge."""
    strokes = [stroke for stroke in drawing.strokes if stroke.layer != "mark"]
    return replace(drawing, height_mm=high, strokes=strokes)


def _rod(work: Work, plan: CutPlan, pieces: tuple[CutPiece, ...], y: float) -> None:
    scale = (RIGHT - LEFT - 16) / plan.stock_mm
    x = LEFT
    for piece in pieces:
        width = piece.length_mm * scale
        work.book.box(x, y, width, 6, INK)
        length = in_mm(piece.length_mm, significant=4)
        for words in (f"{piece.words} · {length}", length):
            if work.book.width_of(words, "Text", 6) < width - 2:
                work.book.text(x + 1, y + 4, words, 6)
                break
        x += width + plan.saw_mm * scale


def step_picture_mm(book: Book) -> tuple[float, float]:
    """Give how wide and high the picture of a step is."""
    return COLUMN_MM, _row_mm(book) - WORDS_MM


def _row_mm(book: Book) -> float:
    return float(book.high - HEAD_MM) / ROWS


def assembly_chapter(work: Work) -> None:
    """Write the steps in which the box goes together, each with its picture and what to check."""
    book, plan = work.book, work.whole
    title = say("publish.assembly")
    if not plan.steps:
        words = why_no_place(work.vehicle)
        book.paragraph(LEFT, book.begin(title, share=30), words, 8, width=RIGHT - LEFT)
        return
    pictures = work.pictures
    row = _row_mm(book)
    drawn = pictures.in_order(plan.steps, step_picture_mm(book))
    y = book.begin(title, share=row)
    for number, (step, picture) in enumerate(zip(plan.steps, drawn, strict=True)):
        column = number % COLUMNS
        if number and not column:
            y = book.room(y + row, row)
        _step(work, step, picture, (LEFT + column * (COLUMN_MM + GAP_MM), y))
        work.tick((number + 1) / len(plan.steps))
    _finished(work, pictures)
    for finding in assembly_findings(work.vehicle):
        book.paragraph(
            LEFT,
            book.begin(say("publish.assembly-what-stands-in-the-way"), share=20),
            f"{finding.title}. {finding.text}",
            8,
            width=RIGHT - LEFT,
        )


def _finished(work: Work, pictures: StepPictures) -> None:
    """Show what the steps come to: the box large, what stands beside it two in a row."""
    book, plan = work.book, work.whole
    title = say("publish.assembly-finished")
    y = book.begin(title, share=LEAST_FINISHED_MM + 6)
    book.text(LEFT, y, say("publish.the-gearbox"), 9, font="Figure")
    y += 2
    size = (RIGHT - LEFT, min(book.left(y), FINISHED_MM))
    book.picture(LEFT, y, size, pictures.whole("", size).image)
    y += size[1] + 8
    small = (COLUMN_MM, BESIDE_MM)
    for number, (box, called) in enumerate(plan.titles.items()):
        if not number % COLUMNS:
            y = book.room(y, BESIDE_MM + 10)
        x = LEFT + (number % COLUMNS) * (COLUMN_MM + GAP_MM)
        book.text(x, y, capitalized(called), 9, font="Figure", width=COLUMN_MM)
        book.picture(x, y + 2, small, pictures.whole(box, small).image)
        if number % COLUMNS:
            y += BESIDE_MM + 10


def _step(work: Work, step: Build, picture: StepPicture, at: tuple[float, float]) -> None:
    book, (x, y), wide = work.book, at, COLUMN_MM
    book.box(x, y - 3, 3.2, 3.2, INK)
    if step_done(work.vehicle, step):
        book.text(x + 0.5, y - 0.4, "x", 8)
    title = f"{step.number}. {step.title}"
    size = next((s for s in TITLE_PT if book.lines(title, s, wide - 5) <= 2), TITLE_PT[-1])
    low = book.paragraph(x + 5, y, title, size, width=wide - 5, font="Figure")
    _picture(work, picture, (x, low - 2.4))
    room = y + picture.size_mm[1] + WORDS_MM - BELOW_MM - (low + picture.size_mm[1])
    low += picture.size_mm[1] + 0.6
    told = describe_check(work.vehicle, meshes_made(work.vehicle, work.whole, step))[:MOST_CHECKS]
    checks = say("publish.check", listed=" ".join(told)) if told else ""
    words: str = step.words
    if step.counts:
        words = say("publish.take", listed=", ".join(step.counts), words=step.words)
    size, mistakes = _fitting(book, (words, checks), step.mistakes, room)
    low = book.paragraph(x, low, words, size, width=wide)
    if checks:
        low = book.paragraph(x, low + 0.5, checks, size, width=wide)
        words = say("publish.torque-to-turn")
        book.text(x, low + 0.9, words, size)
        start = x + book.width_of(words, "Text", size) + 1.5
        book.line(start, low + 1.3, start + NOTE_MM, low + 1.3)
        low += NOTE_HIGH_MM
    if mistakes:
        book.paragraph(x, low + 0.5, mistakes, size - 0.5, width=wide, color=RUN)


def _fitting(
    book: Book, words: tuple[str, str], mistakes: tuple[str, ...], room: float
) -> tuple[float, str]:
    """Choose a size in which the words of a step have room, and the mistakes that have, whole."""
    for kept in range(len(mistakes), -1, -1):
        listed = " ".join(mistakes[:kept])
        often = say("publish.often-done-wrong", listed=listed) if listed else ""
        for size in STEP_PT:
            told = [(part, size) for part in words if part]
            told += [(often, size - 0.5)] if often else []
            high = sum(book.lines(part, pt, COLUMN_MM) * pt * LINE + 0.5 for part, pt in told)
            if high + (NOTE_HIGH_MM if words[1] else 0.0) <= room:
                return size, often
    return STEP_PT[-1], ""


def _picture(work: Work, drawn: StepPicture, at: tuple[float, float]) -> None:
    """Draw a step's picture, each part that comes with its letter and an arrow along its way."""
    book, (x, y) = work.book, at
    wide, high = drawn.size_mm
    book.picture(x, y, drawn.size_mm, drawn.image)
    book.box(x, y, wide, high, HAIR)
    asks, tags = [], []
    coming = [(work.whole.part(key), way) for key, way in drawn.ways.items()]
    shafts = {part.shaft for part, _ in coming if part.kind == "shaft"}
    for part, (start, end) in coming:
        # what comes on its shaft goes its way; of it only gears are named
        on_it = part.kind != "shaft" and part.shaft in shafts
        if not on_it and hypot(end[0] - start[0], end[1] - start[1]) > ARROW_MM:
            book.arrow((x + start[0], y + start[1]), (x + end[0], y + end[1]), RUN)
        tag = part_tag(work.vehicle, part)
        if not tag or (on_it and not part.teeth):
            continue
        size = book.width_of(tag, "Text", TAG_PT) + 1.0, TAG_PT * TAG_LINE
        asks.append(LabelAsk(start, size, 1.0))
        tags.append(tag)
    room = Box(0.5, 0.5, wide - 0.5, high - 0.5)
    placed = place_labels(asks, room, line=TAG_PT * TAG_LINE)
    for ask, tag, label in zip(asks, tags, placed, strict=True):
        if label is not None:
            place = x + label.box.left, y + label.box.top
            named = (x + ask.anchor[0], y + ask.anchor[1]) if label.led else None
            book.tag(place, ask.size, tag, TAG_PT, named)

"""The chapters after the build: what to try, what wrong readings mean, what to set, what wears."""

from collections import Counter
from collections.abc import Sequence

from mild_badger.core.components.describe import describe_part
from mild_badger.core.message import say
from mild_badger.core.publish.page import INK, LEFT, LINE, RIGHT, SOFT
from mild_badger.core.publish.work import Work
from mild_badger.core.structure.names import shaft_letter
from mild_badger.core.trial.diagnosis import WrongReading, wrong_readings
from mild_badger.core.trial.expected import expected, further_rows, places, trial_steps
from mild_badger.core.trial.log import due
from mild_badger.core.words import capitalized, signed
from mild_badger.core.workshop.adjusting import adjusting_points
from mild_badger.core.workshop.taking_apart import take_apart

__all__ = ["after_chapter", "trial_chapter"]

MOST_LETTERS, MOST_CAUSES, BLANK_ROWS = 9, 3, 12
ROW_MM = 7.2
"""How high a row is that is written in by hand."""


def trial_chapter(work: Work) -> None:
    """Write the trial list with room for readings, and what each wrong one means."""
    book, vehicle = work.book, work.vehicle
    y = book.begin(say("publish.trial"), share=70)
    y = book.paragraph(LEFT, y, say("publish.trial-turn-the-input"), 8, width=RIGHT - LEFT) + 3
    for step in trial_steps(vehicle):
        y = book.room(y, 14)
        book.box(LEFT, y - 3, 3.2, 3.2, INK)
        if step.position in vehicle.trial.ticks:
            book.text(LEFT + 0.5, y - 0.4, "x", 8)
        book.text(LEFT + 6, y, vehicle.gear_name(step.position), 11, font="Figure")
        book.text(LEFT + 18, y, step.sleeves, 8, color=SOFT, width=110)
        y = book.paragraph(LEFT + 18, y + 4.4, step.words, 8, width=RIGHT - LEFT - 60) + 1
        book.text(RIGHT - 38, y - 5, say("publish.read"), 7, color=SOFT)
        book.line(RIGHT - 30, y - 4.6, RIGHT, y - 4.6)
    for more in further_rows(vehicle):
        y = book.room(y, 12) + 1
        book.box(LEFT, y - 3, 3.2, 3.2, INK)
        if more.key in vehicle.trial.ticks:
            book.text(LEFT + 0.5, y - 0.4, "x", 8)
        words = f"{more.name}: {more.words}"
        y = book.paragraph(LEFT + 6, y, words, 8, width=RIGHT - LEFT - 6)
    y = _by_letter(work, y + 4)
    _wrong(work, y + 4)


def _by_letter(work: Work, y: float) -> float:
    """Tell how each shaft turns in each position, by its letter, with room for what was read."""
    book, vehicle = work.book, work.vehicle
    lettered = ((place.body, shaft_letter(vehicle, place.body)) for place in places(vehicle))
    shafts = sorted(
        (pair for pair in lettered if pair[1]), key=lambda pair: (len(pair[1]), pair[1])
    )
    del shafts[MOST_LETTERS:]
    if not shafts:
        return y
    y = book.room(y, 50)
    book.text(LEFT, y, say("publish.turns-by-letter"), 11, font="Figure")
    y = book.paragraph(
        LEFT, y + 5, say("publish.turns-for-one-of-the-input"), 7, width=RIGHT - LEFT
    )
    wide = (RIGHT - LEFT - 20) / len(shafts)
    columns: list[tuple[str, float, str]] = [(say("publish.position"), LEFT, "left")]
    columns += [(letter, LEFT + 20 + wide * n, "left") for n, (_, letter) in enumerate(shafts)]
    rows = []
    for step in trial_steps(vehicle):
        cells = []
        for body, _ in shafts:
            turns = expected(vehicle, step.position, body)
            cells.append("–" if turns is None else signed(float(turns), "+.3f"))
        rows.append((vehicle.gear_name(step.position), *cells))
    return book.table(y + 3, columns, rows, step=ROW_MM)


def _wrong(work: Work, y: float) -> None:
    """Tell what a wrong reading at the wheel means, position by position."""
    book, vehicle = work.book, work.vehicle
    readings = wrong_readings(vehicle)
    if not readings:
        return
    y = book.room(y, 50)
    book.text(LEFT, y, say("publish.what-a-wrong-reading-means"), 11, font="Figure")
    words = say("publish.readings-at-the-left-wheel")
    y = book.paragraph(LEFT, y + 5, words, 7.5, width=RIGHT - LEFT)
    words = say("publish.off-by-some-per-cent")
    y = book.paragraph(LEFT, y + 0.5, words, 7.5, width=RIGHT - LEFT) + 2
    last = None
    for reading in readings:
        y = book.room(y, 10)
        if reading.position != last:
            y = book.room(y + 2, 16)
            name = vehicle.gear_name(reading.position)
            book.text(LEFT, y, name, 9, font="Figure", width=16)
            last = reading.position
        book.text(LEFT + 18, y, capitalized(reading.words), 7.5, width=46)
        y = book.paragraph(LEFT + 66, y, _causes(reading), 7.5, width=RIGHT - LEFT - 66) + 1


def _causes(reading: WrongReading) -> str:
    listed = "; ".join(map(capitalized, reading.causes[:MOST_CAUSES]))
    more = len(reading.causes) - MOST_CAUSES
    return say("publish.and-more-causes", listed=listed, more=more) if more > 0 else listed


def after_chapter(work: Work) -> None:
    """Write what is set, how to reach what wears, and sheets to write wear and runs on."""
    book, vehicle = work.book, work.vehicle
    y = book.begin(say("publish.after-the-build"), share=80)
    book.text(LEFT, y, say("publish.adjusting-points"), 11, font="Figure")
    y += 6
    for point in adjusting_points(vehicle):
        y = book.room(y, 10)
        book.box(LEFT, y - 3, 3.2, 3.2, INK)
        y = book.paragraph(LEFT + 6, y, point, 8, width=RIGHT - LEFT - 6) + 1.5
    y = _reached(work, y + 4)
    y = book.room(y + 4, 60)
    book.text(LEFT, y, say("publish.wear-sheet"), 11, font="Figure")
    rows = [(item.name, f"{item.item.every_hours:g} h", "", "", "") for item in due(vehicle)]
    heads: tuple[str, ...] = (
        say("publish.part-that-wears"),
        say("publish.every-hours"),
        say("publish.done-on"),
        say("publish.at-hours"),
        say("publish.seen"),
    )
    y = _sheet(work, y + 6, heads, (0.0, 60.0, 85.0, 110.0, 130.0), rows)
    y = book.room(y + 8, 60)
    book.text(LEFT, y, say("publish.log-sheet"), 11, font="Figure")
    heads = (
        say("publish.day"),
        say("publish.ran-hours"),
        say("publish.what-was-changed"),
        say("publish.seen"),
    )
    _sheet(work, y + 6, heads, (0.0, 25.0, 45.0, 115.0), [], fill=True)


def _reached(work: Work, y: float) -> float:
    """Say of each sleeve what comes out before it."""
    book, vehicle, plan = work.book, work.vehicle, work.plan
    sleeves = [part for part in plan.parts if part.kind == "sleeve"]
    if not sleeves:
        return y
    y = book.room(y, 30)
    book.text(LEFT, y, say("publish.to-reach-a-sleeve"), 11, font="Figure")
    y += 6
    for part in sleeves:
        removal = take_apart(vehicle, part.key)
        named = capitalized(describe_part(vehicle, part))
        names = Counter(str(describe_part(vehicle, plan.part(key))) for key in removal.order[:-1])
        order = ", ".join(f"{n} × {name}" if n > 1 else name for name, n in names.items())
        words = say("publish.reach", part=named, words=removal.words)
        if order:
            words = say("publish.reach-in-order", words=words, order=order)
        high = book.lines(words, 7.5, RIGHT - LEFT) * 7.5 * LINE
        y = book.paragraph(LEFT, book.room(y, high), words, 7.5, width=RIGHT - LEFT) + 1.5
    return y


def _sheet(
    work: Work,
    y: float,
    heads: tuple[str, ...],
    places_mm: tuple[float, ...],
    rows: Sequence[tuple[str, ...]],
    *,
    fill: bool = False,
) -> float:
    """Rule a sheet to be written on, what is known filled in, down to the page's end or not."""
    book = work.book
    for head, at in zip(heads, places_mm, strict=True):
        book.text(LEFT + at, y, head, 7, color=SOFT)
    book.line(LEFT, y + 1.5, RIGHT, y + 1.5, width=0.25)
    blank = ("",) * len(heads)
    count = int((book.left(y) - 2.0) / ROW_MM) - 1 if fill else BLANK_ROWS
    for row in (*rows, *(blank for _ in range(count - len(rows)))):
        y = book.room(y + ROW_MM, ROW_MM + 2)
        for cell, at in zip(row, places_mm, strict=True):
            book.text(LEFT + at, y, cell, 7.5, width=50)
        book.line(LEFT, y + 1.5, RIGHT, y + 1.5, width=0.1)
    return y

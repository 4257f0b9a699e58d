"""The plan book's chapters on mechanisms: what each says, drawn to scale, its parts and steps."""

from collections.abc import Sequence

from mild_badger.core.components.vehicle_parts import FUNCTIONS, LEVER
from mild_badger.core.driveline.assemble import DISPLAY
from mild_badger.core.driveline.crane import crane_key
from mild_badger.core.errors import InputError
from mild_badger.core.functions.describe import describe_motion
from mild_badger.core.functions.result import function_result
from mild_badger.core.mechanisms.base import Mechanism
from mild_badger.core.mechanisms.chapter import Chapter, Table
from mild_badger.core.message import say
from mild_badger.core.publish.mechanism_figures import mechanism_figures
from mild_badger.core.publish.page import INK, LEFT, RIGHT, RUN, SOFT, Book
from mild_badger.core.publish.work import Work, describe_scale, draw_fitted
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import describe_sleeve
from mild_badger.core.words import capitalized
from mild_badger.core.workshop.further_steps import MOTORS
from mild_badger.core.workshop.step_words import counted
from mild_badger.core.workshop.views import side_figure

__all__ = ["functions_chapter", "write_chapter", "write_mechanism"]

PICTURE_MM, SIDE_MM, FIGURE_MM = 56.0, 42.0, 84.0
COLUMN_MM, GAP_MM = 88.0, 6.0


def write_mechanism(work: Work, mechanism: Mechanism) -> None:
    """Write a mechanism's chapter; nothing where the vehicle has none."""
    chapter = mechanism.chapter(work.vehicle, work.evaluation.situation.gear)
    if chapter is None:
        return
    y = write_chapter(work.book, chapter)
    for figure in mechanism_figures(work.vehicle, mechanism.key):
        y = work.book.room(y + 4, FIGURE_MM + 8)
        scale = draw_fitted(work, figure, y + 5, FIGURE_MM, scaled=True)
        words = say("publish.figure-to-scale", said=figure.said, scale=describe_scale(scale))
        work.book.text(LEFT, y + 2, words, 9, font="Figure")
        y += FIGURE_MM + 8
    _in_space(work, _boxes(work.vehicle, mechanism.key), y)


def _boxes(vehicle: Vehicle, key: str) -> tuple[str, ...]:
    """Name what of the assembly belongs to a mechanism."""
    crane = vehicle.crane.outputs if vehicle.crane is not None else ()
    known = {
        "clutch": (MOTORS,),
        "display": (DISPLAY,),
        "lever": ("" if vehicle.box.lever is not None else LEVER,),
        "crane": tuple(crane_key(output.id) for output in crane),
    }
    return known.get(key, ())


def _in_space(work: Work, boxes: Sequence[str], y: float) -> None:
    """Draw each group in space and from the side, and list its parts and its steps."""
    book, plan = work.book, work.whole
    for box in boxes:
        parts = plan.box(box)
        if not parts:
            continue
        y = book.room(y + 4, PICTURE_MM + SIDE_MM + 16)
        title = capitalized(plan.titles[box]) if box in plan.titles else say("publish.the-box")
        book.text(LEFT, y, title, 11, font="Figure", width=RIGHT - LEFT)
        size = (COLUMN_MM, PICTURE_MM)
        book.picture(LEFT, y + 3, size, work.pictures.whole(box, size).image)
        _listed(work, box, (LEFT + COLUMN_MM + GAP_MM, y + 6))
        y += PICTURE_MM + 8
        scale = draw_fitted(work, side_figure(parts), y + 3, SIDE_MM - 4, scaled=True)
        words = say("publish.from-the-side-input-left", scale=describe_scale(scale))
        book.text(LEFT, y + 1, words, 7, color=SOFT)
        y += SIDE_MM + 4


def _listed(work: Work, box: str, at: tuple[float, float]) -> None:
    """List the parts of a group, and in which steps they come."""
    book, plan, (x, y) = work.book, work.whole, at
    steps = [step.number for step in plan.steps if step.box == box and step.keys]
    if steps:
        words = say("publish.in-steps", first=min(steps), last=max(steps))
        y = book.paragraph(x, y, words, 7.5, width=RIGHT - x, color=SOFT) + 1
    counts = list(counted(work.vehicle, plan.box(box)).items())
    most = int((PICTURE_MM - 10) / 3.6)
    for name, count in counts[:most]:
        book.text(x, y, f"{count} × {name}", 7, width=RIGHT - x)
        y += 3.6
    if len(counts) > most:
        book.text(x, y, say("publish.and-more-kinds", count=len(counts) - most), 7, color=SOFT)


def write_chapter(book: Book, chapter: Chapter) -> float:
    """Set a chapter from a new page on; give where the page goes on."""
    y = book.begin(chapter.title, share=60)
    for block in chapter.blocks:
        if isinstance(block, Table):
            columns = [(head, LEFT + at, side) for head, at, side in block.columns]
            y = book.table(book.room(y, 30) + 1, columns, block.rows) + 3
        else:
            color = RUN if block.wrong else INK
            y = book.room(y, 12)
            y = book.paragraph(LEFT, y, block.text, 8, width=RIGHT - LEFT, color=color) + 2
    return y


def functions_chapter(work: Work) -> None:
    """Write what every position of the function box does, its parts, and how it is tried."""
    book, vehicle = work.book, work.vehicle
    try:
        result = function_result(vehicle)
    except InputError:
        result = None
    if result is None:
        return
    y = book.begin(say("publish.function-box"), share=80)
    y = book.paragraph(LEFT, y, result.words, 8, width=RIGHT - LEFT) + 3
    outputs = result.box.outputs
    wide = (RIGHT - LEFT - 62) / max(len(outputs), 1)
    columns: list[tuple[str, float, str]] = [
        (say("publish.position"), LEFT, "left"),
        (say("publish.motor-turns"), LEFT + 22, "left"),
        (say("publish.sleeves"), LEFT + 36, "left"),
    ]
    columns += [
        (f"{output.name} {result.output_letter(output.id)}", LEFT + 62 + wide * n, "left")
        for n, output in enumerate(outputs)
    ]
    rows = []
    for state in result.states:
        if state.passing:
            continue
        settings = result.arrangement.settings(state.position)
        sleeves = ", ".join(f"{describe_sleeve(s)} {face}" for s, face in settings.items())
        done = {o.output: describe_motion(result.box, o) for o in state.outputs}
        rows.append(
            (
                state.position,
                "+" if state.direction > 0 else "−",
                sleeves or "–",
                *(done.get(output.id, "–") for output in outputs),
            )
        )
    y = book.table(y, columns, rows, size=7)
    _in_space(work, (FUNCTIONS,), y)
    y = book.begin(say("publish.function-box-trial"), share=60)
    for words in result.trials:
        y = book.room(y, 12)
        book.box(LEFT, y - 3, 3.2, 3.2, INK)
        y = book.paragraph(LEFT + 6, y, words, 8, width=RIGHT - LEFT - 6) + 1.5

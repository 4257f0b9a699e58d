"""The plan book: one PDF from the cover to the cautions, or single chapters of it.

A4 upright; templates follow on the builder's own paper at true scale, each sheet with its ruler.
"""

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from functools import partial

from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import Evaluation, evaluate
from mild_badger.core.figures import bare, in_kg, in_mm
from mild_badger.core.findings.finding import Severity
from mild_badger.core.kit.cautions import cautions, cautions_for
from mild_badger.core.layout.reason import why_no_place
from mild_badger.core.mechanisms.registry import MECHANISMS
from mild_badger.core.message import say, say_count
from mild_badger.core.publish.after_chapter import after_chapter, trial_chapter
from mild_badger.core.publish.axle_chapter import axle_chapter
from mild_badger.core.publish.figures import scale_to_fit
from mild_badger.core.publish.glossary import glossary, terms_in
from mild_badger.core.publish.making_chapters import assembly_chapter, cuts_chapter, step_picture_mm
from mild_badger.core.publish.mechanisms import functions_chapter, write_mechanism
from mild_badger.core.publish.page import BACK, LEFT, LINE, RIGHT, RUN, SOFT, Book
from mild_badger.core.publish.parts_chapter import parts_chapter
from mild_badger.core.publish.path_figure import path_figure
from mild_badger.core.publish.shafts_chapter import shafts_chapter
from mild_badger.core.publish.sheet import gear_table
from mild_badger.core.publish.sheets_chapter import layers_chapter, walls_chapter
from mild_badger.core.publish.sketch import HIGH, WIDE
from mild_badger.core.publish.space_picture import space_picture
from mild_badger.core.publish.step_pictures import StepPictures
from mild_badger.core.publish.templates_chapter import templates_chapter
from mild_badger.core.publish.term_pictures import TERM_PICTURES, sketch_of
from mild_badger.core.publish.work import Work, describe_scale, draw_fitted
from mild_badger.core.ratios.train import train_text
from mild_badger.core.results import GearResult
from mild_badger.core.shift.gate import describe_gate, gates
from mild_badger.core.situation import Situation
from mild_badger.core.targets.schools import RatioConvention
from mild_badger.core.trial.expected import trial_steps
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import UNWATCHED, Watch
from mild_badger.core.words import signed, word
from mild_badger.core.workshop.assembly import (
    assembly_plan,
)
from mild_badger.core.workshop.further_steps import vehicle_steps
from mild_badger.core.workshop.size import built_size
from mild_badger.core.workshop.views import gate_figure, side_figure

__all__ = ["CHAPTERS", "book_of", "plan_book"]


def plan_book(
    vehicle: Vehicle,
    *,
    gear: str | None = None,
    chapters: tuple[str, ...] = (),
    school: RatioConvention = RatioConvention.TURNS_IN,
    day: date | None = None,
    watch: Watch = UNWATCHED,
) -> bytes:
    """Write the plan book, or only some of its chapters, and return the PDF's bytes.

    Parameters
    ----------
    vehicle
        What is to be built.
    gear
        The gear whose way is drawn on the cover; the first that drives where it is not named.
    chapters
        Keys of ``CHAPTERS``; empty takes all.
    school
        How ratios are written.
    day
        The day on the pages; today where it is not given.
    watch
        Told how far the book is, and asked whether to stop.

    Raises
    ------
    InputError
        There is no such chapter.
    SearchStopped
        It was stopped.
    """
    for key in chapters:
        if key not in CHAPTERS:
            raise InputError(
                say(
                    "publish.the-plan-book-has-no-chapter-it-has",
                    key=key,
                    listed=", ".join(CHAPTERS),
                )
            )
    wanted = chapters or tuple(CHAPTERS)
    watch.tick(0.0)
    first = next((g.id for g in evaluate(vehicle).gears if g.direction), None)
    evaluation = evaluate(vehicle, Situation(gear=gear or first))
    version = (
        vehicle.versions[-1].name if vehicle.versions else say("publish.not-kept-as-a-version-yet")
    )
    book = Book(
        vehicle.name,
        day or date.today(),
        say("publish.version", version=version) if vehicle.versions else version,
        vehicle.shown_in,
        "Letter" if vehicle.making.paper == "Letter" else "A4",
    )
    plan, whole = assembly_plan(vehicle), vehicle_steps(vehicle)
    weights = [CHAPTERS[key].weight for key in wanted]
    telling = tuple(key for key in wanted if _tells(evaluation, key))
    done = 0.0
    with StepPictures(whole) as pictures:
        if "assembly" in wanted:  # the longest of all: drawn beside the other chapters
            pictures.begin(whole.steps, step_picture_mm(book))
        for key, weight in zip(wanted, weights, strict=True):
            shares = (done / sum(weights), (done + weight) / sum(weights))
            work = Work(book, evaluation, school, plan, whole, pictures, telling, watch, shares)
            work.tick(0.0)
            book.chapter(key, CHAPTERS[key].words)
            CHAPTERS[key].draw(work)
            done += weight
    watch.tick(1.0)
    return book.close()


def _tells(evaluation: Evaluation, key: str) -> bool:
    """Whether a chapter has something to say: that of a mechanism only where it is planned."""
    if key == "functions":
        return evaluation.vehicle.functions is not None
    mechanism = next((m for m in MECHANISMS if m.has_chapter and m.key == key), None)
    gear = evaluation.situation.gear
    return mechanism is None or mechanism.chapter(evaluation.vehicle, gear) is not None


def book_of(
    vehicle: Vehicle,
    gear: str | None,
    chapters: tuple[str, ...],
    school: RatioConvention,
    *,
    watch: Watch = UNWATCHED,
) -> bytes:
    """Write the plan book as a job for the search process; see ``plan_book``."""
    return plan_book(vehicle, gear=gear, chapters=chapters, school=school, watch=watch)


def _cover(work: Work) -> None:
    book, evaluation, vehicle = work.book, work.evaluation, work.vehicle
    book.bare()
    book.text(LEFT, 34, vehicle.name, 26, font="Figure", width=RIGHT - LEFT)
    box = vehicle.box.title
    forward = sum(not gear.reverse for gear in evaluation.gears)
    book.text(
        LEFT,
        41,
        say(
            "publish.plan-book-forward-and-reverse-1",
            box=box,
            forward=forward,
            count_of_gears=len(evaluation.gears) - forward,
            name=vehicle.kit.name,
            denominator=vehicle.scale.denominator,
        ),
        9,
        color=SOFT,
        width=RIGHT - LEFT,
    )
    gear = evaluation.engaged
    if gear is not None and gear.links:
        color = BACK if gear.reverse else RUN
        book.text(
            LEFT,
            52,
            say("publish.the-way-of-the-power-in-gear", name=gear.name),
            11,
            font="Figure",
            color=color,
        )
        picture = space_picture(vehicle, gear.id, (RIGHT - LEFT, 74))
        if picture is None:
            draw_fitted(work, path_figure(evaluation, gear), 56, 74, most=1.0)
        else:
            book.picture(LEFT, 56, (RIGHT - LEFT, 74), picture)
    y = gear_table(book, evaluation, work.school, 142)
    y = _in_figures(work, y + 8)
    counts = Counter(f.severity for f in evaluation.findings)
    kinds = ", ".join(
        (
            say_count("count.error", counts[Severity.ERROR]),
            say_count("count.warning", counts[Severity.WARNING]),
            say_count("count.note", counts[Severity.NOTE]),
        )
    )
    words: str = say("publish.findings", summary=evaluation.proof.summary, kinds=kinds)
    y = book.paragraph(LEFT, y + 4, words, 8, width=RIGHT - LEFT)
    for finding in evaluation.findings[:MOST_FINDINGS]:
        words = f"{word(finding.severity.value)}: {finding.title}. {finding.text}"
        y = book.paragraph(LEFT + 3, y + 1, words, 7, width=RIGHT - LEFT - 3, color=SOFT)
    if vehicle.notes.strip():
        y = book.paragraph(LEFT, y + 3, vehicle.notes, 8, width=RIGHT - LEFT, most=5)
    y += 3
    for caution in cautions_for(vehicle.kit):
        if book.left(y) > CAUTION_MM:
            y = book.paragraph(LEFT, y + 0.5, caution, 7, width=RIGHT - LEFT, most=2)
    book.foot()


def _in_figures(work: Work, y: float) -> float:
    """Tell size, mass, parts and skill, the shift pattern beside them; give where that ends."""
    book, vehicle = work.book, work.vehicle
    size = built_size(vehicle, work.whole)
    start = y
    if size is not None:
        rows = (
            (say("publish.size-of-the-box"), _three(size.box_mm)),
            (say("publish.size-of-it-all"), _three(size.whole_mm)),
            (say("publish.mass-about"), in_kg(size.mass_kg, 2)),
            (
                say("publish.parts-and-steps"),
                say("publish.so-many-parts-in-steps", parts=size.parts, steps=size.steps),
            ),
            (say("publish.for-builders-with"), word(size.skill)),
        )
        for name, value in rows:
            book.text(LEFT, y, name, 7.5, color=SOFT)
            book.text(LEFT + 46, y, value, 8.5, width=GATE_LEFT - LEFT - 48)
            y += 5.2
    pattern = gates(vehicle)[:1] if vehicle.shifting.actuation == "gate" else ()
    for gate in pattern:
        figure = gate_figure(gate)
        box = (RIGHT - GATE_LEFT, GATE_MM)
        book.figure(figure, (GATE_LEFT, start), box, scale_to_fit(figure, box))
        y = max(y, start + GATE_MM + 5)
    return y


def _three(size_mm: tuple[float, float, float]) -> str:
    """Write length by width by height."""
    long, wide, high = size_mm
    return say(
        "publish.by-by", long=bare(in_mm(long, 0)), wide=bare(in_mm(wide, 0)), high=in_mm(high, 0)
    )


def _contents(work: Work) -> None:
    """List the chapters with their pages, and say how the book is read."""
    book = work.book
    y = book.begin(say("publish.contents")) + 2
    step = ENTRY_MM[len(work.wanted) > MANY]
    for key in work.wanted:
        if key != "contents":
            book.entry(y, key, CHAPTERS[key].words)
            y += step
    y = book.room(y + 8, 60)
    book.text(LEFT, y, say("publish.how-this-book-is-read"), 12, font="Figure")
    y += 6
    for words in READING:
        y = book.paragraph(LEFT, book.room(y, 12), words, 8, width=RIGHT - LEFT) + 2


ENTRY_MM, MANY = (8.6, 7.4), 21
"""From entry to entry of the contents, of up to so many and of more."""
READING = (
    say("publish.reading-letters"),
    say("publish.reading-scale"),
    say("publish.reading-gears"),
    say("publish.reading-steps"),
    say("publish.reading-cautions"),
)
"""How letters, scales, gears and steps are drawn."""


def _shift(work: Work) -> None:
    book, vehicle, evaluation = work.book, work.vehicle, work.evaluation
    y = book.begin(say("publish.shift-pattern"), share=100)
    rows = []
    for step in trial_steps(vehicle):
        gear = next((g for g in evaluation.gears if g.id == step.position), None)
        rows.append(
            (
                vehicle.gear_name(step.position),
                step.sleeves,
                "–"
                if gear is None or gear.ratio is None
                else signed(work.school.convert(gear.ratio), ".3f"),
                "" if gear is None else _train(gear),
                ""
                if step.wheel_turns is None
                else say("publish.forwards")
                if step.wheel_turns > 0
                else say("publish.backwards"),
            )
        )
    y = book.table(
        y,
        (
            ("position", LEFT, "left"),
            ("sleeves", 34, "left"),
            ("ratio", 96, "right"),
            (say("publish.train-driver-first"), 102, "left"),
            (say("publish.drives"), 176, "left"),
        ),
        rows,
    )
    if vehicle.shifting.actuation == "gate":
        seen = {
            "seat": say("publish.from-the-drivers-seat"),
            "left": say("publish.from-the-left-side"),
            "right": say("publish.from-the-right-side"),
        }[vehicle.lever.seen_from]
        for gate in gates(vehicle):
            y = book.room(y, 78)
            book.text(
                LEFT, y + 4, say("publish.the-seen", name=gate.name, seen=seen), 10, font="Figure"
            )
            draw_fitted(work, gate_figure(gate), y + 8, 62, most=1.0)
            y += 76
        book.paragraph(LEFT, book.room(y, 14), describe_gate(vehicle), 8, width=RIGHT - LEFT)
    else:
        words = {
            "catch": say("publish.a-catch-slides-along-its-rail-to-a-column"),
            "drum": say("publish.a-drums-tracks-move-the-forks-its-wrapper-is"),
        }
        book.paragraph(
            LEFT, book.room(y, 10), words[vehicle.shifting.actuation], 8, width=RIGHT - LEFT
        )


def _train(gear: GearResult) -> str:
    return "direct" if gear.direct else train_text(gear.train) or say("publish.no-train-yet")


def _views(work: Work) -> None:
    book = work.book
    boxes = dict.fromkeys(part.box for part in work.plan.parts)
    if not boxes:
        words = work.plan.trouble or why_no_place(work.vehicle)
        y = book.begin(say("publish.side-views"), share=30)
        book.paragraph(LEFT, y, words, 8, width=RIGHT - LEFT)
        return
    for box in boxes:
        y = book.room(_views_of(work, box), LEAST_APART_MM + 4)
        book.text(LEFT, y, say("publish.all-parts-drawn-apart"), 10, font="Figure")
        size = (RIGHT - LEFT, min(book.left(y) - 4, APART_MM))
        book.picture(LEFT, y + 4, size, work.pictures.apart(box, size).image)


def _views_of(work: Work, box: str) -> float:
    """Draw one of the boxes from the side; give where the page goes on."""
    book, parts = work.book, work.plan.box(box)
    called = f", {work.plan.titles[box]}" if box else ""
    y = book.begin(say("publish.view-from-the-side") + called, share=LEAST_VIEW_MM + 18)
    figure, high = side_figure(parts), min(book.left(y) - 8, VIEW_MM)
    _, low, _, top = figure.box()
    fits = scale_to_fit(figure, (RIGHT - LEFT, high))
    high = min(high, (top - low) * fits + 4)
    scale = draw_fitted(work, figure, y + 6, high, scaled=True)
    book.text(
        LEFT,
        y + 2,
        say("publish.input-end-at-the-left", scale=describe_scale(scale)),
        10,
        font="Figure",
    )
    return y + high + 18


def _cautions(work: Work) -> None:
    book = work.book
    y = book.begin(say("publish.cautions"), share=50)
    own = cautions_for(work.vehicle.kit)
    rest = tuple(words for words in cautions() if words not in own)
    for words in (*own, *rest):
        y = book.paragraph(LEFT, book.room(y, 16), words, 9, width=RIGHT - LEFT) + 3


PICTURE_MM, APART_MM, LEAST_APART_MM, VIEW_MM, LEAST_VIEW_MM = 52.0, 175.0, 130.0, 125.0, 66.0
"""How wide a term's drawing is, and how high those of a box are at the most and at the least."""
GATE_LEFT, GATE_MM, CAUTION_MM, MOST_FINDINGS = 132.0, 22.0, 8.0, 2


def _words(work: Work) -> None:
    """Say what the words mean that the book has used; all of the glossary's on their own."""
    book = work.book
    terms = terms_in(book.told) or tuple(glossary())
    y = book.begin(say("publish.words-of-the-trade"), share=60)
    wide = {t: RIGHT - LEFT - (PICTURE_MM + 6 if t in TERM_PICTURES else 0) for t in terms}
    drawn = {t: PICTURE_MM * HIGH / WIDE if t in TERM_PICTURES else 0.0 for t in terms}
    told = {t: 4.2 + book.lines(glossary()[t], 8, wide[t]) * 8 * LINE for t in terms}
    gap = book.spread(
        y, lambda gap: [max(told[t], drawn[t] - 3) + gap for t in terms], WORDS_GAPS_MM
    )
    for term in terms:
        y = book.room(y, max(drawn[term], 10))
        book.text(LEFT, y, term, 9, font="Figure")
        after = book.paragraph(LEFT, y + 4.2, glossary()[term], 8, width=wide[term])
        if drawn[term]:
            foot = book.high - (y - 3) - drawn[term]
            sketch_of(term).draw_on(book.canvas, RIGHT - PICTURE_MM, foot, PICTURE_MM)
        y = max(after, y + drawn[term] - 3) + gap


WORDS_GAPS_MM = (3.0, 2.4, 4.0, 5.0, 6.5, 8.0)
"""Between two words and their meanings."""


@dataclass(frozen=True)
class Chapter:
    """A chapter: its words for a list, how long it takes against others, and what draws it."""

    words: str
    weight: float
    draw: Callable[[Work], None]


CHAPTERS: dict[str, Chapter] = {
    "cover": Chapter(say("publish.cover-targets-against-got"), 2, _cover),
    "contents": Chapter(say("publish.contents-and-how-to-read"), 1, _contents),
    "shift": Chapter(say("publish.shift-pattern"), 1, _shift),
    "views": Chapter(say("publish.side-views"), 2, _views),
    "layers": Chapter(say("publish.layers"), 2, layers_chapter),
    "walls": Chapter(say("publish.walls"), 1, walls_chapter),
    "stack": Chapter(say("publish.section-and-shafts"), 2, shafts_chapter),
    "axle": Chapter(say("publish.axle-sheet"), 1, axle_chapter),
    "functions": Chapter(say("publish.function-box-where-planned"), 1, functions_chapter),
    **{
        mechanism.key: Chapter(
            say("publish.where-planned", title=mechanism.title),
            1,
            partial(write_mechanism, mechanism=mechanism),
        )
        for mechanism in MECHANISMS
        if mechanism.has_chapter
    },
    "parts": Chapter(say("publish.parts"), 1, parts_chapter),
    "cuts": Chapter(say("publish.cut-list"), 1, cuts_chapter),
    "assembly": Chapter(say("publish.assembly-order"), 6, assembly_chapter),
    "trial": Chapter(say("publish.trial-list"), 1, trial_chapter),
    "after": Chapter(say("publish.after-the-build"), 1, after_chapter),
    "cautions": Chapter(say("publish.cautions"), 1, _cautions),
    "words": Chapter(say("publish.words-of-the-trade"), 1, _words),
    "templates": Chapter(say("publish.templates"), 4, templates_chapter),
}
"""The chapters in the order of the book; templates last, as they change the paper."""

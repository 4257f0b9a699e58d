"""The plan book: one PDF from the cover to the cautions, or single chapters of it.

A4 upright; templates follow on the builder's own paper at true scale, each sheet with its ruler.
"""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date

from mild_badger.core.axle.road_state import Turn
from mild_badger.core.errors import BadgerError, InputError
from mild_badger.core.evaluate import Evaluation, evaluate
from mild_badger.core.findings import Severity
from mild_badger.core.layout.names import shaft_words
from mild_badger.core.layout.shaft_box import stack_for
from mild_badger.core.layout.shaft_lengths import shaft_cuts, stack_words
from mild_badger.core.motion.pull import pulls
from mild_badger.core.publish.figures import draw_figure, scale_to_fit
from mild_badger.core.publish.mechanisms import MECHANISMS
from mild_badger.core.publish.page import BACK, HEIGHT, INK, LEFT, RIGHT, RUN, SOFT, Book
from mild_badger.core.publish.path_figure import path_figure
from mild_badger.core.publish.report import running_data
from mild_badger.core.publish.sheet import gear_table
from mild_badger.core.publish.tiles import draw_tiles
from mild_badger.core.ratios.train import train_text
from mild_badger.core.results import GearResult, Situation
from mild_badger.core.shift.gate import gate_words, gates
from mild_badger.core.targets.schools import RatioSchool
from mild_badger.core.trial.expected import further_rows, trial_steps
from mild_badger.core.vehicle.box import ARCHITECTURES
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import UNWATCHED, Watch
from mild_badger.core.workshop.assembly import (
    AssemblyPlan,
    Build,
    assembly_faults,
    assembly_plan,
    step_done,
)
from mild_badger.core.workshop.cautions import cautions, cautions_for
from mild_badger.core.workshop.cutlist import CutPlan, Piece, cut_plans
from mild_badger.core.workshop.figure import Figure
from mild_badger.core.workshop.parts import cost_words
from mild_badger.core.workshop.scene import exploded_figure, step_figure
from mild_badger.core.workshop.templates import template_of, templates_of
from mild_badger.core.workshop.views import end_figures, gate_figure, side_figure

__all__ = ["CHAPTERS", "book_of", "plan_book"]

SCALES = (1.0, 0.75, 0.5, 0.4, 0.333, 0.25, 0.2, 0.1)
"""Scales a builder can measure at: a figure to scale takes the largest that fits."""
NOT_PLACED = (
    "The box has no place in space yet. Place it on the bench Layout; this chapter is drawn from "
    "there."
)


@dataclass(frozen=True)
class _Work:
    """What the chapters draw from."""

    book: Book
    evaluation: Evaluation
    school: RatioSchool
    plan: AssemblyPlan
    watch: Watch
    shares: tuple[float, float]

    @property
    def vehicle(self) -> Vehicle:
        return self.evaluation.vehicle

    def tick(self, share: float) -> None:
        """Say how much of this chapter is done."""
        start, end = self.shares
        self.watch.tick(start + share * (end - start))


def plan_book(
    vehicle: Vehicle,
    *,
    gear: str | None = None,
    chapters: tuple[str, ...] = (),
    school: RatioSchool = RatioSchool.TURNS_IN,
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
            raise InputError(f"The plan book has no chapter {key}. It has: {', '.join(CHAPTERS)}.")
    wanted = chapters or tuple(CHAPTERS)
    watch.tick(0.0)
    first = next((g.id for g in evaluate(vehicle).gears if g.direction), None)
    evaluation = evaluate(vehicle, Situation(gear=gear or first))
    version = vehicle.versions[-1].name if vehicle.versions else "not kept as a version yet"
    book = Book(vehicle.name, day or date.today(), f"version {version}" if vehicle.versions
                else version)  # fmt: skip
    plan = assembly_plan(vehicle)
    weights = [CHAPTERS[key].weight for key in wanted]
    done = 0.0
    for key, weight in zip(wanted, weights, strict=True):
        shares = (done / sum(weights), (done + weight) / sum(weights))
        work = _Work(book, evaluation, school, plan, watch, shares)
        work.tick(0.0)
        CHAPTERS[key].draw(work)
        done += weight
    watch.tick(1.0)
    return book.close()


def book_of(
    vehicle: Vehicle,
    gear: str | None,
    chapters: tuple[str, ...],
    school: RatioSchool,
    *,
    watch: Watch = UNWATCHED,
) -> bytes:
    """Write the plan book as a job for the search process; see ``plan_book``."""
    return plan_book(vehicle, gear=gear, chapters=chapters, school=school, watch=watch)


def _figure(
    work: _Work, figure: Figure, y: float, height: float, *, scaled: bool = False,
    most: float = 1.0,
) -> float:  # fmt: skip
    """Draw a figure over the page's width; give the scale it is drawn to."""
    size = (RIGHT - LEFT, height)
    scale = scale_to_fit(figure, size, most=most)
    if scaled:
        scale = next((s for s in SCALES if s <= scale + 1e-9), scale)
    draw_figure(work.book.canvas, figure, (LEFT, HEIGHT - y, *size), scale)
    return scale


def _scale_words(scale: float) -> str:
    if scale == 1.0:
        return "true size"
    known = {0.75: "3 : 4", 0.5: "1 : 2", 0.4: "2 : 5", 0.333: "1 : 3", 0.25: "1 : 4",
             0.2: "1 : 5", 0.1: "1 : 10"}  # fmt: skip
    return f"scale {known.get(scale, f'{scale:.2f} of true size')}"


def _cover(work: _Work) -> None:
    book, evaluation, vehicle = work.book, work.evaluation, work.vehicle
    book.bare()
    book.text(LEFT, 34, vehicle.name, 26, font="Figure", width=RIGHT - LEFT)
    box = ARCHITECTURES[vehicle.box.architecture]
    forward = sum(not gear.reverse for gear in evaluation.gears)
    book.text(
        LEFT, 41,
        f"Plan book · {box}, {forward} forward and {len(evaluation.gears) - forward} reverse · "
        f"{vehicle.kit.name} · 1:{vehicle.scale.denominator:g}",
        9, color=SOFT, width=RIGHT - LEFT,
    )  # fmt: skip
    gear = evaluation.engaged
    if gear is not None and gear.links:
        color = BACK if gear.reverse else RUN
        book.text(LEFT, 52, f"The way of the power in gear {gear.name}", 11, font="Figure",
                  color=color)  # fmt: skip
        _figure(work, path_figure(evaluation, gear), 56, 74, most=1.0)
    y = gear_table(book, evaluation, work.school, 142)
    counts = {s: sum(f.severity is s for f in evaluation.findings) for s in Severity}
    found = ", ".join(f"{count} {s.value}{'s' * (count != 1)}" for s, count in counts.items())
    y = book.paragraph(LEFT, y + 9, f"{evaluation.proof.words} Findings: {found}.", 8,
                       width=RIGHT - LEFT)  # fmt: skip
    for finding in evaluation.findings[:6]:
        y = book.paragraph(
            LEFT + 3, y + 1, f"{finding.severity.value}: {finding.title}. {finding.text}", 7,
            width=RIGHT - LEFT - 3, color=SOFT, most=2,
        )  # fmt: skip
    if vehicle.notes.strip():
        book.paragraph(LEFT, y + 4, vehicle.notes, 8, width=RIGHT - LEFT, most=8)
    book.foot()


def _shift(work: _Work) -> None:
    book, vehicle, evaluation = work.book, work.vehicle, work.evaluation
    y = book.begin("Shift pattern")
    rows = []
    for step in trial_steps(vehicle):
        gear = next((g for g in evaluation.gears if g.id == step.position), None)
        rows.append((
            vehicle.gear_name(step.position), step.sleeves,
            "–" if gear is None or gear.ratio is None
            else f"{work.school.convert(gear.ratio):.3f}".replace("-", "−"),
            "" if gear is None else _train(gear),
            "" if step.wheel_turns is None
            else "forwards" if step.wheel_turns > 0 else "backwards",
        ))  # fmt: skip
    y = book.table(
        y, (("position", LEFT, "left"), ("sleeves", 34, "left"), ("ratio", 96, "right"),
            ("train, driver first", 102, "left"), ("drives", 176, "left")), rows,
    )  # fmt: skip
    if vehicle.shifting.actuation == "gate":
        seen = {"seat": "from the driver's seat", "left": "from the left side",
                "right": "from the right side"}[vehicle.lever.seen_from]  # fmt: skip
        for gate in gates(vehicle):
            y = book.room(y, 78)
            book.text(LEFT, y + 4, f"The {gate.name}, seen {seen}", 10, font="Figure")
            _figure(work, gate_figure(gate), y + 8, 62, most=1.0)
            y += 76
        book.paragraph(LEFT, book.room(y, 14), gate_words(vehicle), 8, width=RIGHT - LEFT)
    else:
        words = {
            "catch": "A catch slides along its rail to a column and tilts there.",
            "drum": "A drum's tracks move the forks; its wrapper is among the templates.",
        }
        book.paragraph(LEFT, book.room(y, 10), words[vehicle.shifting.actuation], 8,
                       width=RIGHT - LEFT)  # fmt: skip


def _train(gear: GearResult) -> str:
    return "direct" if gear.direct else train_text(gear.train) or "no train yet"


def _views(work: _Work) -> None:
    book, pieces = work.book, work.plan.pieces
    if not pieces:
        book.paragraph(LEFT, book.begin("End and side views"), NOT_PLACED, 8, width=RIGHT - LEFT)
        return
    y = book.begin("Views from the end")
    ends = end_figures(work.vehicle, pieces)
    tall = 104.0 if len(ends) > 1 else 190.0
    for title, figure in ends:
        scale = _figure(work, figure, y + 6, tall, scaled=True)
        book.text(LEFT, y + 2, f"{title}, {_scale_words(scale)}", 10, font="Figure")
        y += tall + 16
    words = "Pitch circles whole, tips dashed; orange gears run free; walls and forks in outline."
    book.text(LEFT, HEIGHT - 18, words, 7, color=SOFT)
    y = book.begin("View from the side")
    scale = _figure(work, side_figure(pieces), y + 6, 104, scaled=True)
    book.text(LEFT, y + 2, f"Input end at the left, {_scale_words(scale)}", 10, font="Figure")
    figure = exploded_figure(work.plan, 1.4)
    book.text(LEFT, y + 124, "All parts drawn apart", 10, font="Figure")
    _figure(work, figure, y + 128, 104, most=1.0)


def _stack(work: _Work) -> None:
    book, vehicle = work.book, work.vehicle
    y = book.begin("Stack list")
    stack = stack_for(vehicle)
    if stack is None:
        book.paragraph(LEFT, y, NOT_PLACED, 8, width=RIGHT - LEFT)
        return
    y = book.paragraph(LEFT, y, stack_words(vehicle, stack), 8, width=RIGHT - LEFT) + 3
    rows = []
    for cut in shaft_cuts(vehicle, stack):
        for number, part in enumerate(cut.parts):
            length = "none is long enough" if cut.length_mm is None else f"{cut.length_mm:.2f}"
            rows.append((
                shaft_words(vehicle, cut.name) if not number else "",
                length if not number else "",
                f"{part.words} teeth" if part.kind == "gear"
                else part.words.replace(", free", " teeth, free"),
                f"{part.from_mm:.2f}", f"{part.to_mm:.2f}", f"{part.length_mm:.2f}",
            ))  # fmt: skip
    book.table(
        y, (("shaft", LEFT, "left"), ("length mm", 62, "right"), ("what sits on it", 68, "left"),
            ("from mm", 150, "right"), ("to mm", 172, "right"), ("long mm", RIGHT, "right")), rows,
        size=7, step=4.0,
    )  # fmt: skip


def _axle(work: _Work) -> None:
    book, vehicle = work.book, work.vehicle
    y = book.begin("Axle sheet")
    final, differential = vehicle.final_drive, vehicle.differential
    pairs = train_text(final.pairs)
    facts = [
        ("Final drive", f"{float(work.evaluation.final_ratio):.4g} : 1"),
        ("Spur pairs", pairs or "none"),
        ("Pinion and crown wheel", f"{final.pinion} : {final.crown}, crown on the "
                                   f"{final.crown_side} of the pinion, seen by the driver"),
        ("Differential", f"{differential.kind}, {differential.planets} planets, sides "
                         f"{differential.side_teeth}, planets {differential.planet_teeth} teeth"
         if differential.kind == "open" else differential.kind),
        ("Wheels", f"ø {vehicle.wheels.diameter_mm:g} mm"),
        ("Track and wheelbase", f"{vehicle.axle.track_mm:g} and {vehicle.axle.wheelbase_mm:g} mm"),
    ]  # fmt: skip
    facts += [(f"Axle {axle.name}", f"{axle.ahead_mm:+g} mm ahead, {axle.pinion} : {axle.crown}, "
               f"crown on the {axle.crown_side}, pinion from the {axle.pinion_from}")
              for axle in vehicle.more_axles]  # fmt: skip
    data = running_data(work.evaluation)
    for key, value in (data or {}).items():
        if value is not None:
            words = f"{value:.4g}" if isinstance(value, float | int) else str(value)
            facts.append((key.replace("_", " ").capitalize(), words))
    columns = (("what", LEFT, "left"), ("", 70, "left"))
    y = book.table(y, columns, facts) + 4
    y = book.room(y, 40)
    radius = max(3 * vehicle.axle.wheelbase_mm, 300.0)
    book.text(LEFT, y, f"In a turn of R {radius:.0f} mm to the left, gear engaged as on the cover",
              10, font="Figure")  # fmt: skip
    turning = evaluate(
        vehicle, Situation(gear=work.evaluation.situation.gear, road=Turn(radius, "left"))
    )
    rows = [
        (row.name, *("–" if v is None else f"{v:.1f}" for v in
                     (row.housing_rpm, row.left_rpm, row.right_rpm, row.planet_rpm)))
        for row in turning.axle.rows
    ]  # fmt: skip
    y = book.table(
        y + 6, (("axle", LEFT, "left"), ("housing rpm", 90, "right"), ("left rpm", 118, "right"),
                ("right rpm", 146, "right"), ("planet rpm", 176, "right")), rows,
    )  # fmt: skip
    y = book.paragraph(LEFT, y + 2, turning.axle.torque, 8, width=RIGHT - LEFT) + 4
    y = book.room(y, 40)
    book.text(LEFT, y, "What every gear pulls, estimated", 10, font="Figure")
    table = [
        (
            vehicle.gear_name(pull.gear), f"{pull.overall:.4g}", f"{100 * pull.efficiency:.0f} %",
            f"{pull.road_m_s:.2f}",
            f"{pull.force_n:.1f}", f"{pull.hill_percent:.0f} %", pull.limit,
        )
        for pull in pulls(vehicle, work.evaluation.gears)
    ]  # fmt: skip
    if table:
        book.table(
            y + 6, (("gear", LEFT, "left"), ("motor per wheel", 52, "right"),
                    ("power arrives", 80, "right"), ("m/s on the level", 108, "right"),
                    ("pull N", 126, "right"), ("steepest hill", 150, "right"),
                    ("what limits it", 156, "left")), table,
        )  # fmt: skip


def _parts(work: _Work) -> None:
    book, evaluation = work.book, work.evaluation
    y = book.begin("Parts")
    priced = any(part.price is not None for part in evaluation.parts)
    columns = [("part", LEFT, "left"), ("needed", 116, "right"), ("owned", 132, "right"),
               ("short", 143, "right"), ("where used", 148, "left")]  # fmt: skip
    if priced:
        columns[1:] = [("needed", 92, "right"), ("owned", 108, "right"), ("short", 119, "right"),
                       ("price", 134, "right"), ("cost", 150, "right"),
                       ("where used", 154, "left")]  # fmt: skip
    rows = []
    for part in evaluation.parts:
        stock = "made" if part.made else "not in the kit" if not part.there else str(part.stock)
        money = ("" if part.price is None else f"{part.price:.2f}",
                 "" if part.cost is None else f"{part.cost:.2f}")  # fmt: skip
        rows.append((
            part.name, str(part.needed), stock, str(part.short or ""), *(money if priced else ()),
            ", ".join(part.used_by),
        ))  # fmt: skip
    y = book.table(y, columns, rows)
    short = [part.name for part in evaluation.parts if part.short]
    words = f"Short: {', '.join(short)}." if short else "Nothing is short."
    book.paragraph(LEFT, book.room(y, 12), f"{words} {cost_words(evaluation.parts)}", 8,
                   width=RIGHT - LEFT)  # fmt: skip


def _cuts(work: _Work) -> None:
    book = work.book
    y = book.begin("Cut list")
    plans = cut_plans(work.vehicle)
    if not plans:
        words = "Nothing is cut to length: shafts come in lengths, or the box has no place yet."
        book.paragraph(LEFT, y, words, 8, width=RIGHT - LEFT)
    for plan in plans:
        y = book.room(y, 20)
        y = book.paragraph(LEFT, y, plan.words, 8.5, width=RIGHT - LEFT) + 1
        for rod in plan.rods:
            y = book.room(y, 10)
            _rod(work, plan, rod.pieces, y)
            book.text(RIGHT, y + 4, f"{rod.offcut_mm:.0f} left", 6, color=SOFT, align="right")
            y += 9
        y += 4


def _rod(work: _Work, plan: CutPlan, pieces: tuple[Piece, ...], y: float) -> None:
    scale = (RIGHT - LEFT - 16) / plan.stock_mm
    x = LEFT
    for piece in pieces:
        width = piece.length_mm * scale
        work.book.box(x, y, width, 6, INK)
        words = f"{piece.words} · {piece.length_mm:.4g}"
        if width > 14:
            work.book.text(x + 1, y + 4, words, 6, width=width - 2)
        x += width + plan.saw_mm * scale


def _assembly(work: _Work) -> None:
    book, plan = work.book, work.plan
    if not plan.steps:
        book.paragraph(LEFT, book.begin("Assembly"), NOT_PLACED, 8, width=RIGHT - LEFT)
        return
    wide, tall = (RIGHT - LEFT - 8) / 2, 80.0
    for number, step in enumerate(plan.steps):
        place = number % 6
        if not place:
            y0 = book.begin("Assembly" if not number else "Assembly, continued")
        x, y = LEFT + (place % 2) * (wide + 8), y0 + (place // 2) * (tall + 2)
        _step(work, step, (x, y), wide)
        work.tick((number + 1) / len(plan.steps))
    for finding in assembly_faults(work.vehicle):
        book.paragraph(LEFT, book.begin("Assembly, what stands in the way"),
                       f"{finding.title}. {finding.text}", 8, width=RIGHT - LEFT)  # fmt: skip


def _step(work: _Work, step: Build, at: tuple[float, float], wide: float) -> None:
    book, (x, y) = work.book, at
    book.box(x, y - 3, 3.2, 3.2, INK)
    if step_done(work.vehicle, step):
        book.text(x + 0.5, y - 0.4, "x", 8)
    book.text(x + 5, y, f"{step.number}. {step.title}", 9, font="Figure", width=wide - 5)
    low = y + 3
    if step.pieces:
        figure = step_figure(work.plan, step)
        size = (wide, 44.0)
        draw_figure(book.canvas, figure, (x, HEIGHT - low, *size), scale_to_fit(figure, size))
        low += 48
    low = book.paragraph(x, low + 1, step.words, 6.5, width=wide, most=5)
    if step.mistakes:
        book.paragraph(x, low + 0.6, f"Often done wrong: {' '.join(step.mistakes)}", 6, width=wide,
                       color=RUN, most=3)  # fmt: skip


def _templates(work: _Work) -> None:
    book, vehicle = work.book, work.vehicle
    y = book.begin("Templates")
    making = vehicle.making
    found = templates_of(vehicle)
    rows, drawings, refused = [], [], []
    for template in found:
        if template.key == "own":
            continue
        rows.append((template.words, str(template.count), f"{template.thick_mm:g}"))
        try:
            drawings.append(template_of(vehicle, template.key, kerf=False))
        except BadgerError as error:
            refused.append(str(error))
    y = book.paragraph(
        LEFT, y,
        f"On {making.paper} at true scale on the pages that follow; measure the ruler on each "
        "before you cut. Lines are the part's own outline: stand off by half of what your saw or "
        "laser takes.", 8, width=RIGHT - LEFT,
    ) + 3  # fmt: skip
    y = book.table(
        y, (("template", LEFT, "left"), ("make", 120, "right"), ("thick mm", 150, "right")), rows
    )
    for words in refused:
        y = book.paragraph(LEFT, book.room(y, 8), words, 8, width=RIGHT - LEFT, color=RUN)
    for number, drawing in enumerate(drawings):
        draw_tiles(book.canvas, drawing, making.paper, making.overlap_mm, book.bare)
        work.tick((number + 1) / len(drawings))


def _trial(work: _Work) -> None:
    book, vehicle = work.book, work.vehicle
    y = book.begin("Trial")
    for step in trial_steps(vehicle):
        y = book.room(y, 14)
        book.box(LEFT, y - 3, 3.2, 3.2, INK)
        if step.position in vehicle.trial.ticks:
            book.text(LEFT + 0.5, y - 0.4, "x", 8)
        book.text(LEFT + 6, y, vehicle.gear_name(step.position), 11, font="Figure")
        book.text(LEFT + 18, y, step.sleeves, 8, color=SOFT)
        y = book.paragraph(LEFT + 18, y + 4.4, step.words, 8, width=RIGHT - LEFT - 60) + 1
        book.text(RIGHT - 38, y - 5, "read:", 7, color=SOFT)
        book.line(RIGHT - 30, y - 4.6, RIGHT, y - 4.6)
    for more in further_rows(vehicle):
        y = book.room(y, 12) + 1
        book.box(LEFT, y - 3, 3.2, 3.2, INK)
        if more.key in vehicle.trial.ticks:
            book.text(LEFT + 0.5, y - 0.4, "x", 8)
        words = f"{more.name}: {more.words}"
        y = book.paragraph(LEFT + 6, y, words, 8, width=RIGHT - LEFT - 6)


def _cautions(work: _Work) -> None:
    book = work.book
    y = book.begin("Cautions")
    own = cautions_for(work.vehicle.kit)
    rest = tuple(words for words in cautions() if words not in own)
    for words in (*own, *rest):
        y = book.paragraph(LEFT, book.room(y, 16), words, 9, width=RIGHT - LEFT) + 3


@dataclass(frozen=True)
class Chapter:
    """A chapter: its words for a list, how long it takes against others, and what draws it."""

    words: str
    weight: float
    draw: Callable[[_Work], None]


def _mechanism(draw: Callable[[Book, Evaluation], None]) -> Callable[[_Work], None]:
    return lambda work: draw(work.book, work.evaluation)


CHAPTERS: dict[str, Chapter] = {
    "cover": Chapter("Cover, targets against got", 2, _cover),
    "shift": Chapter("Shift pattern", 1, _shift),
    "views": Chapter("End and side views", 2, _views),
    "stack": Chapter("Stack list", 1, _stack),
    "axle": Chapter("Axle sheet", 1, _axle),
    **{
        key: Chapter(f"{words}, where planned", 1, _mechanism(draw))
        for key, (words, draw) in MECHANISMS.items()
    },
    "parts": Chapter("Parts", 1, _parts),
    "cuts": Chapter("Cut list", 1, _cuts),
    "assembly": Chapter("Assembly order", 6, _assembly),
    "trial": Chapter("Trial list", 1, _trial),
    "cautions": Chapter("Cautions", 1, _cautions),
    "templates": Chapter("Templates", 4, _templates),
}
"""The chapters in the order of the book; templates last, as they change the paper."""

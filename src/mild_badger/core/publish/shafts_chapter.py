"""The box cut open along its shafts, and each shaft to scale with what sits on it, in order.

Places on a shaft are told from its own end at the input side.
"""

from itertools import pairwise

from mild_badger.core.components.component import Component
from mild_badger.core.components.describe import describe_component
from mild_badger.core.components.vehicle_parts import main_components
from mild_badger.core.figures import MM, bare, in_mm
from mild_badger.core.layout.reason import why_no_place
from mild_badger.core.message import say
from mild_badger.core.publish.figures import scale_to_fit
from mild_badger.core.publish.page import LEFT, LETTERED, RIGHT, SOFT
from mild_badger.core.publish.work import SCALES, Work, describe_scale
from mild_badger.core.structure.developed import DevelopedSection, SectionPart, developed_section
from mild_badger.core.structure.names import describe_shaft, shaft_letter
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.shaft_lengths import (
    ShaftCut,
    StackPart,
    describe_stack,
    shaft_cuts,
)
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized, word
from mild_badger.core.workshop.figure import Figure, Point
from mild_badger.core.workshop.joints import joint_of

__all__ = ["section_figure", "shafts_chapter"]

ROUND_MM, ROW_MM, GAP_MM = 62.0, 3.9, 7.0
"""How high the section may be, a row of a table, and the room between two shafts."""
DIMENSION_MM, TICK_MM = 5.0, 2.0
HALF_MM = 13.0
"""How far parts on a shaft are drawn from its axis at the most: larger gears are cut short."""
RAIL_HALF_MM, RAIL_STEP_MM, NAME_MM = 5.0, 12.0, 25.0
"""How far forks are drawn from their rail's axis, from rail to rail, and room for a name."""


def shafts_chapter(work: Work) -> None:
    """Draw the section, then shaft after shaft."""
    book, vehicle = work.book, work.vehicle
    stack = stack_for(vehicle)
    if stack is None:
        words = why_no_place(vehicle)
        book.paragraph(
            LEFT, book.begin(say("publish.shafts"), share=30), words, 8, width=RIGHT - LEFT
        )
        return
    section = developed_section(vehicle, stack, (), whole=True)
    y = book.begin(say("publish.section"))
    figure = section_figure(work, section)
    size = RIGHT - LEFT, book.high - ROUND_MM
    scale = scale_to_fit(figure, size)
    scale = next((known for known in SCALES if known <= scale + 1e-9), scale)
    words = say("publish.through-the-shafts-laid-out-flat", scale=describe_scale(scale))
    y = book.paragraph(LEFT, y - 1.5, words, 7, width=RIGHT - LEFT, color=SOFT)
    book.figure(figure, (LEFT, y), size, scale)
    y = book.begin(say("publish.shafts"), share=80)
    book.starts[LETTERED] = book.number
    y = book.paragraph(LEFT, y, describe_stack(vehicle, stack), 8, width=RIGHT - LEFT) + 4
    parts = {name: [p for p in section.parts if p.shaft == name] for name in stack.rods}
    cuts = shaft_cuts(vehicle, stack)
    for cut in sorted(cuts, key=lambda c: _order(shaft_letter(vehicle, c.name))):
        y = _shaft(work, stack, cut, parts[cut.name], y)
    _rails(work, y)


def _order(letter: str) -> tuple[int, str]:
    return len(letter), letter


def section_figure(work: Work, section: DevelopedSection) -> Figure:
    """Draw the developed section: walls, shafts with their letters, parts, forks, lengths."""
    figure, vehicle = Figure(say("publish.section")), work.vehicle
    for _, start, end in section.walls:
        top, low = -section.top_mm, -section.low_mm
        figure.polygon("lower", (start, low), (end, low), (end, top), (start, top))
    for shaft in section.shafts:
        y, r = -shaft.across_mm, shaft.radius_mm
        a, b = shaft.from_mm, shaft.to_mm
        figure.polygon("there", (a, y - r), (b, y - r), (b, y + r), (a, y + r))
        figure.line("soft", (a - 2, y), (b + 2, y), dashed=True)
        figure.text((a - 3, y - 1), shaft_letter(vehicle, shaft.name), align="right", size=7)
    for part in section.parts:
        _cut_part(figure, part)
    for fork in section.forks:
        y = -fork.across_mm
        near, far = y + fork.inner_mm, y + max(fork.rail_mm, fork.inner_mm)
        a, b = fork.from_mm, fork.to_mm
        figure.line("run", (a, near), (a, far), (b, far), (b, near), (a, near))
    for distance in section.distances:
        one, other = -distance.from_mm, -distance.to_mm
        x = section.end_mm + DIMENSION_MM
        figure.line("hair", (x - TICK_MM, one), (x + TICK_MM, one))
        figure.line("hair", (x - TICK_MM, other), (x + TICK_MM, other))
        figure.line("hair", (x, one), (x, other))
        words = bare(in_mm(abs(distance.to_mm - distance.from_mm), 2))
        figure.text((x + 2, (one + other) / 2 - 1), words, size=5.5)
    _lengths(figure, section)
    return figure


def _lengths(figure: Figure, section: DevelopedSection) -> None:
    """Chain the walls and the rooms between them below the section."""
    low = -section.low_mm - DIMENSION_MM
    edges = [edge for _, start, end in section.walls for edge in (start, end)]
    for edge in edges:
        figure.line("hair", (edge, -section.low_mm), (edge, low - TICK_MM))
    for number, (one, other) in enumerate(pairwise(edges)):
        # walls and rooms in two rows, so that no figure lies over another
        y = low - 2 - 5 * (number % 2)
        figure.text(((one + other) / 2, y), bare(in_mm(other - one, 2)), align="centre", size=5.5)
    if edges:
        words = bare(in_mm(edges[-1] - edges[0], 2))
        figure.text(((edges[0] + edges[-1]) / 2, low - 13), words, align="centre", size=6.5)


def _cut_part(figure: Figure, part: SectionPart) -> None:
    """Draw a part above and below its axis: heavy where it is fixed, double where it is free."""
    a, b, y = part.from_mm, part.to_mm, -part.across_mm
    free = part.kind == "free gear"
    for sign in (1.0, -1.0):
        near, far = y + sign * part.inner_mm, y + sign * part.outer_mm
        corners = ((a, near), (b, near), (b, far), (a, far))
        figure.polygon("there", *corners, heavy=part.kind == "gear")
        if part.teeth:
            pitch = y + sign * part.pitch_mm
            figure.line("soft", (a, pitch), (b, pitch), dashed=True)
        if free:
            inset = min(0.8, (b - a) / 4)
            figure.line(
                "ink",
                (a + inset, near),
                (a + inset, far - sign * inset),
                (b - inset, far - sign * inset),
                (b - inset, near),
            )
    if part.teeth:
        figure.text(((a + b) / 2, y + part.outer_mm + 0.8), str(part.teeth), align="centre", size=5)


def _shaft(work: Work, stack: Stack, cut: ShaftCut, parts: list[SectionPart], y: float) -> float:
    """Draw one shaft with what sits on it, and tell that in a table; give where it ends."""
    book, vehicle = work.book, work.vehicle
    long = cut.needed_mm if cut.length_mm is None else cut.length_mm
    rows = [_row(cut, part) for part in cut.parts]
    figure = _shaft_figure(work, cut, parts, long)
    scale = _scale(long)
    rod = stack.rods[cut.name]
    walls = stack.edges_mm[rod.first], stack.edges_mm[rod.last + 1]
    length = (
        say("publish.none-is-long-enough")
        if cut.length_mm is None
        else say(
            "publish.shaft-length",
            long=in_mm(long, 2),
            front=in_mm(max(walls[0] - cut.start_mm, 0.0), 2),
            back=in_mm(max(cut.start_mm + long - walls[1], 0.0), 2),
            scale=describe_scale(scale),
        )
    )
    box = figure.box()
    high = (box[3] - box[1]) * scale
    y = book.room(y, high + ROW_MM * (len(rows) + 2) + 12)
    title = capitalized(describe_shaft(vehicle, cut.name))
    book.text(LEFT, y, title, 10, font="Figure", width=70)
    book.text(RIGHT, y, length, 7, color=SOFT, align="right")
    book.figure(figure, (LEFT, y + 3.5), (RIGHT - LEFT, high), scale, from_left=True)
    y = book.table(
        y + high + 7.5,
        (
            (say("publish.what-sits-on-it"), LEFT, "left"),
            (say("publish.how"), 84, "left"),
            (say("publish.from", mm=MM), 140, "right"),
            (say("publish.to", mm=MM), 162, "right"),
            (say("publish.long", mm=MM), RIGHT, "right"),
        ),
        rows,
        size=7,
        step=ROW_MM,
    )
    return y + GAP_MM


def _scale(long: float) -> float:
    fits = (RIGHT - LEFT - 4) / long
    return next((known for known in SCALES if known <= fits + 1e-9), fits)


def _rails(work: Work, y: float) -> None:
    """Draw the forks' rails below one another, and tell where each fork sits in neutral."""
    book, vehicle, box = work.book, work.vehicle, main_components(work.vehicle)
    parts = box.components if box is not None else ()
    rails = [part for part in parts if part.kind == "rail"]
    if not rails:
        return
    figure, rows = Figure(say("publish.fork-rails")), []
    front = min(rail.from_mm for rail in rails)
    for number, rail in enumerate(rails):
        on_it = [part for part in parts if part.kind == "fork" and part.shaft == rail.shaft]
        _rail_figure(figure, rail, on_it, (front, -number * RAIL_STEP_MM), vehicle)
        for fork in on_it:
            rows.append(
                (
                    capitalized(describe_shaft(vehicle, rail.shaft)),
                    bare(in_mm(rail.to_mm - rail.from_mm, 2)),
                    describe_component(vehicle, fork),
                    word(joint_of(vehicle, fork)),
                    bare(in_mm(fork.from_mm - rail.from_mm, 2)),
                    bare(in_mm(fork.to_mm - rail.from_mm, 2)),
                )
            )
    scale = _scale(max(rail.to_mm for rail in rails) - front + NAME_MM)
    _, low, _, top = figure.box()
    high = (top - low) * scale
    y = book.room(y, high + ROW_MM * (len(rows) + 2) + 16)
    book.text(LEFT, y, say("publish.fork-rails"), 10, font="Figure")
    book.text(RIGHT, y, describe_scale(scale), 7, color=SOFT, align="right")
    y = book.paragraph(LEFT, y + 4, say("publish.fork-rails-in-neutral"), 7, width=RIGHT - LEFT)
    book.figure(figure, (LEFT, y), (RIGHT - LEFT, high), scale, from_left=True)
    book.table(
        y + high + 5,
        (
            (say("publish.rail"), LEFT, "left"),
            (say("publish.long", mm=MM), 62, "right"),
            (say("publish.what-sits-on-it"), 70, "left"),
            (say("publish.how"), 110, "left"),
            (say("publish.from", mm=MM), 162, "right"),
            (say("publish.to", mm=MM), RIGHT, "right"),
        ),
        rows,
        size=7,
        step=ROW_MM,
    )


def _rail_figure(
    figure: Figure, rail: Component, forks: list[Component], at: Point, vehicle: Vehicle
) -> None:
    """Draw one rail with its forks; ``at`` is where its row begins."""
    front, y = at
    radius = rail.reach_mm[2] - rail.x_mm
    a, b = rail.from_mm - front, rail.to_mm - front
    figure.polygon("there", (a, y - radius), (b, y - radius), (b, y + radius), (a, y + radius))
    for fork in forks:
        a, b = fork.from_mm - front, fork.to_mm - front
        for sign in (1.0, -1.0):
            low, far = y + sign * radius, y + sign * RAIL_HALF_MM
            figure.polygon("there", (a, low), (b, low), (b, far), (a, far), heavy=True)
    name = capitalized(describe_shaft(vehicle, rail.shaft))
    figure.text((rail.to_mm - front + 3, y - 1), name, size=6)


HOW = {
    "gear": say("publish.fixed-to-its-shaft"),
    "free gear": say("publish.runs-free"),
    "sleeve": say("publish.slides"),
    "hub": say("publish.fixed-to-its-shaft"),
    "clutch": say("publish.fixed-to-its-shaft"),
    "wall": say("publish.runs-in-it"),
}


def _row(cut: ShaftCut, part: StackPart) -> tuple[str, ...]:
    start = cut.start_mm
    return (
        say("publish.teeth", words=str(part.teeth)) if part.teeth else part.words,
        HOW.get(part.kind, ""),
        bare(in_mm(part.from_mm - start, 2)),
        bare(in_mm(part.to_mm - start, 2)),
        bare(in_mm(part.length_mm, 2)),
    )


def _shaft_figure(work: Work, cut: ShaftCut, parts: list[SectionPart], long: float) -> Figure:
    figure, start = Figure(describe_shaft(work.vehicle, cut.name)), cut.start_mm
    radius = work.vehicle.kit.shaft_diameter_mm / 2
    figure.polygon("there", (0.0, -radius), (long, -radius), (long, radius), (0.0, radius))
    for wall in cut.parts:
        if wall.kind == "wall":
            a, b = wall.from_mm - start, wall.to_mm - start
            figure.polygon("lower", (a, radius), (b, radius), (b, HALF_MM), (a, HALF_MM))
            figure.polygon("lower", (a, -radius), (b, -radius), (b, -HALF_MM), (a, -HALF_MM))
    for part in parts:
        a, b, far = part.from_mm - start, part.to_mm - start, min(part.outer_mm, HALF_MM)
        if part.kind == "wall":
            continue
        for sign in (1.0, -1.0):
            corners = ((a, sign * radius), (b, sign * radius), (b, sign * far), (a, sign * far))
            figure.polygon("there", *corners, heavy=part.kind == "gear")
            if part.kind == "free gear":
                inset = min(0.8, (b - a) / 4)
                near, inner = sign * radius, sign * (far - inset)
                left, right = a + inset, b - inset
                figure.line("ink", (left, near), (left, inner), (right, inner), (right, near))
        if part.teeth:
            figure.text(((a + b) / 2, far + 0.8), str(part.teeth), align="centre", size=6)
    return figure

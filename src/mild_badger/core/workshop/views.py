"""Views of a box for paper: from the end, from the side, and the shift pattern, in millimetres."""

from mild_badger.core.components.component import Component
from mild_badger.core.components.silhouette import ROUND
from mild_badger.core.figures import in_mm
from mild_badger.core.message import say
from mild_badger.core.shift.gate import Gate
from mild_badger.core.structure.names import describe_shaft
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.figure import Figure, Role

__all__ = ["end_figures", "gate_figure", "side_figure"]

DRAWN_FLAT = (
    "fork",
    "drum",
    "star",
    "follower",
    "detent arm",
    "shift arm",
    "lever stand",
    "rod",
    "yoke",
    "lever arm",
    "pawl",
)
LINE_MM = 9.0
"""How far apart lines of words under a view are, in the view's own millimetres."""


def end_figures(vehicle: Vehicle, parts: tuple[Component, ...]) -> tuple[tuple[str, Figure], ...]:
    """Draw the box from its input end, the part before its sleeves and the part behind apart.

    Pitch circles whole, tip circles dashed, shafts as they are; walls by their outlines.
    """
    sleeves = [part.to_mm for part in parts if part.kind == "sleeve"]
    starts = [part.from_mm for part in parts if part.kind == "sleeve"]
    walls = {round(p.from_mm, 1) for p in parts if p.kind == "wall"}
    if not sleeves or len(walls) < 4:
        return (
            (
                say("workshop.seen-from-the-input-end"),
                _end(vehicle, parts, say("workshop.all-gears")),
            ),
        )
    cut = (min(starts) + max(sleeves)) / 2
    front = tuple(p for p in parts if p.from_mm < cut)
    back = tuple(p for p in parts if p.to_mm > cut)
    return (
        (
            say("workshop.front-half-seen-from-the-input-end"),
            _end(vehicle, front, say("workshop.front-half")),
        ),
        (
            say("workshop.back-half-seen-from-the-input-end"),
            _end(vehicle, back, say("workshop.back-half")),
        ),
    )


def _end(vehicle: Vehicle, parts: tuple[Component, ...], sentence: str) -> Figure:
    figure = Figure(say("workshop.of-the-box-from-its-input-end", sentence=sentence))
    walls = (prism.outlines for p in parts if p.kind == "wall" for prism in p.solid)
    for outline in dict.fromkeys(o for outlines in walls for o in outlines):
        figure.line("hair", *outline, outline[0])
    for part in parts:
        if part.kind == "sleeve":
            figure.circle("hair", (part.x_mm, part.y_mm), part.radius_mm)
        if part.kind in DRAWN_FLAT:
            for prism in part.solid[:2]:
                for flat in map(part.placed, prism.outlines):
                    figure.line("soft", *flat, flat[0])
    labels: dict[tuple[float, float], list[str]] = {}
    for part in parts:
        if part.teeth:
            at = part.x_mm, part.y_mm
            role: Role = "run" if part.free else "ink"
            figure.circle(role, at, part.teeth * vehicle.kit.module_mm / 2)
            figure.circle("hair", at, part.radius_mm, dashed=True)
            teeth = labels.setdefault(at, [])
            if str(part.teeth) not in teeth:
                teeth.append(str(part.teeth))
    names: dict[tuple[float, float], str] = {}
    for part in parts:
        if part.kind in ("shaft", "rail"):
            figure.circle("ink", (part.x_mm, part.y_mm), part.radius_mm)
            names.setdefault((part.x_mm, part.y_mm), describe_shaft(vehicle, part.shaft))
    for at, name in names.items():
        radius = vehicle.kit.shaft_diameter_mm / 2
        figure.text((at[0], at[1] + radius + 0.8), name, role="soft", align="centre", size=4.5)
        if at in labels:
            words = ", ".join(labels[at])
            figure.text((at[0], at[1] - radius - 2.6), words, align="centre", size=5)
    return figure


def side_figure(parts: tuple[Component, ...]) -> Figure:
    """Draw the box from its right side, input at the left; what is nearer covers what is behind."""
    figure = Figure(say("workshop.the-box-from-its-side-input-end-at-the-left"))
    for part in sorted(parts, key=lambda p: (p.x_mm, p.kind == "wall")):
        _, low, _, high = part.reach_mm
        if part.kind in ROUND:  # to its true radius, of which the corners of its solid fall short
            low, high = part.y_mm - part.radius_mm, part.y_mm + part.radius_mm
        role: Role = "now" if part.free else "there"
        a, b = part.from_mm, part.to_mm
        for start, end in _spans(part) if part.kind == "wall" else [(a, b)]:
            figure.polygon(role, (start, low), (end, low), (end, high), (start, high))
        if part.teeth and b - a > 3:
            figure.text(((a + b) / 2, high - 3), str(part.teeth), align="centre", size=4.5)
    walls = sorted({_spans(p)[0] for p in parts if p.kind == "wall"})
    if walls:
        low = figure.box()[1] - 6
        for (a, b), (c, _) in zip(walls, (*walls[1:], (walls[-1][1], 0.0)), strict=True):
            figure.line("hair", (a, low + 4), (a, low - 3))
            figure.text(((a + b) / 2, low - 2), f"{b - a:.4g}", role="soft", align="centre", size=5)
            if c > b:
                figure.text(((b + c) / 2, low - 2), f"{c - b:.5g}", align="centre", size=6)
        figure.line("hair", (walls[-1][1], low + 4), (walls[-1][1], low - 3))
        figure.text(
            ((walls[0][0] + walls[-1][1]) / 2, low - LINE_MM),
            say(
                "workshop.over-the-outer-walls",
                walls=in_mm(walls[-1][1] - walls[0][0], significant=5),
            ),
            align="centre",
            size=7,
        )
    return figure


def _spans(wall: Component) -> list[tuple[float, float]]:
    """From where to where a wall's rows reach, then its uprights."""
    along = wall.along_mm
    return [(along + prism.from_mm, along + prism.to_mm) for prism in wall.solid]


def gate_figure(gate: Gate) -> Figure:
    """Draw a lever's gate: rails, neutral, and where each gear lies."""
    figure = Figure(say("workshop.shift-pattern") + ", ".join(place.label for place in gate.places))
    for start, end in zip(gate.neutral, gate.neutral[1:], strict=False):
        figure.line("ink", start, end, heavy=True)
    for place in gate.places:
        figure.line("ink", gate.neutral[place.rail], (place.x_mm, place.y_mm), heavy=True)
        up = 1 if (place.x_mm, place.y_mm) >= gate.neutral[place.rail] else -1
        along = (0.0, up * 4.0 - 2.0) if gate.along == "vertical" else (up * 4.0 - 1.5, -1.5)
        at = (place.x_mm + along[0], place.y_mm + along[1])
        figure.text(
            at, place.label, role="back" if place.reverse else "ink", align="centre", size=14
        )
    return figure

"""Views of a box for paper: from the end, from the side, and the shift pattern, in millimetres."""

from mild_badger.core.figures import in_mm
from mild_badger.core.layout.names import describe_shaft
from mild_badger.core.message import say
from mild_badger.core.shift.gate import Gate
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.figure import Figure, Role
from mild_badger.core.workshop.pieces import Piece

__all__ = ["end_figures", "gate_figure", "side_figure"]

LINE_MM = 9.0
"""How far apart lines of words under a view are, in the view's own millimetres."""


def end_figures(vehicle: Vehicle, pieces: tuple[Piece, ...]) -> tuple[tuple[str, Figure], ...]:
    """Draw the box from its input end, the part before its sleeves and the part behind apart.

    Pitch circles whole, tip circles dashed, shafts as they are; walls by their outlines.
    """
    sleeves = [piece.to_mm for piece in pieces if piece.kind == "sleeve"]
    starts = [piece.from_mm for piece in pieces if piece.kind == "sleeve"]
    walls = {round(p.from_mm, 1) for p in pieces if p.kind == "wall"}
    if not sleeves or len(walls) < 4:
        return (
            (
                say("workshop.seen-from-the-input-end"),
                _end(vehicle, pieces, say("workshop.all-gears")),
            ),
        )
    cut = (min(starts) + max(sleeves)) / 2
    front = tuple(p for p in pieces if p.from_mm < cut)
    back = tuple(p for p in pieces if p.to_mm > cut)
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


def _end(vehicle: Vehicle, pieces: tuple[Piece, ...], sentence: str) -> Figure:
    figure = Figure(say("workshop.of-the-box-from-its-input-end", sentence=sentence))
    outlines = dict.fromkeys(o for p in pieces if p.kind == "wall" for o in p.outlines)
    for outline in outlines:
        figure.line("hair", *outline, outline[0])
    for piece in pieces:
        if piece.kind == "sleeve":
            figure.circle("hair", piece.at, piece.radius_mm)
        if piece.kind == "fork":
            for outline in piece.outlines:
                figure.line("soft", *outline, outline[0])
    labels: dict[tuple[float, float], list[str]] = {}
    for piece in pieces:
        if piece.teeth:
            role: Role = "run" if piece.kind == "free gear" else "ink"
            figure.circle(role, piece.at, piece.teeth * vehicle.kit.module_mm / 2)
            figure.circle("hair", piece.at, piece.radius_mm, dashed=True)
            teeth = labels.setdefault(piece.at, [])
            if str(piece.teeth) not in teeth:
                teeth.append(str(piece.teeth))
    names: dict[tuple[float, float], str] = {}
    for piece in pieces:
        if piece.kind in ("shaft", "rail"):
            figure.circle("ink", piece.at, piece.radius_mm)
            names.setdefault(piece.at, describe_shaft(vehicle, piece.shaft))
    for at, name in names.items():
        radius = vehicle.kit.shaft_diameter_mm / 2
        figure.text((at[0], at[1] + radius + 0.8), name, role="soft", align="centre", size=4.5)
        if at in labels:
            words = ", ".join(labels[at])
            figure.text((at[0], at[1] - radius - 2.6), words, align="centre", size=5)
    return figure


def side_figure(pieces: tuple[Piece, ...]) -> Figure:
    """Draw the box from its right side, input at the left; what is nearer covers what is behind."""
    figure = Figure(say("workshop.the-box-from-its-side-input-end-at-the-left"))
    for piece in sorted(pieces, key=lambda p: (p.at[0], p.kind == "wall")):
        if piece.outlines:
            ys = [y for outline in piece.outlines for _, y in outline]
            low, high = min(ys), max(ys)
        else:
            low, high = piece.at[1] - piece.radius_mm, piece.at[1] + piece.radius_mm
        role: Role = "now" if piece.kind == "free gear" else "there"
        a, b = piece.from_mm, piece.to_mm
        figure.polygon(role, (a, low), (b, low), (b, high), (a, high))
        if piece.teeth and b - a > 3:
            figure.text(((a + b) / 2, high - 3), str(piece.teeth), align="centre", size=4.5)
    walls = sorted({(p.from_mm, p.to_mm) for p in pieces if p.kind == "wall"})
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

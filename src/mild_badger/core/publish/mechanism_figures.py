"""Mechanisms without parts in space as drawings to scale: levers with holes, lines, balance.

Lengths are the mechanism's own millimetres.
"""

from collections.abc import Iterator
from math import cos, radians, sin

from mild_badger.core.axle.running import running_of
from mild_badger.core.axle.steering import SteerState, steer_at
from mild_badger.core.figures import in_kg, in_mm
from mild_badger.core.mechanisms.balance.figures import balance_figures
from mild_badger.core.mechanisms.balance.statics import spots
from mild_badger.core.mechanisms.cables.model import Cables
from mild_badger.core.mechanisms.liquid.model import LiquidLine
from mild_badger.core.mechanisms.liquid.needs import needed_mm
from mild_badger.core.mechanisms.liquid.pressure import liquid_figures
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.figure import Figure

__all__ = ["axles_figure", "mechanism_figures"]

BAR_MM, HOLE_MM, APART_MM, WORDS_MM = 3.0, 0.9, 16.0, 7.0
MOST_SLAVES = 4


def mechanism_figures(vehicle: Vehicle, key: str) -> Iterator[Figure]:
    """Give the drawings of a mechanism; none where it has parts in space, or is not planned."""
    if key == "cables" and vehicle.cables is not None:
        yield _levers(vehicle.cables)
    elif key == "liquid":
        for line in vehicle.hydraulic_lines:
            yield _line(vehicle, line)
    elif key == "balance":
        yield from _balance(vehicle)


def _levers(cables: Cables) -> Figure:
    """Draw every lever to scale side by side, the holes in use heavy."""
    figure = Figure(say("publish.levers-and-their-holes"))
    taken = {cables.holes_mm[run.from_hole - 1] for run in cables.runs}
    hand = sorted({*cables.holes_mm, cables.hand_mm})
    levers: list[tuple[str, list[float], set[float]]] = [
        (say("publish.hand-lever"), hand, taken | {cables.hand_mm})
    ]
    for run in cables.runs:
        for lever in run.levers:
            used = {lever.holes_mm[lever.takes - 1], lever.holes_mm[lever.gives - 1]}
            levers.append((run.name, list(lever.holes_mm), used))
    x = 0.0
    for name, holes, used in levers:
        far = max(holes)
        figure.line("ink", (x - BAR_MM, 0.0), (x - BAR_MM, far), heavy=True)
        figure.line("ink", (x + BAR_MM, 0.0), (x + BAR_MM, far), heavy=True)
        figure.circle("ink", (x, 0.0), 2 * BAR_MM / 2)
        for mm in holes:
            figure.circle("run" if mm in used else "ink", (x, mm), HOLE_MM, heavy=mm in used)
            figure.text((x + BAR_MM + 1.5, mm - 1.0), in_mm(mm), role="soft", size=5.5)
        figure.text((x, -WORDS_MM), name, align="centre", size=6.5)
        x += APART_MM + 2 * BAR_MM + 8.0
    return figure


def _line(vehicle: Vehicle, line: LiquidLine) -> Figure:
    """Draw master and slaves with their bores and travels; dashed what the slaves must travel."""
    figures, needed = liquid_figures(line), needed_mm(vehicle, line)
    figure = Figure(say("publish.a-liquid-line", name=line.name))
    low = 0.0

    def cylinder(x: float, bore: float, high: float, filled: float) -> None:
        figure.polygon(
            "lower", (x - bore / 2, low), (x + bore / 2, low), (x + bore / 2, filled),
            (x - bore / 2, filled), bare=True,
        )  # fmt: skip
        for side in (x - bore / 2, x + bore / 2):
            figure.line("ink", (side, low), (side, high), heavy=True)
        figure.line("ink", (x - bore / 2, low), (x + bore / 2, low), heavy=True)
        figure.line("ink", (x - bore / 2, filled), (x + bore / 2, filled), heavy=True)
        figure.text((x, high + 1.5), f"ø {in_mm(bore)}", role="soft", align="centre", size=5.5)

    stroke = figures.master_stroke
    cylinder(0.0, line.master_mm, stroke + 3.0, stroke)
    words = say("publish.master-pressed", stroke=in_mm(stroke, 1))
    figure.text((0.0, low - 8.0), words, align="centre", size=6)
    x, step = line.master_mm / 2, line.slave_mm + 26.0
    last = x
    for number in range(min(line.slaves, MOST_SLAVES)):
        last = x + 26.0 + number * step
        high = max(figures.travel, needed) + 3.0
        cylinder(last, line.slave_mm, high, figures.travel)
        figure.line(
            "run", (last - line.slave_mm, needed), (last + line.slave_mm, needed), dashed=True
        )
        figure.line("ink", (last, low), (last, low - 4.0))
        words = say("publish.slave-travels", number=number + 1, travel=in_mm(figures.travel, 1))
        figure.text((last, low - 8.0), words, align="centre", size=6)
    figure.line("ink", (0.0, low), (0.0, low - 4.0), (last, low - 4.0), heavy=True)
    return figure


def _balance(vehicle: Vehicle) -> Iterator[Figure]:
    """Draw the machine from above: feet, boom, masses, and where the weight falls."""
    figures, balance = balance_figures(vehicle), vehicle.balance
    if figures is None or balance is None:
        return
    figure = Figure(say("publish.balance-from-above"))
    a, b, c, d = figures.ground.corners
    figure.polygon("there", a, b, d, c)
    turn = radians(balance.slew_deg)
    reach = balance.reach_high_mm
    figure.line("ink", (0.0, 0.0), (reach * cos(turn), reach * sin(turn)), heavy=True)
    for mm in (balance.reach_low_mm, balance.reach_high_mm):
        figure.circle("hair", (0.0, 0.0), mm, dashed=True)
    *masses, load = spots(balance, figures.share)
    for spot in (*masses, load):
        half = 3.0
        figure.polygon(
            "now" if spot is load else "lower",
            (spot.x - half, spot.y - half),
            (spot.x + half, spot.y - half),
            (spot.x + half, spot.y + half),
            (spot.x - half, spot.y + half),
        )
        words = f"{spot.name}, {in_kg(spot.mass_kg, 2)}"
        size = 6.0 if spot is load else 5.5
        figure.text((spot.x + half + 1.5, spot.y - 1.0), words, size=size)
    x, y = figures.here.centre
    for dx, dy in ((6.0, 0.0), (0.0, 6.0)):
        figure.line("run", (x - dx, y - dy), (x + dx, y + dy), heavy=True)
    figure.circle("run", (x, y), 3.0, heavy=True)
    yield figure


def axles_figure(vehicle: Vehicle) -> Figure:
    """Draw wheels, axles and, where it is planned, the steering from above, ahead upwards."""
    figure = Figure(say("publish.axles-from-above"))
    track, base = vehicle.axle.track_mm, vehicle.axle.wheelbase_mm
    wide, radius = running_of(vehicle).chassis.tyre_width_mm, vehicle.wheels.diameter_mm / 2
    driven = [0.0, *(axle.ahead_mm for axle in vehicle.additional_axles)]
    rolling = [] if any(abs(mm - base) < 2 * radius for mm in driven) else [base]
    front = max(*driven, *rolling) if rolling or len(driven) > 1 else None
    for along in (*driven, *rolling):
        own = along in driven
        if own or along != front or vehicle.running is None:
            figure.line("ink", (-track / 2, along), (track / 2, along), heavy=own)
        for sign in (-1.0, 1.0):
            x = sign * track / 2
            figure.polygon(
                "there",
                (x - wide / 2, along - radius),
                (x + wide / 2, along - radius),
                (x + wide / 2, along + radius),
                (x - wide / 2, along + radius),
            )
        if own:
            figure.circle("run", (0.0, along), vehicle.kit.module_mm * 6, heavy=True)
    state = steer_at(vehicle, 0.0) if vehicle.running is not None else None
    if state is not None and front is not None:
        _steering(figure, vehicle, state, front)
    figure.line("hair", (-track / 2, -radius - 8), (track / 2, -radius - 8))
    figure.text((0.0, -radius - 14), in_mm(track), align="centre", size=6.5)
    edge = track / 2 + wide + 6
    figure.line("hair", (edge, 0.0), (edge, base))
    figure.text((edge + 2, base / 2), in_mm(base), size=6.5)
    return figure


def _steering(figure: Figure, vehicle: Vehicle, state: SteerState, front: float) -> None:
    """Draw rack, rods, arms and kingpins with the wheels straight."""
    steering = running_of(vehicle).steering
    king = vehicle.axle.track_mm / 2 - steering.kingpin_mm
    joints = [inner for _, inner in state.joints]
    for sign, (arm, inner) in zip((-1.0, 1.0), state.joints, strict=True):
        pin = (sign * king, front)
        figure.circle("ink", pin, 2.4)
        end = arm[0], front + arm[1]
        figure.line("run", pin, end, heavy=True)
        figure.line("run", end, (inner[0], front + inner[1]))
    (x0, y0), (x1, y1) = joints
    figure.line("ink", (x0, front + y0), (x1, front + y1), heavy=True)

"""Shafts that the builder holds at given points, and boxes turned so that they stand there.

Points are in mm: x to the right, y upwards, seen from the input end. A slot box is searched with
its output held; the shafts of other boxes stand in one way to one another, and the box as a whole
is moved and turned.
"""

from collections.abc import Iterator, Mapping
from dataclasses import replace
from math import atan2, cos, hypot, sin

from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.message import say
from mild_badger.core.structure.names import describe_shaft, shaft_letter
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.bodies import input_shaft
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.layout import Pin
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["held", "pin_findings", "pinned", "set_pin", "shaft_named"]

Point = tuple[float, float]
SAME_MM = 0.05
"""By so much a shaft may miss the point where it is held."""


def pinned(vehicle: Vehicle) -> Mapping[str, Point]:
    """Give the points at which shafts are held, mm."""
    return {pin.shaft: (pin.x_mm, pin.y_mm) for pin in vehicle.placing.pins}


def set_pin(vehicle: Vehicle, shaft: str, place: Point | None) -> Edit:
    """Hold a shaft at a point in mm, or let go of it."""
    others = tuple(pin for pin in vehicle.placing.pins if pin.shaft != shaft)
    if place is None:
        words = say("layout.let-go-of", shaft=describe_shaft(vehicle, shaft))
        return Edit.one(words, ("placing", "pins"), others)
    words = say("layout.hold", shaft=describe_shaft(vehicle, shaft))
    pin = Pin(shaft=shaft, x_mm=place[0], y_mm=place[1])
    return Edit.one(words, ("placing", "pins"), (*others, pin))


def shaft_named(vehicle: Vehicle, name: str, shafts: tuple[str, ...]) -> str:
    """Find a shaft by ``input``, ``output``, its letter or its id.

    Raises
    ------
    InputError
        There is no such shaft.
    """
    known = {"input": input_shaft(), "output": vehicle.box.output}
    for shaft in (*known.values(), *shafts):
        if known.get(name.casefold()) == shaft or name in (shaft, shaft_letter(vehicle, shaft)):
            return shaft
    listed = ", ".join(dict.fromkeys(filter(None, (shaft_letter(vehicle, s) for s in shafts))))
    raise InputError(say("layout.there-is-no-shaft-called", name=name, listed=listed))


def held(vehicle: Vehicle, stack: Stack) -> Stack:
    """Move a box so that its input stands where it is held, and turn it so that another one does.

    Of several others held the first one counts; what cannot be met is left to the findings.
    """
    pins, unit = pinned(vehicle), vehicle.kit.grid_unit_mm
    if not pins or input_shaft() not in stack.rods:
        return stack
    start = stack.rods[input_shaft()]
    goal = pins.get(input_shaft(), (start.x_mm, start.y_mm))
    turn = 0.0
    for shaft, (x, y) in pins.items():
        rod = stack.rods.get(shaft)
        now = (0.0, 0.0) if rod is None else (rod.x_mm - start.x_mm, rod.y_mm - start.y_mm)
        if hypot(*now) > SAME_MM:
            turn = atan2(y - goal[1], x - goal[0]) - atan2(now[1], now[0])
            break
    turned = cos(turn), sin(turn)

    def moved(x: float, y: float) -> Point:
        a, b = x - start.x_mm, y - start.y_mm
        places = (
            goal[0] + a * turned[0] - b * turned[1],
            goal[1] + a * turned[1] + b * turned[0],
        )
        if vehicle.kit.any_seat:
            return places
        near = (round(2 * c / unit) * unit / 2 for c in places)  # as exact as a grid is
        x_mm, y_mm = (n if abs(n - c) < SAME_MM else c for n, c in zip(near, places, strict=True))
        return x_mm, y_mm

    rods = {}
    for name, rod in stack.rods.items():
        x_mm, y_mm = moved(rod.x_mm, rod.y_mm)
        rods[name] = replace(rod, x_mm=x_mm, y_mm=y_mm)
    return replace(stack, rods=rods)


def pin_findings(vehicle: Vehicle, stack: Stack) -> Iterator[Finding]:
    """Find shafts that do not stand where they are held."""
    for shaft, (x, y) in pinned(vehicle).items():
        rod = stack.rods.get(shaft)
        if rod is None:
            yield Finding(
                Severity.WARNING,
                "pin-without-shaft",
                ("layout",),
                say("layout.is-held-but-not-in-the-box", shaft=describe_shaft(vehicle, shaft)),
                say("layout.no-train-has-that-shaft-now"),
                mend=set_pin(vehicle, shaft, None),
            )
            continue
        off = hypot(rod.x_mm - x, rod.y_mm - y)
        if off > SAME_MM:
            yield Finding(
                Severity.ERROR,
                "pin-missed",
                ("layout",),
                say("layout.is-not-where-it-is-held", shaft=describe_shaft(vehicle, shaft)),
                say(
                    "layout.stands-from-there-place-the-box-again",
                    x=in_mm(rod.x_mm, 2),
                    y=in_mm(rod.y_mm, 2),
                    off=in_mm(off, 2),
                ),
                off,
                0.0,
                "mm",
                set_pin(vehicle, shaft, None),
            )

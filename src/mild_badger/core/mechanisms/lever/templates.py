"""Templates of a lever drive: lever, ratchet wheel, pawl."""

from collections.abc import Iterator, Sequence
from math import pi

from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.mechanisms.lever.shapes import LeverShapes, Ring, lever_shapes, tooth_mm
from mild_badger.core.message import say
from mild_badger.core.templates.bars import EYE_MM, sheet_for, throw_jig
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["lever_templates"]

FINEST_MM = 0.8
"""The shortest tooth that is worth cutting (an estimate, no source)."""


def _drive(vehicle: Vehicle) -> LeverDrive:
    if vehicle.stepless is None:
        raise InputError(say("lever.this-vehicle-has-no-lever-drive-plan-one-on"))
    return vehicle.stepless


def lever_templates(vehicle: Vehicle) -> Iterator[Template]:
    """List a lever for each stroke, its throw, its rod or yoke, ratchet wheels, pawls and hooks."""
    drive, thick = vehicle.stepless, vehicle.making.dog_mm
    if drive is not None:
        yield Template("lever arm", say("lever.lever-with-its-slot"), drive.ratchets, thick, _arm)
        yield Template("lever wheel", say("lever.ratchet-wheel"), drive.wheels, thick, _wheel)
        yield Template("lever pawl", "pawl", drive.ratchets, thick, _pawl)
        if drive.two_sided:
            yield Template("lever hook", say("lever.hooked-pawl"), drive.ratchets, thick, _hook)
        yield Template("lever throw", say("lever.eccentric"), drive.ratchets, thick, _throw)
        yield Template("lever jig", say("lever.jig-for-the-eccentrics"), 1, thick, _jig)
        rod = say("lever.yoke") if drive.motion == "yoke" else say("lever.rod-with-its-ring")
        yield Template("lever rod", rod, drive.ratchets, thick, _rod)


def _arm(vehicle: Vehicle) -> Drawing:
    """Draw the lever: eyes for its two pins, a slot for the fulcrum from stop to stop.

    Raises
    ------
    InputError
        There is no lever drive, or its slot runs into an eye.
    """
    drive = _drive(vehicle)
    hole = vehicle.hole_mm(drive.pin_mm, "running") / 2
    shapes = _shapes(vehicle)
    end = max(x for x, _ in shapes.slot) - hole
    room = min(drive.stop_low_mm, drive.lever_mm - end)
    if room < 2 * hole + EYE_MM / 2:
        raise InputError(say("lever.lever-its-slot-comes-within-of-a-pins-hole", room=in_mm(room)))
    eye = shapes.eye_mm
    sheet, (cx, foot) = sheet_for(
        say("lever.lever-of-the-lever-drive"),
        [
            say(
                "lever.from-eye-to-eye-fulcrum-to-from-the-eye",
                lever_mm=in_mm(drive.lever_mm),
                stop_low_mm=drive.stop_low_mm,
                stop_high_mm=in_mm(drive.stop_high_mm),
            ),
            say(
                "lever.holes-and-slot-running-make",
                hole=in_mm(2 * hole, 2),
                ratchets=drive.ratchets,
            ),
        ],
        2 * eye,
        drive.lever_mm + 2 * eye,
    )
    y = foot + eye
    sheet.outline("cut", [(cx - py, y + px) for px, py in shapes.lever])
    for at in (0.0, drive.lever_mm):
        sheet.circle("cut", (cx, y + at), hole)
    sheet.outline("cut", [(cx - py, y + px) for px, py in shapes.slot])
    return sheet


def _wheel(vehicle: Vehicle) -> Drawing:
    """Draw the ratchet wheel: a steep face that the pawl pushes, a flank that it rides over.

    Raises
    ------
    InputError
        There is no lever drive, its teeth are too fine to cut, or the shaft takes them away.
    """
    drive = _drive(vehicle)
    pitch = 2 * pi * drive.wheel_mm / drive.teeth
    if pitch < FINEST_MM:
        raise InputError(
            say(
                "lever.ratchet-wheel-teeth-on-are-apart-finer-than",
                teeth=drive.teeth,
                wheel_mm=in_mm(drive.wheel_mm),
                pitch=in_mm(pitch, 2),
                finest_mm=in_mm(FINEST_MM),
            )
        )
    shaft = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, vehicle.making.fixed_fit) / 2
    root = drive.wheel_mm - tooth_mm(drive)
    if shaft + EYE_MM > root:
        raise InputError(
            say(
                "lever.ratchet-wheel-with-its-teeth-from-the-middle",
                root=in_mm(root, 1),
                shaft=in_mm(2 * shaft, 1),
            )
        )
    pawls, tip = drive.pawls, drive.wheel_mm
    sheet, (cx, foot) = sheet_for(
        say("lever.ratchet-wheel-of-the-lever-drive"),
        [
            say(
                "lever.teeth-apart-seen-from-the-pawls-side",
                teeth=drive.teeth,
                pitch=in_mm(pitch, 2),
            ),
            say("lever.make-their-teeth-in-line", pawls=pawls),
        ],
        2 * tip,
        2 * tip,
    )
    at = (cx, foot + tip)
    saw = _shapes(vehicle).wheel
    sheet.outline("cut", [(at[0] + x, at[1] + drive.turns * y) for x, y in saw])
    sheet.circle("cut", at, shaft)
    return sheet


def _pawl(vehicle: Vehicle) -> Drawing:
    """Draw a pawl: an eye on the lever's output pin and a nose that fills a tooth."""
    drive = _drive(vehicle)
    hole = vehicle.hole_mm(drive.pin_mm, "running") / 2
    eye, long = hole + EYE_MM, drive.pawl_mm
    sheet, (cx, foot) = sheet_for(
        say("lever.pawl-of-the-lever-drive"),
        [
            say(
                "lever.from-eye-to-nose-hole-running", long=in_mm(long, 1), hole=in_mm(2 * hole, 2)
            ),
            say("lever.make-a-light-spring-or-rubber-holds-each", pawls=drive.pawls),
        ],
        2 * eye,
        long + eye,
    )
    base = (cx, foot + eye)
    sheet.outline("cut", [(base[0] + x, base[1] + y) for x, y in _shapes(vehicle).pawl])
    sheet.circle("cut", base, hole)
    return sheet


def _hook(vehicle: Vehicle) -> Drawing:
    """Draw a hooked pawl, which leads round the wheel and pulls the far side."""
    drive, shapes = _drive(vehicle), _shapes(vehicle)
    hole = vehicle.hole_mm(drive.pin_mm, "running") / 2
    words = [say("lever.hole-running-nose-on-the-far-side", hole=in_mm(2 * hole, 2))]
    return _about(say("lever.hooked-pawl-of-the-lever-drive"), words, (shapes.hook,), (), hole)


def _throw(vehicle: Vehicle) -> Drawing:
    """Draw an eccentric: its middle one throw from the shaft that it is fixed on."""
    drive, shapes = _drive(vehicle), _shapes(vehicle)
    bore = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, vehicle.making.fixed_fit) / 2
    disc = tuple((x, y + drive.throw_mm) for x, y in shapes.eccentric)
    words = [
        say(
            "lever.eccentric-of-diameter-its-middle-from-the-shaft",
            diameter=in_mm(2 * shapes.eccentric_mm, 2),
            throw=in_mm(drive.throw_mm, 2),
            bore=in_mm(2 * bore, 2),
        )
    ]
    return _about(say("lever.eccentric-of-the-lever-drive"), words, (disc,), (), bore)


def _jig(vehicle: Vehicle) -> Drawing:
    """Draw the jig: a line for each eccentric's high point while it is fixed on the shaft."""
    drive, shapes = _drive(vehicle), _shapes(vehicle)
    bore = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, "running") / 2
    return throw_jig(
        say("lever.jig-for-the-eccentrics"),
        [say("lever.high-points-as-seen-from-the-input-end")],
        drive.phases,
        (shapes.eccentric_mm, bore, 0.0),
    )


def _rod(vehicle: Vehicle) -> Drawing:
    """Draw the rod with its ring, or the yoke with its window, and the eye for the lever's pin."""
    drive, shapes = _drive(vehicle), _shapes(vehicle)
    hole = vehicle.hole_mm(drive.pin_mm, "running") / 2
    words = [
        say(
            "lever.from-the-middle-to-the-eye-hole-running",
            reach=in_mm(shapes.reach_mm, 2),
            hole=in_mm(2 * hole, 2),
        )
    ]
    title = (
        say("lever.yoke-of-the-lever-drive")
        if drive.motion == "yoke"
        else say("lever.rod-of-the-lever-drive")
    )
    rod = tuple(tuple((x, y - shapes.reach_mm) for x, y in ring) for ring in shapes.rod)
    window = tuple((x, y - shapes.reach_mm) for x, y in shapes.window)
    return _about(title, words, rod, (window,), hole)


def _shapes(vehicle: Vehicle) -> LeverShapes:
    drive = _drive(vehicle)
    hole = vehicle.hole_mm(drive.pin_mm, "running")
    return lever_shapes(drive, vehicle.kit.shaft_diameter_mm, hole)


def _about(
    title: str, words: Sequence[str], rings: tuple[Ring, ...], holes: tuple[Ring, ...], hole: float
) -> Drawing:
    """Draw a part about its round hole: the outline of its rings together, and further holes."""
    from shapely.geometry import Polygon  # noqa: PLC0415 - loaded when such a part is drawn
    from shapely.ops import unary_union  # noqa: PLC0415

    whole = unary_union([Polygon(ring) for ring in rings])
    left, low, right, high = whole.bounds
    sheet, (cx, foot) = sheet_for(title, list(words), right - left, high - low)
    at = (cx - (left + right) / 2, foot - low)
    for ring in (tuple(whole.exterior.coords)[:-1], *holes):
        sheet.outline("cut", [(at[0] + x, at[1] + y) for x, y in ring])
    sheet.circle("cut", at, hole)
    return sheet

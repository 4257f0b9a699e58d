"""Templates of a lever drive: lever, ratchet wheel, pawl."""

from collections.abc import Iterator
from math import cos, pi, radians, sin

from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.message import say
from mild_badger.core.templates.bars import EYE_MM, bar, sheet_for
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["lever_templates"]

FINEST_MM = 0.8
"""The shortest tooth that is worth cutting (an estimate, no source)."""
DEPTH = 0.6
"""A tooth's depth to its pitch (common practice, no source)."""
Point = tuple[float, float]


def _drive(vehicle: Vehicle) -> LeverDrive:
    if vehicle.stepless is None:
        raise InputError(say("lever.this-vehicle-has-no-lever-drive-plan-one-on"))
    return vehicle.stepless


def lever_templates(vehicle: Vehicle) -> Iterator[Template]:
    """List a lever for each stroke, its ratchet wheels and pawls."""
    drive, thick = vehicle.stepless, vehicle.making.dog_mm
    if drive is not None:
        yield Template("lever arm", say("lever.lever-with-its-slot"), drive.ratchets, thick, _arm)
        yield Template("lever wheel", say("lever.ratchet-wheel"), drive.wheels, thick, _wheel)
        yield Template("lever pawl", "pawl", drive.pawls, thick, _pawl)


def _arm(vehicle: Vehicle) -> Drawing:
    """Draw the lever: eyes for its two pins, a slot for the fulcrum from stop to stop.

    Raises
    ------
    InputError
        There is no lever drive, or its slot runs into an eye.
    """
    drive = _drive(vehicle)
    hole = vehicle.hole_mm(drive.pin_mm, "running") / 2
    room = min(drive.stop_low_mm, drive.lever_mm - drive.stop_high_mm)
    if room < 2 * hole + EYE_MM / 2:
        raise InputError(say("lever.lever-its-slot-comes-within-of-a-pins-hole", room=in_mm(room)))
    eye = hole + EYE_MM
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
    sheet.outline("cut", [(cx + px, y + py) for px, py in bar(eye, eye, drive.lever_mm)])
    for at in (0.0, drive.lever_mm):
        sheet.circle("cut", (cx, y + at), hole)
    slot = bar(hole, hole, drive.stop_high_mm - drive.stop_low_mm)
    sheet.outline("cut", [(cx + px, y + drive.stop_low_mm + py) for px, py in slot])
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
    root = drive.wheel_mm - DEPTH * pitch
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
    points: list[Point] = []
    for number in range(drive.teeth):
        angle = 2 * pi * number / drive.teeth
        for radius in (root, tip):
            points.append((at[0] + radius * cos(angle), at[1] + radius * sin(angle)))
    sheet.outline("cut", points)
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
    lower = [(eye * cos(radians(a)), eye * sin(radians(a))) for a in range(180, 361, 7)]
    points = [*lower, (eye, 0.0), (eye, long * 0.7), (-eye, long), (-eye, 0.0)]
    sheet.outline("cut", [(base[0] + px, base[1] + py) for px, py in points])
    sheet.circle("cut", base, hole)
    return sheet

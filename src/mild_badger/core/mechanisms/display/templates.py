"""Templates of a display engine: rods, crank webs, and the jig its throws are glued in.

The jig is a disc with a mark for every throw, so that no throw is glued 90° out.
"""

from collections.abc import Iterator

from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.mechanisms.display.model import DisplayEngine
from mild_badger.core.message import say
from mild_badger.core.templates.bars import EYE_MM, bar, sheet_for, throw_jig
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["engine_templates"]


def engine_templates(vehicle: Vehicle) -> Iterator[Template]:
    """List rods, crank webs and the jig in which throws are glued."""
    engine, thick = vehicle.display_engine, vehicle.making.dog_mm
    if engine is not None:
        count = engine.cylinders
        yield Template("engine rod", say("display.rod-of-the-display-engine"), count, thick, _rod)
        yield Template(
            "engine web", say("display.crank-web-of-the-display-engine"), 2 * count, thick, _web
        )
        yield Template("engine jig", say("display.jig-for-its-crank"), 1, thick, _jig)


def _engine(vehicle: Vehicle) -> DisplayEngine:
    if vehicle.display_engine is None:
        raise InputError(say("display.this-vehicle-has-no-display-engine-plan-one"))
    return vehicle.display_engine


def _rod(vehicle: Vehicle) -> Drawing:
    """Draw a rod: the big eye runs on the crank's pin, the small one on the piston's."""
    engine = _engine(vehicle)
    hole = vehicle.hole_mm(engine.pin_mm, "running") / 2
    eye = hole + EYE_MM
    sheet, (cx, foot) = sheet_for(
        say("display.rod-of-the-display-engine-2"),
        [
            say(
                "display.from-eye-to-eye-holes-running",
                rod_mm=in_mm(engine.rod_mm),
                hole=in_mm(2 * hole, 2),
            ),
            say("display.make", cylinders=engine.cylinders),
        ],
        2 * eye,
        engine.rod_mm + 2 * eye,
    )
    base = (cx, foot + eye)
    sheet.outline("cut", [(base[0] + x, base[1] + y) for x, y in bar(eye, eye, engine.rod_mm)])
    for at in (0.0, engine.rod_mm):
        sheet.circle("cut", (base[0], base[1] + at), hole)
    return sheet


def _web(vehicle: Vehicle) -> Drawing:
    """Draw a web: the shaft's hole and the pin's, a throw apart; both glued.

    Raises
    ------
    InputError
        There is no display engine, or shaft and pin run into one another.
    """
    engine = _engine(vehicle)
    shaft = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, vehicle.making.fixed_fit) / 2
    pin = vehicle.hole_mm(engine.pin_mm, vehicle.making.fixed_fit) / 2
    if shaft + pin + EYE_MM / 2 > engine.throw_mm:
        raise InputError(
            say(
                "display.crank-web-with-a-throw-of-the-holes-of-and",
                throw_mm=in_mm(engine.throw_mm),
                shaft=2 * shaft,
                pin=in_mm(2 * pin, 1),
            )
        )
    sheet, (cx, foot) = sheet_for(
        say("display.crank-web-of-the-display-engine-2"),
        [
            say("display.throw-glue-every-web-in-the-jig", throw_mm=in_mm(engine.throw_mm)),
            say("display.make", cylinders=2 * engine.cylinders),
        ],
        2 * (shaft + EYE_MM),
        engine.throw_mm + shaft + pin + 2 * EYE_MM,
    )
    base = (cx, foot + shaft + EYE_MM)
    arm = bar(shaft + EYE_MM, pin + EYE_MM, engine.throw_mm)
    sheet.outline("cut", [(base[0] + x, base[1] + y) for x, y in arm])
    sheet.circle("cut", base, shaft)
    sheet.circle("cut", (base[0], base[1] + engine.throw_mm), pin)
    return sheet


def _jig(vehicle: Vehicle) -> Drawing:
    """Draw the jig: the shaft's hole, and a pin's hole for each angle at which a throw stands."""
    engine = _engine(vehicle)
    shaft = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, "running") / 2
    pin = vehicle.hole_mm(engine.pin_mm, "running") / 2
    return throw_jig(
        say("display.jig-for-the-display-engines-crank"),
        [say("display.throws-as-seen-from-cylinder-1-clockwise")],
        engine.throws_deg,
        (engine.throw_mm, shaft, pin),
    )

"""Everything known of a vehicle's display engine in a gear, and what is wrong with it."""

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction

from mild_badger.core.driveline.assemble import CRANK
from mild_badger.core.driveline.turns import body_turns
from mild_badger.core.errors import InputError
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mechanisms.display.engine import (
    Firing,
    WrongThrow,
    evenest,
    firing,
    free_force,
    piston_mm,
    wrong_throws,
)
from mild_badger.core.mechanisms.display.model import MAX_CYLINDERS, DisplayEngine
from mild_badger.core.targets.schools import parse_number
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized, plural

__all__ = [
    "DisplayResult",
    "add_engine",
    "apply_engine",
    "crank_turns",
    "display_faults",
    "display_result",
    "parse_angles",
    "parse_order",
    "remove_engine",
    "use_order",
    "with_throws",
]

RATTLES_RPM = 600.0
"""From so many turns a minute pistons of a display engine rattle (common practice, no source)."""


@dataclass(frozen=True)
class DisplayResult:
    """A display engine: firing as planned, the evenest there is, free forces, wrong throws.

    ``turns`` are the crank's for one turn of the motor, signed; None where nothing drives it.
    """

    engine: DisplayEngine
    turns: Fraction | None
    rpm: float | None
    firing: Firing
    best: Firing
    first_order: float
    second_order: float
    wrong: tuple[WrongThrow, ...]

    @property
    def summary(self) -> str:
        """Say how the engine fires and what it leaves free."""
        sentence = self.firing.summary
        if not self.firing.even and self.best.even:
            sentence += f" The throws would fire evenly as {'-'.join(map(str, self.best.order))}."
        forces = [
            f"{name} {force:.3g} × one cylinder's"
            for name, force in (
                ("first-order", self.first_order),
                ("second-order", self.second_order),
            )
            if force
        ]
        free = " and ".join(forces)
        return f"{sentence} {plural('Free force', len(forces))}: {free or 'none'}."


def crank_turns(vehicle: Vehicle, gear: str | None) -> Fraction | None:
    """Give the crank's turns for one of the motor in a gear; None where it is free or locked."""
    return body_turns(vehicle, gear, CRANK)


def display_result(vehicle: Vehicle, gear: str | None, motor_rpm: float) -> DisplayResult | None:
    """Work a display engine out in a gear; None where the vehicle has none."""
    engine = vehicle.display_engine
    if engine is None:
        return None
    turns = crank_turns(vehicle, gear)
    return DisplayResult(
        engine=engine,
        turns=turns,
        rpm=None if turns is None else float(turns) * motor_rpm,
        firing=firing(engine),
        best=evenest(engine),
        first_order=free_force(engine, 1),
        second_order=free_force(engine, 2),
        wrong=wrong_throws(engine),
    )


def use_order(engine: DisplayEngine, order: tuple[int, ...]) -> Edit:
    """Take a firing order."""
    named = "-".join(map(str, order))
    return Edit.one(f"Fire {named}", ("display_engine", "order"), list(order))


def add_engine(vehicle: Vehicle) -> Edit:
    """Give the vehicle a display engine: four in line on the motor."""
    return Edit.one("Plan a display engine", ("display_engine",), DisplayEngine())


def remove_engine() -> Edit:
    """Take the display engine away."""
    return Edit.one("Take the display engine away", ("display_engine",), None)


def apply_engine(engine: DisplayEngine, label: str) -> Edit:
    """Put another arrangement in."""
    return Edit.one(label, ("display_engine",), engine)


def parse_angles(text: str, *, what: str) -> tuple[float, ...]:
    """Read angles in degrees, parted by commas or blanks; empty is none.

    Raises
    ------
    InputError
        One of them is no number.
    """
    cells = text.replace(";", " ").replace("°", " ").replace(",", " ").split()
    return tuple(parse_number(cell, what=what) for cell in cells)


def parse_order(text: str, engine: DisplayEngine) -> tuple[int, ...]:
    """Read a firing order such as 1-3-4-2.

    Raises
    ------
    InputError
        It does not name each cylinder once.
    """
    cells = text.replace("–", "-").replace(",", "-").replace(" ", "-").split("-")
    order = tuple(int(cell) for cell in cells if cell.isdigit())
    if sorted(order) != list(range(1, engine.cylinders + 1)):
        raise InputError(
            f"The firing order {text.strip()!r} must name each of the {engine.cylinders} cylinders "
            "once, as 1-3-4-2 does."
        )
    return order


def with_throws(engine: DisplayEngine, throws: tuple[float, ...]) -> Edit:
    """Take throws; as many cylinders as throws, and the evenest order where their number changes.

    Raises
    ------
    InputError
        There is none, or there are too many.
    """
    if not 1 <= len(throws) <= MAX_CYLINDERS:
        raise InputError(
            f"Give one throw a cylinder, 1 to {MAX_CYLINDERS} of them, such as 0, 180, 180, 0; "
            f"{len(throws)} are given."
        )
    changed = engine.model_copy(
        update={
            "cylinders": len(throws),
            "throws_deg": throws,
            "made_deg": engine.made_deg if len(throws) == engine.cylinders else (),
        }
    )
    if len(throws) != engine.cylinders:
        changed = changed.model_copy(update={"order": evenest(changed).order})
    return apply_engine(changed, "Set the throws")


def display_faults(vehicle: Vehicle) -> Iterator[Finding]:
    """Say what cannot be, what is uneven, and which glued throw is wrong."""
    engine = vehicle.display_engine
    if engine is None:
        return
    where = ("display",)
    try:
        piston_mm(engine.throw_mm, engine.rod_mm, 90.0)
    except ValueError as error:
        yield Finding(
            Severity.ERROR,
            "rod-too-short",
            where,
            "The display engine's rods are too short",
            f"{capitalized(str(error))}.",
            engine.rod_mm,
            engine.throw_mm,
            "mm",
        )
    fires, best = firing(engine), evenest(engine)
    if not fires.possible or not fires.even:
        mend = use_order(engine, best.order) if best.even else None
        yield Finding(
            Severity.ERROR if not fires.possible else Severity.NOTE,
            "firing-order" if not fires.possible else "uneven-firing",
            where,
            "The firing order cannot be" if not fires.possible else "The display engine is uneven",
            fires.summary,
            max(fires.intervals_deg),
            720.0 / engine.cylinders,
            "°",
            mend,
        )
    for wrong in wrong_throws(engine):
        yield Finding(
            Severity.WARNING,
            "wrong-throw",
            where,
            f"Throw {wrong.cylinder} is glued at a wrong angle",
            wrong.words,
            wrong.off_deg,
            0.0,
            "°",
        )
    turns = crank_turns(vehicle, None) if engine.drive == "motor" else None
    if turns is not None and abs(float(turns)) * vehicle.motor.working_rpm > RATTLES_RPM:
        rpm = abs(float(turns)) * vehicle.motor.working_rpm
        yield Finding(
            Severity.NOTE,
            "crank-fast",
            where,
            "The display engine runs fast",
            f"The crank turns at {rpm:.0f} rpm; from {RATTLES_RPM:.0f} rpm pistons rattle and "
            "nobody sees them move. Gear it down.",
            rpm,
            RATTLES_RPM,
            "rpm",
        )

"""Everything known of a vehicle's display engine in a gear."""

from dataclasses import dataclass
from fractions import Fraction

from mild_badger.core.driveline.assemble import CRANK
from mild_badger.core.driveline.turns import body_turns
from mild_badger.core.errors import InputError
from mild_badger.core.mechanisms.display.engine import (
    Firing,
    WrongThrow,
    evenest,
    firing,
    free_force,
    wrong_throws,
)
from mild_badger.core.mechanisms.display.model import DisplayEngine
from mild_badger.core.message import say, say_count
from mild_badger.core.targets.schools import parse_number
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import listed

__all__ = ["DisplayResult", "crank_turns", "display_result", "parse_angles", "parse_order"]


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
            sentence += say(
                "display.the-throws-would-fire-evenly-as",
                listed="-".join(map(str, self.best.order)),
            )
        forces = [
            say("display.one-cylinders", name=name, force=force)
            for name, force in (
                ("first-order", self.first_order),
                ("second-order", self.second_order),
            )
            if force
        ]
        free = listed(forces) or say("display.no-free-force")
        return say(
            "display.free-forces",
            sentence=sentence,
            forces=say_count("noun.free-force-first", len(forces)),
            free=free,
        )


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
            say(
                "display.the-firing-order-must-name-each-of-the-2",
                strip=text.strip(),
                cylinders=engine.cylinders,
            )
        )
    return order

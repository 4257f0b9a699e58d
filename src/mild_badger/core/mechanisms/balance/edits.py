"""Edits of the balance of the carriage."""

from typing import get_args

from mild_badger.core.axle.running import running_of
from mild_badger.core.errors import InputError
from mild_badger.core.ids import MassId
from mild_badger.core.mechanisms.balance.model import Balance, Mass, MassPlace
from mild_badger.core.message import say
from mild_badger.core.targets.schools import parse_number
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["add_balance", "add_mass", "move_boom", "remove_balance", "remove_mass", "type_mass"]


def add_balance(vehicle: Vehicle) -> Edit:
    """Plan a balance: the vehicle's own mass, a boom's, and ballast, in usual proportions."""
    axle, mass = vehicle.axle, running_of(vehicle).chassis.mass_kg
    ahead = round(axle.wheelbase_mm / 3, 1)
    high = vehicle.wheels.diameter_mm
    masses = (
        Mass(
            name=say("balance.chassis"),
            mass_kg=round(0.55 * mass, 3),
            x_mm=round(axle.wheelbase_mm / 2 - ahead, 1),
            z_mm=round(0.8 * high, 1),
        ),
        Mass(
            name=say("balance.turntable"),
            mass_kg=round(0.15 * mass, 3),
            on="turntable",
            z_mm=1.8 * high,
        ),
        Mass(
            name=say("balance.boom"),
            mass_kg=round(0.08 * mass, 3),
            on="turntable",
            x_mm=round(axle.wheelbase_mm / 2, 1),
            z_mm=round(3 * high, 1),
        ),
        Mass(
            name="carriage", mass_kg=round(0.02 * mass, 3), on="carriage", z_mm=round(3 * high, 1)
        ),
        Mass(
            name=say("balance.moving-weight"),
            mass_kg=round(0.1 * mass, 3),
            on="counterweight",
            z_mm=round(2 * high, 1),
        ),
        Mass(
            name="ballast",
            mass_kg=round(0.1 * mass, 3),
            on="turntable",
            x_mm=-round(0.2 * axle.wheelbase_mm, 1),
            z_mm=round(2 * high, 1),
            removable=True,
        ),
    )
    made = Balance(
        masses=masses,
        feet_ahead_mm=round(0.5 * axle.wheelbase_mm, 1),
        feet_behind_mm=round(0.5 * axle.wheelbase_mm, 1),
        feet_apart_mm=round(1.6 * axle.track_mm, 1),
        axis_ahead_mm=ahead,
        boom_mm=round(3 * high, 1),
        load_kg=round(0.1 * mass, 3),
    )
    return Edit.one(say("balance.plan-a-balance"), ("balance",), made)


def remove_balance() -> Edit:
    """Take the balance away."""
    return Edit.one(say("balance.take-the-balance-away"), ("balance",), None)


def type_mass(balance: Balance, number: int, field: str, text: str) -> Edit:
    """Set one field of a mass from what was typed.

    Raises
    ------
    InputError
        It is no number, or no place where a mass may be.
    """
    name = balance.masses[number].name
    value: object = text.strip()
    if field == "on":
        if value not in get_args(MassPlace):
            raise InputError(
                say(
                    "balance.a-mass-is-on-the-is-none-of-them",
                    listed=", ".join(get_args(MassPlace)),
                    strip=text.strip(),
                )
            )
    elif field != "name":
        value = parse_number(text, what=f"{name}, {field.partition('_')[0]}")
    return Edit.one(say("balance.set", name=name), ("balance", "masses", number, field), value)


def add_mass(vehicle: Vehicle) -> Edit:
    """Add a mass on the chassis."""
    balance = vehicle.balance or Balance()
    names = {mass.name for mass in balance.masses}
    name = next(
        n for n in (say("balance.mass", k=k) for k in range(1, len(names) + 2)) if n not in names
    )
    identity = MassId(vehicle.new_id(name, (mass.id for mass in balance.masses)))
    made = Mass(id=identity, name=name, mass_kg=0.1)
    return Edit.one(say("balance.add-a-mass"), ("balance", "masses"), [*balance.masses, made])


def remove_mass(balance: Balance, number: int) -> Edit:
    """Take a mass away."""
    kept = [mass for n, mass in enumerate(balance.masses) if n != number]
    return Edit.one(
        say("balance.take-away", name=balance.masses[number].name), ("balance", "masses"), kept
    )


def move_boom(balance: Balance, slew_deg: float, reach_mm: float) -> Edit:
    """Turn the boom and move the carriage, no farther than its stops."""
    reach = min(max(reach_mm, balance.reach_low_mm), balance.reach_high_mm)
    return Edit(
        say("balance.move-the-boom"),
        (
            Change(("balance", "slew_deg"), round(slew_deg % 360.0, 1)),
            Change(("balance", "reach_mm"), round(reach, 1)),
        ),
    )

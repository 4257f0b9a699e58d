"""Shafts of other diameters: how far they give at stall in the same places, what bearings cost.

A round bar bends by the inverse fourth power of its diameter (I = π d⁴ / 64), so what is pushed
apart at one diameter is known at every other. Prices are the builder's own.
"""

from dataclasses import dataclass

from mild_badger.core.layout.shaft_deflection import separations, share_held
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["DiameterChoice", "diameter_choices"]


@dataclass(frozen=True)
class DiameterChoice:
    """One diameter: the farthest push apart at stall, up to which share of stall all meshes hold.

    ``price`` is what ``seats`` bearings of the cheapest kind with that bore cost, None where the
    kit has none or no price is known; ``taken`` is the kit's own diameter.
    """

    diameter_mm: float
    apart_mm: float
    held: float
    seats: int
    price: float | None
    taken: bool


def diameter_choices(vehicle: Vehicle, stack: Stack) -> tuple[DiameterChoice, ...]:
    """List the kit's own diameter and the bores of its bearings, the thinnest first."""
    kit = vehicle.kit
    rows = separations(vehicle, stack)
    apart = max((row.apart_mm for row in rows), default=0.0)
    shares = [share for row in rows if (share := share_held(row)) is not None]
    held = min(shares, default=float("inf"))
    seats = sum(1 for rod in stack.rods.values() for wall in rod.walls if wall in stack.walls)
    choices = []
    for diameter in sorted({kit.shaft_diameter_mm, *(b.bore_mm for b in kit.bearings)}):
        stiffer = (diameter / kit.shaft_diameter_mm) ** 4
        prices = [b.price for b in kit.bearings if b.bore_mm == diameter and b.price is not None]
        choices.append(
            DiameterChoice(
                diameter,
                apart / stiffer,
                held * stiffer,
                seats,
                seats * min(prices) if prices else None,
                diameter == kit.shaft_diameter_mm,
            )
        )
    return tuple(choices)

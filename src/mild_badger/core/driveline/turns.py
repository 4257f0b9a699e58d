"""How often something turns for one turn of the motor."""

from fractions import Fraction

from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["body_turns"]


def body_turns(vehicle: Vehicle, gear: str | None, body: str) -> Fraction | None:
    """Give a body's turns for one of the motor in a gear; None where it is free or locked."""
    solution = solve(
        assemble(vehicle), shifter_state_for(vehicle, gear)
    )  # the road does not bear on it
    return None if solution.locked else solution.speed(body)

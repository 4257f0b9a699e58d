"""A sleeve pushed by hand: moved, stopped by the interlock, or in, and the box locked.

What the shifter can reach moves. What it cannot reach is held by gate, plungers or catch, and stops
where the interlock's play ends. A state that locks lets the train turn until the play of the dogs
that went in is used up.
"""

from collections.abc import Collection, Mapping
from dataclasses import dataclass

from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.drivetrain.conflict import conflict
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.shift.states import ShiftState
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["Attempt", "attempt"]

STOPS_AT = 0.18
"""How far of its travel a sleeve goes before the interlock holds it (an estimate, no source)."""
MOST_TURNS = 0.25


@dataclass(frozen=True)
class Attempt:
    """What a push comes to.

    ``sleeves`` is where all of them then are; one that is ``stopped`` goes ``share`` of its way
    and back. Where it is ``locked`` the motor turns by ``play_turns`` either way, and the bodies
    ``fighting`` hold one another.
    """

    sleeves: Mapping[str, str]
    stopped: bool
    share: float
    locked: bool
    fighting: frozenset[str]
    play_turns: float


def attempt(
    vehicle: Vehicle,
    reachable: Collection[ShiftState],
    sleeves: Mapping[str, str],
    sleeve: str,
    face: str | None,
) -> Attempt:
    """Push a sleeve into a face, or out of it for None, the others staying where they are.

    Parameters
    ----------
    vehicle
        Whose box it is.
    reachable
        States that the shifter can reach, as they are proven.
    sleeves
        Where the sleeves are now, by name; those that are not named are in neutral.
    sleeve, face
        Which one is pushed, and whither.
    """
    wanted = {name: at for name, at in sleeves.items() if name != sleeve}
    if face is not None:
        wanted[sleeve] = face
    if wanted and not any(dict(state.sleeves) == wanted for state in reachable):
        return Attempt(sleeves, True, STOPS_AT, False, frozenset(), 0.0)
    train = assemble(vehicle)
    road = conditions(vehicle, Straight(), locked=False)
    fight = conflict(train, dict(wanted), road)
    fighting = frozenset(body for equation in fight for body in equation.bodies)
    play = _play_turns(vehicle, sleeves, sleeve, face) if fight else 0.0
    return Attempt(wanted, False, 1.0, bool(fight), fighting, play)


def _play_turns(
    vehicle: Vehicle, sleeves: Mapping[str, str], sleeve: str, face: str | None
) -> float:
    """Give how far the motor turns until the dogs that went in have used up their play."""
    train = assemble(vehicle)
    road = conditions(vehicle, Straight(), locked=False)
    speeds = solve(train, dict(sleeves), road).speeds
    for equation in train.equations:
        if equation.sleeve == sleeve and equation.position == face:
            one, other = (speeds.get(body) for body in equation.bodies[:2])
            if one is not None and other is not None and one != other:
                turns = vehicle.making.dog_play_deg / 360.0 / abs(float(one - other))
                return min(turns, MOST_TURNS)
    return vehicle.making.dog_play_deg / 360.0

"""Steering in motion: rack, rods, wheels and column posed, and what universal joints turn.

Of two forks joined by a cross the pins stay at a right angle; that gives how far the driven shaft
has turned for any turn of the driving one, however they are bent.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import asin, atan2, cos, pi, radians, sin

import numpy as np

from mild_badger.core.axle.steering import SteerState, steer_at
from mild_badger.core.components.chassis_parts import front_axle
from mild_badger.core.components.component import Component, along_to_z
from mild_badger.core.components.steering_parts import FrontAxle, kingpin_mm, steering_parts
from mild_badger.core.scene.mesh import Floats, pose_of
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["Steered", "steered"]


@dataclass(frozen=True, eq=False)
class Steered:
    """Parts with the rack at a place: posed as it has them, and the steering's ``state``.

    ``posed`` are those that it poses, by their rows among all parts.
    """

    state: SteerState
    posed: Mapping[int, Component]

    def shown(self, parts: Sequence[Component]) -> tuple[Component, ...]:
        """Pose wheels, rods and column."""
        return tuple(self.posed.get(number, part) for number, part in enumerate(parts))

    @staticmethod
    def turned(posed: Sequence[Component], turns: Floats) -> tuple[tuple[Component, ...], Floats]:
        """Turn what joints drive, and lay their crosses.

        Parameters
        ----------
        posed
            All parts as they are posed.
        turns
            By how much each part has turned besides as it is drawn (n,), rad.

        Returns
        -------
        tuple
            The parts as they then lie, and by how much each has turned (n,), rad.
        """
        rows = {part.id: n for n, part in enumerate(posed) if not part.box}
        angles, parts = turns.copy(), list(posed)
        for number, part in enumerate(parts):  # a joint's driver comes before what it drives
            if part.joint is None or part.kind == "joint cross":
                continue
            driver = rows[part.joint.driver]
            turn = parts[driver].turn_rad + angles[driver]
            pin = _fork(parts[driver], turn + part.joint.driver_fork_rad)
            frame = pose_of(part)
            own = atan2(-float(pin @ frame[:, 0]), float(pin @ frame[:, 1]))
            own -= part.joint.own_fork_rad
            # never a quarter turn from its driver's, and it may stand either way round
            own = turn + (own - turn + pi / 2) % pi - pi / 2
            angles[number] = own - part.turn_rad
        driven = {
            part.joint.driver: number
            for number, part in enumerate(parts)
            if part.joint is not None and part.kind != "joint cross"
        }
        for number, part in enumerate(parts):
            if part.joint is not None and part.kind == "joint cross":
                one, other = rows[part.joint.driver], driven[part.joint.driver]
                joint = parts[other].joint or part.joint
                pins = (
                    _fork(parts[row], parts[row].turn_rad + angles[row] + fork)
                    for row, fork in ((one, joint.driver_fork_rad), (other, joint.own_fork_rad))
                )
                parts[number] = _crossed(part, *pins)
                angles[number] = 0.0
        return tuple(parts), angles


def _fork(part: Component, angle: float) -> Floats:
    """Give where a fork's pin points (3,)."""
    across: Floats = pose_of(part) @ np.array((cos(angle), sin(angle), 0.0))
    return across


def _crossed(cross: Component, driving: Floats, driven: Floats) -> Component:
    """Lay a cross with its pins along two forks' ones."""
    normal = np.cross(driving, driven)  # what its own axis, back along the box, points to
    x, y, z = -normal / np.linalg.norm(normal)
    laid = replace(cross, across=True, lean_rad=asin(y), yaw_rad=atan2(-z, x), turn_rad=0.0)
    frame = pose_of(laid)
    turn = atan2(float(driving @ frame[:, 1]), float(driving @ frame[:, 0]))
    return replace(laid, turn_rad=turn)


def steered(vehicle: Vehicle, parts: Sequence[Component], rack_mm: float = 0.0) -> Steered | None:
    """Pose the steering with its rack moved to the right; None where there is none, or it jams."""
    wheels = [part for part in parts if part.kind == "wheel"]
    axle, state = front_axle(vehicle, wheels), steer_at(vehicle, rack_mm)
    if axle is None or state is None:
        return None
    known = {part.key: part for part in steering_parts(vehicle, axle, state)}
    posed = {
        number: known.get(part.key) or _about_kingpin(vehicle, axle, state, part)
        for number, part in enumerate(parts)
        if part.knuckle or part.key in known
    }
    return Steered(state, posed) if posed else None


def _about_kingpin(
    vehicle: Vehicle, axle: FrontAxle, state: SteerState, part: Component
) -> Component:
    """Turn what is steered about its kingpin."""
    half = kingpin_mm(vehicle)
    right = part.knuckle == "right"
    angle = radians(state.right_deg if right else state.left_deg)
    x, along = axle.at((half if right else -half, 0.0))
    over, towards = part.x_mm - x, along_to_z(part.along_mm - along)
    c, s = cos(angle), sin(angle)
    return replace(
        part,
        x_mm=x + over * c + towards * s,
        along_mm=along + along_to_z(towards * c - over * s),
        yaw_rad=part.yaw_rad + angle,
    )

"""A lever drive as it moves: throws, rods, levers and pawls posed, the wheel as uneven as it is.

The wheel goes on while a pawl bears and stands while none does, as the solved motion has it over a
turn of the throws; all that the wheel drives goes with it.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import floor

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.architectures.lever import LEVER_THROWS, LEVER_WHEEL
from mild_badger.core.components.component import Component
from mild_badger.core.components.lever_parts import lever_parts
from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.drivetrain.graph import Coupling
from mild_badger.core.drivetrain.lever_motion import motion_of
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.scene.mesh import Floats
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["RatchetMotion", "ratchet_motion"]

POSED = frozenset({"eccentric", "rod", "yoke", "lever arm", "pin", "pawl"})
"""Kinds that are posed over the turn of the throws, not turned about an axis of their own."""


@dataclass(frozen=True, eq=False)
class RatchetMotion:
    """How a lever drive moves with its fulcrum at a place.

    ``throws`` are the throws' turns for one of the motor, ``wheel_at`` how far the wheel has gone
    at equal steps of a turn of the throws, by its mean: 0 at first, 1 at last. ``behind`` marks
    the parts that the wheel drives (n,), ``posed`` those that are posed.
    """

    vehicle: Vehicle
    fulcrum_mm: float | None
    throws: float
    wheel_at: Floats
    behind: NDArray[np.bool_]
    posed: NDArray[np.bool_]

    def wheel_turned(self, motor_turns: float) -> float:
        """Give how far the motor would have turned if the wheel went evenly: where that is now."""
        turns = abs(motor_turns * self.throws)
        whole = floor(turns)
        steps = len(self.wheel_at) - 1
        share = float(np.interp((turns - whole) * steps, np.arange(steps + 1), self.wheel_at))
        even = (whole + share) / abs(self.throws)
        return even if motor_turns >= 0 else -even

    def turned(self, motor_turns: float) -> Floats:
        """Give for each part the motor's turns by which it is turned; none for what is posed."""
        every = np.where(self.behind, self.wheel_turned(motor_turns), motor_turns)
        return np.where(self.posed, 0.0, every)

    def shown(self, parts: Sequence[Component], motor_turns: float) -> tuple[Component, ...]:
        """Pose throws, rods, levers and pawls as the motor has turned them."""
        posed = lever_parts(self.vehicle, self.fulcrum_mm, 360.0 * self.throws * motor_turns)
        known = {part.key: part for part in posed.components} if posed is not None else {}
        return tuple(
            known.get(part.key, part) if part.kind in POSED and not part.box else part
            for part in parts
        )


def ratchet_motion(
    vehicle: Vehicle, parts: Sequence[Component], gear: str | None, fulcrum_mm: float | None
) -> RatchetMotion | None:
    """Give the motion of a box that is a lever drive; None for any other, and where it jams."""
    drive = vehicle.stepless
    if vehicle.box.lever is None or drive is None:
        return None
    motion = motion_of(drive, fulcrum_mm)
    train = assemble(vehicle)
    throws = solve(train, shifter_state_for(vehicle, gear)).speeds.get(LEVER_THROWS)
    if motion.jams or not throws or not sum(motion.speeds):
        return None
    gone = np.concatenate(([0.0], np.cumsum(motion.speeds)))
    behind, open_ = {LEVER_WHEEL}, [LEVER_WHEEL]
    while open_:
        for equation in train.touching.get(open_.pop(), ()):
            if equation.kind is Coupling.ONE_WAY:
                continue  # the ratchets themselves
            for body in equation.bodies:
                if body not in behind:
                    behind.add(body)
                    open_.append(body)
    marked = np.array([not behind.isdisjoint(part.bodies) for part in parts], dtype=bool)
    posed = np.array([part.kind in POSED and not part.box for part in parts], dtype=bool)
    return RatchetMotion(vehicle, fulcrum_mm, float(throws), gone / gone[-1], marked, posed)

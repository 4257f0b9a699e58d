"""Where the motor's power goes in a gear, one step after the other, idle trains and all."""

from dataclasses import dataclass

from mild_badger.core.message import say
from mild_badger.core.performance.losses import DragKind, drag_lines
from mild_badger.core.performance.motor import torque_at
from mild_badger.core.performance.power import power_table
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["LossStep", "power_budget"]

SMALL = 1e-12


@dataclass(frozen=True)
class LossStep:
    """A step down: what takes power, how much of the motor's in %, and what is left after it."""

    name: str
    lost_percent: float
    left_percent: float


def power_budget(vehicle: Vehicle, gear: str, rpm: float) -> tuple[LossStep, ...]:
    """Follow the motor's power at a speed: what only turns along first, then mesh by mesh.

    Idle meshes and bearings take their drag's share of the motor's torque; each loaded mesh takes
    its share of what comes to it. Empty where the gear does not drive or the motor gives nothing.
    """
    torque = torque_at(vehicle.motor, rpm)
    table = power_table(vehicle, gear, rpm)
    if table is None or torque <= 0:
        return ()
    left, steps = 100.0, []
    groups: dict[DragKind, str] = {
        "idle mesh": say("performance.idle-meshes"),
        "bearings": say("performance.drag-of-bearings"),
    }
    for kind, words in groups.items():
        drag = sum(d.at_motor_n_mm for d in drag_lines(vehicle, gear) if d.kind == kind)
        lost = min(100 * drag / torque, left)
        left -= lost
        steps.append(LossStep(words, lost, left))
    passed = left / 100  # what reaches the loaded meshes is less by what drags
    for line in table.lines:
        if line.lost_w > SMALL:
            lost = 100 * line.lost_w / table.in_w * passed
            left -= lost
            steps.append(
                LossStep(
                    say("performance.on", giver=line.giver, listed=", ".join(line.takers)),
                    lost,
                    left,
                )
            )
    return tuple(steps)

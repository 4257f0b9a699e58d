"""Teeth in mesh at random angles, by solids: twenty turns of the motor for every demo.

Run by hand: ``.venv/bin/python -m benchmarks.interlock``. Printed is, for each demo, how many
meshes were tried and the deepest that one gear goes into another, against what the proof allows.
Ends with 1 where one goes deeper.
"""

import random
import sys
from dataclasses import replace

from mild_badger.core.components.box import BoxComponents
from mild_badger.core.components.proof import allowed_mm, overlap_of
from mild_badger.core.components.solids import solid_of
from mild_badger.core.components.vehicle_parts import main_components
from mild_badger.core.scene.motion import turns_of
from mild_badger.core.vehicle.demo import DEMOS, demo_vehicle
from mild_badger.core.vehicle.model import Vehicle

ANGLES = 20


def deepest(
    vehicle: Vehicle, box: BoxComponents, gear: str, motor_turns: float
) -> tuple[int, float]:
    """Count the meshes that move in a gear, and give the deepest overlap there, mm."""
    turns = turns_of(vehicle, box.components, gear)
    posed = {
        str(part.id): replace(part, turn_rad=part.turn_rad + turn * motor_turns)
        for part, turn in zip(box.components, turns, strict=True)
    }
    moving = {str(part.id) for part, turn in zip(box.components, turns, strict=True) if turn}
    meshes = [mesh for mesh in box.meshes if {mesh.one, mesh.other} <= moving]
    found = [overlap_of(solid_of(posed[m.one]), solid_of(posed[m.other])) for m in meshes]
    return len(meshes), max((overlap[1] for overlap in found if overlap is not None), default=0.0)


def main() -> int:
    """Try every demo."""
    draw, wrong = random.Random(20), 0
    for demo in DEMOS:
        vehicle = demo_vehicle(demo)
        gears = [gear.id for gear in vehicle.real.gears]
        tried, worst = 0, 0.0
        for number in range(ANGLES):
            gear = gears[number % len(gears)]
            box = main_components(vehicle, gear if vehicle.box.lever is not None else None)
            if box is None:
                continue
            count, deep = deepest(vehicle, box, gear, draw.uniform(-50.0, 50.0))
            tried, worst = tried + count, max(worst, deep)
        limit = allowed_mm(vehicle.kit.module_mm, meshing=True)
        wrong += worst > limit
        sys.stdout.write(f"{demo}: {tried} meshes, deepest {worst:.3f} of {limit:.3f} mm\n")
        sys.stdout.flush()
    return int(wrong > 0)


if __name__ == "__main__":
    sys.exit(main())

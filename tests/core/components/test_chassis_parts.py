"""Frame, floor and steering in space: where the chassis has them, whichever end is ahead."""

import numpy as np
import pytest

from mild_badger.core.axle.running import running_of
from mild_badger.core.axle.shaft_line import shaft_line
from mild_badger.core.axle.steering import steer_at
from mild_badger.core.components.chassis_parts import chassis_parts
from mild_badger.core.components.component import Component
from mild_badger.core.components.drive_line import drive_line_parts
from mild_badger.core.components.solids import solid_of
from mild_badger.core.scene.stage import stage_of
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.model import Vehicle

TRACTOR = "larkholm-timber-tractor"


def built(faces: str) -> tuple[Vehicle, list[Component], dict[str, np.ndarray]]:
    """A vehicle, its wheels, and the bounds of its chassis' parts: low and high corner."""
    tractor = demo_vehicle(TRACTOR)
    assert tractor.running is not None
    vehicle = tractor.model_copy(
        update={"shifting": tractor.shifting.model_copy(update={"box_faces": faces})}
    )
    wheels = [part for part in drive_line_parts(vehicle) if part.kind == "wheel"]
    parts = chassis_parts(vehicle, wheels)
    bounds = {str(p.id): np.array(solid_of(p).bounding_box()).reshape(2, 3) for p in parts}
    return vehicle, wheels, bounds


@pytest.mark.parametrize("faces", ["rear", "front"])
def test_frame_and_floor_stand_at_their_heights_between_the_wheels(faces: str) -> None:
    vehicle, wheels, bounds = built(faces)
    chassis = running_of(vehicle).chassis
    ground = min(w.y_mm for w in wheels) - vehicle.wheels.diameter_mm / 2
    left, right = bounds["frame rail left"], bounds["frame rail right"]
    assert right[1][0] - left[0][0] == pytest.approx(2 * chassis.half_width_mm, abs=0.01)
    assert left[0][1] - ground == pytest.approx(chassis.belly_mm, abs=0.01)
    assert bounds["floor"][1][1] - ground == pytest.approx(shaft_line(vehicle).floor_mm, abs=0.01)
    # as long as wheelbase and overhangs, and about all wheels
    long = left[1][2] - left[0][2]
    over = chassis.front_overhang_mm + chassis.rear_overhang_mm
    assert long == pytest.approx(vehicle.axle.wheelbase_mm + over, abs=0.01)
    for wheel in wheels:
        assert left[0][2] < -wheel.along_mm < left[1][2]


@pytest.mark.parametrize("faces", ["rear", "front"])
def test_rods_join_the_rack_to_the_arms_at_the_front_axle(faces: str) -> None:
    vehicle, wheels, bounds = built(faces)
    state = steer_at(vehicle, 0.0)
    assert state is not None
    ahead = -1.0 if faces == "rear" else 1.0
    front = max((w.along_mm for w in wheels), key=lambda mm: mm * ahead)
    for side, ((arm_x, arm_ahead), (rack_x, rack_ahead)) in zip(
        ("left", "right"), state.joints, strict=True
    ):
        rod = bounds[f"steering rod {side}"]
        # the driver's left lies to the right as seen from an input end that is in front
        for x, way in ((ahead * arm_x, arm_ahead), (ahead * rack_x, rack_ahead)):
            z = -(front + ahead * way)
            assert rod[0][0] - 2.5 <= x <= rod[1][0] + 2.5
            assert rod[0][2] - 2.5 <= z <= rod[1][2] + 2.5
    rack = bounds["steering rack"]
    assert rack[1][0] - rack[0][0] == pytest.approx(running_of(vehicle).steering.rack_mm, abs=0.3)


def test_without_a_planned_running_gear_there_is_none() -> None:
    vehicle = demo_vehicle(TRACTOR).model_copy(update={"running": None})
    wheels = [part for part in drive_line_parts(vehicle) if part.kind == "wheel"]
    assert chassis_parts(vehicle, wheels) == ()


def test_the_whole_vehicle_in_space_has_them_and_the_box_has_not() -> None:
    vehicle = demo_vehicle(TRACTOR)
    gear = vehicle.real.gears[0].id
    whole, box = stage_of(vehicle, gear, whole=True), stage_of(vehicle, gear)
    assert whole is not None
    assert box is not None
    assert {"frame rail", "floor", "kingpin", "steering rod"} <= {p.kind for p in whole.parts}
    assert not {"frame rail", "floor"} & {p.kind for p in box.parts}
    again = stage_of(vehicle, gear, whole=True)
    assert again is not None
    assert again.parts is whole.parts  # so that the picture is not made anew

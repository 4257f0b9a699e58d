"""Mechanisms in motion: pistons by the slider crank's closed form, nuts and racks by their feed."""

from math import cos, hypot, pi, radians, sin, sqrt

import numpy as np
import pytest

from mild_badger.core.components.mechanism_parts import mechanism_groups
from mild_badger.core.driveline.assemble import DISPLAY
from mild_badger.core.driveline.crane import crane_key, crane_shaft
from mild_badger.core.mechanisms.crane.model import OWN_INPUT, Rack, Screw
from mild_badger.core.mechanisms.registry import mechanism_on
from mild_badger.core.scene.stage import Stage, mechanism_stage, stage_of
from mild_badger.core.vehicle.bodies import CLUTCH
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle

TRUCK, TRACTOR = "larkholm-crane-truck", "larkholm-timber-tractor"


def with_engine() -> Vehicle:
    vehicle = demo_vehicle(TRACTOR)
    edit = mechanism_on("engine").add(vehicle)
    assert edit is not None
    return apply_edit(vehicle, edit)


def by_id(stage: Stage, motor: float) -> dict[str, tuple[float, float, float]]:
    assert stage.mechanisms is not None
    shown = stage.mechanisms.shown(stage.parts, stage.turns * motor)
    return {str(part.id): (part.x_mm, part.y_mm, part.along_mm) for part in shown}


def test_pistons_go_by_the_slider_crank_and_rods_keep_their_length() -> None:
    vehicle = with_engine()
    engine = vehicle.display_engine
    assert engine is not None
    stage = mechanism_stage(vehicle, DISPLAY, vehicle.real.gears[0].id)
    assert stage is not None
    crank = next(n for n, part in enumerate(stage.parts) if part.kind == "crank")
    r, rod = engine.throw_mm, engine.rod_mm
    for motor in np.linspace(0.0, 3.0 / abs(stage.turns[crank]) * 2 * pi, 23):
        there = by_id(stage, float(motor))
        for number in range(1, engine.cylinders + 1):
            lean = radians(engine.bank_of(number))
            x, y, _ = there[f"piston of cylinder {number}"]
            # Shigley, Theory of Machines: x = r cos θ + sqrt(l² − r² sin² θ), from top dead centre
            angle = radians(engine.throws_deg[number - 1]) - stage.turns[crank] * motor - lean
            known = r * cos(angle) + sqrt(rod**2 - (r * sin(angle)) ** 2)
            assert x * sin(lean) + y * cos(lean) == pytest.approx(known, abs=1e-9)
            assert x * cos(lean) - y * sin(lean) == pytest.approx(0.0, abs=1e-9)
            pin = there[f"rod of cylinder {number}"]
            assert hypot(pin[0], pin[1]) == pytest.approx(r, abs=1e-9)
            assert hypot(x - pin[0], y - pin[1]) == pytest.approx(rod, abs=1e-9)


def test_nuts_and_racks_go_by_their_feed_to_the_ends_of_their_travel() -> None:
    vehicle = demo_vehicle(TRUCK)
    assert vehicle.crane is not None
    seen = 0
    for output in vehicle.crane.outputs:
        if not isinstance(output.end, Screw | Rack):
            continue
        key = crane_key(output.id)
        stage = mechanism_stage(vehicle, key, vehicle.real.gears[0].id)
        assert stage is not None
        shaft = crane_shaft(output.id)
        row = next(n for n, part in enumerate(stage.parts) if shaft in part.bodies)
        assert stage.turns[row]  # an own input drives it as well
        screw = isinstance(output.end, Screw)
        feed = (
            output.end.lead_mm
            if isinstance(output.end, Screw)
            else pi * vehicle.kit.module_mm * output.end.pinion
        )
        name = f"{key}/nut" if screw else f"{key}/rack"
        axis = 2 if screw else 0
        start = by_id(stage, 0.0)[name][axis]
        assert stage.mechanisms is not None
        reach = stage.mechanisms.reach(stage.turns)
        assert reach is not None
        for share in (0.3, -0.8, 1.0, 1.7):
            turns = stage.turns[row] * reach[1] * share / (2 * pi)  # of the shaft
            gone = by_id(stage, reach[1] * share)[name][axis] - start
            limit = output.end.travel_mm / 2
            assert gone == pytest.approx(np.clip(feed * turns, -limit, limit), abs=1e-6)
        assert abs(feed * stage.turns[row] / (2 * pi) * reach[1]) == pytest.approx(
            output.end.travel_mm / 2
        )
        seen += 1
    assert seen >= 3


def test_every_group_turns_with_what_drives_it() -> None:
    vehicle = demo_vehicle(TRUCK)
    assert vehicle.crane is not None
    own = {crane_key(o.id) for o in vehicle.crane.outputs if o.source == OWN_INPUT}
    assert own
    whole = stage_of(vehicle, vehicle.real.gears[0].id, whole=True)
    assert whole is not None
    turned = {
        str(part.id): turn for part, turn in zip(whole.parts, whole.turns, strict=True) if turn
    }
    for group in mechanism_groups(vehicle):
        stage = mechanism_stage(vehicle, group.id, vehicle.real.gears[0].id)
        assert stage is not None
        for part, turn in zip(stage.parts, stage.turns, strict=True):
            assert bool(turn) == bool(part.bodies), part.id
            if group.id not in own and part.bodies:
                assert turned[str(part.id)] == turn
    assert mechanism_stage(vehicle, "no such thing", None) is None


def test_a_clutch_s_plates_turn_with_the_motor() -> None:
    vehicle = demo_vehicle(TRACTOR)
    edit = mechanism_on("clutch").add(vehicle)
    assert edit is not None
    stage = mechanism_stage(apply_edit(vehicle, edit), CLUTCH, None)
    assert stage is not None
    kinds = {part.kind for part, turn in zip(stage.parts, stage.turns, strict=True) if turn}
    assert "clutch plate" in kinds

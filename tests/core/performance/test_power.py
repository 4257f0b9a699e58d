"""The power table: sums, and torques against speeds, in every gear of the demos."""

import itertools
from math import pi

import pytest

from examples import example_vehicle
from mild_badger.core.evaluate import evaluate
from mild_badger.core.performance.power import power_table
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit


@pytest.mark.parametrize("name", DEMOS)
def test_power_adds_up_and_every_torque_is_power_over_speed(name: str) -> None:
    vehicle = example_vehicle(name)
    rpm = vehicle.motor.working_rpm
    motor = vehicle.motor
    geared = motor.reduction  # of the motor's own
    torque = motor.stall_torque_n_mm * geared * (1 - rpm * geared / motor.no_load_rpm)
    for gear in evaluate(vehicle).gears:
        table = power_table(vehicle, gear.name, rpm)
        assert table is not None
        # P = T · 2 π n / 60
        assert table.in_w == pytest.approx(torque / 1000 * 2 * pi * rpm / 60)
        assert table.in_w == pytest.approx(table.out_w + table.lost_w)
        assert sum(line.lost_w for line in table.lines) == pytest.approx(table.lost_w)
        # the strip's reach, worked out along the path, and the flow's balance are two ways to it
        assert table.out_w / table.in_w == pytest.approx(gear.efficiency)
        meshes = [line for line in table.lines if line.kind in ("mesh", "bevel")]
        lossy = [line for line in table.lines if line in meshes or line.kind == "ratchets"]
        for line in lossy:
            watts = line.torque_in_n_mm / 1000 * 2 * pi * line.rpm_in / 60
            assert watts == pytest.approx(line.power_w)
            share = vehicle.kit.mesh_loss if line in meshes else 1 - 0.95**3
            assert line.lost_w == pytest.approx(share * line.power_w)
        for line, following in itertools.pairwise(lossy):
            assert following.power_w == pytest.approx(line.power_w - line.lost_w)
        assert f"{len(meshes)} meshes" in table.summary


def test_no_power_flows_where_nothing_drives() -> None:
    vehicle = example_vehicle()
    assert power_table(vehicle, None, 1000.0) is None
    assert power_table(vehicle, "1", vehicle.motor.no_load_rpm) is None
    wrong = apply_edit(vehicle, Edit.one("", ("final_drive", "crown_side"), "right"))
    table = power_table(wrong, "1", 1000.0)  # backwards, but it drives
    assert table is not None
    assert table.out_w > 0

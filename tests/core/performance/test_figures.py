"""Pull, drag, power and drives of the demos, as audited; calibration against its own line."""

from dataclasses import replace

import pytest

from examples import example_vehicle
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.kit.catalogue import shipped_motors
from mild_badger.core.performance.chart import saw_teeth, speed_lines
from mild_badger.core.performance.drive import Drive, drive_all, drive_csv
from mild_badger.core.performance.losses import (
    ESTIMATES,
    calibrate_readings,
    calibrate_wheels,
    drag_at_motor_n_mm,
    drag_lines,
    estimated_losses,
)
from mild_badger.core.performance.power import power_table
from mild_badger.core.performance.power_budget import power_budget
from mild_badger.core.performance.pull import equilibrium_rpm, motor_trials, pulls, weakest_place
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.road import Segment
from pinned import hold
from telling import refuses

COURSE = (
    Segment(kind="flat", length_m=1.0),
    Segment(kind="hill", length_m=0.6, value=9.0),
    Segment(kind="hill", length_m=0.5, value=-6.0),
    Segment(kind="turn", length_m=0.7, value=0.6),
    Segment(kind="rough", length_m=0.5, value=2.5),
)


def with_motors(vehicle: Vehicle, **groups: object) -> Vehicle:
    changes = (Change(("motors",), shipped_motors()), Change(("course",), COURSE))
    more = (Change((name,), value) for name, value in groups.items())
    return apply_edit(vehicle, Edit("", (*changes, *more)))


@pytest.mark.parametrize("name", DEMOS)
def test_figures_of_every_demo_are_as_audited(name: str) -> None:
    vehicle = with_motors(example_vehicle(name))
    shown = evaluate(vehicle)
    ids = [gear.id for gear in vehicle.real.gears]
    top = {gear: 10.0 * (n + 1) for n, gear in enumerate(ids)}
    turns = {g.id: None if g.wheel_turns is None else float(g.wheel_turns) for g in shown.gears}
    rpm = vehicle.motor.working_rpm
    figures = {
        "pulls": pulls(vehicle, shown.gears),
        "drag": {gear: drag_lines(vehicle, gear) for gear in ids},
        "drag sum": {gear: drag_at_motor_n_mm(vehicle, gear) for gear in ids},
        "power": {gear: power_table(vehicle, gear, rpm) for gear in (None, *ids)},
        "power words": {
            gear: table.summary for gear in ids if (table := power_table(vehicle, gear, rpm))
        },
        "budget": {gear: power_budget(vehicle, gear, rpm) for gear in ids},
        "trials": [
            {**vars(trial), "motor": trial.motor.name}
            for trial in motor_trials(vehicle, shown.gears, ids[0], 0.1)
        ],
        "weakest": weakest_place(vehicle, shown.gears),
        "lines": speed_lines(vehicle, turns),
        "teeth": saw_teeth(top),
    }
    hold(__file__, name, figures)


@pytest.mark.parametrize("kind", ["open", "locked"])
def test_a_drive_over_every_kind_of_ground_is_as_audited(kind: str) -> None:
    bus = with_motors(example_vehicle(), differential={"kind": kind})
    gears = evaluate(bus).gears
    rows = drive_all(bus, gears)
    by_hand = Drive(bus, gears, shift_by_rpm=False)
    for way in (1, 1, -1):
        by_hand.shift_by(way)
        for _ in range(60):
            by_hand.step()
    by_hand.finish()
    figures = {
        "length": by_hand.length_m,
        "order": by_hand.order,
        "moments": [rows[n] for n in range(0, len(rows), max(len(rows) // 12, 1))],
        "speeds": [row.speed_m_s for row in rows],
        "currents": [row.current_a for row in rows],
        "rpm": [row.motor_rpm for row in rows],
        "slips": [row.slip_percent for row in rows],
        "by hand": by_hand.rows[-1],
        "csv": drive_csv(rows[:2]),
    }
    hold(__file__, f"drive-{kind}", figures)


def test_on_a_hill_no_gear_is_taken_that_the_hill_holds_back() -> None:
    """m g sin θ of 25 % and what rolls, against what the next gear pushes with at that speed."""
    bus = with_motors(example_vehicle(), course=[{"kind": "hill", "length_m": 30, "value": 25}])
    gears = evaluate(bus).gears
    rows = drive_all(bus, gears)
    free = drive_all(
        with_motors(example_vehicle(), course=[{"kind": "flat", "length_m": 30}]), gears
    )
    assert len({row.gear for row in rows}) < len({row.gear for row in free})
    hold(
        __file__,
        "drive-steep",
        {"gears": [row.gear for row in rows[::40]], "speeds": [row.speed_m_s for row in rows]},
    )


def test_every_estimate_is_taken_whole() -> None:
    vehicle = example_vehicle()
    for lubrication in ("dry", "waxed", "oiled"):
        made = apply_edit(vehicle, estimated_losses(vehicle, lubrication))
        mesh, idle, bearing = ESTIMATES[vehicle.kit.kind, lubrication]
        assert made.kit.mesh_loss == mesh
        assert (made.losses.idle_mesh_n_mm, made.losses.bearing_n_mm) == (idle, bearing)
        assert (made.losses.lubrication, made.losses.drag_factor) == (lubrication, 1.0)
    hold(
        __file__, "estimates", {f"{kind}, {state}": row for (kind, state), row in ESTIMATES.items()}
    )


def test_readings_give_the_factor_they_were_made_with() -> None:
    """Speeds at which the motor gives 1.7 times what drags, and one that scatters."""
    bus = example_vehicle()
    motor = bus.motor
    readings = []
    for gear in ("3", "5"):
        rpm = equilibrium_rpm(motor, 1.7 * drag_at_motor_n_mm(bus, gear))
        readings.append({"position": gear, "body": "wheel.left", "turns": 0.1, "input_rpm": rpm})
    none = {"position": "2", "body": "wheel.left", "turns": 0.1}
    fast = {**none, "input_rpm": motor.shaft_no_load_rpm * 1.1}
    noted = apply_edit(bus, Edit.one("", ("trial", "readings"), [*readings, none, fast]))
    edit, words = calibrate_readings(noted)
    assert apply_edit(noted, edit).losses.drag_factor == pytest.approx(1.7, abs=1e-3)
    assert "from 2 readings" in words
    assert "0.00 N·mm" in words
    one = apply_edit(bus, Edit.one("", ("trial", "readings"), readings[:1]))
    assert "from 1 reading;" in calibrate_readings(one)[1]
    low = equilibrium_rpm(motor, 2.7 * drag_at_motor_n_mm(bus, "3"))
    apart = [readings[0], {**readings[0], "body": "wheel.right", "input_rpm": low}]
    scattered = apply_edit(bus, Edit.one("", ("trial", "readings"), apart))
    edit, words = calibrate_readings(scattered)
    assert apply_edit(scattered, edit).losses.drag_factor == pytest.approx(2.2, abs=1e-3)
    assert f"{0.5 * drag_at_motor_n_mm(bus, '3'):.2f} N·mm" in words
    doubled = apply_edit(scattered, Edit.one("", ("losses", "drag_factor"), 2.0))
    again, _ = calibrate_readings(doubled)
    assert apply_edit(doubled, again).losses.drag_factor == pytest.approx(2.2, abs=1e-3)
    with refuses(InputError, "performance.no-reading-has-the-inputs-own-speed-in-a"):
        calibrate_readings(apply_edit(bus, Edit.one("", ("trial", "readings"), [none, fast])))


def test_wheels_in_the_air_tell_the_drag() -> None:
    bus = example_vehicle()
    gear = evaluate(bus).gear("3")
    assert gear is not None
    assert gear.wheel_turns is not None
    rpm = equilibrium_rpm(bus.motor, 1.4 * drag_at_motor_n_mm(bus, "3"))
    edit = calibrate_wheels(bus, gear, -rpm * float(gear.wheel_turns))
    assert apply_edit(bus, edit).losses.drag_factor == pytest.approx(1.4, abs=1e-3)
    with refuses(InputError, "performance.gear-does-not-drive-so-nothing-can-be"):
        calibrate_wheels(bus, replace(gear, wheel_turns=None), 10)


def test_no_power_flows_without_torque_or_gear() -> None:
    bus = example_vehicle()
    assert power_table(bus, None, 100) is None
    assert power_table(bus, "3", bus.motor.shaft_no_load_rpm) is None
    assert power_table(bus, "3", 100) is not None

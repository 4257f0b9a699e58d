"""Motor line, drag, hills, test drives and versions: by hand, by closed form, by laws."""

from math import atan, cos, exp, pi, sin

import pytest

from examples import example_vehicle
from mild_badger.core.axle.running import running_of
from mild_badger.core.errors import DocumentError, InputError
from mild_badger.core.evaluate import Evaluation, evaluate
from mild_badger.core.kit.catalogue import shipped_motors
from mild_badger.core.layout.shaft_deflection import separations, tooth_skip_torque_n_mm
from mild_badger.core.message import say
from mild_badger.core.performance.drive import Drive, drive_all, drive_csv
from mild_badger.core.performance.losses import (
    calibrate,
    drag_at_motor_n_mm,
    drag_lines,
    estimated_losses,
)
from mild_badger.core.performance.power_budget import power_budget
from mild_badger.core.performance.pull import equilibrium_rpm, motor_trials, pulls, weakest_place
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Motor, Vehicle
from mild_badger.core.vehicle.road import Segment
from telling import refuses, tells

G = 9.80665


def changed(vehicle: Vehicle | None = None, **groups: dict[str, object]) -> Vehicle:
    changes = [
        Change((*group.split("__"), name), value)
        for group, values in groups.items()
        for name, value in values.items()
    ]
    return apply_edit(vehicle or example_vehicle(), Edit("", tuple(changes)))


def test_the_motors_line_with_voltage_reduction_and_current_limit() -> None:
    motor = Motor(
        no_load_rpm=6000,
        stall_torque_n_mm=100,
        working_rpm=1000,
        count=2,
        reduction=3,
        rated_v=9,
        supply_v=6,
        no_load_a=0.2,
        stall_a=2.2,
    )
    # T = Ts (1 − n/n0) of a DC motor; both ends go with the voltage, gears trade speed for torque
    assert motor.shaft_no_load_rpm == pytest.approx(6000 * 6 / 9 / 3)
    assert motor.shaft_stall_n_mm == pytest.approx(100 * 6 / 9 * 2 * 3)
    for share in (0.0, 0.25, 0.5, 1.0):
        rpm = share * motor.shaft_no_load_rpm
        assert motor.shaft_torque_n_mm(rpm) == pytest.approx((1 - share) * motor.shaft_stall_n_mm)
        assert equilibrium_rpm(motor, motor.shaft_torque_n_mm(rpm)) == pytest.approx(rpm)
    assert motor.current_a(0) == pytest.approx(0.4)
    assert motor.current_a(motor.shaft_stall_n_mm) == pytest.approx(2 * (0.2 + 2 / 3 * 2.0))
    limited = motor.model_copy(update={"limit_a": 0.7})
    assert limited.shaft_stall_n_mm == pytest.approx(100 / 2.0 * 0.5 * 6)  # k (I − I₀), six times
    assert limited.shaft_torque_n_mm(0) == limited.shaft_stall_n_mm
    assert limited.current_a(limited.shaft_stall_n_mm) == pytest.approx(2 * 0.7)
    assert equilibrium_rpm(limited, limited.shaft_stall_n_mm) == 0


def test_what_turns_along_drags_with_its_speed() -> None:
    bus = changed(losses={"idle_mesh_n_mm": 1.0, "bearing_n_mm": 0.0})
    lines = drag_lines(bus, "3")
    assert lines
    for line in lines:
        assert line.name.startswith("idle: ")
        assert line.at_motor_n_mm == pytest.approx(line.turns)
    bearings = changed(losses={"idle_mesh_n_mm": 0.0, "bearing_n_mm": 0.5})
    assert all(
        line.at_motor_n_mm == pytest.approx(line.turns) for line in drag_lines(bearings, "3")
    )  # two bearings a shaft
    double = changed(bus, losses={"drag_factor": 2.0})
    assert drag_at_motor_n_mm(double, "3") == pytest.approx(2 * drag_at_motor_n_mm(bus, "3"))
    assert drag_lines(bus, "no such gear") == ()


def test_a_measured_speed_calibrates_the_drag() -> None:
    bus = example_vehicle()
    measured = 0.8 * bus.motor.shaft_no_load_rpm
    fitted = apply_edit(bus, calibrate(bus, "4", measured))
    assert equilibrium_rpm(fitted.motor, drag_at_motor_n_mm(fitted, "4")) == pytest.approx(
        measured, rel=1e-3
    )
    with refuses(InputError, "performance.rpm-cannot-be-measured-without-any-drag-the"):
        calibrate(bus, "4", 99_999)
    with refuses(InputError, "performance.nothing-drags-in-gear-by-the-estimates-as"):
        calibrate(changed(losses={"idle_mesh_n_mm": 0, "bearing_n_mm": 0}), "4", measured)
    tractor = example_vehicle("larkholm-timber-tractor")
    dry, waxed = (apply_edit(tractor, estimated_losses(tractor, k)) for k in ("dry", "waxed"))
    assert waxed.kit.mesh_loss < dry.kit.mesh_loss
    assert waxed.losses.idle_mesh_n_mm < dry.losses.idle_mesh_n_mm


def test_hills_and_pull_by_hand() -> None:
    free = changed(
        losses={"idle_mesh_n_mm": 0.0, "bearing_n_mm": 0.0},
        ground={"rolling": 0.04, "grip": 3.0},
        running__chassis={"mass_kg": 2.0, "driven_share": 1.0},
    )
    evaluation = evaluate(free)
    for pull, gear in zip(pulls(free, evaluation.gears), evaluation.gears, strict=True):
        radius = free.wheels.diameter_mm / 2
        overall = 1 / abs(float(gear.wheel_turns or 0))
        assert pull.drag_n_mm == 0
        force = free.motor.stall_torque_n_mm * overall * gear.efficiency / radius
        assert pull.force_n == pytest.approx(force)
        # in the air the motor runs at its no-load speed
        rpm = free.motor.no_load_rpm / overall
        assert pull.free_m_s == pytest.approx(pi * free.wheels.diameter_mm * rpm / 60_000)
        assert pull.road_m_s < pull.free_m_s
        if pull.limit == say("performance.the-motor"):
            slope = atan(pull.hill_percent / 100)
            assert force == pytest.approx(2.0 * G * (sin(slope) + 0.04 * cos(slope)))
        # Froude is √n in full size where the plain scale is n (similarity mechanics)
        assert pull.geometric_km_h / pull.froude_km_h == pytest.approx(free.scale.denominator**0.5)
    slippery = changed(
        ground={"grip": 0.2, "rolling": 0.02}, running__chassis={"driven_share": 0.5}
    )
    first = pulls(slippery, evaluate(slippery).gears)[0]
    assert first.limit == say("performance.the-tyres-grip")
    assert first.hill_percent == pytest.approx(100 * (0.2 * 0.5 - 0.02))
    # by hand: the grip of half the weight, 0.2 × 0.5 × m g, in every gear alike
    mass = running_of(slippery).chassis.mass_kg
    for pull in pulls(slippery, evaluate(slippery).gears):
        grip = next(a for a in pull.allowed if a.kind == "grip")
        assert grip.force_n == pytest.approx(0.2 * 0.5 * mass * G)
        assert pull.usable.force_n == min(a.force_n for a in pull.allowed)
        assert next(a for a in pull.allowed if a.kind == "motor").force_n == pull.force_n
    weak = changed(differential={"tooth_limit_n": 3.0})
    assert tells(
        pulls(weak, evaluate(weak).gears)[0].limit, "performance.skips", skip="the differential"
    )


def test_a_mesh_lets_go_at_just_the_torque_that_is_told() -> None:
    tractor = example_vehicle("larkholm-timber-tractor")
    stack = stack_for(tractor)
    assert stack is not None
    told = tooth_skip_torque_n_mm(tractor, stack)
    for gear, (torque, where) in told.items():
        at_it = changed(tractor, motor={"stall_torque_n_mm": torque})
        rows = [r for r in separations(at_it, stack) if r.gear == gear]
        worst = min(rows, key=lambda r: r.contact)
        assert worst.contact == pytest.approx(tractor.kit.least_contact, abs=2e-3)
        assert where.startswith(f"{worst.teeth[0]} with {worst.teeth[1]}")


def test_the_waterfall_falls_all_the_way_and_no_further() -> None:
    for name in ("larkholm-mail-bus", "larkholm-timber-tractor"):
        vehicle = example_vehicle(name)
        evaluation = evaluate(vehicle)
        rpm = vehicle.motor.working_rpm
        for gear in evaluation.gears:
            falls = power_budget(vehicle, gear.name, rpm)
            left = 100.0
            for fall in falls:
                left -= fall.lost_percent
                assert fall.left_percent == pytest.approx(left)
            drag = drag_at_motor_n_mm(vehicle, gear.name) / vehicle.motor.shaft_torque_n_mm(rpm)
            assert left == pytest.approx(100 * (1 - drag) * gear.efficiency)
    assert power_budget(example_vehicle(), "1", example_vehicle().motor.no_load_rpm) == ()


def plain(mass: float = 2.0) -> tuple[Vehicle, Evaluation]:
    vehicle = changed(
        losses={"bearing_n_mm": 0.5},
        ground={"rolling": 0.05, "grip": 3.0},
        running__chassis={"mass_kg": mass, "driven_share": 1.0},
    )
    flat = Segment(kind="flat", length_m=500.0)
    vehicle = vehicle.model_copy(update={"course": (flat,)})
    return vehicle, evaluate(vehicle)


def test_a_drive_nears_its_top_speed_as_the_exponential_does() -> None:
    """Linear motor and constant drag: v = v∞ (1 − exp(−t/τ)), τ = m / (dF/dv)."""
    vehicle, evaluation = plain(mass=6.0)
    pull = next(p for p in pulls(vehicle, evaluation.gears) if p.gear == "3")
    drive = Drive(vehicle, evaluation.gears, shift_by_rpm=False, gear="3")
    push = pull.force_n - 0.05 * 6.0 * G  # at rest
    tau = 6.0 * pull.road_m_s / push
    for _ in range(300):
        row = drive.step()
        assert row.speed_m_s == pytest.approx(
            pull.road_m_s * (1 - exp(-row.time_s / tau)), rel=2e-3, abs=2e-3
        )
    assert row.distance_m == pytest.approx(
        pull.road_m_s * (row.time_s - tau * (1 - exp(-row.time_s / tau))), rel=3e-3
    )


def test_a_drive_shifts_slips_climbs_and_can_stall() -> None:
    bus = example_vehicle()
    evaluation = evaluate(bus)
    rows = drive_all(bus, evaluation.gears)
    driven = list(dict.fromkeys(row.gear for row in rows if row.gear != "–"))
    assert driven[:4] == ["1", "2", "3", "4"]  # up through the gears by rpm
    assert rows[-1].distance_m >= 15.0
    assert any(row.gear == "–" for row in rows)  # nothing drives while the lever moves
    slick = changed(ground={"grip": 0.05})
    spinning = drive_all(slick, evaluate(slick).gears)
    assert max(row.slip_percent for row in spinning) > 20
    steep = bus.model_copy(update={"course": (Segment(kind="hill", length_m=5, value=60),)})
    stood = drive_all(steep, evaluate(steep).gears)
    assert stood[-1].distance_m < 0.01
    assert stood[-1].time_s < 10
    lines = drive_csv(rows[:5]).splitlines()
    assert lines[0].startswith("time_s,distance_m")
    assert len(lines) == 6
    assert len(lines[3].split(",")) == 8
    by_hand = Drive(bus, evaluation.gears, shift_by_rpm=False)
    by_hand.step()
    by_hand.shift("2")
    named = [by_hand.step().gear for _ in range(100)]
    assert (named[0], named[-1]) == ("–", "2")
    solid = changed(differential={"kind": "locked"})
    turn = solid.model_copy(update={"course": (Segment(kind="turn", length_m=9, value=0.4),)})
    flat = solid.model_copy(update={"course": (Segment(kind="flat", length_m=9),)})
    slow, fast = (drive_all(v, evaluate(v).gears)[-1].time_s for v in (turn, flat))
    assert slow > fast  # a solid axle scrubs
    with refuses(DocumentError, "vehicle.a-turn-of-the-course-needs-a-radius-in-m"):
        apply_edit(bus, Edit.one("", ("course",), [{"kind": "turn", "length_m": 3, "value": 0}]))


def test_motors_are_tried_on_the_box() -> None:
    bus = example_vehicle().model_copy(update={"motors": shipped_motors()})
    evaluation = evaluate(bus)
    trials = motor_trials(bus, evaluation.gears, "4", 0.8)
    assert len(trials) == len(shipped_motors())
    assert {trial.turns for trial in trials} == {True, False}
    for trial in trials:
        assert trial.turns == (trial.given_n_mm >= trial.needed_n_mm)
        if trial.turns:
            assert trial.top_m_s >= 0.8 - 1e-9
    strong = max(trials, key=lambda trial: trial.motor.shaft_stall_n_mm)
    assert tells(
        strong.weakest, "performance.in-gear-at-of-the-stall-torque", gear_name="4"
    )  # what becomes the weakest place after it
    assert motor_trials(bus, evaluation.gears, "none", 0.8) == ()
    assert weakest_place(changed(differential={"kind": "locked"}), ()) == ""

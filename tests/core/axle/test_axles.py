"""Kinds of differential, more driven axles, planets: by hand, by Willis, by handbook values."""

from fractions import Fraction
from math import hypot

import pytest

from examples import example_vehicle
from mild_badger.core.axle.road_state import (
    HeldWheel,
    LiftedWheel,
    Straight,
    Turn,
    radius_of_steer,
    steer_of_radius,
)
from mild_badger.core.axle.strength import planet_limit_n, planet_loads, planets_fit
from mild_badger.core.errors import DocumentError, InputError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.figures import in_n_mm
from mild_badger.core.results import AxleResult
from mild_badger.core.situation import Situation
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Differential, DrivenAxle, Vehicle
from telling import refuses, tells


def bus(kind: str = "open", **changes: object) -> Vehicle:
    made = [Change(("differential", "kind"), kind)]
    made += [Change(("differential", name), value) for name, value in changes.items()]
    return apply_edit(example_vehicle(), Edit("", tuple(made)))


def driven(*axles: DrivenAxle, kind: str = "open") -> Vehicle:
    return apply_edit(bus(kind), Edit.one("", ("additional_axles",), axles))


def front(**changes: object) -> DrivenAxle:
    """A front axle of the bus's ratio; with the pinion from behind its crown changes sides."""
    own = example_vehicle().final_drive
    base: dict[str, object] = {
        "name": "front axle",
        "ahead_mm": 320.0,
        "pinion": own.pinion,
        "crown": own.crown,
        "crown_side": "right" if own.crown_side == "left" else "left",
    }
    return DrivenAxle.model_validate({**base, **changes})


def on(vehicle: Vehicle, situation: Situation) -> AxleResult:
    return evaluate(vehicle, situation).axle


def test_one_driven_wheel_and_the_planetary_split() -> None:
    alone = on(bus("none", driven_side="right"), Situation(gear="3", road=Turn(720)))
    assert alone.right_share == 1
    assert float(alone.left_share or 0) == pytest.approx(648 / 792)  # rolls as its way asks
    assert tells(alone.torque, "axle.the-wheel-alone-gets-all-the-torque", driven_side="right")
    # sun left, ring right, drive at the carrier: S nl + R nr = (S + R) nc (Willis)
    planetary = on(
        bus("planetary", sun_teeth=24, ring_teeth=56), Situation(gear="3", road=HeldWheel("left"))
    )
    assert planetary.right_share == Fraction(80, 56)
    assert "30 %" in on(bus("planetary", sun_teeth=24, ring_teeth=56), Situation()).torque


def test_who_gets_the_torque() -> None:
    lifted = Situation(gear="3", road=LiftedWheel("left"))
    assert tells(on(bus(), lifted).torque, "axle.the-wheel-spins-and-takes-no-torque-so-the")
    closed = Situation(gear="3", road=LiftedWheel("left"), locked=True)
    assert tells(
        on(bus(), closed).torque, "axle.all-the-torque-goes-to-the-wheel-as-both", other="right"
    )
    assert tells(
        on(bus("none", driven_side="left"), lifted).torque,
        "axle.the-driven-wheel-is-in-the-air-nothing",
    )
    assert tells(
        on(bus("none", driven_side="right"), lifted).torque,
        "axle.the-wheel-alone-is-driven-and-pushes-as-ever",
    )
    assert tells(
        on(driven(front()), lifted).torque, "axle.this-axle-pushes-nothing-the-axles-coupled"
    )


def test_planets_spin_with_half_the_difference() -> None:
    found = on(bus(side_teeth=12, planet_teeth=16), Situation(gear="3", road=Turn(720)))
    row = found.rows[0]
    assert row.left_rpm is not None
    assert row.right_rpm is not None
    assert row.planet_rpm == pytest.approx(abs(row.left_rpm - row.right_rpm) / 2 * 12 / 16)
    assert on(bus(), Situation(gear="3")).rows[0].planet_rpm == 0


def test_what_slides_in_a_turn() -> None:
    rows = on(bus("locked"), Situation(gear="3", road=Turn(720, "left"))).rows
    # t / 2R each: track 144, radius 720; the inner tyre goes too fast
    assert rows[0].slip_percent == pytest.approx((10, -10))
    assert rows[0].slide_mm == pytest.approx((6.2832 * 72, -6.2832 * 72), rel=1e-4)
    free = on(bus(), Situation(gear="3", road=Turn(720, "left"))).rows
    assert free[0].slip_percent == pytest.approx((0, 0))
    # an axle ahead on the same shaft wants to go farther: hypot(R ∓ t/2, 320)
    both = on(driven(front()), Situation(gear="3", road=Turn(720, "left"))).rows
    ways = [hypot(648, 320), hypot(792, 320)]
    assert both[1].way_mm == pytest.approx(ways)
    assert (both[0].slip_percent or (0, 0))[0] > 1  # the rear is pushed, the front held back
    assert (both[1].slip_percent or (0, 0))[0] < -1
    eased = on(driven(front(centre="open")), Situation(gear="3", road=Turn(720, "left"))).rows
    for row in eased:
        assert row.slip_percent == pytest.approx((0, 0), abs=1e-6)


def test_further_axles_are_held_against_the_first() -> None:
    good = evaluate(driven(front()), Situation(gear="3"))
    assert not {"axle-direction", "axles-fight"} & {f.code for f in good.findings}
    rows = good.axle.rows
    assert [row.name for row in rows] == ["driven axle", "front axle"]
    assert rows[1].left_rpm == pytest.approx(rows[0].left_rpm)
    own = example_vehicle().final_drive.crown_side
    wrong = evaluate(driven(front(crown_side=own)), Situation(gear="3"))
    backwards = wrong.axle.rows[1].left_rpm
    assert backwards == pytest.approx(-(wrong.axle.rows[0].left_rpm or 0))
    finding = next(f for f in wrong.findings if f.code == "axle-direction")
    assert finding.mend is not None
    mended = evaluate(apply_edit(wrong.vehicle, finding.mend))
    assert "axle-direction" not in {f.code for f in mended.findings}
    # a pinion from ahead meets its crown wheel as the first axle's does
    ahead = evaluate(driven(front(crown_side=own, pinion_from="front")), Situation(gear="3"))
    assert ahead.axle.rows[1].left_rpm == pytest.approx(ahead.axle.rows[0].left_rpm)
    fights = evaluate(driven(front(crown=20, pinion=12)))
    note = next(f for f in fights.findings if f.code == "axles-fight")
    own_ratio = example_vehicle().final_drive.crown / example_vehicle().final_drive.pinion
    assert note.figure == pytest.approx(100 * (own_ratio / (20 / 12) - 1))
    with refuses(DocumentError, "vehicle.two-driven-axles-share-a-name"):
        driven(front(), front())


def test_six_driven_wheels_turn_alike_and_the_centre_lets_them_differ() -> None:
    tandem = front(
        name="second axle",
        ahead_mm=-90.0,
        pinion_from="front",
        crown_side=example_vehicle().final_drive.crown_side,
    )
    six = driven(tandem, front(centre="open"))
    straight = evaluate(six, Situation(gear="2", road=Straight())).axle.rows
    assert len(straight) == 3
    rims = [rpm for row in straight for rpm in (row.left_rpm, row.right_rpm)]
    assert rims == pytest.approx([rims[0]] * 6)
    held = evaluate(six, Situation(gear="2", road=HeldWheel("left"))).axle
    assert held.rows[0].left_rpm == 0
    solid = evaluate(driven(tandem, kind="locked"), Situation(gear="2", road=Turn(900))).axle
    assert all(row.slip_percent is not None for row in solid.rows)


def test_a_steering_angle_is_a_turns_radius() -> None:
    """tan δ = L / R (Jazar, bicycle model): 2.7 m and 6 m give 24.2277°."""
    vehicle = apply_edit(example_vehicle(), Edit.one("", ("axle", "wheelbase_mm"), 2700.0))
    assert steer_of_radius(vehicle, 6000.0) == pytest.approx(24.2277, abs=1e-4)
    assert radius_of_steer(vehicle, 24.2277) == pytest.approx(6000, rel=1e-5)
    for wrong in (0.0, 85.0):
        with refuses(InputError, "axle.steering-angle-does-not-steer-choose-more"):
            radius_of_steer(vehicle, wrong)


def test_load_falls_with_the_number_of_planets() -> None:
    one = planet_loads(bus(planets=1), {"1": 20.0})[0]
    two = planet_loads(bus(planets=2), {"1": 20.0})[0]
    stall = example_vehicle().motor.stall_torque_n_mm
    assert one.force_n == pytest.approx(stall * 20 / (2 * 6))  # T / (2 r), r = 12 teeth / 2
    assert two.force_n == pytest.approx(one.force_n / 2)
    assert planet_loads(bus("locked"), {"1": 20.0}) == ()


def test_a_planet_s_tooth_bears_the_sun_s_share_of_the_torque() -> None:
    # statics of an epicyclic set (Müller): the sun takes S/(S+R) of the carrier's torque, over its
    # pitch radius, from as many planets as there are
    vehicle = bus("planetary", sun_teeth=24, ring_teeth=57, planets=3)
    (load,) = planet_loads(vehicle, {"1": 20.0})
    carrier = vehicle.motor.shaft_stall_n_mm * 20.0
    sun = carrier * 24 / (24 + 57)
    assert load.torque_n_mm == pytest.approx(carrier)
    assert load.force_n == pytest.approx(sun / (vehicle.kit.module_mm * 24 / 2) / 3)
    weak = evaluate(bus(planets=1, tooth_limit_n=200.0))
    finding = next(f for f in weak.findings if f.code == "differential-clicks")
    assert finding.mend is not None
    assert tells(finding.text, "axle.planet-gears-are-enough")
    # at the torque that is told the tooth bears its limit: a motor of less never comes there
    assert finding.figure is not None
    motor = weak.vehicle.motor
    reached = motor.stall_torque_n_mm * 200.0 / finding.figure
    assert tells(
        finding.text,
        "axle.at-motor-stall-in-gear-each-planet-tooth",
        torque=in_n_mm(reached, 0),
    )
    for share, found in ((0.99, False), (1.01, True)):
        other = motor.model_copy(update={"stall_torque_n_mm": reached * share})
        codes = {
            f.code for f in evaluate(weak.vehicle.model_copy(update={"motor": other})).findings
        }
        assert ("differential-clicks" in codes) == found
    assert "differential-clicks" not in {
        f.code for f in evaluate(apply_edit(weak.vehicle, finding.mend)).findings
    }
    small, source = planet_limit_n(bus(planet_teeth=8, tooth_limit_n=None))
    assert small is None
    assert tells(source, "axle.no-estimate-below-12-teeth-and-the-planets")


@pytest.mark.parametrize(
    ("sun", "ring", "count", "fits"),
    [
        (24, 56, 2, True),
        (24, 56, 3, False),
        (24, 56, 4, True),
        (24, 56, 5, True),
        (30, 90, 3, True),
        (24, 57, 3, False),
    ],
)
def test_equal_planets_fit_where_willis_says(sun: int, ring: int, count: int, fits: bool) -> None:
    """S24 P16 R56 takes 2, 4, 5, 8 planets and not 3; S30 R90 takes 3 (reference values)."""
    made = Differential(kind="planetary", sun_teeth=sun, ring_teeth=ring, planets=count)
    assert (planets_fit(made) == "") is fits
    assert planets_fit(Differential(planets=5))
    assert not planets_fit(Differential(planets=4))

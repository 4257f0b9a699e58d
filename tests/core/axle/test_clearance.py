"""Clearance, ramps, springs and shaft line, by hand and by true geometry."""

from math import atan, cos, degrees, radians, sin

import pytest
from shapely.geometry import LineString, Point

from examples import example_vehicle
from mild_badger.core.axle.clearance import clearance, hub_rise_mm
from mild_badger.core.axle.running import running_of
from mild_badger.core.axle.shaft_line import line_choices, shaft_line
from mild_badger.core.axle.suspension import ride, sag
from mild_badger.core.evaluate import evaluate
from mild_badger.core.figures import plain
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle

TRACTOR = "larkholm-timber-tractor"


def with_(part: str, vehicle: Vehicle | None = None, **changes: object) -> Vehicle:
    made = tuple(Change(("running", part, name), value) for name, value in changes.items())
    return apply_edit(vehicle or example_vehicle(), Edit("", made))


def test_the_axles_height_and_what_hangs_lowest_by_hand() -> None:
    bus = with_("shape", housing_mm=30.0, arm_mm=10.0, case_mm=2.0)
    found = clearance(bus)
    # wheel 68, crown of 28 teeth and module 1: tip radius 15, wall 2
    assert found.axle_mm == 34
    assert found.housing_radius_mm == 17
    # the final drive's 36-tooth gear on the pinion's shaft: tip radius 19
    assert [low.height_mm for low in found.lows[:2]] == [34 - 19, 34 - 17]
    assert found.ground_mm == 15
    assert found.limited_by == say("axle.final-drive-gear")
    without = apply_edit(bus, Edit.one("", ("final_drive", "pairs"), []))
    assert clearance(without).ground_mm == 17
    assert clearance(without).limited_by == say("axle.differential-housing")
    raised = clearance(with_("shape", bus, hub="raised", rise_mm=8.0))
    assert raised.ground_mm == 23
    geared = with_("shape", bus, hub="geared", hub_driver=8, hub_driven=16)
    assert hub_rise_mm(geared) == 12
    lows = {low.name: low.height_mm for low in clearance(geared).lows}
    assert lows["differential housing"] == 29
    assert lows["hub case"] == 34 - (9 + 2)
    assert clearance(geared).limited_by == say("axle.hub-case")


def test_geared_hubs_reduce_and_turn_the_wheels_over() -> None:
    bus = example_vehicle()
    plain = evaluate(bus)
    geared = with_("shape", hub="geared", hub_driver=8, hub_driven=16)
    found = evaluate(geared)
    for before, after in zip(plain.gears, found.gears, strict=True):
        assert before.speed_mm_s is not None
        assert after.speed_mm_s == pytest.approx(-before.speed_mm_s / 2)  # one mesh more
    assert found.final_ratio == 2 * plain.final_ratio
    side = next(f for f in found.findings if f.code == "crown-wheel-side")
    assert side.mend is not None
    right = evaluate(apply_edit(geared, side.mend))
    assert "wrong-direction" not in {f.code for f in right.findings}


@pytest.mark.parametrize(
    ("overhang", "low", "wheel"), [(88, 30, 68), (54.4, 40.8, 68), (120, 20, 50)]
)
def test_ramps_touch_tyre_and_chassis(overhang: float, low: float, wheel: float) -> None:
    bus = apply_edit(
        with_("chassis", front_overhang_mm=overhang, front_low_mm=low, belly_mm=low),
        Edit.one("", ("wheels", "diameter_mm"), wheel),
    )
    found = clearance(bus)
    tyre = Point(0, wheel / 2)
    for away, angle in (
        (overhang, found.approach_deg),
        (bus.axle.wheelbase_mm / 2, found.breakover_deg / 2),
    ):
        a = radians(angle)
        ramp = LineString(
            [(away - 500 * cos(a), low - 500 * sin(a)), (away + 500 * cos(a), low + 500 * sin(a))]
        )
        assert tyre.distance(ramp) == pytest.approx(wheel / 2, abs=1e-6)
    # with wheels of no size it is the plain triangle: tan = height over distance
    flat = apply_edit(bus, Edit.one("", ("wheels", "diameter_mm"), 0.01))
    assert clearance(flat).approach_deg == pytest.approx(degrees(atan(low / overhang)), abs=0.02)


def test_what_drags_is_said() -> None:
    low = apply_edit(example_vehicle(), Edit.one("", ("wheels", "diameter_mm"), 30.0))
    titles = [f.title for f in evaluate(low).findings if f.code == "drags"]
    assert say("axle.the-drags-on-the-ground", name="differential housing") in titles
    assert clearance(with_("chassis", belly_mm=0.5), sag_mm=1.0).breakover_deg == 0
    case = with_("shape", hub="geared", hub_driver=12, hub_driven=60)
    assert "hub-case" in {f.code for f in evaluate(case).findings}


def test_springs_give_weight_over_rate() -> None:
    bus = with_("suspension", rate_n_mm=1.0, front_share=0.4)
    mass = running_of(bus).chassis.mass_kg
    found = sag(bus)
    assert found.front_mm == pytest.approx(mass * 9.80665 * 0.4 / 2)
    assert found.rear_mm == pytest.approx(mass * 9.80665 * 0.6 / 2)
    states = ride(bus)
    by_travel = {state.up_mm: state for state in states}
    assert by_travel[0.0].toe_deg == pytest.approx(0, abs=1e-9)
    assert by_travel[6.0].joint_deg == pytest.approx(-(by_travel[-6.0].joint_deg or 0))
    link = running_of(bus).suspension.link_mm
    assert sin(radians(by_travel[6.0].joint_deg or 0)) == pytest.approx(6 / link)
    # a rod that swings up and down alike pulls both wheels the same way in
    assert by_travel[6.0].toe_deg == pytest.approx(by_travel[-6.0].toe_deg)
    clear = [state.clearance_mm for state in states]
    assert clear == sorted(clear, reverse=True)
    rigid = with_("suspension", rate_n_mm=None)
    assert len(ride(rigid)) == 1
    assert sag(rigid).body_mm == 0
    soft = evaluate(with_("suspension", rate_n_mm=0.1))
    assert {"springs-soft", "bottoms-out"} <= {f.code for f in soft.findings}
    short = evaluate(with_("suspension", rate_n_mm=1.0, link_mm=5.0))
    assert "link-short" in {f.code for f in short.findings}


def test_the_shaft_line_by_hand() -> None:
    bus = with_("line", offset_mm=4.0, floor_mm=30.0, room_mm=2.0, floor_thick_mm=3.0)
    found = shaft_line(bus)
    assert found.shaft_mm == 30  # the axle at 34 less the offset
    assert found.flat_floor_mm == pytest.approx(30 + 2.4 + 2 + 3)
    assert found.tunnel_mm == pytest.approx(7.4)
    assert found.seat_mm == 60
    assert found.roof_mm == 130
    assert found.offset_share == pytest.approx(4 / 28)
    dropped = shaft_line(with_("line", bus, drop_driver=8, drop_driven=8))
    assert dropped.shaft_mm == 22
    choices = {plain(choice.words): choice for choice in line_choices(bus)}
    assert choices[say("axle.as-it-stands")].result == found
    most = choices["pinion 7 mm lower, the most"]
    assert most.result.shaft_mm == 27
    assert shaft_line(apply_edit(bus, most.edit)) == most.result
    deep = evaluate(with_("line", offset_mm=9.0))
    assert [f.figure for f in deep.findings if f.code == "offset-large"] == [
        pytest.approx(100 * 9 / 28)
    ]
    low = evaluate(with_("line", drop_driver=24, drop_driven=40))
    assert "shaft-drags" in {f.code for f in low.findings}

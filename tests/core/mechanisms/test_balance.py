"""A vehicle's balance: words, findings with their mends, bearings."""

from math import cos, radians

import pytest

from examples import example_vehicle
from mild_badger.core.errors import InputError
from mild_badger.core.layout.shaft_deflection import wall_loads
from mild_badger.core.mechanisms.balance.describe import describe_balance, describe_chart
from mild_badger.core.mechanisms.balance.edits import (
    add_balance,
    add_mass,
    move_boom,
    remove_balance,
    remove_mass,
    type_mass,
)
from mild_badger.core.mechanisms.balance.figures import balance_figures, weight_share, with_boom
from mild_badger.core.mechanisms.balance.findings import balance_findings
from mild_badger.core.mechanisms.balance.model import Balance
from mild_badger.core.mechanisms.balance.statics import behind_mm, spots
from mild_badger.core.mechanisms.bearings.edits import apply_bearing
from mild_badger.core.mechanisms.bearings.findings import bearing_findings
from mild_badger.core.mechanisms.bearings.loads import BEARING_KINDS
from mild_badger.core.mechanisms.bearings.rows import bearing_rows
from mild_badger.core.mechanisms.crane.model import Crane, CraneOutput, Ring, Screw, Spool, Worm
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle
from telling import refuses, tells

BUS = example_vehicle()


def planned(**more: object) -> Vehicle:
    vehicle = apply_edit(BUS, add_balance(BUS))
    assert vehicle.balance is not None
    return vehicle.model_copy(update={"balance": vehicle.balance.model_copy(update=more)})


def codes(vehicle: Vehicle) -> set[str]:
    return {finding.code for finding in balance_findings(vehicle)}


def test_a_fresh_balance_stands_and_says_so() -> None:
    vehicle = planned()
    assert codes(vehicle) <= {"mass-differs"}
    said = describe_balance(vehicle)
    assert tells(said, "balance.front-left-first")
    assert tells(said, "balance.a-counterweight-of-keeps-the-machine-stable")
    found = balance_figures(vehicle)
    assert found is not None
    assert tells(describe_chart(found), "balance.all-round-it-may-lift-at-and-at")
    assert describe_balance(BUS) == ""
    assert balance_figures(apply_edit(vehicle, remove_balance())) is None


@pytest.mark.parametrize(
    ("more", "code"),
    [
        ({"load_kg": 5.0}, "tips"),
        ({"load_kg": 0.9}, "tips-soon"),
        ({"weight_at_mm": 2900.0}, "tips-empty"),
        ({"slope_along_deg": 9.0}, "not-level"),
        ({"stands": "wheels", "slope_across_deg": 2.0}, "not-level"),
        ({"axis_ahead_mm": -300.0}, "tips-road"),
        ({"carriage": "trolley", "counterweight": "weight"}, "weight-share"),
    ],
)
def test_what_does_not_stand_is_a_finding(more: dict[str, object], code: str) -> None:
    assert code in codes(planned(**more))


def test_ballast_mends_what_tips() -> None:
    vehicle = planned(load_kg=1.5)
    fault = next(f for f in balance_findings(vehicle) if f.code.startswith("tips"))
    assert fault.mend is not None
    assert tells(fault.mend.label, "balance.make", name="moving")
    assert not {c for c in codes(apply_edit(vehicle, fault.mend)) if c.startswith("tips")}


def test_the_boom_moves_within_its_stops_and_masses_come_and_go() -> None:
    vehicle = planned()
    assert vehicle.balance is not None
    moved = apply_edit(vehicle, move_boom(vehicle.balance, 400.0, 9999.0)).balance
    assert moved is not None
    assert (moved.slew_deg, moved.reach_mm) == (40.0, moved.reach_high_mm)
    more = apply_edit(vehicle, add_mass(vehicle)).balance
    assert more is not None
    assert more.masses[-1].name == "mass 1"
    fewer = apply_edit(vehicle, remove_mass(vehicle.balance, 0)).balance
    assert fewer is not None
    assert [m.name for m in fewer.masses] == [m.name for m in vehicle.balance.masses[1:]]


def crane(**step: object) -> Crane:
    return Crane(
        outputs=(
            CraneOutput(name="slewing", worm=Worm(), end=Ring()),
            CraneOutput(name="trolley", end=Screw()),
            CraneOutput(name="weight", source="trolley", end=Screw()).model_copy(update=step),
            CraneOutput(name="hoist", worm=Worm(), end=Spool()),
        )
    )


def test_the_weight_goes_as_far_as_the_gears_take_it() -> None:
    pairs = (GearPair(driver=8, driven=24, idlers=(12,)),)
    vehicle = planned(carriage="trolley", counterweight="weight")
    right = vehicle.model_copy(update={"crane": crane(pairs=pairs)})
    assert weight_share(right) == pytest.approx(1 / 3)
    wrong = vehicle.model_copy(update={"crane": crane(pairs=(GearPair(driver=8, driven=24),))})
    assert weight_share(wrong) == pytest.approx(-1 / 3)
    assert "weight-runs-in" in codes(wrong)
    assert "weight-runs-in" not in codes(right)


def test_every_bearing_is_judged_and_a_bad_one_mended() -> None:
    vehicle = planned().model_copy(update={"crane": crane()})
    rows = bearing_rows(vehicle)
    assert [row.name for row in rows][:4] == [
        "slewing, first bearing",
        "slewing, second bearing",
        "slewing, slewing ring",
        "trolley, first bearing",
    ]
    assert rows[-1].carries == "wheels"
    assert apply_bearing(vehicle, rows[-1], "metal") is None
    assert all(len(row.judged) == len(BEARING_KINDS) for row in rows)
    assert tells(rows[2].summary, "bearings.kind-serves", kind="metal")
    faults = list(bearing_findings(vehicle))
    assert {fault.where[1] for fault in faults} >= {"slewing", "trolley"}
    for fault in faults:
        assert fault.mend is not None
        vehicle = apply_edit(vehicle, fault.mend)
    assert not list(bearing_findings(vehicle))
    assert [row.carries for row in bearing_rows(BUS)] == ["wheels"]


def test_the_bearings_of_a_placed_box_carry_what_its_teeth_push() -> None:
    """Walls take all of a mesh's force at the motor's stall: T / r / cos 20° on each shaft."""
    tractor = example_vehicle("larkholm-timber-tractor")
    stack = stack_for(tractor)
    assert stack is not None
    loads = wall_loads(tractor, stack)
    walls = [load.wall for load in loads if load.shaft == "layshaft.1"]
    assert len(walls) >= 2
    assert len(set(walls)) == len(walls)
    pair = tractor.box.shared()[0].train[0]
    radius = pair.driver * tractor.kit.module_mm / 2
    force = tractor.motor.shaft_stall_n_mm / radius / cos(radians(20))
    one, other = (load.load_n for load in loads if load.shaft == "input.1")
    # one mesh on it: both walls push the same way, or against one another where it overhangs
    assert force in (pytest.approx(one + other), pytest.approx(abs(one - other)))
    rows = [row for row in bearing_rows(tractor) if tells(row.name, "bearings.in-worst-in-gear")]
    assert len(rows) == len(loads)
    assert {row.planned for row in rows} == {None}


def test_a_weak_ring_lifts() -> None:
    vehicle = planned(reach_mm=260.0, load_kg=0.9).model_copy(
        update={"crane": Crane(outputs=(CraneOutput(name="s", worm=Worm(), end=Ring(teeth=30)),))}
    )
    assert isinstance(vehicle.balance, Balance)
    assert "ring-lifts" in codes(vehicle)


def test_a_mass_is_typed_field_by_field_or_refused() -> None:
    vehicle = planned()
    balance = vehicle.balance
    assert balance is not None
    for field, text, value in (
        ("name", " crew ", "crew"),
        ("mass_kg", "0.5", 0.5),
        ("on", "turntable", "turntable"),
        ("y_mm", "-4", -4.0),
    ):
        changed = apply_edit(vehicle, type_mass(balance, 0, field, text)).balance
        assert changed is not None
        assert getattr(changed.masses[0], field) == value
    with refuses(
        InputError,
        "balance.a-mass-is-on-the-is-none-of-them",
        listed="chassis, turntable, carriage, counterweight",
    ):
        type_mass(balance, 0, "on", "roof")
    with refuses(InputError, "targets.is-not-a-number-type-one-such-as-3-45", what="chassis, mass"):
        type_mass(balance, 0, "mass_kg", "heavy")


def test_the_boom_held_elsewhere_is_the_boom_moved_there() -> None:
    vehicle = planned()
    assert vehicle.balance is not None
    held = balance_figures(with_boom(vehicle, 130.0, 900.0))
    moved = balance_figures(apply_edit(vehicle, move_boom(vehicle.balance, 130.0, 900.0)))
    assert held == moved
    assert with_boom(BUS, 1.0, 1.0) == BUS
    assert held is not None
    allowed, tips = held.charted(0.2)
    assert [mm for mm, _ in allowed] == list(held.chart.reach_mm)
    assert all(a <= t for (_, a), (_, t) in zip(allowed, tips, strict=True))
    assert max(kg for _, kg in tips) <= max(0.5, 4 * held.chart.allowed_kg[-1]) + 1e-9


def test_masses_are_seen_where_they_ride() -> None:
    vehicle = planned(slew_deg=90.0, reach_mm=200.0, weight_at_mm=50.0, weight_share=0.5)
    balance = vehicle.balance
    assert balance is not None
    seen = {spot.name: (spot.x, spot.y) for spot in spots(balance, 0.5)}
    assert list(seen["chassis"]) == [balance.masses[0].x_mm, 0]  # stays where it is
    assert seen["load"] == pytest.approx((0, 200))  # turned to the left
    assert seen["carriage"] == pytest.approx((0, 200))
    assert seen["moving weight"] == pytest.approx((0, -(50 + 0.5 * (200 - balance.reach_low_mm))))
    assert behind_mm(balance, 0.5) == pytest.approx(-seen["moving weight"][1])

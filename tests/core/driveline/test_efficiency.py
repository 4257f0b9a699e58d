"""One efficiency: the power flow's, against published cases and wherever a share is shown."""

import pytest
from hypothesis import given, settings

from examples import example_vehicle
from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.compare import compare_all
from mild_badger.core.driveline.assemble import assemble, box_output, shifter_state_for
from mild_badger.core.driveline.efficiency import (
    box_efficiencies,
    mean_efficiency,
    train_efficiencies,
    trains_alone,
)
from mild_badger.core.drivetrain.graph import (
    Body,
    Drivetrain,
    Equation,
    bevel_differential,
    fixed,
    held,
    planetary,
)
from mild_badger.core.drivetrain.power import power_flow
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.evaluate import evaluate
from mild_badger.core.find_set import find_set
from mild_badger.core.performance.power import power_table
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.results import GearState
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from strategies import vehicles


def graph(*parts: Equation, source: str) -> Drivetrain:
    names = {body for equation in parts for body in equation.bodies} | {source}
    return Drivetrain(tuple(Body(n, n, "shaft") for n in sorted(names)), parts, source)


@pytest.mark.parametrize(
    ("sun", "ring", "keeps", "wanted"),
    [(20, 80, 0.95, 0.9220), (24, 56, 0.96, 0.9451), (12, 40, 0.96, 0.9397)],
)
def test_a_planetary_set_loses_as_the_book_says(
    sun: int, ring: int, keeps: float, wanted: float
) -> None:
    # Müller, Epicyclic Drive Trains: ring fixed, sun drives, (1 + e0 R/S) / (1 + R/S)
    train = graph(planetary("s", "r", "c", (sun, ring)), source="s")
    stop = (held("r"),)
    solution = solve(train, {}, stop)
    flow = power_flow(train, {}, solution, {"c": -1.0}, carrying=stop, mesh_loss=1 - keeps)
    assert flow is not None
    assert flow.power_out / flow.power_in == pytest.approx(wanted, abs=5e-5)
    assert flow.power_in == pytest.approx(flow.power_out + flow.lost)


def test_with_the_arm_driving_it_loses_more() -> None:
    # the same source: ring fixed, arm drives, (1 + R/S) / (1 + R/(S e0)), S 20, R 80, 0.95²
    train = graph(planetary("s", "r", "c", (20, 80)), source="c")
    stop = (held("r"),)
    flow = power_flow(train, {}, solve(train, {}, stop), {"s": -1.0}, carrying=stop, mesh_loss=0.05)
    assert flow is not None
    assert flow.power_out / flow.power_in == pytest.approx(0.9204, abs=5e-5)


@pytest.mark.parametrize(("left", "right"), [(5.0, 5.0), (3.0, 3.0)])
def test_loads_on_wheels_that_are_free_do_work(left: float, right: float) -> None:
    # an open differential whose wheels nothing holds together: the housing carries their work
    train = graph(fixed("in", "case"), bevel_differential("case", "l", "r"), source="in")
    flow = power_flow(train, {}, solve(train, {}), {"l": -left, "r": -right}, mesh_loss=0.04)
    assert flow is not None
    assert flow.power_out == pytest.approx(left + right)
    assert flow.power_in == pytest.approx(left + right)
    assert flow.lost == pytest.approx(0.0)
    assert power_flow(train, {}, solve(train, {}), {"l": -5.0, "r": -4.0}) is None


def shares_agree(vehicle: Vehicle) -> None:
    """Gear column, strip, losses page and comparison read one figure."""
    shown = evaluate(vehicle)
    by_gear = box_efficiencies(vehicle)
    driving = [gear for gear in shown.gears if gear.state is GearState.DRIVES]
    for gear in driving:
        share = by_gear[gear.id]
        assert gear.box_efficiency == pytest.approx(share or 0.0, abs=1e-12)
        table = power_table(vehicle, gear.id, vehicle.motor.working_rpm)
        if table is not None:
            assert table.out_w / table.in_w == pytest.approx(gear.efficiency, rel=1e-9)
            # the losses of single couplings are summed: rounding grows with what goes in
            rounding = 1e-12 * max(table.in_w, 1.0)
            assert table.lost_w == pytest.approx(table.in_w - table.out_w, abs=rounding)
        # against the laws: power at the box's output by the torque there
        train, sleeves = assemble(vehicle), shifter_state_for(vehicle, gear.id)
        solution = solve(train, sleeves, conditions(vehicle, Straight(), locked=False))
        speed = solution.speed(box_output(vehicle))
        assert speed is not None
        load = -1.0 if speed > 0 else 1.0
        flow = power_flow(
            train, sleeves, solution, {box_output(vehicle): load}, mesh_loss=vehicle.kit.mesh_loss
        )
        if flow is not None and share is not None:
            assert abs(float(speed)) / flow.source_torque == pytest.approx(share, rel=1e-9)
    mean = mean_efficiency(vehicle)
    lost = shown.box_loss_percent
    if driving and mean is not None and all(by_gear[g.id] is not None for g in driving):
        assert lost == pytest.approx(100 * (1 - mean), abs=1e-9)


@pytest.mark.parametrize("name", DEMOS)
def test_every_shown_share_is_the_flow_s(name: str) -> None:
    vehicle = example_vehicle(name)
    shares_agree(vehicle)
    trains = {gear.id: gear.own for gear in evaluate(vehicle).gears if gear.own}
    for gear, train in trains.items():
        (share,) = train_efficiencies(vehicle, gear, [train])
        assert share == box_efficiencies(vehicle, (gear,))[gear]


@pytest.mark.parametrize("kind", ["open", "planetary", "none", "locked"])
def test_whatever_sits_between_the_wheels(kind: str) -> None:
    # straight ahead nothing turns in a differential, so that all four arrive alike
    vehicle = apply_edit(example_vehicle(), Edit.one("", ("differential", "kind"), kind))
    shares_agree(vehicle)
    shown = evaluate(vehicle).gears[0]
    assert shown.efficiency == pytest.approx(evaluate(example_vehicle()).gears[0].efficiency)
    table = power_table(vehicle, shown.id, 100.0)
    assert table is not None
    assert table.out_w / table.in_w == pytest.approx(shown.efficiency)


@given(vehicles())
@settings(max_examples=25, deadline=None)
def test_so_it_is_in_random_boxes(vehicle: Vehicle) -> None:
    shares_agree(vehicle)


def test_a_comparison_promises_what_the_box_then_has() -> None:
    vehicle = example_vehicle("larkholm-street-sweeper")
    offers = [(offer, offer.match) for offer in compare_all(vehicle)]
    assert sum(match is not None for _, match in offers) >= 3
    for offer, match in offers:
        if match is None:
            continue
        after = apply_edit(vehicle, match.edit(vehicle))
        driving = [g for g in evaluate(after).gears if g.state is GearState.DRIVES]
        shares = [gear.box_efficiency for gear in driving]
        assert offer.efficiency == pytest.approx(sum(shares) / len(shares), rel=1e-9)


def test_the_set_and_its_trade_offs_promise_the_same() -> None:
    vehicle = example_vehicle("larkholm-street-sweeper")
    answer = find_set(vehicle)
    assert not isinstance(answer.smallest, Impossible)
    for against, front in answer.fronts.items():
        assert len(front) == len(answer.efficiencies[against])
        assert all(0.5 < share < 1 for share in answer.efficiencies[against])


def test_trains_without_a_box_lose_in_each_mesh() -> None:
    vehicle = example_vehicle()
    trains = [gear.own for gear in evaluate(vehicle).gears][:3]
    meshes = [sum(1 + len(pair.idlers) for pair in train) for train in trains]
    assert trains_alone(trains, 0.05) == pytest.approx(sum(0.95**n for n in meshes) / 3)
    assert trains_alone([()], 0.05) == pytest.approx(1.0)

"""Bodies, sleeves and speeds of the demos' graphs, as audited; an output's shafts by hand."""

from fractions import Fraction
from typing import Any

import pytest

from examples import example_vehicle
from furnished import furnished
from mild_badger.core.axle.running import add_axle
from mild_badger.core.driveline.assemble import (
    assemble,
    assemble_crane,
    axle_body,
    axle_ids,
    box_output,
    shifter_state_for,
)
from mild_badger.core.driveline.crane import (
    build_crane,
    crane_end,
    crane_input,
    crane_shaft,
    inner_shafts,
    worm_efficiency,
    worm_holds,
)
from mild_badger.core.driveline.describe import describe_passing
from mild_badger.core.driveline.turns import body_turns
from mild_badger.core.drivetrain.builder import Builder
from mild_badger.core.drivetrain.graph import Drivetrain
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.ids import OutputId
from mild_badger.core.mechanisms.crane.model import Crane, CraneOutput, Ring, Worm
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from pinned import hold


@pytest.mark.parametrize("name", DEMOS)
def test_graphs_of_furnished_demos_are_as_audited(name: str) -> None:
    vehicle = furnished(name)
    vehicle = apply_edit(vehicle, add_axle(vehicle))
    train, crane = assemble(vehicle), assemble_crane(vehicle)
    figures: dict[str, Any] = {
        "bodies": [[b.id, b.kind, b.teeth] for b in train.bodies],
        "couplings": [[e.id, e.kind, e.bodies, e.sleeve, e.position] for e in train.equations],
        "crane": [b.id for b in crane.bodies],
        "output": box_output(vehicle),
        "released": [e.id for e in assemble(vehicle, released=True).equations],
        "sleeves": {g.id: shifter_state_for(vehicle, g.id) for g in vehicle.real.gears},
        "axles": [axle_body(axle, "crown") for axle in axle_ids(vehicle)],
        "speeds": {
            g.id: solve(train, shifter_state_for(vehicle, g.id)).speeds for g in vehicle.real.gears
        },
    }
    hold(__file__, name, figures)


def test_an_outputs_train_and_worm_by_hand() -> None:
    """12:36 against the motor, a worm 1:30 behind it, then a ring 12:60: 1 / (3 · 30 · 5)."""
    output = CraneOutput(
        id=OutputId("slew"),
        name="slewing",
        pairs=(GearPair(driver=12, driven=36),),
        worm=Worm(teeth=30),
        end=Ring(pinion=12, teeth=60),
    )
    builder = Builder()
    motor = builder.shaft("motor", "Motor")
    build_crane(builder, Crane(outputs=(output,)), {"motor": motor, "box output": motor}, 1.0)
    train = Drivetrain(tuple(builder.bodies.values()), tuple(builder.equations), motor)
    speeds = solve(train, {}).speeds
    assert abs(speeds[crane_end(output)] or 0) == Fraction(1, 3 * 30 * 5)
    assert abs(speeds[crane_shaft(output.id)] or 0) == Fraction(1, 90)
    assert [abs(speeds[shaft] or 0) for shaft in inner_shafts(output)] == [Fraction(1, 3)]
    assert crane_input(output.id) not in speeds


def test_a_worm_holds_below_its_friction_angle() -> None:
    # tan γ = z m / d; it holds while tan γ ≤ μ / cos α: 0.1 against 0.2 / 0.94
    assert worm_holds(Worm(mean_mm=10, mu=0.2), 1.0)
    assert not worm_holds(Worm(starts=3, mean_mm=10, mu=0.2), 1.0)
    # Shigley 13-46 with cos 20°, γ = atan 0.1, μ 0.05
    cosine = 0.9396926
    wanted = (cosine - 0.05 * 0.1) / (cosine + 0.05 / 0.1)
    assert worm_efficiency(Worm(mean_mm=10, mu=0.05), 1.0) == pytest.approx(wanted, rel=1e-6)


def test_turns_and_shares_are_said_one_way() -> None:
    bus = example_vehicle()
    speeds = solve(assemble(bus), shifter_state_for(bus, "3")).speeds
    assert body_turns(bus, "3", "wheel.left") == speeds["wheel.left"]
    assert body_turns(bus, None, "motor") == 1
    assert "93 %" in describe_passing(0.93)
    assert describe_passing(0.5, "the axle").endswith("drag left out")

"""Size and mass of what is built, against the solids' own boxes and volumes."""

import pytest

from examples import example_vehicle
from mild_badger.core.components.solids import solid_of
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.workshop.further_steps import vehicle_steps
from mild_badger.core.workshop.size import DENSITY, built_size, extent_mm, mass_kg


@pytest.mark.parametrize(
    ("name", "material"),
    [("larkholm-timber-tractor", "plywood"), ("larkholm-mail-bus", "brick")],
)
def test_size_and_mass_are_those_of_the_solids(name: str, material: str) -> None:
    vehicle = demo_vehicle(name)
    plan = vehicle_steps(vehicle)
    box = plan.box("")
    boxes = [solid_of(part).bounding_box() for part in box]
    wide = max(b[3] for b in boxes) - min(b[0] for b in boxes)
    high = max(b[4] for b in boxes) - min(b[1] for b in boxes)
    long = max(b[5] for b in boxes) - min(b[2] for b in boxes)
    assert extent_mm(box) == pytest.approx((long, wide, high), abs=0.5)
    cm3 = sum(solid_of(part).volume() for part in box) / 1000
    # prisms of one part may overlap a little, as a wall's joined beams do
    assert mass_kg(vehicle, box) == pytest.approx(cm3 * DENSITY[material] / 1000, rel=0.06)
    size = built_size(vehicle, plan)
    assert size is not None
    assert size.parts == len(plan.parts)
    assert size.whole_mm[0] > size.box_mm[0]


def test_more_work_asks_for_more_skill() -> None:
    skills = []
    for name in ("larkholm-sawmill-trolley", "larkholm-mail-bus", "larkholm-street-sweeper"):
        vehicle = demo_vehicle(name)
        size = built_size(vehicle, vehicle_steps(vehicle))
        assert size is not None
        skills.append(size.skill)
    assert skills == ["a first box", "some boxes built", "many boxes built"]


def test_a_box_without_a_place_has_no_size() -> None:
    vehicle = example_vehicle("larkholm-mail-bus")
    assert built_size(vehicle, vehicle_steps(vehicle)) is None

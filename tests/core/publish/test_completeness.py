"""The plan is whole, by its outputs alone: the demos, and a placed box of each architecture.

All pairings of paper and unit, and random boxes of each kind, by ``scripts/plan_check.py``.
"""

import pytest

from examples import example_vehicle
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.units import INCH, UnitSettings
from plan_outputs import CHECKS, Outputs

METRIC = UnitSettings()
DEMOS = {
    "larkholm-timber-tractor": ("A4", METRIC),
    "larkholm-mail-bus": ("Letter", METRIC),
    "larkholm-sawmill-trolley": ("A4", INCH),
    "larkholm-street-sweeper": ("A4", METRIC),
    "larkholm-crane-truck": ("Letter", INCH),
}
PLACED = {
    "placed-layshaft-slide": ("Letter", METRIC),
    "placed-two-shaft": ("A4", INCH),
    "placed-twin-layshaft": ("Letter", INCH),
    "placed-range-splitter": ("A4", METRIC),
}


def vehicle_named(name: str) -> Vehicle:
    """Read a demo or an example, on one of the papers and in one of the units."""
    vehicle = demo_vehicle(name) if name in DEMOS else example_vehicle(name)
    paper, units = (DEMOS | PLACED)[name]
    making = vehicle.making.model_copy(update={"paper": paper})
    return vehicle.model_copy(update={"making": making, "units": units})


@pytest.mark.parametrize("name", [*DEMOS, *PLACED])
def test_a_plan_is_whole_by_what_a_builder_has_in_hand(name: str) -> None:
    out = Outputs(vehicle_named(name))
    for check in CHECKS:
        check(name, out)

"""Findings stand at the limit the builder set, on neither side of it."""

import pytest

from mild_badger.core.evaluate import Evaluation, evaluate
from mild_badger.core.targets.speeds import deviation_percent
from mild_badger.core.vehicle.demo import DEMOS, demo_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit


def too_far(evaluation: Evaluation) -> set[str]:
    """The gears that are said to be off, by id."""
    return {f.where[0] for f in evaluation.findings if f.code == "ratio-error"}


@pytest.mark.parametrize("name", DEMOS)
def test_a_ratio_is_off_from_the_tolerance_on(name: str) -> None:
    vehicle = demo_vehicle(name)
    off = {
        gear.id: deviation_percent(gear.error_percent)
        for gear in evaluate(vehicle).gears
        if gear.error_percent is not None
    }
    for gear, deviation in off.items():
        if deviation < 0.01:
            continue
        for factor, said in ((0.98, True), (1.02, False)):
            tolerance = Edit.one("", ("search", "tolerance_percent"), deviation * factor)
            assert (gear in too_far(evaluate(apply_edit(vehicle, tolerance)))) is said


def test_the_size_of_the_error_and_its_limit_are_told() -> None:
    vehicle = apply_edit(demo_vehicle(), Edit.one("", ("search", "tolerance_percent"), 0.5))
    for finding in evaluate(vehicle).findings:
        if finding.code == "ratio-error":
            gear = evaluate(vehicle).gear(finding.where[0])
            assert gear is not None
            assert (finding.figure, finding.limit, finding.unit) == (gear.error_percent, 0.5, "%")

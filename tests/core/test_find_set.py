"""Everything told when the set is looked for: both answers, trade-offs, ways out."""

import pytest

from examples import example_vehicle
from mild_badger.core.driveline.efficiency import mean_efficiency
from mild_badger.core.find_set import find_set
from mild_badger.core.ratios.box_question import BoxMatch
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.ratios.propose import apply_set
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit


def test_both_answers_and_the_trade_offs_between_them() -> None:
    bus = example_vehicle()
    answer = find_set(bus)
    assert isinstance(answer.smallest, BoxMatch)
    assert isinstance(answer.nearest, BoxMatch)
    small, near = answer.smallest.found, answer.nearest.found
    assert small.worst_error_percent <= bus.search.tolerance_percent + 1e-9
    assert near.worst_error_percent <= small.worst_error_percent + 1e-9
    assert (small.cost.pairs, small.cost.gears) <= (near.cost.pairs, near.cost.gears)
    assert answer.ways == ()
    for against, front in answer.fronts.items():
        errors = [match.worst_error_percent for match in front]
        assert len(errors) == len(answer.efficiencies[against])
        assert min(errors) == pytest.approx(near.worst_error_percent)
        for match, share in zip(front, answer.efficiencies[against], strict=True):
            # what a set promises is what the box with that set has
            assert share == mean_efficiency(apply_edit(bus, apply_set(bus, match)))


def test_where_nothing_fits_ways_out_are_told() -> None:
    tight = apply_edit(example_vehicle(), Edit.one("", ("search", "tolerance_percent"), 0.01))
    answer = find_set(tight)
    assert isinstance(answer.smallest, Impossible)
    assert isinstance(answer.nearest, BoxMatch)
    assert answer.ways

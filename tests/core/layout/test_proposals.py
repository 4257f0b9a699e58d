"""Proposals for a whole box: ranked by how they hold, then by stock, then by size."""

import pytest

from examples import example_vehicle
from mild_badger.core.layout.apply_layout import apply_layout
from mild_badger.core.layout.describe import describe_proposal, placed_data
from mild_badger.core.layout.findings import layout_findings
from mild_badger.core.layout.proposals import changes_of, propose_layouts
from mild_badger.core.vehicle.box import Slot
from mild_badger.core.vehicle.edit.apply import apply_edit

from .test_place_box import with_placing

BUS = with_placing(example_vehicle(), seconds=5.0)


def test_what_holds_comes_first_then_what_is_in_stock_then_what_is_small() -> None:
    best = propose_layouts(BUS)
    every = (best, *best.others)
    assert len(every) > 1
    ranks = [(len(p.unplaced), -min(p.held or 0, 1), p.short, p.cost) for p in every]
    assert ranks == sorted(ranks)
    for number, placed in enumerate(every, start=1):
        taken = apply_edit(BUS, apply_layout(BUS, placed))
        skips = "skips-at-stall" in {f.code for f in layout_findings(taken)}
        assert placed.held is not None
        assert skips is (placed.held < 1)
        assert describe_proposal(BUS, placed, number)


def test_a_proposal_says_which_trains_it_would_change_and_by_how_much() -> None:
    placed = propose_layouts(BUS)
    changed = {change.gear: change for change in changes_of(placed)}
    taken = apply_edit(BUS, apply_layout(BUS, placed))
    for slot in taken.box.slots:
        old = BUS.box.slot(slot.gear)
        assert isinstance(slot, Slot)
        assert isinstance(old, Slot)
        teeth = [[(p.driver, p.driven, p.idlers) for p in s.train] for s in (old, slot)]
        assert (teeth[0] != teeth[1]) == (slot.gear in changed)
        if slot.gear in changed:
            before, after = map(_ratio, (old, slot))
            assert changed[slot.gear].percent == pytest.approx(100 * (after / before - 1))
    listed = placed_data(BUS, placed)["changes"]
    assert {row["gear"] for row in listed} == set(changed)


def _ratio(slot: Slot) -> float:
    ratio = 1.0
    for pair in slot.train:
        ratio *= pair.driven / pair.driver
    return ratio

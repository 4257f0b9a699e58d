"""Every mechanism at once on every demo: findings, steps, parts and figures, as audited."""

import pytest

from examples import example_vehicle
from furnished import furnished
from mild_badger.core.mechanisms.base import RunningState
from mild_badger.core.mechanisms.lever.describe import lever_stands
from mild_badger.core.mechanisms.lever.edits import (
    lay_out_lever,
    move_fulcrum,
    place_gears,
    remove_lever,
)
from mild_badger.core.mechanisms.lever.findings import lever_box_findings, lever_findings
from mild_badger.core.mechanisms.lever.reach import lever_rpm, lever_seen, reach_of
from mild_badger.core.mechanisms.plain import finite
from mild_badger.core.mechanisms.registry import MECHANISMS
from mild_badger.core.mechanisms.steps import mechanism_steps
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.tally import Tally
from pinned import hold


@pytest.mark.parametrize("name", DEMOS)
def test_mechanisms_of_every_demo_are_as_audited(name: str) -> None:
    vehicle = furnished(name)
    bare = example_vehicle(name)
    gear = vehicle.real.gears[0].id
    figures: dict[str, object] = {"steps": [s.key for s in mechanism_steps(vehicle)]}
    for mechanism in MECHANISMS:
        tally = Tally()
        mechanism.count(tally, vehicle)
        figures[mechanism.key] = {
            "findings": [[f.code, f.where, f.figure, f.limit] for f in mechanism.findings(vehicle)],
            "steps": [[s.kind, s.id, s.name, len(s.words) > 20] for s in mechanism.steps(vehicle)],
            "parts": tally.count,
            "users": {str(part): list(users) for part, users in tally.users.items()},
            "driven": mechanism.data(vehicle, RunningState(gear, gear, 400.0)),
            "neutral": mechanism.data(vehicle, RunningState(None, None, 400.0)),
            "bare": mechanism.data(bare, RunningState(gear, gear, 400.0)) is not None,
        }
    hold(__file__, name, figures)


def test_what_is_without_bound_has_no_figure() -> None:
    assert finite(2.5) == 2.5
    assert finite(float("inf")) is None


def test_levers_are_laid_out_seen_and_moved_as_audited() -> None:
    trolley = example_vehicle("larkholm-sawmill-trolley")
    beside = furnished("larkholm-mail-bus")
    gears = [gear.id for gear in trolley.real.gears]
    placed = place_gears(trolley)
    assert trolley.stepless is not None
    laid_out = apply_edit(beside, lay_out_lever(beside))
    figures = {
        "seen": {gear: lever_seen(trolley, gear) for gear in (None, *gears)},
        "stands": [bool(lever_stands(trolley, gear)) for gear in gears],
        "placed": None if placed is None else apply_edit(trolley, placed).box.slots,
        "laid out": [laid_out.box, laid_out.lever_drive],
        "reach": reach_of(trolley.stepless),
        "rpm": [
            lever_rpm(v, g, 500.0) for v in (trolley, beside) for g in (None, v.real.gears[0].id)
        ],
        "moved": apply_edit(trolley, move_fulcrum(trolley, 37.5, gears[0])).box.slots,
        "moved beside": apply_edit(beside, move_fulcrum(beside, 37.5)).lever_drive,
        "gone": apply_edit(beside, remove_lever(beside)).lever_drive,
        "faults": [
            [f.code, f.where, f.figure, f.limit]
            for v in (trolley, beside, laid_out)
            for faults in (lever_findings(v), lever_box_findings(v))
            for f in faults
        ],
    }
    hold(__file__, "lever", figures)

"""Shafts held at points: boxes are searched, moved and turned so that they stand there."""

import json
from functools import cache
from itertools import pairwise
from math import hypot
from pathlib import Path

import pytest

from examples import example_vehicle
from mild_badger import cli
from mild_badger.core.components.collide import collide
from mild_badger.core.errors import InputError
from mild_badger.core.layout.apply_layout import apply_layout
from mild_badger.core.layout.describe import placed_data
from mild_badger.core.layout.findings import layout_findings
from mild_badger.core.layout.free_routes import STEP_MM, free_ways_between
from mild_badger.core.layout.place_box import place_box
from mild_badger.core.layout.routes import Bounds
from mild_badger.core.structure.pins import set_pin, shaft_named
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.vehicle.bodies import input_shaft, lay_shaft
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.files.vehicle_file import save
from telling import refuses, tells

from .test_place_box import with_placing

TRACTOR = example_vehicle("larkholm-timber-tractor")


def holding(vehicle: Vehicle, **places: tuple[float, float]) -> Vehicle:
    """Hold shafts, by their names with a point for the dot."""
    for name, place in places.items():
        vehicle = apply_edit(vehicle, set_pin(vehicle, name.replace("_", "."), place))
    return vehicle


def codes(vehicle: Vehicle) -> list[str]:
    return [finding.code for finding in layout_findings(vehicle)]


def test_a_box_is_turned_so_that_its_layshaft_stands_where_it_is_held() -> None:
    apart = 48.75  # (12 + 27) · 2.5 / 2, the tractor's centre distance
    held = holding(TRACTOR, input_1=(20.0, 10.0), layshaft_1=(20.0 + apart, 10.0))
    before, after = stack_for(TRACTOR), stack_for(held)
    assert before is not None
    assert after is not None
    rods = after.rods
    assert (rods[input_shaft()].x_mm, rods[input_shaft()].y_mm) == pytest.approx((20.0, 10.0))
    assert (rods[lay_shaft()].x_mm, rods[lay_shaft()].y_mm) == pytest.approx((20.0 + apart, 10.0))
    for one in rods:  # turned as a whole: every distance is as it was
        for other in rods:
            assert after.apart_mm(one, other) == pytest.approx(before.apart_mm(one, other))
    assert "pin-missed" not in codes(held)
    assert collide(held).clear


def test_a_shaft_held_where_its_pairs_do_not_reach_is_found_and_let_go() -> None:
    held = holding(TRACTOR, layshaft_1=(10.0, 10.0))
    (found,) = [f for f in layout_findings(held) if f.code == "pin-missed"]
    assert found.figure == pytest.approx(48.75 - hypot(10, 10), abs=1e-6)
    assert found.mend is not None
    assert apply_edit(held, found.mend).placing.pins == ()


def test_a_slot_box_is_searched_with_its_output_held() -> None:
    bus = with_placing(example_vehicle(), seconds=4.0)
    held = holding(bus, input_1=(40.0, 16.0), selector_1=(48.0, 48.0))
    placed = place_box(held, enough=True)
    # sought mirrored, as the lever has its first rail on the right
    assert (placed.shift_u, placed.height_u) == (-1, 4)
    taken = apply_edit(held, apply_layout(held, placed))
    layout = taken.layout
    assert layout is not None
    places = {shaft.name: (shaft.x_mm, shaft.y_mm) for shaft in layout.shafts}
    assert places["input.1"] == (40.0, 16.0)
    assert places[taken.box.output] == (48.0, 48.0)
    # what is said of it is said of the box as it is taken
    unit = held.kit.grid_unit_mm
    assert placed_data(held, placed)["shift_u"] == (48.0 - 40.0) / unit
    assert not {"pin-missed", "clash", "bad-seat", "outside-hull"} & set(codes(taken))


def inner_shaft(vehicle: Vehicle) -> tuple[str, tuple[float, float]]:
    """A shaft between two pairs of a placed slot box, and where it stands, mm."""
    assert vehicle.layout is not None
    shaft = next(s for s in vehicle.layout.shafts if s.side != "both" and "idler" not in s.name)
    return shaft.name, (shaft.x_mm, shaft.y_mm)


@cache
def placed_bus() -> Vehicle:
    return placed_with(with_placing(example_vehicle(), seconds=6.0))


def placed_with(vehicle: Vehicle) -> Vehicle:
    return apply_edit(vehicle, apply_layout(vehicle, place_box(vehicle, enough=True)))


def test_an_inner_shaft_of_a_slot_box_stays_where_it_is_held() -> None:
    first = placed_bus()
    name, (x, y) = inner_shaft(first)
    # a step beside where the search put it of its own
    for place in ((x, y + 8), (x, y - 8), (x + 8, y), (x - 8, y)):
        held = placed_with(apply_edit(first, set_pin(first, name, place)))
        assert held.layout is not None
        if not held.layout.unplaced:
            break
    else:
        pytest.fail("nowhere")
    assert inner_place(held, name) == place
    assert not {"pin-missed", "clash", "bad-seat", "pin-without-shaft"} & set(codes(held))


def inner_place(vehicle: Vehicle, name: str) -> tuple[float, float]:
    assert vehicle.layout is not None
    return next((s.x_mm, s.y_mm) for s in vehicle.layout.shafts if s.name == name)


def test_in_wood_idlers_are_put_in_so_that_a_held_shaft_is_reached() -> None:
    """Two pairs through a shaft at a point of no pair's own distance: circles over idlers."""
    kit = TRACTOR.kit
    end, through = (0, round(120 / STEP_MM)), (round(47.3 / STEP_MM), round(61.9 / STEP_MM))
    ways = free_ways_between(
        kit,
        ((16, 32), (18, 30)),
        end,
        parity=0,
        layers=3,
        bounds=Bounds(*(sign * round(400 / STEP_MM) for sign in (-1, 1, -1, 1))),
        through={0: through},
    )
    assert ways
    for way in ways:
        number = len(way.train[0].idlers) + 1
        assert way.points[number] == pytest.approx(through, abs=1)
        # every mesh at its own distance
        reaches = []
        for pair in way.train:
            own = (pair.driver, *pair.idlers, pair.driven)
            reaches += [(a + b) * kit.module_mm / 2 for a, b in pairwise(own)]
        for (a, b), reach in zip(pairwise(way.points), reaches, strict=True):
            assert hypot(a[0] - b[0], a[1] - b[1]) * STEP_MM == pytest.approx(reach, abs=0.02)


def test_a_held_shaft_that_no_train_has_is_told() -> None:
    first = placed_bus()
    held = apply_edit(first, set_pin(first, "gear 1/shaft 3", (4.0, 4.0)))
    (finding,) = [f for f in layout_findings(held) if f.code == "pin-without-shaft"]
    assert finding.mend is not None
    assert apply_edit(held, finding.mend).placing.pins == ()


def test_shafts_are_called_by_what_they_are_by_letter_or_by_id() -> None:
    assert shaft_named(TRACTOR, "Input", ()) == input_shaft()
    assert shaft_named(TRACTOR, "B", (lay_shaft(),)) == lay_shaft()
    with refuses(InputError, "layout.there-is-no-shaft-called", name="Z"):
        shaft_named(TRACTOR, "Z", (lay_shaft(),))


def test_the_command_places_every_architecture(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "tractor.badger.json"
    save(TRACTOR, path)
    assert cli.run(["place", str(path), "--json", "--pin", "input=1cm,0"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert data["complete"]
    assert data["architecture"] == "layshaft"
    letters = {shaft["letter"]: shaft for shaft in data["shafts"]}
    assert letters["A"]["x_mm"] == 10.0
    kinds = {part["kind"] for part in data["components"]}
    assert {"wall", "shaft", "gear", "sleeve", "fork", "rail", "hub", "tie rod"} <= kinds
    assert cli.run(["place", str(path), "--size", "80,80"]) == 1  # mm: its gears reach farther
    assert tells(capsys.readouterr().out, "layout.the-part-reaches-beyond-the-clear-width-or")
    assert cli.run(["place", str(path), "--pin", "nowhere"]) == 2
    assert tells(capsys.readouterr().err, "command-line.write-a-pin-as-name-x-y", pin="nowhere")

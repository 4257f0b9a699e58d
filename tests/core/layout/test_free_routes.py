"""Slot boxes in wood and print: shafts at free distances, placed whole, proven by solids."""

import json
from math import hypot

import pytest
import sympy

from examples import example_vehicle
from mild_badger.core.components.collide import collide
from mild_badger.core.errors import InputError
from mild_badger.core.findings.finding import Severity
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.layout.apply_layout import apply_layout
from mild_badger.core.layout.findings import layout_findings
from mild_badger.core.layout.free_routes import STEP_MM, free_ways_between
from mild_badger.core.layout.idler import add_idler, remove_idler
from mild_badger.core.layout.manual_edit import move_shaft
from mild_badger.core.layout.place_box import place_box
from mild_badger.core.layout.reliefs import reliefs
from mild_badger.core.layout.routes import Bounds
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.vehicle.boxes import SlotBox
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle
from telling import refuses

WOOD = shipped_kit("wood-shop")
FAR = round(1000 / STEP_MM)
WIDE = Bounds(-FAR, FAR, -FAR, FAR)
RATIOS = (3.3, 2.1, 1.45, 1.0)
TRAINS = {
    "1": [(11, 34), (37, 39)],
    "2": [(10, 30), (43, 30)],
    "3": [(11, 17), (35, 32)],
    "4": [(20, 19), (20, 21)],
}


def slotted(kit: str, **placing: object) -> Vehicle:
    """A slot box of four speeds in a kit, not placed yet."""
    vehicle = example_vehicle("larkholm-timber-tractor")
    real = vehicle.real.model_dump() | {
        "gears": [{"name": name, "ratio": r} for name, r in zip(TRAINS, RATIOS, strict=True)]
    }
    slots = [
        {
            "gear": name,
            "column": 1 + number // 2,
            "face": ("front", "back")[number % 2],
            "train": [{"driver": a, "driven": b} for a, b in pairs],
        }
        for number, (name, pairs) in enumerate(TRAINS.items())
    ]
    data = vehicle.model_dump() | {
        "real": real,
        "kit": shipped_kit(kit).model_dump(),
        "box": {"architecture": "slot", "slots": slots},
        "layout": None,
    }
    names = {gear["name"]: gear["name"] for gear in real["gears"]}
    made = Vehicle.model_validate(json.loads(json.dumps(data, default=list)))
    assert {gear.name for gear in made.real.gears} == set(names)
    return made.model_copy(
        update={"placing": made.placing.model_copy(update={"seconds": 2.5, **placing})}
    )


def test_a_train_of_two_pairs_stands_where_two_circles_cross() -> None:
    """Against SymPy's intersection of circles."""
    end = (round(40 / STEP_MM), round(55 / STEP_MM))
    found = free_ways_between(
        WOOD, ((12, 20), (15, 25)), end, parity=0, layers=2, bounds=WIDE, most_idlers=0
    )
    one, other = ((a + b) * WOOD.module_mm / 2 for a, b in ((12, 20), (15, 25)))
    circles = (
        sympy.Circle(sympy.Point(0, 0), sympy.Rational(one)),
        sympy.Circle(sympy.Point(40, 55), sympy.Rational(other)),
    )
    wanted = {
        (round(float(p.x), 2), round(float(p.y), 2)) for p in circles[0].intersection(circles[1])
    }
    places = {tuple(round(c * STEP_MM, 2) for c in way.points[1]) for way in found}
    assert places
    assert places <= wanted


@pytest.mark.parametrize("parity", [0, 1])
def test_meshes_stand_at_their_distances_and_turn_the_output_as_asked(parity: int) -> None:
    ways = free_ways_between(
        WOOD, ((14, 31), (21, 26)), (0, round(61 / STEP_MM)), parity=parity, layers=2, bounds=WIDE
    )
    assert ways
    for way in ways:
        meshes = [(a, b) for a, b in zip(way.gears, way.gears[1:], strict=False) if a[1] != b[1]]
        assert len(meshes) % 2 == parity
        for (a, on, layer), (b, at, beside) in meshes:
            (x, y), (v, w) = way.points[on], way.points[at]
            apart = hypot(x - v, y - w) * STEP_MM
            assert apart == pytest.approx((a + b) * WOOD.module_mm / 2, abs=2 * STEP_MM)
            assert layer == beside
        assert way.gears[-1][2] == 1


@pytest.mark.parametrize("kit", ["wood-shop", "printed"])
def test_a_made_slot_box_is_placed_whole_and_touches_nothing(kit: str) -> None:
    vehicle = slotted(kit, near_percent=4.0, seconds=30.0)  # the first whole one is taken
    placed = place_box(vehicle, enough=True)
    assert placed.complete
    taken = apply_edit(vehicle, apply_layout(vehicle, placed))
    wrong = [f.code for f in layout_findings(taken) if f.severity is Severity.ERROR]
    assert wrong == []
    assert isinstance(taken.box, SlotBox)
    assert (taken.box.rail_teeth, taken.box.tie_teeth) == (24, 24)  # the rows stay as they are
    collision = collide(taken)
    assert collision.clear
    stack = stack_for(taken)
    assert stack is not None
    rows = [stack.rods[f"input.{n}"].x_mm for n in (1, 2)]
    assert abs(rows[1] - rows[0]) == pytest.approx(24 * vehicle.kit.module_mm)


def test_a_made_slot_box_keeps_to_the_space_and_says_what_would_help() -> None:
    low = slotted("wood-shop", high_mm=100.0)
    placed = place_box(low)
    taken = apply_edit(low, apply_layout(low, placed))
    assert "outside-hull" not in {f.code for f in layout_findings(taken)}
    assert not placed.complete
    quick = slotted("wood-shop", layers=1, seconds=12.0)
    told = reliefs(quick)
    assert any(getattr(words, "code", "") == "layout.layers-a-side" for words in told.helps)


def test_an_idler_is_put_in_by_hand_where_it_meshes_with_both() -> None:
    vehicle = slotted("wood-shop", near_percent=4.0, seconds=30.0)
    taken = apply_edit(vehicle, apply_layout(vehicle, place_box(vehicle, enough=True)))
    longer = apply_edit(taken, add_idler(taken, "1", 0))
    assert "bad-seat" not in {f.code for f in layout_findings(longer)}
    assert apply_edit(longer, remove_idler(longer, "1", 0)).layout == taken.layout
    with refuses(InputError, "layout.in-wood-and-print-a-shaft-stands-where-its"):
        move_shaft(taken, "input.1", 1, 1)

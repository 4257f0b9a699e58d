"""Boxes in space as audited: two that are placed on the grid, and those in a line of shafts."""

from fractions import Fraction
from pathlib import Path
from typing import Any

import pytest

from examples import example_vehicle
from mild_badger.core.components.hardware import describe_frame, hardware, shaft_lengths
from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.figures import plain as plain_text
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.layout.bearings import (
    bearing_cost,
    bearing_findings,
    choose_cheapest,
    seat_choices,
)
from mild_badger.core.layout.findings import (
    layout_findings,
)
from mild_badger.core.layout.gear import place_gear
from mild_badger.core.layout.idler import add_idler, pair_of_body, remove_idler
from mild_badger.core.layout.manual_edit import meshes_of_shaft, move_layer, move_shaft
from mild_badger.core.layout.point_to_point import ways_anywhere, ways_to
from mild_badger.core.layout.shaft_deflection import (
    separations,
    tooth_skip_torque_n_mm,
    wall_loads,
    weakest,
)
from mild_badger.core.layout.turning import (
    engaged_bodies,
    meshes_in,
    phases_in,
    shaft_rpm,
    shaft_turns,
)
from mild_badger.core.layout.verify import verify_forks, verify_layout, verify_stack
from mild_badger.core.structure.forks import forks_of, missing_forks
from mild_badger.core.structure.names import describe_body, describe_shaft, gear_of_body
from mild_badger.core.structure.plates import plate_findings, plates_of
from mild_badger.core.structure.shaft_box import shaft_stack, stack_for
from mild_badger.core.structure.shaft_lengths import (
    describe_stack,
    shaft_cuts,
    sleeve_saving_mm,
    unequal,
)
from mild_badger.core.structure.stack import Stack
from mild_badger.core.structure.train import OPEN, crossings, place_train
from mild_badger.core.structure.walls import long_ties, walls_of
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.codec import decode
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.edit.slots import set_second
from mild_badger.core.vehicle.model import Vehicle
from pinned import hold
from strategies import slot_of

FILES = Path(__file__).parent / "files"
PLACED = ("mail-bus", "street-sweeper")
BOXES = (*PLACED, "timber-tractor", "crane-truck")


def boxed(name: str) -> Vehicle:
    """A vehicle whose box stands in space: placed once and kept, or laid out as its shafts lie."""
    if name in PLACED:
        return decode((FILES / f"{name}-placed.badger.json").read_bytes())
    return example_vehicle(f"larkholm-{name}")


def codes(faults: Any) -> list[Any]:
    return [[f.code, f.severity, f.where, f.figure, f.limit] for f in faults]


def stack_figures(vehicle: Vehicle, stack: Stack) -> dict[str, Any]:
    forks = forks_of(vehicle, stack)
    cuts = shaft_cuts(vehicle, stack)
    plates = plates_of(vehicle, stack, forks)
    rows = separations(vehicle, stack)
    rods = list(stack.rods)
    return {
        "stack": stack,
        "sizes": [stack.length_mm, *(stack.middle_mm(n) for n in range(len(stack.slabs)))],
        "apart": [[stack.apart_mm(a, b) for b in rods] for a in rods[:4]],
        "forks": forks,
        "missing": missing_forks(stack, forks),
        "missing without": missing_forks(stack, forks[1:]),
        "cuts": cuts,
        "cut sizes": [c.overhang_mm for c in cuts],
        "saving": sleeve_saving_mm(vehicle, stack),
        "unequal": [len(unequal(cuts, limit)) for limit in (0.5, 2.0, 8.0)],
        "plates": plates,
        "plate sizes": [p.size_mm for p in plates],
        "plate faults": codes(plate_findings(vehicle, plates)),
        "walls": walls_of(vehicle, stack, forks),
        "plain walls": walls_of(vehicle, stack),
        "long ties": long_ties(vehicle, stack),
        "separations": rows,
        "weakest": list(weakest(rows)),
        "loads": wall_loads(vehicle, stack),
        "skips": tooth_skip_torque_n_mm(vehicle, stack),
        "seats": seat_choices(vehicle, stack),
        "cost": bearing_cost(vehicle, stack),
        "bearing faults": codes(bearing_findings(vehicle, stack)),
        "verified": codes(verify_stack(vehicle, stack)),
        "fork faults": codes(verify_forks(vehicle, stack, forks)),
        "slabs": {n: _slab(vehicle, stack, n) for n in range(len(stack.slabs))},
        "words": len(plain_text(describe_stack(vehicle, stack))),
    }


def _slab(vehicle: Vehicle, stack: Stack, slab: int) -> Any:
    meshes = meshes_in(vehicle, stack, slab)
    short = [[one, other, seat.dx_u, seat.dy_u] for one, other, seat in meshes]
    return [short, phases_in(stack, slab, meshes)] if meshes else None


@pytest.mark.parametrize("name", BOXES)
def test_the_box_in_space_is_as_audited(name: str) -> None:
    vehicle = boxed(name)
    stack = stack_for(vehicle)
    assert stack is not None
    figures = stack_figures(vehicle, stack)
    if vehicle.kit.bearings:
        cheap = apply_edit(vehicle, choose_cheapest(vehicle, stack))
        figures["cheapest"] = [cheap.frame.bearings, bearing_cost(cheap, stack)]
    figures |= {
        "faults": codes(layout_findings(vehicle)),
        "layout": codes(verify_layout(vehicle)),
        "hardware": sorted(hardware(vehicle)),
        "shafts": shaft_lengths(vehicle),
        "names": [describe_shaft(vehicle, rod) for rod in stack.rods],
        "bodies": [
            [disc.body, describe_body(vehicle, disc.body), gear_of_body(vehicle, disc.body)]
            for disc in stack.discs
        ],
    }
    for gear in (None, *(g.id for g in vehicle.real.gears)):
        figures[f"gear {gear}"] = [
            shaft_turns(vehicle, gear),
            shaft_rpm(vehicle, gear, 500.0),
            sorted(engaged_bodies(vehicle, gear)),
        ]
    hold(__file__, f"box-{name}", figures)


@pytest.mark.parametrize("kit", ["wood-shop", "printed"])
def test_made_boxes_in_a_line_are_as_audited(kit: str) -> None:
    vehicle = boxed("timber-tractor")
    vehicle = apply_edit(vehicle, Edit.one("", ("kit",), shipped_kit(kit)))
    frames: tuple[dict[str, Any], ...] = ({}, {"wall_mm": 9.0}, {"sleeve": "thin", "fork_mm": 4.0})
    for frame in frames:
        changes = tuple(Change(("frame", field), value) for field, value in frame.items())
        changed = apply_edit(vehicle, Edit("", changes))
        stack = shaft_stack(changed)
        if stack is not None:
            hold(__file__, f"line-{kit}-{len(frame)}", stack_figures(changed, stack))


@pytest.mark.parametrize("name", PLACED)
def test_moving_by_hand_is_as_audited(name: str) -> None:
    vehicle = boxed(name)
    assert vehicle.layout is not None
    figures: dict[str, Any] = {}
    for shaft in vehicle.layout.shafts:
        at = (shaft.x_mm + 8, shaft.y_mm - 4)
        figures[f"meshes {shaft.name}"] = meshes_of_shaft(
            vehicle, shaft.name, shaft.x_mm, shaft.y_mm
        )
        moved = apply_edit(vehicle, move_shaft(vehicle, shaft.name, *at))
        figures[f"moved {shaft.name}"] = [
            moved.layout.shafts if moved.layout else None,
            codes(verify_layout(moved))[:12],
        ]
    for gear in vehicle.layout.gears[:8]:
        moved = apply_edit(vehicle, move_layer(vehicle, gear.body, gear.layer + 1))
        figures[f"layer {gear.body}"] = [
            [g.layer for g in moved.layout.gears] if moved.layout else None,
            [f.code for f in verify_layout(moved)],
        ]
    hold(__file__, f"by-hand-{name}", figures)


def test_ways_of_single_trains_are_as_audited() -> None:
    figures: dict[str, Any] = {}
    for name in ("mail-bus", "timber-tractor"):
        vehicle = example_vehicle(f"larkholm-{name}")
        for gear in vehicle.real.gears[:4]:
            figures[f"{name} {gear.id}"] = place_gear(vehicle, gear.id)
    bus = example_vehicle()
    for x, y in ((4.0, 0.0), (3.0, 3.0), (6.0, 1.0)):
        ways = ways_to(bus, "3", x, y)
        figures[f"to {x} {y}"] = list(ways[:5])
    figures["anywhere"] = [[w.layers, w.turns(Fraction(1))] for w in ways_anywhere(bus, "3")[:20]]
    for body in ("gear 3/0.driver", "gear 3/1.driven", "output", "gear 5/0.idler0"):
        figures[f"pair of {body}"] = pair_of_body(bus, body)
    there = boxed("mail-bus")
    more = apply_edit(there, add_idler(there, "3", 0))
    less = apply_edit(more, remove_idler(more, "3", 0))
    figures["idler"] = [slot_of(v, "3").train for v in (more, less)]
    train, sleeves = assemble(more), shifter_state_for(more, "3")
    figures["turns"] = solve(train, sleeves).speeds["wheel.left"]
    figures["crossings"] = [
        crossings((0, 0), 5.0, (6.0, 0), 5.0),
        crossings((0, 0), 2.0, (6.0, 2.0), 4.5),
        crossings((0, 0), 1.0, (6.0, 2.0), 1.0),
    ]
    summed = apply_edit(bus, set_second(bus, "2", (GearPair(driver=8, driven=24),)))
    figures["summed"] = place_gear(summed, "2")
    slot = slot_of(bus, "2")
    figures["open"] = place_train(bus.kit, slot.train, OPEN)
    hold(__file__, "ways", figures)


def test_a_shaft_goes_to_the_nearest_place_of_its_grid() -> None:
    bus = boxed("mail-bus")
    assert bus.layout is not None
    name = bus.layout.shafts[3].name
    half = apply_edit(bus, Edit.one("", ("placing", "half_units"), True))
    for vehicle, place in ((bus, (16.0, -32.0)), (half, (20.0, -28.0))):
        moved = apply_edit(vehicle, move_shaft(vehicle, name, 19.2, -28.8))
        assert moved.layout is not None
        shaft = moved.layout.shaft(name)
        assert shaft is not None
        assert (shaft.x_mm, shaft.y_mm) == place


def test_the_frame_is_said_in_the_kits_own_measure() -> None:
    tractor, bus = boxed("timber-tractor"), boxed("mail-bus")
    for length, count in shaft_lengths(tractor).items():
        wanted = f"{count} of {length * tractor.kit.grid_unit_mm:.1f} mm"
        assert wanted in plain_text(describe_frame(tractor))
    for length, count in shaft_lengths(bus).items():
        assert f"{count} of {length:g} u" in describe_frame(bus)

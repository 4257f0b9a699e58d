"""Templates, parts, pieces and pictures of furnished demos, as audited."""

from pathlib import Path
from typing import Any

import pytest

from furnished import furnished
from mild_badger.core.axle.running import add_axle, usual_running
from mild_badger.core.components.describe import describe_part
from mild_badger.core.components.vehicle_parts import vehicle_components
from mild_badger.core.errors import InputError
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.kit.cautions import caution_of, cautions, cautions_for
from mild_badger.core.shift.gate import gates
from mild_badger.core.structure.spacers import tight_spacers
from mild_badger.core.vehicle.codec import decode
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.assembly import assembly_findings, assembly_plan
from mild_badger.core.workshop.boards import board_drawing, board_plans
from mild_badger.core.workshop.cutlist import cut_plans
from mild_badger.core.workshop.mistakes import mistakes_for
from mild_badger.core.workshop.parts import (
    describe_cost,
    parts_needed,
    parts_spare,
    price_name,
    set_price,
    stock_path,
)
from mild_badger.core.workshop.step_words import part_kind
from mild_badger.core.workshop.substitutes import substitutes
from mild_badger.core.workshop.taking_apart import take_apart
from mild_badger.core.workshop.templates import template_of, templates_of
from mild_badger.core.workshop.views import gate_figure, side_figure
from pinned import hold
from telling import tells

PLACED = Path(__file__).parents[1] / "layout" / "files"


def parts_of(vehicle: Vehicle) -> dict[str, Any]:
    needed = parts_needed(vehicle)
    return {
        "needed": needed,
        "spare": parts_spare(vehicle),
        "names": [price_name(part.key) for part in needed],
        "paths": [stock_path(vehicle, part) for part in needed],
        "substitutes": [substitutes(vehicle, part) for part in needed],
        "cost": len(describe_cost(needed)),
    }


def drawn(vehicle: Vehicle, key: str, *, kerf: bool = False) -> Any:
    """A template, or that it cannot be cut."""
    try:
        return template_of(vehicle, key, kerf=kerf)
    except InputError:
        return "refused"


@pytest.mark.parametrize("name", DEMOS)
def test_templates_and_parts_are_as_audited(name: str) -> None:
    vehicle = furnished(name)
    templates = templates_of(vehicle)
    figures: dict[str, Any] = {
        "templates": templates,
        "drawings": {t.key: drawn(vehicle, t.key) for t in templates},
        "boards": [
            [plan, [board_drawing(vehicle, plan, n) for n in range(1)]]
            for plan in board_plans(vehicle)
        ],
        "cuts": cut_plans(vehicle),
        **parts_of(vehicle),
    }
    priced = vehicle
    for number, part in enumerate(parts_needed(vehicle)[:4]):
        priced = apply_edit(priced, set_price(priced, part, 0.25 + number))
    figures["priced"] = parts_needed(priced)
    hold(__file__, f"parts-{name}", figures)


@pytest.mark.parametrize("kit", ["wood-shop", "printed"])
def test_made_boxes_have_templates_and_boards_as_audited(kit: str) -> None:
    vehicle = furnished("larkholm-timber-tractor")
    made: Kit = shipped_kit(kit)
    vehicle = apply_edit(vehicle, Edit.one("", ("kit",), made))
    figures = {
        "templates": [[t.key, drawn(vehicle, t.key, kerf=True)] for t in templates_of(vehicle)],
        "boards": board_plans(vehicle),
        "cuts": cut_plans(vehicle),
        **parts_of(vehicle),
    }
    hold(__file__, f"made-{kit}", figures)


@pytest.mark.parametrize("name", ["mail-bus", "timber-tractor"])
def test_pieces_views_and_assembly_are_as_audited(name: str) -> None:
    vehicle = furnished(f"larkholm-{name}")
    if name == "mail-bus":
        vehicle = decode((PLACED / "mail-bus-placed.badger.json").read_bytes())
    parts = vehicle_components(vehicle)
    plan = assembly_plan(vehicle)
    kinds = {part_kind(part) for part in parts}
    figures = {
        "parts": [describe_part(vehicle, part) for part in parts],
        "tight": tight_spacers(vehicle),
        "side": side_figure(parts),
        "gates": [gate_figure(gate) for gate in gates(vehicle)],
        "plan": [plan.steps, plan.stuck],
        "faults": [[f.code, f.where] for f in assembly_findings(vehicle)],
        "apart": [take_apart(vehicle, part.key) for part in parts[:6]],
        "mistakes": {kind: len(mistakes_for(vehicle, kind)) for kind in kinds},
    }
    hold(__file__, f"pieces-{name}", figures)


def test_cautions_are_there_for_every_kit() -> None:
    assert cautions()
    for name in ("wood-shop", "printed", "brick-grid"):
        chosen = cautions_for(shipped_kit(name))
        assert set(chosen) <= set(cautions())
    assert cautions_for(shipped_kit("wood-shop"))
    for kind in ("lifting", "liquid"):
        assert caution_of(kind) in cautions()


def test_what_more_axles_hubs_joints_and_a_layout_take_is_counted() -> None:
    """By hand: two bevels and three shafts an axle, a pair of hub gears a wheel, a pin a joint."""
    bus = furnished("larkholm-mail-bus")
    plain = {part.key: part.needed for part in parts_needed(bus)}
    two = apply_edit(bus, add_axle(bus))
    with_axle = {part.key: part.needed for part in parts_needed(two)}
    axle = two.additional_axles[0]
    rims = {b.teeth for b in bus.kit.bevels if b.role == "differential rim"}
    crown = ("differential rim" if axle.crown in rims else "bevel", axle.crown)
    for key, more in ((("bevel", axle.pinion), 1), (crown, 1), (("shaft", 0), 3)):
        assert with_axle[key] - plain.get(key, 0) == more
    running = usual_running(two)
    hubs = running.model_copy(
        update={"shape": running.shape.model_copy(update={"hub": "geared", "hub_driver": 12})}
    )
    geared = {p.key: p.needed for p in parts_needed(two.model_copy(update={"running": hubs}))}
    assert geared["fixed", 12] - with_axle.get(("fixed", 12), 0) == 4
    joint = [{"key": "gear 3/0.driver: shaft", "kind": "pinned"}]
    pinned = apply_edit(bus, Edit.one("", ("assembly", "joints"), joint))
    held = {p.key: p.needed for p in parts_needed(pinned)}
    assert held["pin", 0] - plain.get(("pin", 0), 0) == 1
    placed = decode((PLACED / "mail-bus-placed.badger.json").read_bytes())
    assert placed.layout is not None
    counted = {part.key: part.needed for part in parts_needed(placed)}
    alone = placed.model_copy(update={"layout": None})
    bare = {part.key: part.needed for part in parts_needed(alone)}
    saved = sum(len(group) - 1 for group in placed.layout.shared)
    fixed = sum(n for (kind, _), n in bare.items() if kind == "fixed")
    assert sum(n for (kind, _), n in counted.items() if kind == "fixed") == fixed - saved


def test_mistakes_follow_the_bore_the_drum_and_the_shaft_line() -> None:
    tractor = furnished("larkholm-timber-tractor")
    assert mistakes_for(tractor, "drum")
    for kind, path, value in (
        ("gear", ("making", "bore"), "keyed"),
        ("coupling", ("running",), usual_running(tractor)),
    ):
        before = apply_edit(tractor, Edit.one("", ("running",), None))
        before = before.model_copy(
            update={
                "shifting": before.shifting.model_copy(update={"actuation": "gate"}),
                "making": before.making.model_copy(update={"bore": "round"}),
            }
        )
        after = apply_edit(before, Edit.one("", path, value))
        assert len(mistakes_for(after, kind)) == len(mistakes_for(before, kind)) + 1


def test_boards_say_how_much_of_them_is_used() -> None:
    made = furnished("larkholm-timber-tractor")
    for plan in board_plans(made):
        area = plan.board_mm[0] * plan.board_mm[1] * len(plan.boards)
        covered = sum(p.want.wide_mm * p.want.high_mm for board in plan.boards for p in board)
        assert plan.used_share == pytest.approx(covered / area if area else 0)
        if plan.boards:
            assert f"{100 * plan.used_share:.0f} % used" in plan.summary
            assert f"{len(plan.boards)} board" in plan.summary
    sizes = (Change(("making", "board_mm"), 60.0), Change(("making", "board_high_mm"), 40.0))
    small = apply_edit(made, Edit("", sizes))
    assert any(plan.too_large for plan in board_plans(small))
    assert any(tells(plan.summary, "workshop.too-large") for plan in board_plans(small))

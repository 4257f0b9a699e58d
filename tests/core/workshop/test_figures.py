"""Templates, parts, pieces and pictures of furnished demos, as audited."""

from pathlib import Path
from typing import Any

import pytest

from furnished import furnished
from mild_badger.core.errors import InputError
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.shift.gate import gates
from mild_badger.core.vehicle.codec import decode
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.assembly import assembly_faults, assembly_plan
from mild_badger.core.workshop.boards import board_drawing, board_plans
from mild_badger.core.workshop.cautions import caution_of, cautions, cautions_for
from mild_badger.core.workshop.cutlist import cut_plans
from mild_badger.core.workshop.mistakes import mistakes_for
from mild_badger.core.workshop.model3d import gear_turns
from mild_badger.core.workshop.parts import (
    cost_words,
    parts_needed,
    parts_spare,
    price_name,
    set_price,
    stock_path,
)
from mild_badger.core.workshop.pieces import pieces_of, tight_spacers
from mild_badger.core.workshop.scene import exploded_figure, step_figure
from mild_badger.core.workshop.substitutes import substitutes
from mild_badger.core.workshop.taking_apart import take_apart
from mild_badger.core.workshop.templates import template_of, templates_of
from mild_badger.core.workshop.views import end_figures, gate_figure, side_figure
from pinned import hold

PLACED = Path(__file__).parents[1] / "layout" / "files"


def parts_of(vehicle: Vehicle) -> dict[str, Any]:
    needed = parts_needed(vehicle)
    return {
        "needed": needed,
        "spare": parts_spare(vehicle),
        "names": [price_name(part.key) for part in needed],
        "paths": [stock_path(vehicle, part) for part in needed],
        "substitutes": [substitutes(vehicle, part) for part in needed],
        "cost": len(cost_words(needed)),
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
    pieces = pieces_of(vehicle)
    plan = assembly_plan(vehicle)
    figures = {
        "pieces": pieces,
        "tight": tight_spacers(vehicle),
        "turns": gear_turns(vehicle, pieces),
        "ends": end_figures(vehicle, pieces),
        "side": side_figure(pieces),
        "gates": [gate_figure(gate) for gate in gates(vehicle)],
        "plan": plan,
        "faults": [[f.code, f.where] for f in assembly_faults(vehicle)],
        "steps": [step_figure(plan, step) for step in plan.steps[:6]],
        "exploded": exploded_figure(plan, 1.5, frozenset([pieces[0].key])),
        "apart": [take_apart(vehicle, piece.key) for piece in pieces[:6]],
        "mistakes": {kind: len(mistakes_for(vehicle, kind)) for kind in {p.kind for p in pieces}},
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

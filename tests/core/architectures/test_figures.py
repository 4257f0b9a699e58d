"""The best box of every kind: graph, diagram, length and parts, as audited."""

from fractions import Fraction
from typing import Any

import pytest

from examples import example_vehicle
from mild_badger.core.architectures.length import box_length_mm
from mild_badger.core.architectures.match import kind_of, match_box, trade_offs_for
from mild_badger.core.architectures.registry import (
    ARCHITECTURES,
    architecture_of,
    blank_box,
    search_of,
    searches,
)
from mild_badger.core.driveline.assemble import (
    LEVER_THROWS,
    LEVER_WHEEL,
    assemble,
    shifter_state_for,
)
from mild_badger.core.drivetrain.lever_motion import mean_turns
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.errors import DocumentError, InputError
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.ratios.box_question import Kind
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.tally import Tally
from pinned import hold
from strategies import vehicle_of


def box_figures(vehicle: Vehicle) -> dict[str, Any]:
    """What a vehicle's box is made of, asked of its architecture."""
    box = vehicle.box
    architecture = architecture_of(box)
    tally = Tally()
    architecture.count(tally, box, vehicle.kit)
    train = assemble(vehicle)
    gears = [gear.id for gear in vehicle.real.gears]
    search = architecture.search_for(box)
    return {
        "key": architecture.key,
        "layers": architecture.layers(box),
        "length": box_length_mm(box, vehicle.kit),
        "parts": tally.count,
        "users": {str(part): list(users) for part, users in tally.users.items()},
        "schemes": [architecture.scheme(box, gear) for gear in (None, *gears)],
        "bodies": [[body.id, body.kind, body.teeth] for body in train.bodies],
        "equations": [[e.id, e.kind, e.sleeve, e.position] for e in train.equations],
        "speeds": {
            g: solve(train, shifter_state_for(vehicle, g)).speed("wheel.left") for g in gears
        },
        "kind": None if search is None else search.kind,
    }


@pytest.mark.parametrize("kind", searches())
@pytest.mark.parametrize("feed", ["rail", "shaft"])
def test_the_best_box_of_every_kind_is_as_audited(kind: Kind, feed: str) -> None:
    vehicle = vehicle_of(3.9, 2.3, 1.4, 1.0, reverse=3.6)
    if feed == "shaft":
        vehicle = vehicle_of(5.2, 3.1, 2.0, 1.45, 1.0, reverse=4.4)
        if kind.startswith("slot"):
            vehicle = apply_edit(vehicle, Edit.one("", ("box", "feed"), "shaft"))
    figures: dict[str, Any] = {}
    for best in ("error", "size"):
        match = match_box(vehicle, kind, best=best)
        if isinstance(match, Impossible):
            figures[best] = "impossible"
            continue
        boxed = apply_edit(vehicle, match.edit(vehicle))
        figures[best] = {
            "worst": match.found.worst_error_percent,
            "trains": [[g.goal.gear, g.train, g.ratio] for g in match.found.gears],
            "remarks": len(architecture_of(boxed.box).remark(match)),
            "kind": kind_of(boxed.box),
            **box_figures(boxed),
        }
    hold(__file__, f"{kind}-{feed}", figures)


@pytest.mark.parametrize("architecture", ARCHITECTURES, ids=lambda a: str(a.key))
def test_a_blank_box_of_every_architecture_is_as_audited(architecture: Any) -> None:
    vehicle = vehicle_of(3.0, 2.0, reverse=3.0)
    gears = [gear.id for gear in vehicle.real.gears]
    blank = vehicle.model_copy(update={"box": blank_box(architecture.key, gears)})
    hold(__file__, f"blank-{architecture.key}", box_figures(blank))


@pytest.mark.parametrize("against", ["gears", "loss"])
def test_trade_offs_are_as_audited(against: str) -> None:
    figures: dict[str, Any] = {}
    for name in ("larkholm-mail-bus", "larkholm-timber-tractor"):
        vehicle = example_vehicle(name)
        try:
            points = trade_offs_for(vehicle, against=against)  # type: ignore[arg-type]
        except (InputError, DocumentError) as error:
            figures[name] = [type(error).__name__]
            continue
        figures[name] = [[p.worst_error_percent, [g.train for g in p.gears]] for p in points]
    hold(__file__, f"trade-offs-{against}", figures)


def test_every_search_belongs_to_its_architecture() -> None:
    for kind in searches():
        architecture, search = search_of(kind)
        assert search.kind == kind
        assert search in architecture.searches
    with pytest.raises(DocumentError):
        blank_box("no such box", ["1"])


def test_a_lever_beside_a_box_turns_with_its_mean_or_is_held() -> None:
    bus = example_vehicle()
    drive = LeverDrive(pairs=(GearPair(driver=12, driven=24),))
    beside = bus.model_copy(update={"lever_drive": drive})
    speeds = solve(assemble(beside), {}).speeds
    mean = mean_turns(drive)
    assert speeds[LEVER_THROWS] == Fraction(-1, 2) * bus.motor.turns
    assert abs(speeds[LEVER_WHEEL] or 0) == mean / 2
    plain = bus.model_copy(update={"lever_drive": LeverDrive()})
    assert solve(assemble(plain), {}).speeds[LEVER_THROWS] == bus.motor.turns
    coarse = LeverDrive(teeth=6, throw_mm=0.5, fulcrum_mm=65)
    stuck = bus.model_copy(update={"lever_drive": coarse})
    assert mean_turns(coarse) == 0
    assert solve(assemble(stuck), {}).speeds[LEVER_WHEEL] == 0

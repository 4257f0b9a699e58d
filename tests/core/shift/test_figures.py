"""What every shifter reaches, its places, drums, catches and play, as audited."""

from math import radians, tan
from typing import Any, get_args

import pytest

from examples import example_vehicle
from mild_badger.core.architectures.match import match_box
from mild_badger.core.architectures.registry import searches
from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.errors import BadgerError
from mild_badger.core.figures import plain as plain_text
from mild_badger.core.ratios.box_question import Kind
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.shift.assign import place_reason, propose_places
from mild_badger.core.shift.catch import best_catch_order, catch_run, catch_shift, catch_sleeves
from mild_badger.core.shift.drum import Track, drum_layout, drum_order
from mild_badger.core.shift.findings import shift_findings
from mild_badger.core.shift.gate import (
    describe_gate,
    detent_force,
    forward_face,
    gates,
    left_rail,
)
from mild_badger.core.shift.mirror import mirror_hand, mirror_pattern, turn_box
from mild_badger.core.shift.moves import shift_between
from mild_badger.core.shift.positions import (
    angles_text,
    columns_text,
    describe_catch,
    describe_drum,
    order_text,
    parse_angles,
    parse_columns,
    parse_order,
)
from mild_badger.core.shift.reachability import reach
from mild_badger.core.shift.routes import shift_ways, way_between
from mild_badger.core.shift.sequence import play, usual_run
from mild_badger.core.shift.slide import describe_slide, slide_checks
from mild_badger.core.shift.slots import slot_columns
from mild_badger.core.shift.states import prove, shifters
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.shifting import Shifting
from pinned import hold

ACTUATIONS = get_args(Shifting.model_fields["actuation"].annotation)


def figures_of(vehicle: Vehicle) -> dict[str, Any]:
    """Everything that the shifter of a vehicle comes to."""
    ahead = conditions(vehicle, Straight(), locked=False)
    train = assemble(vehicle)
    proof = prove(vehicle, ahead)
    ids = [gear.id for gear in vehicle.real.gears]
    ratios = {}
    for gear in ids:
        speed = solve(train, shifter_state_for(vehicle, gear), ahead).speeds.get("wheel.left")
        ratios[gear] = None if not speed else 1 / speed
    groups = shifters(train)
    found: dict[str, Any] = {
        "proof": proof,
        "locks": len(proof.locks),
        "faults": list(shift_findings(vehicle, proof, ratios)),
        "shifters": groups,
        "reach": len(reach(vehicle, groups)),
        "gates": gates(vehicle),
        "faces": [forward_face(vehicle), left_rail(vehicle)],
        "force": detent_force(vehicle.lever),
        "feel": detent_force(vehicle.lever).feel,
        "plungers": [gate.plungers for gate in gates(vehicle)],
        "moves": {
            f"{a} {b}": vars(shift_between(vehicle.box, a, b)) for a in (None, *ids) for b in ids
        },
        "run": usual_run(vehicle),
        "slides": slide_checks(vehicle),
        "sizes": [
            len(plain_text(describe_gate(vehicle))),
            len(plain_text(describe_slide(vehicle))),
        ],
    }
    run = play(vehicle, usual_run(vehicle))
    frames = run.frames
    found["frames"] = [[f.time_s, f.sleeves, f.hands, f.gears] for f in frames]
    found["between"] = [
        [f.sleeves, f.hands, f.gears]
        for share in (0.0, 0.13, 0.5, 0.77, 1.2)
        for f in (run.at(share * run.seconds),)
    ]
    return found


@pytest.mark.parametrize("actuation", ACTUATIONS)
@pytest.mark.parametrize("name", DEMOS)
def test_shifters_of_the_demos_are_as_audited(name: str, actuation: str) -> None:
    vehicle = example_vehicle(name)
    vehicle = apply_edit(vehicle, Edit.one("", ("shifting", "actuation"), actuation))
    figures = figures_of(vehicle) if vehicle.box.sleeved else {}
    for key, ask in (
        ("order", drum_order),
        ("layout", drum_layout),
        ("catch", catch_run),
        ("catch sleeves", catch_sleeves),
        ("best catch", best_catch_order),
        ("texts", lambda v: [order_text(v), angles_text(v), columns_text(v)]),
        (
            "words",
            lambda v: [len(plain_text(describe_drum(v))), len(plain_text(describe_catch(v)))],
        ),
        ("ways", shift_ways),
    ):
        try:
            figures[key] = ask(vehicle)
        except BadgerError as error:
            figures[key] = type(error).__name__
    hold(__file__, f"{name}-{actuation.replace(' ', '-')}", figures)


@pytest.mark.parametrize("kind", searches())
def test_every_architecture_shifts_as_audited(kind: Kind) -> None:
    vehicle = example_vehicle("larkholm-timber-tractor")
    ids = [gear.id for gear in vehicle.real.gears]
    found = match_box(vehicle, kind, best="error")
    assert not isinstance(found, Impossible)
    vehicle = apply_edit(vehicle, found.edit(vehicle))
    figures = figures_of(vehicle)
    figures["place"] = len(place_reason(vehicle))
    figures["columns"] = slot_columns(
        vehicle,
        {gear: solve(assemble(vehicle), shifter_state_for(vehicle, gear)) for gear in ids},
    )
    hold(__file__, f"box-{kind}", figures)


def test_places_are_proposed_and_mirrored_as_audited() -> None:
    figures: dict[str, Any] = {}
    for name in DEMOS:
        vehicle = example_vehicle(name)
        for what, ask in (
            ("places", propose_places),
            ("turned", turn_box),
            ("pattern", mirror_pattern),
            ("hand", mirror_hand),
        ):
            try:
                after = apply_edit(vehicle, ask(vehicle))
            except BadgerError as error:
                figures[f"{name} {what}"] = type(error).__name__
                continue
            slots = [s.model_dump(exclude={"train"}) for s in after.box.slots]
            figures[f"{name} {what}"] = [slots, after.lever, after.shifting]
    hold(__file__, "places", figures)


def test_orders_angles_and_columns_are_read_as_they_are_written() -> None:
    vehicle = example_vehicle("larkholm-street-sweeper")
    for order in ("R, N, 1, 2, 3, 4", "N;1;2;3;4;R"):
        parsed = parse_order(vehicle, order)
        assert set(parsed) == {None, "1", "2", "3", "4", "R"}
        changed = apply_edit(vehicle, Edit.one("", ("shifting", "drum", "order"), parsed))
        assert parse_order(changed, order_text(changed)) == parsed
    hold(
        __file__,
        "read",
        {
            "angles": parse_angles(vehicle, "0 40; 80° 130 170 200"),
            "columns": parse_columns(vehicle, "2, 1; 3"),
            "way": [way_between(vehicle, a, b) for a, b in ((None, "1"), ("1", "2"), ("R", "4"))],
            "catch": [catch_shift(vehicle, a, b) for a, b in ((None, "1"), ("1", "2"), ("4", "1"))],
        },
    )


def test_a_drum_with_its_own_angles_is_as_audited() -> None:
    vehicle = example_vehicle()
    vehicle = apply_edit(
        vehicle,
        Edit(
            "",
            (
                Change(("shifting", "actuation"), "drum"),
                Change(("shifting", "drum", "order"), ["R", None, "1", "2", "3", "4", "5", "6"]),
            ),
        ),
    )
    layout = drum_layout(vehicle)
    figures = {
        "layout": layout,
        "steepest": layout.steepest_deg,
        "along": [layout.along_mm(angle) for angle in (0.0, 33.0, 271.0)],
        "travels": [
            track.travel_at(angle) for track in layout.tracks for angle in range(-20, 400, 7)
        ],
        "staying": [[t.both, t.staying] for t in layout.changes],
        "faults": figures_of(vehicle)["faults"],
    }
    hold(__file__, "drum", figures)


def test_a_track_stands_still_outside_its_corners() -> None:
    track = Track("sleeve.1", 0, 0.0, ((10.0, 1.0), (20.0, 5.0), (20.0, 7.0)), 0.0)
    travels = [track.travel_at(angle) for angle in (-50, 0, 10, 15, 20, 21, 400)]
    assert travels == [1.0, 1.0, 1.0, 3.0, 5.0, 7.0, 7.0]


def test_notches_that_run_together_are_made_as_deep_as_fits() -> None:
    """Two notches of depth d with flanks of φ take 2 d / tan φ; they fit in the travel."""
    vehicle = example_vehicle()
    deep = apply_edit(vehicle, Edit.one("", ("lever", "detent_depth_mm"), 6.0))
    proof = prove(deep, conditions(deep, Straight(), locked=False))
    fault = next(f for f in shift_findings(deep, proof, {}) if f.code == "notches-run-together")
    assert fault.mend is not None
    mended = apply_edit(deep, fault.mend).lever
    widest = mended.fork_travel_mm * tan(radians(mended.detent_flank_deg)) / 2
    assert widest - 0.1 < mended.detent_depth_mm <= widest

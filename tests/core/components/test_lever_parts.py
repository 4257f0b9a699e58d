"""A lever drive in space: posed as its motion says, proven over its whole stroke."""

import json
from dataclasses import replace
from math import cos, hypot, pi, radians, sin
from pathlib import Path

import pytest
from shapely.geometry import Polygon
from shapely.ops import unary_union

from examples import example_vehicle
from mild_badger.cli import run
from mild_badger.core.architectures.lever import LEVER_THROWS, LEVER_WHEEL
from mild_badger.core.components.collide import collide, collide_lever, collision_findings
from mild_badger.core.components.component import Component
from mild_badger.core.components.lever_parts import lever_parts, lever_plan
from mild_badger.core.components.lever_proof import ANGLES, fulcrums_of, prove_lever
from mild_badger.core.components.proof import Stroke
from mild_badger.core.components.vehicle_parts import main_components, vehicle_components
from mild_badger.core.drivetrain.lever_motion import stroke_mm
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.mechanisms.lever.shapes import lever_shapes, saw_outline, swing_mm
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.boxes import LeverBox
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import SearchStopped, Watch
from mild_badger.files.vehicle_file import save
from telling import refuses, tells

TROLLEY = example_vehicle("larkholm-sawmill-trolley")


def driven(**changes: object) -> Vehicle:
    """The trolley with other sizes of its lever drive."""
    box = LeverBox.of(TROLLEY.box)
    assert box is not None
    drive = LeverDrive.model_validate(box.drive.model_dump() | changes)
    return TROLLEY.model_copy(update={"box": box.model_copy(update={"drive": drive})})


def part(vehicle: Vehicle, name: str, fulcrum: float, angle: float) -> Component:
    box = lever_parts(vehicle, fulcrum, angle)
    assert box is not None
    return box.of(name)


@pytest.mark.parametrize(
    "changes",
    [
        {},
        {"turns": -1, "two_sided": True, "motion": "crank"},
        {"ratchets": 1, "motion": "crank"},
        {"pairs": (GearPair(driver=15, driven=30, idlers=(18,)), GearPair(driver=20, driven=40))},
    ],
    ids=str,
)
def test_nothing_touches_over_the_whole_stroke_at_every_fulcrum(changes: dict[str, object]) -> None:
    vehicle = driven(**changes)
    proof = prove_lever(vehicle)
    assert proof.overlaps == ()
    assert proof.states == len(fulcrums_of(vehicle))
    assert proof.places == ANGLES * proof.states


def test_the_fulcrum_is_looked_at_in_its_stops_and_every_gear() -> None:
    assert fulcrums_of(TROLLEY) == (28.0, 39.0, 47.6, 57.2, 65.6, 70.0)


@pytest.mark.parametrize("motion", ["yoke", "crank"])
@pytest.mark.parametrize("angle", [0.0, 35.0, 140.0, 250.0])
def test_the_lever_goes_through_its_pins(motion: str, angle: float) -> None:
    """Input pin at the stroke, the fulcrum on the line, the output pin a lever's length away."""
    vehicle = driven(motion=motion)
    drive = vehicle.stepless
    assert drive is not None
    lever = part(vehicle, "lever arm 1", 40.0, angle)
    s = stroke_mm(drive, angle + drive.phases[0])
    assert (lever.x_mm, lever.y_mm) == pytest.approx((0.0, s))
    direction = cos(lever.turn_rad), sin(lever.turn_rad)
    across = (40.0 - lever.x_mm) * direction[1] - (0.0 - lever.y_mm) * direction[0]
    assert across == pytest.approx(0.0, abs=1e-9)
    out = part(vehicle, "output pin 1", 40.0, angle)
    assert hypot(out.x_mm, out.y_mm - s) == pytest.approx(drive.lever_mm)


@pytest.mark.parametrize("angle", [10.0, 100.0, 300.0])
def test_a_crank_s_rod_keeps_its_length(angle: float) -> None:
    """Slider-crank by hand: from the eccentric's middle to the lever's pin is the rod."""
    vehicle = driven(motion="crank")
    plan, drive = lever_plan(vehicle), vehicle.stepless
    assert plan is not None
    assert drive is not None
    rod = part(vehicle, "rod 1", 48.0, angle)
    pin = part(vehicle, "input pin 1", 48.0, angle)
    assert hypot(pin.x_mm - rod.x_mm, pin.y_mm - rod.y_mm) == pytest.approx(drive.rod_mm)
    centre = plan.centres[LEVER_THROWS]
    assert hypot(rod.x_mm - centre[0], rod.y_mm - centre[1]) == pytest.approx(drive.throw_mm)
    up = (-sin(rod.turn_rad), cos(rod.turn_rad))
    assert (rod.x_mm + up[0] * drive.rod_mm, rod.y_mm + up[1] * drive.rod_mm) == pytest.approx(
        (pin.x_mm, pin.y_mm)
    )


@pytest.mark.parametrize("angle", [0.0, 90.0, 200.0])
def test_a_pawl_s_nose_lies_on_its_wheel_s_rim(angle: float) -> None:
    plan, drive = lever_plan(TROLLEY), TROLLEY.stepless
    assert plan is not None
    assert drive is not None
    pawl = part(TROLLEY, "pawl 1", 30.0, angle)
    x, y = plan.shapes.nose
    c, s = cos(pawl.turn_rad), sin(pawl.turn_rad)
    nose = (pawl.x_mm + x * c - y * s, pawl.y_mm + x * s + y * c)
    wheel = plan.centres[LEVER_WHEEL]
    assert hypot(nose[0] - wheel[0], nose[1] - wheel[1]) == pytest.approx(drive.wheel_mm)


def test_the_slot_is_long_enough_for_a_lever_that_leans() -> None:
    """At the far stop with a full throw the pin stands at √(a² + e²) along the lever."""
    drive = LeverDrive()
    shapes = lever_shapes(drive, 5.0, 3.2)
    assert max(x for x, _ in shapes.slot) == pytest.approx(
        hypot(drive.stop_high_mm, drive.throw_mm) + 1.6,
        abs=1e-3,  # its round end has corners
    )
    assert min(x for x, _ in shapes.slot) == pytest.approx(drive.stop_low_mm - 1.6, abs=1e-3)


def test_shapes_are_sound_outlines() -> None:
    for drive in (LeverDrive(), LeverDrive(motion="crank", two_sided=True)):
        shapes = lever_shapes(drive, 5.0, 3.2)
        flat = (shapes.eccentric, shapes.window, shapes.lever, shapes.slot, shapes.pawl)
        for ring in (*flat, shapes.hook, shapes.wheel, *shapes.rod):
            assert Polygon(ring).is_valid
        rod = unary_union([Polygon(ring) for ring in shapes.rod])
        assert rod.geom_type == "Polygon"
        assert rod.contains(Polygon(shapes.window))
        assert Polygon(shapes.lever).contains(Polygon(shapes.slot))


def test_a_saw_wheel_s_area_by_closed_form() -> None:
    """Each tooth is a triangle between two radii: r R sin(2π/n) / 2, plus nothing else."""
    tip, root, teeth = 30.0, 28.0, 90
    area = teeth * tip * root * sin(2 * pi / teeth) / 2
    assert Polygon(saw_outline(tip, root, teeth)).area == pytest.approx(area, rel=1e-12)


def test_a_wheel_too_small_for_the_swing_is_found_by_rule_and_by_solids() -> None:
    small = driven(wheel_mm=18.0, teeth=180)
    drive = small.stepless
    assert drive is not None
    assert swing_mm(drive) == pytest.approx(11.0 * 72 / 28)
    found = next(f for f in evaluate(small).findings if f.code == "pawl-leaves-wheel")
    assert found.limit == pytest.approx(18.0 * sin(radians(55)), rel=0.01)
    collision = collide(small)
    assert not collision.clear
    worst = collision.proof.overlaps[0]
    assert isinstance(worst.step, Stroke)
    first = next(collision_findings(small, collision))
    assert tells(first.text, "components.with-the-fulcrum-at-and-the-throws-at")
    assert not [f for f in evaluate(TROLLEY).findings if f.code == "pawl-leaves-wheel"]
    assert found.mend is not None
    mended = apply_edit(small, found.mend)
    assert not [f for f in evaluate(mended).findings if f.code == "pawl-leaves-wheel"]


def test_a_seeded_fault_is_found() -> None:
    """A guide moved into the yokes' stems, and a lever a layer off."""
    box = lever_parts(TROLLEY)
    assert box is not None
    from mild_badger.core.components.solids import solid_of  # noqa: PLC0415

    stem, guide = box.of("yoke 1"), box.of("guide left")
    assert (solid_of(stem) ^ solid_of(guide)).volume() < 1e-9
    moved = replace(guide, x_mm=guide.x_mm + 1.0)
    assert (solid_of(stem) ^ solid_of(moved)).volume() > 1.0
    lever, pawl = box.of("lever arm 1"), box.of("yoke 1")
    off = replace(lever, along_mm=pawl.along_mm)
    assert (solid_of(off) ^ solid_of(pawl)).volume() > 1.0


def test_the_box_is_the_drive_and_stands_beside_another_box() -> None:
    assert main_components(TROLLEY) is not None
    gear = TROLLEY.real.gears[0].id
    posed = main_components(TROLLEY, gear)
    assert posed is not None
    assert posed.of("fulcrum").x_mm == 65.6
    tractor = example_vehicle("larkholm-timber-tractor")
    both = tractor.model_copy(update={"lever_drive": LeverDrive()})
    names = [p.key for p in vehicle_components(both)]
    assert any(name.startswith("lever/") for name in names)


def test_a_drive_beside_the_box_is_proven_by_the_command(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    tractor = example_vehicle("larkholm-timber-tractor")
    both = tractor.model_copy(update={"lever_drive": LeverDrive(ratchets=1)})
    save(both, tmp_path / "both.json")
    assert run(["collide", str(tmp_path / "both.json"), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["clear"] is told["lever"]["clear"] is True
    assert told["lever"]["states"] == 3  # both stops and where the fulcrum stands
    with refuses(InputError, "lever.this-vehicle-takes-no-lever-drive-to-prove"):
        collide_lever(tractor)


def test_the_proof_can_be_stopped() -> None:
    with pytest.raises(SearchStopped):
        prove_lever(TROLLEY, watch=Watch(lambda: True))


def test_place_and_collide_take_it(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "trolley.json"
    save(driven(ratchets=1), file)
    assert run(["place", str(file), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["complete"] is True
    assert {shaft["letter"] for shaft in told["shafts"]} == {"A", "B", "C"}
    kinds = {p["kind"] for p in told["components"]}
    assert {"yoke", "eccentric", "lever arm", "pawl", "ratchet wheel", "fulcrum"} <= kinds
    assert run(["collide", str(file)]) == 0

"""Around the box: the way to the wheels, and bodies that must find room."""

import json
from dataclasses import replace
from itertools import pairwise
from math import pi
from pathlib import Path

import pytest
import trimesh

from examples import example_vehicle
from mild_badger.cli import run
from mild_badger.core.axle.running import add_axle
from mild_badger.core.components.box import box_components
from mild_badger.core.components.collide import collide, collision_findings
from mild_badger.core.components.component import Component, Prism
from mild_badger.core.components.describe import describe_component
from mild_badger.core.components.drive_line import drive_line_parts
from mild_badger.core.components.equipment import (
    add_equipment,
    equipment_findings,
    line_touching,
    parse_shape,
    place_equipment,
    whole_vehicle,
)
from mild_badger.core.components.model import vehicle_model
from mild_badger.core.components.solids import circle, solid_of
from mild_badger.core.components.vehicle_parts import vehicle_components
from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.mechanisms.clutch.model import Clutch
from mild_badger.core.vehicle.codec import decode, encode
from mild_badger.core.vehicle.demo import DEMOS, demo_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.equipment import EQUIPMENT_KINDS, EquipmentKind, EquipmentPlace
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.files.vehicle_file import save
from strategies import placed_demo
from telling import refuses, tells

TRACTOR = example_vehicle("larkholm-timber-tractor")


def with_motor(vehicle: Vehicle, diameter: float = 24.0, length: float = 40.0) -> Vehicle:
    motor = vehicle.motor.model_copy(update={"diameter_mm": diameter, "length_mm": length})
    return vehicle.model_copy(update={"motor": motor})


def part(parts: tuple[Component, ...], identity: str) -> Component:
    return next(p for p in parts if p.id == identity)


def test_what_lies_across_runs_to_the_right() -> None:
    """Volume and centre of gravity of a cylinder across, by closed form: π r² h, its middle."""
    disc = Component(
        "wheel",  # type: ignore[arg-type]
        "wheel",
        (Prism((circle(10.0, corners=720),), 2.0, 8.0),),
        30.0,
        5.0,
        40.0,
        across=True,
    )
    solid = solid_of(disc)
    assert solid.volume() == pytest.approx(pi * 100 * 6, rel=1e-4)
    low, high = solid.bounding_box()[:3], solid.bounding_box()[3:]
    assert low == pytest.approx((32.0, -5.0, -50.0), abs=1e-3)
    assert high == pytest.approx((38.0, 15.0, -30.0), abs=1e-3)
    assert disc.reach_mm == pytest.approx((32.0, -5.0, 38.0, 15.0), abs=1e-3)
    assert (disc.from_mm, disc.to_mm) == pytest.approx((30.0, 50.0), abs=1e-3)


@pytest.mark.parametrize("name", DEMOS)
def test_the_way_to_the_wheels_is_that_of_the_drivetrain(name: str) -> None:
    vehicle = example_vehicle(name)
    parts = drive_line_parts(vehicle)
    known = assemble(vehicle).index
    for component in parts:
        assert all(body in known for body in component.bodies), component.id
    wheels = [p for p in parts if p.kind == "wheel"]
    pairs = len(vehicle.additional_axles) + 1
    assert len(wheels) in (2 * pairs, 2 * pairs + 2)
    left, right = (part(parts, f"wheel {side}") for side in ("left", "right"))
    assert abs(left.x_mm - right.x_mm) == pytest.approx(vehicle.axle.track_mm)
    gears = {p.id for p in parts if p.kind == "gear"}
    final = {b.id for b in assemble(vehicle).bodies if b.id.startswith("final drive/") and b.teeth}
    assert gears == final


def test_meshing_gears_of_the_final_drive_stand_at_their_distance() -> None:
    """Centre distance m (z₁ + z₂) / 2 (ISO 21771)."""
    parts = drive_line_parts(TRACTOR)
    gears = [p for p in parts if p.kind == "gear"]
    pair = TRACTOR.final_drive.pairs[0]
    apart = abs(gears[0].y_mm - gears[1].y_mm)
    assert apart == pytest.approx(TRACTOR.kit.module_mm * (pair.driver + pair.driven) / 2)
    assert gears[0].along_mm > 0


def test_the_driver_s_left_is_on_the_right_of_a_box_that_runs_rearwards() -> None:
    """Seen from the input end of such a box one looks to the rear."""
    rear = TRACTOR.model_copy(
        update={"shifting": TRACTOR.shifting.model_copy(update={"box_faces": "rear"})}
    )
    front = TRACTOR.model_copy(
        update={"shifting": TRACTOR.shifting.model_copy(update={"box_faces": "front"})}
    )
    assert part(drive_line_parts(rear), "wheel left").x_mm > 0
    assert part(drive_line_parts(front), "wheel left").x_mm < 0


def test_a_motor_stands_before_the_stub() -> None:
    vehicle = with_motor(TRACTOR)
    parts = whole_vehicle(vehicle).components
    motor, shaft = part(parts, "motor"), part(parts, "input.1")
    assert (motor.x_mm, motor.y_mm) == (shaft.x_mm, shaft.y_mm)
    assert 0 < shaft.from_mm - motor.to_mm < 2.0
    assert motor.to_mm - motor.from_mm == pytest.approx(40.0)
    twin = vehicle.model_copy(update={"motor": vehicle.motor.model_copy(update={"count": 2})})
    both = [p for p in whole_vehicle(twin).components if p.kind == "motor"]
    assert both[1].x_mm - both[0].x_mm > 24.0


def test_a_clutch_stands_between_motor_and_box_plate_by_plate() -> None:
    """Two faces: three plates of 3 mm and two linings of a millimetre, 11 mm in all."""
    clutch = Clutch(faces=2, wear_mm=1.0, outer_mm=30.0, inner_mm=14.0)
    vehicle = with_motor(TRACTOR).model_copy(update={"clutch": clutch})
    parts = whole_vehicle(vehicle).components
    discs = [p for p in parts if p.kind in ("clutch plate", "lining")]
    assert [p.kind for p in discs] == ["clutch plate", "lining"] * 2 + ["clutch plate"]
    assert discs[-1].to_mm - discs[0].from_mm == pytest.approx(11.0)
    motor, shaft = part(parts, "motor"), part(parts, "input.1")
    assert motor.to_mm == pytest.approx(discs[0].from_mm)
    assert discs[-1].to_mm < shaft.from_mm
    assert [p.bodies for p in discs if p.kind == "clutch plate"] == [
        ("motor",),
        ("clutch",),
        ("motor",),
    ]
    for one, other in pairwise(discs):
        assert (solid_of(one) ^ solid_of(other)).volume() < 1e-6
    lining = next(p for p in discs if p.kind == "lining")
    ring = pi * (15.0**2 - 7.0**2) * 1.0
    assert solid_of(lining).volume() == pytest.approx(ring, rel=0.01)


def test_bodies_without_a_place_stand_clear_of_everything() -> None:
    vehicle = with_motor(TRACTOR)
    kinds: tuple[EquipmentKind, ...] = (*EQUIPMENT_KINDS, "battery")
    for kind in kinds:
        vehicle = apply_edit(vehicle, add_equipment(vehicle, kind))
    assert len({item.name for item in vehicle.equipment}) == 5
    whole = whole_vehicle(vehicle)
    assert whole.touching == ()
    assert whole.homeless == ()
    own = [p for p in whole.components if p.id.startswith("equipment ")]
    assert len(own) == 5
    rest = [p for p in whole.components if p not in own]
    for body in own:
        solid = solid_of(body)
        near = [p for p in (*rest, *own) if p is not body]
        assert all((solid ^ solid_of(other)).volume() < 1e-6 for other in near), body.id
    assert decode(encode(vehicle)).equipment == vehicle.equipment


def test_a_body_put_into_the_box_is_found_and_says_what_it_runs_into() -> None:
    vehicle = apply_edit(TRACTOR, add_equipment(TRACTOR, "battery"))
    inside = EquipmentPlace(x_mm=0.0, y_mm=0.0, along_mm=40.0)
    vehicle = apply_edit(vehicle, place_equipment(vehicle, 0, inside))
    found = [f for f in evaluate(vehicle).findings if f.code == "body-touches"]
    assert len(found) == 1
    assert found[0].figure is not None
    assert found[0].figure > 5.0
    cleared = apply_edit(vehicle, place_equipment(vehicle, 0, None))
    assert not list(equipment_findings(cleared))
    giant = apply_edit(vehicle, Edit.one("x", ("equipment", 0, "wide_mm"), 90_000.0))
    homeless = apply_edit(giant, place_equipment(giant, 0, None))
    assert whole_vehicle(homeless).components  # it is told, not lost in a traceback


def test_shapes_are_read_by_name() -> None:
    assert parse_shape(" Cylinder  across ") == "cylinder across"
    with refuses(InputError, "components.a-shape-is-one-of"):
        parse_shape("ball")


def test_wheels_stand_behind_a_box_that_reaches_between_them() -> None:
    assert list(equipment_findings(TRACTOR)) == []
    bus = placed_demo("larkholm-mail-bus")
    wheel = part(drive_line_parts(bus), "wheel right")
    radius = bus.wheels.diameter_mm / 2
    left, low, right, high = wheel.reach_mm
    beside = [
        p.to_mm
        for p in vehicle_components(bus)
        if p.reach_mm[0] < right and left < p.reach_mm[2]
        if p.reach_mm[1] < high and low < p.reach_mm[3]
    ]
    assert beside
    assert wheel.along_mm - radius > max(beside)
    assert line_touching(bus) == line_touching(TRACTOR) == ()


def test_a_wheel_in_the_box_is_found_with_what_helps() -> None:
    short = apply_edit(TRACTOR, Edit.one("n", ("axle", "track_mm"), 60.0))
    short = apply_edit(short, Edit.one("s", ("axle", "wheelbase_mm"), 150.0))
    collision = collide(short)
    assert collision.clear  # of the box itself
    found = [f for f in collision_findings(short, collision) if f.code == "body-touches"]
    assert tells(found[0].text, "components.line-goes-into-part-by")
    boxes = {p.key: solid_of(p) for p in vehicle_components(short)}
    line = {p.key: solid_of(p) for p in drive_line_parts(short)}
    for one, other, _ in collision.line:
        assert (line[one] ^ (boxes | line)[other]).volume() > 0.4


def test_final_drive_gears_interlock() -> None:
    gears = [p for p in drive_line_parts(TRACTOR) if p.kind == "gear"]
    assert len(gears) == 2
    one, other = map(solid_of, gears)
    assert (one ^ other).volume() < 0.5
    turned = replace(gears[1], turn_rad=gears[1].turn_rad + pi / gears[1].teeth)
    assert (one ^ solid_of(turned)).volume() > 5


def test_the_whole_vehicle_is_written_in_metres(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    vehicle = with_motor(TRACTOR)
    (tmp_path / "all.glb").write_bytes(vehicle_model(vehicle, "glb"))
    scene = trimesh.load(tmp_path / "all.glb")
    assert {"motor", "wheel left", "crown", "input.1"} <= set(scene.graph.nodes_geometry)
    track = vehicle.axle.track_mm / 1000
    assert scene.extents[0] > track
    save(vehicle, tmp_path / "tractor.json")
    code = run(
        ["export", str(tmp_path / "tractor.json"), "--to", str(tmp_path / "out"), "--whole", "stl"]
    )
    capsys.readouterr()
    assert code in (0, 1)
    assert (tmp_path / "out" / "vehicle.stl").stat().st_size > 10_000
    data = json.loads((tmp_path / "tractor.json").read_text())
    assert data["vehicle"]["motor"]["diameter_mm"] == 24.0


def test_teeth_that_cannot_be_made_leave_the_vehicle_usable() -> None:
    """At 35° teeth of 12 come to a point: the findings say so, and all else is worked out."""
    kit = TRACTOR.kit.model_copy(update={"pressure_angle_deg": 35.0})
    vehicle = apply_edit(with_motor(TRACTOR), Edit.one("steep", ("kit",), kit))
    with pytest.raises(InputError):
        whole_vehicle(vehicle)
    codes = [finding.code for finding in evaluate(vehicle).findings]
    assert codes.count("bodies-not-tried") == 1
    assert "bodies-not-tried" not in [f.code for f in equipment_findings(with_motor(TRACTOR))]


def test_parts_are_found_again_while_nothing_of_them_changes() -> None:
    vehicle = with_motor(TRACTOR)
    whole, box = whole_vehicle(vehicle), box_components(vehicle)
    renamed = apply_edit(vehicle, Edit.one("rename", ("notes",), "seen again"))
    assert whole_vehicle(renamed.model_copy()) is whole_vehicle(renamed)
    assert whole_vehicle(vehicle.model_copy(update={"notes": "other"})) is whole
    with_body = apply_edit(vehicle, add_equipment(vehicle, "battery"))
    bodied = vehicle.model_copy(update={"equipment": with_body.equipment})
    assert box_components(bodied) is box
    assert len(whole_vehicle(bodied).components) == len(whole.components) + 1
    thicker = vehicle.model_copy(
        update={"frame": vehicle.frame.model_copy(update={"thin_mm": 9.0})}
    )
    assert box_components(thicker) is not box


def test_wheels_are_told_apart_by_side_and_axle() -> None:
    bus = example_vehicle()
    for vehicle in (bus, apply_edit(bus, add_axle(bus))):
        wheels = [part for part in drive_line_parts(vehicle) if part.kind == "wheel"]
        called = {str(describe_component(vehicle, part)) for part in wheels}
        assert len(called) == len(wheels) >= 4


def test_boxes_beside_the_main_one_give_way_to_the_axles() -> None:
    sweeper = demo_vehicle("larkholm-street-sweeper")
    line = drive_line_parts(sweeper)
    there = {part.key: part for part in whole_vehicle(sweeper).components}
    stood = [part for part in vehicle_components(sweeper) if part.box]
    axles = [solid_of(part) for part in line]
    # at their usual place beside the box some would stand in the axle
    assert any((solid_of(part) ^ axle).volume() > 1.0 for part in stood for axle in axles)
    for part in stood:
        moved = solid_of(there[part.key])
        assert all((moved ^ axle).volume() < 1.0 for axle in axles)
    # the box stays whole: all its parts have gone the same way
    ways = {
        (
            round(there[part.key].x_mm - part.x_mm, 6),
            round(there[part.key].y_mm - part.y_mm, 6),
            round(there[part.key].along_mm - part.along_mm, 6),
        )
        for part in stood
    }
    assert len(ways) == 1

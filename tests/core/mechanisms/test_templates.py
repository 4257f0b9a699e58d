"""Templates of outputs and cables, measured back with shapely."""

from math import atan2, degrees, hypot, pi, sin

import pytest
from shapely import Point, Polygon

from examples import example_vehicle
from mild_badger.core.components.lever_parts import lever_parts
from mild_badger.core.errors import InputError
from mild_badger.core.mechanisms.cables.edits import add_cables
from mild_badger.core.mechanisms.cables.model import Cables
from mild_badger.core.mechanisms.crane.model import Crane, CraneOutput, Rack, Ring
from mild_badger.core.mechanisms.liquid.edits import add_line
from mild_badger.core.templates.kerf import cut_shapes
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.templates import template_of, templates_of
from telling import refuses

TRUCK = example_vehicle("larkholm-crane-truck")


def shape_of(vehicle: Vehicle, key: str) -> Polygon:
    ((outside, holes),) = cut_shapes(template_of(vehicle, key, kerf=False))
    return Polygon(outside, holes)


def keys(vehicle: Vehicle) -> list[str]:
    return [t.key for t in templates_of(vehicle) if t.key.split()[0] in ("outputs", "cables")]


def test_the_truck_draws_its_ring_and_flanges() -> None:
    segments = ["outputs 0 segment", "outputs 0 glue-up"]
    assert keys(TRUCK) == ["outputs 0", *segments, "outputs 3", "outputs 5"]
    # 75 teeth share out over 15 segments of five, and no fewer from six on; one more to try
    counts = {t.key: t.count for t in templates_of(TRUCK)}
    assert counts["outputs 0 segment"] == 16
    piece = shape_of(TRUCK, "outputs 0 segment")
    far = max(Point(0, 0).distance(Point(p)) for p in piece.exterior.coords)
    assert far > piece.bounds[2] - piece.bounds[0] > 2 * (75 / 2 - 2) * 1.25 * sin(pi / 15)
    ring = shape_of(TRUCK, "outputs 0")
    left, low, right, high = ring.bounds
    # 75 teeth of module 1.25: tips at 77 · 1.25 = 96.25 mm, roots at 72.5 · 1.25
    assert max(right - left, high - low) == pytest.approx(96.25, abs=0.1)
    middle = Point((left + right) / 2, (low + high) / 2)
    assert not ring.contains(middle)  # open for what hangs through it
    (hole,) = ring.interiors
    assert max(p[0] for p in hole.coords) - min(p[0] for p in hole.coords) == pytest.approx(
        (75 - 2.5 - 8) * 1.25, abs=0.05
    )
    flange = shape_of(TRUCK, "outputs 3")
    assert flange.bounds[2] - flange.bounds[0] == pytest.approx(34, abs=0.05)
    counts = {t.words: t.count for t in templates_of(TRUCK)}
    assert counts["flange of hoist"] == 8


def test_rings_inside_and_racks_are_drawn_where_gears_are_made() -> None:
    crane = Crane(
        outputs=(
            CraneOutput(name="r", end=Ring(pinion=12, teeth=60, internal=True)),
            CraneOutput(name="k", end=Rack(travel_mm=60)),
        )
    )
    made = TRUCK.model_copy(update={"crane": crane})
    assert keys(made) == ["outputs 0", "outputs 0 segment", "outputs 0 glue-up", "outputs 1"]
    (hole,) = shape_of(made, "outputs 0").interiors
    assert len(hole.coords) > 60
    rack = shape_of(made, "outputs 1")
    assert rack.bounds[2] - rack.bounds[0] > 60
    bricks = example_vehicle().model_copy(update={"crane": crane})
    assert keys(bricks) == []  # they are bought
    with refuses(InputError, "workshop.this-vehicle-takes-no-template-see-the-list"):
        template_of(bricks, "outputs 9")


def test_a_lever_has_its_holes_where_they_are_said_to_be() -> None:
    vehicle = apply_edit(example_vehicle(), add_cables())
    assert keys(vehicle) == ["cables 0", "cables 1", "cables 2"]
    lever = shape_of(vehicle, "cables 1")
    middles = sorted((i.centroid.y for i in (Polygon(r) for r in lever.interiors)), reverse=True)
    assert [middles[0] - y for y in middles] == pytest.approx([0, 8, 16, 24, 32], abs=1e-3)
    tight = vehicle.model_copy(update={"cables": Cables(holes_mm=(8.0, 9.0))})
    with refuses(InputError, "cables.the-holes-at-and-run-into-one-another-are"):
        template_of(tight, "cables 0")
    with refuses(InputError, "workshop.this-vehicle-takes-no-template-see-the-list"):
        template_of(vehicle, "cables 7")


def test_a_brake_s_disc_goes_between_cheeks_that_hold_its_slave() -> None:
    edit = add_line(TRUCK)
    assert edit is not None
    vehicle = apply_edit(TRUCK, edit)
    (line,) = vehicle.hydraulic_lines
    disc, inner = shape_of(vehicle, "brake 0 disc"), shape_of(vehicle, "brake 0 inner")
    # the pads, as wide as the slave, bite wholly within the disc and outside its bore
    radius = (disc.bounds[2] - disc.bounds[0]) / 2
    assert radius > line.radius_mm + line.slave_mm / 2
    (bore,) = disc.interiors
    assert (max(p[0] for p in bore.coords) - min(p[0] for p in bore.coords)) / 2 < (
        line.radius_mm - line.slave_mm / 2
    )
    holes = sorted((Polygon(ring) for ring in inner.interiors), key=lambda p: p.area)
    assert len(holes) == 3
    assert holes[-1].area == pytest.approx(pi * line.slave_mm**2 / 4, rel=0.02)
    # the slave stands at the pads' radius, the bridge's pins beyond the disc's rim
    slave = holes[-1].centroid
    for pin in holes[:2]:
        out = line.radius_mm + pin.centroid.y - slave.y
        assert hypot(pin.centroid.x - slave.x, out) - 1.5 > radius
    assert len(shape_of(vehicle, "brake 0 outer").interiors) == 2  # a floating one has one slave
    near = apply_edit(vehicle, Edit.one("r", ("hydraulic_lines", 0, "radius_mm"), 3.0))
    with refuses(InputError, "liquid.pads-reach-the-shaft"):
        template_of(near, "brake 0 disc")


def test_the_eccentrics_jig_has_its_lines_where_their_high_points_are() -> None:
    vehicle = example_vehicle("larkholm-sawmill-trolley")
    jig = template_of(vehicle, "lever jig", kerf=False)
    disc = max(jig.rounds, key=lambda ring: ring.radius_mm)
    lines = [s.points for s in jig.strokes if s.layer == "engrave"]
    told = sorted(
        round(degrees(atan2(end[1] - disc.at[1], end[0] - disc.at[0])) % 360) for _, end in lines
    )
    solids = []
    for part in lever_parts(vehicle).components:  # type: ignore[union-attr]
        if part.kind == "eccentric":
            xs, ys = zip(*(p for o in part.solid[0].outlines for p in o), strict=True)
            middle = (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2
            solids.append(round(degrees(atan2(middle[1], middle[0]) + part.turn_rad) % 360))
    assert told == sorted(solids)
    assert len(told) == 3

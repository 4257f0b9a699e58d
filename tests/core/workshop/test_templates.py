"""Templates read back by other programs' eyes: sizes, fits, kerf, sheets of paper, solids."""

from math import pi

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import affinity
from shapely.geometry import Point, Polygon

from examples import example_vehicle
from mild_badger.core.errors import InputError
from mild_badger.core.figures import plain
from mild_badger.core.message import say
from mild_badger.core.structure.forks import forks_of
from mild_badger.core.structure.plates import plates_of
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.fit_strip import GRADES_MM
from mild_badger.core.templates.gear_shape import GearForm, gear_shape
from mild_badger.core.templates.gear_template import GearCut, cut_gear
from mild_badger.core.templates.kerf import cut_shapes, with_kerf
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.making import USUAL_MM, FabricationSettings, OwnGear
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.templates import template_of, templates_of
from telling import refuses, tells

TRACTOR = "larkholm-timber-tractor"
POINT_MM = 25.4 / 72


def with_making(vehicle: Vehicle, **changes: object) -> Vehicle:
    for name, value in changes.items():
        vehicle = apply_edit(vehicle, Edit.one("set", ("making", name), value))
    return vehicle


def test_holes_have_the_fit_of_their_material_and_the_fit_strip_its_grades() -> None:
    vehicle = example_vehicle(TRACTOR)
    shaft = vehicle.kit.shaft_diameter_mm
    usual = USUAL_MM["plywood"]

    def hole(made: Vehicle, key: str) -> float:
        return 2 * min(r.radius_mm for r in template_of(made, key).rounds if r.layer == "cut")

    assert hole(vehicle, "gear 27 fixed") == pytest.approx(shaft + usual["press"])
    assert hole(vehicle, "gear 24 free") == pytest.approx(shaft + usual["running"])
    glued = with_making(vehicle, fixed_fit="glued", material="hardwood", running_mm=0.33)
    assert hole(glued, "gear 27 fixed") == pytest.approx(shaft + USUAL_MM["hardwood"]["glued"])
    assert hole(glued, "gear 24 free") == pytest.approx(shaft + 0.33)
    # walls follow the same fits, as the layout draws them
    stack = stack_for(glued)
    assert stack is not None
    plate = plates_of(glued, stack, forks_of(glued, stack))[0]
    bores = [h.diameter_mm for h in plate.holes if h.kind == "bore"]
    assert bores
    assert bores == pytest.approx([shaft + 0.33] * len(bores))
    drawn = sorted(2 * r.radius_mm for r in template_of(glued, "wall 0").rounds)
    assert drawn == pytest.approx(sorted(h.diameter_mm for h in plate.holes))
    strip = template_of(vehicle, "fit strip")
    assert [2 * r.radius_mm - shaft for r in strip.rounds] == pytest.approx(list(GRADES_MM))


def test_a_fork_has_material_all_round_its_rail() -> None:
    vehicle = example_vehicle(TRACTOR)
    for key in (t.key for t in templates_of(vehicle) if t.key.startswith("fork")):
        ((outline, holes),) = cut_shapes(template_of(vehicle, key))
        (hole,) = holes
        assert Polygon(outline).contains(Polygon(hole).buffer(1.0))


def test_a_round_hole_shrinks_by_half_the_kerf_at_its_radius() -> None:
    drawing = Drawing("plate", 60.0, 40.0)
    drawing.rectangle("cut", 5, 5, 55, 35)
    drawing.circle("cut", (20.0, 20.0), 5.0)
    cut = with_kerf(drawing, 0.4)
    (hole,) = cut.rounds
    assert hole.radius_mm == pytest.approx(4.8)
    (plate,) = [stroke for stroke in cut.strokes if stroke.layer == "cut"]
    xs = [x for x, _ in plate.points]
    assert [min(xs), max(xs)] == pytest.approx([4.8, 55.2])


@pytest.mark.parametrize("kerf", [0.15, 0.6])
def test_the_cut_moves_into_the_waste_by_half_the_kerf(kerf: float) -> None:
    making = FabricationSettings(web="spokes", bore="keyed")
    drawing = cut_gear(GearCut("gear", GearForm(40, 2.0), 8.2, "keyed"), making)
    cut = with_kerf(drawing, kerf)
    # what a tool as wide as the kerf leaves along these lines is the part itself, by shapely
    ((outline, holes),) = cut_shapes(drawing)
    ((out, inside),) = cut_shapes(cut)
    left = Polygon(out, inside)
    for ring in (left.exterior, *left.interiors):
        left = left.difference(ring.buffer(kerf / 2, 32))
    part = Polygon(outline, holes)
    assert left.symmetric_difference(part).area < 0.02 * kerf * part.length
    assert left.area == pytest.approx(part.area, rel=0.004)
    for wide in (3.5, 9.0, 25.0):  # gaps are 3.1 mm wide at the pitch circle
        with pytest.raises(InputError) as refused:
            with_kerf(drawing, wide)
        assert tells(
            plain(str(refused.value)),
            "templates.a-hole-or-a-gap-between-teeth-is-narrower",
            kerf_mm=f"{wide:g} mm",
        )


def test_webs_and_bores_take_away_what_they_say() -> None:
    form = GearForm(48, 2.0)
    body = Polygon(gear_shape(form)).area

    def area(bore: str = "round", **making: object) -> float:
        drawing = cut_gear(GearCut("gear", form, 10.0, bore), FabricationSettings(**making))  # type: ignore[arg-type]
        parts = cut_shapes(drawing)
        assert len(parts) == 1  # nothing falls out but the holes
        shape = Polygon(*parts[0])
        assert shape.is_valid
        return float(shape.area)

    assert area() == pytest.approx(body - 25 * pi, rel=1e-4)
    assert area("square") == pytest.approx(body - 100, rel=1e-6)
    # the keyway stands on the bore: its area is the strip above the circle
    strip = Polygon([(-1, 0), (1, 0), (1, 6), (-1, 6)]).difference(Point(0, 0).buffer(5, 256))
    assert area("keyed", key_mm=2.0) == pytest.approx(body - 25 * pi - strip.area, rel=3e-4)
    assert area(web="holes") < area() - 6 * pi
    assert area(web="spokes") < area(web="holes")
    assert area(dowels=4, dowel_mm=3.0) == pytest.approx(area() - 9 * pi, rel=1e-4)
    # a large gear on a thin shaft keeps its spokes, drawn as thin as its hub lets them be
    thin = cut_gear(GearCut("gear", GearForm(110, 2.0), 6.0), FabricationSettings(web="spokes"))
    assert len(cut_shapes(thin)[0][1]) == 1 + 5
    assert not tells(
        " ".join(label.text for label in thin.labels), "templates.no-room-for-drawn-solid"
    )
    # what finds no room is said on the drawing itself
    small = cut_gear(
        GearCut("gear", GearForm(14, 2.0), 8.0),
        FabricationSettings(web="spokes", dowels=4, rim_mm=2.0),
    )
    words = " ".join(label.text for label in small.labels)
    assert say("templates.no-room-for-drawn-solid", web_count="5", web="spokes") in words
    assert say("templates.room-for-of-dowels", count_of_dowels="0", dowels="4") in words
    with refuses(InputError, "templates.a-bore-of-leaves-less-than-below-the-teeth"):
        cut_gear(GearCut("gear", GearForm(10, 1.0), 8.0), FabricationSettings())


@settings(max_examples=60, deadline=None)
@given(
    teeth=st.integers(6, 160),
    module=st.floats(0.5, 6),
    angle=st.floats(14, 30),
    shift=st.floats(-0.6, 0.8),
    thinning=st.floats(0, 0.4),
    kind=st.sampled_from(("gear", "ring", "rack")),
    web=st.sampled_from(("solid", "holes", "spokes")),
    dowels=st.integers(0, 12),
    bore=st.sampled_from(("round", "square", "keyed")),
)
def test_any_gear_is_drawn_whole_or_refused_with_a_sentence(**given_: object) -> None:
    making = {name: given_.pop(name) for name in ("web", "dowels", "bore")}
    own = OwnGear(
        kind=given_["kind"],
        teeth=given_["teeth"],
        module_mm=given_["module"],
        pressure_angle_deg=given_["angle"],
        shift=given_["shift"],
        thinning_mm=given_["thinning"],
        bore_mm=3.0,
    )
    made = {**making, "own": own.model_dump()}
    vehicle = with_making(example_vehicle(), **made)
    try:
        drawing = template_of(vehicle, "own")
    except InputError:
        return  # which is a sentence; anything else fails here
    parts = cut_shapes(drawing)
    assert len(parts) == 1
    assert Polygon(*parts[0]).is_valid


def test_a_ring_and_a_rack_of_ones_own_take_the_gear_of_ones_own() -> None:
    vehicle = example_vehicle()
    own = {"kind": "ring", "teeth": 60, "module_mm": 1.5, "thinning_mm": 0.1}
    ring = template_of(with_making(vehicle, own=own), "own")
    ((outline, holes),) = cut_shapes(ring)
    centre = Polygon(outline).centroid
    hole = affinity.translate(Polygon(holes[0]), -centre.x, -centre.y)
    pinion = Polygon(gear_shape(GearForm(21, 1.5, thinning_mm=0.1)))
    inside = affinity.translate(pinion, (60 - 21) * 1.5 / 2, 0)
    assert inside.difference(hole).area < 1e-6
    rack = template_of(with_making(vehicle, own={"kind": "rack", "teeth": 10}), "own")
    ((outline, holes),) = cut_shapes(rack)
    assert not holes
    assert max(x for x, _ in outline) - min(x for x, _ in outline) == pytest.approx(20 * pi)

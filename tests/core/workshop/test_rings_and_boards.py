"""Dog rings, segmented rings, boards, shifted gears and the whole box as one model.

Shapes are checked with shapely, files with trimesh, ezdxf and lxml: none of them ours.
"""

import io
from math import cos, pi, tan

import ezdxf
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lxml import etree
from shapely import Polygon, affinity
from shapely.geometry import Point, box
from shapely.ops import unary_union

from examples import example_vehicle
from mild_badger.core.components.dogs import cup_outlines, dog_radii, star_outline
from mild_badger.core.errors import InputError
from mild_badger.core.mesh.centres import centre_of
from mild_badger.core.templates.drawing import to_dxf, to_svg
from mild_badger.core.templates.kerf import cut_shapes
from mild_badger.core.templates.segments import (
    glue_up,
    segment_counts,
    segment_plan,
    segment_template,
)
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.slots import set_train
from mild_badger.core.vehicle.making import OwnGear
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.boards import PartBox, board_drawing, board_plans, pack_boards
from mild_badger.core.workshop.templates import template_of, templates_of
from telling import refuses

TRACTOR = "larkholm-timber-tractor"


@pytest.fixture
def tractor() -> Vehicle:
    return example_vehicle(TRACTOR)


def made(vehicle: Vehicle, **changes: object) -> Vehicle:
    for name, value in changes.items():
        vehicle = apply_edit(vehicle, Edit.one("make", ("making", name), value))
    return vehicle


@pytest.mark.parametrize(("count", "play"), [(6, 6.0), (3, 20.0), (8, 2.0), (2, 0.0)])
def test_star_and_cup_go_into_one_another_and_turn_by_the_play(
    tractor: Vehicle, count: int, play: float
) -> None:
    vehicle = made(tractor, dog_count=count, dog_play_deg=play)
    star = Polygon(star_outline(vehicle))
    outer, inner = cup_outlines(vehicle)
    cup = Polygon(outer, [inner])
    assert star.is_valid
    assert cup.is_valid
    free = [
        turn / 20
        for turn in range(-20 * 180 // count, 20 * 180 // count)
        if star.intersection(affinity.rotate(cup, turn / 20, origin=(0, 0))).area < 0.02
    ]
    # from one flank to the other the sleeve turns by the play
    assert max(free) - min(free) == pytest.approx(play, abs=0.3)
    bore, root, tip, out = dog_radii(vehicle)
    assert bore < root < tip < out


def test_dogs_that_cannot_be_are_refused(tractor: Vehicle) -> None:
    with refuses(InputError, "workshop.dog-rings-of-play-leave-nothing-of-dogs-at"):
        star_outline(made(tractor, dog_count=12, dog_play_deg=40.0))
    thick = apply_edit(tractor, Edit.one("thick", ("kit", "shaft_diameter_mm"), 12.0))
    bore, root, tip, outer = dog_radii(thick)  # the sleeve grows with its shaft
    assert 6.0 < bore < root < tip < outer
    assert tip - root >= 1.0


def test_there_is_a_star_for_every_free_gear_and_a_cup_for_every_face(tractor: Vehicle) -> None:
    counts = {t.key: t.count for t in templates_of(tractor)}
    assert counts["dog star"] == 6  # 1, 2, 3, 4 and R; 5 is direct: the input's hub
    assert counts["dog cup"] == 6


@pytest.mark.parametrize(
    "own",
    [
        OwnGear(kind="ring", teeth=96, module_mm=4, segments=8),
        OwnGear(kind="gear", teeth=120, module_mm=3, segments=10),
        OwnGear(kind="ring", teeth=60, module_mm=5, segments=3),
    ],
)
def test_segments_make_the_whole_ring_with_whole_teeth_each(own: OwnGear) -> None:
    plan = segment_plan(own)
    assert plan.teeth_each * plan.count == own.teeth
    assert plan.mitre_deg == pytest.approx(180 / plan.count)
    # the boards, laid round, cover the whole ring that is cut from them
    wide, long = plan.board_mm
    top = plan.outer_mm + 1.0
    board = Polygon(
        [
            (-long / 2, top),
            (long / 2, top),
            (plan.short_mm / 2, top - wide),
            (-plan.short_mm / 2, top - wide),
        ]
    )
    laid = unary_union(
        [
            affinity.rotate(board, 360 * n / plan.count, origin=(0, 0)).buffer(1e-6)
            for n in range(plan.count)
        ]
    )
    ring = Point(0, 0).buffer(plan.outer_mm, 256).difference(Point(0, 0).buffer(plan.inner_mm, 256))
    assert ring.difference(laid).area < 1e-3
    # a board any narrower would not
    short = plan.inner_mm * cos(pi / plan.count)
    assert top - wide == pytest.approx(short - 1.0)
    # mitres: neighbouring boards share their slanted ends
    assert plan.short_mm == pytest.approx(2 * (short - 1.0) * tan(pi / plan.count))
    # the drawn segment, turned round, is the whole toothed ring again
    ((outline, holes),) = cut_shapes(segment_template(own))
    assert not holes
    segment = Polygon(outline)
    assert segment.area * plan.count == pytest.approx(_area(own), rel=2e-3)


def _area(own: OwnGear) -> float:
    from mild_badger.core.templates.gear_shape import (  # noqa: PLC0415
        GearForm,
        gear_shape,
        ring_shape,
    )

    form = GearForm(own.teeth, own.module_mm, own.pressure_angle_deg, own.shift, own.thinning_mm)
    plan = segment_plan(own)
    if own.kind == "ring":
        return float(pi * plan.outer_mm**2 - Polygon(ring_shape(form)).area)
    return float(Polygon(gear_shape(form)).area - pi * plan.inner_mm**2)


def test_teeth_that_do_not_share_out_are_refused_with_what_would() -> None:
    assert segment_counts(60)[:5] == (3, 4, 5, 6, 10)
    with refuses(InputError, "templates.teeth-do-not-share-out-over-segments-whole"):
        segment_plan(OwnGear(kind="ring", teeth=60, segments=7))
    with refuses(InputError, "templates.a-ring-takes-segments-or-more-a-rack-takes"):
        segment_plan(OwnGear(kind="rack", teeth=60, segments=6))
    sheet = glue_up(OwnGear(kind="ring", teeth=60, module_mm=3, segments=6))
    assert sum(len(s.points) == 6 and s.closed for s in sheet.strokes) == 2


sizes = st.tuples(st.floats(5, 120), st.floats(5, 120))


@settings(max_examples=60)
@given(st.lists(sizes, min_size=1, max_size=24), st.floats(0, 6))
def test_rectangles_lie_on_their_boards_apart_and_all_of_them(
    parts: list[tuple[float, float]], gap: float
) -> None:
    wants = [PartBox(f"p{n}", f"part {n}", w, h) for n, (w, h) in enumerate(parts)]
    boards, offcuts, large = pack_boards(wants, (200.0, 140.0), gap)
    laid = [one for board in boards for one in board]
    assert sorted(one.want.key for one in laid) + sorted(w.key for w in large) == sorted(
        w.key for w in wants if w not in large
    ) + sorted(w.key for w in large)
    for board, offcut in zip(boards, offcuts, strict=True):
        shapes: list[Polygon] = []
        for one in board:
            w, h = one.size_mm
            shape = box(one.x_mm, one.y_mm, one.x_mm + w, one.y_mm + h)
            assert box(gap - 1e-6, gap - 1e-6, 200 - gap + 1e-6, 140 - gap + 1e-6).contains(shape)
            for other in shapes:
                assert shape.distance(other) >= gap - 1e-6
                assert shape.intersection(other).area < 1e-6
            shapes.append(shape)
        assert offcut[0] * offcut[1] <= 200 * 140 - sum(s.area for s in shapes) + 1e-6


def test_equal_squares_fill_a_board_as_they_should() -> None:
    wants = [PartBox(f"s{n}", "square", 50, 50) for n in range(12)]
    boards, _, _ = pack_boards(wants, (200.0, 150.0), 0.0)
    assert len(boards) == 1  # 4 × 3 of them, nothing left over


def test_boards_of_the_tractor_are_written_whole(tractor: Vehicle) -> None:
    vehicle = made(tractor, kerf_mm=0.2)
    plans = board_plans(vehicle)
    # gears, walls, dogs and levers of the tractor; its steering has thinner layers beside
    assert {plan.thick_mm for plan in plans} >= {2.5, 3.0, 4.0, 7.0, 8.0, 9.0}
    wanted = sum(t.count for t in templates_of(vehicle) if t.kind == "board part")
    refused = sum(len(plan.refused) for plan in plans)  # a rack finer than the saw is told
    assert sum(len(board) for plan in plans for board in plan.boards) == wanted - refused
    plan = next(p for p in plans if p.thick_mm == 9.0)
    sheet = board_drawing(vehicle, plan, 0)
    parts = cut_shapes(sheet)
    assert len(parts) == len(plan.boards[0])
    bodies = [Polygon(outline) for outline, _ in parts]
    for number, one in enumerate(bodies):
        assert box(0, 0, *plan.board_mm).contains(one)
        assert all(one.distance(other) >= vehicle.making.gap_mm - 0.3 for other in bodies[:number])
    # a gear on the board is the gear of its template, turned or not
    alone = Polygon(cut_shapes(template_of(vehicle, plan.boards[0][0].want.key))[0][0])
    assert any(abs(body.area - alone.area) < 1e-3 for body in bodies)
    read = ezdxf.read(io.StringIO(to_dxf(sheet)))
    assert read.units == 4  # mm
    assert len(read.modelspace().query('LWPOLYLINE[layer=="cut"]')) >= len(bodies)
    root = etree.fromstring(to_svg(sheet).encode())
    assert (root.get("width"), root.get("height")) == ("600.000mm", "300.000mm")
    assert len(root.findall(".//{*}g[@id='cut']/{*}polygon")) >= len(bodies)


def test_a_pair_off_the_common_sum_gets_its_shift_drawn(tractor: Vehicle) -> None:
    """14 with 24 where the others have 39 teeth together: drawn at x so that they mesh."""
    slot = next(s for s in tractor.box.slots if s.gear == "2")
    pair = tractor.box.chain("2")[-1].pair.model_copy(update={"driver": 14, "driven": 24})
    vehicle = apply_edit(tractor, set_train(tractor, slot.gear, (pair,)))
    keys = [t.key for t in templates_of(vehicle) if t.key.startswith(("gear 14", "gear 24"))]
    assert len(keys) == 2
    links = [link for group in vehicle.box.between() for link in group.links]
    centre = centre_of(vehicle.kit, [link.pair for link in links])
    assert centre is not None
    bodies = []
    for key in keys:
        ((outline, _),) = cut_shapes(template_of(vehicle, key))
        body = Polygon(outline)
        sheet = template_of(vehicle, key)
        middle = next(r.at for r in sheet.rounds if r.layer == "mark")
        bodies.append(affinity.translate(body, -middle[0], -middle[1]))
        assert float(key.split()[-1]) > 0
    small, large = bodies
    mesh = affinity.translate(
        affinity.rotate(large, 180 + 180 / 24, origin=(0, 0)), centre.distance_mm, 0
    )
    overlap = [
        affinity.rotate(small, turn, origin=(0, 0))
        .intersection(
            affinity.translate(
                affinity.rotate(large, 180 + 180 / 24 - turn * 14 / 24, origin=(0, 0)),
                centre.distance_mm,
                0,
            )
        )
        .area
        for turn in (0.0, 3.0, 7.0, 11.0)
    ]
    assert max(overlap) < 0.02 * vehicle.kit.module_mm
    # unshifted ones would stand apart: the shift fills the distance
    assert small.distance(mesh) < 0.2
    plain = Polygon(cut_shapes(template_of(tractor, "gear 24 free"))[0][0])
    assert large.area > plain.area

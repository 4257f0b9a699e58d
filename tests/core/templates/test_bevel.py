"""Bevel gears: cones and virtual teeth against handbooks, strips against the back cone."""

from math import acos, atan, cos, degrees, hypot, pi, radians, sin, tan

import pytest
from shapely.geometry import Point, Polygon

from mild_badger.core.errors import InputError
from mild_badger.core.templates.bevel import (
    BevelForm,
    bevel_drawing,
    blank,
    peg_wheel_drawing,
    tooth_strip,
)
from telling import refuses

PINION = BevelForm(12, 24, 2.5, 10.0)
MITRE = BevelForm(12, 12, 1.0, 2.5)


def test_a_mitre_gear_s_virtual_teeth_are_khurmis() -> None:
    """z 12, cone 45°: 16.97 virtual teeth, cone distance 8.485 (Khurmi & Gupta, bevel gears)."""
    assert MITRE.virtual_teeth == pytest.approx(16.97, abs=0.005)
    assert MITRE.distance_mm == pytest.approx(8.485, abs=0.001)
    assert degrees(MITRE.cone_rad) == pytest.approx(45.0)


@pytest.mark.parametrize(("teeth", "mate"), [(12, 24), (24, 12), (9, 30), (20, 20)])
def test_the_cones_are_those_of_the_handbook(teeth: int, mate: int) -> None:
    """Straight bevels on shafts at 90° (Machinery's Handbook, bevel gear formulas)."""
    form = BevelForm(teeth, mate, 2.0, 5.0)
    pitch = atan(teeth / mate)
    distance = 2.0 * teeth / (2 * sin(pitch))
    assert form.cone_rad == pytest.approx(pitch)
    assert form.tip_rad == pytest.approx(pitch + atan(2.0 / distance))
    assert form.root_rad == pytest.approx(pitch - atan(2.5 / distance))
    assert form.outside_mm == pytest.approx(2.0 * teeth + 2 * 2.0 * cos(pitch))
    mates = BevelForm(mate, teeth, 2.0, 5.0)
    assert form.cone_rad + mates.cone_rad == pytest.approx(pi / 2)
    assert form.distance_mm == pytest.approx(mates.distance_mm)


def test_the_strip_goes_once_round_the_back_cone() -> None:
    strip = Polygon(tooth_strip(PINION))
    assert strip.is_valid
    back = PINION.module_mm * PINION.teeth / (2 * cos(PINION.cone_rad))
    # along the pitch circle laid flat: as many teeth as the gear has, gap as wide as tooth
    circle = Point(0, 0).buffer(back, quad_segs=2000).exterior
    teeth = circle.intersection(strip)
    # the circle's own start may cut one tooth in two
    assert len(teeth.geoms) in (PINION.teeth, PINION.teeth + 1)
    assert teeth.length == pytest.approx(PINION.teeth * pi * PINION.module_mm / 2, rel=1e-3)
    ends = [p for p in tooth_strip(PINION) if hypot(*p) < back - 1.3 * PINION.module_mm]
    turns = [acos(y / hypot(x, y)) for x, y in ends]
    # wrapped, the strip's angle comes to the whole circle about the shaft
    assert 2 * max(turns) == pytest.approx(2 * pi * cos(PINION.cone_rad), rel=1e-6)
    toe = Polygon(tooth_strip(PINION, toe=True))
    assert toe.area == pytest.approx(strip.area * PINION.toe**2)


def test_the_blank_s_section_has_the_cones_angles_and_the_outside() -> None:
    half = blank(PINION)
    assert Polygon(half).is_valid
    assert 2 * max(x for x, _ in half) == pytest.approx(PINION.outside_mm)
    _, _, toe, tip, root, *_ = half
    # tips run towards the cone's point, the back stands square on the pitch cone
    assert (tip[0] - toe[0]) / (toe[1] - tip[1]) == pytest.approx(tan(PINION.tip_rad), rel=1e-9)
    assert hypot(tip[0] - toe[0], tip[1] - toe[1]) > PINION.face_mm * cos(radians(10))
    assert (tip[1] - root[1]) / (tip[0] - root[0]) == pytest.approx(tan(PINION.cone_rad), rel=1e-9)
    with refuses(InputError, "templates.the-face-of-a-bevel-gear-reaches-past-the-cone"):
        blank(BevelForm(8, 8, 1.0, 9.0))


def test_drawings_are_to_the_figures() -> None:
    sheet = bevel_drawing(PINION, "bevel", 8.0, "press", 2)
    across = [p for s in sheet.strokes if s.layer == "cut" and not s.closed for p in s.points]
    assert max(x for x, _ in across) - min(x for x, _ in across) == pytest.approx(PINION.outside_mm)
    assert sum(s.closed for s in sheet.strokes) == 2


@pytest.mark.parametrize("crown", [True, False])
def test_pegs_stand_at_the_pitch_of_both_wheels(crown: bool) -> None:
    form = BevelForm(24, 12, 2.5, 10.0)
    sheet = peg_wheel_drawing(form, "pegs", 8.0, "press", 1, crown=crown)
    pegs = [r for r in sheet.rounds if r.radius_mm == pytest.approx(0.2 * pi * 2.5)]
    assert len(pegs) == form.teeth
    steps = sorted(hypot(a.at[0] - b.at[0], a.at[1] - b.at[1]) for a in pegs[:1] for b in pegs[1:])
    if crown:
        assert steps[0] == pytest.approx(2 * 30.0 * sin(pi / 24))
    else:  # evenly along a strip that goes once round the rim
        (strip,) = (s for s in sheet.strokes if s.closed)
        xs = [x for x, _ in strip.points]
        assert steps[0] == pytest.approx((max(xs) - min(xs)) / form.teeth)
        (disc, _) = sorted(
            (r for r in sheet.rounds if r.layer == "cut"), key=lambda r: -r.radius_mm
        )
        assert max(xs) - min(xs) == pytest.approx(2 * pi * disc.radius_mm)
    with refuses(InputError, "templates.pegs-leave-no-body"):
        peg_wheel_drawing(BevelForm(4, 8, 1.0, 3.0), "pegs", 8.0, "press", 1, crown=crown)

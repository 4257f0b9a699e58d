"""Gear outlines against closed forms, against a rack that cuts them, and rolled on one another."""

from math import cos, pi, radians, sin, tan

import numpy as np
import pytest
from shapely import affinity
from shapely.geometry import LineString, Point, Polygon

from mild_badger.core.mesh.involute import engagement
from mild_badger.core.mesh.outline import meshing_turn
from mild_badger.core.templates.gear_shape import (
    GearForm,
    gear_shape,
    rack_shape,
    ring_shape,
    span_mm,
    tooth_thickness_mm,
)
from telling import refuses


def test_the_base_tangent_length_of_the_handbook() -> None:
    """z 24, k 3, m 1, 20°: 7.7165 (ISO 21771; Machinery's Handbook; our reference values)."""
    assert span_mm(GearForm(24, 1.0), 3) == pytest.approx(7.7165, abs=5e-5)


@pytest.mark.parametrize(
    "form",
    [
        GearForm(24, 1.0),
        GearForm(40, 1.25, thinning_mm=0.1),
        GearForm(17, 2.0, 25.0),
        GearForm(12, 2.5, shift=0.5, thinning_mm=0.2),
        GearForm(60, 0.8, shift=-0.3),
    ],
)
def test_the_outline_has_the_thickness_and_the_span_of_the_formulas(form: GearForm) -> None:
    points = np.array(gear_shape(form))
    shape = Polygon(points)
    assert shape.is_valid
    radii = np.hypot(points[:, 0], points[:, 1])
    assert radii.max() == pytest.approx(form.tip_mm)
    assert radii.min() == pytest.approx(form.root_mm, abs=1e-6)
    # thickness on a circle, by the arc of it that lies inside the outline
    for radius in (form.pitch_mm, form.pitch_mm + 0.4 * form.module_mm):
        ring = Point(0, 0).buffer(radius, 4096).exterior
        inside = ring.intersection(shape).length / form.teeth
        assert inside == pytest.approx(tooth_thickness_mm(form, radius), abs=2e-3)
    # over k teeth along a line that touches the base circle, between the two outer flanks
    over = max(round(form.teeth * form.pressure_angle_deg / 180 + 0.5), 2)
    middle = pi / form.teeth * (over - 1)  # the middle of the teeth that are spanned
    touch = np.array([cos(middle), sin(middle)]) * form.base_mm
    along = np.array([-sin(middle), cos(middle)]) * span_mm(form, over)
    line = LineString([touch - along, touch + along])
    crossed = line.intersection(shape.exterior)
    places = sorted(float(np.dot(np.array(p.coords[0]) - touch, along)) for p in crossed.geoms)
    norm = span_mm(form, over)
    spans = [(b - a) / norm for a in places for b in places]
    assert min(abs(s - norm) for s in spans) < 2e-3


@pytest.mark.parametrize(
    "form",
    [
        GearForm(8, 1.0),
        GearForm(10, 2.5),
        GearForm(17, 1.0),
        GearForm(30, 1.0, shift=0.4),
        GearForm(9, 1.25, shift=0.3, thinning_mm=0.1),
    ],
)
def test_a_rack_that_rolls_past_cuts_the_same_outline(form: GearForm) -> None:
    """Against a rounded rack tooth taken out of a disc step by step, by shapely alone."""
    m, alpha = form.module_mm, radians(form.pressure_angle_deg)
    low, high = form.dedendum * m, 1.6 * m
    half = pi * m / 4 + form.thinning_mm / 2
    sharp = Polygon(
        [
            (-half - high * tan(alpha), high),
            (-half + low * tan(alpha), -low),
            (half - low * tan(alpha), -low),
            (half + high * tan(alpha), high),
        ]
    )
    full = (half - low * tan(alpha)) * cos(alpha) / (1 - sin(alpha))
    rounding = min(form.tip_radius * m, full)
    # rounds the tip; the top lies outside the blank
    tool = sharp.buffer(-rounding, 64).buffer(rounding, 64)
    blank = Point(0, 0).buffer(form.tip_mm, 720)
    for step in np.linspace(-4.0 * m, 4.0 * m, 1100):
        at = affinity.translate(tool, step, form.pitch_mm + form.shift * m)
        blank = blank.difference(
            affinity.rotate(at, step / form.pitch_mm, (0, 0), use_radians=True)
        )
    # compare the gap's own half, between two tooth middles
    wedge = Polygon(
        [
            (0, 0),
            *[
                (2 * form.tip_mm * sin(a), 2 * form.tip_mm * cos(a))
                for a in np.linspace(-pi / form.teeth, pi / form.teeth, 9)
            ],
        ]
    )
    ours = affinity.rotate(
        Polygon(gear_shape(form)), pi / 2 - pi / form.teeth, (0, 0), use_radians=True
    )
    apart = blank.intersection(wedge).symmetric_difference(ours.intersection(wedge))
    assert apart.area < 0.004 * m * m
    assert apart.buffer(-0.004 * m).is_empty  # nowhere thicker than 0.008 modules


@pytest.mark.parametrize(
    ("one", "other"), [(24, 24), (17, 40), (20, 61), (32, 18), (45, 23), (60, 19)]
)
@pytest.mark.parametrize("thinning", [0.1, 0.2])
def test_two_outlines_roll_without_overlap_and_with_the_play_they_were_given(
    one: int, other: int, thinning: float
) -> None:
    module = 1.5
    forms = [GearForm(z, module, thinning_mm=thinning / 2) for z in (one, other)]
    distance = (one + other) * module / 2
    first, second = (Polygon(gear_shape(form)) for form in forms)
    mesh = engagement(
        (one, other),
        centre_distance_mm=distance,
        module_mm=module,
        tip_diameters_mm=(2 * forms[0].tip_mm, 2 * forms[1].tip_mm),
        pressure_angle_rad=radians(20),
    )
    play = thinning + mesh.added_backlash_mm  # along the pitch circle
    for step in range(7):
        turned = 2 * pi / one * step / 7
        a = affinity.rotate(first, turned, (0, 0), use_radians=True)

        def beside(extra: float, turned: float = turned) -> Polygon:
            turn = meshing_turn((one, other), turned, 0.0) + extra
            b = affinity.rotate(second, turn, (0, 0), use_radians=True)
            return affinity.translate(b, distance, 0)

        assert a.intersection(beside(0.0)).area < 1e-6
        reach = (
            play / 2 / forms[1].pitch_mm
        )  # half the play either way is free, a little more is not
        for way in (1, -1):
            assert a.intersection(beside(way * (reach - 0.01 / forms[1].pitch_mm))).area < 0.02
            assert a.intersection(beside(way * (reach + 0.03 / forms[1].pitch_mm))).area > 1e-4


def test_undercut_is_told_and_pointed_teeth_are_refused() -> None:
    assert GearForm(10, 1.0).undercut
    assert not GearForm(18, 1.0).undercut
    assert not GearForm(10, 1.0, shift=0.45).undercut
    with refuses(ValueError, "templates.teeth-with-a-shift-of-come-to-a-point"):
        gear_shape(GearForm(8, 1.0, shift=1.2))
    with refuses(ValueError, "templates.teeth-leave-no-body-inside-the-root-circle"):
        gear_shape(GearForm(4, 1.0, dedendum=2.5))


def test_an_internal_ring_takes_a_pinion_and_a_rack_a_gear() -> None:
    module, ring, pinion = 1.0, 60, 20
    hole = Polygon(ring_shape(GearForm(ring, module, thinning_mm=0.1)))
    assert hole.is_valid
    gear = Polygon(gear_shape(GearForm(pinion, module, thinning_mm=0.1)))
    distance = (ring - pinion) * module / 2
    # a tooth of the pinion at angle zero stands in a gap of the ring there
    inside = affinity.translate(gear, distance, 0)
    assert inside.difference(hole).area < 1e-6
    rack = Polygon(rack_shape(module, 9, thinning_mm=0.1))
    assert rack.is_valid
    xs, ys = np.array(rack.exterior.coords).T
    assert xs.max() == pytest.approx(9 * pi)
    assert ys.max() == pytest.approx(1.0)
    above = affinity.translate(
        affinity.rotate(gear, -pi / 2 + pi / pinion, (0, 0), use_radians=True),
        4.5 * pi,
        pinion / 2,
    )
    assert above.intersection(rack).area < 1e-6

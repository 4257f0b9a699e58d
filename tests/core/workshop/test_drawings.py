"""Drawings for the workshop, read back by other programs' eyes: sizes, lengths, volumes."""

import struct
from io import StringIO
from itertools import pairwise
from math import dist, pi, radians, tan
from xml.etree import ElementTree as ET

import ezdxf
import pytest
from shapely.geometry import Polygon

from examples import example_vehicle
from mild_badger.core.shift.drum import drum_layout
from mild_badger.core.templates.drawing import Drawing, to_dxf, to_svg
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.shifting import Lever
from mild_badger.core.workshop.detent_strip import detent_strip, detent_strip_stl, graded_notches
from mild_badger.core.workshop.solid import extruded_stl
from mild_badger.core.workshop.wrapper import drum_count, drum_wrapper
from telling import refuses, tells

SVG = "{http://www.w3.org/2000/svg}"


def test_one_drawing_comes_out_alike_in_svg_and_dxf() -> None:
    drawing = Drawing("A <test> & more", 40.0, 20.0)
    drawing.rectangle("cut", 5, 5, 35, 15)
    drawing.line("engrave", (5, 10), (35, 10))
    drawing.words("mark", (6, 6), "x < y")
    root = ET.fromstring(to_svg(drawing))
    assert (root.get("width"), root.get("viewBox")) == ("40.000mm", "0 0 40.000 20.000")
    assert root.findtext(f"{SVG}title") == "A <test> & more"
    polygon = root.find(f"{SVG}g[@id='cut']/{SVG}polygon")
    assert polygon is not None
    corners = {tuple(map(float, p.split(","))) for p in (polygon.get("points") or "").split()}
    assert corners == {(5, 15), (35, 15), (35, 5), (5, 5)}  # y runs down in SVG

    document = ezdxf.read(StringIO(to_dxf(drawing)))
    assert document.dxfversion >= "AC1024"  # R2010
    assert document.units == ezdxf.units.MM
    assert {"cut", "engrave", "mark"} <= {layer.dxf.name for layer in document.layers}
    shape = next(e for e in document.modelspace().query("LWPOLYLINE") if e.closed)
    assert {p[:2] for p in shape.get_points()} == {(5, 5), (35, 5), (35, 15), (5, 15)}
    assert [e.dxf.text for e in document.modelspace().query("TEXT")] == ["x < y"]


def test_the_wrapper_is_as_long_as_the_drum_is_round() -> None:
    vehicle = example_vehicle()
    layout = drum_layout(vehicle)
    document = ezdxf.read(StringIO(to_dxf(drum_wrapper(vehicle))))
    space = document.modelspace()
    cut = [e for e in space.query("LWPOLYLINE") if e.dxf.layer == "cut"]
    spans = [max(p[0] for p in e.get_points()) - min(p[0] for p in e.get_points()) for e in cut]
    assert max(spans) == pytest.approx(pi * vehicle.shifting.drum.diameter_mm, abs=1e-6)
    # the engraved middle lines are as long as the tracks themselves, wherever they are cut
    engraved = sum(
        dist(a[:2], b[:2])
        for e in space.query("LWPOLYLINE")
        if e.dxf.layer == "engrave"
        for a, b in pairwise(e.get_points())
    )
    tracks = sum(
        dist((layout.along_mm(a), x), (layout.along_mm(b), y))
        for track in layout.tracks
        for (a, x), (b, y) in pairwise(track.points)
    )
    assert engraved == pytest.approx(tracks)
    words = " ".join(e.dxf.text for e in space.query("TEXT"))
    assert tells(words, "workshop.start-line")
    assert tells(words, "tab-shift.diameter", mm="40 mm")
    # a track is as wide as its follower: area is width × length and two half-circles, corners
    # rounded outside and sharp inside apart
    area = sum(Polygon([p[:2] for p in e.get_points()]).area for e in cut) - max(spans) * 96
    follower = vehicle.shifting.drum.follower_mm
    assert area == pytest.approx(follower * tracks + 4 * pi * follower**2 / 4, rel=0.02)


def test_odd_and_even_drums_have_a_wrapper_each() -> None:
    vehicle = apply_edit(
        example_vehicle(), Edit.one("", ("shifting", "drum", "drums"), "odd and even")
    )
    vehicle = apply_edit(vehicle, Edit.one("", ("shifting", "actuation"), "drum"))
    assert drum_count(vehicle) == len(drum_layout(vehicle).lengths_mm)
    assert tells(drum_wrapper(vehicle, 0).title, "tab-shift.odd-drum")


def volume(stl: bytes) -> float:
    """Volume of a closed binary STL by the divergence theorem."""
    (count,) = struct.unpack_from("<I", stl, 80)
    assert len(stl) == 84 + 50 * count
    total = 0.0
    for n in range(count):
        _, _, _, ax, ay, az, bx, by, bz, cx, cy, cz, _ = struct.unpack_from(
            "<12fH", stl, 84 + 50 * n
        )
        total += ax * (by * cz - bz * cy) - ay * (bx * cz - bz * cx) + az * (bx * cy - by * cx)
    return total / 6


def test_a_plate_has_its_area_times_its_thickness() -> None:
    bent = ((0.0, 0.0), (10.0, 0.0), (10.0, 4.0), (4.0, 4.0), (4.0, 9.0), (0.0, 9.0))
    assert volume(extruded_stl(bent, 3.0)) == pytest.approx(3 * 60, rel=1e-5)  # 10·4 + 4·5
    with refuses(ValueError, "workshop.the-outline-crosses-itself-or-encloses"):
        extruded_stl(((0, 0), (1, 1), (1, 0), (0, 1)), 1.0)


def test_the_strip_holds_a_notch_of_every_grade() -> None:
    lever = Lever(detent_depth_mm=2.0, detent_friction=0.6)
    notches = graded_notches(lever)
    for notch in notches:
        assert notch.width_mm == pytest.approx(4 / tan(radians(notch.flank_deg)))
    forces = [n.force.knob_n for n in notches if n.force.knob_n is not None]
    assert forces == sorted(forces)
    # with μ = 0.6 a flank of more than atan(1 / 0.6) = 59.04° locks itself (domain.md §6)
    assert [n.flank_deg for n in notches if n.force.knob_n is None] == [60.0, 65.0]
    outline = next(s.points for s in detent_strip(lever).strokes if s.layer == "cut")
    solid = Polygon(outline)
    hull = solid.convex_hull.area
    assert hull - solid.area == pytest.approx(sum(n.width_mm * 2.0 / 2 for n in notches))
    assert volume(detent_strip_stl(lever)) == pytest.approx(4 * solid.area, rel=1e-5)

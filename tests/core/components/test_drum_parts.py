"""A drum as parts: tracks under the followers of the sleeves, proven turned all the way."""

from dataclasses import replace
from functools import cache
from itertools import pairwise
from math import hypot, pi, radians

import pytest
from shapely.geometry import Point, Polygon

from mild_badger.core.components.box import BoxComponents, box_components
from mild_badger.core.components.collide import collide, collision_findings
from mild_badger.core.components.component import Component
from mild_badger.core.components.drum_parts import neutral_deg
from mild_badger.core.components.drum_proof import prove_drums
from mild_badger.core.components.proof import Turn
from mild_badger.core.components.solids import solid_of
from mild_badger.core.evaluate import evaluate
from mild_badger.core.shift.drum import drum_layout
from mild_badger.core.structure.drum_place import DrumPlace, groove_mm, turned_deg
from mild_badger.core.structure.drums import drums_of
from mild_badger.core.structure.forks import forks_of
from mild_badger.core.structure.plates import plates_of
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import SearchStopped, Watch
from mild_badger.core.workshop.parts import parts_needed
from mild_badger.core.workshop.wrapper import drum_wrapper, placed_drum
from strategies import placed_demo
from telling import tells

BUS, TRACTOR = "larkholm-mail-bus", "larkholm-timber-tractor"


@cache
def by_drum(name: str, drums: str = "one", **changes: object) -> Vehicle:
    """A placed demo whose sleeves a drum moves."""
    vehicle = placed_demo(name)
    drum = vehicle.shifting.drum.model_copy(update={"drums": drums, **changes})
    shifting = vehicle.shifting.model_copy(update={"actuation": "drum", "drum": drum})
    return vehicle.model_copy(update={"shifting": shifting})


def placed(vehicle: Vehicle) -> DrumPlace:
    stack = stack_for(vehicle)
    assert stack is not None
    place = drums_of(vehicle, stack, forks_of(vehicle, stack))
    assert place is not None
    return place


def parts_of(vehicle: Vehicle) -> BoxComponents:
    box = box_components(vehicle)
    assert box is not None
    return box


@pytest.mark.parametrize(("name", "drums"), [(BUS, "one"), (BUS, "odd and even"), (TRACTOR, "one")])
def test_nothing_touches_in_any_position_of_the_drum(name: str, drums: str) -> None:
    vehicle = by_drum(name, drums)
    place = placed(vehicle)
    assert place.missing == ()
    sleeves = {f.track.sleeve for drum in place.drums for f in drum.followers}
    assert sleeves == {track.sleeve for track in drum_layout(vehicle).tracks}
    kinds = [part.kind for part in parts_of(vehicle).components]
    assert kinds.count("drum") == kinds.count("star") == kinds.count("detent arm")
    assert kinds.count("follower") == len(sleeves)
    assert collide(vehicle).clear


def test_tracks_stand_where_their_sleeves_are() -> None:
    """The tractor's sleeves are far apart: each track lies right under its sleeve."""
    vehicle = by_drum(TRACTOR)
    stack = stack_for(vehicle)
    assert stack is not None
    (drum,) = placed(vehicle).drums
    for follower in drum.followers:
        assert follower.along_mm == pytest.approx(stack.middle_mm(follower.fork.slab))


def test_tracks_of_sleeves_side_by_side_keep_a_wall() -> None:
    """The bus has all sleeves in one layer: tracks are a follower and a wall apart at least."""
    vehicle = by_drum(BUS)
    (drum,) = placed(vehicle).drums
    places = sorted(follower.along_mm for follower in drum.followers)
    wall = vehicle.shifting.drum.follower_mm + 2.0
    assert min(b - a for a, b in pairwise(places)) >= wall - 1e-9
    tracks = parts_of(vehicle).of("drum").cuts
    assert len(tracks) > 4 * 60
    assert drum.from_mm < places[0] < places[-1] < drum.to_mm


def test_a_follower_reaches_from_its_rail_into_its_track() -> None:
    vehicle = by_drum(TRACTOR)
    (drum,) = placed(vehicle).drums
    deep, _ = groove_mm(vehicle)
    for place in drum.followers:
        part = parts_of(vehicle).of(f"follower of {place.fork.column}")
        assert part.member == place.fork.column
        solid = solid_of(part)
        rail = solid_of(parts_of(vehicle).of(place.fork.rail.name))
        assert (solid ^ rail).volume() < 1e-6
        points = solid.to_mesh().vert_properties[:, :2]
        nearest = min(hypot(x - drum.x_mm, y - drum.y_mm) for x, y in points)
        assert drum.radius_mm - deep < nearest < drum.radius_mm - deep + 0.5


def test_the_drum_s_volume_is_a_cylinder_less_bore_and_tracks() -> None:
    """π (R² − r²) L, less for each track at least its depth times its width over the dwells."""
    vehicle = by_drum(TRACTOR)
    (drum,) = placed(vehicle).drums
    part = parts_of(vehicle).of("drum")
    length = drum.to_mm - drum.from_mm
    bore = vehicle.kit.shaft_diameter_mm / 2
    full = pi * (drum.radius_mm**2 - bore**2) * length
    whole = solid_of(replace(part, cuts=()))
    assert whole.volume() == pytest.approx(full, rel=5e-3)
    deep, half = groove_mm(vehicle)
    turn = sum(track.points[-1][0] - track.points[0][0] for track in drum_layout(vehicle).tracks)
    least = radians(turn) * (drum.radius_mm - deep) * deep * 2 * half
    cut = whole.volume() - solid_of(part).volume()
    assert least < cut < 3 * least


def moved(components: tuple[Component, ...], kind: str, along: float) -> tuple[Component, ...]:
    """Move the first part of a kind along the box."""
    first = next(part for part in components if part.kind == kind)
    return tuple(
        replace(part, along_mm=part.along_mm + along) if part is first else part
        for part in components
    )


def test_a_track_pitch_off_is_found() -> None:
    vehicle = by_drum(TRACTOR)
    layout, parts = drum_layout(vehicle), parts_of(vehicle).components
    assert prove_drums(parts, layout).overlaps == ()
    off = prove_drums(moved(parts, "follower", 1.0), layout).overlaps
    assert len(off) == 1
    assert isinstance(off[0].step, Turn)
    assert off[0].depth_mm > 0.02
    shifted = prove_drums(moved(parts, "drum", 1.0), layout).overlaps
    assert len(shifted) == len(layout.tracks)


def test_a_drum_turned_off_is_found() -> None:
    vehicle = by_drum(TRACTOR)
    layout, parts = drum_layout(vehicle), parts_of(vehicle).components
    late = replace(
        layout,
        tracks=tuple(
            replace(t, points=tuple((a + 20.0, y) for a, y in t.points)) for t in layout.tracks
        ),
    )
    assert prove_drums(parts, late).overlaps
    assert neutral_deg(vehicle) == next(p.angle_deg for p in layout.positions if p.gear is None)


def test_outer_walls_reach_up_to_the_drum_and_inner_ones_stay_below() -> None:
    vehicle = by_drum(TRACTOR)
    stack = stack_for(vehicle)
    assert stack is not None
    (drum,) = placed(vehicle).drums
    plates = plates_of(vehicle, stack, forks_of(vehicle, stack))
    tops = [plate.outline_mm[3] for plate in plates]
    assert tops[0] == tops[-1] > drum.y_mm
    assert all(top < drum.y_mm - drum.radius_mm for top in tops[1:-1])
    for plate in plates:
        bores = [hole for hole in plate.holes if hole.name.startswith("drum shaft")]
        outer = plate in (plates[0], plates[-1])
        assert [(b.x_mm, b.y_mm) for b in bores] == ([(drum.x_mm, drum.y_mm)] if outer else [])


def test_the_wrapper_s_tracks_are_those_of_the_placed_drum() -> None:
    """Glued round the drum, a track's middle lies under its follower in every position."""
    vehicle = by_drum(TRACTOR)
    drum, layout = placed_drum(vehicle), drum_layout(vehicle)
    assert drum is not None
    sheet = drum_wrapper(vehicle)
    assert sheet.height_mm > drum.to_mm - drum.from_mm
    margin = 12.0
    flat = [
        Polygon([(x - margin, y - margin) for x, y in stroke.points])
        for stroke in sheet.strokes
        if stroke.layer == "cut" and len(stroke.points) > 4
    ]
    assert flat
    for follower in drum.followers:
        for position in layout.positions:
            along = layout.along_mm(position.angle_deg - turned_deg(follower)) % layout.around_mm
            axial = follower.along_mm - drum.from_mm + follower.track.travel_at(position.angle_deg)
            spot = Point(along, axial)
            assert any(shape.buffer(0.01).contains(spot) for shape in flat)


def test_where_followers_find_no_way_it_is_said() -> None:
    vehicle = by_drum(BUS, follower_mm=30.0)
    assert placed(vehicle).missing
    found = [f for f in evaluate(vehicle).findings if f.code == "no-way-to-the-drum"]
    assert len(found) == len(placed(vehicle).missing)


def test_a_finding_tells_the_drum_s_angle() -> None:
    vehicle = by_drum(TRACTOR)
    collision = collide(vehicle)
    parts = moved(collision.box.components, "follower", 1.0)
    wrong = replace(
        collision,
        box=replace(collision.box, components=parts),
        proof=prove_drums(parts, drum_layout(vehicle)),
    )
    first = next(collision_findings(vehicle, wrong))
    assert tells(first.text, "components.with-the-drum-at")


def test_the_parts_list_counts_them() -> None:
    counts = {line.key[0]: line.needed for line in parts_needed(by_drum(TRACTOR))}
    assert [counts[k] for k in ("shift drum", "star", "detent arm", "follower")] == [1, 1, 1, 3]
    assert "shift drum" not in {line.key[0] for line in parts_needed(placed_demo(TRACTOR))}


def test_another_actuator_has_no_drum_and_the_proof_can_be_stopped() -> None:
    vehicle = placed_demo(TRACTOR)
    stack = stack_for(vehicle)
    assert stack is not None
    assert drums_of(vehicle, stack, forks_of(vehicle, stack)) is None
    drummed = by_drum(TRACTOR)
    with pytest.raises(SearchStopped):
        prove_drums(parts_of(drummed).components, drum_layout(drummed), watch=Watch(lambda: True))

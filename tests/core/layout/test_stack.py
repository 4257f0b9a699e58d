"""Stack lengths by hand, forks, bearings against ISO 15, walls, the hull, idlers put in by hand."""

from dataclasses import replace
from itertools import combinations
from math import hypot
from typing import Any

import pytest
from shapely.geometry import Point, Polygon

from examples import example_vehicle
from mild_badger.core.components.box import box_components
from mild_badger.core.components.collide import collide
from mild_badger.core.errors import DocumentError, InputError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.figures import plain
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.layout.apply_layout import apply_layout
from mild_badger.core.layout.bearings import (
    bearing_cost,
    choose_bearing,
    choose_cheapest,
    describe_bearing,
    seat_choices,
)
from mild_badger.core.layout.idler import add_idler, pair_of_body, remove_idler
from mild_badger.core.layout.verify import verify_forks, verify_layout
from mild_badger.core.message import say
from mild_badger.core.structure.forks import forks_of, missing_forks
from mild_badger.core.structure.plates import plates_of
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.shaft_lengths import (
    describe_stack,
    shaft_cuts,
    sleeve_saving_mm,
)
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from telling import Told, refuses, tells, told

from .test_place_box import SWEEPER, first_whole, with_placing

TRACTOR = "larkholm-timber-tractor"


def frame(vehicle: Vehicle, **changes: Any) -> Vehicle:
    made = [Change(("frame", name), value) for name, value in changes.items()]
    return apply_edit(vehicle, Edit("", tuple(made)))


def stack_in(vehicle: Vehicle) -> Stack:
    stack = stack_for(vehicle)
    assert stack is not None
    return stack


@pytest.fixture(scope="module")
def placed() -> Vehicle:
    vehicle = with_placing(example_vehicle(SWEEPER))
    return apply_edit(vehicle, apply_layout(vehicle, first_whole(vehicle)))


def test_the_tractors_stack_adds_up_as_by_hand() -> None:
    vehicle = example_vehicle(TRACTOR)
    stack = stack_in(vehicle)
    face, wall, gap, play, sleeve = 9.0, 8.0, 0.5, 0.3, 8.0 + 2 * 8.0
    by_hand = (
        wall
        + (gap + face + gap + play)  # front wall, the input pair
        + wall
        + (gap + 2 * 8.0)  # middle wall, the input's hub: one diameter for each shaft's end
        + sleeve  # the direct gear's sleeve
        + (face + gap + face)
        + sleeve  # R and 1 side by side
        + (face + gap + face)
        + sleeve  # 2 and 3
        + (face + gap + play)
        + wall  # 4, back wall
    )
    assert stack.length_mm == pytest.approx(by_hand)
    # a nut of 0.8 d and two threads at either end of an 8 mm rod
    box = box_components(vehicle)
    assert box is not None
    assert box.of("tie rod low left").length_mm == pytest.approx(stack.length_mm + 2 * 8.0)
    for cut in shaft_cuts(vehicle, stack):
        inside = sum(part.length_mm for part in cut.parts)
        first, last = cut.parts[0], cut.parts[-1]
        assert inside == pytest.approx(last.to_mm - first.from_mm)  # no gap and no overlap
        assert cut.length_mm == cut.needed_mm  # dowels are cut to measure
    cuts = {cut.name: cut for cut in shaft_cuts(vehicle, stack)}
    both = cuts["input.1"].needed_mm + cuts["output"].needed_mm
    stubs = 2 * 1.5 * vehicle.kit.shaft_diameter_mm  # for the motor and the axles' shaft
    # in one line, meeting half way between the middle wall and the far face of the hub
    assert both == pytest.approx(cuts["layshaft.1"].needed_mm + stubs)
    middles = {
        (shaft, part.words.split(",")[0]): part.middle_mm
        for shaft, cut in cuts.items()
        for part in cut.parts
        if part.kind in ("gear", "free gear")
    }
    assert middles["layshaft.1", "15"] == pytest.approx(middles["output", "24"])  # in line


def test_thin_sleeves_save_what_the_sums_say_and_nothing_on_whole_units(placed: Vehicle) -> None:
    vehicle = example_vehicle(TRACTOR)
    saved = 3 * ((8.0 + 16.0) - (5.0 + 16.0 - 2 * 1.5))  # three sleeves
    stack = stack_in(vehicle)
    assert sleeve_saving_mm(vehicle, stack) == pytest.approx(saved)
    thin = frame(vehicle, sleeve="thin")
    assert stack.length_mm - stack_in(thin).length_mm == pytest.approx(saved)
    assert f"save {saved:.1f} mm" in plain(describe_stack(thin, stack_in(thin)))
    assert sleeve_saving_mm(placed, stack_in(placed)) == 0  # 18 mm take three whole units too
    assert tells(
        describe_stack(placed, stack_in(placed)), "layout.thin-sleeves-would-save-nothing-on-whole"
    )


def test_budgets_and_shafts_that_stand_out_are_said(placed: Vehicle) -> None:
    vehicle = frame(example_vehicle(TRACTOR), max_stack_mm=140.0)
    found = [f for f in evaluate(vehicle).findings if f.code == "stack-too-long"]
    assert len(found) == 1
    assert found[0].figure == pytest.approx(stack_in(vehicle).length_mm)
    assert "sleeve" in found[0].text  # the most room is taken by a sleeve
    close = apply_edit(vehicle, Edit.one("", ("search", "max_centre_mm"), 48.0))
    too_far = [f for f in evaluate(close).findings if f.code == "centre-too-far"]
    assert too_far  # 39 teeth of module 2.5 stand 48.75 mm apart
    assert {f.figure for f in too_far} == {48.75}
    far = frame(vehicle, far_mm=60.0, max_stack_mm=None)
    assert not [f for f in evaluate(far).findings if f.code == "far-from-support"]
    near = frame(vehicle, far_mm=10.0)
    assert [f for f in evaluate(near).findings if f.code == "far-from-support"]
    lengths = [4, 5, 6, 8, 16]
    short = apply_edit(placed, Edit.one("", ("kit", "shaft_lengths_u"), lengths))
    out = [f for f in evaluate(short).findings if f.code == "shafts-unequal"]
    cuts = shaft_cuts(short, stack_in(short))
    assert out[0].figure == pytest.approx(max(cut.overhang_mm for cut in cuts))
    for cut in cuts:  # a shaft is never shorter than what it must reach, so it stands out, or not
        if cut.length_mm is not None:
            assert cut.length_mm / short.kit.grid_unit_mm in lengths
            assert cut.overhang_mm == pytest.approx(cut.length_mm - cut.needed_mm)
            assert cut.overhang_mm >= -1e-9
    assert any(cut.overhang_mm > 1 for cut in cuts)


def test_forks_clear_everything_by_true_outlines(placed: Vehicle) -> None:
    for vehicle in (placed, example_vehicle(TRACTOR)):
        stack = stack_in(vehicle)
        forks = forks_of(vehicle, stack)
        assert missing_forks(stack, forks) == ()
        assert len(forks) == sum(d.body.startswith("sleeve.") for d in stack.discs)
        assert list(verify_forks(vehicle, stack, forks)) == []
        for fork in forks:
            shape = Polygon(fork.outline)
            assert shape.is_valid
            centre = stack.rods[fork.shaft]
            # it grips its sleeve from one side and reaches its rail
            assert shape.intersects(Point(centre.x_mm, centre.y_mm).buffer(9.0))
            assert shape.contains(Point(fork.rail.x_mm, fork.rail.y_mm))
            assert all(wall in stack.walls for wall in fork.rail.walls)
            assert len(fork.rail.walls) == 2


def test_the_checker_sees_a_fork_or_a_rail_that_is_moved_into_something(placed: Vehicle) -> None:
    stack = stack_in(placed)
    forks = forks_of(placed, stack)
    for number, fork in enumerate(forks):
        for disc in stack.discs:
            if disc.shaft == fork.shaft or not fork.rail.first <= disc.slab <= fork.rail.last:
                continue
            at = stack.rods[disc.shaft]
            rail = replace(fork.rail, x_mm=at.x_mm + disc.radius_mm, y_mm=at.y_mm)
            moved = (*forks[:number], replace(fork, rail=rail), *forks[number + 1 :])
            assert list(verify_forks(placed, stack, moved))
    first, second = forks[0], forks[1]
    dx = stack.rods[second.shaft].x_mm - stack.rods[first.shaft].x_mm
    dy = stack.rods[second.shaft].y_mm - stack.rods[first.shaft].y_mm
    onto = replace(first, outline=tuple((x + dx, y + dy) for x, y in first.outline))
    assert list(verify_forks(placed, stack, (onto, *forks[1:])))


ISO_15 = {
    "623": (3, 10, 4),
    "624": (4, 13, 5),
    "625": (5, 16, 5),
    "626": (6, 19, 6),
    "608": (8, 22, 7),
    "6800": (10, 19, 5),
    "6801": (12, 21, 5),
    "6900": (10, 22, 6),
    "6000": (10, 26, 8),
    "6001": (12, 28, 8),
}
"""Boundary dimensions of ISO 15, diameter series 2, 0, 8 and 9 (from memory)."""


@pytest.mark.parametrize("kit", ["wood-shop", "printed"])
def test_bearing_sizes_are_those_of_iso_15(kit: str) -> None:
    checked = 0
    for bearing in shipped_kit(kit).bearings:
        if bearing.name in ISO_15:
            size = [bearing.bore_mm, bearing.outer_mm, bearing.width_mm]
            assert size == pytest.approx(ISO_15[bearing.name])
            assert bearing.takes_thrust
            checked += 1
    assert checked
    assert not any(b.takes_thrust for b in shipped_kit(kit).bearings if b.kind == "roller")


def test_bearings_are_chosen_seat_by_seat_and_summed_up() -> None:
    vehicle = example_vehicle(TRACTOR)
    stack = stack_in(vehicle)
    seats = seat_choices(vehicle, stack)
    assert len(seats) == 7  # input 2, output 1 beside the hub, layshaft 3, idler 1
    assert all(seat.chosen is None for seat in seats)
    assert tells(
        describe_bearing(vehicle, stack), "layout.seats-all-plain-holes-a-ball-bearing-carries"
    )
    cheap = apply_edit(vehicle, choose_cheapest(vehicle, stack))
    # 0.30 for a bush, 0.80 for a ball bearing in a shaft's last seat
    cost, unknown = bearing_cost(cheap, stack)
    assert cost == pytest.approx(3 * 0.3 + 4 * 0.8)
    assert unknown == 0
    wide = frame(vehicle, wall_mm=14.0)
    thicker = apply_edit(wide, choose_cheapest(wide, stack_in(wide)))
    assert bearing_cost(thicker, stack_in(thicker)) == pytest.approx((3 * 0.3 + 4 * 0.8, 0))
    codes = {f.code for f in evaluate(cheap).findings}
    assert not codes & {"bearing-misfit", "no-thrust", "no-end-play", "thin-wall"}
    parts = {part.name: part.needed for part in evaluate(cheap).parts}
    assert parts["bearing 608"] == 4
    assert parts["fork"] == 3
    roller = apply_edit(
        cheap, choose_bearing(cheap, "output", "back wall", "needle roller 8 × 12 × 8")
    )
    found = [f for f in evaluate(roller).findings if f.code == "no-thrust"]
    assert [f.title for f in found] == [say("layout.nothing-takes-the-thrust-of", shaft="shaft D")]
    with refuses(InputError, "layout.has-no-bearing", name_2="999"):
        choose_bearing(vehicle, "output", "back wall", "999")
    bare = apply_edit(vehicle, choose_bearing(cheap, "output", "back wall", None))
    assert bare.frame.bearing_at("output", "back wall") is None


def test_bearings_that_do_not_fit_are_found() -> None:
    vehicle = example_vehicle(TRACTOR)
    thick = apply_edit(vehicle, choose_bearing(vehicle, "layshaft.1", "back wall", "608"))
    thin_walls = frame(thick, wall_mm=6.0)
    found = [f for f in evaluate(thin_walls).findings if f.code == "bearing-misfit"]
    assert len(found) == 1
    assert tells(plain(found[0].text), "layout.choose-another-one-on-the-page-stack")
    crowded = frame(thick, edge_mm=45.0)
    assert tells(
        next(f.text for f in evaluate(crowded).findings if f.code == "bearing-misfit"),
        "layout.choose-another-one-on-the-page-stack",
    )
    gone = apply_edit(thick, Edit.one("", ("kit", "bearings"), []))
    assert tells(
        next(f.text for f in evaluate(gone).findings if f.code == "bearing-misfit"),
        "layout.choose-another-one-on-the-page-stack",
    )
    loose = frame(
        apply_edit(
            vehicle,
            choose_bearing(vehicle, "layshaft.1", "back wall", "needle roller 8 × 12 × 8"),
        ),
        end_play_mm=0.0,
    )
    assert "no-end-play" in {f.code for f in evaluate(loose).findings}


def test_walls_hold_every_shaft_with_posts_clear_of_all_that_turns() -> None:
    vehicle = example_vehicle(TRACTOR)
    stack = stack_in(vehicle)
    forks = forks_of(vehicle, stack)
    plates = plates_of(vehicle, stack, forks)
    assert [plate.name for plate in plates] == ["front wall", "middle wall", "back wall"]
    for plate, wall in zip(plates, stack.walls, strict=True):
        left, low, right, high = plate.outline_mm
        assert plate.size_mm == (right - left, high - low)
        posts = [hole for hole in plate.holes if hole.kind == "post"]
        assert len(posts) == 4
        for post in posts:
            for disc in stack.discs:
                at = stack.rods[disc.shaft]
                apart = hypot(post.x_mm - at.x_mm, post.y_mm - at.y_mm)
                assert apart > disc.radius_mm + vehicle.frame.post_mm / 2
        bored = {(hole.x_mm, hole.y_mm) for hole in plate.holes if hole.kind == "bore"}
        for rod in stack.rods.values():
            if wall in rod.walls:
                assert (rod.x_mm, rod.y_mm) in bored
        for one, other in combinations(plate.holes, 2):
            apart = hypot(one.x_mm - other.x_mm, one.y_mm - other.y_mm)
            left_over = apart - (one.diameter_mm + other.diameter_mm) / 2
            assert left_over >= vehicle.frame.edge_mm - 1e-9
    narrow = frame(vehicle, edge_mm=45.0)
    assert "thin-wall" in {f.code for f in evaluate(narrow).findings}


def test_a_shaft_that_ends_inside_gets_an_access_hole_where_the_way_is_free() -> None:
    vehicle = example_vehicle(TRACTOR)

    def holes(tested: Vehicle) -> set[str]:
        stack = stack_in(tested)
        plates = plates_of(tested, stack, forks_of(tested, stack))
        return {h.name for plate in plates for h in plate.holes if h.kind == "access"}

    before = holes(vehicle)
    assert not holes(frame(vehicle, access_holes=False))
    stack = stack_in(vehicle)
    for name in before:
        rod = stack.rods[name]
        outer = {stack.walls[0], stack.walls[-1]}
        assert not outer <= set(rod.walls)


def test_the_hulls_outline_is_kept_to_and_checked(placed: Vehicle) -> None:
    layout = placed.layout
    assert layout is not None
    stack = stack_in(placed)
    reach = [(stack.rods[d.shaft].x_mm, stack.rods[d.shaft].y_mm, d.radius_mm) for d in stack.discs]
    left, right = min(x - r for x, _, r in reach), max(x + r for x, _, r in reach)
    low, high = min(y - r for _, y, r in reach), max(y + r for _, y, r in reach)
    around = [(left, low), (right, low), (right, high), (left, high)]
    wide = apply_edit(placed, Edit.one("", ("placing", "outline_mm"), around))
    assert not [f for f in verify_layout(wide) if f.code == "outside-hull"]
    tight = [(left, low), (right - 4, low), (right - 4, high), (left, high)]
    found = verify_layout(apply_edit(placed, Edit.one("", ("placing", "outline_mm"), tight)))
    assert {f.code for f in found} == {"outside-hull"}
    assert tells(
        plain(found[0].text),
        "layout.the-part-reaches-beyond-the-outline-allowed",
        radius_mm="4.0 mm",
    )
    # placing anew keeps to an outline that the present placement does not
    room = [(left, low), (right + 24, low), (right + 24, high + 32), (left + 4, high + 32)]
    assert verify_layout(apply_edit(placed, Edit.one("", ("placing", "outline_mm"), room)))
    asked = with_placing(placed, outline_mm=tuple(room))
    again = first_whole(asked)
    assert again.complete
    assert verify_layout(apply_edit(asked, apply_layout(asked, again))) == ()
    with refuses(DocumentError, "layout.the-hulls-outline-leaves-no-room-for-the"):
        first_whole(with_placing(placed, outline_mm=((0, 0), (72, 0), (72, 72), (0, 72))))


@pytest.mark.parametrize(
    ("corners", "words"),
    [
        (
            [(0, 0), (4, 0)],
            told("vehicle.the-hulls-outline-has-corners-it-takes-three", count_of_corners="2"),
        ),
        (
            [(0, 0), (4, 4), (4, 0), (0, 4)],
            told("vehicle.the-hulls-outline-crosses-itself-between"),
        ),
    ],
)
def test_an_outline_must_be_one(corners: list[tuple[float, float]], words: Told) -> None:
    with refuses(DocumentError, words):
        apply_edit(example_vehicle(), Edit.one("", ("placing", "outline_mm"), corners))


def test_an_idler_is_put_in_and_taken_out_by_hand(placed: Vehicle) -> None:
    layout = placed.layout
    assert layout is not None
    for slot in placed.box.slots:
        if not hasattr(slot, "train"):
            continue
        for number, pair in enumerate(slot.train):
            longer = apply_edit(placed, add_idler(placed, slot.gear, number))
            assert longer.layout is not None
            new = longer.box.slot(slot.gear)
            assert new is not None
            assert len(longer.layout.gears) == len(layout.gears) + 1
            assert len(longer.layout.shafts) == len(layout.shafts) + 1
            codes = {f.code for f in verify_layout(longer)}
            assert not codes & {"layout-out-of-step", "gear-on-wrong-shaft", "mesh-in-two-layers"}
            # one mesh more turns the gear over, and that is said
            before = evaluate(placed).gear(slot.gear)
            after = evaluate(longer).gear(slot.gear)
            assert before is not None
            assert after is not None
            assert after.direction == -(before.direction or 0)
            back = apply_edit(longer, remove_idler(longer, slot.gear, number))
            assert back.box == placed.box
            assert back.layout is not None
            assert set(back.layout.gears) == set(layout.gears)
            assert set(back.layout.shafts) == set(layout.shafts)
            if not pair.idlers:
                with refuses(InputError, "layout.gear-has-no-idler-in-this-pair"):
                    remove_idler(placed, slot.gear, number)
    with refuses(InputError, "layout.gear-has-no-pair-in-the-layout", number="9"):
        add_idler(placed, placed.box.slots[0].gear, 8)
    assert pair_of_body(placed, "rail.2") is None
    assert pair_of_body(placed, "gear 3/0.driver") == ("3", 0)


def test_the_gap_beside_gears_is_the_builders() -> None:
    for gap in (0.5, 1.25):
        vehicle = apply_edit(
            example_vehicle("larkholm-timber-tractor"), Edit.one("gap", ("frame", "gap_mm"), gap)
        )
        stack = stack_for(vehicle)
        assert stack is not None
        parts = next(c for c in shaft_cuts(vehicle, stack) if c.name == "layshaft.1").parts
        gears = [p for p in parts if p.kind == "gear"]
        wall = next(p for p in parts if p.kind == "wall")
        # as much beside the front wall; the rest of the stack is clear with it
        assert gears[0].from_mm - wall.to_mm == pytest.approx(gap)
        assert collide(vehicle).clear

"""Catch and drum: their tracks and orders against plain counting, and what they can reach."""

from fractions import Fraction
from itertools import pairwise, permutations
from math import atan, degrees, pi
from typing import Any

import pytest

from examples import example_vehicle
from mild_badger.core.errors import DocumentError, InputError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.message import say
from mild_badger.core.ratios.train import parse_train
from mild_badger.core.shift.assign import propose_places
from mild_badger.core.shift.catch import best_catch_order, catch_run, catch_shift
from mild_badger.core.shift.drum import DrumLayout, drum_layout, drum_order
from mild_badger.core.shift.gate import gates
from mild_badger.core.shift.mirror import mirror_hand, mirror_pattern, turn_box
from mild_badger.core.shift.positions import (
    columns_text,
    order_text,
    parse_angles,
    parse_columns,
    parse_order,
)
from mild_badger.core.shift.routes import shift_ways, way_between
from mild_badger.core.shift.sequence import play, usual_run
from mild_badger.core.shift.slide import slide_checks
from mild_badger.core.shift.states import StateVerdict
from mild_badger.core.vehicle.box import Slot
from mild_badger.core.vehicle.boxes import LayshaftBox, SlotBox
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from telling import refuses, tells, told

from .test_states import BOXES, slots, vehicle_with

SHIFTED = tuple(name for name in DEMOS if example_vehicle(name).box.sleeves)
"""Demos with sleeves to shift."""


def with_actuator(vehicle: Vehicle, kind: str, **fields: Any) -> Vehicle:
    """Put an actuator in, gears placed for it, with fields of the drum or the catch set."""
    vehicle = apply_edit(vehicle, Edit.one("", ("shifting", "actuation"), kind))
    for name, value in fields.items():
        vehicle = apply_edit(vehicle, Edit.one("", ("shifting", kind, name), value))
    return apply_edit(vehicle, propose_places(vehicle))


def sampled_overlap(vehicle: Vehicle, layout: DrumLayout, start: float, end: float) -> float:
    """Turn with two sleeves in, less the turn with none, by sampling the tracks."""
    limit = vehicle.lever.fork_travel_mm - vehicle.shifting.drum.dog_depth_mm
    count = 20_000
    both = none = 0
    for n in range(count):
        angle = start + (end - start) * (n + 0.5) / count
        engaged = sum(abs(track.travel_at(angle)) > limit for track in layout.tracks)
        both += engaged == 2
        none += engaged == 0
    return (both - none) * (end - start) / count


@pytest.mark.parametrize("name", SHIFTED)
@pytest.mark.parametrize(("overlap", "depth"), [(-16.0, 3.0), (-4.0, 5.0), (3.0, 6.0)])
def test_the_tracks_overlap_by_what_is_asked(name: str, overlap: float, depth: float) -> None:
    vehicle = with_actuator(
        example_vehicle(name), "drum", overlap_deg=overlap, dog_depth_mm=depth, dwell_deg=10.0
    )
    layout = drum_layout(vehicle)
    handed = [change for change in layout.changes if change.overlap_deg is not None]
    assert len(handed) >= 3
    for change in handed:
        assert change.asked
        found = sampled_overlap(vehicle, layout, change.start.angle_deg, change.end.angle_deg)
        assert found == pytest.approx(overlap, abs=0.02)
        # by hand: at 30 rpm a degree takes 1/180 s
        assert change.overlap_seconds == pytest.approx(max(overlap, 0) / 180)
        assert change.seconds == pytest.approx(
            (change.end.angle_deg - change.start.angle_deg) / 180
        )


def test_every_fork_stands_where_its_position_says() -> None:
    vehicle = with_actuator(example_vehicle(), "drum")
    layout = drum_layout(vehicle)
    assert [p.gear for p in layout.positions] == ["R", None, "1", "2", "3", "4", "5", "6"]
    travel = vehicle.lever.fork_travel_mm
    for position in layout.positions:
        placed = dict(position.sleeves)
        for track in layout.tracks:
            side = {"front": -travel, "back": travel}.get(placed.get(track.sleeve, ""), 0.0)
            assert track.travel_at(position.angle_deg) == side


def test_slope_and_unrolled_length_follow_the_diameter() -> None:
    # a ramp of 8 mm over the whole way of 45° − 8° on a drum of 40 mm (helix: tan = rise / arc)
    vehicle = with_actuator(example_vehicle(), "drum", overlap_deg=1.0, dog_depth_mm=4.0)
    layout = drum_layout(vehicle)
    assert layout.around_mm == pytest.approx(pi * 40)
    assert layout.along_mm(90) == pytest.approx(pi * 10)
    assert layout.steepest_deg == pytest.approx(degrees(atan(8 / (pi * 40 * 37 / 360))))
    # the dogs are too shallow for any overlap: it is said, with what is got instead (0°)
    finding = next(f for f in evaluate(vehicle).findings if f.code == "overlap-unmet")
    assert finding.figure == pytest.approx(0.0, abs=1e-9)


def test_a_drum_that_is_too_small_is_mended() -> None:
    vehicle = with_actuator(example_vehicle(), "drum", diameter_mm=16.0)
    finding = next(f for f in evaluate(vehicle).findings if f.code == "track-too-steep")
    assert finding.mend is not None
    mended = apply_edit(vehicle, finding.mend)
    assert drum_layout(mended).steepest_deg <= mended.shifting.drum.steepest_deg
    assert not [f for f in evaluate(mended).findings if f.code == "track-too-steep"]


def test_overlapping_tracks_lock_plain_dogs_and_one_way_dogs_let_the_faster_drive() -> None:
    plain = with_actuator(
        example_vehicle(), "drum", drums="odd and even", overlap_deg=5.0, dog_depth_mm=6.5
    )
    evaluation = evaluate(plain)
    locked = [s for s in evaluation.proof.states if s.verdict is StateVerdict.LOCKS]
    assert [s.passing for s in locked] == [f"between {n} and {n + 1}" for n in range(1, 6)]
    finding = next(f for f in evaluation.findings if f.code == "reach-locks")
    assert finding.mend is not None
    assert evaluate(apply_edit(plain, finding.mend)).proof.count(StateVerdict.LOCKS) == 0

    overrun = apply_edit(plain, Edit.one("", ("shifting", "drum", "dogs"), "one-way"))
    proof = evaluate(overrun).proof
    assert proof.count(StateVerdict.LOCKS) == 0
    ratios = {name: s.ratio for s in proof.states for name in s.gears}
    for state in proof.states:
        if state.passing.startswith("between 2"):
            # two one-way dogs side by side: the shaft follows the faster one (domain.md §6)
            assert state.ratio == ratios["3"]


def test_a_sleeve_between_odd_and_even_gears_needs_other_places() -> None:
    vehicle = apply_edit(example_vehicle(), Edit.one("", ("shifting", "actuation"), "drum"))
    vehicle = apply_edit(
        vehicle,
        propose_places(apply_edit(vehicle, Edit.one("", ("shifting", "actuation"), "gate"))),
    )
    vehicle = apply_edit(vehicle, Edit.one("", ("shifting", "drum", "drums"), "odd and even"))
    finding = next(f for f in evaluate(vehicle).findings if f.code == "sleeve-on-both-drums")
    assert finding.mend is not None
    assert drum_layout(apply_edit(vehicle, finding.mend)).mixed == ()


def test_a_gear_left_out_of_the_drum_cannot_be_reached() -> None:
    vehicle = with_actuator(example_vehicle(), "drum", order=[None, "1", "2"])
    assert drum_order(vehicle) == (None, "1", "2")
    finding = next(f for f in evaluate(vehicle).findings if f.code == "gear-unreachable")
    assert finding.where == ("3", "4", "5", "6", "R")
    assert finding.mend is not None
    assert drum_layout(apply_edit(vehicle, finding.mend)).missed == ()
    with refuses(DocumentError, "vehicle.gear-stands-twice-on-the-drum", gear="2"):
        with_actuator(example_vehicle(), "drum", order=["2", "2"])


def test_the_wall_between_tracks_is_what_a_whole_follower_leaves() -> None:
    vehicle = with_actuator(example_vehicle(), "drum", track_pitch_mm=30.0, follower_mm=4.0)
    layout = drum_layout(vehicle)
    thick = drum_layout(
        with_actuator(example_vehicle(), "drum", track_pitch_mm=30.0, follower_mm=5.0)
    )
    assert layout.closest_mm is not None
    assert thick.closest_mm == pytest.approx(layout.closest_mm - 1.0)
    # by hand: neighbouring middle lines, every quarter degree, less one follower
    least = min(
        other.axial_mm + other.travel_at(angle / 4) - one.axial_mm - one.travel_at(angle / 4)
        for one in layout.tracks
        for other in layout.tracks
        if 0 < other.axial_mm - one.axial_mm < 45
        for angle in range(4 * 360)
    )
    assert layout.closest_mm == pytest.approx(least - 4.0, abs=0.05)


def test_tracks_keep_apart_or_it_is_said() -> None:
    vehicle = with_actuator(example_vehicle(), "drum", track_pitch_mm=8.0)
    layout = drum_layout(vehicle)
    assert layout.closest_mm is not None
    assert layout.closest_mm < 0
    finding = next(f for f in evaluate(vehicle).findings if f.code == "tracks-run-together")
    assert finding.mend is not None
    mended = drum_layout(apply_edit(vehicle, finding.mend)).closest_mm
    assert mended is not None
    assert mended >= 1


@pytest.mark.parametrize("name", ["slot", "layshaft", "twin"])
def test_the_order_of_columns_is_the_best_of_all_orders(name: str) -> None:
    vehicle = apply_edit(
        vehicle_with(BOXES[name]), Edit.one("", ("shifting", "actuation"), "catch")
    )

    def slides(order: tuple[int, ...]) -> int:
        tried = apply_edit(vehicle, Edit.one("", ("shifting", "catch", "order"), order))
        return sum(shift.slides for shift in catch_run(tried))

    best = best_catch_order(vehicle)
    assert slides(best) == min(slides(order) for order in permutations(best))


def test_the_catch_counts_columns_tilts_and_time() -> None:
    vehicle = with_actuator(
        example_vehicle(), "catch", order=[3, 1, 2, 4], slide_s=0.5, tilt_s=0.25
    )
    # by hand: 2 in column 1 to 3 in column 2, next to it; 4 in column 2 to 5 in column 3, two on
    near, far = catch_shift(vehicle, "2", "3"), catch_shift(vehicle, "4", "5")
    assert (near.slides, near.tilts, near.moves) == (1, 2, 3)
    assert (far.slides, far.seconds) == (2, 2 * 0.5 + 2 * 0.25)
    pull = catch_shift(vehicle, "1", "2")
    assert (pull.slides, pull.words) == (
        0,
        say("shift.tilt-from-over-upright-to", start="front", end="back"),
    )


def test_a_catch_that_may_slide_on_in_gear_can_lock() -> None:
    vehicle = with_actuator(example_vehicle(), "catch", past_neutral=False)
    evaluation = evaluate(vehicle)
    assert evaluation.proof.count(StateVerdict.LOCKS) > 0
    finding = next(f for f in evaluation.findings if f.code == "reach-locks")
    assert tells(finding.text, "shift.the-catch-slides-on-with-a-sleeve-left-in")
    assert finding.mend is not None
    assert evaluate(apply_edit(vehicle, finding.mend)).proof.count(StateVerdict.LOCKS) == 0


@pytest.mark.parametrize("kind", ["gate", "catch", "drum"])
@pytest.mark.parametrize("feed", ["rail", "shaft"])
def test_proposed_places_turn_every_gear_the_right_way(kind: str, feed: str) -> None:
    vehicle = apply_edit(example_vehicle(), Edit.one("", ("box", "feed"), feed))
    placed = with_actuator(vehicle, kind)
    codes = {f.code for f in evaluate(placed).findings}
    assert not codes & {"wrong-direction", "reach-locks", "crown-wheel-side", "gear-unreachable"}
    mates: dict[int, set[str]] = {}
    for slot in placed.box.slots:
        mates.setdefault(getattr(slot, "column", 0), set()).add(slot.gear)
    together = [pair for pair in mates.values() if len(pair) == 2]
    if kind == "drum":
        assert {"1", "3"} in together
        assert not [p for p in together if p in ({"1", "2"}, {"2", "3"}, {"3", "4"})]
    else:
        assert {"1", "2"} in together
        assert {"3", "4"} in together
    assert not [pair for pair in together if {"1", "R"} <= pair]


def test_proposed_places_keep_layshafts_and_refuse_what_has_no_places() -> None:
    twin = vehicle_with(BOXES["twin"])
    placed = with_actuator(twin, "drum")
    assert {g.name: g.ratio for g in evaluate(placed).gears} == {
        g.name: g.ratio for g in evaluate(twin).gears
    }
    with refuses(DocumentError, "shift.in-a-range-splitter-box-two-pairs-share-a"):
        propose_places(vehicle_with(BOXES["range"]))


@pytest.mark.parametrize("kind", ["gate", "catch", "drum"])
def test_the_played_run_passes_every_gear_in_order_without_a_jump(kind: str) -> None:
    vehicle = with_actuator(example_vehicle(), kind)
    run = usual_run(vehicle)
    played = play(vehicle, run)
    frames = played.frames
    seen = [frame.gears[0] for frame in frames if frame.gears]
    shown = [a for a, b in pairwise((*seen, None)) if a != b]
    assert shown == ["1", "2", "3", "4", "5", "6", "5", "4", "3", "2", "1"]
    end, steps = frames[-1].time_s, 3000
    before = played.at(0.0)
    for n in range(1, steps + 1):
        now = played.at(end * n / steps)
        assert sum(abs(x) > 1e-9 for x in now.sleeves.values()) <= 1 + (kind == "drum")
        for sleeve, place in now.sleeves.items():
            assert abs(place - before.sleeves[sleeve]) < 0.2
        before = now
    assert played.at(end + 5) == frames[-1]


@pytest.mark.parametrize(("overlap", "drums"), [(4.0, "one"), (3.0, "odd and even"), (-5.0, "one")])
def test_the_played_run_has_both_gears_in_for_as_long_as_the_drums_page_says(
    overlap: float, drums: str
) -> None:
    vehicle = with_actuator(
        example_vehicle(), "drum", overlap_deg=overlap, dog_depth_mm=6.0, drums=drums
    )
    played = play(vehicle, usual_run(vehicle))
    handed = {
        (change.start.gear, change.end.gear): change
        for change in drum_layout(vehicle).changes
        if change.overlap_deg is not None
    }
    assert len(handed) >= 3
    seen = 0
    for one, other in pairwise(played.spans()):
        change = handed.get((one.gear, other.gear)) or handed.get((other.gear, one.gear))
        if change is not None and change.overlap_deg is not None and one.gear != other.gear:
            together = one.to_s - other.from_s
            assert together == pytest.approx(change.overlap_deg / (6 * vehicle.shifting.drum.rpm))
            between = played.at((one.to_s + other.from_s) / 2).gears
            assert set(between) == ({one.gear, other.gear} if overlap > 0 else set())
            seen += 1
    assert seen == 2 * len(handed)  # up and down again
    # the spans are what sampling finds
    for n in range(1000):
        time = played.seconds * (n + 0.37) / 1000
        by_spans = {s.gear for s in played.spans() if s.from_s < time < s.to_s}
        assert by_spans == set(played.at(time).gears)


def test_the_range_box_is_played_with_both_its_levers() -> None:
    vehicle = vehicle_with(BOXES["range"])
    frames = play(vehicle, usual_run(vehicle)).frames
    assert set(frames[0].hands) == {"splitter sleeve", "range sleeve"}
    assert [f.gears[0] for f in frames if f.gears and tells(f.words, "shift.in")] == [
        "1",
        "2",
        "3",
        "2",
        "1",
    ]


@pytest.mark.parametrize("name", DEMOS)
def test_turning_over_follows_in_directions_and_pattern(name: str) -> None:
    vehicle = example_vehicle(name)
    before = {g.name: g.wheel_turns for g in evaluate(vehicle).gears}
    for turn in (turn_box, mirror_pattern, mirror_hand):
        turned = apply_edit(vehicle, turn(vehicle))
        assert turned != vehicle
        assert apply_edit(turned, turn(turned)) == vehicle  # twice is as it was
        after = evaluate(turned)
        assert {g.name: g.wheel_turns for g in after.gears} == before
        assert not [f for f in after.findings if "direction" in f.code or "crown" in f.code]

    def pattern(v: Vehicle) -> dict[str, tuple[float, float]]:
        return {p.label: (p.x_mm, p.y_mm) for gate in gates(v) for p in gate.places}

    here = pattern(vehicle)
    assert pattern(apply_edit(vehicle, mirror_pattern(vehicle))) == {
        gear: (x, -y) for gear, (x, y) in here.items()
    }
    assert pattern(apply_edit(vehicle, turn_box(vehicle))) == {
        gear: (-x, -y) for gear, (x, y) in here.items()
    }
    assert pattern(apply_edit(vehicle, mirror_hand(vehicle))) == {
        gear: (-x, y) for gear, (x, y) in here.items()
    }
    hand = apply_edit(vehicle, mirror_hand(vehicle))
    box_rpm = {g.name: g.box_rpm for g in evaluate(vehicle).gears}
    for gear in evaluate(hand).gears:
        assert gear.box_rpm == -(box_rpm[gear.name] or 0)  # a mirror turns rotations over


def test_a_sliding_reverse_gear_clears_the_gear_beneath_it() -> None:
    box = LayshaftBox(
        engagement="slide",
        input_pair=parse_train("20:40"),
        slots=(
            Slot(gear="1", column=1, face="front", train=parse_train("20:40")),
            Slot(gear="R", column=1, face="back", train=parse_train("20:(15):39")),
        ),
    )
    wood = example_vehicle("larkholm-timber-tractor")
    vehicle = vehicle_with(box).model_copy(update={"kit": wood.kit})
    module, width = wood.kit.module_mm, wood.kit.made.face_width_mm if wood.kit.made else 0.0
    first, back = slide_checks(vehicle)
    travel = vehicle.lever.fork_travel_mm
    assert first.tips_mm is None
    assert first.gap_mm == pytest.approx(travel - width)
    # centre distance m (20 + 40) / 2, tips at m (z + 2) / 2 (ISO 53 profile A)
    assert back.tips_mm == pytest.approx(module * (60 - 22 - 41) / 2)
    codes = {f.code: f for f in evaluate(vehicle).findings}
    assert codes["slider-tips"].where == ("R",)
    short = apply_edit(vehicle, Edit.one("", ("lever", "fork_travel_mm"), width / 2))
    finding = next(f for f in evaluate(short).findings if f.code == "slider-gap")
    assert finding.mend is not None
    assert finding.severity == "error"
    mended = evaluate(apply_edit(short, finding.mend))
    assert not [f for f in mended.findings if f.code == "slider-gap"]


def test_same_results_and_backward_steps_are_found() -> None:
    box = SlotBox(slots=slots("12:(8):24", "8:(8):16", "12:(8):40", "8:16"))
    findings = {f.code: f for f in evaluate(vehicle_with(box)).findings}
    assert findings["same-result"].where == ("1", "2")
    assert findings["step-backwards"].where == ("2", "3")
    assert findings["step-backwards"].figure == pytest.approx(float(Fraction(2) / Fraction(10, 3)))


def test_every_way_says_what_moves_and_how_long() -> None:
    gate, drum = with_actuator(example_vehicle(), "gate"), with_actuator(example_vehicle(), "drum")
    over = way_between(gate, "2", "3")
    # by hand, 0.2 s a move: out, over to the next rail, in
    assert (over.count, over.one_pull) == (2, False)
    assert over.seconds == pytest.approx(0.6)
    assert way_between(gate, "1", "2").one_pull
    turned = way_between(drum, "4", "1")
    assert (turned.count, turned.words) == (
        3,
        say("shift.turn-the-drum-by", word="back", angle=135.0, through=", through 3, 2"),
    )
    assert turned.seconds == pytest.approx(135 / 180)  # 30 rpm are 180° a second
    short = with_actuator(example_vehicle(), "drum", order=[None, "1"])
    assert way_between(short, "1", "5").count is None
    ways = shift_ways(gate)
    assert [row[0].start for row in ways] == [None, "1", "2", "3", "4", "5", "6", "R"]
    assert all(ways[n][n].count == 0 for n in range(8))


def test_orders_are_read_as_they_are_typed_or_refused_with_a_remedy() -> None:
    vehicle = with_actuator(example_vehicle(), "drum")
    assert parse_order(vehicle, order_text(vehicle)) == drum_order(vehicle)
    assert parse_order(vehicle, " r ; n,1,") == ("R", None, "1")
    assert parse_order(vehicle, "") == ()
    assert parse_angles(vehicle, "0; 40,5 81° 120 150 200 240 280") == (
        0,
        40.5,
        81,
        120,
        150,
        200,
        240,
        280,
    )
    assert parse_columns(vehicle, columns_text(vehicle)) == (1, 2, 3, 4)
    for reader, text, said in (
        (parse_order, "1, x", told("shift.positions-there-is-no-gear-separate-gears-by", word="x")),
        (
            parse_angles,
            "0 10",
            told("shift.angles-were-typed-for-positions-separate", count_of_angles="2", count="8"),
        ),
        (
            parse_angles,
            "0 ten",
            told("targets.is-not-a-number-type-one-such-as-3-45", what="Angle"),
        ),
        (parse_columns, "1 9", told("shift.columns-there-is-no-column-this-box-has", word="9")),
        (parse_columns, "1 1", told("shift.columns-stands-twice-name-every-column-once")),
    ):
        with refuses(InputError, said):
            reader(vehicle, text)

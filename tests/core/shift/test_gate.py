"""The gate by hand, as levers and eyes have it, and the detent against the friction angle."""

import json
from math import atan, degrees, radians, tan

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from examples import example_vehicle
from mild_badger.core.architectures.match import match_box
from mild_badger.core.figures import plain
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.shift.assign import propose_places
from mild_badger.core.shift.gate import Gate, describe_gate, detent_force, gates
from mild_badger.core.vehicle.codec import decode, encode
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.shifting import Lever
from strategies import vehicle_of
from telling import tells


def bus(**lever: object) -> Vehicle:
    vehicle = example_vehicle()
    return vehicle.model_copy(update={"lever": vehicle.lever.model_copy(update=lever)})


def spots(gate: Gate) -> dict[str, tuple[float, float]]:
    return {place.label: (place.x_mm, place.y_mm) for place in gate.places}


def test_the_bus_s_gate_from_the_seat() -> None:
    # by hand: four sleeves 24 mm apart at the knob; with its pivot between knob and finger gears at
    # the front take the knob to the rear, and the rail on the left takes it to the right
    (gate,) = gates(bus(pivot="between"))
    assert (gate.knob_travel_mm, gate.knob_across_mm, gate.plungers) == (24, 24, 3)
    assert spots(gate) == {
        "1": (36, -24),
        "2": (36, 24),
        "3": (12, -24),
        "4": (12, 24),
        "5": (-12, -24),
        "6": (-12, 24),
        "R": (-36, -24),
    }
    assert [p.label for p in gate.places if p.reverse] == ["R"]
    assert all((p.knob == "forward") == (p.y_mm > 0) for p in gate.places)


@pytest.mark.parametrize("demo", [name for name in DEMOS if "trolley" not in name])
def test_a_demo_s_gate_is_the_usual_one_with_dogs(demo: str) -> None:
    # the usual pattern of road vehicles (common practice, no source): first forward on the left,
    # then in pairs to the right, reverse at the end
    usual_with_dogs(example_vehicle(demo))


def usual_with_dogs(vehicle: Vehicle) -> None:
    (gate,) = gates(vehicle)
    forward = [gear.name for gear in vehicle.real.gears if not gear.reverse]
    where = {place.label: place for place in gate.places}
    left = min(place.x_mm for place in gate.places)
    assert where["1"].x_mm == left
    assert [where[gear].knob for gear in forward] == [
        "rear" if n % 2 else "forward" for n in range(len(forward))
    ]
    assert [where[gear].rail for gear in forward] == [n // 2 for n in range(len(forward))]
    assert where["R"].x_mm == max(place.x_mm for place in gate.places)


@pytest.mark.parametrize("pivot", ["below", "between"])
@pytest.mark.parametrize("faces", ["rear", "front"])
def test_arrange_gives_the_usual_gate_however_the_lever_hangs(pivot: str, faces: str) -> None:
    vehicle = bus(pivot=pivot, first_rail="right")
    shifting = vehicle.shifting.model_copy(update={"box_faces": faces})
    vehicle = vehicle.model_copy(update={"shifting": shifting})
    usual_with_dogs(apply_edit(vehicle, propose_places(vehicle)))


def test_with_sliding_gears_reverse_and_first_share_a_rail() -> None:
    # the usual pattern of sliding-gear boxes (common practice, no source)
    tractor = example_vehicle("larkholm-timber-tractor")
    slides = tractor.model_copy(
        update={"box": tractor.box.model_copy(update={"engagement": "slide"})}
    )
    (gate,) = gates(apply_edit(slides, propose_places(slides)))
    where = {place.label: (place.rail, place.knob) for place in gate.places}
    assert where == {
        "R": (0, "forward"),
        "1": (0, "rear"),
        "2": (1, "forward"),
        "3": (1, "rear"),
        "5": (2, "forward"),
        "4": (2, "rear"),  # the direct gear couples next to the input
    }
    assert min(gate.places, key=lambda place: place.x_mm).rail == 0


def test_older_files_keep_their_gate() -> None:
    data = json.loads(encode(bus()))
    inner = dict(data["vehicle"])
    kept = {"name": "v", "date": "2026-01-01", "note": "", "data": inner}
    for vehicle in (data["vehicle"], inner):
        vehicle["lever"] = {k: v for k, v in vehicle["lever"].items() if k != "pivot"}
    data["vehicle"]["versions"] = [kept]
    old = decode(json.dumps({**data, "version": 3}))
    assert old.lever.pivot == "between"
    assert old.versions[0].data["lever"]["pivot"] == "between"
    assert spots(gates(old)[0]) == spots(gates(bus(pivot="between"))[0])


def test_the_hand_and_the_onlooker() -> None:
    seat = spots(gates(bus())[0])
    other_hand = spots(gates(bus(first_rail="right"))[0])
    left, right = (gates(bus(seen_from=side))[0] for side in ("left", "right"))
    for gear, (x, y) in seat.items():
        assert other_hand[gear] == (-x, y)
        # from the left side the front is on the left and the right farther off, so higher up
        assert spots(left)[gear] == (-y, x)
        assert spots(right)[gear] == (y, -x)
    assert (left.along, gates(bus())[0].along) == ("horizontal", "vertical")


@pytest.mark.parametrize(("above", "below"), [(60.0, 20.0), (30.0, 30.0), (45.0, 10.0)])
def test_the_knob_goes_as_the_arms_are(above: float, below: float) -> None:
    gate = gates(bus(arm_above_mm=above, arm_below_mm=below, fork_travel_mm=6.0))[0]
    assert gate.knob_travel_mm == pytest.approx(6 * above / below)


def test_a_range_box_has_two_gates_whose_places_serve_several_gears() -> None:
    vehicle = vehicle_of(4.0, 3.0, 2.0, 1.5)
    found = match_box(vehicle, "range-splitter", best="error")
    assert not isinstance(found, Impossible)
    splitter, ranges = gates(apply_edit(vehicle, found.edit(vehicle)))
    assert (splitter.name, ranges.name) == ("splitter gate", "range gate")
    for gate in (splitter, ranges):
        served = [name for place in gate.places for name in place.gears]
        assert sorted(served) == ["1", "2", "3", "4"]


@given(st.floats(5, 85), st.floats(0.1, 50), st.floats(0, 1.5))
def test_a_notch_holds_as_the_friction_angle_says(flank: float, spring: float, mu: float) -> None:
    # the same law by the friction angle φ = atan μ: F = F_spring tan(θ + φ), locking at 90°
    lever = Lever(detent_flank_deg=flank, detent_spring_n=spring, detent_friction=mu)
    force = detent_force(lever)
    whole = radians(flank) + atan(mu)
    assume(abs(degrees(whole) - 90) > 1e-6)
    if degrees(whole) > 90:
        assert (force.feel, force.fork_n) == ("locks", None)
        return
    assert force.fork_n == pytest.approx(spring * tan(whole), rel=1e-6)
    assert force.knob_n == pytest.approx(spring * tan(whole) / 3, rel=1e-6)


def test_the_words_say_travel_guard_and_feel() -> None:
    words = describe_gate(bus())
    assert tells(
        plain(words),
        "shift.the-knob-travels-into-a-gear-and-from-rail",
        knob_travel_mm="24.0 mm",
        knob_across_mm="24.0 mm",
    )
    assert tells(
        words,
        "shift.between-the-rails-all-but-one-in-neutral",
        interlock_plunger="3 interlock plungers",
        keeps="keep",
    )
    assert tells(
        plain(words),
        "shift.notches-are-apart-and-deep-pushing-out-of-a",
        fork_travel_mm="8 mm",
        detent_depth_mm="1.5 mm",
        fork_n="3.0 N",
    )
    assert tells(
        describe_gate(bus(reverse_guard="side spring")), "shift.reverse-is-behind-a-side-spring"
    )
    assert tells(
        describe_gate(bus(detent_flank_deg=70, detent_friction=0.5)),
        "shift.the-detent-angle-is-too-steep-to-be-pushed-2",
        steepest_deg="63",
    )
    assert describe_gate(vehicle_of(3.0)) == ""
    stiff = detent_force(Lever(detent_spring_n=60))
    assert (stiff.feel, detent_force(Lever(detent_spring_n=0.2)).feel) == ("too stiff", "too loose")

"""Every reachable state against the solver's verdict on every setting of the sleeves."""

from fractions import Fraction
from itertools import product

import pytest

from examples import example_vehicle
from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.drivetrain.solve import Motion, solve
from mild_badger.core.evaluate import evaluate
from mild_badger.core.ratios.train import parse_train
from mild_badger.core.shift.states import Proof, ShiftState, StateVerdict, prove, shifters
from mild_badger.core.vehicle.box import RangeSlot, Slot
from mild_badger.core.vehicle.boxes import (
    Box,
    LayshaftBox,
    RangeBox,
    SlotBox,
    TwinLayshaftBox,
    TwoShaftBox,
)
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.box import apply_box
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from strategies import vehicle_of
from telling import tells


def slots(*trains: str) -> tuple[Slot, ...]:
    names = ("1", "2", "3", "R")
    return tuple(
        Slot(
            gear=name,
            column=n // 2 + 1,
            face="back" if n % 2 else "front",
            train=parse_train(train),
        )
        for n, (name, train) in enumerate(zip(names, trains, strict=False))
    )


BOXES: dict[str, Box] = {
    "slot": SlotBox(slots=slots("12:(8):28", "16:(8):24", "20:(8):20", "8:16")),
    "slot with two alike": SlotBox(slots=slots("12:(8):24", "16:(8):24", "8:(8):16", "8:16")),
    "one shaft": SlotBox(slots=slots("12:(8):28", "16:(8):24", "20:20"), feed="shaft"),
    "summing": SlotBox(
        slots=(
            *slots("12:(8):28", "16:(8):24"),
            Slot(
                gear="3",
                column=2,
                face="front",
                train=parse_train("12:(8):12"),
                second=parse_train("12:(8):24"),
            ),
        )
    ),
    "layshaft": LayshaftBox(
        input_pair=parse_train("16:24"),
        slots=(
            *slots("12:28", "16:24"),
            Slot(gear="3", column=2, face="front", direct=True),
            Slot(gear="R", column=2, face="back", train=parse_train("8:(16):20")),
        ),
    ),
    "sliding layshaft": LayshaftBox(
        engagement="slide",
        input_pair=parse_train("16:24"),
        slots=(
            *slots("12:28", "16:24"),
            Slot(gear="3", column=2, face="front", direct=True),
            Slot(gear="R", column=2, face="back", train=parse_train("8:(16):20")),
        ),
    ),
    "sliding twin": TwinLayshaftBox(
        engagement="slide",
        output_pairs=(parse_train("12:36"), parse_train("16:36")),
        slots=slots("16:24", "24:16", "20:20", "12:(8):16"),
    ),
    "two-shaft": TwoShaftBox(slots=slots("12:36", "20:28", "28:20", "8:(20):28")),
    "twin": TwinLayshaftBox(
        output_pairs=(parse_train("12:36"), parse_train("16:36")),
        slots=slots("16:24", "24:16", "20:20", "12:(8):16"),
    ),
    "range": RangeBox(
        splitter=(parse_train("16:24"), parse_train("20:20"), parse_train("10:20")),
        ranges=(parse_train("8:24"), parse_train("16:16"), parse_train("8:(8):16")),
        slots=(
            RangeSlot(gear="1", splitter=1, range=1),
            RangeSlot(gear="2", splitter=2, range=1),
            RangeSlot(gear="3", splitter=2, range=2),
            RangeSlot(gear="R", splitter=1, range=3),
        ),
    ),
}


def vehicle_with(box: Box) -> Vehicle:
    vehicle = vehicle_of(3.5, 2.2, 1.0, reverse=3.6)
    return apply_edit(vehicle, apply_box(vehicle, box))


def proof_of(vehicle: Vehicle) -> Proof:
    return prove(vehicle, conditions(vehicle, Straight(), locked=False))


def without_plungers(vehicle: Vehicle) -> Vehicle:
    return apply_edit(vehicle, Edit.one("", ("lever", "plungers"), False))


def state_with(proof: Proof, sleeves: dict[str, str]) -> ShiftState:
    return next(state for state in proof.states if dict(state.sleeves) == sleeves)


@pytest.mark.parametrize("name", BOXES)
def test_what_locks_by_structure_is_what_the_solver_finds(name: str) -> None:
    vehicle = vehicle_with(BOXES[name])
    train = assemble(vehicle)
    road = conditions(vehicle, Straight(), locked=False)
    sleeves = [pair for group in shifters(train) for pair in group]
    locking = settings = 0
    for chosen in product(*((None, *places) for _, places in sleeves)):
        state = {s: p for (s, _), p in zip(sleeves, chosen, strict=True) if p is not None}
        locking += Motion.LOCKED in solve(train, state, road).motions.values()
        settings += 1
    proof = proof_of(vehicle)
    assert (proof.settings, proof.locking) == (settings, locking)


@pytest.mark.parametrize("name", BOXES)
def test_every_reachable_state_drives_its_gear_or_is_neutral(name: str) -> None:
    vehicle = vehicle_with(BOXES[name])
    proof = proof_of(vehicle)
    assert proof.count(StateVerdict.LOCKS) == 0
    gears = {gear: state for state in proof.states for gear in state.gears}
    for result in evaluate(vehicle).gears:
        if vehicle.box.ready(result.name):
            state = gears[result.name]
            assert (state.ratio, state.forwards) == (result.ratio, result.wheel_turns)
    two = isinstance(vehicle.box, RangeBox)
    assert proof.count(StateVerdict.NEUTRAL) == (1 + 3 + 3 if two else 1)
    assert proof.count(StateVerdict.DRIVES) == (9 if two else len(vehicle.box.slots))


@pytest.mark.parametrize("name", ["layshaft", "twin"])
def test_sliders_drive_as_sleeves_do_and_idle_with_their_shaft(name: str) -> None:
    sleeved, sliding = vehicle_with(BOXES[name]), vehicle_with(BOXES[f"sliding {name}"])
    before, after = evaluate(sleeved), evaluate(sliding)
    assert [g.ratio for g in before.gears] == [g.ratio for g in after.gears]
    assert before.proof.states == after.proof.states
    train = assemble(sliding)
    solved = solve(train, shifter_state_for(sliding, "1"))
    shaft = "output" if name == "layshaft" else "layshaft.1"
    # out of mesh a slider turns with the shaft that carries it, not with its partner
    for gear in ("R", "1") if name == "layshaft" else ("1",):
        assert solved.speed(f"gear {gear}/0.driven") == solved.speed(shaft)


@pytest.mark.parametrize("name", DEMOS)
def test_the_demos_reach_no_state_that_locks(name: str) -> None:
    proof = proof_of(example_vehicle(name))
    assert proof.count(StateVerdict.LOCKS) == 0
    if name == "larkholm-sawmill-trolley":  # one fulcrum stands in one place: nothing can fight
        assert proof.locking == 0
        assert [s.gears for s in proof.states] == [(), ("1",), ("2",), ("3",), ("4",)]
        assert proof.count(StateVerdict.DRIVES) == 4
        assert tells(
            proof.summary,
            "shift.reaches-neutral",
            reaching="T",
            halves="he fulcrum",
            state="5 states",
            drive="4",
            drives="drive",
            neutral="1",
            be="is",
        )
    else:
        assert 0 < proof.locking < proof.settings


def test_two_gears_at_once_lock_and_the_parts_are_named() -> None:
    vehicle = vehicle_with(BOXES["slot"])
    both = shifter_state_for(vehicle, "1") | shifter_state_for(vehicle, "3")
    locked = state_with(proof_of(without_plungers(vehicle)), both)
    assert locked.verdict is StateVerdict.LOCKS
    assert {"Gear 1, driven", "Gear 3, driven"} <= set(locked.fighting)
    assert not any("Gear 2" in part or "heel" in part for part in locked.fighting)


def test_two_gears_of_one_ratio_do_not_fight() -> None:
    vehicle = vehicle_with(BOXES["slot with two alike"])
    both = shifter_state_for(vehicle, "1") | shifter_state_for(
        vehicle, "3"
    )  # both 2 : 1 the same way
    state = state_with(proof_of(without_plungers(vehicle)), both)
    assert (state.verdict, state.ratio) == (StateVerdict.DRIVES, Fraction(2))


def test_the_words_count_what_is_reached_and_what_is_not() -> None:
    words = proof_of(vehicle_with(BOXES["slot"])).summary
    # by hand: two sleeves of two sides make 9 settings, 5 with at most one in, 4 with two
    assert tells(words, "shift.of-the-settings-of-all-sleeves-would-lock", settings="9", beyond="4")
    alone = proof_of(vehicle_with(SlotBox(slots=slots("12:(8):28"))))
    assert tells(alone.summary, "shift.no-other-setting-of-the-sleeves-locks-either")

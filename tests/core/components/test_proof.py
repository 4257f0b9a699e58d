"""The proof by solids: placed demos are clear, and every seeded fault is found."""

from collections.abc import Callable
from dataclasses import replace
from functools import cache
from math import pi

import pytest

from examples import example_vehicle
from mild_badger.core.components.box import BoxComponents, box_components
from mild_badger.core.components.collide import (
    Collision,
    collide,
    collision_data,
    collision_findings,
)
from mild_badger.core.components.component import Component, Prism
from mild_badger.core.components.proof import STEPS, SolidProof, Step, prove_solids, travels
from mild_badger.core.components.solids import circle
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.watch import SearchStopped, Watch
from strategies import placed_demo
from telling import tells

DEMOS = ("larkholm-timber-tractor", "larkholm-crane-truck", "larkholm-mail-bus")
TRACTOR = DEMOS[0]


@cache
def proven(name: str) -> Collision:
    return collide(placed_demo(name))


@pytest.mark.parametrize("name", [*DEMOS, "larkholm-street-sweeper"])
def test_nothing_touches_in_the_demos_in_any_state(name: str) -> None:
    vehicle, collision = placed_demo(name), proven(name)
    assert collision.proof.overlaps == ()
    assert collision.clear
    reached = evaluate(vehicle).proof.states
    assert collision.proof.states == len(reached)
    assert collision.proof.places >= STEPS * sum(1 for state in reached if state.sleeves)


def test_every_way_into_a_gear_is_looked_at_in_five_places() -> None:
    steps = travels([[], [("a", "front")], [("a", "back"), ("b", "front")]])
    assert len(steps) == 1 + STEPS + 3 * STEPS
    whole = [step.travel(8.0) for step in steps if step.share == 1.0]
    assert {"a": -8.0} in whole
    assert {"a": 8.0, "b": -8.0} in whole


def changed(box: BoxComponents, name: str, change: Callable[[Component], Component]) -> SolidProof:
    """Prove the tractor's box with one part changed."""
    vehicle = placed_demo(TRACTOR)
    parts = tuple(change(p) if p.id == name else p for p in box.components)
    states = [state.sleeves for state in evaluate(vehicle).proof.states]
    return prove_solids(
        replace(box, components=parts),
        states,
        vehicle.lever.fork_travel_mm,
        vehicle.kit.module_mm,
    )


def moved(along: float) -> Callable[[Component], Component]:
    return lambda part: replace(part, along_mm=part.along_mm + along)


def aside(x: float) -> Callable[[Component], Component]:
    return lambda part: replace(part, x_mm=part.x_mm + x)


def turned(turn: float) -> Callable[[Component], Component]:
    return lambda part: replace(part, turn_rad=part.turn_rad + turn)


def widened(by: float) -> Callable[[Component], Component]:
    def change(part: Component) -> Component:
        (prism,) = part.solid
        wide = replace(prism, from_mm=prism.from_mm - by / 2, to_mm=prism.to_mm + by / 2)
        return replace(part, solid=(wide,))

    return change


GEAR, SLEEVE, FORK = "gear 2/0.driven", "sleeve.1+2", "fork of sleeve.1+2"
FAULTS: dict[str, tuple[str, Callable[[Component], Component]]] = {
    "a gear half its width off": (GEAR, moved(4.0)),
    "a gear a layer off": (GEAR, moved(-10.0)),
    "a gear a millimetre aside": (GEAR, aside(1.0)),
    "a gear half a tooth off, so that two gears of one shaft are out of phase": (
        "gear 2/0.driver",
        turned(pi / 24),
    ),
    "a fork a millimetre wide": (FORK, widened(1.0)),
    "a fork's rail aside": ("fork rail.1+2", aside(12.0)),
    "a sleeve turned by half a dog": (SLEEVE, turned(pi / 6)),
    "a sleeve off its neutral": (SLEEVE, moved(2.0)),
    "a wall off": ("middle wall", moved(3.0)),
}


@pytest.mark.parametrize("fault", FAULTS)
def test_a_seeded_fault_is_found(fault: str) -> None:
    name, change = FAULTS[fault]
    proof = changed(proven(TRACTOR).box, name, change)
    assert any(name in (overlap.one, overlap.other) for overlap in proof.overlaps), fault
    worst = proof.overlaps[0]
    assert worst.volume_mm3 > 0
    assert worst.depth_mm > 0.02


def test_teeth_one_more_than_the_pair_has_room_for_bite() -> None:
    vehicle = placed_demo(TRACTOR)
    box = proven(TRACTOR).box
    gear = box.of(GEAR)
    size = 1 + 1 / gear.teeth

    def bigger(part: Component) -> Component:
        solid = tuple(
            Prism(
                tuple(tuple((x * size, y * size) for x, y in o) for o in p.outlines),
                p.from_mm,
                p.to_mm,
                p.holes,
            )
            for p in part.solid
        )
        return replace(part, solid=solid)

    assert any(GEAR in (o.one, o.other) for o in changed(box, GEAR, bigger).overlaps)
    assert vehicle.kit.module_mm > 0


def test_thin_sleeves_want_thin_forks_and_the_finding_mends_it() -> None:
    """T 5, r 1.5, f 3 collides by 0.5 mm engaged and nothing shows in neutral (domain §14)."""
    tractor = placed_demo(TRACTOR)
    thin = tractor.model_copy(update={"frame": tractor.frame.model_copy(update={"sleeve": "thin"})})
    assert stack_for(thin) is not None
    collision = collide(thin)
    forks = [
        overlap
        for overlap in collision.proof.overlaps
        if "fork of sleeve.1+2" in (overlap.one, overlap.other)
    ]
    assert [round(overlap.depth_mm, 3) for overlap in forks] == [0.5, 0.5]
    assert all(isinstance(o.step, Step) and o.step.share == 1.0 for o in forks)
    finding = next(f for f in collision_findings(thin, collision) if f.mend is not None)
    assert tells(finding.text, "components.take-a-thinner-fork-or-a-longer-sleeve")
    assert finding.mend is not None
    mended = apply_edit(thin, finding.mend)
    assert mended.frame.fork_mm == pytest.approx(1.6)
    left = collide(mended).proof.overlaps
    assert not any("gear" in o.one + o.other and "fork" in o.one + o.other for o in left)


def test_a_rod_through_everything_is_named_with_what_it_hits() -> None:
    box = proven(TRACTOR).box

    def through(part: Component) -> Component:
        return replace(part, solid=(Prism((circle(3.0),), 0.0, 150.0),), x_mm=0.0, y_mm=20.0)

    proof = changed(box, "tie rod low left", through)
    vehicle = placed_demo(TRACTOR)
    findings = list(collision_findings(vehicle, Collision(box, proof)))
    assert len(findings) == len(proof.overlaps) > 2
    assert {f.code for f in findings} == {"parts-touch"}
    data = collision_data(vehicle, Collision(box, proof))
    assert not data["clear"]
    assert data["overlaps"][0]["overlap_mm3"] == proof.overlaps[0].volume_mm3


def test_without_a_place_nothing_is_claimed_and_work_can_be_stopped() -> None:
    assert box_components(example_vehicle()) is None
    with pytest.raises(InputError):
        collide(example_vehicle())
    with pytest.raises(SearchStopped):
        collide(placed_demo(TRACTOR), watch=Watch(lambda: True))


def test_a_clear_box_has_no_findings() -> None:
    data = collision_data(placed_demo(TRACTOR), proven(TRACTOR))
    assert data["clear"]
    assert data["findings"] == data["overlaps"] == []

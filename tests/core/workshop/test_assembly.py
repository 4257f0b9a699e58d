"""Assembly and take-apart, against parts moved step by step by a check of its own.

The check knows nothing of the program's obstacles: it moves a part along its way in small steps and
looks with shapely whether it runs into anything that is there. Gears are as large as their pitch
circles in it, so that those in mesh just touch.
"""

from collections.abc import Callable, Iterable
from functools import cache

import pytest
from shapely import Polygon, affinity
from shapely.geometry import Point
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from examples import example_vehicle
from mild_badger.core.components.component import Component, ComponentId, Prism
from mild_badger.core.components.vehicle_parts import vehicle_components
from mild_badger.core.findings.finding import Finding
from mild_badger.core.layout.function_box import place_functions, take_places
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.assembly import (
    MOST_KINDS,
    assembly_findings,
    assembly_plan,
    mark_joint,
)
from mild_badger.core.workshop.further_steps import vehicle_steps
from mild_badger.core.workshop.joints import joint_of
from mild_badger.core.workshop.states import mark_states, state_of, step_done, tick_step
from mild_badger.core.workshop.taking_apart import take_apart
from strategies import placed_demo
from telling import tells

STEP_MM = 2.0
TRACTOR, BUS = "larkholm-timber-tractor", "larkholm-mail-bus"


FROM_THE_SIDE = {
    "tie beam",
    "follower",
    "detent arm",
    "lever stand",
    "cradle",
    "gate lever",
    "catch rail",
}


Slice = tuple[float, float, BaseGeometry]


def slices(part: Component, module_mm: float) -> list[Slice]:
    """The part as flat shapes with their spans; gears as large as their pitch circles."""
    found = []
    prisms = part.solid[:1] if part.kind in ("tie rod", "fulcrum") else part.solid  # nuts come on
    for prism in prisms:
        whole = unary_union([Polygon(o).buffer(0) for o in prism.outlines])
        if part.teeth and whole.bounds[2] > part.radius_mm - module_mm:
            whole = Point(0, 0).buffer(part.radius_mm - module_mm)
        whole = whole.difference(unary_union([Polygon(hole) for hole in prism.holes]))
        turned = affinity.rotate(whole, part.turn_rad, origin=(0, 0), use_radians=True)
        placed = affinity.translate(turned, part.x_mm, part.y_mm)
        found.append((part.along_mm + prism.from_mm, part.along_mm + prism.to_mm, placed))
    return found


class Tab:
    """Parts lying there, and one that moves."""

    def __init__(self, parts: Iterable[Component], module_mm: float) -> None:
        self.parts = {part.key: part for part in parts}
        self.slices = {key: slices(part, module_mm) for key, part in self.parts.items()}
        self.far = max(part.to_mm for part in self.parts.values()) + 10

    @cache  # noqa: B019 - a bench lives for one test
    def covering(self, one: str, other: str) -> tuple[tuple[Slice, Slice], ...]:
        return tuple(
            (a, b)
            for a in self.slices[one]
            for b in self.slices[other]
            if a[2].intersection(b[2]).area >= 0.5
        )

    def hit(self, moving: set[str], there: set[str], way: int) -> str | None:
        """What the moving parts run into on their way from far off to their places."""
        for key in sorted(moving):
            part = self.parts[key]
            if part.kind in FROM_THE_SIDE:
                continue
            for other_key in sorted(there):
                other = self.parts[other_key]
                if {part.kind, other.kind} == {"fork", "sleeve"} and part.member == other.member:
                    continue
                for (start, end, _), (first, last, _) in self.covering(key, other_key):
                    off = 0.0
                    while off <= self.far:
                        if min(end + way * off, last) - max(start + way * off, first) > 0.1:
                            return f"{key} runs into {other_key} {off:.0f} mm off its place"
                        off += STEP_MM
        return None


def by_drum() -> Vehicle:
    vehicle = placed_demo(TRACTOR)
    shifting = vehicle.shifting.model_copy(update={"actuation": "drum"})
    return vehicle.model_copy(update={"shifting": shifting})


def lever_drive() -> Vehicle:
    return example_vehicle("larkholm-sawmill-trolley")


def beside_functions() -> Vehicle:
    vehicle = placed_demo("larkholm-street-sweeper")
    return apply_edit(vehicle, take_places(vehicle, place_functions(vehicle, 20.0)))


def test_a_shaft_with_its_parts_goes_together_before_it_comes_in() -> None:
    plan = assembly_plan(placed_demo(TRACTOR))
    (stood,) = (s for s in plan.steps if s.brings and plan.part(s.brings[0]).shaft == "output")
    before = [step for step in plan.steps if step.subassembly == stood.brings[0]]
    assert {key for step in before for key in step.keys} == set(stood.brings)
    assert [step.number for step in before] == list(range(before[0].number, stood.number))
    for step in before:  # of the box nothing is there yet
        assert plan.there_before(step.number) <= set(stood.brings)
        assert len({plan.part(key).kind for key in step.keys}) <= MOST_KINDS
    # what rides on a rail too finds the rail there
    rails = {f"rail {plan.part(k).member}" for k in stood.brings if plan.part(k).kind == "fork"}
    assert len(rails) == 2
    assert stood.keys == ()
    assert stood.counts == ()


@pytest.mark.parametrize(
    ("made", "kinds"),
    [
        (lambda: placed_demo(TRACTOR), {"hub", "post"}),
        (lambda: placed_demo(BUS), {"sleeve"}),
        (by_drum, {"drum", "star", "detent arm", "follower"}),
        (lever_drive, {"eccentric", "lever arm", "pawl", "fulcrum"}),
        (beside_functions, {"ratchet wheel", "pawl ring"}),
    ],
)
def test_every_step_goes_in_without_running_into_what_is_there(
    made: Callable[[], Vehicle], kinds: set[str]
) -> None:
    vehicle = made()
    plan = assembly_plan(vehicle)
    assert kinds <= {part.kind for part in plan.parts}
    tab = Tab(plan.parts, vehicle.kit.module_mm)
    there: set[str] = set()
    for step in plan.steps:
        assert plan.there_before(step.number) == there or step.subassembly
        if step.subassembly:  # by themselves; they come in with their shaft
            continue
        assert tab.hit(set(step.coming), there, step.way) is None
        there |= set(step.coming)
    assert there == {part.key for part in plan.parts}
    assert [key for step in plan.steps for key in step.keys if key not in there] == []
    assert plan.stuck == ()
    assert {f.code for f in assembly_findings(vehicle)} <= {"no-room-for-spacer"}


@pytest.mark.parametrize("name", [TRACTOR, BUS])
def test_what_is_taken_out_first_clears_the_way(name: str) -> None:
    vehicle = placed_demo(name)
    parts = vehicle_components(vehicle)
    tab = Tab(parts, vehicle.kit.module_mm)
    for target in parts[:: max(len(parts) // 14, 1)]:
        found = take_apart(vehicle, target.key)
        assert found.held == ()
        assert found.order[-1] == target.key or target.kind in (
            "fork",
            "shift arm",
            "gate lever",
            "bearing",
        )
        there = {part.key for part in parts}
        forks: dict[str, set[str]] = {}
        for part in parts:
            if part.kind in ("fork", "shift arm"):
                forks.setdefault(part.member, set()).add(part.key)
        for key in found.order:
            unit = {key}
            if tab.parts[key].kind == "sleeve":
                unit |= forks[tab.parts[key].member]
            there -= unit
            assert tab.hit(unit, there, found.way) is None


def test_shafts_come_before_the_wall_that_goes_over_them_and_gears_before_the_next_wall() -> None:
    plan = assembly_plan(placed_demo(TRACTOR))
    number = {key: step.number for step in plan.steps for key in step.keys}
    assert number["front wall"] < number["input.1"] <= number["input pair/0.driver"]
    assert number["input pair/0.driver"] < number["middle wall"] < number["gear 1/0.driven"]
    assert number["layshaft.1"] <= number["input pair/0.driven"] < number["middle wall"]
    assert number["gear 4/0.driven"] < number["back wall"] < number["tie rod low left"]
    free = next(s for s in plan.steps if "gear 1/0.driven" in s.keys)
    assert tells(free.words, "workshop.runs-free-no-glue-spin-it-with-a-finger")
    assert any(
        tells(mistake, "workshop.a-gear-meant-to-run-free-gets-glue-from-its")
        for mistake in free.mistakes
    )
    sleeve = next(s for s in plan.steps if "sleeve.1+2" in s.keys)
    assert tells(
        sleeve.words,
        "workshop.its-face-towards-gear",
        face="front",
        gear_name="1, its back face towards gear 2",
    )
    whole = vehicle_steps(placed_demo(TRACTOR))
    crown = next(s for s in whole.steps if s.key.endswith("/crown"))
    assert any(
        tells(mistake, "workshop.the-crown-wheel-on-the-wrong-side-it-belongs", side="right")
        for mistake in crown.mistakes
    )


def test_gears_glued_on_both_sides_of_a_wall_hold_it_and_a_pin_lets_go() -> None:
    vehicle = placed_demo(TRACTOR)
    glued = apply_edit(vehicle, Edit.one("glue", ("making", "fixed_fit"), "glued"))
    plan = assembly_plan(glued)
    assert joint_of(glued, plan.part("input pair/0.driven")) == "glued"
    assert any(tells(step.words, "workshop.fix-with-glue") for step in plan.steps)
    found = take_apart(glued, "gear R/0.driver")
    assert {"input pair/0.driven", "middle wall", "gear R/0.driver"} <= set(found.held)
    assert tells(found.words, "workshop.these-hold-one-another-and-come-out-neither")
    pinned = glued
    for part in plan.parts:
        if part.kind == "gear" and part.shaft == "layshaft.1":
            pinned = apply_edit(pinned, mark_joint(pinned, part.key, "pinned"))
    found = take_apart(pinned, "gear R/0.driver")
    assert found.held == ()
    assert say("workshop.drive-its-pin-out") in found.joints


def test_a_drive_coupling_is_parted_first_with_its_note() -> None:
    vehicle = placed_demo(TRACTOR)
    keyed = apply_edit(
        vehicle, mark_joint(vehicle, "coupling: output", "keyed", "key up in neutral")
    )
    found = take_apart(keyed, "output")
    assert tells(
        found.joints[-1],
        "workshop.disconnect-the-2",
        words="coupling to the axle's shaft",
        kind="k",
        note="eyed (key up in neutral)",
    )
    assert apply_edit(keyed, mark_joint(keyed, "coupling: output", None)) == vehicle


def test_ticking_a_step_fits_its_parts_and_the_last_steps_are_ticked_too() -> None:
    vehicle = placed_demo(TRACTOR)
    plan = assembly_plan(vehicle)
    step = plan.steps[3]
    done = apply_edit(vehicle, tick_step(vehicle, step, done=True))
    assert step_done(done, step)
    assert all(state_of(done, key) == "fitted" for key in step.keys)
    back = apply_edit(done, tick_step(done, step, done=False))
    assert not step_done(back, step)
    assert state_of(back, step.keys[0]) == "made"
    last = plan.steps[-1]
    over = apply_edit(vehicle, tick_step(vehicle, last, done=True))
    assert step_done(over, last)
    drawn = apply_edit(over, mark_states(over, ["front wall"], "drawn"))
    assert state_of(drawn, "front wall") == "drawn"
    assert (
        state_of(apply_edit(drawn, mark_states(drawn, ["front wall"], None)), "front wall") is None
    )


def test_two_parts_that_bar_each_other_are_a_finding(monkeypatch: pytest.MonkeyPatch) -> None:
    """A clip about a shaft between two collars that are one with it: nothing goes in straight."""

    def block(name: str, half: float, start: float, end: float) -> Component:
        square = ((-half, -half), (half, -half), (half, half), (-half, half))
        solid = (Prism((square,), 0.0, end - start),)
        return Component(ComponentId(name), "wall", solid, 0.0, 0.0, start, wall=name)

    collar, clip = block("shaft with collars", 9, 0, 30), block("clip", 12, 10, 20)
    from mild_badger.core.workshop import assembly  # noqa: PLC0415

    monkeypatch.setattr(assembly, "vehicle_boxes", lambda _v: ((collar, clip),))
    assembly._plan.cache_clear()
    try:
        found: tuple[Finding, ...] = assembly_findings(placed_demo(TRACTOR))
    finally:
        assembly._plan.cache_clear()
    assert [f.code for f in found] == ["no-way-in"]
    assert tells(
        found[0].text, "workshop.from-the-output-end-the-way-the-input-end-is", blocks="blocks"
    )


def test_a_box_without_a_place_has_no_steps() -> None:
    assert assembly_plan(example_vehicle(BUS)).steps == ()

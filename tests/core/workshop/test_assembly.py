"""Assembly and take-apart, against parts moved step by step by a check of its own.

The check knows nothing of the program's obstacles: it moves a part along its way in small steps and
looks with shapely whether it runs into anything that is there. Gears are as large as their pitch
circles in it, so that those in mesh just touch.
"""

from collections.abc import Iterable
from functools import cache

import pytest
from shapely import Polygon
from shapely.geometry import Point
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from mild_badger.core.findings.finding import Finding
from mild_badger.core.message import say
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.workshop.assembly import (
    assembly_findings,
    assembly_plan,
    mark_joint,
    mark_states,
    state_of,
    step_done,
    tick_step,
)
from mild_badger.core.workshop.joints import joint_of
from mild_badger.core.workshop.pieces import Piece, pieces_of
from mild_badger.core.workshop.scene import exploded_figure, step_figure
from mild_badger.core.workshop.taking_apart import take_apart
from strategies import placed_demo
from telling import tells

STEP_MM = 2.0
TRACTOR, BUS = "larkholm-timber-tractor", "larkholm-mail-bus"


def shape(piece: Piece, module_mm: float) -> BaseGeometry:
    if piece.outlines:
        whole = unary_union([Polygon(outline).buffer(0) for outline in piece.outlines])
    else:
        whole = Point(piece.at).buffer(piece.radius_mm - (module_mm if piece.teeth else 0.0))
    for at, radius in piece.holes:
        whole = whole.difference(Point(at).buffer(radius))
    return whole


class Tab:
    """Parts lying there, and one that moves."""

    def __init__(self, pieces: Iterable[Piece], module_mm: float) -> None:
        self.pieces = {piece.key: piece for piece in pieces}
        self.shapes = {key: shape(piece, module_mm) for key, piece in self.pieces.items()}
        self.far = max(piece.to_mm for piece in self.pieces.values()) + 10

    @cache  # noqa: B019 - a bench lives for one test
    def covering(self, one: str, other: str) -> bool:
        return bool(self.shapes[one].intersection(self.shapes[other]).area >= 0.5)

    def hit(self, moving: set[str], there: set[str], way: int) -> str | None:
        """What the moving parts run into on their way from far off to their places."""
        for key in sorted(moving):
            piece = self.pieces[key]
            for other_key in sorted(there):
                other = self.pieces[other_key]
                if {piece.kind, other.kind} == {"fork", "sleeve"} and piece.body == other.body:
                    continue
                if not self.covering(key, other_key):
                    continue
                off = 0.0
                while off <= self.far:
                    start, end = piece.from_mm + way * off, piece.to_mm + way * off
                    if min(end, other.to_mm) - max(start, other.from_mm) > 0.1:
                        return f"{piece.words} runs into {other.words} {off:.0f} mm off its place"
                    off += STEP_MM
        return None


@pytest.mark.parametrize("name", [TRACTOR, BUS])
def test_every_step_goes_in_without_running_into_what_is_there(name: str) -> None:
    vehicle = placed_demo(name)
    plan = assembly_plan(vehicle)
    tab = Tab(plan.pieces, vehicle.kit.module_mm)
    there: set[str] = set()
    for step in plan.steps:
        assert tab.hit(set(step.pieces), there, step.way) is None
        there |= set(step.pieces)
    assert there == {piece.key for piece in plan.pieces}
    assert plan.stuck == ()
    assert {f.code for f in assembly_findings(vehicle)} <= {"no-room-for-spacer"}


@pytest.mark.parametrize("name", [TRACTOR, BUS])
def test_what_is_taken_out_first_clears_the_way(name: str) -> None:
    vehicle = placed_demo(name)
    pieces = pieces_of(vehicle)
    tab = Tab(pieces, vehicle.kit.module_mm)
    for target in pieces[:: max(len(pieces) // 14, 1)]:
        found = take_apart(vehicle, target.key)
        assert found.held == ()
        assert found.order[-1] == target.key or target.kind in ("fork", "bearing")
        there = {piece.key for piece in pieces}
        forks = {p.body: p.key for p in pieces if p.kind == "fork"}
        for key in found.order:
            unit = {key}
            if tab.pieces[key].kind == "sleeve":
                unit.add(forks[tab.pieces[key].body])
            there -= unit
            assert tab.hit(unit, there, found.way) is None


def test_shafts_come_before_the_wall_that_goes_over_them_and_gears_before_the_next_wall() -> None:
    plan = assembly_plan(placed_demo(TRACTOR))
    number = {key: step.number for step in plan.steps for key in step.pieces}
    assert number["front wall"] < number["input.1"] < number["input.1: gear 1"]
    assert number["input.1: gear 1"] < number["middle wall"] < number["output: free gear 1"]
    assert number["layshaft.1"] < number["layshaft.1: gear 1"] < number["middle wall"]
    assert number["output: free gear 5"] < number["back wall"] < number["post 1"]
    free = next(s for s in plan.steps if "output: free gear 2" in s.pieces)
    assert tells(free.words, "workshop.runs-free-no-glue-spin-it-with-a-finger")
    assert any(
        tells(mistake, "workshop.a-gear-meant-to-run-free-gets-glue-from-its")
        for mistake in free.mistakes
    )
    sleeve = next(s for s in plan.steps if "sleeve.1+2" in s.pieces)
    assert tells(
        sleeve.words,
        "workshop.its-face-towards-gear",
        face="front",
        gear_name="1, its back face towards gear 2",
    )
    crown = next(s for s in plan.steps if s.key == "last: crown")
    assert any(
        tells(mistake, "workshop.the-crown-wheel-on-the-wrong-side-it-belongs", side="right")
        for mistake in crown.mistakes
    )


def test_gears_glued_on_both_sides_of_a_wall_hold_it_and_a_pin_lets_go() -> None:
    vehicle = placed_demo(TRACTOR)
    glued = apply_edit(vehicle, Edit.one("glue", ("making", "fixed_fit"), "glued"))
    plan = assembly_plan(glued)
    assert joint_of(glued, plan.piece("layshaft.1: gear 1")) == "glued"
    assert any(tells(step.words, "workshop.fix-with-glue") for step in plan.steps)
    found = take_apart(glued, "layshaft.1: gear 2")
    assert {"layshaft.1: gear 1", "middle wall", "layshaft.1: gear 2"} <= set(found.held)
    assert tells(found.words, "workshop.these-hold-one-another-and-come-out-neither")
    pinned = glued
    for number in range(1, 7):
        pinned = apply_edit(pinned, mark_joint(pinned, f"layshaft.1: gear {number}", "pinned"))
    found = take_apart(pinned, "layshaft.1: gear 2")
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
    assert all(state_of(done, key) == "fitted" for key in step.pieces)
    back = apply_edit(done, tick_step(done, step, done=False))
    assert not step_done(back, step)
    assert state_of(back, step.pieces[0]) == "made"
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
    at = (0.0, 0.0)
    collar = Piece(
        "shaft with collars",
        "wall",
        "shaft with collars",
        0,
        30,
        at,
        outlines=(((-9, -9), (9, -9), (9, 9), (-9, 9)),),
    )
    clip = Piece(
        "clip", "wall", "clip", 10, 20, at, outlines=(((-12, -12), (12, -12), (12, 12), (-12, 12)),)
    )
    from mild_badger.core.workshop import assembly  # noqa: PLC0415

    monkeypatch.setattr(assembly, "pieces_of", lambda _v: (collar, clip))
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
    assert assembly_plan(demo_vehicle(BUS)).steps == ()


def test_pictures_show_what_is_there_and_what_comes_now() -> None:
    plan = assembly_plan(placed_demo(TRACTOR))
    step = next(s for s in plan.steps if "input.1: gear 1" in s.pieces)
    figure = step_figure(plan, step)
    now = [m for m in figure.marks if m.role == "now" and m.radius > 0]
    tips = {round(plan.piece(key).radius_mm, 3) for key in step.pieces}
    assert tips <= {round(m.radius, 3) for m in now}
    assert tells(figure.said, "workshop.tooth-gear", teeth="12")
    near = exploded_figure(plan, 0.0).box()
    far = exploded_figure(plan, 3.0, frozenset({"output"})).box()
    assert far[2] - far[0] > 1.5 * (near[2] - near[0])

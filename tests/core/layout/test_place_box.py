"""Whole boxes placed, and the checker that shares no code with the search.

Seats by hand: a 3-4-5 offset on the grid is exactly 5 u, 40 mm, right for a tooth sum of 80.
"""

import json
import random
from fractions import Fraction
from itertools import count, pairwise, product
from math import hypot
from pathlib import Path
from typing import Any

import pytest
from shapely.geometry import Point

from examples import example_vehicle
from mild_badger.cli import run
from mild_badger.core.architectures.match import match_box
from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.errors import DocumentError, InputError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.findings.finding import Severity
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.layout.apply_layout import apply_layout
from mild_badger.core.layout.describe import describe_placed
from mild_badger.core.layout.findings import layout_findings
from mild_badger.core.layout.manual_edit import meshes_of_shaft, move_layer, move_shaft
from mild_badger.core.layout.place_box import Placed, place_box
from mild_badger.core.layout.point_to_point import apply_way, ways_anywhere, ways_to
from mild_badger.core.layout.reliefs import reliefs
from mild_badger.core.layout.routes import Bounds, ways_between
from mild_badger.core.layout.verify import verify_layout
from mild_badger.core.mesh.offsets import offsets
from mild_badger.core.ratios.box_question import BoxMatch
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.structure.slot_box import stack_of
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.box import apply_box
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.gears import set_gears
from mild_badger.core.vehicle.model import GearTarget, Vehicle
from mild_badger.core.watch import SearchStopped, Watch
from mild_badger.files.vehicle_file import load, save
from telling import refuses, tells, told

SWEEPER = "larkholm-street-sweeper"


def with_placing(vehicle: Vehicle, **changes: Any) -> Vehicle:
    placing = vehicle.placing.model_copy(update={"seconds": 6.0, **changes})
    return vehicle.model_copy(update={"placing": placing})


def first_whole(vehicle: Vehicle) -> Placed:
    """Place a box and stop at the first complete placement."""
    best: list[Placed] = []

    def report(_share: float, found: object) -> None:
        if isinstance(found, Placed):
            best[:] = [found]

    try:
        return place_box(vehicle, watch=Watch(lambda: bool(best and best[0].complete), report))
    except SearchStopped:
        return best[0]


@pytest.fixture(scope="module", params=["larkholm-mail-bus", SWEEPER])
def placed(request: pytest.FixtureRequest) -> Vehicle:
    vehicle = with_placing(example_vehicle(request.param))
    return apply_edit(vehicle, apply_layout(vehicle, first_whole(vehicle)))


def test_a_demo_is_placed_whole_and_right(placed: Vehicle) -> None:
    assert verify_layout(placed) == ()
    evaluation = evaluate(placed)
    for gear in evaluation.gears:
        assert gear.direction == (-1 if gear.reverse else 1)
        assert gear.error_percent is not None
        assert abs(gear.error_percent) <= 3.0
    layout = placed.layout
    assert layout is not None
    assert all(
        shaft.x_mm % placed.kit.grid_unit_mm == 0 for shaft in layout.shafts
    )  # half units are off


def test_the_stack_is_clear_by_shapely_and_every_shaft_stands_in_two_walls(
    placed: Vehicle,
) -> None:
    layout = placed.layout
    assert layout is not None
    stack = stack_of(placed, layout)
    radius = placed.kit.shaft_diameter_mm / 2
    for rod in stack.rods.values():
        assert len(rod.walls) >= 2
        for disc in stack.discs:
            if disc.shaft != rod.name and rod.first <= disc.slab <= rod.last:
                at = stack.rods[disc.shaft]
                gear = Point(at.x_mm, at.y_mm).buffer(disc.radius_mm)
                assert not gear.intersects(Point(rod.x_mm, rod.y_mm).buffer(radius))


def test_the_checker_rejects_every_seeded_change_that_makes_it_wrong(placed: Vehicle) -> None:
    layout = placed.layout
    assert layout is not None
    for number, gear in enumerate(layout.gears):
        for change in ({"layer": gear.layer % layout.layers + 1}, {"teeth": gear.teeth + 1}):
            gears = list(layout.gears)
            gears[number] = gear.model_copy(update=change)
            other = layout.model_copy(update={"gears": tuple(gears)})
            assert verify_layout(placed.model_copy(update={"layout": other})), (gear, change)
    for number, shaft in enumerate(layout.shafts):
        for dx, dy in ((8, 0), (-8, 0), (0, 8), (0, -8)):
            shafts = list(layout.shafts)
            moved = {"x_mm": shaft.x_mm + dx, "y_mm": shaft.y_mm + dy}
            shafts[number] = shaft.model_copy(update=moved)
            other = layout.model_copy(update={"shafts": tuple(shafts)})
            found = verify_layout(placed.model_copy(update={"layout": other}))
            meshes = meshes_of_shaft(placed, shaft.name, moved["x_mm"], moved["y_mm"])
            if any(m.seat is None or not m.seat.verdict.runs for m in meshes):
                assert found, (shaft, dx, dy)


def test_trains_that_change_after_placing_are_noticed(placed: Vehicle) -> None:
    slots = [slot.model_dump() for slot in placed.box.slots]
    slots[0]["train"] = [{"driver": 8, "driven": 40}]
    changed = apply_edit(placed, Edit.one("", ("box", "slots"), slots))
    found = [f for f in evaluate(changed).findings if f.code == "layout-out-of-step"]
    assert found
    assert placed.box.slots[0].gear in found[0].where


def test_offsets_by_hand() -> None:
    kit = shipped_kit("brick-grid")
    exact = {(abs(o.dx), abs(o.dy)) for o in offsets(kit, 40, 40, 2) if o.error_mm < 1e-9}
    assert exact == {(10, 0), (0, 10), (6, 8), (8, 6)}  # 5 u, and the 3-4-5 triangle
    halves = {(o.dx, o.dy) for o in offsets(kit, 8, 12, 1)}
    assert all(dx % 2 or dy % 2 for dx, dy in halves)  # never on whole units (domain.md §8)
    assert offsets(kit, 8, 12, 2) == ()


def test_one_pair_between_two_points_by_plain_counting() -> None:
    """Against a search over all places of up to two idlers that knows no tables."""
    kit = shipped_kit("brick-grid")
    end = (0, 12)
    bounds = Bounds(-10, 10, -8, 20)
    ways = ways_between(
        kit,
        ((16, 16),),
        end,
        parity=1,
        layers=1,
        step=2,
        bounds=bounds,
        selectors=(end,),
        inputs=((0, 0),),
    )
    found = {(w.points[1:-1], tuple(t for t, *_ in w.gears[1:-1])) for w in ways}
    tip = {z: s.tip_diameter_mm / 2 for z in kit.sizes if (s := kit.size(z))}

    def seats(a: int, b: int, one: tuple[int, int], other: tuple[int, int]) -> bool:
        step = (other[0] - one[0], other[1] - one[1])
        return any((o.dx, o.dy) == step for o in offsets(kit, a, b, 2))

    plain = set()
    places = [(x, y) for x in range(-10, 11, 2) for y in range(-8, 21, 2)]
    for z, w in product(kit.sizes, repeat=2):
        for p in (q for q in places if seats(16, z, (0, 0), q)):
            for r in (q for q in places if seats(z, w, p, q) and seats(w, 16, q, end)):
                four = [((0, 0), 16), (p, z), (r, w), (end, 16)]
                clear = all(
                    hypot(a[0] - b[0], a[1] - b[1]) * 4 >= tip[t] + tip[u] + 0.2
                    for (a, t), (b, u) in (
                        (four[0], four[2]),
                        (four[0], four[3]),
                        (four[1], four[3]),
                    )
                ) and all(
                    hypot(a[0] - b[0], a[1] - b[1]) * 4 >= tip[t] + 2.4 + 0.2
                    for n, (a, t) in enumerate(four)
                    for m, (b, _) in enumerate(four)
                    if n != m
                )
                if clear:
                    plain.add(((p, r), (z, w)))
    two = {way for way in found if len(way[0]) == 2}
    assert two
    assert two <= plain

    def cost(way: tuple[tuple[tuple[int, int], ...], tuple[int, ...]]) -> float:
        points, teeth = ((0, 0), *way[0], end), (16, *way[1], 16)
        apart = [hypot(a[0] - b[0], a[1] - b[1]) * 4 for a, b in pairwise(points)]
        error = sum(abs(d - (t + u) / 2) for d, (t, u) in zip(apart, pairwise(teeth), strict=True))
        return 8 * error + 0.02 * sum(teeth)

    assert min(map(cost, two)) == pytest.approx(min(map(cost, plain)))


@pytest.fixture
def counted_time(monkeypatch: pytest.MonkeyPatch) -> None:
    """Let the limits of time run out after so many looks at the clock, on any machine."""
    looks = count()
    for module in ("place_box", "side_placement", "reliefs"):
        name = f"mild_badger.core.layout.{module}.monotonic"
        monkeypatch.setattr(name, lambda: 0.017 * next(looks))


@pytest.mark.usefixtures("counted_time")
def test_what_cannot_be_placed_is_named_with_what_would_help() -> None:
    tight = with_placing(example_vehicle(), layers=1, seconds=0.4)
    found = place_box(tight)
    assert not found.complete
    told_so = describe_placed(tight, found)
    assert tells(told_so, "layout.no-place-for", listed=", ".join(found.unplaced))
    taken = apply_edit(tight, apply_layout(tight, found))
    assert verify_layout(taken) == ()  # what was placed is right
    assert tells(
        reliefs(with_placing(example_vehicle(SWEEPER), layers=1, seconds=6.0)).helps,
        "layout.layers-a-side",
        layers="2",
    )


def test_stock_binds_the_placement() -> None:
    vehicle = with_placing(example_vehicle(SWEEPER))
    assert vehicle.search.within_stock
    found = first_whole(vehicle)
    taken = apply_edit(vehicle, apply_layout(vehicle, found))
    # drive row, tie, final drive and functions take their gears from the same stock
    short = [part.key for part in evaluate(taken).parts if part.short]
    assert not [key for key in short if key[0] in ("fixed", "free")]


def test_other_boxes_and_kits_are_refused_with_a_reason() -> None:
    for vehicle, said in (
        (
            example_vehicle("larkholm-timber-tractor"),
            told("layout.only-a-slot-box-is-placed-as-a-whole-the"),
        ),
        (
            blank_vehicle(shipped_kit("brick-grid")),
            told("layout.no-slot-has-a-train-yet-find-the-set-on-the"),
        ),
    ):
        with refuses(DocumentError, said):
            place_box(vehicle)
    with refuses(InputError, "layout.the-box-has-no-layout-yet-place-it-first"):
        move_shaft(example_vehicle(), "input.1", 0, 0)


def test_shafts_and_gears_are_moved_by_hand(placed: Vehicle) -> None:
    layout = placed.layout
    assert layout is not None
    shaft = next(s for s in layout.shafts if "/" in s.name)
    moved = apply_edit(placed, move_shaft(placed, shaft.name, shaft.x_mm + 10.4, shaft.y_mm))
    assert moved.layout is not None
    there = moved.layout.shaft(shaft.name)
    assert there is not None
    assert (there.x_mm, there.y_mm) == (shaft.x_mm + 8, shaft.y_mm)  # whole units
    assert verify_layout(moved)
    here = meshes_of_shaft(placed, shaft.name, shaft.x_mm, shaft.y_mm)
    assert here
    assert all(m.seat is not None and m.seat.verdict.runs for m in here)
    assert "e " in here[0].summary
    gear = next(g for g in layout.gears if g.layer == 1)
    slid = apply_edit(placed, move_layer(placed, gear.body, 2))
    assert "gear-on-wrong" not in {f.code for f in verify_layout(slid)}
    with refuses(InputError, "layout.layer-the-layout-has-layers-1-to"):
        move_layer(placed, gear.body, 9)


def test_the_command_writes_positions_layers_and_seats(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file, out = tmp_path / "sweeper.badger.json", tmp_path / "placed.badger.json"
    save(example_vehicle(SWEEPER), file)
    code = run(["place", str(file), "--seconds", "2", "--json", "--save", str(out)])
    data = json.loads(capsys.readouterr().out)
    assert code == 0
    assert data["complete"] is True
    # the placement itself is without fault; strength and lengths are told all the same
    assert {f["code"] for f in data["findings"]} <= {
        "shafts-unequal",
        "skips-at-stall",
        "beam-too-long",
        "far-from-support",
    }
    assert data["shared"] == []  # every column has an input shaft of its own
    assert all(not other["unplaced"] for other in data["alternatives"])
    assert {slot["gear"] for slot in data["slots"]} == {"1", "2", "3", "4", "R"}
    assert all(abs(seat["error_mm"]) < 0.7 for slot in data["slots"] for seat in slot["seats"])
    assert load(out).layout is not None
    code = run(["place", str(file), "--seconds", "0.5", "--layers", "1"])
    assert code == 1
    assert tells(capsys.readouterr().out, "layout.no-place-for")
    assert run(["place", str(file), "--spacing", "99"]) == 2
    assert tells(
        capsys.readouterr().err, "command-line.spacing-is-2-to-8-u-layers-1-to-6-seconds-up"
    )


def test_a_hull_binds_and_what_stands_out_is_found() -> None:
    vehicle = with_placing(example_vehicle(SWEEPER))
    free = first_whole(vehicle)
    loose = apply_edit(vehicle, apply_layout(vehicle, free))
    layout = loose.layout
    assert layout is not None
    stack = stack_of(loose, layout)
    tops = [stack.rods[d.shaft].y_mm + d.radius_mm for d in stack.discs if "gear" in d.body]
    high = max(tops) + 13.0  # from the lower edge of the rail's 24-tooth gears
    low = with_placing(example_vehicle(SWEEPER), high_mm=high - 4.0, wide_mm=112.0)
    found = place_box(low)
    taken = apply_edit(low, apply_layout(low, found))
    assert verify_layout(taken) == ()
    squeezed = loose.model_copy(update={"placing": low.placing})
    assert "outside-hull" in {f.code for f in verify_layout(squeezed)}


def test_a_train_is_laid_between_two_points_and_keeps_its_ratio_and_direction() -> None:
    vehicle = example_vehicle()
    ways = ways_to(vehicle, "1", 1, 4)
    assert len(ways) > 3
    assert [w.cost for w in ways] == sorted(w.cost for w in ways)
    before = evaluate(vehicle).gear("1")
    assert before is not None
    for shown in ways:
        first, last = shown.placement.shafts_u[0], shown.placement.shafts_u[-1]
        assert shown.output == pytest.approx((1, 4))
        assert (last[0] - first[0], last[1] - first[1]) == shown.output
        assert all(mesh.seat.verdict.runs for mesh in shown.placement.meshes)
        turns = shown.turns(Fraction(1))
        assert turns[-1] == 1 / (before.ratio or Fraction(1))  # forwards, the same ratio
        after = evaluate(apply_edit(vehicle, apply_way(vehicle, "1", shown))).gear("1")
        assert after is not None
        assert (after.ratio, after.direction) == (before.ratio, 1)
    for place, said in (
        ((1.5, 4), told("layout.u-is-not-on-the-grid-use")),
        ((0, 0), told("layout.the-outputs-shaft-cannot-stand-where-the")),
    ):
        with refuses(InputError, said):
            ways_to(vehicle, "1", *place)
    anywhere = ways_anywhere(vehicle, "1")
    assert len({shown.output for shown in anywhere}) > 3
    assert anywhere[0].cost <= ways[0].cost
    assert all(mesh.seat.verdict.runs for shown in anywhere for mesh in shown.placement.meshes)


def test_in_wood_idlers_stand_where_two_circles_cross() -> None:
    tractor = example_vehicle("larkholm-timber-tractor")
    with refuses(InputError, "layout.in-wood-and-print-a-train-leads-to-any-place"):
        ways_anywhere(tractor, "1")
    kit = tractor.kit
    for end in ((70.0, 35.0), (120.0, 0.0), (40.0, -60.0)):
        ways = ways_to(tractor, "1", *end)
        assert ways
        for shown in ways:
            unit = kit.grid_unit_mm
            points = [(x * unit, y * unit) for x, y in shown.placement.shafts_u]
            assert points[-1][0] - points[0][0] == pytest.approx(end[0])
            assert points[-1][1] - points[0][1] == pytest.approx(end[1])
            rings = [
                (Point(points[shaft]).buffer(kit.module_mm * (teeth + 2) / 2, 64), teeth, shaft)
                for teeth, shaft, _ in shown.gears
            ]
            for (_, a, on), (_, b, at) in pairwise(rings):  # each at half its tooth sum
                assert Point(points[on]).distance(Point(points[at])) == pytest.approx(
                    (a + b) * kit.module_mm / 2
                )
            for n, (ring, _, _) in enumerate(rings):
                for other, _, _ in rings[n + 2 :]:
                    assert not ring.intersects(other)
            assert all(mesh.seat.verdict.runs for mesh in shown.placement.meshes)
    # the one distance of the pair itself takes no idler when the direction needs none
    pair = tractor.box.slot("1")
    assert pair is not None
    with refuses(InputError, "layout.the-outputs-shaft-cannot-stand-where-the"):
        ways_to(tractor, "1", 0, 0)


def test_trains_from_one_shaft_share_gears_where_their_speeds_agree() -> None:
    bare = example_vehicle(SWEEPER).model_copy(update={"functions": None})
    one = apply_edit(bare, Edit.one("", ("box", "feed"), "shaft"))
    asked = with_placing(one, layers=4)
    found = first_whole(asked)
    assert found.complete
    placed = apply_edit(asked, apply_layout(asked, found))
    layout = placed.layout
    assert layout is not None
    assert layout.shared
    assert verify_layout(placed) == ()
    speeds = solve(assemble(placed), {}).speeds
    for group in layout.shared:
        assert len({speeds[gear.body] for gear in group}) == 1
    evaluation = evaluate(placed)
    for gear in evaluation.gears:
        assert gear.direction == (-1 if gear.reverse else 1)
    # one part each: as many gears as there are places, and the tie
    places = {(g.shaft, g.side, g.layer) for g in layout.gears}
    counted = sum(p.needed for p in evaluation.parts if p.key[0] in ("fixed", "free"))
    final = 2 * len(placed.final_drive.pairs)
    assert counted == len(places) + placed.box.columns + final
    shafts = next(p.needed for p in evaluation.parts if p.key == ("shaft", 0))
    rails = placed.box.sleeves
    assert shafts >= len(layout.shafts) + rails
    # gears in one place that turn at different speeds are not one
    first, second = layout.shared[0][:2]
    train = placed.box.slot(second.body.split("/")[0].removeprefix("gear "))
    assert train is not None
    gears = [
        g.model_copy(update={"teeth": g.teeth + 4}) if g.body == second.body else g
        for g in layout.gears
    ]
    other = layout.model_copy(update={"gears": tuple(gears)})
    codes = {f.code for f in verify_layout(placed.model_copy(update={"layout": other}))}
    assert "clash" in codes
    assert first.shaft == second.shaft


@pytest.mark.parametrize("seed", range(6))
def test_every_proposal_of_a_random_box_passes_the_checker(seed: int) -> None:
    """Invented ratios; the best proposal and those behind it, geometry and directions alike."""
    rng = random.Random(seed)
    ratios = [rng.uniform(3.5, 6.0)]
    for _ in range(2 + seed % 3):
        ratios.append(ratios[-1] / rng.uniform(1.3, 1.7))
    gears = [GearTarget(name=str(n + 1), ratio=r) for n, r in enumerate(ratios)]
    gears.append(GearTarget(name="R", ratio=ratios[0] * rng.uniform(0.9, 1.1), reverse=True))
    blank = blank_vehicle(shipped_kit("brick-grid"))
    vehicle = apply_edit(blank, set_gears(blank, gears))
    search = vehicle.search.model_copy(update={"fit": "spacing"})
    vehicle = vehicle.model_copy(update={"search": search})
    found = match_box(vehicle, "slot", best="size")
    assert isinstance(found, BoxMatch)
    vehicle = with_placing(apply_edit(vehicle, apply_box(vehicle, found.box)), seconds=1.5)
    best = place_box(vehicle)
    assert best.complete
    for placed in (best, *best.others):
        taken = apply_edit(vehicle, apply_layout(vehicle, placed))
        assert [f for f in layout_findings(taken) if f.severity is Severity.ERROR] == []
        assert taken.layout is not None
        sides = {shaft.name: shaft.side for shaft in taken.layout.shafts}
        assert all(sides[g.shaft] in ("both", g.side) for g in taken.layout.gears)
        for gear in evaluate(taken).gears:
            assert gear.direction == (-1 if gear.reverse else 1)
            assert gear.ratio is not None
            assert gear.error_percent is not None
            assert abs(gear.error_percent) <= 3.01


def test_a_taken_layout_names_its_gears_by_the_ids_of_its_trains() -> None:
    """Pairs that come with a placement keep the ids it gave them, also those that are new."""
    bus = example_vehicle("larkholm-mail-bus")
    ratios = (5.222, 4.246, 3.175, 2.549, 2.063, 1.558, 1.242, 1.001)
    gears = [{"name": str(n), "ratio": ratio} for n, ratio in enumerate(ratios, 1)]
    real = bus.real.model_dump() | {"gears": gears}
    blank = {"architecture": "none"}
    vehicle = Vehicle.model_validate(bus.model_dump() | {"real": real, "box": blank})
    match = match_box(vehicle, "slot", best="error")
    assert not isinstance(match, Impossible)
    vehicle = apply_edit(vehicle, match.edit(vehicle))
    placed = apply_edit(vehicle, apply_layout(vehicle, first_whole(vehicle)))
    assert placed.layout is not None
    assert {gear.body for gear in placed.layout.gears} <= set(assemble(placed).index)


def test_a_gear_beyond_the_end_of_its_shaft_is_found(placed: Vehicle) -> None:
    """A front shaft is given a gear behind the sleeves, where it does not reach."""
    layout = placed.layout
    assert layout is not None
    front = next(s.name for s in layout.shafts if s.side == "front")
    far = next(n for n, g in enumerate(layout.gears) if g.side == "back" and g.layer > 1)
    gears = list(layout.gears)
    gears[far] = gears[far].model_copy(update={"shaft": front})
    other = layout.model_copy(update={"gears": tuple(gears)})
    found = verify_layout(placed.model_copy(update={"layout": other}))
    beyond = [f for f in found if tells(f.text, "layout.the-shaft-does-not-reach-the-gear")]
    assert [f.code for f in beyond] == ["gear-on-wrong-shaft"]

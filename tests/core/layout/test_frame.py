"""Shafts, walls and the push at stall, against plain integration and handbook formulas."""

from itertools import combinations, pairwise
from math import cos, pi, radians, sin, tan

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Polygon

from examples import example_vehicle
from mild_badger.core.components.box import box_components
from mild_badger.core.components.collide import collide
from mild_badger.core.components.hardware import hardware
from mild_badger.core.evaluate import evaluate
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.layout.apply_layout import apply_layout
from mild_badger.core.layout.bending import bearing_shares, influence
from mild_badger.core.layout.findings import layout_findings
from mild_badger.core.layout.shaft_deflection import separations
from mild_badger.core.mesh.outline import gear_outline, meshing_turn
from mild_badger.core.message import say
from mild_badger.core.structure.forks import forks_of
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.shaft_lengths import shaft_cuts
from mild_badger.core.structure.slot_box import stack_of
from mild_badger.core.structure.walls import long_ties, walls_of
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from strategies import placed_demo

from .test_place_box import SWEEPER, first_whole, with_placing


@pytest.fixture(scope="module")
def placed() -> Vehicle:
    vehicle = with_placing(example_vehicle(SWEEPER))
    return apply_edit(vehicle, apply_layout(vehicle, first_whole(vehicle)))


def bent(left: float, right: float, at: float, stiffness: float) -> float:
    """Deflection under one newton by integrating M/EI twice over a beam on two supports."""
    start, end = min(left, at), max(right, at)
    x = np.linspace(start, end, 40_001)
    span = right - left
    force_right = (at - left) / span
    force_left = 1 - force_right
    moment = force_left * np.maximum(x - left, 0) + force_right * np.maximum(x - right, 0)
    moment = moment - np.maximum(x - at, 0)
    step = x[1] - x[0]
    slope = np.cumsum(moment) * step / stiffness
    shape = np.cumsum(slope) * step
    tilt = (np.interp(right, x, shape) - np.interp(left, x, shape)) / span
    line = np.interp(left, x, shape) + tilt * (x - left)
    return abs(float(np.interp(at, x, shape - line)))


@pytest.mark.parametrize(
    ("left", "right", "at"), [(0.0, 40.0, 20.0), (0.0, 40.0, 8.0), (0.0, 24.0, 40.0)]
)
def test_a_shaft_bends_as_the_integral_says(left: float, right: float, at: float) -> None:
    stiffness = 2200 * pi * 4.8**4 / 64
    assert influence((left, right), (at,), stiffness)[0, 0] == pytest.approx(
        bent(left, right, at, stiffness), rel=2e-3
    )


def test_more_support_is_stiffer_and_none_holds_nothing() -> None:
    assert influence((0.0, 40.0), (36.0,), 1e4)[0, 0] < influence((0.0, 40.0), (20.0,), 1e4)[0, 0]
    assert (
        influence((0.0, 24.0, 36.0), (40.0,), 1e4)[0, 0]
        < influence((0.0, 24.0), (40.0,), 1e4)[0, 0]
    )
    assert influence((0.0,), (10.0,), 1e4)[0, 0] == float("inf")


def test_bending_agrees_with_the_handbooks_table_of_beams() -> None:
    """Roark's Formulas for Stress and Strain, simple supports (from memory)."""
    stiffness, span, a = 7.0e4, 50.0, 18.0
    b = span - a
    found = influence((0.0, span), (a, 30.0), stiffness)
    assert found[0, 0] == pytest.approx(a**2 * b**2 / (3 * stiffness * span))
    # elsewhere on the near side of the load: F b x (L² − b² − x²) / (6 E I L), from the far end
    x = span - 30.0
    assert found[1, 0] == pytest.approx(a * x * (span**2 - a**2 - x**2) / (6 * stiffness * span))
    assert found[0, 1] == pytest.approx(found[1, 0])  # Maxwell
    over = 12.0  # beyond the last support: F c² (L + c) / (3 E I)
    assert influence((0.0, span), (span + over,), stiffness)[0, 0] == pytest.approx(
        over**2 * (span + over) / (3 * stiffness)
    )
    # two spans alike, a force in the middle of one: 23 F l³ / (1536 E I), the three-moment equation
    two = influence((0.0, span, 2 * span), (span / 2,), stiffness)
    assert two[0, 0] == pytest.approx(23 * span**3 / (1536 * stiffness))


def test_shafts_are_cut_to_the_next_whole_length(placed: Vehicle) -> None:
    layout = placed.layout
    assert layout is not None
    stack = stack_of(placed, layout)
    lengths = placed.kit.shaft_lengths_u
    for cut in shaft_cuts(placed, stack):
        unit = placed.kit.grid_unit_mm
        assert cut.length_mm == unit * min(n for n in lengths if n * unit >= cut.needed_mm)
        for one, other in pairwise(cut.parts):
            assert one.to_mm <= other.from_mm + 1e-9  # nothing overlaps
    short = apply_edit(placed, Edit.one("", ("kit", "shaft_lengths_u"), [4, 8]))
    found = [f for f in evaluate(short).findings if f.code == "shaft-too-long"]
    assert {f.title for f in found} >= {say("layout.shaft-is-too-long", shaft_letter="A")}


def test_every_hole_of_every_wall_lies_on_a_beam(placed: Vehicle) -> None:
    layout = placed.layout
    assert layout is not None
    stack = stack_of(placed, layout)
    unit = placed.kit.grid_unit_mm
    forks = forks_of(placed, stack)
    rods = [*stack.rods.values(), *(fork.rail for fork in forks)]
    columns: list[set[float]] = []
    for number, wall in zip(stack.walls, walls_of(placed, stack, forks), strict=True):
        for rod in rods:
            if number in rod.walls:
                x, y = rod.x_mm / unit, rod.y_mm / unit
                rows = [b for b in wall.beams if not b.upright and b.along_u == y]
                assert any(b.start_u <= x <= b.end_u for b in rows)
        assert all(b.length_u is None or b.length_u >= b.end_u - b.start_u + 1 for b in wall.beams)
        assert not wall.between
        uprights = [b for b in wall.beams if b.upright]
        assert all(b.face for b in uprights)  # no two beams of a wall in one another
        walls = box_components(placed)
        assert walls is not None
        faces = [(p.from_mm, p.to_mm) for p in walls.of(wall.name).solid]
        assert all(a[1] <= b[0] + 1e-9 or b[1] <= a[0] + 1e-9 for a, b in combinations(faces, 2))
        spans: dict[float, tuple[float, float]] = {}  # what is joined of several beams is one row
        for beam in (b for b in wall.beams if not b.upright and not b.face):
            start, end = spans.get(beam.along_u, (beam.start_u, beam.end_u))
            spans[beam.along_u] = min(start, beam.start_u), max(end, beam.end_u)
        for up, (start, end) in spans.items():
            for upright in uprights:  # every row crosses both uprights at a hole
                assert start <= upright.along_u <= end
                assert upright.start_u <= up <= upright.end_u
        columns.append({upright.along_u for upright in uprights})
    assert all(found == columns[0] for found in columns)  # so that ties touch every wall
    ties = long_ties(placed, stack)
    assert len(ties) == 4
    assert all(n is None or n * unit >= stack.length_mm for n in ties)
    parts = {part.name for part in evaluate(placed).parts}
    assert any(name.startswith("beam with holes") for name in parts)
    assert any(name.startswith("shaft (") and "16 u" in name for name in parts)


def test_the_push_at_stall_is_torque_over_radius_times_tan_alpha(placed: Vehicle) -> None:
    layout = placed.layout
    assert layout is not None
    rows = separations(placed, stack_of(placed, layout))
    first = rows[0]
    slot = placed.box.slot(first.gear)
    assert slot is not None
    driver = placed.box.chain(first.gear)[0].pair.driver
    assert first.force_n == pytest.approx(
        placed.motor.stall_torque_n_mm / (driver * placed.kit.module_mm / 2)
    )
    assert len(rows) > len(placed.real.gears)
    stiff = apply_edit(placed, Edit.one("", ("kit", "shaft_modulus_mpa"), 210_000.0))
    for soft, hard in zip(rows, separations(stiff, stack_of(stiff, layout)), strict=True):
        # for small shifts in proportion; large ones turn the line of centres as well
        if abs(soft.apart_mm) < 0.05:
            assert hard.apart_mm == pytest.approx(soft.apart_mm * 2200 / 210_000, abs=2e-3)
        assert abs(hard.apart_mm) <= abs(soft.apart_mm) + 1e-9
    weak = apply_edit(placed, Edit.one("", ("motor", "stall_torque_n_mm"), 2000.0))
    assert [f for f in evaluate(weak).findings if f.code == "skips-at-stall"]
    assert not [f for f in evaluate(stiff).findings if f.code == "skips-at-stall"]
    assert tan(radians(20)) == pytest.approx(0.36397, abs=1e-5)


@pytest.mark.parametrize("teeth", [(8, 24), (12, 20), (17, 31), (40, 16)])
@pytest.mark.parametrize("towards", [0.0, 0.7, 2.5, -1.2])
def test_drawn_gears_mesh_tooth_in_gap(teeth: tuple[int, int], towards: float) -> None:
    """By true outlines: turned right they hardly overlap, half a tooth off they run together."""
    kit = shipped_kit("brick-grid")
    alpha = radians(kit.pressure_angle_deg)
    apart = (sum(teeth) * kit.module_mm) / 2 + 0.02

    def outline(z: int, turn: float, x: float, y: float) -> Polygon:
        points = gear_outline(z, kit.module_mm, kit.module_mm * (z + 1.8), alpha)
        return Polygon(
            [
                (x + p * cos(turn) - q * sin(turn), y + p * sin(turn) + q * cos(turn))
                for p, q in points
            ]
        ).buffer(0)

    turn = meshing_turn(teeth, 0.3, towards)
    one = outline(teeth[0], 0.3, 0.0, 0.0)
    x, y = apart * cos(towards), apart * sin(towards)
    right = one.intersection(outline(teeth[1], turn, x, y)).area
    wrong = one.intersection(outline(teeth[1], turn + pi / teeth[1], x, y)).area
    assert right < 0.15
    assert wrong > 5 * right


def test_what_the_supports_of_a_beam_take() -> None:
    """Two equal spans, a load amid the first: 13/32, 22/32, −3/32 (beam tables, from memory)."""
    two = bearing_shares((0.0, 40.0), (10.0, 60.0))
    assert two == pytest.approx(np.array([[0.75, -0.5], [0.25, 1.5]]))
    three = bearing_shares((0.0, 40.0, 80.0), (20.0, 40.0))
    assert three[:, 0] == pytest.approx([13 / 32, 22 / 32, -3 / 32])
    assert three[:, 1] == pytest.approx([0, 1, 0])  # right above a support
    assert np.isnan(bearing_shares((0.0,), (10.0,))).all()


halves = st.integers(-80, 480).map(lambda n: n / 2)  # as far apart as anything in a stack


@given(
    st.lists(halves, min_size=2, max_size=5, unique=True), st.lists(halves, min_size=1, max_size=4)
)
def test_supports_take_all_of_a_load_and_its_moment(
    supports: list[float], places: list[float]
) -> None:
    shares = bearing_shares(tuple(supports), tuple(places))
    assert shares.sum(axis=0) == pytest.approx(np.ones(len(places)), abs=1e-6)
    assert np.array(supports) @ shares == pytest.approx(np.array(places), abs=1e-4)


def with_beams(*lengths: int) -> Vehicle:
    placed = placed_demo("larkholm-mail-bus")
    kit = placed.kit.model_copy(update={"beam_lengths_u": lengths})
    return placed.model_copy(update={"kit": kit})


def test_rows_longer_than_any_beam_are_joined_with_splices() -> None:
    for lengths in ((2, 3, 5, 7, 9, 11, 13, 15), (5, 7, 9)):
        vehicle = with_beams(*lengths)
        stack = stack_for(vehicle)
        assert stack is not None
        joined = 0
        for wall in walls_of(vehicle, stack, forks_of(vehicle, stack)):
            for y in {beam.along_u for beam in wall.beams if not beam.upright}:
                row = [b for b in wall.beams if b.along_u == y and not b.upright]
                pieces = sorted((b for b in row if not b.face), key=lambda b: b.start_u)
                assert all(b.length_u in lengths for b in row)
                for one, other in pairwise(pieces):  # end to end
                    assert other.start_u == one.end_u + 1
                seams = [piece.end_u for piece in pieces[:-1]]
                for splice in (b for b in row if b.face):
                    joined += 1
                    (seam,) = [s for s in seams if splice.start_u <= s < splice.end_u]
                    assert seam - splice.start_u >= 1  # two holes of either beam
                    assert splice.end_u - seam >= 2
                    assert pieces[0].start_u <= splice.start_u
                    assert splice.end_u <= pieces[-1].end_u
        assert joined
        assert collide(vehicle).clear


def test_what_cannot_be_joined_is_told_and_counted_all_the_same() -> None:
    vehicle = with_beams(3)
    stack = stack_for(vehicle)
    assert stack is not None
    walls = walls_of(vehicle, stack, forks_of(vehicle, stack))
    assert all(wall.loose for wall in walls)
    codes = [finding.code for finding in layout_findings(vehicle)]
    assert codes.count("beam-too-long") == len(walls) + 1
    usual = placed_demo("larkholm-mail-bus")
    beams = sum(number for kind, _, _, number in hardware(usual) if kind == "beam")
    rows = sum(
        len({b.along_u for b in wall.beams if not b.upright}) + 2
        for wall in walls_of(usual, stack, forks_of(usual, stack))
    )
    assert beams >= rows  # a row that needs two beams is in the list of parts with both

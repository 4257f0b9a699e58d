"""Phases by the rolling condition, checked with outlines of shapely."""

from itertools import pairwise
from math import cos, hypot, pi, sin, tau

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import affinity
from shapely.geometry import Polygon

from mild_badger.core.components.phase import MeshOf, Wheel, phases_of
from mild_badger.core.templates.gear_shape import GearForm, gear_shape

MODULE = 1.0


def placed(wheel: Wheel, turn: float) -> Polygon:
    form = GearForm(wheel.teeth, MODULE, thinning_mm=0.1)
    shape = affinity.rotate(Polygon(gear_shape(form)), turn, origin=(0, 0), use_radians=True)
    return affinity.translate(shape, wheel.x_mm, wheel.y_mm)


@given(
    teeth=st.lists(st.integers(14, 40), min_size=3, max_size=5),
    angles=st.lists(st.floats(-pi, pi), min_size=4, max_size=4),
)
def test_a_chain_of_gears_interlocks_wherever_they_stand(
    teeth: list[int], angles: list[float]
) -> None:
    """Each next gear stands at the pitch distance in any direction; no tooth bites another."""
    wheels = [Wheel("0", teeth[0], 0.0, 0.0, "0")]
    for number, (count, angle) in enumerate(zip(teeth[1:], angles, strict=False), 1):
        apart = (teeth[number - 1] + count) * MODULE / 2
        last = wheels[-1]
        x, y = last.x_mm + apart * cos(angle), last.y_mm + apart * sin(angle)
        wheels.append(Wheel(str(number), count, x, y, str(number)))
    meshes = [MeshOf(a.id, b.id) for a, b in pairwise(wheels)]
    phases = phases_of(wheels, meshes)
    assert phases.astray == ()
    for mesh in meshes:
        one, other = wheels[int(mesh.one)], wheels[int(mesh.other)]
        first, second = placed(one, phases.turns[one.id]), placed(other, phases.turns[other.id])
        assert first.intersection(second).area < 0.005
        wrong = placed(other, phases.turns[other.id] + pi / other.teeth)
        assert first.intersection(wrong).area > 0.1


def test_gears_keyed_to_one_shaft_share_its_phase() -> None:
    """Two pairs between the same two shafts: by hand, z φ must agree modulo a pitch for both.

    With 16 : 16 and 12 : 20 about one line of centres (α = 0) and the shafts' angles a and b the
    conditions are 16 a + 16 (b − π) = π and 12 a + 20 (b − π) = π, both mod 2π. With a = 0 the
    first gives b = π + π/16 (+ k π/8), the second then 20 (b − π) = 5π/4 + k 5π/2, which is π for
    no k: the nearest is π/4 off, an eighth of a pitch.
    """
    rigid = [
        Wheel("a1", 16, 0.0, 0.0, "A", 1),
        Wheel("b1", 16, 16.0, 0.0, "B", 1),
        Wheel("a2", 12, 0.0, 0.0, "A", 1),
        Wheel("b2", 20, 16.0, 0.0, "B", 1),
    ]
    meshes = [MeshOf("a1", "b1"), MeshOf("a2", "b2")]
    phases = phases_of(rigid, meshes)
    assert phases.turns["a2"] == phases.turns["a1"]
    assert [mesh for mesh, _ in phases.astray] == [MeshOf("a2", "b2")]
    assert phases.astray[0][1] == pytest.approx(1 / 8)
    # glued on at any angle they agree
    glued = [Wheel(w.id, w.teeth, w.x_mm, w.y_mm, w.body, 0) for w in rigid]
    assert phases_of(glued, meshes).astray == ()


def test_a_bore_step_is_taken_where_it_helps() -> None:
    """A gear of 14 teeth turned by a quarter stands half a pitch on: 14 / 4 = 3.5 teeth."""
    wheels = [
        Wheel("a1", 16, 0.0, 0.0, "A", 4),
        Wheel("b1", 16, 16.0, 0.0, "B", 4),
        Wheel("a2", 18, 0.0, 0.0, "A", 4),
        Wheel("b2", 14, 16.0, 0.0, "B", 4),
    ]
    phases = phases_of(wheels, [MeshOf("a1", "b1"), MeshOf("a2", "b2")])
    quarter = (phases.turns["b2"] - phases.turns["b1"]) / (tau / 4)
    assert quarter == pytest.approx(round(quarter))
    assert hypot(*[share for _, share in phases.astray], 0.0) <= 0.25

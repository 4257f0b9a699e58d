"""Contact that undercut leaves, against the formula where there is none and the outline itself."""

from math import acos, atan2, cos, hypot, pi, radians, sin, sqrt, tan

import pytest

from mild_badger.core.templates.gear_shape import GearForm, flank_start_mm, gear_shape
from mild_badger.core.templates.undercut import contact_left


def on_the_line_mm(form: GearForm, radius: float) -> float:
    return sqrt(radius**2 - form.base_mm**2)


@pytest.mark.parametrize(("z1", "z2"), [(20, 40), (24, 24), (32, 57)])
def test_without_undercut_it_is_the_contact_ratio_of_iso_21771(z1: int, z2: int) -> None:
    """ε = [√(ra1² − rb1²) + √(ra2² − rb2²) − a sin α] / (π m cos α)."""
    one, other = GearForm(z1, 2.0), GearForm(z2, 2.0)
    centre, alpha = z1 + z2, radians(20)
    paths = on_the_line_mm(one, one.tip_mm) + on_the_line_mm(other, other.tip_mm)
    wanted = (paths - centre * sin(alpha)) / (pi * 2.0 * cos(alpha))
    assert contact_left(one, other, centre) == pytest.approx(wanted, rel=1e-9)


@pytest.mark.parametrize("teeth", [8, 10, 12])
def test_a_flank_begins_where_the_outline_leaves_its_involute(teeth: int) -> None:
    """The outline's points are tried one by one against the involute through the pitch point."""
    form = GearForm(teeth, 2.5)
    half = pi / (2 * teeth)
    inv = tan(radians(20)) - radians(20)
    on_involute = []
    for x, y in gear_shape(form):
        radius = hypot(x, y)
        if not form.base_mm < radius < form.tip_mm - 1e-9:
            continue
        angle = abs(atan2(y, x))
        if angle > pi / teeth:
            continue
        at = acos(form.base_mm / radius)
        if abs(angle - (half + inv - (tan(at) - at))) < 1e-7:
            on_involute.append(radius)
    assert min(on_involute) == pytest.approx(flank_start_mm(form), abs=0.02 * 2.5)
    assert flank_start_mm(form) > form.base_mm


def test_ten_teeth_at_20_degrees_let_go_of_one_another_and_at_25_they_do_not() -> None:
    small = GearForm(10, 2.5)
    assert contact_left(small, small, 25.0) < 1
    steep = GearForm(10, 2.5, 25.0)
    assert contact_left(steep, steep, 25.0) > 1.2
    assert contact_left(small, small, 23.0) == 0  # closer than the base circles

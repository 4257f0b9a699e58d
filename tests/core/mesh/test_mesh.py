"""Meshing against reference values.

Sources: involute table, Machinery's Handbook; contact ratio and backlash recomputed from ISO 21771
formulas; worked examples Norton, *Machine Design*, Ex. 12-1 and Shigley, Ex. 13-1.
"""

from math import degrees, hypot, radians

import pytest

from mild_badger.core.mesh.involute import Engagement, engagement, involute
from mild_badger.core.mesh.outline import gear_outline
from mild_badger.core.mesh.seats import SeatVerdict, seat_at, seats, seats_well
from mild_badger.core.mesh.shift import profile_shift, undercut_limit, undercut_shift
from strategies import BRICK_SIZES, brick
from telling import refuses


def mesh(teeth: tuple[int, int], distance: float, module: float = 1.0) -> Engagement:
    """Full-depth 20° gears: addendum one module (ISO 53 profile A)."""
    return engagement(
        teeth,
        centre_distance_mm=distance,
        tip_diameters_mm=((teeth[0] + 2) * module, (teeth[1] + 2) * module),
        module_mm=module,
        pressure_angle_rad=radians(20),
    )


@pytest.mark.parametrize(
    ("angle", "value"),
    [(14.5, 0.0055448428), (15, 0.0061498046), (20, 0.0149043839), (25, 0.0299753452)],
)
def test_involute_function(angle: float, value: float) -> None:
    assert involute(radians(angle)) == pytest.approx(value, abs=5e-11)


@pytest.mark.parametrize(
    ("teeth", "value"),
    [
        ((12, 12), 1.4203),
        ((17, 17), 1.5148),
        ((20, 20), 1.5568),
        ((24, 24), 1.6019),
        ((15, 30), 1.5675),
        ((20, 40), 1.6352),
        ((25, 50), 1.6832),
        ((20, 100), 1.7047),
    ],
)
def test_contact_ratio_at_the_standard_distance(teeth: tuple[int, int], value: float) -> None:
    assert mesh(teeth, sum(teeth) / 2).contact_ratio == pytest.approx(value, abs=5e-5)


@pytest.mark.parametrize(
    ("teeth", "distance", "angle", "ratio", "clipped", "backlash"),
    [
        ((16, 28), 22, 20, 1.5684, 1.5684, 0),
        ((16, 28), 8 * 8**0.5, 23.9871, 1.0012, 1.0012, 0.5159),
        ((20, 24), 8 * 8**0.5, 23.9871, 1.0122, 1.0122, 0.5159),
        ((8, 36), 8 * 8**0.5, 23.9871, 0.9325, 0.9325, 0.5159),
        ((12, 20), 16, 20, 1.4886, 1.4053, 0),
        ((8, 24), 16, 20, 1.4544, 1.1169, 0),
        ((12, 24), 8 * 5**0.5, 18.9949, 1.6242, 1.4053, -0.0787),
        ((16, 20), 8 * 5**0.5, 18.9949, 1.6409, 1.6409, -0.0787),
        ((8, 8), 8, 20, 1.3069, 0.9268, 0),
    ],
)
def test_meshing_at_the_real_distance(
    teeth: tuple[int, int],
    distance: float,
    angle: float,
    ratio: float,
    clipped: float,
    backlash: float,
) -> None:
    found = mesh(teeth, distance)
    assert degrees(found.working_angle_rad) == pytest.approx(angle, abs=5e-5)
    assert found.contact_ratio == pytest.approx(ratio, abs=5e-5)
    assert found.contact_ratio_clipped == pytest.approx(clipped, abs=5e-5)
    assert found.added_backlash_mm == pytest.approx(backlash, abs=5e-5)
    assert found.interference == (clipped < ratio)


def test_worked_examples() -> None:
    inch = 25.4
    norton = mesh((19, 37), 4.6667 * inch, module=inch / 6)
    assert norton.contact_ratio == pytest.approx(1.62, abs=0.005)
    shigley = mesh((16, 40), 14.25 * inch, module=inch / 2)
    assert degrees(shigley.working_angle_rad) == pytest.approx(22.60, abs=0.05)


def test_gears_pressed_past_their_base_circles_bind() -> None:
    found = mesh((16, 16), 14.0)
    assert found.added_backlash_mm == float("-inf")


@pytest.mark.parametrize(
    ("teeth", "offset", "verdict"),
    [
        (
            (16, 28),
            (2, 2),
            SeatVerdict.LOOSE,
        ),  # common practice, no source: accepted, slightly loose
        (
            (12, 24),
            (2, 1),
            SeatVerdict.SNUG,
        ),  # common practice, no source: a tenth tight still runs
        ((40, 40), (4, 3), SeatVerdict.GOOD),  # a 3-4-5 offset is exactly 5 u
        ((8, 24), (2, 0), SeatVerdict.GOOD),
        ((8, 36), (2, 2), SeatVerdict.SKIPS),
        ((36, 36), (4, 2), SeatVerdict.BINDS),
        ((8, 12), (1, 0), SeatVerdict.BINDS),
        ((8, 12), (1, 1), SeatVerdict.SKIPS),
    ],
)
def test_verdicts(teeth: tuple[int, int], offset: tuple[int, int], verdict: SeatVerdict) -> None:
    kit = brick()
    one, other = kit.size(teeth[0]), kit.size(teeth[1])
    assert one is not None
    assert other is not None
    assert seat_at(kit, one, other, offset).verdict is verdict


def test_exact_seats_are_those_of_the_grid() -> None:
    # reference table: exact placements of the eight sizes on the 8 mm grid, by exhaustion
    found = {
        ((a, b), (seat.dx_u, seat.dy_u))
        for a in BRICK_SIZES
        for b in BRICK_SIZES
        if a <= b
        for seat in seats(brick(), a, b)
        if seat.verdict is SeatVerdict.GOOD and abs(seat.engagement.seat_error_mm) < 1e-9
    }
    assert found == {
        ((8, 8), (1, 0)),
        ((8, 24), (2, 0)),
        ((12, 20), (2, 0)),
        ((16, 16), (2, 0)),
        ((8, 40), (3, 0)),
        ((12, 36), (3, 0)),
        ((20, 28), (3, 0)),
        ((24, 24), (3, 0)),
        ((24, 40), (4, 0)),
        ((28, 36), (4, 0)),
        ((40, 40), (5, 0)),
        ((40, 40), (4, 3)),
    }


def test_sizes_that_never_sit_together() -> None:
    assert not seats_well(brick(), 8, 12)  # common practice, no source
    assert not seats_well(brick(), 8, 13)
    assert seats_well(brick(), 24, 12)


def test_an_outline_has_its_teeth_between_root_and_tip() -> None:
    points = gear_outline(16, 1.0, 18.0, radians(20))
    radii = [hypot(x, y) for x, y in points]
    assert max(radii) == pytest.approx(9.0)
    assert min(radii) == pytest.approx(8 - 1.25)
    crossings = sum(1 for a, b in zip(radii, radii[1:] + radii[:1], strict=True) if a < 8 <= b)
    assert crossings == 16


def test_profile_shift_of_the_handbook_example() -> None:
    # KHK gear technical reference, profile-shift table: z 12/24, m 3, a' 56.4999 -> x 0.6 + 0.36
    shift = profile_shift(
        (12, 24), centre_distance_mm=56.4999, module_mm=3, pressure_angle_rad=radians(20)
    )
    assert shift.total == pytest.approx(0.96, abs=2e-5)
    with refuses(ValueError, "mesh.no-shift-brings-and-teeth-so-close"):
        profile_shift((12, 24), centre_distance_mm=50, module_mm=3, pressure_angle_rad=radians(20))


@pytest.mark.parametrize(("angle", "teeth"), [(14.5, 31.903), (20, 17.097), (25, 11.198)])
def test_undercut_limits(angle: float, teeth: float) -> None:
    # Shigley ch. 13, ISO 21771: 2 / sin²α at full depth
    assert undercut_limit(angle) == pytest.approx(teeth, abs=5e-4)
    assert undercut_shift(32, angle) == 0
    assert undercut_shift(10, angle) == pytest.approx(1 - 10 / teeth, abs=1e-4)


def test_the_nearest_seats_of_every_grid_are_those_of_a_plain_count() -> None:
    """Every offset out to three modules, judged one by one; of a fine grid the nearest forty."""
    kit = brick()
    for unit in (8.0, 4.0, 1.7, 0.3):
        grid = kit.model_copy(update={"grid_unit_mm": unit})
        for first, second in ((8, 24), (16, 20), (12, 36)):
            nominal = (first + second) * kit.module_mm / 2
            most = int((nominal + 3 * kit.module_mm) / unit) + 1
            offsets = sorted(
                (abs(hypot(dx, dy) * unit - nominal), dx, dy)
                for dx in range(1, most + 1)
                for dy in range(dx + 1)
                if abs(hypot(dx, dy) * unit - nominal) <= 3 * kit.module_mm
            )
            one, other = kit.size(first), kit.size(second)
            assert one is not None
            assert other is not None
            plain = [
                (dx, dy)
                for _, dx, dy in offsets[:40]
                if seat_at(grid, one, other, (dx, dy)).verdict.runs
            ]
            assert [(s.dx_u, s.dy_u) for s in seats(grid, first, second)] == plain
            assert seats_well(grid, first, second) == bool(plain)

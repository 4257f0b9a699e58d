"""Offsets on the grid counted anew, outlines measured, centres of several pairs."""

from itertools import pairwise
from math import acos, atan2, cos, hypot, pi, radians, sin, tan

import pytest
from shapely.geometry import Polygon

from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.mesh.centres import (
    Centre,
    centre_of,
    fits_between,
    reaches_over,
    shift_at,
)
from mild_badger.core.mesh.outline import gear_outline, meshing_turn
from mild_badger.core.mesh.seat_table import seat_table
from mild_badger.core.mesh.seats import SeatVerdict, seat_at, seats, seats_well
from mild_badger.core.mesh.shift import profile_shift, shifted_seat
from mild_badger.core.vehicle.box import GearPair
from strategies import BRICK_SIZES, brick

WOOD = shipped_kit("wood-shop")


@pytest.mark.parametrize("half", [False, True])
def test_the_table_lists_every_offset_within_a_millimetre_and_a_half(half: bool) -> None:
    kit, step = brick(), 0.5 if half else 1.0
    most = int(90 / step)
    counted = {
        (one, other, x * step, y * step)
        for one in BRICK_SIZES
        for other in BRICK_SIZES
        if one <= other
        for x in range(1, most)
        for y in range(x + 1)
        if abs(hypot(x, y) * step * kit.grid_unit_mm - (one + other) * kit.module_mm / 2) <= 1.5
    }
    rows = seat_table(kit, half_units=half)
    assert {(r.first, r.second, r.seat.dx_u, r.seat.dy_u) for r in rows} == counted
    assert len(rows) == len(counted)
    mine = seat_table(kit, 24, half_units=half)
    assert {r.second for r in mine} <= set(BRICK_SIZES)
    assert {(r.second, r.seat.dx_u) for r in mine if r.second < 24}
    assert seat_table(WOOD) == []
    assert seat_table(kit, 23) == []


def test_made_gears_sit_at_half_their_sum_of_diameters() -> None:
    (seat,) = seats(WOOD, 20, 30)
    mesh = seat.engagement
    assert mesh.centre_distance_mm == pytest.approx(25 * WOOD.module_mm)
    assert seat.dy_u == 0
    assert mesh.seat_error_mm == pytest.approx(0)
    assert seat.verdict is SeatVerdict.GOOD
    one, other = WOOD.size(20), WOOD.size(30)
    assert one is not None
    assert other is not None
    assert seat.play_mm == pytest.approx((one.tooth_thinning_mm + other.tooth_thinning_mm) / 2)
    assert seats(WOOD, 20, 3) == ()
    assert seats_well(WOOD, 20, 30)


def test_play_and_contact_decide_at_the_kits_limits() -> None:
    kit = brick()
    one, other = kit.size(16), kit.size(28)
    assert one is not None
    assert other is not None
    seat = seat_at(kit, one, other, (2, 2))
    ratio = seat.engagement.contact_ratio
    for least, smooth, verdict in (
        (ratio, ratio, SeatVerdict.GOOD),
        (ratio, ratio + 1e-6, SeatVerdict.LOOSE),
        (ratio + 1e-6, ratio + 1e-6, SeatVerdict.SKIPS),
    ):
        at = kit.model_copy(update={"least_contact": least, "smooth_contact": smooth})
        assert seat_at(at, one, other, (2, 2)).verdict is verdict
    tight = kit.size(12), kit.size(24)
    assert tight[0] is not None
    assert tight[1] is not None
    play = seat_at(kit, tight[0], tight[1], (2, 1)).play_mm
    for least, verdict in ((play, SeatVerdict.SNUG), (play + 1e-6, SeatVerdict.BINDS)):
        at = kit.model_copy(update={"least_play_mm": least})
        assert seat_at(at, tight[0], tight[1], (2, 1)).verdict is verdict
    assert [v.runs for v in SeatVerdict] == [True, True, True, False, False]


def test_a_shifted_pair_sits_without_error() -> None:
    kit = brick()
    one, other = kit.size(12), kit.size(24)
    assert one is not None
    assert other is not None
    plain, fitted = (f(kit, one, other, (2, 1)) for f in (seat_at, shifted_seat))
    assert (fitted.dx_u, fitted.dy_u) == (2, 1)
    assert fitted.verdict is SeatVerdict.GOOD
    assert fitted.play_mm == pytest.approx((one.tooth_thinning_mm + other.tooth_thinning_mm) / 2)
    assert fitted.engagement.centre_distance_mm == plain.engagement.centre_distance_mm
    assert fitted.engagement.seat_error_mm == fitted.engagement.added_backlash_mm == 0


def test_a_shift_is_shared_evenly_and_closes_the_backlash() -> None:
    """Tooth thicknesses on the working circles fill its pitch (ISO 21771)."""
    shift = profile_shift((17, 31), centre_distance_mm=24.4, module_mm=1, pressure_angle_rad=0.349)
    assert shift.driver == shift.driven == pytest.approx(shift.total / 2)
    working = acos(24 * cos(0.349) / 24.4)

    def thickness(teeth: int, x: float) -> float:
        angle = pi / (2 * teeth) + 2 * x * tan(0.349) / teeth
        angle += (tan(0.349) - 0.349) - (tan(working) - working)
        return 2 * angle * teeth * cos(0.349) / cos(working) / 2

    pitch = pi * cos(0.349) / cos(working)
    assert thickness(17, shift.driver) + thickness(31, shift.driven) == pytest.approx(pitch)


@pytest.mark.parametrize("teeth", [8, 17, 24, 60])
def test_flanks_are_involutes_of_the_right_thickness(teeth: int) -> None:
    """ISO 21771: half the thickness angle at r is π/2z + inv α − inv acos(r_b / r)."""
    alpha, module = radians(20), 1.25
    points = gear_outline(teeth, module, (teeth + 2) * module, alpha)
    base, root = teeth * module / 2 * cos(alpha), teeth * module / 2 - 1.25 * module
    each = len(points) // teeth
    assert len(points) == each * teeth
    for tooth in (0, teeth // 2, teeth - 1):
        own = points[tooth * each : (tooth + 1) * each]
        for n, (x, y) in enumerate(own):
            radius = hypot(x, y)
            off = (atan2(y, x) - 2 * pi * tooth / teeth + pi) % (2 * pi) - pi
            lean = acos(min(base / radius, 1.0))
            half = pi / (2 * teeth) + (tan(alpha) - alpha) - (tan(lean) - lean)
            assert off == pytest.approx(-half if n < each / 2 else half, abs=1e-9)
            assert root - 1e-9 <= radius <= (teeth + 2) * module / 2 + 1e-9
        radii = sorted({round(hypot(x, y), 9) for x, y in own})
        assert radii[0] == pytest.approx(root)
        assert radii[-1] == pytest.approx((teeth + 2) * module / 2)
        steps = [b - a for a, b in pairwise(radii[-5:])]
        assert steps == pytest.approx([steps[0]] * 4)


@pytest.mark.parametrize(("turn", "towards"), [(0.0, 0.0), (0.3, 1.1), (2.0, -2.4), (-0.7, 3.0)])
def test_teeth_stand_in_gaps(turn: float, towards: float) -> None:
    """Turned so, two outlines at their distance do not overlap; half a pitch on they do."""
    one, other = 17, 26
    far = (one + other) / 2
    second = meshing_turn((one, other), turn, towards)

    def placed(teeth: int, angle: float, x: float, y: float) -> Polygon:
        points = gear_outline(teeth, 1.0, teeth + 1.6, radians(20))
        return Polygon(
            [
                (x + px * cos(angle) - py * sin(angle), y + px * sin(angle) + py * cos(angle))
                for px, py in points
            ]
        )

    first = placed(one, turn, 0, 0)
    at = (far * cos(towards), far * sin(towards))
    assert first.intersection(placed(other, second, *at)).area < 0.02
    assert first.intersection(placed(other, second + pi / other, *at)).area > 1


def test_the_centre_that_most_pairs_share() -> None:
    kit = brick()
    assert centre_of(kit, []) is None
    idler = GearPair(driver=8, driven=8, idlers=(16,))
    assert centre_of(kit, [idler]) is None
    assert centre_of(kit, [GearPair(driver=8, driven=12)]) is None  # nowhere on the grid
    same = [GearPair(driver=a, driven=b) for a, b in ((8, 40), (12, 36), (24, 24), (8, 24))]
    centre = centre_of(kit, same)
    assert centre == Centre(24.0, 48, (3, 0))
    assert [fits_between(kit, pair, centre, shifted=False) for pair in same] == [True] * 3 + [False]
    assert not fits_between(kit, same[0], Centre(16.0, 32, (2, 0)), shifted=False)
    snug = centre_of(kit, [GearPair(driver=40, driven=40)])
    assert snug is not None
    assert (snug.distance_mm, snug.tooth_sum) == (40.0, 80)
    wood = [GearPair(driver=a, driven=b) for a, b in ((20, 30), (21, 29), (18, 33), (15, 40))]
    found = centre_of(WOOD, wood)
    assert found == Centre(50 * WOOD.module_mm / 2, 50)
    fits = [[fits_between(WOOD, p, found, shifted=s) for p in wood] for s in (False, True)]
    assert fits == [[True, True, False, False], [True, True, True, False]]
    # of two sums alike the one that more idlers bridge, then the lower
    even = [GearPair(driver=20, driven=20), GearPair(driver=30, driven=30)]
    assert centre_of(WOOD, even) == Centre(20 * WOOD.module_mm, 40)
    bridge = GearPair(driver=18, driven=18, idlers=(30,))  # at 40 its tips would touch
    assert centre_of(WOOD, [*even, bridge]) == Centre(30 * WOOD.module_mm, 60)


def test_idlers_bridge_from_tips_clear_to_a_straight_row() -> None:
    at = Centre(25 * WOOD.module_mm, 50)
    row = GearPair(driver=14, driven=16, idlers=(10,))  # in a line (14+10+10+16)/2 = 25 modules
    assert reaches_over(WOOD, row, at)
    assert fits_between(WOOD, row, at, shifted=False)
    short = GearPair(driver=14, driven=14, idlers=(10,))
    assert not reaches_over(WOOD, short, at)
    wide = GearPair(driver=20, driven=25, idlers=(30,))  # 45: five below, the tips clear
    assert reaches_over(WOOD, wide, at)
    assert not reaches_over(WOOD, GearPair(driver=20, driven=26, idlers=(30,)), at)
    kit = brick()
    grid = Centre(24.0, 48, (3, 0))
    assert reaches_over(kit, GearPair(driver=16, driven=16, idlers=(16,)), Centre(32.0, 64, (4, 0)))
    corner = Centre(16 * 2**0.5, 45, (2, 2))  # one step of 2 u along, one across
    assert reaches_over(kit, GearPair(driver=8, driven=8, idlers=(24,)), corner)
    assert not reaches_over(kit, GearPair(driver=8, driven=8, idlers=(8,)), grid)


def test_a_pair_one_off_is_shifted_to_the_distance() -> None:
    at = Centre(25 * WOOD.module_mm, 50)
    assert shift_at(WOOD, GearPair(driver=20, driven=30), at) is None
    assert shift_at(brick(), GearPair(driver=20, driven=30), at) is None
    assert shift_at(WOOD, GearPair(driver=20, driven=20, idlers=(20,)), at) is None
    wide, tight = (shift_at(WOOD, GearPair(driver=20, driven=z), at) for z in (29, 31))
    assert wide is not None
    assert tight is not None
    assert wide.total == pytest.approx(0.538, abs=2e-3)  # about half a tooth's step, and a bit
    assert -0.5 < tight.total < -0.4
    assert shift_at(WOOD, GearPair(driver=50, driven=60), at) is None

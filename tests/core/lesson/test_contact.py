"""The lesson's bar and star: contact against a solver in space, hand-over by hand."""

from math import atan, degrees, pi, radians, sqrt, tan

import numpy as np
import pytest
from scipy.optimize import minimize

from mild_badger.core.lesson.contact import (
    bar_tilt_rad,
    free_play_deg,
    let_go_rad,
    overlap_rad,
    star_tilt_rad,
    star_turns,
    star_unevenness,
)
from mild_badger.core.lesson.state import Setting


def nearest(setting: Setting, ahead: float) -> tuple[float, float]:
    """Tilt a bar in space until its line meets a side arm's: the tilt and the way along the bar.

    The axle is the x axis; the bar's middle stands at (0, R, 0) and swings about the y axis; the
    arm starts on the axle at x = −g and points to (0, cos φ, sin φ).
    """
    arm = np.array([0.0, np.cos(ahead), np.sin(ahead)])

    def apart(at: np.ndarray) -> float:
        tilt, along, out = at
        bar = np.array([-along * np.cos(tilt), setting.arm_mm, along * np.sin(tilt)])
        return float(np.sum((bar - np.array([-setting.gap_mm, 0, 0]) - out * arm) ** 2))

    found = minimize(
        apart,
        np.array([ahead, setting.gap_mm, setting.arm_mm]),
        method="Nelder-Mead",
        options={"xatol": 1e-10, "fatol": 1e-14, "maxiter": 8000},
    )
    assert apart(found.x) < 1e-8
    return float(found.x[0]), float(found.x[1])


@pytest.mark.parametrize("ahead_deg", [3.0, 12.0, 25.0, 40.0])
def test_the_bar_meets_the_arm_where_space_says(ahead_deg: float) -> None:
    setting = Setting(bar_mm=40.0, spoke_mm=60.0)
    tilt, along = nearest(setting, radians(ahead_deg))
    assert bar_tilt_rad(setting, radians(ahead_deg)) == pytest.approx(tilt, abs=1e-4)
    assert setting.gap_mm / np.cos(tilt) == pytest.approx(along, abs=1e-3)


def test_a_longer_bar_lets_go_later_and_a_short_arm_sooner() -> None:
    limits = [let_go_rad(Setting(bar_mm=h, spoke_mm=100.0)) for h in (10.5, 12.0, 15.0, 20.0)]
    assert limits == sorted(limits)
    # at the limit the contact lies at the bar's very end
    setting = Setting(bar_mm=15.0, spoke_mm=100.0)
    tilt = bar_tilt_rad(setting, let_go_rad(setting))
    assert setting.gap_mm / np.cos(tilt) == pytest.approx(15.0)
    assert let_go_rad(Setting(bar_mm=9.0)) == 0  # it never reaches
    # cos φ = R / s
    assert let_go_rad(Setting(bar_mm=90.0, spoke_mm=12.0 * sqrt(2))) == pytest.approx(pi / 4)


def test_the_star_of_gap_10_and_arm_12_cannot_turn() -> None:
    """By hand: 2 (π/N − atan(10/12 tan π/N)) is 9.4°, 10.4° and 9.6° for 3, 4 and 5 arms."""
    for arms, overlap in ((3, 9.4), (4, 10.4), (5, 9.6)):
        setting = Setting(arms=arms, gap_mm=10.0, arm_mm=12.0)
        assert degrees(overlap_rad(setting)) == pytest.approx(overlap, abs=0.06)
        assert not star_turns(setting)
        assert star_unevenness(setting) is None


@pytest.mark.parametrize("arms", [3, 4, 6, 9])
def test_a_star_as_far_from_the_sides_as_from_the_axle_turns_evenly(arms: int) -> None:
    setting = Setting(arms=arms, gap_mm=12.0, arm_mm=12.0)
    assert star_turns(setting)
    assert free_play_deg(setting) == pytest.approx(0, abs=1e-9)
    assert star_unevenness(setting) == pytest.approx(0, abs=1e-9)
    for ahead in (0.1, 1.0, 4.0, -2.5):
        assert star_tilt_rad(setting, ahead) == pytest.approx(ahead)


def test_more_arms_leave_less_play_and_run_evener() -> None:
    settings = [Setting(arms=n, gap_mm=14.0) for n in (4, 6, 8, 10)]
    plays = [free_play_deg(s) for s in settings]
    assert plays == sorted(plays, reverse=True)
    # by hand: 2 atan(14/12 tan 45°) − 90°
    assert plays[0] == pytest.approx(2 * degrees(atan(14 / 12 * tan(pi / 4))) - 90)
    uneven = [star_unevenness(s) for s in settings]
    assert all(u is not None and u > 0.9 for u in uneven)  # while there is play it stands


def test_the_star_goes_on_without_a_jump() -> None:
    setting = Setting(arms=5, gap_mm=13.0)
    turns = [star_tilt_rad(setting, ahead) for ahead in np.linspace(-4, 4, 2001)]
    steps = np.diff(turns)
    assert steps.min() > 0
    assert steps.max() < 0.02

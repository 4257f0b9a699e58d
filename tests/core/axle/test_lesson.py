"""The lesson's mechanisms: contact against a solver in space, figures by hand."""

from math import cos, radians, sin, sqrt

import numpy as np
import pytest
from scipy.optimize import minimize

from mild_badger.core.axle.lesson import (
    STEPS,
    Lesson,
    contact_distance_mm,
    let_go_deg,
    show_step,
    star_unevenness_percent,
)
from mild_badger.core.figures import plain
from mild_badger.core.message import say
from telling import tells


def nearest(lesson: Lesson, ahead_deg: float) -> tuple[float, float]:
    """Tilt a bar in space until its line meets a spoke's: the tilt and the way along the bar.

    The axle is the x axis; the bar's middle stands at (0, 0, R) and swings about the z axis; the
    spoke starts on the axle at x = −g and points to (0, sin φ, cos φ).
    """
    turned = radians(ahead_deg)
    spoke = np.array([0.0, sin(turned), cos(turned)])

    def apart(at: np.ndarray) -> float:
        tilt, along, out = at
        bar = np.array([-along * cos(tilt), along * sin(tilt), lesson.arm_mm])
        return float(np.sum((bar - np.array([-lesson.gap_mm, 0, 0]) - out * spoke) ** 2))

    start = np.array([turned, lesson.gap_mm, lesson.arm_mm])
    found = minimize(
        apart,
        start,
        method="Nelder-Mead",
        options={"xatol": 1e-10, "fatol": 1e-14, "maxiter": 8000},
    )
    assert apart(found.x) < 1e-8
    return float(found.x[0]), float(found.x[1])


@pytest.mark.parametrize("ahead", [3.0, 12.0, 25.0, 40.0])
def test_the_bar_meets_the_spoke_where_space_says(ahead: float) -> None:
    lesson = Lesson(differ_deg=2 * ahead, bar_mm=40.0, spoke_mm=60.0)
    tilt, along = nearest(lesson, ahead)
    shown = dict(show_step(1, lesson).figures)
    assert float(shown[say("axle.bar-tilts-by")].rstrip("°")) == pytest.approx(
        np.degrees(tilt), abs=0.06
    )
    assert contact_distance_mm(lesson, ahead) == pytest.approx(along, abs=1e-3)


def test_a_longer_bar_lets_go_later_and_a_short_spoke_sooner() -> None:
    limits = [let_go_deg(Lesson(bar_mm=h, spoke_mm=100.0)) for h in (10.5, 12.0, 15.0, 20.0)]
    assert limits == sorted(limits)
    # at the limit the contact lies at the bar's very end
    lesson = Lesson(bar_mm=15.0, spoke_mm=100.0)
    assert contact_distance_mm(lesson, let_go_deg(lesson)) == pytest.approx(15.0)
    assert let_go_deg(Lesson(bar_mm=9.0)) == 0  # it never reaches
    spoke = Lesson(bar_mm=90.0, spoke_mm=12.0 * sqrt(2))
    assert let_go_deg(spoke) == pytest.approx(45.0)  # cos φ = R / s
    held = Lesson(held=True, turn_deg=60.0, bar_mm=15.0)
    assert not show_step(1, held).drives
    assert tells(show_step(1, held).verdict, "axle.the-bar-has-swung-out-of-reach-nothing-is")
    assert show_step(1, Lesson(held=True, turn_deg=5.0)).drives


def test_more_spokes_leave_less_play_and_more_arms_run_evener() -> None:
    def play(arms: int) -> float:
        words = dict(show_step(2, Lesson(arms=arms)).figures)["free play to the next spoke"]
        return 0.0 if words == "none" else float(words.rstrip("°"))

    limit = let_go_deg(Lesson())
    assert play(3) == pytest.approx(120 - 2 * limit, abs=0.06)
    assert [play(n) for n in (2, 3, 4, 6)] == sorted((play(n) for n in (2, 3, 4, 6)), reverse=True)
    uneven = [star_unevenness_percent(Lesson(arms=n)) for n in (3, 4, 6, 8, 12)]
    assert all(one is not None for one in uneven)
    assert uneven == sorted((u or 0 for u in uneven), reverse=True)
    assert star_unevenness_percent(Lesson(arms=2)) is None
    # as long as wide (g = R) the push keeps its leverage: tan φ = tan ψ
    assert star_unevenness_percent(Lesson(gap_mm=12.0)) == pytest.approx(0, abs=1e-9)


def test_the_figures_of_a_turn_and_the_load_per_planet() -> None:
    turn = Lesson(radius_mm=720.0, track_mm=144.0)
    one = dict(show_step(0, turn).figures)
    assert one[say("axle.paths-differ-by")] == say("axle.of-the-way", share=20.0)
    assert one[say("axle.each-tyre-slides-2")] == "10.0 %"
    assert tells(
        show_step(0, Lesson(differ_deg=4.0)).verdict,
        "axle.the-bar-cannot-give-way-a-held-wheel-stalls",
    )
    loads = [
        float(plain(dict(show_step(5, Lesson(planets=n)).figures)["force on a tooth"]).split()[0])
        for n in (1, 2, 4)
    ]
    assert loads[0] == pytest.approx(100 / 24, abs=0.06)
    assert loads[1] == pytest.approx(loads[0] / 2, abs=0.06)
    for step in range(len(STEPS)):
        for arms in (2, 3, 12):
            state = show_step(step, Lesson(arms=arms, differ_deg=-50.0, turn_deg=200.0))
            assert state.title == STEPS[step]
            points = [p for line in (*state.along, *state.across) for p in line.points]
            assert np.isfinite(np.array(points)).all()

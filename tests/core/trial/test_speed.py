"""Speeds and ratios from pulses whose truth is known because they were made from it."""

from random import Random

import numpy as np
import pytest

from mild_badger.core.trial.speed import ratio_of, speed_of, turning_of
from telling import tells


def stamps(
    rpm: float,
    slots: int,
    seconds: float,
    *,
    noise_us: float = 0.0,
    bent: float = 0.0,
    missed: float = 0.0,
    seed: int = 1,
) -> list[int]:
    """Pulses of a disc that turns evenly, by plain counting."""
    random = Random(seed)
    spacing = 60e6 / rpm / slots
    found = []
    for number in range(int(seconds * 1e6 / spacing)):
        at = (number + (bent if number % slots == 1 else 0.0)) * spacing
        if random.random() >= missed:
            found.append(round(at + random.gauss(0, noise_us)))
    return sorted(found)


@pytest.mark.parametrize(("rpm", "slots"), [(60, 1), (300, 6), (1234.5, 12), (3200, 4)])
def test_an_even_disc_gives_its_speed(rpm: float, slots: int) -> None:
    turning = turning_of(stamps(rpm, slots, 20), slots)
    assert turning is not None
    figure = speed_of(turning)
    assert figure is not None
    assert figure.rpm == pytest.approx(rpm, rel=2e-6)
    assert figure.spread_rpm == pytest.approx(1e-4 * rpm, rel=0.1)  # a crystal's error, no less
    assert turning.summary == ""


def test_a_bent_slot_is_told_and_does_not_touch_the_speed() -> None:
    turning = turning_of(stamps(300, 6, 20, bent=0.3), 6)
    assert turning is not None
    figure = speed_of(turning)
    assert figure is not None
    assert figure.rpm == pytest.approx(300, rel=1e-5)
    assert turning.bent_percent == pytest.approx(30, abs=1)
    assert tells(turning.summary, "trial.one-slot-is-off-the-others-a-bent-disc")


def test_missed_pulses_are_put_in_and_bounces_taken_out() -> None:
    whole = stamps(300, 6, 20)
    worn = stamps(300, 6, 20, missed=0.1, seed=3)
    turning = turning_of(worn, 6)
    assert turning is not None
    assert turning.missed == round(turning.counts[-1]) - len(worn) + 1
    figure = speed_of(turning)
    assert figure is not None
    assert figure.rpm == pytest.approx(300, rel=1e-4)
    bouncing = sorted([*whole, *(t + 900 for t in whole[::7])])
    turning = turning_of(bouncing, 6)
    assert turning is not None
    assert turning.bounced == len(whole[::7])
    assert turning.turns == pytest.approx((len(whole) - 1) / 6)


def test_a_gap_cuts_the_run_and_the_longer_piece_counts() -> None:
    first = stamps(300, 6, 4)
    later = [t + 60_000_000 for t in stamps(150, 6, 20)]
    turning = turning_of(first + later, 6)
    assert turning is not None
    figure = speed_of(turning)
    assert turning.gaps == 1
    assert figure is not None
    assert figure.rpm == pytest.approx(150, rel=1e-4)


@pytest.mark.parametrize("times", [[], [5], [0, 0, 0, 0], [1, 2, 3], list(range(12))])
def test_too_little_is_no_speed(times: list[int]) -> None:
    turning = turning_of(times, 6)
    assert turning is None or speed_of(turning) is None


def test_the_interval_holds_the_true_ratio_as_often_as_it_says() -> None:
    true = 0.36
    held = 0
    for seed in range(120):
        one = turning_of(stamps(240, 6, 12, noise_us=400, seed=seed), 6)
        other = turning_of(stamps(240 * true, 6, 12, noise_us=400, seed=900 + seed), 6)
        assert one is not None
        assert other is not None
        figure = ratio_of(one, other)
        assert figure is not None
        held += abs(figure.turns - true) <= figure.spread
        assert figure.spread < 0.02 * true
    assert held >= 0.93 * 120  # 95 % but for chance; blocks that share their ends are cautious


def test_a_speed_that_wanders_does_not_touch_the_ratio() -> None:
    turns = np.arange(0, 60, 1 / 12)
    times = 0.25 * turns + 0.02 * np.sin(turns / 9)
    source = turning_of([round(1e6 * t) for t in times[::2]], 6)
    output = turning_of([round(1e6 * t) for t in np.interp(np.arange(0, 58, 1.0), turns, times)], 2)
    assert source is not None
    assert output is not None
    figure = ratio_of(source, output)
    assert figure is not None
    assert figure.turns == pytest.approx(0.5, rel=1e-4)


def test_what_runs_in_jerks_is_told_from_missed_pulses() -> None:
    random = Random(2)
    at, times = 0.0, []
    for _ in range(300):
        at += 30_000 + (random.uniform(8_000, 40_000) if random.random() < 0.15 else 0)
        times.append(round(at))
    turning = turning_of(times, 6)
    assert turning is not None
    assert turning.jerky
    assert turning.missed == 0
    assert tells(turning.summary, "trial.it-runs-in-jerks")

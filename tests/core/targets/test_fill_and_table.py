"""Ratios filled in, from speeds, and from spreadsheets."""

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from examples import example_vehicle
from mild_badger.core.errors import InputError
from mild_badger.core.targets.fill import fill_ratios, ratio_for_speed
from mild_badger.core.targets.schools import RatioConvention
from mild_badger.core.targets.speeds import real_speed_mm_s
from mild_badger.core.targets.table import read_targets, targets_csv
from telling import Told, refuses, told

IN, OUT = RatioConvention.TURNS_IN, RatioConvention.TURNS_OUT


def test_geometric_steps_are_all_alike() -> None:
    # 8 : 1 over four gears: each step is the cube root of 8
    assert fill_ratios(8, 1, 4) == (8, 4, 2, 1)


def test_progressive_steps_shrink_by_the_progression() -> None:
    ratios = fill_ratios(6, 0.8, 6, progression=1.1)
    assert (ratios[0], ratios[-1]) == pytest.approx((6, 0.8), abs=1e-4)
    steps = [a / b for a, b in pairwise(ratios)]
    assert [a / b for a, b in pairwise(steps)] == pytest.approx([1.1] * 4, abs=1e-3)


@given(st.floats(1.5, 50), st.integers(2, 12))
def test_the_ends_are_kept(spread: float, count: int) -> None:
    ratios = fill_ratios(spread, 1.0, count)
    assert (ratios[0], ratios[-1]) == pytest.approx((spread, 1.0), abs=1e-4)
    assert all(a > b for a, b in pairwise(ratios))


@pytest.mark.parametrize(
    ("arguments", "word"),
    [
        ((6, 1, 1, 1.0), told("targets.number-of-gears-must-be-2-to")),
        ((1, 6, 4, 1.0), told("targets.the-first-ratio-must-be-greater-than-the")),
        ((6, 1, 6, 2.0), told("targets.progression-must-be-1-all-steps-alike-to")),
        ((1.5, 1, 8, 1.2), told("targets.progression-with-the-steps-at-the-top-would")),
        ((float("nan"), 1, 4, 1.0), told("targets.the-first-ratio-must-be-greater-than-the")),
    ],
)
def test_what_cannot_be_filled(arguments: tuple[float, float, int, float], word: Told) -> None:
    first, last, count, progression = arguments
    with refuses(InputError, word):
        fill_ratios(first, last, count, progression=progression)


def test_a_top_speed_gives_its_ratio_back() -> None:
    bus = example_vehicle().real
    for ratio in (6.1, 0.78):
        speed = real_speed_mm_s(bus, ratio, bus.limit_rpm) * 0.0036
        assert ratio_for_speed(bus, speed) == pytest.approx(ratio)
    for speed in (0, -5):
        with refuses(InputError, "targets.top-speed-must-be-greater-than-zero"):
            ratio_for_speed(bus, speed)
    with refuses(InputError, "targets.top-speed-would-need-a-ratio-of-it-must-be-0"):
        ratio_for_speed(bus, 1e9)


def shape(text: str, school: RatioConvention = IN) -> list[tuple[str, float, bool]]:
    return [(gear.name, gear.ratio, gear.reverse) for gear in read_targets(text, school)]


@pytest.mark.parametrize(
    "text",
    [
        "gear,ratio,reverse\n1,3.5,\n2,1.25,\nR,4,yes\n",
        "\ufeffGear;Ratio;Reverse\n1;3,5;\n2;1,25;\nR;4,0;x\n",
        "gear\tratio\n1\t3.5\n2\t1.25\n\nR\t-4\n",
        "3.5\n1.25\n-4\n",
        "3,5\n1,25\n−4\n",
        "1 3.5\n2 1.25\nR 4\n",
        "1;3,5\n2;1,25\nR;4\n",
        "ratio\n3.5\n1.25\n-4",
    ],
)
def test_every_way_a_spreadsheet_writes_it(text: str) -> None:
    assert shape(text) == [("1", 3.5, False), ("2", 1.25, False), ("R", 4.0, True)]


def test_the_other_school_and_the_way_back() -> None:
    assert shape("0.25\n0.5\n", OUT) == [("1", 4.0, False), ("2", 2.0, False)]
    bus = example_vehicle().real
    assert [(g.name, g.ratio, g.reverse) for g in read_targets(targets_csv(bus), IN)] == [
        (g.name, g.ratio, g.reverse) for g in bus.gears
    ]


@pytest.mark.parametrize(
    ("text", "word"),
    [
        ("", told("targets.there-is-nothing-to-read-copy-a-column-of")),
        ("gear,ratio\n", told("targets.there-is-a-header-but-no-gear-below-it")),
        ("3.5\nfour\n", told("targets.line", number="2")),
        ("gear,ratio\n1,3.5\n2,\n", told("targets.line", number="3")),
        ("1 2 3\n", told("targets.line", number="1")),
        ("9999\n", told("targets.line", number="1")),
        ("a name far too long for any gear 3.5", told("targets.line", number="1")),
        (
            "1\n" * 40,
            told("targets.lines-are-more-than-the-gears-a-vehicle-can", count_of_lines="40"),
        ),
    ],
)
def test_bad_lines_are_named(text: str, word: Told) -> None:
    with refuses(InputError, word):
        read_targets(text, IN)

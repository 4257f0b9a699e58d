"""One minus sign, one way to begin."""

import pytest

from mild_badger.core.figures import METRIC, write
from mild_badger.core.words import capitalized, signed


@pytest.mark.parametrize(
    ("value", "form", "text"),
    [(-2.5, "+.1f", "−2.5"), (2.5, "+.1f", "+2.5"), (-0.01, ".1f", "0.0"), (0, "+.1f", "+0.0")],
)
def test_numbers_have_a_true_minus_and_no_minus_zero(value: float, form: str, text: str) -> None:
    assert signed(value, form) == text


@pytest.mark.parametrize(
    ("text", "written"),
    [
        ("off by -2.5 %", "off by −2.5 %"),
        ("(-3)", "(−3)"),
        ("13-15 teeth", "13-15 teeth"),
        ("2026-11-29", "2026-11-29"),
        ("two-shaft box", "two-shaft box"),
        ("1-3-4-2", "1-3-4-2"),
    ],
)
def test_the_last_step_writes_every_minus_as_one(text: str, written: str) -> None:
    assert write(text, METRIC) == written


def test_a_sentence_begins_with_a_capital() -> None:
    assert capitalized("gear B of B") == "Gear B of B"
    assert capitalized("") == ""

"""The fraction ladder against the reference table, sympy and exhaustion."""

from fractions import Fraction
from math import pi

import pytest
from hypothesis import given
from hypothesis import strategies as st
from sympy import Rational
from sympy.ntheory.continued_fraction import (
    continued_fraction_convergents,
    continued_fraction_iterator,
)

from mild_badger.core.ratios.ladder import best_approximations, ladder
from mild_badger.core.ratios.pool import EVEN, build_pool
from mild_badger.core.ratios.rules import any_rules
from mild_badger.core.ratios.train import train_ratio
from strategies import BRICK_SIZES, targets


@pytest.mark.parametrize(
    ("limit", "best"),
    [(6, "19/6"), (7, "22/7"), (57, "179/57"), (64, "201/64"), (99, "311/99"), (106, "333/106")],
)
def test_best_approximations_of_pi(limit: int, best: str) -> None:
    # reference table; fractions.Fraction.limit_denominator agrees
    found = best_approximations(Fraction(pi), largest_denominator=limit)
    assert found[-1] == Fraction(best) == Fraction(pi).limit_denominator(limit)


def test_brocot() -> None:
    # Brocot 1861, as retold: 191/23 by wheels of at most 22 teeth is 108/13
    assert best_approximations(Fraction(191, 23), largest_denominator=22)[-1] == Fraction(108, 13)


@given(st.fractions(min_value=Fraction(1, 9), max_value=9, max_denominator=5000))
def test_every_convergent_is_a_rung(value: Fraction) -> None:
    found = best_approximations(value)
    terms = continued_fraction_iterator(Rational(value.numerator, value.denominator))
    for convergent in continued_fraction_convergents(terms):
        fraction = Fraction(int(convergent.p), int(convergent.q))
        if fraction > 0 and fraction.denominator <= 100 and fraction.denominator > 1:
            assert fraction in found
    errors = [abs(rung - value) for rung in found]
    assert errors == sorted(errors, reverse=True)


@given(targets)
def test_the_ladder_ends_at_the_nearest_train(target: Fraction) -> None:
    pool = build_pool(any_rules(BRICK_SIZES, 2))
    rungs = ladder(pool, target, parity=EVEN)
    made = [rung for rung in rungs if rung.train]
    assert made
    assert all(train_ratio(rung.train) == rung.ratio for rung in made)
    nearest = min(
        max(pool.ratio(i) / target, target / pool.ratio(i)) for i in range(len(pool.log_ratio))
    )
    assert min(max(r.ratio / target, target / r.ratio) for r in made) == nearest


def test_eleven_thirds_can_be_wanted_but_not_made() -> None:
    # reference table: only the primes 2, 3, 5, 7 appear; the best of one pair is 7/2
    rungs = ladder(build_pool(any_rules(BRICK_SIZES, 1)), Fraction(11, 3))
    assert [(str(r.ratio), bool(r.train)) for r in rungs] == [
        ("4", False),
        ("7/2", True),
        ("11/3", False),
    ]

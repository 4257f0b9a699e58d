"""Distances in the plane against shapely's."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import LineString, Point

from mild_badger.core.structure.plane import along, to_segment

COORDINATE = st.floats(-50, 50).map(lambda c: round(c, 3))
PLACE = st.tuples(COORDINATE, COORDINATE)


@given(PLACE, PLACE, PLACE)
def test_a_point_is_as_far_from_a_segment_as_shapely_says(
    start: tuple[float, float], end: tuple[float, float], place: tuple[float, float]
) -> None:
    wanted = LineString([start, end]).distance(Point(place))
    assert to_segment((start, end), place) == pytest.approx(wanted, abs=1e-9)


@given(PLACE, PLACE)
def test_shares_of_the_way_begin_and_end_at_its_ends(
    start: tuple[float, float], end: tuple[float, float]
) -> None:
    assert along((start, end), 0.0) == start
    assert along((start, end), 1.0) == pytest.approx(end)

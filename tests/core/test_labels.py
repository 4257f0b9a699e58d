"""Labels of a drawing: near what they name, clear of one another, a line where they stand off."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mild_badger.core.labels import Box, LabelAsk, place_labels

ROOM = Box(0, 0, 600, 400)
SIZE = (40.0, 16.0)


def test_a_label_alone_stands_where_it_would() -> None:
    (placed,) = place_labels([LabelAsk((300.0, 200.0), SIZE, first=(300.0, 220.0))], ROOM)
    assert placed is not None
    assert placed.box.middle == (300.0, 220.0)
    assert not placed.led


def test_one_that_is_crowded_out_is_led_to_what_it_names() -> None:
    asks = [LabelAsk((300.0, 200.0), SIZE, first=(300.0, 200.0)) for _ in range(12)]
    placed = place_labels(asks, ROOM)
    boxes = [label.box for label in placed if label is not None]
    assert len(boxes) == 12
    assert any(label.led for label in placed if label is not None)


@given(
    st.lists(
        st.tuples(st.floats(30, 570), st.floats(20, 380), st.booleans()), min_size=1, max_size=30
    )
)
def test_no_two_overlap_and_all_are_in_the_room(places: list[tuple[float, float, bool]]) -> None:
    asks = [LabelAsk((x, y), SIZE, 5.0, (x, y + 14) if inside else None) for x, y, inside in places]
    boxes = [label.box for label in place_labels(asks, ROOM) if label is not None]
    assert len(boxes) == len(asks)
    for n, box in enumerate(boxes):
        assert ROOM.holds(box)
        assert not any(box.meets(other) for other in boxes[:n])


@pytest.mark.parametrize("obstacle", [Box(296, 196, 304, 204), Box(310, 190, 370, 210)])
def test_obstacles_are_kept_clear_of(obstacle: Box) -> None:
    (placed,) = place_labels([LabelAsk((300.0, 200.0), SIZE)], ROOM, [obstacle])
    assert placed is not None
    assert not placed.box.meets(obstacle)

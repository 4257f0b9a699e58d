"""Pictures of the assembly on paper: what comes is inked in the accent, where it is said to be."""

from functools import cache

import numpy as np
import pytest

from mild_badger.core.components.drive_line import LINE
from mild_badger.core.publish.space_picture import PRINTED
from mild_badger.core.publish.step_pictures import StepPicture, StepPictures
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.workshop.further_steps import vehicle_steps

SIZE = (84.0, 50.0)
DOTS = 300 / 25.4


@cache
def drawing() -> StepPictures:
    return StepPictures(vehicle_steps(demo_vehicle("larkholm-timber-tractor")))


def accent(drawn: StepPicture) -> np.ndarray:
    pixels = np.asarray(drawn.image.opened()).astype(int)
    near: np.ndarray = np.abs(pixels - PRINTED.run_ink).sum(axis=2) < 24
    return near


@pytest.mark.parametrize("kind", ["gear", "shaft", "wall", "wheel"])
def test_what_comes_is_seen_where_its_way_begins(kind: str) -> None:
    pictures = drawing()
    plan = pictures.plan
    step = next(
        step
        for step in plan.steps
        if step.number > 3 and step.keys and plan.part(step.keys[0]).kind == kind
    )
    drawn = pictures.step(step, SIZE)
    assert drawn.image.size == (round(SIZE[0] * DOTS), round(SIZE[1] * DOTS))
    inked = accent(drawn)
    assert set(drawn.ways) == set(step.keys)
    rows, columns = np.nonzero(inked)
    for (x, y), (x1, y1) in drawn.ways.values():
        # inside the picture, both where it is held off and where it goes
        assert min(x, x1) >= 0
        assert max(x, x1) <= SIZE[0]
        assert min(y, y1) >= 0
        assert max(y, y1) <= SIZE[1]
        assert (x, y) != pytest.approx((x1, y1), abs=0.5)
        assert np.hypot(columns / DOTS - x, rows / DOTS - y).min() < 8.0


def test_the_order_is_kept_and_a_step_without_parts_shows_its_box() -> None:
    pictures = drawing()
    steps = [*pictures.plan.steps[:2], *(s for s in pictures.plan.steps if not s.keys)]
    made = list(pictures.in_order(steps, (30.0, 20.0)))
    assert [set(drawn.ways) for drawn in made] == [set(step.coming) for step in steps]
    assert not accent(made[-1]).any()
    white = (np.asarray(made[-1].image.opened()) == 255).all(axis=2)
    assert 0.1 < white.mean() < 0.9


def test_the_boxes_are_drawn_each_by_itself_whole_and_apart() -> None:
    pictures = drawing()
    box, line = pictures.whole("", SIZE), pictures.whole(LINE, SIZE)
    assert (np.asarray(box.image.opened()) != np.asarray(line.image.opened())).any()
    assert not accent(box).any()
    apart = pictures.apart("", SIZE)
    assert (np.asarray(box.image.opened()) != np.asarray(apart.image.opened())).any()

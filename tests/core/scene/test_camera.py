"""The eye of the picture in space: right-handed axes, views by name, what stays where it is."""

from itertools import product

import numpy as np
import pytest

from mild_badger.core.scene.camera import VIEWS, Camera

SIZE = (640, 480)
CUBE = np.array(list(product((0.0, 40.0), (0.0, 30.0), (-80.0, 0.0))))


@pytest.mark.parametrize(("turn", "up"), [(0, 0), (32, 24), (90, 0), (200, -60), (0, 90)])
def test_the_axes_are_a_right_handed_frame(turn: float, up: float) -> None:
    right, high, near = Camera(turn, up).axes
    assert np.allclose(np.cross(right, high), near)
    assert np.allclose(Camera(turn, up).axes @ Camera(turn, up).axes.T, np.eye(3))


def test_from_the_input_x_is_to_the_right_and_y_upwards() -> None:
    camera = Camera(*VIEWS["input"], scale=2.0)
    (x, y, near), (x2, y2, near2) = camera.seen(np.array(((0, 0, 0), (5, 7, -3.0))), SIZE)
    assert (x2 - x, y2 - y) == pytest.approx((10, -14))
    assert near2 - near == pytest.approx(-3)  # the box lies away from the eye


def test_from_the_right_the_input_is_at_the_left() -> None:
    camera = Camera(*VIEWS["side"])
    seen = camera.seen(np.array(((0.0, 0, 0), (0, 0, -10.0))), SIZE)
    assert seen[1, 0] > seen[0, 0]


@pytest.mark.parametrize("view", VIEWS.values())
def test_all_corners_are_in_a_fitted_picture(view: tuple[float, float]) -> None:
    camera = Camera(*view).fitted(CUBE, SIZE)
    seen = camera.seen(CUBE, SIZE)
    assert seen[:, 0].min() >= 0
    assert seen[:, 0].max() <= SIZE[0]
    assert seen[:, 1].min() >= 0
    assert seen[:, 1].max() <= SIZE[1]
    spans = np.ptp(seen[:, :2], axis=0) / SIZE
    assert max(spans) == pytest.approx(0.92)


def test_what_is_under_the_pointer_stays_there_when_magnified() -> None:
    camera = Camera().fitted(CUBE, SIZE)
    here = camera.seen(CUBE[3:4], SIZE)[0]
    for times in (0.5, 1.7):
        other = camera.nearer(times, (here[0], here[1]), SIZE)
        assert other.seen(CUBE[3:4], SIZE)[0, :2] == pytest.approx(here[:2])
        assert other.scale == pytest.approx(times * camera.scale)


def test_the_eye_never_goes_over_the_top() -> None:
    assert Camera(0, 80).turned(10, 30).up_deg == 90
    assert Camera(350, 0).turned(20, -200).up_deg == -90
    assert Camera(350, 0).turned(20, 0).round_deg == 10

"""From where something is seen best, and the eye on its way there."""

import numpy as np
import pytest

from mild_badger.core.components.component import Component, ComponentId, Prism
from mild_badger.core.scene.camera import VIEWS, Camera
from mild_badger.core.scene.look import best_look
from mild_badger.core.scene.mesh import placed_corners, scene_of

SIZE = (640, 480)
INPUT, OUTPUT, SIDE = VIEWS["input"], VIEWS["output"], VIEWS["side"]


def plate(name: str, along: float, size: float) -> Component:
    square = ((-size, -size), (size, -size), (size, size), (-size, size))
    return Component(
        ComponentId(name), "wall", (Prism((square,), 0.0, 3.0),), 0.0, 0.0, along_mm=along
    )


def test_what_lies_behind_a_plate_is_looked_at_from_the_other_end() -> None:
    parts = (plate("front", 0.0, 30.0), plate("small", 20.0, 8.0))
    scene = scene_of(parts)
    still = np.zeros(2)
    corners = placed_corners(scene, parts, still, still)
    assert best_look(scene, corners, [0, 1], [1], [INPUT, OUTPUT]) == OUTPUT
    assert best_look(scene, corners, [0, 1], [0], [INPUT, OUTPUT]) == INPUT
    # without the plate nothing hides it; of alike looks the first is taken
    assert best_look(scene, corners, [1], [1], [INPUT, OUTPUT]) == INPUT
    assert best_look(scene, corners, [0, 1], [1], [INPUT, SIDE, OUTPUT]) == OUTPUT


def test_the_eye_goes_the_short_way_round_and_arrives() -> None:
    start = Camera(350.0, 10.0, 2.0, (0.0, 0.0, 0.0))
    goal = Camera(30.0, 50.0, 8.0, (4.0, 2.0, -6.0))
    half = start.on_the_way(goal, 0.5)
    assert half.round_deg == pytest.approx(10.0)
    assert half.up_deg == pytest.approx(30.0)
    assert half.scale == pytest.approx(4.0)
    assert half.middle == pytest.approx((2.0, 1.0, -3.0))
    there = start.on_the_way(goal, 1.0)
    assert (there.round_deg, there.up_deg) == pytest.approx((30.0, 50.0))
    assert there.scale == pytest.approx(8.0)
    assert there.middle == pytest.approx(goal.middle)


@pytest.mark.parametrize(("look", "axis"), [((0, 0), 2), ((0, 40), 2), ((90, 0), 2), ((0, 0), 0)])
def test_a_drag_turns_a_wheel_as_far_as_its_rim_is_moved(
    look: tuple[float, float], axis: int
) -> None:
    camera = Camera(*look, scale=3.0)
    middle, way = np.array((5.0, -3.0, 10.0)), np.eye(3)[axis]
    radius, by = 20.0, 0.02
    # the point of the rim that is nearest to the eye; end on, one to the right
    near = camera.axes[2] - way * (camera.axes[2] @ way)
    if np.linalg.norm(near) < 0.95:
        near = camera.axes[0] - way * (camera.axes[0] @ way)
    rim = radius * near / np.linalg.norm(near)
    turned = rim * np.cos(by) + np.cross(way, rim) * np.sin(by)
    before, after = camera.seen(np.array((middle + rim, middle + turned)), SIZE)[:, :2]
    drag = ((before[0], before[1]), (after[0], after[1]))
    found = camera.dragged_rad((middle, way), radius, drag, SIZE)
    assert found == pytest.approx(by, rel=0.25)

"""The picture in space on paper: 300 dots to the inch, all of it in the picture, its path inked."""

import numpy as np
import pytest

from examples import example_vehicle
from mild_badger.core.publish.space_picture import PRINTED, space_picture
from mild_badger.core.vehicle.demo import demo_vehicle


@pytest.mark.parametrize(("gear", "inked"), [(0, "run_ink"), (-1, "back_ink")])
def test_it_has_300_dots_to_the_inch_and_the_path_in_its_colour(gear: int, inked: str) -> None:
    vehicle = demo_vehicle("larkholm-timber-tractor")
    chosen = vehicle.real.gears[gear]
    assert chosen.reverse == (inked == "back_ink")
    image = space_picture(vehicle, chosen.id, (120.0, 60.0))
    assert image is not None
    assert image.size == (1417, 709)  # 120 and 60 mm by 300 / 25.4
    pixels = np.asarray(image.opened()).astype(int)

    def of(color: tuple[int, int, int]) -> np.ndarray:
        near: np.ndarray = np.abs(pixels - color).sum(axis=2) < 24
        return near

    other = PRINTED.back_ink if inked == "run_ink" else PRINTED.run_ink
    assert of(getattr(PRINTED, inked)).sum() > 2000
    assert of(other).sum() < 50
    drawn = ~of(PRINTED.paper)
    assert 0.08 < drawn.mean() < 0.9
    # nothing is cut off, and it fills its place one way
    assert not drawn[0].any()
    assert not drawn[:, 0].any()
    rows, columns = np.flatnonzero(drawn.any(axis=1)), np.flatnonzero(drawn.any(axis=0))
    assert max(np.ptp(rows) / 709, np.ptp(columns) / 1417) > 0.9


def test_without_a_place_there_is_none() -> None:
    vehicle = example_vehicle("larkholm-mail-bus")
    assert space_picture(vehicle, vehicle.real.gears[0].id, (120.0, 60.0)) is None

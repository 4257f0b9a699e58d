"""A plan book without its lines: reading back what it says takes most of a test's time else."""

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from types import SimpleNamespace
from typing import Any

import numpy as np
import pytest

from mild_badger.core.publish import figures, space_picture, step_pictures
from mild_badger.core.workshop.figure import Mark

__all__ = ["words_only"]


@contextmanager
def words_only() -> Iterator[None]:
    """Leave lines of figures and pictures out of what is published meanwhile.

    Their words and circles stay.
    """
    whole = figures._mark

    def circles(canvas: Any, mark: Mark, place: Any) -> None:
        if mark.radius:
            whole(canvas, mark, place)

    def blank(_scene: Any, _corners: Any, _eye: Any, size: tuple[int, int], **_rest: Any) -> Any:
        return SimpleNamespace(pixels=np.full((2, 2, 4), 255, np.uint8), size=size)

    def first(_s: Any, _c: Any, _shown: Any, _sought: Any, looks: Sequence[Any]) -> Any:
        return looks[0]

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(figures, "_mark", circles)
        patch.setattr(step_pictures, "picture_of", blank)
        patch.setattr(space_picture, "picture_of", blank)
        patch.setattr(step_pictures, "best_look", first)
        yield

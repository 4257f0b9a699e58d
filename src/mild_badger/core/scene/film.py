"""A short moving picture for sharing: frames one by one, written as an animated GIF."""

import io

import numpy as np
from numpy.typing import NDArray
from PIL import Image

__all__ = ["Film"]

COLOURS = 48
"""A drawing of flat tints and ink needs no more."""


class Film:
    """Frames of one size, shown for so many ms each, over and over."""

    def __init__(self, frame_ms: int) -> None:
        self._frame_ms = frame_ms
        self._frames: list[Image.Image] = []

    def __len__(self) -> int:
        return len(self._frames)

    def add(self, pixels: NDArray[np.uint8]) -> None:
        """Add a frame (high, wide, 3 or 4), red, green and blue from 0 to 255."""
        image = Image.fromarray(np.ascontiguousarray(pixels[:, :, :3]), "RGB")
        if self._frames:  # one palette for all, so that nothing flickers
            self._frames.append(image.quantize(palette=self._frames[0], dither=Image.Dither.NONE))
        else:
            self._frames.append(image.quantize(COLOURS, dither=Image.Dither.NONE))

    def written(self) -> bytes:
        """Write the film as a GIF.

        Raises
        ------
        ValueError
            There is no frame.
        """
        if not self._frames:
            raise ValueError("a film without frames")
        first, *others = self._frames
        data = io.BytesIO()
        first.save(
            data,
            "GIF",
            save_all=True,
            append_images=others,
            duration=self._frame_ms,
            loop=0,
            optimize=False,
        )
        return data.getvalue()

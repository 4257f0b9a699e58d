"""What every chapter of the plan book draws from, and how a figure comes to its scale."""

from dataclasses import dataclass

from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say
from mild_badger.core.publish.figures import scale_to_fit
from mild_badger.core.publish.page import LEFT, RIGHT, Book
from mild_badger.core.publish.step_pictures import StepPictures
from mild_badger.core.targets.schools import RatioConvention
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import Watch
from mild_badger.core.words import signed
from mild_badger.core.workshop.assembly import (
    AssemblyPlan,
)
from mild_badger.core.workshop.figure import Figure

__all__ = ["Work", "describe_scale", "draw_fitted"]

SCALES = (1.0, 0.75, 0.5, 0.4, 0.333, 0.25, 0.2, 0.1)
"""Scales a builder can measure at: a figure to scale takes the largest that fits."""


@dataclass(frozen=True)
class Work:
    """What the chapters draw from."""

    book: Book
    evaluation: Evaluation
    school: RatioConvention
    plan: AssemblyPlan
    """Of the boxes."""
    whole: AssemblyPlan
    """Of the whole vehicle."""
    pictures: StepPictures
    """Of the whole vehicle's steps; shapes are made once for all chapters."""
    wanted: tuple[str, ...]
    """Keys of the chapters that the book has."""
    watch: Watch
    shares: tuple[float, float]

    @property
    def vehicle(self) -> Vehicle:
        """The vehicle that the book is of."""
        return self.evaluation.vehicle

    def tick(self, share: float) -> None:
        """Say how much of this chapter is done."""
        start, end = self.shares
        self.watch.tick(start + share * (end - start))


def draw_fitted(
    work: Work,
    figure: Figure,
    y: float,
    height: float,
    *,
    scaled: bool = False,
    most: float = 1.0,
) -> float:
    """Draw a figure over the page's width; give the scale it is drawn to."""
    size = (RIGHT - LEFT, height)
    scale = scale_to_fit(figure, size, most=most)
    if scaled:
        scale = next((s for s in SCALES if s <= scale + 1e-9), scale)
    work.book.figure(figure, (LEFT, y), size, scale)
    return scale


def describe_scale(scale: float) -> str:
    """Give a scale as it is written beside a figure: 1 : 2."""
    if scale == 1.0:
        return say("publish.true-size")
    known = {
        0.75: "3 : 4",
        0.5: "1 : 2",
        0.4: "2 : 5",
        0.333: "1 : 3",
        0.25: "1 : 4",
        0.2: "1 : 5",
        0.1: "1 : 10",
    }
    return say("publish.scale-2", scale=known.get(scale, f"{signed(scale, '.2f')} of true size"))

"""From an evaluation to what the shared drawings show."""

from mild_badger.app.drawing.train_view import TrainPicture
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.layout.train import Placement
from mild_badger.core.results import GearResult

__all__ = ["train_picture"]


def train_picture(evaluation: Evaluation, gear: GearResult | None) -> TrainPicture:
    """Give the picture of a gear's train, or the hint that stands in its place."""
    kit = evaluation.vehicle.kit
    if gear is None:
        hint = "Nothing is driven in neutral. Engage a gear: press 1–9 or R, or click one."
    elif not gear.train:
        hint = f"Gear {gear.name} has no train yet. Choose one in the list, or find the whole set."
    else:
        hint = gear.placement.problem
    if gear is None:
        return TrainPicture(kit, Placement((), (), ()), (), False, hint)
    return TrainPicture(kit, gear.placement, gear.turns, gear.reverse, hint)

"""From an evaluation to what the shared drawings show."""

from mild_badger.app.drawing.train_view import TrainPicture
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import in_mm
from mild_badger.core.mesh.seats import Seat
from mild_badger.core.message import say
from mild_badger.core.results import GearResult
from mild_badger.core.structure.train import Placement
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.words import signed

__all__ = ["describe_offset", "describe_place", "train_picture"]


def describe_offset(kit: Kit, seat: Seat) -> str:
    """Say how far apart a pair sits: grid units, or mm where there is no grid."""
    if kit.any_seat:
        return in_mm(seat.engagement.centre_distance_mm, 2)
    return f"{signed(seat.dx_u, 'g')} × {signed(seat.dy_u, 'g')}"


def describe_place(kit: Kit, place_u: tuple[float, float]) -> str:
    """Say where a shaft sits: grid units, or mm where there is no grid."""
    scale = kit.grid_unit_mm if kit.any_seat else 1.0
    return ", ".join(signed(x * scale, ".1f") if kit.any_seat else signed(x, "g") for x in place_u)


def train_picture(evaluation: Evaluation, gear: GearResult | None) -> TrainPicture:
    """Give the picture of a gear's train, or the hint that stands in its place."""
    kit = evaluation.vehicle.kit
    if gear is None:
        hint: str = say("drawing.nothing-is-driven-in-neutral-engage-a-gear")
    elif gear.direct:
        hint = say("drawing.gear-is-direct-a-sleeve-couples-input-and", name=gear.name)
    elif not gear.geared:
        hint = say("drawing.there-is-no-box-the-motors-shaft-goes")
    elif not gear.train:
        hint = say("drawing.gear-has-no-train-yet-choose-one-in-the-list", name=gear.name)
    else:
        hint = gear.placement.problem
    if gear is None:
        return TrainPicture(kit, Placement((), (), ()), (), False, hint)
    return TrainPicture(kit, gear.placement, gear.turns, gear.reverse, hint)

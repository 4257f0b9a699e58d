"""What changing one gear of a train would do: every size that still seats, with what it gives."""

from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from mild_badger.core.changes import Edit
from mild_badger.core.evaluate import evaluate
from mild_badger.core.mesh.seats import seats_well
from mild_badger.core.results import Situation
from mild_badger.core.vehicle.edits import apply_edit, set_train
from mild_badger.core.vehicle.model import GearPair, Vehicle

__all__ = ["Role", "Swap", "swaps"]

Role = Literal["driver", "driven"]


@dataclass(frozen=True)
class Swap:
    """One size in one place of a train, and the gear's figures with it."""

    teeth: int
    present: bool
    ratio: Fraction | None
    error_percent: float | None
    speed_mm_s: float | None
    edit: Edit


def swaps(
    vehicle: Vehicle, gear: str, pair: int, role: Role, situation: Situation | None = None
) -> tuple[Swap, ...]:
    """List every size that could stand in a place of a gear's train.

    A size must sit on whole units with the gear it meshes with, its pair's idler or its mate; in
    the train's last driven place it must run free with dog faces.

    Parameters
    ----------
    vehicle, gear
        Whose train it is.
    pair, role
        Which place: the number of the pair, and whether it drives or is driven.
    situation
        For the motor's speed.

    Returns
    -------
    tuple of Swap
        Ascending by teeth, the present size among them if it fits; empty for a place that is not
        there.
    """
    slot = vehicle.box.slot(gear)
    if slot is None or not 0 <= pair < len(slot.train):
        return ()
    here = slot.train[pair]
    row = (here.driver, *here.idlers, here.driven)
    mate = row[1] if role == "driver" else row[-2]
    last = role == "driven" and pair == len(slot.train) - 1
    found = []
    for teeth in vehicle.kit.dog_sizes if last else vehicle.kit.sizes:
        if not seats_well(vehicle.kit, teeth, mate):
            continue
        changed: GearPair = here.model_copy(update={role: teeth})
        train = (*slot.train[:pair], changed, *slot.train[pair + 1 :])
        edit = Edit(f"Use {teeth} teeth in gear {gear}", set_train(vehicle, gear, train).changes)
        result = evaluate(apply_edit(vehicle, edit), situation).gear(gear)
        if result is not None:
            found.append(
                Swap(
                    teeth=teeth,
                    present=changed == here,
                    ratio=result.ratio,
                    error_percent=result.error_percent,
                    speed_mm_s=result.speed_mm_s,
                    edit=edit,
                )
            )
    return tuple(found)

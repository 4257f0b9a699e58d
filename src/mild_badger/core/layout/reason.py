"""Why a box has no place in space, and what gives it one."""

from mild_badger.core.functions.arrange import arrange
from mild_badger.core.message import say
from mild_badger.core.vehicle.box import Slot
from mild_badger.core.vehicle.boxes import NoBox
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["why_no_functions", "why_no_place"]


def why_no_functions(vehicle: Vehicle) -> str:
    """Say what is missing until a function box stands in space."""
    box = vehicle.functions
    if box is None:
        return say("layout.this-vehicle-has-no-function-box-to-place")
    if not arrange(vehicle, box).branches:
        return say("layout.the-function-table-asks-for-nothing-yet")
    if box.places:
        return say("layout.the-function-box-has-changed-place-it-again")
    return say("functions.the-function-box-has-no-place-in-space-yet")


def why_no_place(vehicle: Vehicle) -> str:
    """Say what is missing until a box stands in space."""
    box = vehicle.box
    if isinstance(box, NoBox):
        return say("layout.this-vehicle-has-no-box-to-place")
    if not box.free_trains:
        return say("layout.the-shafts-stand-when-every-gear-has-its-pair")
    if not any(isinstance(slot, Slot) and slot.train for slot in box.slots):
        return say("layout.no-slot-has-a-train-yet-find-the-set-on-the")
    return say("components.the-box-has-no-place-in-space-yet-place-it")

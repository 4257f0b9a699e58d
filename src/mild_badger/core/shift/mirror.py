"""Turning the box, its pattern or its hand over."""

from mild_badger.core.message import say
from mild_badger.core.vehicle.boxes import SlottedBox
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.edit.slots import SLOTS
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["mirror_hand", "mirror_pattern", "turn_box"]

OTHER = {"left": "right", "right": "left", "seat": "seat"}


def turn_box(vehicle: Vehicle) -> Edit:
    """Turn the whole box end for end in the vehicle, motor and final drive with it.

    Speeds stay as they are, each about its own axis: a crown wheel on the left of the axle meets
    its pinion the same way from ahead and from behind. The knob's ways turn over, along the rails
    and across them.
    """
    way = "rear" if vehicle.shifting.box_faces == "front" else "front"
    return Edit(
        say("shift.turn-the-boxs-output-to-the", way=way),
        (
            Change(("shifting", "box_faces"), way),
            Change(("lever", "first_rail"), OTHER[vehicle.lever.first_rail]),
        ),
    )


def mirror_pattern(vehicle: Vehicle) -> Edit:
    """Mirror the shift pattern along the rails: every gear changes the side of its sleeve.

    In a range × splitter box sleeves close their pairs in the order in which these stand, so there
    the rails change sides instead.
    """
    box = SlottedBox.of(vehicle.box)
    if box is None:
        side = OTHER[vehicle.lever.first_rail]
        return Edit.one(say("shift.mirror-the-shift-pattern"), ("lever", "first_rail"), side)
    slots = [
        slot.model_copy(update={"face": "back" if slot.face == "front" else "front"})
        for slot in box.slots
    ]
    return Edit.one(say("shift.mirror-the-shift-pattern"), SLOTS, slots)


def mirror_hand(vehicle: Vehicle) -> Edit:
    """Build the mirror image: rails, crown wheel and the motor's turn change hands.

    A mirror image of a drivetrain that goes forwards goes forwards with the motor turning the other
    way, so its leads are crossed too; the lever is seen from the other side.
    """
    lever = vehicle.lever
    drive = vehicle.stepless
    path = (*vehicle.stepless_path, "turns")
    ratchets = (Change(path, -drive.turns),) if drive is not None else ()
    return Edit(
        say("shift.build-the-other-hand"),
        (
            *ratchets,
            Change(("lever", "first_rail"), OTHER[lever.first_rail]),
            Change(("lever", "seen_from"), OTHER[lever.seen_from]),
            Change(("final_drive", "crown_side"), OTHER[vehicle.final_drive.crown_side]),
            Change(("motor", "turns"), -vehicle.motor.turns),
        ),
    )

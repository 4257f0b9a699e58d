"""Edits of the lever drive."""

from collections.abc import Iterable
from dataclasses import replace
from math import sqrt

from mild_badger.core.drivetrain.lever_motion import fulcrum_for, range_of
from mild_badger.core.errors import DocumentError
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.mechanisms.lever.reach import reach_of
from mild_badger.core.message import say
from mild_badger.core.ratios.pool import build_pool
from mild_badger.core.ratios.propose import slot_search_rules
from mild_badger.core.ratios.single import ranked_trains
from mild_badger.core.vehicle.box import LeverPlace, Train, chain_ratio
from mild_badger.core.vehicle.boxes import LeverBox
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.box import apply_box, set_fulcrums
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = ["add_lever", "lay_out_lever", "move_fulcrum", "place_gears", "remove_lever"]


NEAR_ONE = 0.2
"""A wanted ratio this near to 1 takes no pairs."""


MOST_A_PAIR = 4.5


def add_lever() -> Edit:
    """Give the vehicle a lever drive beside its box: a yoke and three ratchets on the motor."""
    return Edit.one(say("lever.plan-a-lever-drive"), ("lever_drive",), LeverDrive())


def remove_lever(vehicle: Vehicle) -> Edit:
    """Take the lever drive away.

    Raises
    ------
    DocumentError
        It is the box itself.
    """
    if vehicle.box.lever is not None:
        raise DocumentError(say("lever.this-lever-drive-is-the-vehicles-box-lay-out"))
    return Edit.one(say("lever.take-the-lever-drive-away"), ("lever_drive",), None)


def move_fulcrum(vehicle: Vehicle, mm: float, gear: str | None = None) -> Edit:
    """Slide the fulcrum, no farther than its stops.

    In a lever box with a gear engaged that gear's place moves along.
    """
    drive = vehicle.stepless or LeverDrive()
    at = round(min(max(mm, drive.stop_low_mm), drive.stop_high_mm), 2)
    changes = [Change((*vehicle.stepless_path, "fulcrum_mm"), at)]
    if vehicle.box.lever is not None and gear is not None:
        changes += set_fulcrums(vehicle, {gear: at}).changes
    return Edit(say("lever.slide-the-fulcrum"), tuple(changes))


def place_gears(vehicle: Vehicle, *, watch: Watch = UNWATCHED) -> Edit | None:
    """Place the fulcrum for every forward target but kept ones; None where no stop reaches one.

    In the spacing fit the common factor is the one that brings all within the stops, in its middle.
    """
    drive = vehicle.stepless
    if drive is None:
        return None
    before = float(chain_ratio(drive.pairs))
    targets = {g.id: g.ratio for g in vehicle.real.gears if not g.reverse}
    placed = {}
    kept = {slot.gear for slot in vehicle.box.slots if isinstance(slot, LeverPlace) and slot.kept}
    for number, (gear, ratio) in enumerate(targets.items()):
        watch.tick(number / len(targets))
        if gear in kept:
            continue
        mm = fulcrum_for(drive, before / (ratio * _factor(vehicle, drive, targets.values())))
        if mm is not None:
            placed[gear] = mm
    if not placed:
        return None
    return Edit(
        say("lever.place-the-fulcrum-for-the-targets"), set_fulcrums(vehicle, placed).changes
    )


def lay_out_lever(vehicle: Vehicle) -> Edit:
    """Make a lever drive the box: pairs that bring its reach amid the targets, marks for them.

    The drive beside the box is taken, else a usual one; what no mark reaches stays without.
    """
    drive = vehicle.stepless or LeverDrive()
    means = [m.mean for _, m in range_of(drive) if not m.jams and m.mean > 0]
    ratios = [gear.ratio for gear in vehicle.real.gears if not gear.reverse]
    if means and ratios and not drive.pairs:
        before = sqrt(min(ratios) * max(ratios) * min(means) * max(means))
        drive = drive.model_copy(update={"pairs": _pairs_near(vehicle, before)})
    there = vehicle.model_copy(update={"box": LeverBox(drive=drive), "lever_drive": None})
    placed = place_gears(there)
    box = apply_edit(there, placed).box if placed is not None else there.box
    return apply_box(vehicle, box, say("lever.lay-out-a-lever-drive"))


def _pairs_near(vehicle: Vehicle, ratio: float) -> Train:
    """Give a pair, or two alike, near a ratio; none where that is about 1 or nothing comes near.

    The fulcrum takes the rest up, so that a search of all trains would be for nothing.
    """
    if abs(ratio - 1) < NEAR_ONE:
        return ()
    count = 1 if ratio <= MOST_A_PAIR else 2
    pool = build_pool(replace(slot_search_rules(vehicle), max_pairs=1))
    wanted = ratio ** (1 / count)
    pairs = [
        candidate
        for parity in (0, 1)
        for candidate in ranked_trains(
            pool, wanted, parity=parity, tolerance_percent=25.0, by="error", limit=1
        )
    ]
    if not pairs:
        return ()
    return min(pairs, key=lambda c: (c.cost.gears, abs(c.error_percent))).train * count


def _factor(vehicle: Vehicle, drive: LeverDrive, ratios: Iterable[float]) -> float:
    if vehicle.search.fit == "absolute":
        return 1.0
    reach = reach_of(drive)
    if reach is None:
        return 1.0
    wanted, search = list(ratios), vehicle.search
    middle = sqrt(reach[0] / min(wanted) * reach[1] / max(wanted))
    low, high = search.factors
    return min(max(middle, low), high)

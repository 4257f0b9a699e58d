"""Proposals for a whole slot box, ranked by what a builder needs of them.

First those that run at the motor's stall torque without a mesh letting go, then those that the
stock has parts for, then the snuggest and smallest.
"""

from collections import Counter
from dataclasses import dataclass, replace
from math import prod

from mild_badger.core.architectures.places import Columns
from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.layout.apply_layout import apply_layout
from mild_badger.core.layout.other_gears import other_gears
from mild_badger.core.layout.place_box import Placed, place_box
from mild_badger.core.layout.shaft_deflection import separations, share_held
from mild_badger.core.layout.side_placement import counted
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = ["Change", "changes_of", "propose_layouts"]


@dataclass(frozen=True)
class Change:
    """A train that a proposal changes: its gear, and by how much the ratio, in per cent."""

    gear: str
    train: tuple[GearPair, ...]
    percent: float


def propose_layouts(vehicle: Vehicle, *, watch: Watch = UNWATCHED) -> Placed:
    """Place a slot box; the proposals kept are ranked by how they hold, by stock, and by size.

    Raises
    ------
    DocumentError
        The box is of another architecture, or no slot has a train.
    SearchStopped
        The watch asked for it.
    """
    found = place_box(vehicle, watch=watch)
    judged = [_judged(vehicle, placed) for placed in (replace(found, others=()), *found.others)]
    judged.sort(key=lambda p: (len(p.unplaced), -min(p.held or 0.0, 1.0), p.short, p.cost))
    return replace(judged[0], others=tuple(judged[1:]))


def _judged(vehicle: Vehicle, placed: Placed) -> Placed:
    """Find up to which share of the stall torque a proposal holds, and how many parts lack."""
    taken = apply_edit(vehicle, apply_layout(vehicle, placed))
    stack = stack_for(taken)
    shares = [
        share_held(row) if row.skips else 1.0
        for row in (separations(taken, stack) if stack is not None else ())
    ]
    held = min((1.0 if share is None else share for share in shares), default=1.0)
    return replace(placed, held=held, short=_short(taken, placed))


def _short(vehicle: Vehicle, placed: Placed) -> int:
    """Count the gears that a vehicle with a proposal takes beyond the stock."""
    gears: Counter[tuple[str, int]] = Counter()
    for face in ("front", "back"):
        gears += counted([one for one in placed.chosen if one.slot.face == face])
    places = architecture_of(vehicle.box).places(vehicle.box)
    if isinstance(places, Columns):
        gears += other_gears(vehicle, places)
    short = 0
    for (bore, teeth), count in gears.items():
        owned = vehicle.kit.owned(teeth, "free" if bore == "free" else "fixed")
        short += 0 if owned is None else max(count - owned, 0)
    return short


def changes_of(placed: Placed) -> tuple[Change, ...]:
    """List the trains that a proposal would change; idlers put in change no ratio."""
    changes = []
    for chosen in placed.chosen:
        old, new = chosen.slot.train, chosen.way.train
        if [(p.driver, p.driven, p.idlers) for p in old] != [
            (p.driver, p.driven, p.idlers) for p in new
        ]:
            percent = 100 * (_ratio(new) / _ratio(old) - 1)
            changes.append(Change(chosen.slot.gear, new, percent))
    return tuple(changes)


def _ratio(train: tuple[GearPair, ...]) -> float:
    return prod(pair.driven / pair.driver for pair in train)

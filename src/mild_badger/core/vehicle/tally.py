"""The parts of a box, counted: gears by size and bore, shafts, sleeves."""

from collections import Counter

from mild_badger.core.vehicle.box import (
    Box,
    GearPair,
    LeverBox,
    RangeBox,
    SlotBox,
    TwinLayshaftBox,
    gear_key,
)
from mild_badger.core.vehicle.kit import Kit

__all__ = ["Tally", "count_box"]


class Tally:
    """How many of each part are needed, by kind and teeth, and for what."""

    def __init__(self) -> None:
        self.count: Counter[tuple[str, int]] = Counter()
        self.users: dict[tuple[str, int], dict[str, None]] = {}

    def add(self, kind: str, teeth: int, user: str, number: int = 1) -> None:
        """Count a part."""
        if number:
            self.count[kind, teeth] += number
            self.users.setdefault((kind, teeth), {})[user] = None

    def train(self, pairs: tuple[GearPair, ...], user: str, *, free_end: bool) -> None:
        """Count a train's gears and inner shafts; its last driven gear may run free."""
        for number, pair in enumerate(pairs):
            last = free_end and number == len(pairs) - 1
            self.add("fixed", pair.driver, user)
            self.add("free" if last else "fixed", pair.driven, user)
            for idler in pair.idlers:
                self.add("fixed", idler, user)
            self.add("shaft", 0, user, len(pair.idlers) + (number < len(pairs) - 1))


def count_box(tally: Tally, box: Box, kit: Kit) -> None:
    """Count a box: a gear that a sleeve couples runs free, unless gears slide."""
    if isinstance(box, LeverBox):
        return  # all of it is counted as a lever drive
    if isinstance(box, SlotBox):
        columns = max(box.columns, 1)
        if columns > 1:
            if box.feed == "rail":
                tally.add("fixed", box.rail_teeth, "drive rail", columns)
            tally.add("fixed", box.tie_teeth, "selector tie", columns)
        tally.add("shaft", 0, "input", columns if box.feed == "rail" else 1)
        tally.add("shaft", 0, "selector", columns)
    else:
        shafts = {"layshaft": 3, "two-shaft": 2, "twin-layshaft": 4, "range-splitter": 3}
        tally.add("shaft", 0, "box", shafts[box.architecture])
    if isinstance(box, RangeBox):
        for shared in box.shared():
            tally.train(shared.train, shared.key, free_end=True)
        tally.add("sleeve", 0, "box", box.sleeves)
        return
    sliding = not isinstance(box, SlotBox) and box.engagement == "slide"
    used = {slot.column for slot in box.slots if slot.train or slot.direct}
    if not sliding:
        tally.add("sleeve", 0, "selector" if isinstance(box, SlotBox) else "box", len(used))
    rims = [bevel.teeth for bevel in kit.bevels if bevel.role == "differential rim"]
    for shared in box.shared():
        _count_shared(tally, box, shared.key, shared.train)
    for slot in box.slots:
        user = gear_key(slot.gear)
        for train in (slot.train, slot.second):
            tally.train(train, user, free_end=not sliding and not slot.second)
        kind, teeth = ("differential rim", min(rims)) if rims else ("summing", 0)
        tally.add(kind, teeth, user, 1 if slot.second else 0)
        tally.add("shaft", 0, user, 2 if slot.second else 0)


def _count_shared(tally: Tally, box: Box, key: str, train: tuple[GearPair, ...]) -> None:
    """Count a shared train; both layshafts of a twin box drive one output wheel."""
    if isinstance(box, TwinLayshaftBox) and key != "output pair 1" and box.output_pairs[0]:
        for pair in train:
            tally.add("fixed", pair.driver, key)
        return
    tally.train(train, key, free_end=False)

"""The slot box: every gear has a train of its own from its column's input to its selector shaft."""

from collections.abc import Callable, Sequence
from itertools import pairwise
from typing import ClassVar

from mild_badger.core.architectures.base import Architecture, SetSearch
from mild_badger.core.architectures.places import Columns
from mild_badger.core.architectures.slotted import add_dogged, count_gears, count_sleeves
from mild_badger.core.drivetrain.builder import Builder
from mild_badger.core.drivetrain.graph import fixed
from mild_badger.core.message import say
from mild_badger.core.ratios.match_slots import match_slots, match_slots_and_sums
from mild_badger.core.vehicle.bodies import input_shaft, row_gear, selector_shaft, tie_gear
from mild_badger.core.vehicle.boxes import SlotBox
from mild_badger.core.vehicle.edit.slots import with_places
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.tally import Tally

__all__ = ["SlotArchitecture"]


class SlotArchitecture(Architecture[SlotBox]):
    """Columns side by side, fed by a row of equal gears or one shaft, tied at the selectors."""

    model: ClassVar[type[SlotBox]] = SlotBox
    shafts: ClassVar[int] = 2
    searches = (
        SetSearch("slot", say("architectures.slot-box"), match_slots),
        SetSearch(
            "slot-sum",
            say("architectures.slot-box-with-summing-differentials"),
            match_slots_and_sums,
        ),
    )

    def blank(self, gears: Sequence[str]) -> SlotBox:
        """Give every gear a slot without a train."""
        return SlotBox(slots=tuple(with_places([], list(gears))))

    def search_for(self, box: SlotBox) -> SetSearch:
        """Look for differentials where the box has some."""
        return self.searches[any(slot.second for slot in box.slots)]

    def build(self, builder: Builder, box: SlotBox, motor: str, motor_turns: int) -> None:
        """Add the input shafts and the selector shafts with their rows, and a train a slot."""
        columns = range(1, max(box.columns, 1) + 1)
        inputs = {}
        for column in columns:
            if box.feed == "rail" or column == 1:
                label = (
                    say("architectures.drive-row", column=column)
                    if box.feed == "rail"
                    else say("architectures.input")
                )
                inputs[column] = builder.shaft(input_shaft(column), label)
            else:
                inputs[column] = inputs[1]
        builder.equations.append(fixed(motor, inputs[1]))
        if box.feed == "rail" and len(columns) > 1:
            _row(
                builder,
                row_gear,
                box.rail_teeth,
                [inputs[c] for c in columns],
                say("architectures.drive-row-gear"),
            )
        selectors = [
            builder.shaft(selector_shaft(c), say("architectures.selector", c=c)) for c in columns
        ]
        if len(columns) > 1:
            _row(builder, tie_gear, box.tie_teeth, selectors, say("architectures.tie-gear"))
        for slot in box.slots:
            add_dogged(
                builder,
                slot,
                inputs[slot.column],
                selectors[slot.column - 1],
                sleeve=box.sleeve_at(slot.column),
            )

    def between(
        self, builder: Builder, box: SlotBox, start: str, end: str, motor_turns: int
    ) -> None:
        """Add nothing: a slot box has several input and selector shafts, see :meth:`build`."""

    def places(self, box: SlotBox) -> Columns:
        """Stand the columns side by side."""
        return Columns(max(box.columns, 1), box.feed == "rail", box.rail_teeth, box.tie_teeth)

    def layers(self, box: SlotBox) -> int:
        """Count the longest train on either side of the sleeves, the sleeves, and the rows."""
        sides = [
            max((max(len(s.train), len(s.second)) for s in box.slots if s.face == face), default=0)
            for face in ("front", "back")
        ]
        return sum(sides) + 1 + len(box.rows(box.columns))

    def count(self, tally: Tally, box: SlotBox, kit: Kit) -> None:
        """Count rows, an input and a selector shaft a column, sleeves and trains."""
        columns = max(box.columns, 1)
        for row in box.rows(columns):
            tally.add("fixed", row.teeth, row.key, row.number)
        tally.add("shaft", 0, "input", columns if box.feed == "rail" else 1)
        tally.add("shaft", 0, "selector", columns)
        count_sleeves(tally, box, "selector")
        count_gears(tally, box, kit)


def _row(
    builder: Builder, gear: Callable[[int], str], teeth: int, shafts: list[str], name: str
) -> None:
    gears = [
        builder.gear(gear(n), teeth, on=shaft, name=f"{name} {n}")
        for n, shaft in enumerate(shafts, start=1)
    ]
    for first, second in pairwise(gears):
        builder.mesh(first, second)

"""The two-shaft box: pairs between an input and an output shaft, which turns against it."""

from collections.abc import Sequence
from functools import partial
from typing import ClassVar

from mild_badger.core.architectures.base import Architecture, SetSearch
from mild_badger.core.architectures.places import InLine
from mild_badger.core.architectures.scheme import Scheme, SchemeLine, SchemeSketch
from mild_badger.core.architectures.shared_centre import search_shared_centre
from mild_badger.core.architectures.slotted import add_selected, count_gears, count_sleeves
from mild_badger.core.drivetrain.builder import Builder
from mild_badger.core.message import say
from mild_badger.core.vehicle.bodies import input_shaft
from mild_badger.core.vehicle.boxes import TwoShaftBox
from mild_badger.core.vehicle.edit.slots import with_places
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.tally import Tally

__all__ = ["TwoShaftArchitecture"]


class TwoShaftArchitecture(Architecture[TwoShaftBox]):
    """Every gear is one pair between the two shafts."""

    model: ClassVar[type[TwoShaftBox]] = TwoShaftBox
    shafts: ClassVar[int] = 2
    searches = (
        SetSearch(
            "two-shaft",
            say("architectures.two-shaft-box"),
            partial(search_shared_centre, kind="two-shaft", shafts="two-shaft", direct="no"),
        ),
    )

    def blank(self, gears: Sequence[str]) -> TwoShaftBox:
        """Give every gear a slot without a pair."""
        return TwoShaftBox(slots=tuple(with_places([], list(gears))))

    def between(
        self, builder: Builder, box: TwoShaftBox, start: str, end: str, motor_turns: int
    ) -> None:
        """Add the gears' pairs."""
        for slot in box.slots:
            add_selected(
                builder,
                slot,
                start,
                end,
                sleeve=box.sleeve_at(slot.column),
                slides=box.slides,
                couples=box.couples(slot.gear),
            )

    def places(self, box: TwoShaftBox) -> InLine:
        """Stand the output beside the input."""
        return InLine(input_shaft(), box.output)

    def layers(self, box: TwoShaftBox) -> int:
        """Count the gears' pairs and the sleeves."""
        return len(box.slots) + box.sleeves

    def count(self, tally: Tally, box: TwoShaftBox, kit: Kit) -> None:
        """Count the two shafts, the gears and the sleeves."""
        tally.add("shaft", 0, "box", self.shafts)
        count_sleeves(tally, box, "box")
        count_gears(tally, box, kit)

    def scheme(self, box: TwoShaftBox, gear: str | None) -> Scheme:
        """Draw the input above, the output below."""
        sketch = SchemeSketch(gear, box.chain(gear) if gear is not None else ())
        columns = sorted({s.column for s in box.slots})
        end = sketch.columns(box.slots, columns, 0.0, (0, 1), box.couples)
        lines = (SchemeLine("input", 0, -0.7, end - 0.4), SchemeLine("output", 1, -0.4, end + 0.3))
        return sketch.scheme(lines, 2, end)

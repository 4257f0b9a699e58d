"""The layshaft box: an input pair in constant mesh, then a pair a gear back to the output."""

from collections.abc import Sequence
from functools import partial
from typing import ClassVar

from mild_badger.core.architectures.base import Architecture, SetSearch
from mild_badger.core.architectures.places import InLine
from mild_badger.core.architectures.scheme import Scheme, SchemeLine, SchemeSketch
from mild_badger.core.architectures.shared_centre import search_shared_centre
from mild_badger.core.architectures.slotted import add_selected, count_gears, count_sleeves
from mild_badger.core.drivetrain.builder import Builder
from mild_badger.core.drivetrain.graph import dog
from mild_badger.core.message import say
from mild_badger.core.ratios.box_question import BoxMatch
from mild_badger.core.vehicle.bodies import lay_shaft
from mild_badger.core.vehicle.box import links_of
from mild_badger.core.vehicle.boxes import LayshaftBox
from mild_badger.core.vehicle.edit.slots import with_places
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.tally import Tally

__all__ = ["LayshaftArchitecture"]


class LayshaftArchitecture(Architecture[LayshaftBox]):
    """Three shafts, of which input and output stand in one line, so that a gear can be direct."""

    model: ClassVar[type[LayshaftBox]] = LayshaftBox
    shafts: ClassVar[int] = 3
    searches = (
        SetSearch(
            "layshaft",
            say("architectures.layshaft-box"),
            partial(search_shared_centre, kind="layshaft", shafts="layshaft", direct="may"),
        ),
        SetSearch(
            "layshaft-slide",
            say("architectures.layshaft-box-with-sliding-gears"),
            partial(
                search_shared_centre,
                kind="layshaft-slide",
                shafts="layshaft",
                direct="must",
                slide=True,
            ),
        ),
    )

    def blank(self, gears: Sequence[str]) -> LayshaftBox:
        """Give every gear a slot without a pair."""
        return LayshaftBox(slots=tuple(with_places([], list(gears))))

    def search_for(self, box: LayshaftBox) -> SetSearch:
        """Look for sliding gears where the box has such."""
        return self.searches[box.slides]

    def between(
        self, builder: Builder, box: LayshaftBox, start: str, end: str, motor_turns: int
    ) -> None:
        """Add the layshaft, the input pair, the gears' pairs and the direct coupling."""
        layshaft = builder.shaft(lay_shaft(), say("architectures.layshaft-2"))
        for key, _, train in box.shared():
            if train:
                builder.train(key, train, start=start, end=layshaft, title=key.capitalize())
        for slot in box.slots:
            sleeve = box.sleeve_at(slot.column)
            if slot.direct:
                builder.equations.append(dog(start, end, sleeve=sleeve, position=slot.face))
            else:
                add_selected(
                    builder,
                    slot,
                    layshaft,
                    end,
                    sleeve=sleeve,
                    slides=box.slides,
                    couples=box.couples(slot.gear),
                )

    def places(self, box: LayshaftBox) -> InLine:
        """Stand input and output in one line, the layshaft beside them."""
        shared = links_of("input pair", box.input_pair)
        return InLine(lay_shaft(), box.output, coaxial=True, shared=shared)

    def layers(self, box: LayshaftBox) -> int:
        """Count the input pair, the gears' pairs and the sleeves."""
        return 1 + sum(1 for slot in box.slots if not slot.direct) + box.sleeves

    def count(self, tally: Tally, box: LayshaftBox, kit: Kit) -> None:
        """Count the three shafts, the input pair, the gears and the sleeves."""
        tally.add("shaft", 0, "box", self.shafts)
        count_sleeves(tally, box, "box")
        for key, _, train in box.shared():
            tally.train(train, key, free=None)
        count_gears(tally, box, kit)

    def scheme(self, box: LayshaftBox, gear: str | None) -> Scheme:
        """Draw input and output in one line, the layshaft below."""
        sketch = SchemeSketch(gear, box.chain(gear) if gear is not None else ())
        for key, _, train in box.shared():
            for pair in train:
                every = [slot.gear for slot in box.slots if not slot.direct]
                sketch.cross(key, pair, 0.0, (0, 1), every)
        # the direct gear's sleeve stands next to the input
        columns = sorted(
            {slot.column for slot in box.slots},
            key=lambda n: (not any(s.direct and s.column == n for s in box.slots), n),
        )
        end = sketch.columns(box.slots, columns, 1.0, (1, 0), box.couples)
        lines = (
            SchemeLine("input", 0, -0.7, 0.45),
            SchemeLine("layshaft", 1, -0.4, end - 0.4),
            SchemeLine("output", 0, 0.75, end + 0.3),
        )
        return sketch.scheme(lines, 2, end)

    def remark(self, match: BoxMatch) -> tuple[str, ...]:
        """Say which gear is direct."""
        slots = LayshaftBox.model_validate(match.box).slots
        direct = next((slot.gear for slot in slots if slot.direct), None)
        names = {gear.goal.gear: gear.goal.name for gear in match.found.gears}
        return (
            say("architectures.gear-direct", direct=names.get(direct, direct))
            if direct
            else say("architectures.no-gear-direct"),
        )

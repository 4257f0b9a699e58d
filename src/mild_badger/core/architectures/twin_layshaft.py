"""Two parallel layshafts: each takes half the gears, both drive one output wheel."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import ClassVar

from mild_badger.core.architectures.base import Architecture, SetSearch
from mild_badger.core.architectures.places import Series, Stage, StagePair
from mild_badger.core.architectures.scheme import Scheme, SchemeLine, SchemeSketch
from mild_badger.core.architectures.slotted import add_selected, count_gears, count_sleeves
from mild_badger.core.drivetrain.builder import Builder
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.message import say
from mild_badger.core.ratios.box_question import BoxMatch, BoxQuestion
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.ratios.twin import match_twin
from mild_badger.core.vehicle.bodies import input_shaft, lay_shaft
from mild_badger.core.vehicle.box import Slot, gear_key, links_of
from mild_badger.core.vehicle.boxes import TwinLayshaftBox
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.slots import with_places
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.tally import Tally

__all__ = ["TwinLayshaftArchitecture"]


class TwinLayshaftArchitecture(Architecture[TwinLayshaftBox]):
    """Odd columns sit on the first layshaft, even ones on the second."""

    model: ClassVar[type[TwinLayshaftBox]] = TwinLayshaftBox
    shafts: ClassVar[int] = 4

    def __init__(self) -> None:
        self.searches = (SetSearch("twin-layshaft", self.title, search_twin),)

    def blank(self, gears: Sequence[str]) -> TwinLayshaftBox:
        """Give every gear a slot without a pair."""
        return TwinLayshaftBox(slots=tuple(with_places([], list(gears))))

    def between(
        self, builder: Builder, box: TwinLayshaftBox, start: str, end: str, motor_turns: int
    ) -> None:
        """Add both layshafts with their output pairs, and the gears' pairs."""
        for number, (key, _, train) in enumerate(box.shared(), start=1):
            layshaft = builder.shaft(
                lay_shaft(number), say("architectures.layshaft", number=number)
            )
            if train:
                builder.train(key, train, start=layshaft, end=end, title=key.capitalize())
        for slot in box.slots:
            layshaft = lay_shaft(box.layshaft(slot.column) + 1)
            add_selected(
                builder, slot, start, layshaft, sleeve=box.sleeve_at(slot.column), slides=box.slides
            )

    def places(self, box: TwinLayshaftBox) -> Series:
        """Let every layshaft stand at its own distance from the input, and from the output."""
        first, last = [], []
        for number, (key, _, train) in enumerate(box.shared()):
            shaft = lay_shaft(number + 1)
            own = tuple(
                StagePair(link, box.sleeve_at(slot.column), slot.face)
                for slot in sorted(box.slots, key=lambda slot: (slot.column, slot.face == "back"))
                if box.layshaft(slot.column) == number
                for link in links_of(gear_key(slot.gear), slot.train)
            )
            first.append(Stage(input_shaft(), shaft, own))
            pairs = tuple(StagePair(link) for link in links_of(key, train))
            last.append(Stage(shaft, box.output, pairs))
        return Series((tuple(first), tuple(last)))

    def findings(self, box: TwinLayshaftBox) -> Iterator[Finding]:
        """Hold the two output pairs against the one wheel that they drive."""
        driven = [train[0].driven for train in box.output_pairs if train]
        if len(set(driven)) <= 1:
            return
        pair = box.output_pairs[1][0].model_copy(update={"driven": driven[0]})
        yield Finding(
            Severity.ERROR,
            "output-wheel",
            ("gearbox",),
            say("architectures.the-two-layshafts-need-one-output-wheel"),
            say(
                "architectures.both-drive-the-same-wheel-on-the-output",
                driven=driven[0],
                driven_2=driven[1],
            ),
            mend=Edit.one(
                say("architectures.give-both-output-pairs-a-wheel-of", driven=driven[0]),
                ("box", "output_pairs", 1),
                [pair.model_dump()],
            ),
        )

    def layers(self, box: TwinLayshaftBox) -> int:
        """Count the pairs and sleeves of the fuller layshaft, and the output pairs."""
        longest = 0
        for layshaft in (0, 1):
            own = [slot for slot in box.slots if box.layshaft(slot.column) == layshaft]
            longest = max(longest, len(own) + len({slot.column for slot in own}))
        return longest + 1

    def count(self, tally: Tally, box: TwinLayshaftBox, kit: Kit) -> None:
        """Count the four shafts, the gears, the sleeves; both layshafts drive one output wheel."""
        tally.add("shaft", 0, "box", self.shafts)
        count_sleeves(tally, box, "box")
        there = False
        for key, _, train in box.shared():
            if there:
                for pair in train:
                    tally.add("fixed", pair.driver, key)
            else:
                tally.train(train, key, free=None)
            there = there or bool(train)
        count_gears(tally, box, kit)

    def scheme(self, box: TwinLayshaftBox, gear: str | None) -> Scheme:
        """Draw the input and the output in the middle, a layshaft above and one below."""
        sketch = SchemeSketch(gear, box.chain(gear) if gear is not None else ())
        columns = sorted({slot.column for slot in box.slots})
        ends = [
            sketch.columns(
                box.slots, [c for c in columns if box.layshaft(c) == number], start, (1, level)
            )
            for number, level, start in ((0, 0, 0.0), (1, 2, 0.5))
        ]
        end = max(*ends, 1.0)
        for number, (key, _, train) in enumerate(box.shared()):
            gears = [s.gear for s in box.slots if box.layshaft(s.column) == number]
            for pair in train:
                sketch.cross(key, pair, end + 0.5 * number, (2 * number, 1), gears)
        lines = (
            SchemeLine("layshaft 1", 0, -0.4, end + 0.4),
            SchemeLine("input", 1, -0.7, end - 0.6),
            SchemeLine("output", 1, end - 0.3, end + 1.2),
            SchemeLine("layshaft 2", 2, 0.1, end + 0.9),
        )
        return sketch.scheme(lines, 3, end + 1)


def search_twin(asked: BoxQuestion) -> BoxMatch | Impossible:
    """Find the best set on two layshafts with one output wheel."""
    low, high = asked.bounds
    matched = match_twin(
        asked.standings(),
        asked.vehicle.kit.sizes,
        asked.goals,
        low=low,
        high=high,
        tolerance=asked.tolerance,
        meshes=asked.can_mesh,
        have=asked.have(any_bore=asked.any_coupled),
        watch=asked.watch,
    )
    if isinstance(matched, Impossible):
        return matched
    slots = []
    used = [0, 0]
    for number, gear in enumerate(matched.found.gears):
        layshaft = matched.layshafts[number]
        place = used[layshaft]
        used[layshaft] += 1
        slots.append(
            Slot(
                gear=gear.goal.gear,
                column=2 * (place // 2) + 1 + layshaft,
                face="back" if place % 2 else "front",
                train=gear.train[:1],
                kept=bool(gear.goal.kept),
            )
        )
    box = TwinLayshaftBox(
        output_pairs=tuple((pair,) for pair in matched.output_pairs), slots=tuple(slots)
    )
    cost = matched.found.cost
    counted = replace(cost, pairs=cost.pairs + 2, gears=cost.gears + 3)
    whole = replace(matched.found, cost=counted)
    return BoxMatch("twin-layshaft", whole, box, matched, proven=matched.proven)

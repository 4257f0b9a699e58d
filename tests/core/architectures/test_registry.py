"""An architecture is a module: one that only the tests have is offered like the others."""

from collections.abc import Iterator, Sequence
from fractions import Fraction
from typing import Any, ClassVar, Literal

import pytest

from examples import example_vehicle
from mild_badger.core.architectures.base import Architecture, SetSearch
from mild_badger.core.architectures.length import box_length_mm
from mild_badger.core.architectures.match import kind_of, match_box
from mild_badger.core.architectures.places import Columns, InLine, Series
from mild_badger.core.architectures.registry import (
    ARCHITECTURES,
    architecture_of,
    blank_box,
    searches,
)
from mild_badger.core.architectures.scheme import Scheme, SchemeLine, SchemeSketch
from mild_badger.core.compare import compare_boxes
from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.drivetrain.builder import Builder
from mild_badger.core.drivetrain.graph import Coupling, dog
from mild_badger.core.errors import DocumentError, InputError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.publish.book import plan_book
from mild_badger.core.ratios.box_question import BoxMatch, BoxQuestion, cost_of
from mild_badger.core.ratios.lanes import GearMatch, Impossible, SetMatch
from mild_badger.core.results import GearState
from mild_badger.core.vehicle.bodies import input_shaft
from mild_badger.core.vehicle.box import Slot
from mild_badger.core.vehicle.boxes import BOXES, SlottedBox
from mild_badger.core.vehicle.edit.slots import with_places
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.tally import Tally


class DogClutchBox(SlottedBox):
    """Two shafts in one line, and a sleeve that couples them in every gear: no gears at all."""

    title: ClassVar[str] = "dog clutch"
    coaxial: ClassVar[bool] = True
    architecture: Literal["dog-clutch"] = "dog-clutch"


class DogClutch(Architecture[DogClutchBox]):
    model: ClassVar[type[DogClutchBox]] = DogClutchBox
    shafts: ClassVar[int] = 2

    def __init__(self) -> None:
        self.searches = (SetSearch("dog-clutch", self.title, self._search),)

    def blank(self, gears: Sequence[str]) -> DogClutchBox:
        slots = with_places([], list(gears))
        return DogClutchBox(slots=tuple(s.model_copy(update={"direct": True}) for s in slots))

    def between(
        self, builder: Builder, box: DogClutchBox, start: str, end: str, motor_turns: int
    ) -> None:
        for slot in box.slots:
            sleeve = box.sleeve_at(slot.column)
            builder.equations.append(dog(start, end, sleeve=sleeve, position=slot.face))

    def places(self, box: DogClutchBox) -> InLine:
        return InLine(input_shaft(), box.output, coaxial=True)

    def layers(self, box: DogClutchBox) -> int:
        return box.sleeves

    def count(self, tally: Tally, box: DogClutchBox, kit: Kit) -> None:
        tally.add("shaft", 0, "box", self.shafts)
        tally.add("sleeve", 0, "box", box.sleeves)

    def scheme(self, box: DogClutchBox, gear: str | None) -> Scheme:
        sketch = SchemeSketch(gear, ())
        end = sketch.columns(box.slots, range(1, box.columns + 1), 0.0, (0, 0))
        return sketch.scheme(
            (SchemeLine("input", 0, -0.7, 0.0), SchemeLine("output", 0, 0.5, end)), 1, end
        )

    def _search(self, asked: BoxQuestion) -> BoxMatch | Impossible:
        if len(asked.goals) > 2:
            return Impossible("one sleeve has two sides")
        gears = tuple(GearMatch(goal, Fraction(1), 0.0, ()) for goal in asked.goals)
        found = SetMatch(1.0, 0.0, gears, cost_of([]))
        box: Any = self.blank([goal.gear for goal in asked.goals])
        return BoxMatch("dog-clutch", found, box)


@pytest.fixture
def dog_clutch() -> Iterator[DogClutch]:
    architecture = DogClutch()
    ARCHITECTURES.append(architecture)
    yield architecture
    ARCHITECTURES.remove(architecture)


def clutched() -> Vehicle:
    """Give the demo with a box of the extra architecture, without what hung on the one before."""
    bus = example_vehicle()
    box = DogClutch().blank([gear.id for gear in bus.real.gears])
    return bus.model_copy(update={"box": box, "layout": None})


def test_every_document_model_has_its_architecture_and_the_other_way_about() -> None:
    assert {found.key: found.model for found in ARCHITECTURES} == BOXES
    assert len({found.title for found in ARCHITECTURES}) == len(ARCHITECTURES)
    for key in BOXES:
        assert architecture_of(blank_box(key, ["1"])).key == key


PLACED = {
    "slot": Columns,
    "layshaft": InLine,
    "two-shaft": InLine,
    "twin-layshaft": Series,
    "range-splitter": Series,
}


@pytest.mark.parametrize("key", BOXES)
def test_an_architecture_says_where_its_shafts_stand_where_the_layout_can_place_them(
    key: str,
) -> None:
    box = blank_box(key, ["1", "2", "3"])
    assert type(architecture_of(box).places(box)) is PLACED.get(key, type(None))


def test_drive_row_and_tie_are_the_graphs_own_gears() -> None:
    bus = example_vehicle("larkholm-mail-bus")
    places = architecture_of(bus.box).places(bus.box)
    assert isinstance(places, Columns)
    graph = assemble(bus)
    keyed = {
        frozenset(equation.bodies)
        for equation in graph.equations
        if equation.kind is Coupling.FIXED
    }
    teeth = {body.id: body.teeth for body in graph.bodies}
    gears = places.gears()
    assert len(gears) == 2 * bus.box.columns
    assert all(teeth[gear.body] == gear.teeth for gear in gears)
    assert all({gear.body, gear.shaft} in keyed for gear in gears)


def test_what_is_not_there_is_refused() -> None:
    with pytest.raises(DocumentError):
        blank_box("sideways", [])
    with pytest.raises(InputError):
        match_box(example_vehicle(), "sideways", best="size")
    with pytest.raises(DocumentError):
        kind_of(blank_box("lever", []))


@pytest.mark.parametrize("found", ARCHITECTURES, ids=lambda found: found.key)
def test_each_search_gives_a_box_of_its_architecture_that_asks_for_the_same_search(
    found: Architecture[SlottedBox],
) -> None:
    tractor = example_vehicle("larkholm-timber-tractor")
    assert tractor.kit.made is not None
    made = tractor.kit.made.model_copy(update={"most_teeth": 40})
    tractor = tractor.model_copy(update={"kit": tractor.kit.model_copy(update={"made": made})})
    for search in found.searches:
        match = match_box(tractor, search.kind, best="error")
        if isinstance(match, Impossible):
            continue
        assert type(match.box) is found.model
        assert match.title == search.title
        sums = search.kind != "slot-sum" or any(getattr(s, "second", ()) for s in match.box.slots)
        assert kind_of(match.box) == search.kind or not sums


def test_an_extra_architecture_drives_is_counted_drawn_and_proved(dog_clutch: DogClutch) -> None:
    vehicle = clutched()
    evaluation = evaluate(vehicle)
    assert {gear.state for gear in evaluation.gears} == {GearState.DRIVES}
    assert {abs(gear.ratio or 0) for gear in evaluation.gears} == {1}
    counted = {part.key[0]: part.needed for part in evaluation.parts if part.key[0] == "sleeve"}
    assert counted == {"sleeve": vehicle.box.sleeves}
    assert evaluation.scheme is not None
    assert len(evaluation.scheme.couplings) == vehicle.box.columns
    assert not evaluation.proof.locks
    assert box_length_mm(vehicle.box, vehicle.kit) > 0
    assert plan_book(vehicle, chapters=("cover", "parts")).startswith(b"%PDF")


def test_an_extra_architecture_is_offered_beside_the_others(dog_clutch: DogClutch) -> None:
    assert "dog-clutch" in searches()
    bus = example_vehicle()
    (offer, _) = compare_boxes(bus, kinds=("dog-clutch",))
    assert offer.reason
    few = bus.model_copy(
        update={
            "real": bus.real.model_copy(update={"gears": bus.real.gears[:2]}),
            "box": blank_box("slot", [gear.id for gear in bus.real.gears[:2]]),
            "layout": None,
        }
    )
    match = match_box(few, "dog-clutch", best="size")
    assert isinstance(match, BoxMatch)
    assert isinstance(match.box.slots[0], Slot)
    assert match.box.title == "dog clutch"

"""Hypothesis strategies and builders shared by the tests."""

from fractions import Fraction
from functools import cache

from hypothesis import strategies as st

from examples import example_vehicle
from mild_badger.core.architectures.match import match_box
from mild_badger.core.evaluate import evaluate
from mild_badger.core.findings.finding import Finding
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.ratios.box_question import Best
from mild_badger.core.ratios.lanes import Impossible, SetMatch
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.box import GearPair, Slot
from mild_badger.core.vehicle.boxes import SlotBox
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.gears import set_gears
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import GearTarget, Vehicle

__all__ = [
    "brick",
    "finding_of",
    "pairs",
    "placed_demo",
    "size_sets",
    "slot_box",
    "slot_of",
    "slot_set",
    "slots_of",
    "targets",
    "trains",
    "vehicle_of",
    "vehicles",
    "with_search",
]

BRICK_SIZES = (8, 12, 16, 20, 24, 28, 36, 40)


def brick() -> Kit:
    """The shipped brick-grid kit."""
    return shipped_kit("brick-grid")


def vehicle_of(*ratios: float, reverse: float | None = None) -> Vehicle:
    """A blank vehicle with these forward targets, named 1, 2 …, and R."""
    gears = [GearTarget(name=str(n), ratio=r) for n, r in enumerate(ratios, start=1)]
    if reverse is not None:
        gears.append(GearTarget(name="R", ratio=reverse, reverse=True))
    blank = blank_vehicle(brick())
    return apply_edit(blank, set_gears(blank, gears))


@cache
def placed_demo(name: str) -> Vehicle:
    """An example whose box has its place in space: of brick ones a file of its own is kept."""
    bricks = example_vehicle(name).kit.kind == "brick"
    return example_vehicle(f"{name}-placed" if bricks else name)


def slot_box(vehicle: Vehicle) -> SlotBox:
    """The vehicle's box, which must be a slot box."""
    assert isinstance(vehicle.box, SlotBox)
    return vehicle.box


def slots_of(vehicle: Vehicle) -> tuple[Slot, ...]:
    """The slots of a box that has them."""
    return tuple(slot for slot in vehicle.box.slots if isinstance(slot, Slot))


def slot_of(vehicle: Vehicle, gear: str) -> Slot:
    """The slot of one gear, which must be there."""
    return next(slot for slot in slots_of(vehicle) if slot.gear == gear)


def slot_set(vehicle: Vehicle, *, best: Best) -> SetMatch | Impossible:
    """The best set of a slot box for a vehicle."""
    found = match_box(vehicle, "slot", best=best)
    return found if isinstance(found, Impossible) else found.found


targets = st.decimals(
    min_value="0.2", max_value="9", places=3, allow_nan=False, allow_infinity=False
).map(Fraction)
size_sets = st.lists(st.integers(6, 48), min_size=2, max_size=4, unique=True).map(
    lambda sizes: tuple(sorted(sizes))
)
pairs = st.builds(
    GearPair,
    driver=st.sampled_from(BRICK_SIZES),
    driven=st.sampled_from(BRICK_SIZES),
    idlers=st.lists(st.sampled_from(BRICK_SIZES), max_size=2).map(tuple),
)
trains = st.lists(pairs, min_size=1, max_size=3).map(tuple)


@st.composite
def vehicles(draw: st.DrawFn) -> Vehicle:
    """Vehicles with any number of gears, any trains, in any place."""
    count = draw(st.integers(1, 9))
    ratios = draw(st.lists(st.floats(0.05, 30), min_size=count, max_size=count))
    vehicle = vehicle_of(*ratios, reverse=draw(st.floats(0.5, 20)))
    slots = tuple(
        slot.model_copy(update={"train": draw(st.one_of(st.just(()), trains))})
        for slot in slots_of(vehicle)
    )
    box = vehicle.box.model_copy(
        update={"slots": slots, "feed": draw(st.sampled_from(["rail", "shaft"]))}
    )
    final = vehicle.final_drive.model_copy(
        update={
            "pairs": draw(st.one_of(st.just(()), trains)),
            "crown_side": draw(st.sampled_from(["left", "right"])),
        }
    )
    return vehicle.model_copy(
        update={
            "name": draw(st.text(min_size=1, max_size=30)),
            "notes": draw(st.text(max_size=60)),
            "box": box,
            "final_drive": final,
        }
    )


def with_search(vehicle: Vehicle, **settings: object) -> Vehicle:
    """The vehicle searched with other settings."""
    search = vehicle.search.model_copy(update=settings)
    return vehicle.model_copy(update={"search": search})


def finding_of(vehicle: Vehicle, code: str) -> Finding | None:
    """The first finding of a kind, if there is one."""
    return next((f for f in evaluate(vehicle).findings if f.code == code), None)

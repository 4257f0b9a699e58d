"""What architectures with one slot a gear have in common: graph, places and parts."""

from collections.abc import Mapping

from mild_badger.core.drivetrain.builder import Builder
from mild_badger.core.drivetrain.graph import Body, bevel_differential, dog
from mild_badger.core.message import say
from mild_badger.core.ratios.box_question import BoxQuestion
from mild_badger.core.vehicle.bodies import gear_body
from mild_badger.core.vehicle.box import Slot, Train, gear_key, second_key
from mild_badger.core.vehicle.boxes import SlottedBox
from mild_badger.core.vehicle.edit.slots import with_places
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.sleeves import SleeveId
from mild_badger.core.vehicle.tally import Tally
from mild_badger.core.vehicle.train import Role, pair_id

__all__ = ["add_dogged", "add_selected", "count_gears", "count_sleeves", "places_for"]


def add_selected(
    builder: Builder,
    slot: Slot,
    start: str,
    end: str,
    *,
    sleeve: SleeveId,
    slides: bool,
    couples: Role = "driven",
) -> None:
    """Add a gear that a sleeve couples, or one that slides into mesh on its shaft."""
    if slot.train and couples == "driver":
        key, title = gear_key(slot.gear), builder.title(slot.gear)
        builder.train(key, slot.train, start=None, end=end, title=title)
        free = gear_body(key, pair_id(slot.train[0], 0), "driver")
        builder.equations.append(dog(free, start, sleeve=sleeve, position=slot.face))
        return
    if not slides or not slot.train:
        add_dogged(builder, slot, start, end, sleeve=sleeve)
        return
    builder.train(
        gear_key(slot.gear),
        slot.train,
        start=start,
        end=end,
        title=builder.title(slot.gear),
        slides=(sleeve, slot.face),
    )


def add_dogged(builder: Builder, slot: Slot, start: str, end: str, *, sleeve: SleeveId) -> None:
    """Add a gear's train from a shaft to a free gear that its sleeve couples to another shaft."""
    if not slot.train:
        return
    title = builder.title(slot.gear)
    free = builder.train(gear_key(slot.gear), slot.train, start=start, end=None, title=title)
    if slot.second:
        free = _sum(builder, slot, free, start)
    builder.equations.append(dog(free, end, sleeve=sleeve, position=slot.face))


def _sum(builder: Builder, slot: Slot, first: str, start: str) -> str:
    """Join two trains in a differential; give its housing."""
    title = builder.title(slot.gear)
    second = builder.train(
        second_key(slot.gear),
        slot.second,
        start=start,
        end=None,
        title=say("architectures.second-train", title=title),
    )
    housing = f"{gear_key(slot.gear)}/sum"
    name = say("architectures.summing-differential", title=title)
    builder.bodies[housing] = Body(housing, name, "housing")
    builder.equations.append(bevel_differential(housing, first, second))
    return housing


def count_sleeves(tally: Tally, box: SlottedBox, user: str) -> None:
    """Count a sleeve for each column in use; none where gears slide."""
    if not box.slides:
        tally.add("sleeve", 0, user, len({s.column for s in box.slots if s.train or s.direct}))


def count_gears(tally: Tally, box: SlottedBox, kit: Kit) -> None:
    """Count the gears' own trains and their summing differentials."""
    rims = [bevel.teeth for bevel in kit.bevels if bevel.role == "differential rim"]
    for slot in box.slots:
        user = gear_key(slot.gear)
        for train in (slot.train, slot.second):
            free = box.couples(slot.gear) if not box.slides and not slot.second else None
            tally.train(train, user, free=free)
        kind, teeth = ("differential rim", min(rims)) if rims else ("summing", 0)
        tally.add(kind, teeth, user, 1 if slot.second else 0)
        tally.add("shaft", 0, user, 2 if slot.second else 0)


def places_for(
    asked: BoxQuestion, own: Mapping[str, Train], *, slide: bool, apart: bool = False
) -> tuple[Slot, ...]:
    """Give every gear its place, present places first; an empty train is the direct drive.

    A slider that couples directly is a gear the other way, so the direct gear shares its column;
    where ``apart`` it has a sleeve of its own.
    """
    slots = asked.vehicle.box.slots
    present = [s for s in slots if isinstance(s, Slot) and s.gear in own]
    names = list(own)
    direct = [name for name in names if not own[name]]
    if slide and direct and not present:
        beside = [name for name in names if name not in direct][-1:]
        names = [*beside, *direct, *(n for n in names if n not in (*beside, *direct))]
    if apart and direct and not present:
        others = with_places([], [name for name in names if name not in direct])
        column = max((slot.column for slot in others), default=0) + 1
        present = [*others, Slot.model_construct(gear=direct[0], column=column, face="front")]
    return tuple(
        Slot(
            gear=slot.gear,
            column=slot.column,
            face=slot.face,
            train=own[slot.gear],
            direct=not own[slot.gear],
            kept=slot.kept,
        )
        for slot in with_places(present, names)
    )

"""What architectures with one slot a gear have in common: graph, places and parts."""

from collections.abc import Mapping, Sequence

from mild_badger.core.drivetrain.builder import Builder
from mild_badger.core.drivetrain.graph import Body, bevel_differential, dog
from mild_badger.core.message import say
from mild_badger.core.ratios.box_question import BoxQuestion
from mild_badger.core.vehicle.bodies import gear_body
from mild_badger.core.vehicle.box import Face, Slot, Train, gear_key, second_key
from mild_badger.core.vehicle.boxes import EitherSideBox, SlottedBox
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
    either = EitherSideBox.of(box)
    shared = (
        [back.gear for _, back in either.sharing() if either.one_gear(back.column)]
        if either is not None
        else []
    )
    rims = [bevel.teeth for bevel in kit.bevels if bevel.role == "differential rim"]
    for slot in box.slots:
        user = gear_key(slot.gear)
        for train in (slot.train, slot.second):
            free = box.couples(slot.gear) if not box.slides and not slot.second else None
            tally.train(train, user, free=free)
        if slot.gear in shared:
            tally.add("fixed", slot.train[-1].driven, user, -1)
        kind, teeth = ("differential rim", min(rims)) if rims else ("summing", 0)
        tally.add(kind, teeth, user, 1 if slot.second else 0)
        tally.add("shaft", 0, user, 2 if slot.second else 0)


def places_for(
    asked: BoxQuestion,
    own: Mapping[str, Train],
    *,
    slide: bool,
    apart: bool = False,
    together: Sequence[str] = (),
) -> tuple[Slot, ...]:
    """Give every gear its place, present places first; an empty train is the direct drive.

    The direct drive's sleeve moves towards the input. A slider that couples directly is a gear the
    other way, so the direct gear shares its column; where ``apart`` it has a sleeve of its own.
    Gears ``together`` share a column.
    """
    direct = [name for name in own if not own[name]]
    slots = asked.vehicle.box.slots
    placed = [s for s in slots if isinstance(s, Slot) and s.gear in own]
    if not placed:
        others = [name for name in own if name not in (*direct, *together)]
        columns = [list(together)] if together else []
        if direct and slide and not apart:
            columns.append([*direct, *others[-1:]])
            others = others[:-1]
        rest = others if apart or (direct and slide) else [n for n in own if n not in together]
        columns += [rest[n : n + 2] for n in range(0, len(rest), 2)]
        if direct and apart:
            columns.append(direct)
        faces: tuple[Face, Face] = ("front", "back")
        placed = [
            Slot.model_construct(gear=gear, column=number, face=face)
            for number, gears in enumerate(columns, start=1)
            for face, gear in zip(faces, gears, strict=False)
        ]
    placed = with_places(placed, list(own))
    if together:
        placed = _side_by_side(placed, *together)
    placed = [slot for gear in direct[:1] for slot in _towards_input(placed, gear)] or placed
    return tuple(
        Slot(
            gear=slot.gear,
            column=slot.column,
            face=slot.face,
            train=own[slot.gear],
            direct=not own[slot.gear],
            kept=slot.kept,
        )
        for slot in placed
    )


def _side_by_side(slots: list[Slot], one: str, other: str) -> list[Slot]:
    """Bring a gear into the column of another one; what is in its way goes where it was."""
    first, second = (next(s for s in slots if s.gear == gear) for gear in (one, other))
    if first.column == second.column:
        return slots
    face: Face = "back" if first.face == "front" else "front"
    moved = []
    for slot in slots:
        if slot.gear == other:
            moved.append(slot.model_copy(update={"column": first.column, "face": face}))
        elif (slot.column, slot.face) == (first.column, face):
            update = {"column": second.column, "face": second.face}
            moved.append(slot.model_copy(update=update))
        else:
            moved.append(slot)
    return moved


def _towards_input(slots: list[Slot], gear: str) -> list[Slot]:
    """Turn a column round whose direct gear is not on the input's side."""
    turned = next(slot for slot in slots if slot.gear == gear)
    if turned.face == "front":
        return slots
    other: dict[Face, Face] = {"front": "back", "back": "front"}
    return [
        slot.model_copy(update={"face": other[slot.face]}) if slot.column == turned.column else slot
        for slot in slots
    ]

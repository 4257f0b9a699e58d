"""From a placement to the document: names of shafts and gears, and the edit that takes it."""

from mild_badger.core.architectures.places import Columns
from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.errors import DocumentError
from mild_badger.core.layout.place_box import Chosen, Placed
from mild_badger.core.message import say
from mild_badger.core.structure.mirror import first_at_right, mirrored_layout
from mild_badger.core.vehicle.bodies import (
    gear_body,
    idler_shaft,
    input_shaft,
    selector_shaft,
    shaft_after,
)
from mild_badger.core.vehicle.box import GearPair, Slot, gear_key
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.edit.slots import SLOTS
from mild_badger.core.vehicle.layout import BoxLayout, LayoutGear, LayoutShaft
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.train import identified_train, pair_ids

__all__ = ["apply_layout", "layout_of"]


def layout_of(vehicle: Vehicle, placed: Placed) -> BoxLayout:
    """Name every shaft and gear of a placement as the drivetrain graph does.

    Placements have their columns from left to right; where the lever has the rails the other way,
    the box is mirrored.
    """
    shafts = []
    aside, up = placed.offset_u
    unit = vehicle.kit.grid_unit_mm

    def at(x_u: float, y_u: float) -> dict[str, float]:
        return {"x_mm": (x_u + aside) * unit, "y_mm": (y_u + up) * unit}

    for column, (x, y) in enumerate(placed.selectors_u, start=1):
        if column <= len(placed.inputs_u):
            left, low = placed.inputs_u[column - 1]
            shafts.append(LayoutShaft(name=input_shaft(column), **at(left, low)))
        shafts.append(LayoutShaft(name=selector_shaft(column), **at(x, y)))
    gears = []
    shared: dict[tuple[object, ...], str] = {}
    for chosen in placed.chosen:
        names = _shaft_names(vehicle, chosen)
        way = chosen.way
        own = chosen.gears
        for number, (x, y) in enumerate(way.points):
            if number not in (0, len(way.points) - 1):
                # one shaft for trains of a side that are one up to the gear that drives it
                driven = next(n for n, gear in enumerate(way.gears) if gear[1] == number)
                path = (chosen.slot.face, own[: driven + 1])
                if path in shared:
                    names[number] = shared[path]
                    continue
                shared[path] = names[number]
                shafts.append(
                    LayoutShaft(
                        name=names[number],
                        side=chosen.slot.face,
                        **at(
                            (x + chosen.start[0]) / placed.steps_a_unit,
                            (y + chosen.start[1]) / placed.steps_a_unit,
                        ),
                    )
                )
        bodies = [
            gear_body(gear_key(chosen.slot.gear), own, role)
            for pair, own in zip(way.train, pair_ids(_kept(vehicle, chosen)), strict=True)
            for role in ("driver", *(f"idler{k}" for k in range(len(pair.idlers))), "driven")
        ]
        for body, (teeth, shaft, layer) in zip(bodies, way.gears, strict=True):
            gears.append(
                LayoutGear(
                    body=body, teeth=teeth, shaft=names[shaft], side=chosen.slot.face, layer=layer
                )
            )
    layout = BoxLayout(
        layers=_layers(vehicle, placed),
        shafts=tuple(shafts),
        gears=tuple(gears),
        unplaced=placed.unplaced,
    )
    return mirrored_layout(layout) if first_at_right(vehicle) else layout


def _layers(vehicle: Vehicle, placed: Placed) -> int:
    """Give the layers of a side; made walls stand where they are needed, not at a limit."""
    if not vehicle.kit.any_seat:
        return placed.placing.layers
    return max((layer for one in placed.chosen for _, _, layer in one.way.gears), default=1)


def _columns(vehicle: Vehicle) -> Columns:
    places = architecture_of(vehicle.box).places(vehicle.box)
    if not isinstance(places, Columns):
        raise DocumentError(say("layout.only-a-box-with-columns-has-such-a-layout"))
    return places


def _kept(vehicle: Vehicle, chosen: Chosen) -> tuple[GearPair, ...]:
    """Give the pairs of a placed train the ids that they have in the document."""
    slot = vehicle.box.slot(chosen.slot.gear)
    own = slot.train if isinstance(slot, Slot) else ()
    return identified_train(own, chosen.way.train, vehicle.retired_of(gear_key(chosen.slot.gear)))


def _shaft_names(vehicle: Vehicle, chosen: Chosen) -> list[str]:
    key = gear_key(chosen.slot.gear)
    names = [_columns(vehicle).input_of(chosen.slot.column)]
    train = _kept(vehicle, chosen)
    for number, (pair, own) in enumerate(zip(train, pair_ids(train), strict=True)):
        names += [idler_shaft(key, own, place) for place in range(len(pair.idlers))]
        last = number == len(train) - 1
        names.append(selector_shaft(chosen.slot.column) if last else shaft_after(key, own))
    return names


def apply_layout(vehicle: Vehicle, placed: Placed) -> Edit:
    """Take a placement: its trains go into their slots, both rows get the spacing's gears."""
    trains = {chosen.slot.gear: _kept(vehicle, chosen) for chosen in placed.chosen}
    slots = [
        slot.model_copy(update={"train": trains[slot.gear]}) if slot.gear in trains else slot
        for slot in vehicle.box.slots
    ]
    changes = [Change(SLOTS, slots), Change(("layout",), layout_of(vehicle, placed))]
    if vehicle.box.free_trains and not vehicle.kit.any_seat:
        teeth = 8 * placed.placing.spacing_u
        changes += [Change(("box", "rail_teeth"), teeth), Change(("box", "tie_teeth"), teeth)]
    left = (
        say("layout.without", listed=", ".join(map(vehicle.gear_name, placed.unplaced)))
        if placed.unplaced
        else ""
    )
    # the layout names its gears by the ids that its trains have here
    return Edit(say("layout.take-the-placement", left=left), tuple(changes), own_ids=True)

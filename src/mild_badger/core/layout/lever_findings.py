"""What keeps a gate lever or a catch from its forks."""

from collections.abc import Iterator

from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.message import say
from mild_badger.core.structure.forks import Fork, forks_of, missing_forks
from mild_badger.core.structure.lever_place import lever_places, rows_of, short_levers
from mild_badger.core.structure.mirror import first_at_right, mirror_edit
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.bodies import column_shaft
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import rail_title

__all__ = ["lever_findings"]


def lever_findings(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> Iterator[Finding]:
    """Say where a lever is too short for its rails, or where arms find no way to it."""
    if stack.own is not None or vehicle.shifting.actuation == "drum" or not forks:
        return
    least = short_levers(vehicle)
    if least is not None:
        words = say("layout.lengthen-the-finger-to", length=in_mm(least))
        yield Finding(
            Severity.WARNING,
            "lever-too-short",
            ("layout",),
            say("layout.the-lever-is-too-short-for-its-rails"),
            say(
                "layout.its-finger-would-lean-too-far-to-reach-the-last-rail",
                length=in_mm(vehicle.lever.arm_below_mm),
                least=in_mm(least),
            ),
            vehicle.lever.arm_below_mm,
            least,
            "mm",
            Edit.one(words, ("lever", "arm_below_mm"), least),
        )
        return
    if missing_forks(stack, forks):
        return  # that is said, and comes first
    placed = {place.rail for place in lever_places(vehicle, stack, forks)}
    for rail in rows_of(vehicle):
        if rail not in placed:
            what = rail_title(rail, vehicle.shifting.actuation)
            yield Finding(
                Severity.WARNING,
                "no-way-to-the-lever",
                ("layout", rail),
                say("layout.arms-find-no-way-to-the-lever", what=what),
                say("layout.arms-may-not-cross-one-another"),
                mend=_mend(vehicle),
            )


def _mend(vehicle: Vehicle) -> Edit | None:
    """Mirror a slot box whose columns stand the other way; else put the first rail elsewhere."""
    if vehicle.shifting.actuation != "gate":
        return None
    if vehicle.layout is not None and vehicle.box.free_trains:
        return mirror_edit(vehicle) if _wrong_way(vehicle) else None
    side = "right" if vehicle.lever.first_rail == "left" else "left"
    lever = vehicle.lever.model_copy(update={"first_rail": side})
    other = vehicle.model_copy(update={"lever": lever})
    stack = stack_for(other)
    if stack is None:
        return None
    found = lever_places(other, stack, forks_of(other, stack))
    if len(found) < len(rows_of(other)):
        return None
    words = say("layout.put-the-first-rail-on-the-other-side")
    return Edit.one(words, ("lever", "first_rail"), side)


def _wrong_way(vehicle: Vehicle) -> bool:
    """Whether the columns stand the other way than the lever has their rails."""
    places = {
        column.column: shaft.x_mm
        for shaft in (vehicle.layout.shafts if vehicle.layout is not None else ())
        if (column := column_shaft(shaft.name)) is not None and column.kind == "selector"
    }
    order = [places[number] for number in sorted(places)]
    return order == sorted(order, reverse=not first_at_right(vehicle)) and len(order) > 1

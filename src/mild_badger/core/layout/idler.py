"""Putting an idler into a pair of a placed box by hand, and taking one out again."""

from collections.abc import Iterator
from itertools import product
from math import hypot

from mild_badger.core.drivetrain.builder import chain_bodies
from mild_badger.core.errors import InputError
from mild_badger.core.kit.part_sizes import tip_mm
from mild_badger.core.mesh.seats import seat_at
from mild_badger.core.message import say
from mild_badger.core.structure.train import crossings
from mild_badger.core.vehicle.bodies import gear_body, idler_shaft
from mild_badger.core.vehicle.box import GearPair, Slot, gear_key
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.edit.slots import set_train
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.layout import BoxLayout, LayoutGear, LayoutShaft
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.train import pair_id, pair_ids

__all__ = ["add_idler", "pair_of_body", "remove_idler"]

MOST_IDLERS = 4


def pair_of_body(vehicle: Vehicle, body: str) -> tuple[str, int] | None:
    """Find the gear and the number of the pair that a body belongs to; None for both rows."""
    for target in vehicle.real.gears:
        for link in vehicle.box.chain(target.id):
            if link.key == gear_key(target.id) and body in chain_bodies((link,)):
                return target.id, link.number
    return None


def add_idler(vehicle: Vehicle, gear: str, number: int) -> Edit:
    """Put an idler behind the driver of a pair, where it sits best between its neighbours.

    Its size and place are those whose two seats are off by least, clear of the driven gear if that
    can be; what it touches and the direction it turns over are for the findings to tell.

    Raises
    ------
    InputError
        The gear has no such pair in the layout, the pair is full, or nothing seats there.
    """
    layout, slot, pair = _found(vehicle, gear, number)
    if len(pair.idlers) >= MOST_IDLERS:
        raise InputError(say("layout.a-pair-takes-idlers-at-most", most_idlers=MOST_IDLERS))
    key, own = gear_key(gear), pair_id(pair, number)
    placed = {g.body: g for g in layout.gears}
    driver = placed[gear_body(key, own, "driver")]
    after = placed[gear_body(key, own, "idler0" if pair.idlers else "driven")]
    teeth, x, y = _best_place(vehicle, layout, driver, after)
    longer = pair.model_copy(update={"idlers": (teeth, *pair.idlers)})
    moved = _renamed(layout, key, own, by=1, first=0)
    shaft = idler_shaft(key, own, 0)
    gears = [
        *moved.gears,
        LayoutGear(
            body=gear_body(key, own, "idler0"),
            teeth=teeth,
            shaft=shaft,
            side=driver.side,
            layer=driver.layer,
        ),
    ]
    shafts = [*moved.shafts, LayoutShaft(name=shaft, x_mm=x, y_mm=y, side=driver.side)]
    changes = _changes(vehicle, slot, number, longer, (shafts, gears))
    return Edit(
        say("layout.put-an-idler-of-into-gear", teeth=teeth, gear_name=vehicle.gear_name(gear)),
        changes,
    )


def remove_idler(vehicle: Vehicle, gear: str, number: int) -> Edit:
    """Take the idler behind the driver of a pair out again.

    Raises
    ------
    InputError
        The gear has no such pair in the layout, or the pair no idler.
    """
    layout, slot, pair = _found(vehicle, gear, number)
    if not pair.idlers:
        raise InputError(
            say("layout.gear-has-no-idler-in-this-pair", gear_name=vehicle.gear_name(gear))
        )
    key, own = gear_key(gear), pair_id(pair, number)
    body, shaft = gear_body(key, own, "idler0"), idler_shaft(key, own, 0)
    less = layout.model_copy(
        update={
            "gears": tuple(g for g in layout.gears if g.body != body),
            "shafts": tuple(s for s in layout.shafts if s.name != shaft),
        }
    )
    moved = _renamed(less, key, own, by=-1, first=1)
    shorter = pair.model_copy(update={"idlers": pair.idlers[1:]})
    placed = (list(moved.shafts), list(moved.gears))
    return Edit(
        say("layout.take-an-idler-out-of-gear", gear_name=vehicle.gear_name(gear)),
        _changes(vehicle, slot, number, shorter, placed),
    )


def _found(vehicle: Vehicle, gear: str, number: int) -> tuple[BoxLayout, Slot, GearPair]:
    slot, layout = vehicle.box.slot(gear), vehicle.layout
    if layout is None or not isinstance(slot, Slot):
        raise InputError(say("layout.the-box-has-no-layout-yet-place-it-first"))
    ids = pair_ids(slot.train)
    if number >= len(ids) or not any(
        g.body == gear_body(gear_key(gear), ids[number], "driver") for g in layout.gears
    ):
        raise InputError(
            say(
                "layout.gear-has-no-pair-in-the-layout",
                gear_name=vehicle.gear_name(gear),
                number=number + 1,
            )
        )
    return layout, slot, slot.train[number]


def _best_place(
    vehicle: Vehicle, layout: BoxLayout, one: LayoutGear, other: LayoutGear
) -> tuple[int, float, float]:
    """Find the idler's size and place: both seats as near as can be, small, clear of the rest."""
    kit = vehicle.kit
    a, b = layout.shaft(one.shaft), layout.shaft(other.shaft)
    sizes = {z: size for z in kit.sizes if (size := kit.size(z)) is not None}
    if a is None or b is None or one.teeth not in sizes or other.teeth not in sizes:
        raise InputError(say("layout.an-idler-sits-between-two-gears-of-the-kit"))
    best: tuple[float, int, float, float] | None = None
    for teeth, size in sizes.items():
        for x, y in _places(vehicle, (a, one.teeth), teeth, (b, other.teeth)):
            from_a, from_b = (x - a.x_mm, y - a.y_mm), (x - b.x_mm, y - b.y_mm)
            if not hypot(*from_a) or not hypot(*from_b):
                continue
            near = hypot(*from_a) - (one.teeth + teeth) * kit.module_mm / 2
            if abs(near) > 1.0:
                continue
            first = seat_at(kit, sizes[one.teeth], size, _units(kit, from_a))
            second = seat_at(kit, size, sizes[other.teeth], _units(kit, from_b))
            errors = [abs(seat.engagement.seat_error_mm) for seat in (first, second)]
            barred = sum(not seat.verdict.runs for seat in (first, second))
            new = LayoutGear(body="new", teeth=teeth, shaft="new", side=one.side, layer=one.layer)
            hits = _hits(vehicle, (new, (x, y)), {one.body, other.body})
            cost = 10 * barred + sum(errors) + 2 * hits + teeth / 100
            if best is None or cost < best[0]:
                best = (cost, teeth, x, y)
    if best is None:
        raise InputError(say("layout.no-size-of-the-kit-sits-beside-the-driver-on"))
    return best[1:]


def _places(
    vehicle: Vehicle, one: tuple[LayoutShaft, int], teeth: int, other: tuple[LayoutShaft, int]
) -> Iterator[tuple[float, float]]:
    """Go through the places for an idler: round the driver on a grid, else where it meshes."""
    kit, (a, driver), (b, driven) = vehicle.kit, one, other
    if kit.any_seat:
        near, far = ((teeth + z) * kit.module_mm / 2 for z in (driver, driven))
        yield from crossings((a.x_mm, a.y_mm), near, (b.x_mm, b.y_mm), far)
        return
    step = kit.grid_unit_mm * (0.5 if vehicle.placing.half_units else 1.0)
    reach = round(6 * kit.grid_unit_mm / step)
    for n, m in product(range(-reach, reach + 1), repeat=2):
        yield a.x_mm + n * step, a.y_mm + m * step


def _units(kit: Kit, offset_mm: tuple[float, float]) -> tuple[float, float]:
    """Give an offset in units of the grid, whichever way it goes."""
    x, y = (abs(c) / kit.grid_unit_mm for c in offset_mm)
    return x, y


def _hits(vehicle: Vehicle, new: tuple[LayoutGear, tuple[float, float]], meshing: set[str]) -> int:
    """Count the gears of the same layer that a new gear at a place would run into."""
    gear, (x, y) = new
    hits, layout = 0, vehicle.layout
    for old in layout.gears if layout is not None else ():
        if old.body in meshing or (old.side, old.layer) != (gear.side, gear.layer):
            continue
        shaft = layout.shaft(old.shaft) if layout is not None else None
        if shaft is not None:
            apart = hypot(shaft.x_mm - x, shaft.y_mm - y)
            hits += apart < tip_mm(vehicle.kit, gear.teeth) + tip_mm(vehicle.kit, old.teeth)
    return hits


def _renamed(layout: BoxLayout, key: str, own: str, *, by: int, first: int) -> BoxLayout:
    """Count the idlers of a pair and their shafts on, or back."""
    bodies, shafts = {}, {}
    for n in range(first, MOST_IDLERS + 1):
        bodies[gear_body(key, own, f"idler{n}")] = gear_body(key, own, f"idler{n + by}")
        shafts[idler_shaft(key, own, n)] = idler_shaft(key, own, n + by)
    return layout.model_copy(
        update={
            "gears": tuple(
                g.model_copy(
                    update={
                        "body": bodies.get(g.body, g.body),
                        "shaft": shafts.get(g.shaft, g.shaft),
                    }
                )
                for g in layout.gears
            ),
            "shafts": tuple(
                s.model_copy(update={"name": shafts.get(s.name, s.name)}) for s in layout.shafts
            ),
        }
    )


def _changes(
    vehicle: Vehicle,
    slot: Slot,
    number: int,
    pair: GearPair,
    placed: tuple[list[LayoutShaft], list[LayoutGear]],
) -> tuple[Change, ...]:
    train = tuple(pair if n == number else old for n, old in enumerate(slot.train))
    shafts, gears = placed
    return (
        *set_train(vehicle, slot.gear, train).changes,
        Change(("layout", "shafts"), tuple(shafts)),
        Change(("layout", "gears"), tuple(gears)),
    )

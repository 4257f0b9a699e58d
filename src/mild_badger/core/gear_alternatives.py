"""What changing one gear would do: every size that still seats in a place, with what it gives."""

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from mild_badger.core.evaluate import gear_motion, gear_turns
from mild_badger.core.mechanisms.display.result import crank_turns
from mild_badger.core.mesh.centres import centre_of, fits_between
from mild_badger.core.mesh.seats import seats_well
from mild_badger.core.message import say
from mild_badger.core.ratios.train import gear_ratio
from mild_badger.core.results import GearMotion, GearTurns
from mild_badger.core.situation import Situation
from mild_badger.core.vehicle.box import Between, GearPair, Slot, chain_ratio, gear_key
from mild_badger.core.vehicle.edit.apply import replaced
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.trains import set_shared, train_at, train_path
from mild_badger.core.vehicle.model import ChangeGear, Vehicle
from mild_badger.core.vehicle.train import Role, pair_ids

__all__ = [
    "GearAlternative",
    "change_gear_swaps",
    "change_places",
    "fastest_gear",
    "swaps",
    "swaps_in",
]


@dataclass(frozen=True)
class GearAlternative:
    """One size in one place of a train, and a gear's figures with it.

    ``mate`` is the size its partner must then have to stay at the same centre distance, None where
    the partner stays as it is. ``crank_rpm`` is a display engine's, signed; None without one.
    """

    teeth: int
    mate: int | None
    present: bool
    ratio: Fraction | None
    error_percent: float | None
    speed_mm_s: float | None
    full_size_mm_s: float | None
    edit: Edit
    crank_rpm: float | None = None


def swaps(
    vehicle: Vehicle, gear: str, pair: int, role: Role, situation: Situation | None = None
) -> tuple[GearAlternative, ...]:
    """List every size that could stand in a place of a gear's chain of pairs.

    Parameters
    ----------
    vehicle, gear
        Whose chain it is.
    pair, role
        Which place: the number of the pair from the box's input, and whether it drives.
    situation
        For the motor's speed.

    Returns
    -------
    tuple of Swap
        Ascending by teeth, the present size among them if it fits; empty for a place that is not
        there.
    """
    chain = vehicle.box.chain(gear)
    if not 0 <= pair < len(chain):
        return ()
    link = chain[pair]
    return swaps_in(vehicle, link.key, link.number, role, gear=gear, situation=situation)


def swaps_in(
    vehicle: Vehicle,
    key: str,
    number: int,
    role: Role,
    *,
    gear: str,
    situation: Situation | None = None,
) -> tuple[GearAlternative, ...]:
    """List every size that could stand in a place of any train, by the train's name.

    A size must seat with the gear it meshes with, its pair's idler or its mate, and run free with
    dog faces where a sleeve couples it. Between shafts that other pairs share, driver and driven
    change together, so that the centre distance stays. The figures are those of ``gear``.
    """
    train = train_at(vehicle, key)
    if not 0 <= number < len(train):
        return ()
    here, path = train[number], train_path(vehicle, key)
    turns = gear_turns(vehicle, gear) if _on_the_way(vehicle, key, number, gear) else None
    swaps = []
    for changed in _changed_pairs(vehicle, key, number, role, here):
        after = (*train[:number], changed, *train[number + 1 :])
        teeth = changed.driver if role == "driver" else changed.driven
        mate = changed.driven if role == "driver" else changed.driver
        moved = mate != (here.driven if role == "driver" else here.driver)
        also = say("gear-alternatives.with", mate=mate) if moved else ""
        label = say(
            "gear-alternatives.use-teeth-in-the",
            teeth=teeth,
            also=also,
            train_title=vehicle.train_title(key),
        )
        edit = Edit(label, set_shared(vehicle, key, after).changes)
        with_it: Vehicle = replaced(vehicle, path, after)
        known = (
            None if turns is None else _scaled(turns, here, changed, in_box=key != "final drive")
        )
        motion = gear_motion(with_it, gear, situation, turns=known)
        if motion is not None:
            swaps.append(
                GearAlternative(
                    teeth=teeth,
                    mate=mate if moved else None,
                    present=changed == here,
                    ratio=motion.ratio,
                    error_percent=motion.error_percent,
                    speed_mm_s=motion.speed_mm_s,
                    full_size_mm_s=motion.full_size_mm_s,
                    edit=edit,
                    crank_rpm=_crank_rpm(with_it, gear, situation),
                )
            )
    return tuple(swaps)


def _on_the_way(vehicle: Vehicle, key: str, number: int, gear: str) -> bool:
    """Whether all the power of a gear passes a pair, so that speeds go as its ratio does."""
    slot = vehicle.box.slot(gear)
    if isinstance(slot, Slot) and slot.second:
        return key == "final drive"
    chain = {(link.key, link.number) for link in vehicle.box.chain(gear)}
    return key == "final drive" or (key, number) in chain


def _scaled(
    turns: GearTurns, before: GearPair, after: GearPair, *, in_box: bool
) -> GearTurns | None:
    """Give the turns with another pair in the same place; None where they have to be solved for."""
    if turns.locked or turns.output is None or turns.wheel is None:
        return None
    by = chain_ratio([before]) / chain_ratio([after])
    return GearTurns(turns.output * by if in_box else turns.output, turns.wheel * by, False)


def _crank_rpm(vehicle: Vehicle, gear: str, situation: Situation | None) -> float | None:
    if vehicle.display_engine is None:
        return None
    turns = crank_turns(vehicle, gear)
    rpm = situation.motor_rpm if situation is not None else None
    return None if turns is None else float(turns) * (rpm or vehicle.motor.working_rpm)


def _changed_pairs(
    vehicle: Vehicle, key: str, number: int, role: Role, here: GearPair
) -> list[GearPair]:
    """Make the pair anew with every size that still seats in one of its places."""
    kit = vehicle.kit
    group = _group_of(vehicle, key, number)
    row = (here.driver, *here.idlers, here.driven)
    beside = row[1] if role == "driver" else row[-2]
    coupled = _coupled_in(vehicle, key, here)
    centre = centre_of(kit, (link.pair for link in group.links)) if group else None
    renewed = []
    for teeth in kit.sizes:
        update: dict[str, int] = {role: teeth}
        if centre is not None and not here.idlers:
            update["driven" if role == "driver" else "driver"] = centre.tooth_sum - teeth
        changed = here.model_copy(update=update)
        if teeth == (here.driver if role == "driver" else here.driven):
            changed = here
        if (
            coupled is not None
            and (own := _teeth(changed, coupled)) not in kit.dog_sizes
            and (role == coupled or own != _teeth(here, coupled))
        ):
            continue
        if centre is None:
            fits = seats_well(kit, teeth, beside)
        else:
            sizes = {changed.driver, changed.driven}
            fits = sizes <= set(kit.sizes) and fits_between(kit, changed, centre, shifted=True)
            fits = fits and seats_well(kit, teeth, row[1] if role == "driver" else row[-2]) | (
                not here.idlers
            )
        if fits:
            renewed.append(changed)
    return renewed


def _group_of(vehicle: Vehicle, key: str, number: int) -> Between | None:
    for group in vehicle.box.between():
        if len(group.links) > 1 and any((x.key, x.number) == (key, number) for x in group.links):
            return group
    return None


def _teeth(pair: GearPair, role: Role) -> int:
    return pair.driven if role == "driven" else pair.driver


def _coupled_in(vehicle: Vehicle, key: str, pair: GearPair) -> Role | None:
    """Say which gear of a pair a sleeve couples, in whatever gear; None for neither."""
    return next(
        (
            vehicle.box.couples(target.id)
            for target in vehicle.real.gears
            for link in vehicle.box.chain(target.id)
            if link.key == key and link.pair is pair
            if any(link.pair is coupled for coupled in vehicle.box.coupled(target.id))
        ),
        None,
    )


def fastest_gear(vehicle: Vehicle) -> str | None:
    """Name the forward gear with the least ratio that has been chosen."""
    ratios = {
        target.id: ratio
        for target in vehicle.real.gears
        if not target.reverse and (ratio := gear_ratio(vehicle.box, target.id)) is not None
    }
    return min(ratios, key=lambda name: ratios[name], default=None)


def change_places(vehicle: Vehicle) -> tuple[tuple[str, ChangeGear], ...]:
    """List every place whose gear could be the change gear, with what to call it."""
    trains = [("final drive", vehicle.final_drive.pairs)]
    trains += [(shared.key, shared.train) for shared in vehicle.box.shared()]
    if vehicle.display_engine is not None:
        trains.append(("display engine", vehicle.display_engine.pairs))
    seen = {key for key, _ in trains}
    for target in vehicle.real.gears:
        own = gear_key(target.id)
        if own not in seen:
            trains.append((own, train_at(vehicle, own)))
    return tuple(
        (
            say(
                "gear-alternatives.teeth-of",
                train_title=vehicle.train_title(key),
                driver=pair.driver if role == "driver" else pair.driven,
                driver_2=pair.driver,
                driven=pair.driven,
                word=say("gear-alternatives.drives")
                if role == "driver"
                else say("gear-alternatives.is-driven"),
            ),
            ChangeGear.model_construct(train=key, pair=own, role=role),
        )
        for key, train in trains
        for pair, own in zip(train, pair_ids(train), strict=True)
        for role in ("driver", "driven")
    )


@lru_cache(maxsize=4)  # a page is shown again when what was asked beside it comes in
def change_gear_swaps(
    vehicle: Vehicle, situation: Situation | None = None
) -> tuple[GearMotion | None, tuple[GearAlternative, ...]]:
    """Say what every size in the marked place would make of the top speed.

    Returns the gear whose speed is meant, the marked train's own where it is one gear's, else the
    fastest, and the sizes.
    """
    mark: ChangeGear | None = vehicle.change_gear
    if mark is None:
        return None, ()
    own = (gear.id for gear in vehicle.real.gears if gear_key(gear.id) == mark.train)
    named = next(own, None) or fastest_gear(vehicle)
    if named is None:
        return None, ()
    ids = pair_ids(train_at(vehicle, mark.train))
    if mark.pair not in ids:
        return None, ()
    number = ids.index(mark.pair)
    swaps = swaps_in(vehicle, mark.train, number, mark.role, gear=named, situation=situation)
    return gear_motion(vehicle, named, situation), swaps

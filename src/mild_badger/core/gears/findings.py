"""What is wrong with the gears of a box, with the mend where it is known."""

from collections.abc import Iterator

from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mechanisms.lever.describe import lever_stands
from mild_badger.core.mesh.centres import TIP_ROOM_TEETH, centre_of, fits_between
from mild_badger.core.mesh.describe import describe_size
from mild_badger.core.mesh.seats import seats_well
from mild_badger.core.ratios.propose import joined, wanted_parity
from mild_badger.core.ratios.train import mesh_links, train_text
from mild_badger.core.results import GearResult, GearState
from mild_badger.core.shift.findings import shift_findings
from mild_badger.core.shift.states import Proof
from mild_badger.core.targets.speeds import (
    deviation_percent,
)
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.slots import set_train
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["gear_findings"]


def gear_findings(
    vehicle: Vehicle, gears: tuple[GearResult, ...], proof: Proof
) -> Iterator[Finding]:
    """Find what is wrong with the gears of a box that has some."""
    yield from _directions(vehicle, gears)
    yield from shift_findings(vehicle, proof, {gear.id: gear.ratio for gear in gears})
    for gear in gears:
        yield from _one_gear(vehicle, gear)


def _directions(vehicle: Vehicle, gears: tuple[GearResult, ...]) -> Iterator[Finding]:
    driving = [gear for gear in gears if gear.direction]
    wrong = [gear for gear in driving if (gear.direction < 0) != gear.reverse]
    if len(wrong) > len(driving) / 2:
        side = "right" if vehicle.final_drive.crown_side == "left" else "left"
        ahead = sum(1 for gear in driving if gear.direction > 0)
        yield Finding(
            Severity.ERROR,
            "crown-wheel-side",
            ("final drive",),
            "Crown wheel on the wrong side",
            f"With the crown wheel on the {vehicle.final_drive.crown_side} the vehicle has "
            f"{ahead} forward and {len(driving) - ahead} backward speeds; {len(wrong)} of "
            f"{len(driving)} gears go the wrong way. Put it on the {side} of the pinion.",
            figure=len(wrong),
            limit=0,
            unit="gears",
            mend=Edit.one(
                f"Put the crown wheel on the {side}", ("final_drive", "crown_side"), side
            ),
        )
        wrong = [gear for gear in driving if (gear.direction < 0) == gear.reverse]
    for gear in wrong:
        train = _joined(vehicle, gear)
        useful = train is not None and train != gear.own
        yield Finding(
            Severity.ERROR,
            "wrong-direction",
            (gear.id,),
            f"Gear {gear.name} turns the wrong way",
            f"It drives {'backwards' if gear.direction < 0 else 'forwards'} with {gear.meshes} "
            "meshes in its train. One mesh more or less turns it over.",
            figure=gear.meshes,
            unit="meshes",
            mend=_retrain(vehicle, gear.id, train, "Turn over with an idler")
            if useful and train
            else None,
        )


def _joined(vehicle: Vehicle, gear: GearResult) -> tuple[GearPair, ...] | None:
    """Give a free train the idlers it needs; between fixed shafts an idler is no such mend."""
    if not vehicle.box.free_trains or gear.second:
        return None
    return joined(vehicle, gear.own, wanted_parity(vehicle, gear.id))


def _one_gear(vehicle: Vehicle, gear: GearResult) -> Iterator[Finding]:
    if vehicle.box.slot(gear.id) is None or gear.state is GearState.EMPTY:
        yield Finding(
            Severity.WARNING,
            "no-train",
            (gear.id,),
            f"Gear {gear.name} has no train yet",
            "Choose one on the tab Ratios, or find the whole set there.",
        )
        return
    if gear.state is GearState.LOCKED:
        stands = lever_stands(vehicle, gear.id)
        yield Finding(
            Severity.ERROR,
            "locked",
            (gear.id,),
            f"Gear {gear.name} stands still" if stands else f"Gear {gear.name} locks the box",
            stands
            or "With its sleeve in, the input cannot turn: two meshes ask for different speeds.",
        )
    yield from _sizes(vehicle, gear)
    yield from _misfits(vehicle, gear)
    yield from _shifted(gear)
    limit = vehicle.search.tolerance_percent
    error = gear.error_percent
    if error is not None and deviation_percent(error) > limit + 1e-9:
        way = "high" if error > 0 else "low"
        yield Finding(
            Severity.WARNING,
            "ratio-error",
            (gear.id,),
            f"Ratio of gear {gear.name} is {abs(error):.1f} % too {way}",
            f"{abs(float(gear.ratio or 0)):.3f} against {gear.wanted:.3f} turns in for one out. "
            f"The limit is {limit:g} %.",
            figure=error,
            limit=limit,
            unit="%",
        )


def _sizes(vehicle: Vehicle, gear: GearResult) -> Iterator[Finding]:
    kit = vehicle.kit
    pairs = (*gear.train, *gear.second)
    used = {z for pair in pairs for z in (pair.driver, pair.driven, *pair.idlers)}
    strange = sorted(z for z in used if kit.size(z) is None)
    if strange:
        yield Finding(
            Severity.ERROR,
            "not-in-kit",
            (gear.id,),
            f"Gear {gear.name} needs a gear that is not in the kit",
            f"There is no gear of {', '.join(map(str, strange))} teeth in {kit.name}; it has "
            f"{describe_size(kit.sizes)}.",
        )
        return
    barred = sorted(used & set(kit.barred))
    if barred:
        yield Finding(
            Severity.WARNING,
            "barred",
            (gear.id,),
            f"Gear {gear.name} uses a size excluded in the kit",
            f"The kit excludes gears of {', '.join(map(str, barred))} teeth. Choose another train, "
            "or allow the size in the kit.",
        )
    for pair in vehicle.box.coupled(gear.id):
        if pair.driven not in (*kit.dog_sizes, *kit.barred):
            yield Finding(
                Severity.ERROR,
                "no-dog-faces",
                (gear.id,),
                f"Gear {gear.name} ends on a gear without dog faces",
                f"The gear that the sleeve couples has {pair.driven} teeth; only "
                f"{' and '.join(map(str, kit.dog_sizes)) or 'no sizes'} run free with dog faces. "
                "Choose a train from the list on the tab Ratios.",
            )
    apart = [link for link in mesh_links(pairs) if not seats_well(kit, *link)]
    if apart:
        text = ", ".join(f"{a} with {b}" for a, b in apart)
        train = _joined(vehicle, gear)
        yield Finding(
            Severity.ERROR,
            "no-seat",
            (gear.id,),
            f"Gear {gear.name}: {text} do not mesh on the grid",
            f"No whole-unit offset gives {text} a contact ratio of 1 and some backlash. An idler "
            "between the two gears helps.",
            mend=_retrain(vehicle, gear.id, train, "Join with an idler") if train else None,
        )
    elif gear.placement.problem and not any(_misfits(vehicle, gear)):
        yield Finding(
            Severity.WARNING,
            "no-placement",
            (gear.id,),
            f"No place found for gear {gear.name}",
            gear.placement.problem,
        )
    elif not gear.placement.through and vehicle.layout is None:
        yield Finding(
            Severity.NOTE,
            "shafts-end-inside",
            (gear.id,),
            f"Gear {gear.name}: its input or output shaft cannot run through",
            "One gear of this train sits in the path of the input or output shaft. End that shaft "
            "at its own gear.",
        )


def _misfits(vehicle: Vehicle, gear: GearResult) -> Iterator[Finding]:
    """Find pairs that do not stand at the distance of the shafts they share with others."""
    for group in vehicle.box.between():
        centre = centre_of(vehicle.kit, (link.pair for link in group.links))
        if centre is None:
            continue
        for link in gear.links:
            pair = link.pair
            if link not in group.links or fits_between(vehicle.kit, pair, centre, shifted=True):
                continue
            sums = f"a tooth sum of {centre.tooth_sum}"
            over = (
                f"{train_text((pair,))} does not reach over its idler between shafts "
                f"{in_mm(centre.distance_mm, 2)} apart with the tips clear; driver and driven "
                f"together need at most {centre.tooth_sum - TIP_ROOM_TEETH} teeth."
            )
            plain = (
                f"{pair.driver} + {pair.driven} teeth make {pair.driver + pair.driven}; the other "
                f"pairs of the {group.name} stand {in_mm(centre.distance_mm, 2)} apart, {sums}. "
                "Choose a pair with that sum."
            )
            yield Finding(
                Severity.ERROR,
                "centre-distance",
                (gear.id,),
                f"Gear {gear.name}: a pair does not fit between its shafts",
                over if pair.idlers else plain,
                figure=pair.driver + pair.driven,
                limit=centre.tooth_sum,
                unit="teeth",
            )


def _shifted(gear: GearResult) -> Iterator[Finding]:
    for link, shift in zip(gear.links, gear.shifts, strict=True):
        if shift is None:
            continue
        yield Finding(
            Severity.NOTE,
            "profile-shift",
            (gear.id,),
            f"Gear {gear.name}: cut {link.pair.driver}:{link.pair.driven} with profile shift",
            f"The tooth sum {link.pair.driver + link.pair.driven} is one off; a shift of "
            f"{shift.driver:+.3f} modules on either gear ({shift.total:+.3f} in all) brings the "
            "pair to the common centre distance.".replace("-", "−"),
            figure=shift.total,
            limit=0,
            unit="modules",
        )


def _retrain(vehicle: Vehicle, gear: str, train: tuple[GearPair, ...], label: str) -> Edit:
    return Edit(f"{label}: {train_text(train)}", set_train(vehicle, gear, train).changes)

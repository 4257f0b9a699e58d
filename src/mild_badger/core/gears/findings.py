"""What is wrong with the gears of a box, with the mend where it is known."""

from collections.abc import Iterator

from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mechanisms.lever.describe import lever_stands
from mild_badger.core.mesh.centres import TIP_ROOM_TEETH, centre_of, fits_between
from mild_badger.core.mesh.describe import describe_size
from mild_badger.core.mesh.seats import seats_well
from mild_badger.core.message import say
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
from mild_badger.core.words import listed

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
            say("gears.crown-wheel-on-the-wrong-side"),
            say(
                "gears.with-the-crown-wheel-on-the-the-vehicle-has",
                crown_side=vehicle.final_drive.crown_side,
                ahead=ahead,
                count_of_driving=len(driving) - ahead,
                count_of_wrong=len(wrong),
                count_of_driving_2=len(driving),
                side=side,
            ),
            figure=len(wrong),
            limit=0,
            unit="gears",
            mend=Edit.one(
                say("gears.put-the-crown-wheel-on-the", side=side),
                ("final_drive", "crown_side"),
                side,
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
            say("gears.gear-turns-the-wrong-way", name=gear.name),
            say(
                "gears.it-drives-with-meshes-in-its-train-one-mesh",
                word=say("gears.backwards") if gear.direction < 0 else say("gears.forwards"),
                meshes=gear.meshes,
            ),
            figure=gear.meshes,
            unit="meshes",
            mend=_retrain(vehicle, gear.id, train, say("gears.turn-over-with-an-idler"))
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
            say("gears.gear-has-no-train-yet", name=gear.name),
            say("gears.choose-one-on-the-tab-ratios-or-find-the"),
        )
        return
    if gear.state is GearState.LOCKED:
        stands = lever_stands(vehicle, gear.id)
        yield Finding(
            Severity.ERROR,
            "locked",
            (gear.id,),
            say("gears.gear-stands-still", name=gear.name)
            if stands
            else say("gears.gear-locks-the-box", name=gear.name),
            stands or say("gears.with-its-sleeve-in-the-input-cannot-turn-two"),
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
            say("gears.ratio-of-gear-is-too", name=gear.name, error=abs(error), way=way),
            say(
                "gears.against-turns-in-for-one-out-the-limit-is",
                ratio=abs(float(gear.ratio or 0)),
                wanted=gear.wanted,
                limit=limit,
            ),
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
            say("gears.gear-needs-a-gear-that-is-not-in-the-kit", name=gear.name),
            say(
                "gears.there-is-no-gear-of-teeth-in-it-has",
                listed=", ".join(map(str, strange)),
                name=kit.name,
                size=describe_size(kit.sizes),
            ),
        )
        return
    barred = sorted(used & set(kit.barred))
    if barred:
        yield Finding(
            Severity.WARNING,
            "barred",
            (gear.id,),
            say("gears.gear-uses-a-size-excluded-in-the-kit", name=gear.name),
            say("gears.the-kit-excludes-gears-of-teeth-choose", listed=", ".join(map(str, barred))),
        )
    for pair in vehicle.box.coupled(gear.id):
        coupled = pair.driven if vehicle.box.couples(gear.id) == "driven" else pair.driver
        if coupled not in (*kit.dog_sizes, *kit.barred):
            yield Finding(
                Severity.ERROR,
                "no-dog-faces",
                (gear.id,),
                say("gears.gear-ends-on-a-gear-without-dog-faces", name=gear.name),
                say(
                    "gears.the-gear-that-the-sleeve-couples-has-teeth",
                    driven=coupled,
                    listed=listed(tuple(map(str, kit.dog_sizes))) or say("gears.no-sizes"),
                ),
            )
    apart = [link for link in mesh_links(pairs) if not seats_well(kit, *link)]
    if apart:
        text = ", ".join(say("gears.with", a=a, b=b) for a, b in apart)
        train = _joined(vehicle, gear)
        yield Finding(
            Severity.ERROR,
            "no-seat",
            (gear.id,),
            say("gears.gear-do-not-mesh-on-the-grid", name=gear.name, text=text),
            say("gears.no-whole-unit-offset-gives-a-contact-ratio", text=text),
            mend=_retrain(vehicle, gear.id, train, say("gears.join-with-an-idler"))
            if train
            else None,
        )
    elif gear.placement.problem and not any(_misfits(vehicle, gear)):
        yield Finding(
            Severity.WARNING,
            "no-placement",
            (gear.id,),
            say("gears.no-place-found-for-gear", name=gear.name),
            gear.placement.problem,
        )
    elif not gear.placement.through and vehicle.layout is None:
        yield Finding(
            Severity.NOTE,
            "shafts-end-inside",
            (gear.id,),
            say("gears.gear-its-input-or-output-shaft-cannot-run", name=gear.name),
            say("gears.one-gear-of-this-train-sits-in-the-path-of"),
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
            sums = say("gears.a-tooth-sum-of", tooth_sum=centre.tooth_sum)
            over = say(
                "gears.does-not-reach-over-its-idler-between-shafts",
                value=train_text((pair,)),
                distance_mm=in_mm(centre.distance_mm, 2),
                tooth_sum=centre.tooth_sum - TIP_ROOM_TEETH,
            )
            plain = say(
                "gears.teeth-make-the-other-pairs-of-the-stand",
                driver=pair.driver,
                driven=pair.driven,
                driver_2=pair.driver + pair.driven,
                name=group.name,
                distance_mm=in_mm(centre.distance_mm, 2),
                sums=sums,
            )
            yield Finding(
                Severity.ERROR,
                "centre-distance",
                (gear.id,),
                say("gears.gear-a-pair-does-not-fit-between-its-shafts", name=gear.name),
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
            say(
                "gears.gear-cut-with-profile-shift",
                name=gear.name,
                driver=link.pair.driver,
                driven=link.pair.driven,
            ),
            say(
                "gears.the-tooth-sum-is-one-off-a-shift-of-modules",
                driver=link.pair.driver + link.pair.driven,
                driver_2=shift.driver,
                total=shift.total,
            ),
            figure=shift.total,
            limit=0,
            unit="modules",
        )


def _retrain(vehicle: Vehicle, gear: str, train: tuple[GearPair, ...], label: str) -> Edit:
    return Edit(f"{label}: {train_text(train)}", set_train(vehicle, gear, train).changes)

"""The findings: what is wrong, unwise or worth knowing in a vehicle, with the mend where known."""

import itertools
from collections.abc import Iterator

from mild_badger.core.advice import advice
from mild_badger.core.axle.findings import running_faults
from mild_badger.core.axle.road_state import Turn
from mild_badger.core.consistency import inconsistencies
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.functions.result import FunctionResult, function_faults
from mild_badger.core.layout.findings import layout_faults
from mild_badger.core.mechanisms.lever.result import lever_stands
from mild_badger.core.mechanisms.registry import MECHANISMS
from mild_badger.core.mesh.centres import TIP_ROOM_TEETH, centre_of, fits_between
from mild_badger.core.mesh.kit_words import size_words
from mild_badger.core.mesh.seats import seats_well
from mild_badger.core.ratios.final_drive import (
    final_drive_offer,
    final_drive_ratio,
    overall_final_ratio,
    wanted_final_drive,
)
from mild_badger.core.ratios.propose import joined, wanted_parity
from mild_badger.core.ratios.train import train_text
from mild_badger.core.results import AxleResult, GearResult, GearState
from mild_badger.core.shift.findings import shift_faults
from mild_badger.core.shift.states import Proof
from mild_badger.core.situation import Situation
from mild_badger.core.targets.speeds import (
    deviation_percent,
    scaled_diameter_mm,
    signed_error_percent,
)
from mild_badger.core.trial.log import log_findings
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.boxes import SlotBox
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.edit.slots import set_train
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.assembly import assembly_faults
from mild_badger.core.workshop.parts import PartLine

__all__ = [
    "WHEEL_SIZE_LIMIT_PERCENT",
    "housing_ratios",
    "review",
    "review_road",
    "worst_first",
]

WHEEL_SIZE_LIMIT_PERCENT = 10.0


def review(
    vehicle: Vehicle,
    gears: tuple[GearResult, ...],
    parts: tuple[PartLine, ...],
    *,
    proof: Proof,
    functions: FunctionResult | None = None,
) -> tuple[Finding, ...]:
    """Collect the findings that stand whatever road the vehicle is on."""
    findings = [
        *inconsistencies(vehicle),
        *(_gears(vehicle, gears, proof) if vehicle.box.geared else ()),
        *_box(vehicle),
        *_final_drive(vehicle),
        *function_faults(functions),
        *layout_faults(vehicle),
        *_stock(parts),
        *running_faults(vehicle, housing_ratios(vehicle, gears)),
        *_wheels(vehicle),
        *(f for mechanism in MECHANISMS for f in mechanism.findings(vehicle)),
        *assembly_faults(vehicle),
        *log_findings(vehicle),
        *(advice(vehicle, gears) if vehicle.box.geared else ()),
    ]
    return tuple(findings)


def _gears(vehicle: Vehicle, gears: tuple[GearResult, ...], proof: Proof) -> Iterator[Finding]:
    """Find what is wrong with the gears of a box that has some."""
    yield from _directions(vehicle, gears)
    yield from shift_faults(vehicle, proof, {gear.id: gear.ratio for gear in gears})
    for gear in gears:
        yield from _one_gear(vehicle, gear)


def review_road(vehicle: Vehicle, axle: AxleResult, situation: Situation) -> tuple[Finding, ...]:
    """Collect the findings of the road that is tried."""
    return tuple(_axle(vehicle, axle, situation))


def worst_first(findings: tuple[Finding, ...]) -> tuple[Finding, ...]:
    """Put findings in order, errors first."""
    order = list(Severity)
    return tuple(sorted(findings, key=lambda finding: order.index(finding.severity)))


def housing_ratios(vehicle: Vehicle, gears: tuple[GearResult, ...]) -> dict[str, float]:
    """Give the motor's turns for one of the first axle's housing, gear by gear."""
    final = float(final_drive_ratio(vehicle.final_drive))
    return {g.id: float(g.ratio) * final for g in gears if g.ratio is not None}


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
            "Choose one on the Ratios bench, or find the whole set there.",
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
        length = "short" if error > 0 else "long"
        yield Finding(
            Severity.WARNING,
            "ratio-error",
            (gear.id,),
            f"Gear {gear.name} is {abs(error):.1f} % {length}",
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
            f"Gear {gear.name} uses a size the kit lacks",
            f"There is no gear of {', '.join(map(str, strange))} teeth in {kit.name}; it has "
            f"{size_words(kit.sizes)}.",
        )
        return
    barred = sorted(used & set(kit.barred))
    if barred:
        yield Finding(
            Severity.WARNING,
            "barred",
            (gear.id,),
            f"Gear {gear.name} uses a barred size",
            f"{', '.join(map(str, barred))} teeth: the kit bars it. Choose another train, or let "
            "it be used again in the kit.",
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
                "Choose a train from the list on the Ratios bench.",
            )
    apart = [link for link in _links(pairs) if not seats_well(kit, *link)]
    if apart:
        text = ", ".join(f"{a} with {b}" for a, b in apart)
        train = _joined(vehicle, gear)
        yield Finding(
            Severity.ERROR,
            "no-seat",
            (gear.id,),
            f"Gear {gear.name}: {text} never seats",
            f"No whole-unit offset brings {text} into mesh with a contact ratio of 1 and play "
            "left. An idler joins them.",
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
            f"Gear {gear.name}: a shaft must end inside",
            "Where the train fits on whole units, a gear of one layer stands where the input's or "
            "the output's shaft would pass; that shaft has to end at its own gear.",
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
                f"{centre.distance_mm:.2f} mm apart with the tips clear; driver and driven "
                f"together need at most {centre.tooth_sum - TIP_ROOM_TEETH} teeth."
            )
            plain = (
                f"{pair.driver} + {pair.driven} teeth make {pair.driver + pair.driven}; the other "
                f"pairs of the {group.name} stand {centre.distance_mm:.2f} mm apart, {sums}. "
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


def _links(train: tuple[GearPair, ...]) -> list[tuple[int, int]]:
    links = []
    for pair in train:
        row = (pair.driver, *pair.idlers, pair.driven)
        links += list(itertools.pairwise(row))
    return links


def _retrain(vehicle: Vehicle, gear: str, train: tuple[GearPair, ...], label: str) -> Edit:
    return Edit(f"{label}: {train_text(train)}", set_train(vehicle, gear, train).changes)


def _box(vehicle: Vehicle) -> Iterator[Finding]:
    box = SlotBox.of(vehicle.box)
    if box is None:
        return
    rows = [("tie", "tie_teeth", box.tie_teeth)]
    if box.feed == "rail":
        rows.append(("drive rail", "rail_teeth", box.rail_teeth))
    if box.columns < 2:
        return
    for name, field, teeth in rows:
        if seats_well(vehicle.kit, teeth, teeth):
            continue
        fitting = [z for z in vehicle.kit.sizes if seats_well(vehicle.kit, z, z)]
        nearest = min(fitting, key=lambda z: abs(z - teeth), default=None)
        yield Finding(
            Severity.ERROR,
            "row-does-not-seat",
            ("box",),
            f"The {name} gears do not seat",
            f"Two {teeth}-tooth gears never sit together on whole units, so the {name} cannot be "
            "built.",
            mend=Edit.one(f"Use {nearest} teeth for the {name}", ("box", field), nearest)
            if nearest
            else None,
        )
    if box.feed == "rail" and box.rail_teeth != box.tie_teeth:
        yield Finding(
            Severity.WARNING,
            "rail-and-tie-differ",
            ("box",),
            "Rail and tie put the columns at different spacings",
            f"Rail gears of {box.rail_teeth} teeth and tie gears of {box.tie_teeth} do not keep "
            "the same distance from column to column.",
            mend=Edit.one(
                f"Use {box.tie_teeth} teeth on the rail too", ("box", "rail_teeth"), box.tie_teeth
            ),
        )


def _final_drive(vehicle: Vehicle) -> Iterator[Finding]:
    wanted = wanted_final_drive(vehicle)
    got = float(overall_final_ratio(vehicle))
    error = signed_error_percent(got, wanted)
    limit = vehicle.search.tolerance_percent
    if deviation_percent(error) > limit + 1e-9:
        offer = final_drive_offer(vehicle)
        better = offer is not None and abs(offer.error_percent) < abs(error) - 1e-9
        yield Finding(
            Severity.WARNING,
            "final-drive-error",
            ("final drive",),
            f"Final drive is {abs(error):.1f} % {'short' if error > 0 else 'long'}",
            f"{got:.3f} against {wanted:.3f} turns in for one out. The limit is {limit:g} %.",
            figure=error,
            limit=limit,
            unit="%",
            mend=Edit(
                f"Take {float(offer.ratio):.3f} ({offer.error_percent:+.1f} %)",
                offer.edit().changes,
            )
            if better and offer
            else None,
        )
    strange = sorted(
        {z for link in _links(vehicle.final_drive.pairs) for z in link if not vehicle.kit.size(z)}
    )
    if strange:
        yield Finding(
            Severity.ERROR,
            "not-in-kit",
            ("final drive",),
            "Final drive uses a size the kit lacks",
            f"There is no gear of {', '.join(map(str, strange))} teeth in {vehicle.kit.name}.",
            mend=_other_final_drive(vehicle),
        )
    apart = [
        link for link in _links(vehicle.final_drive.pairs) if not seats_well(vehicle.kit, *link)
    ]
    if apart and not strange:
        text = ", ".join(f"{a} with {b}" for a, b in apart)
        yield Finding(
            Severity.ERROR,
            "no-seat",
            ("final drive",),
            f"Final drive: {text} never seats",
            f"No whole-unit offset brings {text} into mesh. Join them by an idler or choose "
            "other sizes.",
            mend=_other_final_drive(vehicle),
        )


def _other_final_drive(vehicle: Vehicle) -> Edit | None:
    offer = final_drive_offer(vehicle)
    if offer is None:
        return None
    words = f"Take {float(offer.ratio):.3f} from this kit ({offer.error_percent:+.1f} %)"
    return Edit(words, offer.edit().changes)


def _stock(parts: tuple[PartLine, ...]) -> Iterator[Finding]:
    for part in parts:
        if not part.there:
            yield Finding(
                Severity.WARNING,
                "not-stocked",
                part.users,
                f"Not in the kit: {part.name}",
                f"{part.needed} needed by {', '.join(part.used_by)}.",
                figure=part.needed,
                limit=0,
                unit="parts",
            )
        elif part.short:
            yield Finding(
                Severity.WARNING,
                "stock-short",
                part.users,
                f"{part.short} short: {part.name}",
                f"{part.needed} needed by {', '.join(part.used_by)}; the kit has {part.stock}.",
                figure=part.needed,
                limit=part.stock,
                unit="parts",
            )


def _axle(vehicle: Vehicle, axle: AxleResult, situation: Situation) -> Iterator[Finding]:
    road = situation.road
    if axle.stalls:
        yield Finding(
            Severity.WARNING,
            "axle-stalls",
            ("differential",),
            "The axle cannot turn",
            "One wheel is held and both are coupled, so the motor stalls. Open the lock or let go "
            "of the wheel.",
        )
    if isinstance(road, Turn) and axle.paths is not None:
        if axle.paths.inner_radius_mm < 0:
            yield Finding(
                Severity.NOTE,
                "turn-inside-track",
                ("wheels",),
                "The turn's centre lies between the wheels",
                f"The radius of {road.radius_mm:g} mm is less than half of the track of "
                f"{vehicle.axle.track_mm:g} mm: the inner wheel rolls backwards.",
                figure=road.radius_mm,
                limit=vehicle.axle.track_mm / 2,
                unit="mm",
            )
        if axle.paths.slide_each_percent:
            yield Finding(
                Severity.WARNING,
                "tyres-slide",
                ("wheels",),
                f"Each tyre slides {axle.paths.slide_each_percent:.1f} %",
                f"A solid axle in a turn of {road.radius_mm:g} mm: the tyres' paths differ by "
                f"{axle.paths.difference_percent:.1f} % of the distance, shared when both grip "
                "alike.",
                figure=axle.paths.slide_each_percent,
                limit=0,
                unit="%",
            )


def _wheels(vehicle: Vehicle) -> Iterator[Finding]:
    scaled = scaled_diameter_mm(vehicle.real, vehicle.scale)
    error = signed_error_percent(vehicle.wheels.diameter_mm, scaled)
    if abs(error) > WHEEL_SIZE_LIMIT_PERCENT:
        yield Finding(
            Severity.NOTE,
            "wheel-size",
            ("wheels",),
            f"Wheels are {abs(error):.0f} % {'large' if error > 0 else 'small'} for the scale",
            f"{vehicle.wheels.diameter_mm:g} mm against {scaled:.1f} mm at "
            f"1:{vehicle.scale.denominator:g}.",
            figure=error,
            limit=WHEEL_SIZE_LIMIT_PERCENT,
            unit="%",
            mend=Edit(
                f"Use {scaled:.1f} mm wheels",
                (Change(("wheels", "diameter_mm"), round(scaled, 1)),),
            ),
        )

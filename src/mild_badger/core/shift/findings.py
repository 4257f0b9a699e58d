"""What is wrong with how the gears are selected, as findings with their mends."""

from collections.abc import Iterator, Mapping
from fractions import Fraction
from itertools import combinations, pairwise
from math import atan, ceil, degrees, radians, tan

from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.shift.assign import propose_places
from mild_badger.core.shift.drum import drum_layout
from mild_badger.core.shift.gate import detent_force
from mild_badger.core.shift.slide import LEAST_GAP_MM, slide_checks
from mild_badger.core.shift.states import Proof, ShiftState
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import describe_sleeve
from mild_badger.core.words import counted

__all__ = ["shift_findings"]

GAP_DEG = -4.0
"""Overlap that keeps two sleeves well apart, where a mend needs one."""


def shift_findings(
    vehicle: Vehicle, proof: Proof, ratios: Mapping[str, Fraction | None]
) -> Iterator[Finding]:
    """Find what locks, what cannot be reached, what is doubled, and what cannot be cut.

    ``ratios`` are the box's by gear, turns in per turn out, signed; None where it does not drive.
    """
    yield from _locks(vehicle, proof)
    yield from _results(vehicle, ratios)
    if vehicle.shifting.actuation == "drum":
        yield from _drum(vehicle)
    else:
        yield from _detent(vehicle)
    yield from _sliding(vehicle)


def _locks(vehicle: Vehicle, proof: Proof) -> Iterator[Finding]:
    passing = [state for state in proof.locks if state.passing]
    if not passing:
        return
    first = passing[0]
    more = f" So do {len(passing) - 1} states more." if len(passing) > 1 else ""
    match vehicle.shifting.actuation:
        case "gate":
            how = "Nothing but the finger keeps the other rails in neutral."
            mend = Edit.one("Fit interlock plungers", ("lever", "plungers"), True)
        case "catch":
            how = "The catch may slide on while a sleeve is in."
            mend = Edit.one(
                "Let the catch slide on in neutral only",
                ("shifting", "catch", "past_neutral"),
                True,
            )
        case _:
            how = "The tracks overlap, and plain dogs do not overrun."
            mend = Edit.one(
                f"Keep both sleeves out for {-GAP_DEG:g}°",
                ("shifting", "drum", "overlap_deg"),
                GAP_DEG,
            )
    yield Finding(
        Severity.ERROR,
        "reach-locks",
        ("box",),
        "The shifter can engage two gears at once and lock the box",
        f"{_describe_state(first)}, {first.passing}, locks: {_list(first.fighting)} fight. "
        f"{how}{more}",
        figure=len(passing),
        limit=0,
        unit="states",
        mend=mend,
    )


def _describe_state(state: ShiftState) -> str:
    return " with ".join(f"{describe_sleeve(s)} {p}" for s, p in state.sleeves).capitalize()


def _list(names: tuple[str, ...]) -> str:
    shown = list(names[:4])
    more = f"; and {len(names) - 4} parts more" if len(names) > 4 else ""
    return "; ".join(shown) + more


def _called(vehicle: Vehicle, gear: str | None) -> str:
    return "neutral" if gear is None else vehicle.gear_name(gear)


def _results(vehicle: Vehicle, ratios: Mapping[str, Fraction | None]) -> Iterator[Finding]:
    driving = {name: ratio for name, ratio in ratios.items() if ratio is not None}
    for one, other in combinations(driving, 2):
        if driving[one] == driving[other]:
            yield Finding(
                Severity.WARNING,
                "same-result",
                (one, other),
                f"Gears {vehicle.gear_name(one)} and {vehicle.gear_name(other)} have the same "
                "ratio",
                f"Both turn {abs(float(driving[one])):.3f} times in for one out, the same way. One "
                "of them is spare.",
            )
    forward = [
        (gear, abs(driving[gear.id]))
        for gear in vehicle.real.gears
        if not gear.reverse and gear.id in driving
    ]
    for (one_gear, high), (other_gear, low) in pairwise(forward):
        if one_gear.ratio > other_gear.ratio and high < low:
            yield Finding(
                Severity.WARNING,
                "step-backwards",
                (one_gear.id, other_gear.id),
                f"The step from {one_gear.name} to {other_gear.name} goes the wrong way",
                f"{float(high):.3f} turns in for one out, then {float(low):.3f}: gear "
                f"{other_gear.name} is the slower one, and should be the faster.",
                figure=float(high / low),
                limit=1.0,
            )


def _drum(vehicle: Vehicle) -> Iterator[Finding]:
    drum, layout = vehicle.shifting.drum, drum_layout(vehicle)
    where = ("box",)
    if layout.missed:
        names = ", ".join(map(vehicle.gear_name, layout.missed))
        yield Finding(
            Severity.ERROR,
            "gear-unreachable",
            layout.missed,
            f"The drum has no position for {names}",
            f"The drum's order lists {len(layout.positions)} positions; {names} cannot be reached.",
            figure=len(layout.missed),
            limit=0,
            unit="gears",
            mend=Edit.one("Give every gear a position", ("shifting", "drum", "order"), ()),
        )
    if drum.angles_deg and len(drum.angles_deg) != len(layout.positions):
        yield Finding(
            Severity.NOTE,
            "drum-angles",
            where,
            "The drum's angles do not match its positions",
            f"{len(drum.angles_deg)} angles for {len(layout.positions)} positions; they are spread "
            "evenly until there are as many.",
            mend=Edit.one("Spread them evenly", ("shifting", "drum", "angles_deg"), ()),
        )
    if layout.mixed:
        yield Finding(
            Severity.ERROR,
            "sleeve-on-both-drums",
            where,
            f"{_list(tuple(describe_sleeve(s).capitalize() for s in layout.mixed))} would need "
            "both drums",
            "A sleeve between an odd and an even gear hangs on one drum only. Put odd gears on "
            "sleeves of their own.",
            mend=propose_places(vehicle) if vehicle.box.has_places else None,
        )
    if layout.steepest_deg > drum.steepest_deg + 1e-9:
        needed = ceil(
            drum.diameter_mm * tan(radians(layout.steepest_deg)) / tan(radians(drum.steepest_deg))
        )
        yield Finding(
            Severity.WARNING,
            "track-too-steep",
            where,
            "A track of the drum is too steep",
            f"The track rises by {layout.steepest_deg:.0f}°; the limit is {drum.steepest_deg:g}°; "
            "a follower jams on a steep ramp. A bigger drum or a shorter dwell makes it gentler.",
            figure=layout.steepest_deg,
            limit=drum.steepest_deg,
            unit="°",
            mend=Edit.one(
                f"Make the drum {in_mm(needed)} across", ("shifting", "drum", "diameter_mm"), needed
            ),
        )
    unmet = [change for change in layout.changes if not change.asked]
    if unmet:
        got = unmet[0].overlap_deg or 0.0
        yield Finding(
            Severity.WARNING,
            "overlap-unmet",
            where,
            f"{counted(len(unmet), 'change')} cannot have the overlap asked for",
            f"Asked for {drum.overlap_deg:g}°, got {got:.1f}° from "
            f"{_called(vehicle, unmet[0].start.gear)} to "
            f"{_called(vehicle, unmet[0].end.gear)}: deeper dogs or a shorter dwell give "
            "more overlap, shallower dogs a longer gap.",
            figure=got,
            limit=drum.overlap_deg,
            unit="°",
        )
    if layout.closest_mm is not None and layout.closest_mm < 1.0:
        pitch = ceil(drum.track_pitch_mm + 1.0 - layout.closest_mm)
        yield Finding(
            Severity.ERROR,
            "tracks-run-together",
            where,
            "Two tracks of the drum run into one another",
            f"Between them {in_mm(layout.closest_mm, 1)} of wall would be left; {in_mm(1)} is "
            "the least.",
            figure=layout.closest_mm,
            limit=1.0,
            unit="mm",
            mend=Edit.one(
                f"Set the tracks {in_mm(pitch)} apart",
                ("shifting", "drum", "track_pitch_mm"),
                pitch,
            ),
        )
    if drum.dog_depth_mm > vehicle.lever.fork_travel_mm:
        yield Finding(
            Severity.WARNING,
            "dogs-deeper-than-travel",
            where,
            "The dogs cannot come out: deeper than the fork travel",
            f"{in_mm(drum.dog_depth_mm)} of dogs do not come out within "
            f"{in_mm(vehicle.lever.fork_travel_mm)} of travel.",
            figure=drum.dog_depth_mm,
            limit=vehicle.lever.fork_travel_mm,
            unit="mm",
            mend=Edit.one(
                "Cut the dogs down",
                ("shifting", "drum", "dog_depth_mm"),
                round(vehicle.lever.fork_travel_mm * 0.6, 1),
            ),
        )


def _detent(vehicle: Vehicle) -> Iterator[Finding]:
    lever = vehicle.lever
    if detent_force(lever).feel == "locks":
        steepest = detent_force(lever).steepest_deg
        yield Finding(
            Severity.WARNING,
            "detent-locks",
            ("box",),
            "The detent angle is too steep to be pushed out",
            f"With a friction of {lever.detent_friction:g} a flank of {lever.detent_flank_deg:g}° "
            f"holds for good; it must be below {steepest:.0f}°.",
            figure=lever.detent_flank_deg,
            limit=steepest,
            unit="°",
            mend=Edit.one("Use flanks of 45°", ("lever", "detent_flank_deg"), 45.0)
            if steepest > 45
            else None,
        )
    width = 2 * lever.detent_depth_mm / tan(radians(lever.detent_flank_deg))
    if width > lever.fork_travel_mm + 1e-9:
        flank = ceil(degrees(atan(2 * lever.detent_depth_mm / lever.fork_travel_mm)))
        depth = lever.fork_travel_mm * tan(radians(lever.detent_flank_deg)) / 2
        yield Finding(
            Severity.WARNING,
            "notches-run-together",
            ("box",),
            "The detent notches run into one another",
            f"Each is {in_mm(width, 1)} wide, their pitch is the fork's travel of "
            f"{in_mm(lever.fork_travel_mm)}. Make them shallower, or the flanks {flank}° or more.",
            figure=width,
            limit=lever.fork_travel_mm,
            unit="mm",
            mend=Edit.one(
                f"Cut them {in_mm(int(depth * 10) / 10)} deep",
                ("lever", "detent_depth_mm"),
                int(depth * 10) / 10,
            )
            if depth >= 0.1
            else None,
        )


def _sliding(vehicle: Vehicle) -> Iterator[Finding]:
    for check in slide_checks(vehicle):
        if check.gap_mm < LEAST_GAP_MM:
            stays = check.gap_mm < 0
            travel = round(vehicle.lever.fork_travel_mm + 1.0 - check.gap_mm, 1)
            yield Finding(
                Severity.ERROR if stays else Severity.WARNING,
                "slider-gap",
                (check.gear,),
                f"Gear {vehicle.gear_name(check.gear)}: the slider "
                + ("stays in mesh in neutral" if stays else "barely leaves its mesh"),
                f"The fork's travel less the face width leaves {in_mm(check.gap_mm, 1)} between "
                "the "
                f"gears in neutral; {in_mm(LEAST_GAP_MM)} is the least.".replace("-", "−"),
                figure=check.gap_mm,
                limit=LEAST_GAP_MM,
                unit="mm",
                mend=Edit.one(
                    f"Let forks travel {in_mm(travel)}", ("lever", "fork_travel_mm"), travel
                ),
            )
        if check.tips_mm is not None and check.tips_mm < LEAST_GAP_MM:
            yield Finding(
                Severity.ERROR if check.tips_mm < 0 else Severity.WARNING,
                "slider-tips",
                (check.gear,),
                f"Gear {vehicle.gear_name(check.gear)}: the sliding gear meets the gear beneath it",
                f"While it meshes with the idler its tips stand {in_mm(check.tips_mm, 2)} clear of "
                f"the gear on the other shaft; {in_mm(LEAST_GAP_MM)} is the least. Choose fewer "
                "teeth on either.".replace("-", "−"),
                figure=check.tips_mm,
                limit=LEAST_GAP_MM,
                unit="mm",
            )

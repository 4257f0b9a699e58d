"""What is wrong with how the gears are selected, as findings with their mends."""

from collections.abc import Iterator, Mapping
from fractions import Fraction
from itertools import combinations, pairwise
from math import atan, ceil, degrees, radians, tan

from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.message import say, say_count
from mild_badger.core.ratios.propose import pairs_for_gear
from mild_badger.core.shift.assign import propose_places
from mild_badger.core.shift.drum import drum_layout
from mild_badger.core.shift.gate import detent_force
from mild_badger.core.shift.slide import LEAST_GAP_MM, slide_checks
from mild_badger.core.shift.states import Proof, ShiftState
from mild_badger.core.vehicle.boxes import EitherSideBox, LayshaftBox
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.slots import move_slot, set_train
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import describe_place, describe_sleeve
from mild_badger.core.words import capitalized

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
    yield from _sharing(vehicle)
    yield from _direct(vehicle)


def _direct(vehicle: Vehicle) -> Iterator[Finding]:
    """Say that a direct gear's sleeve moves away from the input, or that its ring has no gear."""
    box = LayshaftBox.of(vehicle.box)
    slot = next((slot for slot in box.slots if slot.direct), None) if box is not None else None
    if box is None or slot is None:
        return
    name = vehicle.gear_name(slot.gear)
    if slot.face == "back":
        yield Finding(
            Severity.ERROR,
            "direct-away-from-input",
            (slot.gear,),
            say("shift.the-sleeve-of-gear-moves-away-from-the-input", name=name),
            say("shift.a-direct-gear-couples-the-inputs-end-which"),
            mend=move_slot(vehicle, slot.gear, slot.column, "front"),
        )
    elif box.slides and box.direct_by == "ring" and not box.ringed(slot.column):
        yield Finding(
            Severity.WARNING,
            "direct-without-ring",
            (slot.gear,),
            say("shift.no-gear-enters-the-ring-for-gear", name=name),
            say("shift.the-slider-has-no-gear-on-its-other-side"),
            mend=Edit.one(say("shift.couple-by-dogs"), ("box", "direct_by"), "dogs"),
        )


def _sharing(vehicle: Vehicle) -> Iterator[Finding]:
    """Say that gears that are to slide as one have two sizes, or no slider together."""
    box = EitherSideBox.of(vehicle.box)
    if box is None or not (box.slides and box.shared_slider):
        return
    for ahead, back in box.sharing():
        apart = back.train[-1].driven - ahead.train[-1].driven
        if apart:
            yield Finding(
                Severity.WARNING,
                "slider-not-shared",
                (ahead.gear, back.gear),
                say(
                    "shift.gears-and-slide-as-two",
                    ahead=vehicle.gear_name(ahead.gear),
                    back=vehicle.gear_name(back.gear),
                ),
                say(
                    "shift.one-gear-for-both-needs-the-same-driven-teeth",
                    ahead=ahead.train[-1].driven,
                    back=back.train[-1].driven,
                ),
                figure=abs(apart),
                limit=0,
                unit="teeth",
                mend=_same_driven(vehicle, back.gear, ahead.train[-1].driven),
            )
    if not box.sharing() and any(gear.reverse for gear in vehicle.real.gears):
        yield Finding(
            Severity.WARNING,
            "slider-not-shared",
            ("box",),
            say("shift.no-slider-has-a-forward-gear-and-reverse"),
            say("shift.put-reverse-beside-a-forward-gear"),
        )


def _same_driven(vehicle: Vehicle, gear: str, teeth: int) -> Edit | None:
    """Give a gear the nearest pair with a driven gear."""
    pairs = pairs_for_gear(vehicle, gear, limit=1, driven=teeth)
    return set_train(vehicle, gear, pairs[0].train) if pairs else None


def _locks(vehicle: Vehicle, proof: Proof) -> Iterator[Finding]:
    passing = [state for state in proof.locks if state.passing]
    if not passing:
        return
    first = passing[0]
    more = (
        say("shift.so-do-states-more", count_of_passing=len(passing) - 1)
        if len(passing) > 1
        else ""
    )
    match vehicle.shifting.actuation:
        case "gate":
            how = say("shift.nothing-but-the-finger-keeps-the-other-rails")
            mend = Edit.one(say("shift.fit-interlock-plungers"), ("lever", "plungers"), True)
        case "catch":
            how = say("shift.the-catch-may-slide-on-while-a-sleeve-is-in")
            mend = Edit.one(
                say("shift.let-the-catch-slide-on-in-neutral-only"),
                ("shifting", "catch", "past_neutral"),
                True,
            )
        case _:
            how = say("shift.the-tracks-overlap-and-plain-dogs-do-not")
            mend = Edit.one(
                say("shift.keep-both-sleeves-out-for", gap_deg=-GAP_DEG),
                ("shifting", "drum", "overlap_deg"),
                GAP_DEG,
            )
    yield Finding(
        Severity.ERROR,
        "reach-locks",
        ("box",),
        say("shift.the-shifter-can-engage-two-gears-at-once-and"),
        say(
            "shift.locks-fight",
            state=_describe_state(first),
            passing=first.passing,
            list=_list(first.fighting),
            how=how,
            more=more,
        ),
        figure=len(passing),
        limit=0,
        unit="states",
        mend=mend,
    )


def _describe_state(state: ShiftState) -> str:
    places = (describe_place(s, p) for s, p in state.sleeves)
    return capitalized(f" {say('shift.with')} ".join(places))


def _list(names: tuple[str, ...]) -> str:
    shown = list(names[:4])
    more = say("shift.and-parts-more", count_of_names=len(names) - 4) if len(names) > 4 else ""
    return "; ".join(shown) + more


def _called(vehicle: Vehicle, gear: str | None) -> str:
    return say("shift.neutral") if gear is None else vehicle.gear_name(gear)


def _results(vehicle: Vehicle, ratios: Mapping[str, Fraction | None]) -> Iterator[Finding]:
    driving = {name: ratio for name, ratio in ratios.items() if ratio is not None}
    for one, other in combinations(driving, 2):
        if driving[one] == driving[other]:
            yield Finding(
                Severity.WARNING,
                "same-result",
                (one, other),
                say(
                    "shift.gears-and-have-the-same-ratio",
                    gear_name=vehicle.gear_name(one),
                    gear_name_2=vehicle.gear_name(other),
                ),
                say(
                    "shift.both-turn-times-in-for-one-out-the-same-way",
                    driving=abs(float(driving[one])),
                ),
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
                say(
                    "shift.the-step-from-to-goes-the-wrong-way",
                    name=one_gear.name,
                    name_2=other_gear.name,
                ),
                say(
                    "shift.turns-in-for-one-out-then-gear-is-the-slower",
                    high=float(high),
                    low=float(low),
                    name=other_gear.name,
                ),
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
            say("shift.the-drum-has-no-position-for", names=names),
            say(
                "shift.the-drums-order-lists-positions-cannot-be",
                count_of_positions=len(layout.positions),
                names=names,
            ),
            figure=len(layout.missed),
            limit=0,
            unit="gears",
            mend=Edit.one(
                say("shift.give-every-gear-a-position"), ("shifting", "drum", "order"), ()
            ),
        )
    if drum.angles_deg and len(drum.angles_deg) != len(layout.positions):
        yield Finding(
            Severity.NOTE,
            "drum-angles",
            where,
            say("shift.the-drums-angles-do-not-match-its-positions"),
            say(
                "shift.angles-for-positions-they-are-spread-evenly",
                count_of_angles_deg=len(drum.angles_deg),
                count_of_positions=len(layout.positions),
            ),
            mend=Edit.one(say("shift.spread-them-evenly"), ("shifting", "drum", "angles_deg"), ()),
        )
    if layout.mixed:
        yield Finding(
            Severity.ERROR,
            "sleeve-on-both-drums",
            where,
            say(
                "shift.would-need-both-drums",
                list=_list(tuple(describe_sleeve(s).capitalize() for s in layout.mixed)),
            ),
            say("shift.a-sleeve-between-an-odd-and-an-even-gear"),
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
            say("shift.a-track-of-the-drum-is-too-steep"),
            say(
                "shift.the-track-rises-by-the-limit-is-a-follower",
                steepest_deg=layout.steepest_deg,
                steepest_deg_2=drum.steepest_deg,
            ),
            figure=layout.steepest_deg,
            limit=drum.steepest_deg,
            unit="°",
            mend=Edit.one(
                say("shift.make-the-drum-across", needed=in_mm(needed)),
                ("shifting", "drum", "diameter_mm"),
                needed,
            ),
        )
    unmet = [change for change in layout.changes if not change.asked]
    if unmet:
        got = unmet[0].overlap_deg or 0.0
        yield Finding(
            Severity.WARNING,
            "overlap-unmet",
            where,
            say(
                "shift.cannot-have-the-overlap-asked-for",
                change=say_count("count.change", len(unmet)),
            ),
            say(
                "shift.asked-for-got-from-to-deeper-dogs-or-a",
                overlap_deg=drum.overlap_deg,
                got=got,
                called=_called(vehicle, unmet[0].start.gear),
                called_2=_called(vehicle, unmet[0].end.gear),
            ),
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
            say("shift.two-tracks-of-the-drum-run-into-one-another"),
            say(
                "shift.between-them-of-wall-would-be-left-is-the",
                closest_mm=in_mm(layout.closest_mm, 1),
                value=in_mm(1),
            ),
            figure=layout.closest_mm,
            limit=1.0,
            unit="mm",
            mend=Edit.one(
                say("shift.set-the-tracks-apart", pitch=in_mm(pitch)),
                ("shifting", "drum", "track_pitch_mm"),
                pitch,
            ),
        )
    if drum.dog_depth_mm > vehicle.lever.fork_travel_mm:
        yield Finding(
            Severity.WARNING,
            "dogs-deeper-than-travel",
            where,
            say("shift.the-dogs-cannot-come-out-deeper-than-the"),
            say(
                "shift.of-dogs-do-not-come-out-within-of-travel",
                dog_depth_mm=in_mm(drum.dog_depth_mm),
                fork_travel_mm=in_mm(vehicle.lever.fork_travel_mm),
            ),
            figure=drum.dog_depth_mm,
            limit=vehicle.lever.fork_travel_mm,
            unit="mm",
            mend=Edit.one(
                say("shift.cut-the-dogs-down"),
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
            say("shift.the-detent-angle-is-too-steep-to-be-pushed"),
            say(
                "shift.with-a-friction-of-a-flank-of-holds-for-good",
                detent_friction=lever.detent_friction,
                detent_flank_deg=lever.detent_flank_deg,
                steepest=steepest,
            ),
            figure=lever.detent_flank_deg,
            limit=steepest,
            unit="°",
            mend=Edit.one(say("shift.use-flanks-of-45"), ("lever", "detent_flank_deg"), 45.0)
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
            say("shift.the-detent-notches-run-into-one-another"),
            say(
                "shift.each-is-wide-their-pitch-is-the-forks-travel",
                width=in_mm(width, 1),
                fork_travel_mm=in_mm(lever.fork_travel_mm),
                flank=flank,
            ),
            figure=width,
            limit=lever.fork_travel_mm,
            unit="mm",
            mend=Edit.one(
                say("shift.cut-them-deep", depth=in_mm(int(depth * 10) / 10)),
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
            travel = max(
                round(vehicle.lever.fork_travel_mm + 1.0 - check.gap_mm, 1), check.needed_mm
            )
            yield Finding(
                Severity.ERROR if stays else Severity.WARNING,
                "slider-gap",
                (check.gear,),
                say("shift.gear-the-slider", gear_name=vehicle.gear_name(check.gear))
                + (
                    say("shift.stays-in-mesh-in-neutral")
                    if stays
                    else say("shift.barely-leaves-its-mesh")
                ),
                say(
                    "shift.the-forks-travel-less-the-face-width-leaves",
                    gap_mm=in_mm(check.gap_mm, 1),
                    least_gap_mm=in_mm(LEAST_GAP_MM),
                ),
                figure=check.gap_mm,
                limit=LEAST_GAP_MM,
                unit="mm",
                mend=Edit.one(
                    say("shift.let-forks-travel", travel=in_mm(travel)),
                    ("lever", "fork_travel_mm"),
                    travel,
                ),
            )
        elif abs(check.needed_mm - vehicle.lever.fork_travel_mm) > LEAST_GAP_MM:
            yield Finding(
                Severity.ERROR,
                "slider-stops-short",
                (check.gear,),
                say("shift.gear-the-slider-stops-short", gear_name=vehicle.gear_name(check.gear)),
                say(
                    "shift.its-partner-stands-on-whole-units",
                    needed_mm=in_mm(check.needed_mm),
                    travel_mm=in_mm(vehicle.lever.fork_travel_mm),
                ),
                figure=vehicle.lever.fork_travel_mm,
                limit=check.needed_mm,
                unit="mm",
                mend=Edit.one(
                    say("shift.let-forks-travel", travel=in_mm(check.needed_mm)),
                    ("lever", "fork_travel_mm"),
                    check.needed_mm,
                ),
            )
        if check.tips_mm is not None and check.tips_mm < LEAST_GAP_MM:
            yield Finding(
                Severity.ERROR if check.tips_mm < 0 else Severity.WARNING,
                "slider-tips",
                (check.gear,),
                say(
                    "shift.gear-the-sliding-gear-meets-the-gear-beneath",
                    gear_name=vehicle.gear_name(check.gear),
                ),
                say(
                    "shift.while-it-meshes-with-the-idler-its-tips",
                    tips_mm=in_mm(check.tips_mm, 2),
                    least_gap_mm=in_mm(LEAST_GAP_MM),
                ),
                figure=check.tips_mm,
                limit=LEAST_GAP_MM,
                unit="mm",
            )

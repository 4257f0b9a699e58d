"""What is wrong with a lever drive, and its edits."""

from collections.abc import Iterable, Iterator
from dataclasses import replace
from itertools import combinations
from math import sqrt, tau

from mild_badger.core.driveline.assemble import LEVER_THROWS
from mild_badger.core.driveline.turns import body_turns
from mild_badger.core.drivetrain.lever_motion import (
    describe_motion,
    fulcrum_for,
    jam_at,
    motion_of,
    range_of,
)
from mild_badger.core.errors import DocumentError
from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.ratios.pool import build_pool
from mild_badger.core.ratios.propose import slot_search_rules
from mild_badger.core.ratios.single import ranked_trains
from mild_badger.core.vehicle.box import LeverPlace, Train, chain_ratio
from mild_badger.core.vehicle.boxes import LeverBox
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.box import apply_box, set_fulcrums
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import UNWATCHED, Watch
from mild_badger.core.words import capitalized

__all__ = [
    "add_lever",
    "lay_out_lever",
    "lever_box_faults",
    "lever_faults",
    "lever_rpm",
    "lever_seen",
    "lever_stands",
    "move_fulcrum",
    "place_gears",
    "reach_of",
    "remove_lever",
]

TOGETHER_DEG = 5.0
UNEVEN_DEG = 2.0
NEAR_ONE = 0.2
"""A wanted ratio this near to 1 takes no pairs."""
MOST_A_PAIR = 4.5
LOOKS = 80


def add_lever() -> Edit:
    """Give the vehicle a lever drive beside its box: a yoke and three ratchets on the motor."""
    return Edit.one("Plan a lever drive", ("lever_drive",), LeverDrive())


def remove_lever(vehicle: Vehicle) -> Edit:
    """Take the lever drive away.

    Raises
    ------
    DocumentError
        It is the box itself.
    """
    if vehicle.box.lever is not None:
        raise DocumentError(
            "This lever drive is the vehicle's box. Lay out another box on the tab Ratios, page "
            "Box, to take it away."
        )
    return Edit.one("Take the lever drive away", ("lever_drive",), None)


def move_fulcrum(vehicle: Vehicle, mm: float, gear: str | None = None) -> Edit:
    """Slide the fulcrum, no farther than its stops.

    In a lever box with a gear engaged that gear's place moves along.
    """
    drive = vehicle.stepless or LeverDrive()
    at = round(min(max(mm, drive.stop_low_mm), drive.stop_high_mm), 2)
    changes = [Change((*vehicle.stepless_path, "fulcrum_mm"), at)]
    if vehicle.box.lever is not None and gear is not None:
        changes += set_fulcrums(vehicle, {gear: at}).changes
    return Edit("Slide the fulcrum", tuple(changes))


def lever_seen(vehicle: Vehicle, gear: str | None) -> LeverDrive | None:
    """Give the lever drive as it stands in a gear; None where there is none."""
    drive, slot = vehicle.stepless, vehicle.box.slot(gear) if gear is not None else None
    if drive is None or not isinstance(slot, LeverPlace):
        return drive
    return drive.model_copy(update={"fulcrum_mm": slot.fulcrum_mm})


def lever_stands(vehicle: Vehicle, gear: str) -> str:
    """Say why a lever box's wheel stands in a gear; "" where it turns, or the box is another."""
    drive = lever_seen(vehicle, gear)
    if drive is None or not isinstance(vehicle.box.slot(gear), LeverPlace):
        return ""
    motion = motion_of(drive)
    return describe_motion(drive, motion) if motion.jams or motion.mean <= 0 else ""


def place_gears(vehicle: Vehicle, *, watch: Watch = UNWATCHED) -> Edit | None:
    """Place the fulcrum for every forward target but kept ones; None where no stop reaches one.

    In the spacing fit the common factor is the one that brings all within the stops, in its middle.
    """
    drive = vehicle.stepless
    if drive is None:
        return None
    before = float(chain_ratio(drive.pairs))
    targets = {g.id: g.ratio for g in vehicle.real.gears if not g.reverse}
    placed = {}
    kept = {slot.gear for slot in vehicle.box.slots if isinstance(slot, LeverPlace) and slot.kept}
    for number, (gear, ratio) in enumerate(targets.items()):
        watch.tick(number / len(targets))
        if gear in kept:
            continue
        mm = fulcrum_for(drive, before / (ratio * _factor(vehicle, drive, targets.values())))
        if mm is not None:
            placed[gear] = mm
    if not placed:
        return None
    return Edit("Place the fulcrum for the targets", set_fulcrums(vehicle, placed).changes)


def lay_out_lever(vehicle: Vehicle) -> Edit:
    """Make a lever drive the box: pairs that bring its reach amid the targets, marks for them.

    The drive beside the box is taken, else a usual one; what no mark reaches stays without.
    """
    drive = vehicle.stepless or LeverDrive()
    means = [m.mean for _, m in range_of(drive) if not m.jams and m.mean > 0]
    ratios = [gear.ratio for gear in vehicle.real.gears if not gear.reverse]
    if means and ratios and not drive.pairs:
        before = sqrt(min(ratios) * max(ratios) * min(means) * max(means))
        drive = drive.model_copy(update={"pairs": _pairs_near(vehicle, before)})
    there = vehicle.model_copy(update={"box": LeverBox(drive=drive), "lever_drive": None})
    placed = place_gears(there)
    box = apply_edit(there, placed).box if placed is not None else there.box
    return apply_box(vehicle, box, "Lay out a lever drive")


def _pairs_near(vehicle: Vehicle, ratio: float) -> Train:
    """Give a pair, or two alike, near a ratio; none where that is about 1 or nothing comes near.

    The fulcrum takes the rest up, so that a search of all trains would be for nothing.
    """
    if abs(ratio - 1) < NEAR_ONE:
        return ()
    count = 1 if ratio <= MOST_A_PAIR else 2
    pool = build_pool(replace(slot_search_rules(vehicle), max_pairs=1))
    wanted = ratio ** (1 / count)
    pairs = [
        candidate
        for parity in (0, 1)
        for candidate in ranked_trains(
            pool, wanted, parity=parity, tolerance_percent=25.0, by="error", limit=1
        )
    ]
    if not pairs:
        return ()
    return min(pairs, key=lambda c: (c.cost.gears, abs(c.error_percent))).train * count


def _factor(vehicle: Vehicle, drive: LeverDrive, ratios: Iterable[float]) -> float:
    if vehicle.search.fit == "absolute":
        return 1.0
    reach = reach_of(drive)
    if reach is None:
        return 1.0
    wanted, search = list(ratios), vehicle.search
    middle = sqrt(reach[0] / min(wanted) * reach[1] / max(wanted))
    low, high = search.factors
    return min(max(middle, low), high)


def reach_of(drive: LeverDrive) -> tuple[float, float] | None:
    """Give the least and the greatest ratio between the stops; None where it jams or stands."""
    means = [m.mean for _, m in range_of(drive) if not m.jams and m.mean > 0]
    if not means:
        return None
    before = float(chain_ratio(drive.pairs))
    return before / max(means), before / min(means)


def lever_rpm(vehicle: Vehicle, gear: str | None, motor_rpm: float) -> float | None:
    """Give the throws' speed in turns a minute, signed; None where there are none or they stand."""
    if vehicle.stepless is None:
        return None
    turns = body_turns(vehicle, gear, LEVER_THROWS)
    return None if turns is None else float(turns) * motor_rpm


def lever_faults(vehicle: Vehicle) -> Iterator[Finding]:
    """Say where it jams, gains no tooth, and which ratchets are out of step."""
    drive = vehicle.stepless
    if drive is None:
        return
    where = ("lever drive",)
    low, high = drive.stop_low_mm, drive.stop_high_mm
    looked = [low + (high - low) * n / LOOKS for n in range(LOOKS + 1)]
    jammed = [(mm, why) for mm in looked if (why := jam_at(drive, mm))]
    if jammed:
        why = jammed[-1][1]
        yield Finding(
            Severity.ERROR,
            "lever-jams",
            where,
            "The lever drive jams within its stops",
            f"{capitalized(why)}. The drive runs with the fulcrum beyond "
            f"{in_mm(jammed[-1][0], 1)}.",
            jammed[-1][0],
            drive.stop_low_mm,
            "mm",
        )
    here = motion_of(drive)
    if not here.jams and here.mean <= 0:
        yield Finding(
            Severity.ERROR,
            "no-tooth-gained",
            where,
            "The stroke is too short to advance the ratchet wheel",
            f"A stroke of {in_mm(here.stroke_mm, 2)}, less the play of the joints, is shorter than "
            "one tooth. Use finer teeth or a longer throw, or move the fulcrum in.",
            here.stroke_mm,
            tau * drive.wheel_mm / drive.teeth,
            "mm",
        )
    span = drive.span_deg
    phases = sorted(phase % span for phase in drive.phases)
    gaps = [(b - a) % span for a, b in zip(phases, [*phases[1:], phases[0]], strict=True)]
    pairs = [
        (a, b)
        for a, b in combinations(phases, 2)
        if min((b - a) % span, (a - b) % span) < TOGETHER_DEG
    ]
    even = Edit.one("Space the phases evenly", (*vehicle.stepless_path, "phases_deg"), [])
    if pairs:
        yield Finding(
            Severity.WARNING,
            "ratchets-together",
            where,
            "Two ratchets drive together",
            f"Two throws stand at {pairs[0][0]:.0f}° and {pairs[0][1]:.0f}°. They push at the same "
            "time, so one of the two does nothing.",
            abs(pairs[0][1] - pairs[0][0]),
            span / drive.ratchets,
            "°",
            even,
        )
    elif drive.ratchets > 1 and max(gaps) - min(gaps) > UNEVEN_DEG:
        yield Finding(
            Severity.NOTE,
            "uneven-phases",
            where,
            "The ratchets are unevenly spaced",
            f"The throws stand {min(gaps):.0f}° to {max(gaps):.0f}° apart. Even spacing runs "
            "smoother.",
            max(gaps),
            span / drive.ratchets,
            "°",
            even,
        )


def lever_box_faults(vehicle: Vehicle) -> Iterator[Finding]:
    """Say which gears a lever box cannot give: reverse, and what lies beyond its stops."""
    box = LeverBox.of(vehicle.box)
    if box is None:
        return
    for gear in vehicle.real.gears:
        if gear.reverse:
            yield Finding(
                Severity.NOTE,
                "lever-no-reverse",
                (gear.id,),
                "A lever drive has no reverse",
                "Ratchets turn the output in one direction only, whichever way the motor turns. "
                "Put a reversing gear behind the box, or leave reverse out.",
            )
    reach = reach_of(box.drive)
    without = [g.id for g in vehicle.real.gears if not g.reverse and not box.ready(g.id)]
    if reach is not None and without:
        named = ", ".join(map(vehicle.gear_name, without))
        yield Finding(
            Severity.WARNING,
            "fulcrum-not-placed",
            tuple(without),
            f"No fulcrum position gives the ratio of gear {named}",
            f"Between its stops the lever gives {reach[0]:.2f} to {reach[1]:.2f} turns in for "
            "one out.",
            mend=place_gears(vehicle),
        )

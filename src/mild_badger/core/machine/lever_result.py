"""What is wrong with a lever drive, and its edits."""

from collections.abc import Iterable, Iterator
from itertools import combinations
from math import sqrt

from mild_badger.core.changes import Change, Edit
from mild_badger.core.drivetrain.assemble import LEVER_THROWS
from mild_badger.core.errors import DocumentError
from mild_badger.core.findings import Finding, Severity
from mild_badger.core.linkage.lever import fulcrum_for, jam_at, motion_of, range_of
from mild_badger.core.machine.result import body_turns
from mild_badger.core.vehicle.box import LeverBox, LeverPlace, chain_ratio
from mild_badger.core.vehicle.edits import set_fulcrums
from mild_badger.core.vehicle.lever_drive import LeverDrive
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "drop_lever",
    "lever_box_faults",
    "lever_faults",
    "lever_rpm",
    "lever_seen",
    "move_fulcrum",
    "place_gears",
    "reach_of",
    "start_lever",
]

TOGETHER_DEG = 5.0
UNEVEN_DEG = 2.0
LOOKS = 80


def start_lever() -> Edit:
    """Give the vehicle a lever drive beside its box: a yoke and three ratchets on the motor."""
    return Edit.one("Plan a lever drive", ("lever_drive",), LeverDrive())


def drop_lever(vehicle: Vehicle) -> Edit:
    """Take the lever drive away.

    Raises
    ------
    DocumentError
        It is the box itself.
    """
    if isinstance(vehicle.box, LeverBox):
        raise DocumentError(
            "This lever drive is the vehicle's box. Lay out another box on the bench Ratios, page "
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
    if isinstance(vehicle.box, LeverBox) and gear is not None:
        changes += set_fulcrums(vehicle, {gear: at}).changes
    return Edit("Slide the fulcrum", tuple(changes))


def lever_seen(vehicle: Vehicle, gear: str | None) -> LeverDrive | None:
    """Give the lever drive as it stands in a gear; None where there is none."""
    drive, slot = vehicle.stepless, vehicle.box.slot(gear) if gear is not None else None
    if drive is None or not isinstance(slot, LeverPlace):
        return drive
    return drive.model_copy(update={"fulcrum_mm": slot.fulcrum_mm})


def place_gears(vehicle: Vehicle) -> Edit | None:
    """Place the fulcrum for every forward target; None where the stops reach none of them.

    In the spacing fit the common factor is the one that brings all within the stops, in its middle.
    """
    drive = vehicle.stepless
    if drive is None:
        return None
    before = float(chain_ratio(drive.pairs))
    targets = {g.name: g.ratio for g in vehicle.real.gears if not g.reverse}
    found = {}
    for gear, ratio in targets.items():
        mm = fulcrum_for(drive, before / (ratio * _factor(vehicle, drive, targets.values())))
        if mm is not None:
            found[gear] = mm
    if not found:
        return None
    return Edit("Place the fulcrum for the targets", set_fulcrums(vehicle, found).changes)


def _factor(vehicle: Vehicle, drive: LeverDrive, ratios: Iterable[float]) -> float:
    if vehicle.search.fit == "absolute":
        return 1.0
    reach = reach_of(drive)
    if reach is None:
        return 1.0
    wanted, search = list(ratios), vehicle.search
    middle = sqrt(reach[0] / min(wanted) * reach[1] / max(wanted))
    return min(max(middle, search.factor_low), search.factor_high)


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
            Severity.ERROR, "lever-jams", where, "The lever drive jams within its stops",
            f"{why[:1].upper()}{why[1:]}. It runs beyond {jammed[-1][0]:.1f} mm.",
            jammed[-1][0], drive.stop_low_mm, "mm",
        )  # fmt: skip
    here = motion_of(drive)
    if not here.jams and here.mean <= 0:
        yield Finding(
            Severity.ERROR, "no-tooth-gained", where, "The ratchets gain no tooth",
            f"A stroke of {here.stroke_mm:.2f} mm less what the joints lose is shorter than a "
            "tooth. Take finer teeth, a longer throw, or slide the fulcrum in.",
            here.stroke_mm, 6.2832 * drive.wheel_mm / drive.teeth, "mm",
        )  # fmt: skip
    span = drive.span_deg
    phases = sorted(phase % span for phase in drive.phases)
    gaps = [(b - a) % span for a, b in zip(phases, [*phases[1:], phases[0]], strict=True)]
    pairs = [(a, b) for a, b in combinations(phases, 2)
             if min((b - a) % span, (a - b) % span) < TOGETHER_DEG]  # fmt: skip
    even = Edit.one("Space the phases evenly", (*vehicle.stepless_path, "phases_deg"), [])
    if pairs:
        yield Finding(
            Severity.WARNING, "ratchets-together", where, "Two ratchets drive together",
            f"Two of the throws stand at {pairs[0][0]:.0f}° and {pairs[0][1]:.0f}°: one of them is "
            "wasted, and both bear on the wheel at once.",
            abs(pairs[0][1] - pairs[0][0]), span / drive.ratchets, "°", even,
        )  # fmt: skip
    elif drive.ratchets > 1 and max(gaps) - min(gaps) > UNEVEN_DEG:
        yield Finding(
            Severity.NOTE, "uneven-phases", where, "The ratchets are unevenly spaced",
            f"Their throws stand {min(gaps):.0f}° to {max(gaps):.0f}° apart; even ones run "
            "smoother.",
            max(gaps), span / drive.ratchets, "°", even,
        )  # fmt: skip


def lever_box_faults(vehicle: Vehicle) -> Iterator[Finding]:
    """Say which gears a lever box cannot give: reverse, and what lies beyond its stops."""
    box = vehicle.box
    if not isinstance(box, LeverBox):
        return
    for gear in vehicle.real.gears:
        if gear.reverse:
            yield Finding(
                Severity.NOTE, "lever-no-reverse", (gear.name,), "A lever drive has no reverse",
                "Its ratchets turn the output one way whatever the motor does. Put a reversing "
                "gear behind the box, or leave reverse out.",
            )  # fmt: skip
    reach = reach_of(box.drive)
    without = [g.name for g in vehicle.real.gears if not g.reverse and not box.ready(g.name)]
    if reach is not None and without:
        named = ", ".join(without)
        yield Finding(
            Severity.WARNING, "fulcrum-not-placed", tuple(without),
            f"The fulcrum has no place for {named}",
            f"Between its stops it gives {reach[0]:.2f} to {reach[1]:.2f} turns in for one out.",
            mend=place_gears(vehicle),
        )  # fmt: skip

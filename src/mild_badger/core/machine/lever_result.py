"""What is wrong with a lever drive, and its edits."""

from collections.abc import Iterator
from itertools import combinations

from mild_badger.core.changes import Edit
from mild_badger.core.drivetrain.assemble import LEVER_THROWS
from mild_badger.core.findings import Finding, Severity
from mild_badger.core.linkage.lever import jam_at, motion_of
from mild_badger.core.machine.result import body_turns
from mild_badger.core.vehicle.lever_drive import LeverDrive
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["drop_lever", "lever_faults", "lever_rpm", "move_fulcrum", "start_lever"]

TOGETHER_DEG = 5.0
UNEVEN_DEG = 2.0
LOOKS = 80


def start_lever() -> Edit:
    """Give the vehicle a lever drive: a yoke and three ratchets on the motor."""
    return Edit.one("Plan a lever drive", ("lever_drive",), LeverDrive())


def drop_lever() -> Edit:
    """Take the lever drive away."""
    return Edit.one("Take the lever drive away", ("lever_drive",), None)


def move_fulcrum(drive: LeverDrive, mm: float) -> Edit:
    """Slide the fulcrum; it goes no farther than its stops."""
    at = min(max(mm, drive.stop_low_mm), drive.stop_high_mm)
    return Edit.one("Slide the fulcrum", ("lever_drive", "fulcrum_mm"), round(at, 2))


def lever_rpm(vehicle: Vehicle, gear: str | None, motor_rpm: float) -> float | None:
    """Give the throws' speed in turns a minute, signed; None where there are none or they stand."""
    if vehicle.lever_drive is None:
        return None
    turns = body_turns(vehicle, gear, LEVER_THROWS)
    return None if turns is None else float(turns) * motor_rpm


def lever_faults(vehicle: Vehicle) -> Iterator[Finding]:
    """Say where it jams, gains no tooth, and which ratchets are out of step."""
    drive = vehicle.lever_drive
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
    even = Edit.one("Space the phases evenly", ("lever_drive", "phases_deg"), [])
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

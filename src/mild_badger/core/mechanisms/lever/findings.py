"""What may be wrong with the lever drive."""

from collections.abc import Iterator
from itertools import combinations
from math import tau

from mild_badger.core.drivetrain.lever_motion import jam_at, motion_of
from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mechanisms.lever.edits import place_gears
from mild_badger.core.mechanisms.lever.reach import reach_of
from mild_badger.core.vehicle.boxes import LeverBox
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized

__all__ = ["lever_box_findings", "lever_findings"]


TOGETHER_DEG = 5.0


UNEVEN_DEG = 2.0


LOOKS = 80


def lever_findings(vehicle: Vehicle) -> Iterator[Finding]:
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


def lever_box_findings(vehicle: Vehicle) -> Iterator[Finding]:
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

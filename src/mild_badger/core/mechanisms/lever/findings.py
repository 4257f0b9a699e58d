"""What may be wrong with the lever drive."""

from collections.abc import Iterator
from itertools import combinations
from math import ceil, tau

from mild_badger.core.drivetrain.lever_motion import jam_at, motion_of
from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mechanisms.lever.edits import place_gears
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.mechanisms.lever.reach import reach_of
from mild_badger.core.mechanisms.lever.shapes import swing_mm
from mild_badger.core.message import say
from mild_badger.core.vehicle.boxes import LeverBox
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized

__all__ = ["lever_box_findings", "lever_findings"]


REACH = 0.82
"""How far pawls may swing from the middle, to the wheel's radius: the sine of 55° (an estimate)."""
MOST_TEETH = 2000
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
            say("lever.the-lever-drive-jams-within-its-stops"),
            say(
                "lever.the-drive-runs-with-the-fulcrum-beyond",
                why=capitalized(why),
                jammed=in_mm(jammed[-1][0], 1),
            ),
            jammed[-1][0],
            drive.stop_low_mm,
            "mm",
        )
    swing = swing_mm(drive)
    if swing > REACH * drive.wheel_mm:
        yield Finding(
            Severity.WARNING,
            "pawl-leaves-wheel",
            where,
            say("lever.the-pawls-swing-past-their-wheel"),
            say(
                "lever.with-the-fulcrum-at-its-low-stop-the-levers",
                swing=in_mm(swing, 1),
                most=in_mm(REACH * drive.wheel_mm, 1),
            ),
            swing,
            REACH * drive.wheel_mm,
            "mm",
            _larger_wheel(vehicle, drive, swing),
        )
    here = motion_of(drive)
    if not here.jams and here.mean <= 0:
        yield Finding(
            Severity.ERROR,
            "no-tooth-gained",
            where,
            say("lever.the-stroke-is-too-short-to-advance-the"),
            say(
                "lever.a-stroke-of-less-the-play-of-the-joints-is",
                stroke_mm=in_mm(here.stroke_mm, 2),
            ),
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
    even = Edit.one(
        say("lever.space-the-phases-evenly"), (*vehicle.stepless_path, "phases_deg"), []
    )
    if pairs:
        yield Finding(
            Severity.WARNING,
            "ratchets-together",
            where,
            say("lever.two-ratchets-drive-together"),
            say(
                "lever.two-throws-stand-at-and-they-push-at-the",
                pairs=pairs[0][0],
                pairs_2=pairs[0][1],
            ),
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
            say("lever.the-ratchets-are-unevenly-spaced"),
            say(
                "lever.the-throws-stand-to-apart-even-spacing-runs",
                gaps=min(gaps),
                gaps_2=max(gaps),
            ),
            max(gaps),
            span / drive.ratchets,
            "°",
            even,
        )


def _larger_wheel(vehicle: Vehicle, drive: LeverDrive, swing: float) -> Edit:
    """Make the wheel so large that its pawls follow it, its teeth as coarse as they were."""
    wheel = float(ceil(swing / REACH))
    teeth = min(round(drive.teeth * wheel / drive.wheel_mm), MOST_TEETH)
    path = vehicle.stepless_path
    return Edit(
        say("lever.make-the-wheel-larger", wheel=in_mm(wheel), teeth=teeth),
        (Change((*path, "wheel_mm"), wheel), Change((*path, "teeth"), teeth)),
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
                say("lever.a-lever-drive-has-no-reverse"),
                say("lever.ratchets-turn-the-output-in-one-direction"),
            )
    reach = reach_of(box.drive)
    without = [g.id for g in vehicle.real.gears if not g.reverse and not box.ready(g.id)]
    if reach is not None and without:
        named = ", ".join(map(vehicle.gear_name, without))
        yield Finding(
            Severity.WARNING,
            "fulcrum-not-placed",
            tuple(without),
            say("lever.no-fulcrum-position-gives-the-ratio-of-gear", named=named),
            say(
                "lever.between-its-stops-the-lever-gives-to-turns", reach=reach[0], reach_2=reach[1]
            ),
            mend=place_gears(vehicle),
        )

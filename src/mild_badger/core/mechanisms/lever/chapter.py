"""The chapter on the lever drive."""

from mild_badger.core.drivetrain.lever_motion import describe_motion, motion_of, range_of
from mild_badger.core.figures import MM, bare, in_mm
from mild_badger.core.mechanisms.chapter import Chapter, Sentences, Table
from mild_badger.core.message import say
from mild_badger.core.ratios.train import train_text
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import signed

__all__ = ["lever_chapter"]


def lever_chapter(vehicle: Vehicle, gear: str | None) -> Chapter | None:
    """Write the lever drive's figures from stop to stop; None where there is none."""
    drive = vehicle.stepless
    if drive is None:
        return None
    rows = tuple(
        (
            bare(in_mm(mm, 1)),
            signed(motion.arms_mm[1] / mm, ".3f"),
            bare(in_mm(motion.stroke_mm, 2)),
            signed(motion.mean, ".4f"),
            signed(motion.trough, ".4f"),
            signed(motion.peak, ".4f"),
            "jams" if motion.jams else signed(motion.pulsation, ".2f"),
        )
        for mm, motion in range_of(drive)
    )
    columns = (
        (say("lever.fulcrum", mm=MM), 18.0, "right"),
        (say("lever.lever-ratio"), 44.0, "right"),
        (say("lever.stroke", mm=MM), 66.0, "right"),
        ("mean", 88.0, "right"),
        ("least", 108.0, "right"),
        ("most", 128.0, "right"),
        ("pulsation", 150.0, "right"),
    )
    phases = ", ".join(f"{signed(phase, 'g')}°" for phase in drive.phases)
    sizes = say(
        "lever.throw-lever-stops-at-and-ratchet-wheel-with",
        throw_mm=in_mm(drive.throw_mm),
        lever_mm=in_mm(drive.lever_mm),
        stop_low_mm=bare(in_mm(drive.stop_low_mm)),
        stop_high_mm=in_mm(drive.stop_high_mm),
        wheel_mm=in_mm(drive.wheel_mm),
        teeth=drive.teeth,
        phases=phases,
        pairs=train_text(drive.pairs) or "none",
    )
    summary = Sentences(describe_motion(drive, motion_of(drive)))
    return Chapter(say("lever.lever-drive"), (summary, Table(columns, rows), Sentences(sizes)))

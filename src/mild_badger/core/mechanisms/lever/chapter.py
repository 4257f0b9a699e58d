"""The chapter on the lever drive."""

from mild_badger.core.drivetrain.lever_motion import describe_motion, motion_of, range_of
from mild_badger.core.figures import MM, bare, in_mm
from mild_badger.core.mechanisms.chapter import Chapter, Sentences, Table
from mild_badger.core.ratios.train import train_text
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["lever_chapter"]


def lever_chapter(vehicle: Vehicle, gear: str | None) -> Chapter | None:
    """Write the lever drive's figures from stop to stop; None where there is none."""
    drive = vehicle.stepless
    if drive is None:
        return None
    rows = tuple(
        (
            bare(in_mm(mm, 1)),
            f"{motion.arms_mm[1] / mm:.3f}",
            bare(in_mm(motion.stroke_mm, 2)),
            f"{motion.mean:.4f}",
            f"{motion.trough:.4f}",
            f"{motion.peak:.4f}",
            "jams" if motion.jams else f"{motion.pulsation:.2f}",
        )
        for mm, motion in range_of(drive)
    )
    columns = (
        (f"fulcrum {MM}", 18.0, "right"),
        ("lever ratio", 44.0, "right"),
        (f"stroke {MM}", 66.0, "right"),
        ("mean", 88.0, "right"),
        ("least", 108.0, "right"),
        ("most", 128.0, "right"),
        ("pulsation", 150.0, "right"),
    )
    phases = ", ".join(f"{phase:g}°" for phase in drive.phases)
    sizes = (
        f"Throw {in_mm(drive.throw_mm)}, lever {in_mm(drive.lever_mm)}, stops at "
        f"{bare(in_mm(drive.stop_low_mm))} and {in_mm(drive.stop_high_mm)}, ratchet wheel "
        f"{in_mm(drive.wheel_mm)} "
        f"with {drive.teeth} teeth; throws at {phases}; gears from the motor: "
        f"{train_text(drive.pairs) or 'none'}. Mean, least and most are turns of the ratchet "
        "wheel for one turn of the throws."
    )
    summary = Sentences(describe_motion(drive, motion_of(drive)))
    return Chapter("Lever drive", (summary, Table(columns, rows), Sentences(sizes)))

"""What may be wrong with the clutch."""

from collections.abc import Iterator

from mild_badger.core.figures import in_mm, in_n, in_n_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mechanisms.clutch.grip import clutch_figures, holding, lining_limit
from mild_badger.core.mechanisms.clutch.model import Clutch
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import word

__all__ = ["clutch_findings"]


RESERVE = 1.25
"""Capacity over the motor's stall torque that a clutch should keep (common practice, no source)."""


def _mend(clutch: Clutch, torque_n_mm: float) -> Edit | None:
    """Give the clutch that holds a torque within what its lining stands; None for none."""
    held = holding(clutch, torque_n_mm)
    if held is None:
        return None
    same = (held.faces, held.outer_mm) == (clutch.faces, clutch.outer_mm)
    words = (
        say("clutch.set-the-spring-to", spring=in_n(held.spring_n, 1))
        if same
        else say("clutch.take-faces-of", faces=held.faces, outer=in_mm(held.outer_mm))
    )
    return Edit.one(words, ("clutch",), held)


def clutch_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Say where it slips, new or worn, and where the lever runs out of travel."""
    clutch = vehicle.clutch
    if clutch is None:
        return
    figures, stall, where = clutch_figures(clutch), vehicle.motor.shaft_stall_n_mm, ("clutch",)
    wanted = RESERVE * stall
    most = lining_limit(clutch)
    if figures.worn < wanted:
        slips = figures.worn < stall
        yield Finding(
            Severity.ERROR if slips else Severity.WARNING,
            "clutch-slips",
            where,
            say("clutch.the-clutch-slips")
            if slips
            else say("clutch.the-clutch-has-too-little-torque-reserve"),
            say(
                "clutch.torque-capacity-run-in-worn-by-the-motor",
                wear=in_n_mm(figures.wear, 0),
                wear_mm=in_mm(clutch.wear_mm),
                worn=in_n_mm(figures.worn, 0),
                stall=in_n_mm(stall, 0),
                reserve=RESERVE,
            ),
            figures.worn,
            wanted,
            "N·mm",
            _mend(clutch, wanted),
        )
    if most is not None and figures.pressure_n_mm2 > most:
        yield Finding(
            Severity.ERROR,
            "lining-pressed",
            where,
            say("clutch.the-lining-is-pressed-too-hard"),
            say(
                "clutch.pressure-at-the-inner-edge-it-stands",
                pressure=figures.pressure_n_mm2,
                most=most,
                lining=word(clutch.lining)
                if clutch.lining != "own"
                else say("clutch.your-own-lining"),
            ),
            figures.pressure_n_mm2,
            most,
            "N/mm²",
            _mend(clutch, wanted),
        )
    if figures.pedal_left < 0:
        yield Finding(
            Severity.ERROR,
            "clutch-drags",
            where,
            say("clutch.the-clutch-does-not-release"),
            say(
                "clutch.release-needs-of-pedal-travel-the-pedal-has",
                pedal_needed=in_mm(figures.pedal_needed, 1),
                pedal_mm=in_mm(clutch.pedal_mm),
            ),
            figures.pedal_needed,
            clutch.pedal_mm,
            "mm",
        )

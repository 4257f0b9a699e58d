"""What may be wrong with liquid lines."""

from collections.abc import Iterator

from mild_badger.core.figures import in_mm, in_n, in_n_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mechanisms.clutch.grip import clutch_figures
from mild_badger.core.mechanisms.liquid.model import LiquidLine
from mild_badger.core.mechanisms.liquid.needs import grip_torque_n_mm, needed_mm
from mild_badger.core.mechanisms.liquid.pressure import liquid_figures
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["liquid_findings"]


FAST_PRESSURE = 0.4
"""N/mm² beyond which pushed-on tubes may come off syringes (an estimate, no source)."""


def liquid_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Say what runs out of travel, what is too weak, and where pressure asks for care."""
    for line in vehicle.hydraulic_lines:
        yield from _line_findings(vehicle, line)


def _line_findings(vehicle: Vehicle, line: LiquidLine) -> Iterator[Finding]:
    figures, needed, where = liquid_figures(line), needed_mm(vehicle, line), ("liquid", line.id)
    if figures.travel < needed:
        yield Finding(
            Severity.ERROR,
            "line-runs-out",
            where,
            say("liquid.the-pedal-of-line-reaches-its-stop-too-early", name=line.name),
            say(
                "liquid.the-slaves-move-is-needed-which-takes-of",
                travel=in_mm(figures.travel, 2),
                needed=in_mm(needed, 2),
                pedal_at=in_mm(figures.pedal_at(needed), 1),
            ),
            figures.travel,
            needed,
            "mm",
        )
    if line.works == "clutch":
        if vehicle.clutch is None:
            yield Finding(
                Severity.WARNING,
                "line-no-clutch",
                where,
                say("liquid.the-liquid-line-has-no-clutch-to-operate"),
                say("liquid.the-line-is-set-to-operate-the-clutch-but"),
            )
        else:
            wanted, given = clutch_figures(vehicle.clutch).pedal_n, line.slaves * figures.slave_n
            if given < wanted:
                yield Finding(
                    Severity.ERROR,
                    "line-weak",
                    where,
                    say("liquid.the-liquid-line-cannot-release-the-clutch"),
                    say(
                        "liquid.the-slaves-push-the-clutch-lever-needs",
                        given=in_n(given, 1),
                        wanted=in_n(wanted, 1),
                    ),
                    given,
                    wanted,
                    "N",
                )
    elif figures.torque > (grip := grip_torque_n_mm(vehicle, line)):
        yield Finding(
            Severity.NOTE,
            "wheels-lock",
            where,
            say("liquid.the-brakes-lock-the-wheels"),
            say(
                "liquid.brake-torque-the-tyres-grip-up-to",
                torque=in_n_mm(figures.torque, 0),
                grip=in_n_mm(grip, 0),
            ),
            figures.torque,
            grip,
            "N·mm",
        )
    if figures.pressure > FAST_PRESSURE:
        yield Finding(
            Severity.WARNING,
            "line-pressure",
            where,
            say("liquid.the-pressure-is-high-for-syringes"),
            say(
                "liquid.n-mm-may-push-tubes-off-and-squirt-clamp",
                pressure=figures.pressure,
                fast_pressure=FAST_PRESSURE,
            ),
            figures.pressure,
            FAST_PRESSURE,
            "N/mm²",
        )

"""What may be wrong with the display engine."""

from collections.abc import Iterator

from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mechanisms.display.edits import use_order
from mild_badger.core.mechanisms.display.engine import (
    evenest,
    firing,
    piston_mm,
    wrong_throws,
)
from mild_badger.core.mechanisms.display.result import crank_turns
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized

__all__ = ["display_findings"]


RATTLES_RPM = 600.0
"""From so many turns a minute pistons of a display engine rattle (common practice, no source)."""


def display_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Say what cannot be, what is uneven, and which glued throw is wrong."""
    engine = vehicle.display_engine
    if engine is None:
        return
    where = ("display",)
    try:
        piston_mm(engine.throw_mm, engine.rod_mm, 90.0)
    except ValueError as error:
        yield Finding(
            Severity.ERROR,
            "rod-too-short",
            where,
            say("display.the-display-engines-rods-are-too-short"),
            f"{capitalized(str(error))}.",
            engine.rod_mm,
            engine.throw_mm,
            "mm",
        )
    fires, best = firing(engine), evenest(engine)
    if not fires.possible or not fires.even:
        mend = use_order(engine, best.order) if best.even else None
        yield Finding(
            Severity.ERROR if not fires.possible else Severity.NOTE,
            "firing-order" if not fires.possible else "uneven-firing",
            where,
            say("display.the-firing-order-cannot-be")
            if not fires.possible
            else say("display.the-display-engine-is-uneven"),
            fires.summary,
            max(fires.intervals_deg),
            720.0 / engine.cylinders,
            "°",
            mend,
        )
    for wrong in wrong_throws(engine):
        yield Finding(
            Severity.WARNING,
            "wrong-throw",
            where,
            say("display.throw-is-glued-at-a-wrong-angle", cylinder=wrong.cylinder),
            wrong.words,
            wrong.off_deg,
            0.0,
            "°",
        )
    turns = crank_turns(vehicle, None) if engine.drive == "motor" else None
    if turns is not None and abs(float(turns)) * vehicle.motor.working_rpm > RATTLES_RPM:
        rpm = abs(float(turns)) * vehicle.motor.working_rpm
        yield Finding(
            Severity.NOTE,
            "crank-fast",
            where,
            say("display.the-display-engine-runs-fast"),
            say(
                "display.the-crank-turns-at-rpm-from-rpm-pistons", rpm=rpm, rattles_rpm=RATTLES_RPM
            ),
            rpm,
            RATTLES_RPM,
            "rpm",
        )

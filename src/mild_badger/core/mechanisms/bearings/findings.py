"""What may be wrong with bearings."""

from collections.abc import Iterator

from mild_badger.core.figures import in_n
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.ids import OutputId
from mild_badger.core.mechanisms.bearings.edits import apply_bearing
from mild_badger.core.mechanisms.bearings.loads import (
    BEARING_KINDS,
)
from mild_badger.core.mechanisms.bearings.rows import bearing_rows
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import word

__all__ = ["bearing_findings"]


def bearing_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Say which planned bearing does not serve, and which kind would."""
    if vehicle.crane is None:
        return  # only those of outputs are planned
    told: set[OutputId] = set()
    for row in bearing_rows(vehicle):
        if row.planned is None or row.output is None or row.output in told:
            continue
        judged = row.of(row.planned)
        if judged.serves:
            continue
        told.add(row.output)
        rows = [r for r in bearing_rows(vehicle) if r.output == row.output]
        serves = next((k for k in BEARING_KINDS if all(r.of(k).serves for r in rows)), None)
        yield Finding(
            Severity.WARNING,
            "bearing",
            ("crane", row.output),
            say(
                "bearings.a-bearing-in-does-not-serve",
                planned=word(row.planned),
                carries=row.carries,
            ),
            say(
                "bearings.its-bears",
                place=row.load.place,
                load_n=in_n(row.load.load_n, 1),
                why=judged.why,
            )
            + (
                say("bearings.take", serves=word(serves))
                if serves
                else say("bearings.no-kind-does-take-thicker-shafts-or-less")
            ),
            row.load.load_n,
            None,
            "N",
            apply_bearing(vehicle, row, serves) if serves else None,
        )

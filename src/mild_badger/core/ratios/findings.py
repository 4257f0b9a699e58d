"""What is wrong with the drive row, the tie and the final drive."""

from collections.abc import Iterator

from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mesh.seats import seats_well
from mild_badger.core.message import say
from mild_badger.core.ratios.final_drive import (
    final_drive_offer,
    overall_final_ratio,
    wanted_final_drive,
)
from mild_badger.core.ratios.train import mesh_links
from mild_badger.core.targets.speeds import (
    deviation_percent,
    signed_error_percent,
)
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["final_drive_findings", "row_findings"]


ROW_NAMES = {"tie_teeth": "tie", "rail_teeth": say("ratios.drive-row")}


def row_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Say where the equal gears of drive row and tie do not sit, or stand apart."""
    rows = vehicle.box.rows(vehicle.box.columns)[::-1]
    for row in rows:
        name, field, teeth = ROW_NAMES[row.field], row.field, row.teeth
        if seats_well(vehicle.kit, teeth, teeth):
            continue
        fitting = [z for z in vehicle.kit.sizes if seats_well(vehicle.kit, z, z)]
        nearest = min(fitting, key=lambda z: abs(z - teeth), default=None)
        yield Finding(
            Severity.ERROR,
            "row-does-not-seat",
            ("box",),
            say("ratios.the-gears-cannot-mesh-on-the-grid", name=name),
            say("ratios.no-whole-unit-distance-lets-two-tooth-gears", teeth=teeth, name=name),
            mend=Edit.one(
                say("ratios.use-teeth-for-the", nearest=nearest, name=name), ("box", field), nearest
            )
            if nearest
            else None,
        )
    teeth_of = {row.field: row.teeth for row in rows}
    tie, drive = teeth_of.get("tie_teeth"), teeth_of.get("rail_teeth")
    if tie and drive and tie != drive:
        yield Finding(
            Severity.WARNING,
            "rail-and-tie-differ",
            ("box",),
            say("ratios.drive-row-and-tie-need-different-column"),
            say("ratios.the-drive-row-has-gears-of-teeth-the-tie-of", drive=drive, tie=tie),
            mend=Edit.one(
                say("ratios.use-teeth-in-the-drive-row-too", tie=tie),
                ("box", "rail_teeth"),
                tie,
            ),
        )


def final_drive_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Hold the final drive against the ratio that is wanted, and its gears against the kit."""
    wanted = wanted_final_drive(vehicle)
    got = float(overall_final_ratio(vehicle))
    error = signed_error_percent(got, wanted)
    limit = vehicle.search.tolerance_percent
    if deviation_percent(error) > limit + 1e-9:
        offer = final_drive_offer(vehicle)
        better = offer is not None and abs(offer.error_percent) < abs(error) - 1e-9
        yield Finding(
            Severity.WARNING,
            "final-drive-error",
            ("final drive",),
            say(
                "ratios.final-drive-ratio-is-too",
                error=abs(error),
                word=say("ratios.high") if error > 0 else say("ratios.low"),
            ),
            say(
                "ratios.against-turns-in-for-one-out-the-limit-is",
                got=got,
                wanted=wanted,
                limit=limit,
            ),
            figure=error,
            limit=limit,
            unit="%",
            mend=Edit(
                say("ratios.use", ratio=float(offer.ratio), error_percent=offer.error_percent),
                offer.edit().changes,
            )
            if better and offer
            else None,
        )
    strange = sorted(
        {
            z
            for link in mesh_links(vehicle.final_drive.pairs)
            for z in link
            if not vehicle.kit.size(z)
        }
    )
    if strange:
        yield Finding(
            Severity.ERROR,
            "not-in-kit",
            ("final drive",),
            say("ratios.final-drive-needs-a-gear-that-is-not-in-the"),
            say(
                "ratios.there-is-no-gear-of-teeth-in",
                listed=", ".join(map(str, strange)),
                name=vehicle.kit.name,
            ),
            mend=_other_final_drive(vehicle),
        )
    apart = [
        link for link in mesh_links(vehicle.final_drive.pairs) if not seats_well(vehicle.kit, *link)
    ]
    if apart and not strange:
        text = ", ".join(say("ratios.with", a=a, b=b) for a, b in apart)
        yield Finding(
            Severity.ERROR,
            "no-seat",
            ("final drive",),
            say("ratios.final-drive-do-not-mesh-on-the-grid", text=text),
            say("ratios.no-whole-unit-offset-brings-into-mesh-join", text=text),
            mend=_other_final_drive(vehicle),
        )


def _other_final_drive(vehicle: Vehicle) -> Edit | None:
    offer = final_drive_offer(vehicle)
    if offer is None:
        return None
    words = say(
        "ratios.take-from-this-kit", ratio=float(offer.ratio), error_percent=offer.error_percent
    )
    return Edit(words, offer.edit().changes)

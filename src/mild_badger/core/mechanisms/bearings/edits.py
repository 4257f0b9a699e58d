"""Edits of bearings."""

from mild_badger.core.mechanisms.bearings.rows import BearingRow
from mild_badger.core.mechanisms.crane.model import BearingKind
from mild_badger.core.mechanisms.crane.outputs import output_index
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["apply_bearing"]


def apply_bearing(vehicle: Vehicle, row: BearingRow, kind: BearingKind) -> Edit | None:
    """Carry an output's shaft in bearings of a kind; None where the document holds no choice."""
    if vehicle.crane is None or row.output is None:
        return None
    at = output_index(vehicle.crane, row.output)
    return Edit.one(
        say("bearings.carry-in", carries=row.carries, kind=kind),
        ("crane", "outputs", at, "carried", "bearing"),
        kind,
    )

"""Template of a clutch: the rings of its lining."""

from collections.abc import Iterator

from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.templates.bars import sheet_for
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["clutch_templates"]


def clutch_templates(vehicle: Vehicle) -> Iterator[Template]:
    """List a ring of lining for each friction face."""
    clutch = vehicle.clutch
    if clutch is not None:
        thick = max(clutch.wear_mm, 0.5)
        yield Template("clutch lining", "ring of clutch lining", clutch.faces, thick, _lining)


def _lining(vehicle: Vehicle) -> Drawing:
    """Draw a ring of clutch lining; it is glued to every other face."""
    clutch = vehicle.clutch
    if clutch is None:
        raise InputError("This vehicle has no clutch; plan one on the tab Machine.")
    sheet, (cx, foot) = sheet_for(
        "Lining of the clutch",
        [
            f"{clutch.lining}, {in_mm(clutch.outer_mm)} outside, {in_mm(clutch.inner_mm)} inside",
            f"make {clutch.faces}",
        ],
        clutch.outer_mm,
        clutch.outer_mm,
    )
    for diameter in (clutch.outer_mm, clutch.inner_mm):
        sheet.circle("cut", (cx, foot + clutch.outer_mm / 2), diameter / 2)
    return sheet

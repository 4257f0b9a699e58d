"""Template of a clutch: the rings of its lining."""

from collections.abc import Iterator

from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.mechanisms.clutch.model import lining_mm
from mild_badger.core.message import say
from mild_badger.core.templates.bars import sheet_for
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["clutch_templates"]


def clutch_templates(vehicle: Vehicle) -> Iterator[Template]:
    """List a ring of lining for each friction face."""
    clutch = vehicle.clutch
    if clutch is not None:
        thick = lining_mm(clutch)
        yield Template(
            "clutch lining", say("clutch.ring-of-clutch-lining"), clutch.faces, thick, _lining
        )


def _lining(vehicle: Vehicle) -> Drawing:
    """Draw a ring of clutch lining; it is glued to every other face."""
    clutch = vehicle.clutch
    if clutch is None:
        raise InputError(say("clutch.this-vehicle-has-no-clutch-plan-one-on-the"))
    sheet, (cx, foot) = sheet_for(
        say("clutch.lining-of-the-clutch"),
        [
            say(
                "clutch.outside-inside",
                lining=clutch.lining,
                outer_mm=in_mm(clutch.outer_mm),
                inner_mm=in_mm(clutch.inner_mm),
            ),
            say("clutch.make", faces=clutch.faces),
        ],
        clutch.outer_mm,
        clutch.outer_mm,
    )
    for diameter in (clutch.outer_mm, clutch.inner_mm):
        sheet.circle("cut", (cx, foot + clutch.outer_mm / 2), diameter / 2)
    return sheet

"""A liquid line from a pedal to brakes or to the clutch, as the document holds it. Lengths mm."""

from typing import Annotated, Literal

from pydantic import Field

from mild_badger.core.ids import Held, LineId
from mild_badger.core.vehicle.base import Identified, Length, ShortName

__all__ = ["MAX_LINES", "LiquidLine"]

MAX_LINES = 4


class LiquidLine(Identified):
    """One master, so many slaves alike on it.

    ``master_mm`` and ``slave_mm`` are bores. A hand or servo presses with ``hand_n`` on a lever of
    ``pedal_ratio`` that has ``pedal_mm`` of travel at the hand. ``lost_mm3`` goes into air and into
    what the tubes swell. At a brake each slave closes ``gap_mm``, a ``floating`` caliper both gaps;
    it bites at ``radius_mm`` with ``pad_mu``, and the braked wheels bear ``weight_share``.
    """

    id: Held[LineId] = LineId("")
    name: ShortName = "brakes"
    works: Literal["brake", "clutch"] = "brake"
    master_mm: Length = 10.0
    slave_mm: Length = 10.0
    slaves: Annotated[int, Field(ge=1, le=8)] = 2
    floating: bool = True
    hand_n: Annotated[float, Field(gt=0, le=1000)] = 5.0
    pedal_ratio: Annotated[float, Field(gt=0, le=50)] = 2.0
    pedal_mm: Length = 24.0
    lost_mm3: Annotated[float, Field(ge=0, le=100_000)] = 60.0
    gap_mm: Annotated[float, Field(ge=0, le=50)] = 0.8
    radius_mm: Length = 12.0
    pad_mu: Annotated[float, Field(gt=0, le=2)] = 0.35
    weight_share: Annotated[float, Field(gt=0, le=1)] = 0.5

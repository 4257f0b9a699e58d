"""How far cables pull along the stroke, and how far they differ."""

from dataclasses import dataclass

from mild_badger.core.mechanisms.cables.model import Cables
from mild_badger.core.mechanisms.cables.travel import HoleChoice, choices, run_figures
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["PARTS", "StrokeRow", "apart_percent", "hole_rows", "shares_of_way", "stroke_rows"]


PARTS = 10


@dataclass(frozen=True)
class StrokeRow:
    """The hand at a share of its stroke: every end's travel, the motor's speed if one sets it."""

    share: float
    travels: tuple[float, ...]
    motor_rpm: float | None


def hole_rows(cables: Cables, number: int) -> tuple[tuple[HoleChoice, str], ...]:
    """List the best holes of one cable with their words."""
    return tuple(
        (
            choice,
            ", ".join(
                [
                    say("cables.hand", from_hole=choice.from_hole),
                    *(
                        say("cables.lever", n=n, a=a, b=b)
                        for n, (a, b) in enumerate(choice.levers, start=1)
                    ),
                ]
            ),
        )
        for choice in choices(cables, cables.runs[number], 24)
    )


def stroke_rows(vehicle: Vehicle) -> tuple[StrokeRow, ...]:
    """Follow all cables over the hand's stroke."""
    cables = vehicle.cables
    if cables is None:
        return ()
    rows = []
    for n in range(PARTS + 1):
        share = n / PARTS
        ends = tuple(run_figures(cables, r, share).travel for r in cables.runs)
        speeds = [
            min(mm / run.wanted_mm, 1.0)
            for mm, run in zip(ends, cables.runs, strict=True)
            if run.works == "motor speed"
        ]
        rpm = vehicle.motor.working_rpm * speeds[0] if speeds else None
        rows.append(StrokeRow(share, ends, rpm))
    return tuple(rows)


def apart_percent(one: tuple[float, ...], other: tuple[float, ...]) -> float:
    """Give how far two shares of the way differ at the worst place of the stroke."""
    return 100 * max(abs(a - b) for a, b in zip(one, other, strict=True))


def shares_of_way(vehicle: Vehicle, cables: Cables) -> list[tuple[float, ...]]:
    """Give how far each cable is of its way, 0 to 1, at every step of the stroke."""
    rows = stroke_rows(vehicle)
    return [
        tuple(row.travels[n] / run.wanted_mm for row in rows) for n, run in enumerate(cables.runs)
    ]

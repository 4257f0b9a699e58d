"""The played run in space: where the shifter stands at an instant, and how fast the output turns.

Lever and catch go where their finger is, a drum turns by its own tracks; sleeves stand as they do
in the run.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from mild_badger.core.driveline.assemble import box_output
from mild_badger.core.layout.turning import shaft_turns
from mild_badger.core.scene.motion import Shift, sleeved_by_drum
from mild_badger.core.shift.drum import drum_layout
from mild_badger.core.shift.sequence import PlayedRun, ShiftFrame, hand_rows
from mild_badger.core.structure.lever_place import LeverPlace
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import rail_of

__all__ = ["OutputSpan", "output_spans", "shift_at"]

STILL_MM = 1e-6


@dataclass(frozen=True)
class OutputSpan:
    """For how long the output turns at a speed, s and rpm; ``gears`` are those that are in."""

    from_s: float
    to_s: float
    gears: tuple[str, ...]
    rpm: float | None


def shift_at(vehicle: Vehicle, frame: ShiftFrame, levers: Sequence[LeverPlace]) -> Shift:
    """Say where sleeves, lever, catch or drum stand at an instant of a run."""
    most = vehicle.lever.fork_travel_mm
    travel = {s: by * most for s, by in frame.sleeves.items() if abs(by * most) > STILL_MM}
    if sleeved_by_drum(vehicle):
        angle = frame.hands["drum"][0]
        return Shift(travel, {}, angle, drum_layout(vehicle).tracks)
    rows = hand_rows(vehicle)
    tips: dict[str, float] = {}
    for place in levers:
        at = {arm.fork.column: arm.x_mm for arm in place.arms}
        kind = rail_of(place.arms[0].fork.column)
        row = [at[sleeve] for sleeve in rows.get(kind, ()) if sleeve in at]
        where = frame.hands.get(kind, (0.0, 0.0))[0]
        low = min(int(where), len(row) - 1)
        high = min(low + 1, len(row) - 1)
        tips[place.rail] = row[low] + (row[high] - row[low]) * (where - low)
    return Shift(travel, tips)


def output_spans(vehicle: Vehicle, played: PlayedRun, motor_rpm: float) -> tuple[OutputSpan, ...]:
    """List how fast the box's output turns over a run, signed as the drivetrain counts.

    None where nothing is in: it coasts, and nothing says how fast. Where two gears are in at once
    one-way dogs let the faster drive; plain ones lock, which is a finding of its own.
    """
    spans = played.spans()
    ends = sorted({0.0, played.seconds, *(t for s in spans for t in (s.from_s, s.to_s))})
    speeds: dict[str, float] = {}
    for gear in {span.gear for span in spans}:
        turns = shaft_turns(vehicle, gear).get(box_output(vehicle))
        if turns is not None:
            speeds[gear] = float(turns) * motor_rpm * vehicle.motor.turns
    made = []
    for start, end in pairwise(ends):
        middle = (start + end) / 2
        gears = tuple(s.gear for s in spans if s.from_s < middle < s.to_s)
        known = [speeds[gear] for gear in gears if gear in speeds]
        rpm = max(known, key=abs) if known else None
        made.append(OutputSpan(start, end, gears, rpm))
    return tuple(made)

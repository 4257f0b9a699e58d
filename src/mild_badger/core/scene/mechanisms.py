"""What mechanisms move besides turning: pistons with their rods, nuts on screws, racks.

Screws are taken to be right-handed. Nuts and racks begin at the middle of their travel and stand
at its ends.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import pi

from mild_badger.core.components.component import Component
from mild_badger.core.components.mechanism_parts import cylinder_pose
from mild_badger.core.driveline.assemble import CRANK
from mild_badger.core.driveline.crane import crane_key, crane_shaft
from mild_badger.core.mechanisms.crane.model import Rack, Screw
from mild_badger.core.mechanisms.display.model import DisplayEngine
from mild_badger.core.scene.mesh import Floats
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["MechanismMotion", "mechanism_motion"]


@dataclass(frozen=True)
class _Slide:
    """What a shaft's turning moves: mm for a turn anticlockwise, as far as its travel goes.

    ``along`` says whether it goes along the box, else to the right; ``row`` is the shaft's.
    """

    row: int
    mm_a_turn: float
    travel_mm: float
    along: bool


@dataclass(frozen=True, eq=False)
class MechanismMotion:
    """How parts go along with what turns: slides and cylinders by their rows among all parts."""

    slides: Mapping[int, _Slide]
    cylinders: Mapping[int, int]
    engine: DisplayEngine | None
    crank: int

    def shown(self, parts: Sequence[Component], angles: Floats) -> tuple[Component, ...]:
        """Pose what slides, for the angles by which all parts have turned, rad."""
        made = list(parts)
        for number, slide in self.slides.items():
            half = slide.travel_mm / 2
            gone = slide.mm_a_turn * float(angles[slide.row]) / (2 * pi)
            gone = min(max(gone, -half), half)
            part = made[number]
            made[number] = (
                replace(part, along_mm=part.along_mm + gone)
                if slide.along
                else replace(part, x_mm=part.x_mm + gone)
            )
        if self.engine is not None:
            for number, cylinder in self.cylinders.items():
                now, drawn = (
                    cylinder_pose(self.engine, cylinder, turned)
                    for turned in (float(angles[self.crank]), 0.0)
                )
                part, rod = made[number], made[number].kind == "rod"
                one, other = (now.pin, drawn.pin) if rod else (now.piston, drawn.piston)
                made[number] = replace(
                    part,
                    x_mm=part.x_mm + one[0] - other[0],
                    y_mm=part.y_mm + one[1] - other[1],
                    turn_rad=part.turn_rad + (now.rod_rad - drawn.rod_rad if rod else 0.0),
                )
        return tuple(made)

    def reach(self, turns: Floats) -> tuple[float, float] | None:
        """Give between which turns of the motor all that slides is within its travel.

        Parameters
        ----------
        turns
            By how much each part turns for one of the motor, rad.

        Returns
        -------
        tuple or None
            The least and the greatest turn; None where nothing slides.
        """
        shares = [
            slide.travel_mm / 2 / abs(gone)
            for slide in self.slides.values()
            if (gone := slide.mm_a_turn * float(turns[slide.row]) / (2 * pi))
        ]
        return (-min(shares), min(shares)) if shares else None


def mechanism_motion(vehicle: Vehicle, parts: Sequence[Component]) -> MechanismMotion | None:
    """Say what mechanisms move; None where none of the parts slides."""
    rows = {part.id: number for number, part in enumerate(parts) if not part.box}
    turning: dict[str, int] = {}
    for number, part in enumerate(parts):
        for body in part.bodies if not part.box else ():
            turning.setdefault(body, number)
    slides: dict[int, _Slide] = {}
    for output in vehicle.crane.outputs if vehicle.crane is not None else ():
        key, shaft = crane_key(output.id), turning.get(crane_shaft(output.id))
        if shaft is None:
            continue
        match output.end:
            case Screw() as screw:
                moved = [n for name, n in rows.items() if name.startswith(f"{key}/nut")]
                slide = _Slide(shaft, screw.lead_mm, screw.travel_mm, along=True)
            case Rack() as rack:
                moved = [n for name, n in rows.items() if name == f"{key}/rack"]
                round_mm = pi * vehicle.kit.module_mm * rack.pinion
                slide = _Slide(shaft, round_mm, rack.travel_mm, along=False)
            case _:
                continue
        slides |= dict.fromkeys(moved, slide)
    cylinders: dict[int, int] = {}
    engine, crank = vehicle.display_engine, turning.get(CRANK)
    if engine is not None and crank is not None:
        for name, number in rows.items():
            what, _, cylinder = name.partition(" of cylinder ")
            if what in ("rod", "piston"):
                cylinders[number] = int(cylinder)
    if not slides and not cylinders:
        return None
    return MechanismMotion(slides, cylinders, engine, crank if crank is not None else 0)

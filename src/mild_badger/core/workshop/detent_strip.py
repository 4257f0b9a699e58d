"""A test strip of graded detent notches: try them with the real spring, keep the best one."""

from dataclasses import dataclass
from math import radians, tan

from mild_badger.core.figures import in_mm, in_n
from mild_badger.core.message import say
from mild_badger.core.shift.gate import DetentForce, detent_force
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.vehicle.shifting import Lever
from mild_badger.core.workshop.solid import extruded_stl

__all__ = ["Notch", "detent_strip", "detent_strip_stl", "graded_notches"]

FLANKS_DEG = (25.0, 30.0, 35.0, 40.0, 45.0, 50.0, 55.0, 60.0, 65.0)
"""From a notch that hardly holds to one that sits firmly (common practice, no source)."""
HEIGHT_MM, REST_MM = 14.0, 4.0
THICKNESS_MM = 4.0


@dataclass(frozen=True)
class Notch:
    """One of the strip's notches; ``number`` counts from 1 along it."""

    number: int
    flank_deg: float
    width_mm: float
    force: DetentForce

    @property
    def summary(self) -> str:
        """Say what it should feel like."""
        if self.force.knob_n is None:
            return say("workshop.locks-itself", number=self.number, flank_deg=self.flank_deg)
        return say(
            "workshop.at-the-knob",
            number=self.number,
            flank_deg=self.flank_deg,
            knob_n=in_n(self.force.knob_n, 1),
            feel=self.force.feel,
        )


def graded_notches(lever: Lever) -> tuple[Notch, ...]:
    """List notches of the lever's depth with flanks from gentle to steep."""
    return tuple(
        Notch(
            number,
            flank,
            2 * lever.detent_depth_mm / tan(radians(flank)),
            detent_force(_with_flank(lever, flank)),
        )
        for number, flank in enumerate(FLANKS_DEG, start=1)
    )


def _with_flank(lever: Lever, flank_deg: float) -> Lever:
    """Give the same lever other flanks."""
    return lever.model_copy(update={"detent_flank_deg": flank_deg})


def detent_strip(lever: Lever) -> Drawing:
    """Draw the strip's side view, notches in its upper edge, to cut or to print as thick as a rail.

    Between two notches the edge stays flat for a fork's travel or the notch's width, whichever is
    more, so that each is felt alone.
    """
    notches = graded_notches(lever)
    margin = 6.0
    room = [max(notch.width_mm, lever.fork_travel_mm) + REST_MM for notch in notches]
    length = sum(room) + REST_MM
    sheet = Drawing(say("workshop.detent-test-strip"), length + 2 * margin, HEIGHT_MM + 5 * margin)
    low, top = 2 * margin, 2 * margin + HEIGHT_MM
    upper = [(margin, top)]
    here = margin + REST_MM / 2
    for notch, width in zip(notches, room, strict=True):
        middle = here + width / 2
        half = notch.width_mm / 2
        upper += [
            (middle - half, top),
            (middle, top - lever.detent_depth_mm),
            (middle + half, top),
        ]
        sheet.words("engrave", (middle - 1.0, low + 6.5), str(notch.number))
        sheet.words("engrave", (middle - 2.5, low + 2.0), f"{notch.flank_deg:.0f}°", height_mm=2.5)
        here += width
    upper.append((margin + length, top))
    sheet.outline("cut", [(margin, low), (margin + length, low), *reversed(upper)])
    sheet.words(
        "mark",
        (margin, top + 5.0),
        say(
            "workshop.detent-test-strip-notches-deep-flanks",
            detent_depth_mm=in_mm(lever.detent_depth_mm),
            detent_spring_n=in_n(lever.detent_spring_n),
        ),
        height_mm=2.5,
    )
    sheet.line("mark", (margin, low - 4.0), (margin + 50.0, low - 4.0))
    sheet.words("mark", (margin, low - 8.0), say("workshop.50-mm-to-check"), height_mm=2.5)
    return sheet


def detent_strip_stl(lever: Lever) -> bytes:
    """Give the strip as a solid to print, 4 mm thick, notches up when it stands on its edge."""
    outline = next(s.points for s in detent_strip(lever).strokes if s.layer == "cut")
    return extruded_stl(outline, THICKNESS_MM)

"""Dog clutch rings: a star on the free gear's face, and the cup of the sleeve that drops over it.

Both are flat rings to cut out. The star has teeth outwards, the cup as many inwards that fill its
gaps but for the play, which is the turn between both drives; radial flanks carry in both senses.
"""

from math import cos, degrees, pi, radians, sin

from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.layout.stack import SLEEVE_RADIUS_MM
from mild_badger.core.message import say
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["cup_outlines", "dog_cup", "dog_radii", "dog_star", "star_outline"]

WALL_MM = 1.5
"""Least material round a bore, and of the cup outside its gaps (an estimate, no source)."""
LEAST_DOG_MM = 1.0
CLEAR_MM = 0.25
"""Radial room between star and cup (an estimate, no source)."""
MARGIN_MM, ARC_RAD = 6.0, radians(3)
Point = tuple[float, float]


def dog_radii(vehicle: Vehicle) -> tuple[float, float, float, float]:
    """Give bore, root, tip of the star and the cup's outer radius in mm.

    Raises
    ------
    InputError
        Shaft and sleeve leave no room for dogs.
    """
    bore = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, "running") / 2
    root, tip = bore + WALL_MM, SLEEVE_RADIUS_MM - WALL_MM
    if tip - root < LEAST_DOG_MM:
        raise InputError(
            say(
                "workshop.dog-rings-a-shaft-of-in-a-sleeve-of-leaves",
                shaft_diameter_mm=in_mm(vehicle.kit.shaft_diameter_mm),
                sleeve_radius_mm=in_mm(2 * SLEEVE_RADIUS_MM),
                tip=in_mm(max(tip - root, 0), 1),
                least_dog_mm=in_mm(LEAST_DOG_MM),
            )
        )
    return bore, root, tip, SLEEVE_RADIUS_MM


def _arc(radius: float, start: float, end: float) -> list[Point]:
    steps = max(int(abs(end - start) / ARC_RAD), 1)
    turns = (start + (end - start) * n / steps for n in range(steps + 1))
    return [(radius * cos(t), radius * sin(t)) for t in turns]


def star_outline(vehicle: Vehicle) -> tuple[Point, ...]:
    """Outline the star about its middle, a dog at angle zero: dogs and gaps are alike wide.

    Half of the play is taken off each dog.
    """
    _, root, tip, _ = dog_radii(vehicle)
    half, step = _half_angle(vehicle), 2 * pi / vehicle.making.dog_count
    points: list[Point] = []
    for number in range(vehicle.making.dog_count):
        middle = number * step
        points += _arc(tip, middle - half, middle + half)
        points += _arc(root, middle + half, middle + step - half)
    return tuple(points)


def cup_outlines(vehicle: Vehicle) -> tuple[tuple[Point, ...], tuple[Point, ...]]:
    """Outline the cup: its outer circle, and inside it gaps that take the star's dogs."""
    _, root, tip, outer = dog_radii(vehicle)
    half, step = _half_angle(vehicle), 2 * pi / vehicle.making.dog_count
    points: list[Point] = []
    for number in range(vehicle.making.dog_count):
        middle = (number + 0.5) * step
        points += _arc(root + CLEAR_MM, middle - half, middle + half)
        points += _arc(tip + CLEAR_MM, middle + half, middle + step - half)
    return tuple(_arc(outer, 0.0, 2 * pi)[:-1]), tuple(points)


def _half_angle(vehicle: Vehicle) -> float:
    """Half a dog's angle: a quarter of the pitch, less a quarter of the play on each flank.

    Raises
    ------
    InputError
        The play leaves no dog.
    """
    pitch = 2 * pi / vehicle.making.dog_count
    half = pitch / 4 - radians(vehicle.making.dog_play_deg) / 4
    if half < pitch / 20:
        most = degrees(pitch / 4 - pitch / 20) * 4
        raise InputError(
            say(
                "workshop.dog-rings-of-play-leave-nothing-of-dogs-at",
                dog_play_deg=vehicle.making.dog_play_deg,
                dog_count=vehicle.making.dog_count,
                most=most,
            )
        )
    return half


def _sheet(title: str, radius: float, words: list[str]) -> tuple[Drawing, Point]:
    foot = MARGIN_MM + 4.0 * (len(words) + 1)
    sheet = Drawing(title, max(2 * radius, 70.0) + 2 * MARGIN_MM, 2 * radius + foot + MARGIN_MM)
    for number, line in enumerate((title, *words)):
        sheet.words("mark", (MARGIN_MM, foot - 4.0 * (number + 1)), line, height_mm=2.6)
    return sheet, (sheet.width_mm / 2, foot + radius)


def dog_star(vehicle: Vehicle) -> Drawing:
    """Draw the ring that is glued on a free gear's face."""
    bore, _, tip, _ = dog_radii(vehicle)
    making = vehicle.making
    sheet, centre = _sheet(
        say("workshop.dog-ring-of-a-free-gear"),
        tip,
        [
            say(
                "workshop.dogs-thick-bore-running",
                dog_count=making.dog_count,
                dog_mm=in_mm(making.dog_mm),
                bore=in_mm(2 * bore, 2),
            ),
            say("workshop.glue-it-square-on-the-gears-face-bores-in"),
        ],
    )
    sheet.outline("cut", [(x + centre[0], y + centre[1]) for x, y in star_outline(vehicle)])
    sheet.circle("cut", centre, bore)
    return sheet


def dog_cup(vehicle: Vehicle) -> Drawing:
    """Draw the ring on a sleeve's face that drops over the star."""
    _, _, _, outer = dog_radii(vehicle)
    making = vehicle.making
    sheet, centre = _sheet(
        say("workshop.dog-ring-of-a-sleeve"),
        outer,
        [
            say(
                "workshop.gaps-thick-of-play",
                dog_count=making.dog_count,
                dog_mm=in_mm(making.dog_mm),
                dog_play_deg=making.dog_play_deg,
            ),
            say("workshop.one-on-each-face-of-the-sleeve-that-has-a"),
        ],
    )
    round_, inside = cup_outlines(vehicle)
    for outline in (round_, inside):
        sheet.outline("cut", [(x + centre[0], y + centre[1]) for x, y in outline])
    return sheet

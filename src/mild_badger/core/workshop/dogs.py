"""Dog clutch rings: a star on the free gear's face, and the cup of the sleeve that drops over it.

Both are flat rings to cut out. The star has teeth outwards, the cup as many inwards that fill its
gaps but for the play, which is the turn between both drives; radial flanks carry in both senses.
"""

from mild_badger.core.components.dogs import cup_outlines, dog_radii, star_outline
from mild_badger.core.figures import in_mm
from mild_badger.core.kit.part_sizes import sleeve_form
from mild_badger.core.message import say
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["dog_cup", "dog_jig", "dog_star", "input_hub"]

MARGIN_MM = 6.0
Point = tuple[float, float]


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


def dog_jig(vehicle: Vehicle) -> Drawing:
    """Draw the star over which both cups of a sleeve are slid while their glue sets, in phase."""
    bore, _, tip, _ = dog_radii(vehicle)
    title = say("workshop.jig-for-a-sleeves-dogs")
    sheet, centre = _sheet(title, tip, [say("workshop.slide-both-cups-over-the-jig")])
    sheet.outline("cut", [(x + centre[0], y + centre[1]) for x, y in star_outline(vehicle)])
    sheet.circle("cut", centre, bore)
    return sheet


def input_hub(vehicle: Vehicle) -> Drawing:
    """Draw the hub on the input's end that a direct gear's sleeve couples, to be turned or cut."""
    bore, _, _, outer = dog_radii(vehicle)
    sheet, centre = _sheet(
        say("workshop.hub-with-dogs-on-the-inputs-end"),
        outer,
        [say("workshop.fix-the-inputs-end-in-one-half-the-outputs")],
    )
    sheet.circle("cut", centre, outer)
    sheet.circle("cut", centre, bore)
    return sheet


def dog_cup(vehicle: Vehicle) -> Drawing:
    """Draw the ring on a sleeve's face that drops over the star."""
    _, _, _, outer = dog_radii(vehicle)
    making, sleeve = vehicle.making, sleeve_form(vehicle)
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
            say(
                "workshop.two-make-a-sleeve-with-a-groove",
                wide=in_mm(sleeve.groove_mm, 2),
                across=in_mm(2 * sleeve.groove_radius_mm, 2),
                long=in_mm(sleeve.length_mm, 2),
            ),
        ],
    )
    round_, inside = cup_outlines(vehicle)
    for outline in (round_, inside):
        sheet.outline("cut", [(x + centre[0], y + centre[1]) for x, y in outline])
    return sheet

"""The drum's wrapper: its tracks unrolled at true scale, to be cut, printed or glued round it."""

from dataclasses import replace

from shapely.geometry import LineString, box

from mild_badger.core.figures import in_mm
from mild_badger.core.message import say
from mild_badger.core.shift.drum import DrumLayout, Track, drum_layout
from mild_badger.core.structure.drum_place import PlacedDrum, turned_deg
from mild_badger.core.structure.drums import drums_of
from mild_badger.core.structure.forks import forks_of
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import describe_sleeve

__all__ = ["drum_count", "drum_wrapper", "placed_drum"]

MARGIN_MM = 12.0
"""Room beside the wrapper for its words."""


def drum_count(vehicle: Vehicle) -> int:
    """How many drums there are to wrap."""
    return len({track.drum for track in drum_layout(vehicle).tracks})


def drum_wrapper(vehicle: Vehicle, number: int = 0) -> Drawing:
    """Draw one drum's wrapper; the circumference runs to the right, the axis upwards.

    The left edge is the start line, at angle 0; both edges meet on the drum. A track is as wide as
    its follower; what hangs over an edge goes on at the other. Low is the drum's front end. Of a
    placed box tracks lie where their followers are, and are turned to them.
    """
    drum, layout = vehicle.shifting.drum, drum_layout(vehicle)
    tracks = [track for track in layout.tracks if track.drum == number]
    around, length = layout.around_mm, drum.track_pitch_mm * len(tracks)
    placed = placed_drum(vehicle, number)
    spots = {} if placed is None else {f.track.sleeve: f for f in placed.followers}
    if placed is not None:
        length = placed.to_mm - placed.from_mm
        tracks = [
            replace(
                track,
                axial_mm=spots[track.sleeve].along_mm - placed.from_mm,
                points=tuple((a - turned_deg(spots[track.sleeve]), y) for a, y in track.points),
            )
            for track in tracks
        ]
    name = "drum" if drum_count(vehicle) < 2 else ("odd drum", "even drum")[number]
    title = f"{vehicle.name}: {name}"
    sheet = Drawing(title, around + 2 * MARGIN_MM, length + 2.5 * MARGIN_MM)
    left, low = MARGIN_MM, MARGIN_MM
    sheet.rectangle("cut", left, low, left + around, low + length)
    for track in tracks:
        for outline in _wrapped(layout, track, drum.follower_mm):
            sheet.outline("cut", ((left + x, low + y) for x, y in outline))
        for piece in _wrapped(layout, track, 0.0):
            sheet.line("engrave", *((left + x, low + y) for x, y in piece))
        words = describe_sleeve(track.sleeve)
        sheet.words("mark", (left + 1.0, low + track.axial_mm + 2.5), words, height_mm=2.5)
    for position in layout.positions:
        x = left + layout.along_mm(position.angle_deg)
        sheet.line("mark", (x, low + length), (x, low + length + 3.0))
        sentence = f"{vehicle.gear_name(position.gear or 'N')} {position.angle_deg:.0f}°"
        sheet.words("mark", (x + 0.8, low + length + 1.2), sentence, height_mm=2.2)
    sheet.words(
        "mark", (left - 2.0, low + 1.0), say("workshop.start-line"), height_mm=2.5, upright=True
    )
    sheet.words(
        "mark",
        (left, low + length + 8.0),
        say(
            "workshop.diameter-unrolled-followers",
            title=title,
            diameter_mm=in_mm(drum.diameter_mm),
            around=in_mm(around, 2),
            follower_mm=in_mm(drum.follower_mm),
        ),
        height_mm=2.5,
    )
    if placed is not None:
        words = say("workshop.tracks-are-turned-to-their-followers")
        sheet.words("mark", (left, low + length + 4.6), words, height_mm=2.2)
    sheet.line("mark", (left, low - 5.0), (left + min(50.0, around), low - 5.0))
    sheet.words(
        "mark",
        (left, low - 9.0),
        say("workshop.to-check", value=in_mm(min(50.0, around), 0)),
        height_mm=2.5,
    )
    return sheet


def placed_drum(vehicle: Vehicle, number: int = 0) -> PlacedDrum | None:
    """Give a drum where the placed box has it, all its followers led to it; None elsewhere."""
    stack = stack_for(vehicle)
    if stack is None:
        return None
    place = drums_of(vehicle, stack, forks_of(vehicle, stack))
    if place is None:
        return None
    return next((d for d in place.drums if d.number == number and d.followers), None)


def _course(layout: DrumLayout, track: Track) -> list[tuple[float, float]]:
    return [(layout.along_mm(a), track.axial_mm + y) for a, y in track.points]


def _wrapped(layout: DrumLayout, track: Track, width: float) -> list[list[tuple[float, float]]]:
    """Cut a track at the edges of the sheet and bring what hangs over to the other side."""
    around = layout.around_mm
    line = LineString(_course(layout, track))
    shape = line.buffer(width / 2, cap_style="round", join_style="round") if width else line
    _, low, _, high = shape.bounds
    points = []
    for turn in (-1, 0, 1, 2):
        window = box(turn * around, low - 1, (turn + 1) * around, high + 1)
        part = shape.intersection(window)
        for piece in getattr(part, "geoms", [part]):
            if not piece.is_empty and piece.geom_type in ("Polygon", "LineString"):
                coords = piece.exterior.coords if width else piece.coords
                points.append([(x - turn * around, y) for x, y in coords])
    return points

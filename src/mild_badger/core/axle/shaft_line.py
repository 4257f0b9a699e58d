"""The propeller shaft's height and what it makes of floor, tunnel, seat and roof.

Heights in mm above level ground. Drop gears hang the shaft lower than the pinion; a pinion below
the crown wheel's middle lowers it too (a hypoid pair; offset beyond about a quarter of the crown's
diameter is poor practice, domain.md §9).
"""

from collections.abc import Iterator
from dataclasses import dataclass

from mild_badger.core.axle.clearance import clearance
from mild_badger.core.axle.running import running_of
from mild_badger.core.errors import DocumentError
from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["Choice", "LineResult", "line_choices", "line_findings", "shaft_line"]


@dataclass(frozen=True)
class LineResult:
    """One shaft line, from the ground up.

    ``pinion_mm`` and ``shaft_mm`` are the heights of pinion and propeller shaft; ``flat_floor_mm``
    is the floor that needs no tunnel; ``floor_mm`` the floor as wanted, ``tunnel_mm`` how far the
    tunnel stands above it; ``ground_mm`` the ground clearance with all that hangs down.
    """

    pinion_mm: float
    shaft_mm: float
    shaft_low_mm: float
    flat_floor_mm: float
    floor_mm: float
    tunnel_mm: float
    seat_mm: float
    roof_mm: float
    offset_share: float
    ground_mm: float
    limited_by: str


@dataclass(frozen=True)
class Choice:
    """One change to the shaft line, and what it would come to."""

    words: str
    edit: Edit
    result: LineResult


def shaft_line(vehicle: Vehicle) -> LineResult:
    """Work out the shaft line of a vehicle."""
    line, kit, final = running_of(vehicle).line, vehicle.kit, vehicle.final_drive
    room = clearance(vehicle)
    pinion = room.axle_mm - line.offset_mm
    drop = 0.0
    if line.drop is not None:
        drop = sum(line.drop) * kit.module_mm / 2
    shaft = pinion - drop
    half = kit.shaft_diameter_mm / 2
    lows = [(low.height_mm, low.name) for low in room.lows]
    lows.append((shaft - half, say("axle.propeller-shaft")))
    lows.append((pinion - kit.module_mm * (final.pinion + 2) / 2, say("axle.pinion")))
    if line.drop is not None:
        lows.append((shaft - kit.module_mm * (line.drop[0] + 2) / 2, say("axle.drop-gear")))
    lowest = min(lows)
    flat = shaft + half + line.room_mm + line.floor_thick_mm
    floor = flat if line.floor_mm is None else line.floor_mm
    return LineResult(
        pinion_mm=pinion,
        shaft_mm=shaft,
        shaft_low_mm=shaft - half,
        flat_floor_mm=flat,
        floor_mm=floor,
        tunnel_mm=max(flat - floor, 0.0),
        seat_mm=floor + line.seat_mm,
        roof_mm=floor + line.seat_mm + line.head_mm,
        offset_share=abs(line.offset_mm) / (final.crown * kit.module_mm),
        ground_mm=lowest[0],
        limited_by=lowest[1],
    )


def line_choices(vehicle: Vehicle) -> tuple[Choice, ...]:
    """Say what other offsets, crown wheels, drop gears and hubs would do to floor and clearance."""
    line, kit = running_of(vehicle).line, vehicle.kit
    most = round(line.offset_limit * vehicle.final_drive.crown * kit.module_mm, 2)
    offset, crown = ("running", "line", "offset_mm"), ("final_drive", "crown")
    tries: list[tuple[str, tuple[tuple[tuple[str, ...], float | int | None], ...]]] = [
        (say("axle.as-it-stands"), ()),
        (say("axle.pinion-at-the-crown-wheels-middle"), ((offset, 0.0),)),
        (say("axle.pinion-lower-the-most", most=in_mm(most)), ((offset, most),)),
    ]
    sizes = sorted({b.teeth for b in kit.bevels if b.teeth > vehicle.final_drive.pinion})
    tries += [
        (say("axle.crown-wheel-of", z=z), ((crown, z),))
        for z in sizes
        if z != (vehicle.final_drive.crown)
    ]
    small = min(kit.sizes)
    drop = (("running", "line", "drop_driver"), ("running", "line", "drop_driven"))
    if line.drop is None:
        tries.append((say("axle.drop-gears", small=small), ((drop[0], small), (drop[1], small))))
    else:
        tries.append((say("axle.no-drop-gears"), ((drop[0], None), (drop[1], None))))
    planned = vehicle.model_copy(update={"running": running_of(vehicle)})
    choices = []
    for words, changes in tries:
        edit = Edit(words, tuple(Change(path, value) for path, value in changes))
        try:
            choices.append(Choice(words, edit, shaft_line(apply_edit(planned, edit))))
        except DocumentError:
            continue  # a crown wheel that the pinion does not go with
    return tuple(choices)


def line_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Find a pinion set too low, and a shaft line in the ground."""
    result, line = shaft_line(vehicle), running_of(vehicle).line
    if result.offset_share > line.offset_limit + 1e-9:
        yield Finding(
            Severity.WARNING,
            "offset-large",
            ("final drive",),
            say("axle.the-pinion-is-far-off-the-middle"),
            say(
                "axle.are-of-the-crown-wheels-diameter-beyond-the",
                offset_mm=in_mm(abs(line.offset_mm)),
                offset_share=100 * result.offset_share,
                offset_limit=100 * line.offset_limit,
            ),
            figure=100 * result.offset_share,
            limit=100 * line.offset_limit,
            unit="%",
        )
    if result.shaft_low_mm <= 0:
        yield Finding(
            Severity.ERROR,
            "shaft-drags",
            ("final drive",),
            say("axle.the-propeller-shaft-is-too-low"),
            say(
                "axle.the-lower-edge-would-be-above-the-ground",
                shaft_low_mm=in_mm(result.shaft_low_mm, 1),
            ),
            figure=result.shaft_low_mm,
            limit=0.0,
            unit="mm",
        )

"""A drum's positions and a catch's columns, as the builder types them."""

from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.message import say, say_count
from mild_badger.core.shift.catch import catch_run, catch_sleeves
from mild_badger.core.shift.drum import drum_layout
from mild_badger.core.targets.schools import parse_number
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import column_of
from mild_badger.core.words import signed

__all__ = [
    "angles_text",
    "columns_text",
    "describe_catch",
    "describe_drum",
    "order_text",
    "parse_angles",
    "parse_columns",
    "parse_order",
]

NEUTRAL = "N"


def order_text(vehicle: Vehicle) -> str:
    """Write the order of the drum's positions, N for neutral."""
    return ", ".join(
        vehicle.gear_name(p.gear) if p.gear else NEUTRAL for p in drum_layout(vehicle).positions
    )


def parse_order(vehicle: Vehicle, text: str) -> tuple[str | None, ...]:
    """Read the order of positions; nothing typed is the usual order.

    Raises
    ------
    InputError
        A gear is not there.
    """
    known = {gear.name.casefold(): gear.id for gear in vehicle.real.gears}
    order: list[str | None] = []
    for word in filter(None, (part.strip() for part in text.replace(";", ",").split(","))):
        if word.casefold() in known:
            order.append(known[word.casefold()])
        elif word.upper() == NEUTRAL:
            order.append(None)
        else:
            raise InputError(
                say(
                    "shift.positions-there-is-no-gear-separate-gears-by",
                    word=word,
                    order_text=order_text(vehicle),
                )
            )
    return tuple(order)


def angles_text(vehicle: Vehicle) -> str:
    """Write the angle of every position in degrees."""
    return "; ".join(signed(p.angle_deg, ".4g") for p in drum_layout(vehicle).positions)


def parse_angles(vehicle: Vehicle, text: str) -> tuple[float, ...]:
    """Read an angle for every position; nothing typed spreads them evenly.

    Raises
    ------
    InputError
        Something is no number, or there is not one for every position.
    """
    words = [word for word in text.replace("°", " ").replace(";", " ").split() if word]
    angles = tuple(parse_number(word, what="Angle") for word in words)
    count = len(drum_layout(vehicle).positions)
    if angles and len(angles) != count:
        raise InputError(
            say(
                "shift.angles-were-typed-for-positions-separate",
                count_of_angles=len(angles),
                count=count,
            )
        )
    return angles


def columns_text(vehicle: Vehicle) -> str:
    """Write the columns in the order in which the catch meets them."""
    rows = catch_sleeves(vehicle)
    return ", ".join(str(column_of(s)) for s in rows.get("sleeve", ()))


def parse_columns(vehicle: Vehicle, text: str) -> tuple[int, ...]:
    """Read the order of columns along the catch's rail; nothing typed is as they stand.

    Raises
    ------
    InputError
        A column is not there or stands twice.
    """
    there = {column_of(s) for s in catch_sleeves(vehicle).get("sleeve", ())}
    order: list[int] = []
    for word in text.replace(",", " ").replace(";", " ").split():
        if not word.isdecimal() or int(word) not in there:
            raise InputError(
                say(
                    "shift.columns-there-is-no-column-this-box-has",
                    word=word,
                    listed=", ".join(map(str, sorted(there))) or "none",
                )
            )
        if int(word) in order:
            raise InputError(say("shift.columns-stands-twice-name-every-column-once", word=word))
        order.append(int(word))
    return tuple(order)


def describe_catch(vehicle: Vehicle) -> str:
    """Say what the catch does over the run 1 … n … 1."""
    run = catch_run(vehicle)
    if not run:
        return say("shift.a-run-takes-two-gears-with-a-train")
    slides, tilts = sum(s.slides for s in run), sum(s.tilts for s in run)
    longest = max(run, key=lambda s: s.seconds)
    ends = (run[0].start, run[len(run) // 2].start, run[-1].end, longest.start, longest.end)
    first, middle, last, one, other = (vehicle.gear_name(end or NEUTRAL) for end in ends)
    return say(
        "shift.the-run-takes-shifts-tilts-and-slides-over-s",
        first=first,
        middle=middle,
        last=last,
        count_of_run=len(run),
        tilts=tilts,
        column=say_count("count.column", slides),
        value=sum(s.seconds for s in run),
        one=one,
        other=other,
        seconds=longest.seconds,
    )


def describe_drum(vehicle: Vehicle) -> str:
    """Say how steep the tracks are, how long a step takes, and what is in twice meanwhile."""
    layout, drum = drum_layout(vehicle), vehicle.shifting.drum
    if not layout.changes:
        return say("shift.a-drum-takes-two-positions-choose-trains-on")
    seconds = [change.seconds for change in layout.changes]
    parts = [
        say(
            "shift.followers-travel-either-way-the-steepest",
            fork_travel_mm=in_mm(vehicle.lever.fork_travel_mm),
            steepest_deg=layout.steepest_deg,
            steepest_deg_2=drum.steepest_deg,
        ),
        say("shift.at-rpm-a-step-takes", rpm=drum.rpm, seconds=min(seconds))
        + (say("shift.to", seconds=max(seconds)) if max(seconds) - min(seconds) > 0.005 else "")
        + " s.",
    ]
    handed = [c for c in layout.changes if c.overlap_deg is not None]
    if handed:
        overlap = handed[0].overlap_deg or 0.0
        if overlap > 1e-9:
            allow = (
                say("shift.one-way-dogs-let-the-faster-gear-overrun-the")
                if drum.dogs == "one-way"
                else say("shift.plain-dogs-lock-meanwhile")
            )
            parts.append(
                say(
                    "shift.between-gears-both-sleeves-are-engaged-for-s",
                    overlap=overlap,
                    overlap_seconds=handed[0].overlap_seconds,
                    allow=allow,
                )
            )
        else:
            parts.append(say("shift.between-gears-both-sleeves-are-disengaged", overlap=-overlap))
    if layout.closest_mm is not None:
        parts.append(
            say(
                "shift.the-thinnest-wall-between-two-tracks-is",
                closest_mm=in_mm(layout.closest_mm, 1),
            )
        )
    return " ".join(parts)

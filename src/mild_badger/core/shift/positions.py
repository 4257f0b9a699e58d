"""A drum's positions and a catch's columns, as the builder types them."""

from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.shift.catch import catch_run, catch_sleeves
from mild_badger.core.shift.drum import drum_layout
from mild_badger.core.targets.schools import parse_number
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import column_of
from mild_badger.core.words import counted

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
                f"Positions: there is no gear {word}. Separate gears by commas, N is neutral: "
                f"{order_text(vehicle)}."
            )
    return tuple(order)


def angles_text(vehicle: Vehicle) -> str:
    """Write the angle of every position in degrees."""
    return "; ".join(f"{p.angle_deg:.4g}" for p in drum_layout(vehicle).positions)


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
            f"Angles: {len(angles)} were typed for {count} positions. Separate them by semicolons "
            "or spaces, or leave the line empty to spread them evenly."
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
                f"Columns: there is no column {word}. This box has "
                f"{', '.join(map(str, sorted(there))) or 'none'}."
            )
        if int(word) in order:
            raise InputError(f"Columns: {word} stands twice. Name every column once.")
        order.append(int(word))
    return tuple(order)


def describe_catch(vehicle: Vehicle) -> str:
    """Say what the catch does over the run 1 … n … 1."""
    run = catch_run(vehicle)
    if not run:
        return "A run takes two gears with a train."
    slides, tilts = sum(s.slides for s in run), sum(s.tilts for s in run)
    longest = max(run, key=lambda s: s.seconds)
    ends = (run[0].start, run[len(run) // 2].start, run[-1].end, longest.start, longest.end)
    first, middle, last, one, other = (vehicle.gear_name(end or NEUTRAL) for end in ends)
    return (
        f"The run {first} … {middle} … {last} takes {len(run)} "
        f"shifts, {tilts} tilts and slides over {counted(slides, 'column')}, "
        f"{sum(s.seconds for s in run):.1f} s in all; the longest, {one} to "
        f"{other}, {longest.seconds:.1f} s."
    )


def describe_drum(vehicle: Vehicle) -> str:
    """Say how steep the tracks are, how long a step takes, and what is in twice meanwhile."""
    layout, drum = drum_layout(vehicle), vehicle.shifting.drum
    if not layout.changes:
        return "A drum takes two positions: choose trains on the tab Ratios first."
    seconds = [change.seconds for change in layout.changes]
    parts = [
        f"Followers travel {in_mm(vehicle.lever.fork_travel_mm)} either way; the steepest ramp "
        "rises "
        f"by {layout.steepest_deg:.0f}° (limit {drum.steepest_deg:g}°).",
        f"At {drum.rpm:g} rpm a step takes {min(seconds):.2f}"
        + (f" to {max(seconds):.2f}" if max(seconds) - min(seconds) > 0.005 else "")
        + " s.",
    ]
    handed = [c for c in layout.changes if c.overlap_deg is not None]
    if handed:
        overlap = handed[0].overlap_deg or 0.0
        if overlap > 1e-9:
            allow = (
                "one-way dogs let the faster gear overrun the slower"
                if drum.dogs == "one-way"
                else "plain dogs lock meanwhile"
            )
            parts.append(
                f"Between gears both sleeves are engaged for {overlap:.1f}°, "
                f"{handed[0].overlap_seconds:.3f} s: {allow}."
            )
        else:
            parts.append(f"Between gears both sleeves are disengaged for {-overlap:.1f}°.")
    if layout.closest_mm is not None:
        parts.append(f"The thinnest wall between two tracks is {in_mm(layout.closest_mm, 1)}.")
    return " ".join(parts).replace("-", "−").replace("one−way", "one-way")

"""Bearings seat by seat: what fits, what holds the shaft along its axis, what it costs.

A shaft that carries a bevel is pushed along its axis and needs a bearing that takes thrust; every
other shaft needs one too, or end play on purpose: roller bearings and plain bushes hold nothing
along the axis (common practice, no source).
"""

from collections.abc import Iterator
from dataclasses import dataclass

from mild_badger.core.driveline.assemble import box_output
from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.message import say
from mild_badger.core.structure.names import describe_shaft
from mild_badger.core.structure.stack import Rod, Stack
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.frame import SeatBearing
from mild_badger.core.vehicle.kit import Bearing
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized

__all__ = [
    "SeatChoice",
    "bearing_cost",
    "bearing_findings",
    "choose_bearing",
    "choose_cheapest",
    "describe_bearing",
    "seat_choices",
]

FIT_MM = 0.05
"""How far a bore may differ from the shaft and still count as its size."""
BEARINGS = ("frame", "bearings")


@dataclass(frozen=True)
class SeatChoice:
    """One seat: the bearing that is in, those that would fit, and whether thrust arises there.

    ``problem`` says what is wrong with the bearing that is in, empty for none.
    """

    shaft: str
    wall: str
    chosen: Bearing | None
    fitting: tuple[Bearing, ...]
    thrust: bool
    problem: str


def seat_choices(vehicle: Vehicle, stack: Stack) -> tuple[SeatChoice, ...]:
    """List every seat of every shaft in a wall, with what fits there."""
    catalogue = {bearing.name: bearing for bearing in vehicle.kit.bearings}
    choices = []
    for rod, wall in _seats(stack):
        name = stack.slabs[wall]
        in_it = vehicle.frame.bearing_at(rod.name, name)
        chosen = catalogue.get(in_it) if in_it else None
        fitting = tuple(
            bearing
            for bearing in sorted(vehicle.kit.bearings, key=_price)
            if not _misfit(vehicle, stack, rod, wall, bearing)
        )
        if in_it and chosen is None:
            problem: str = say("layout.the-kit-has-no-bearing", in_it=in_it)
        else:
            problem = _misfit(vehicle, stack, rod, wall, chosen) if chosen else ""
        thrust = rod.name == box_output(vehicle)
        choices.append(SeatChoice(rod.name, name, chosen, fitting, thrust, problem))
    return tuple(choices)


def _seats(stack: Stack) -> Iterator[tuple[Rod, int]]:
    for rod in stack.rods.values():
        for wall in rod.walls:
            if wall in stack.walls:
                yield rod, wall


def _price(bearing: Bearing) -> tuple[float, float, str]:
    """Cheap ones first, those of unknown price last, smaller ones before larger."""
    price = float("inf") if bearing.price is None else bearing.price
    return price, bearing.outer_mm, bearing.name


def _misfit(vehicle: Vehicle, stack: Stack, rod: Rod, wall: int, bearing: Bearing) -> str:
    """Say why a bearing cannot sit in a wall for a shaft; empty where it can."""
    shaft = vehicle.kit.shaft_diameter_mm
    if abs(bearing.bore_mm - shaft) > FIT_MM:
        return say(
            "layout.its-bore-is-the-shaft", bore_mm=in_mm(bearing.bore_mm), shaft=in_mm(shaft)
        )
    thick = stack.edges_mm[wall + 1] - stack.edges_mm[wall]
    if bearing.width_mm > thick + 1e-9:
        return say(
            "layout.it-is-wide-the-wall-thick", width_mm=in_mm(bearing.width_mm), thick=in_mm(thick)
        )
    in_line = any(
        wall in other.walls
        and other.name != rod.name
        and stack.apart_mm(rod.name, other.name) < 1e-6
        for other in stack.rods.values()
    )
    if in_line and bearing.width_mm > thick / 2 + 1e-9:
        return say(
            "layout.two-shafts-meet-in-this-wall-so-it-may-be",
            thick=in_mm(thick / 2),
            width_mm=bearing.width_mm,
        )
    catalogue = {b.name: b for b in vehicle.kit.bearings}
    for other in stack.rods.values():
        if other.name == rod.name or wall not in other.walls:
            continue
        if stack.apart_mm(rod.name, other.name) < 1e-6:
            continue  # in one line, half a wall each
        beside = catalogue.get(vehicle.frame.bearing_at(other.name, stack.slabs[wall]) or "")
        its = beside.outer_mm if beside else shaft
        left = stack.apart_mm(rod.name, other.name) - (bearing.outer_mm + its) / 2
        if left < vehicle.frame.edge_mm - 1e-9:
            return say(
                "layout.only-of-wall-would-be-left-beside-are-wanted",
                left=in_mm(max(left, 0), 1),
                name=other.name,
                edge_mm=vehicle.frame.edge_mm,
            )
    return ""


def bearing_cost(vehicle: Vehicle, stack: Stack) -> tuple[float, int]:
    """Sum up the prices of the bearings that are in, and count those without a price."""
    chosen = [seat.chosen for seat in seat_choices(vehicle, stack) if seat.chosen is not None]
    known = [bearing.price for bearing in chosen if bearing.price is not None]
    return sum(known), len(chosen) - len(known)


def choose_bearing(vehicle: Vehicle, shaft: str, wall: str, name: str | None) -> Edit:
    """Put a bearing of the kit into a seat, or none.

    Raises
    ------
    InputError
        The kit has no such bearing.
    """
    if name is not None and name not in {b.name for b in vehicle.kit.bearings}:
        raise InputError(say("layout.has-no-bearing", name=vehicle.kit.name, name_2=name))
    rest = [s for s in vehicle.frame.bearings if (s.shaft, s.wall) != (shaft, wall)]
    if name is not None:
        rest.append(SeatBearing(shaft=shaft, wall=wall, bearing=name))
    words = (
        say("layout.put-into-the-for", name=name, wall=wall, shaft=shaft)
        if name
        else say("layout.plain-hole-for", shaft=shaft)
    )
    return Edit(words, (Change(BEARINGS, tuple(rest)),))


def choose_cheapest(vehicle: Vehicle, stack: Stack) -> Edit:
    """Give every seat the cheapest bearing that fits: on each shaft one that takes thrust.

    The last seat of a shaft holds it along its axis where the kit has a bearing for that; the
    others may be of any kind. Seats into which nothing fits stay plain holes.

    Raises
    ------
    InputError
        No bearing of the kit fits any seat.
    """
    frame = vehicle.frame.model_copy(update={"bearings": ()})
    taken: list[SeatBearing] = []
    last = {rod.name: wall for rod, wall in _seats(stack)}
    for rod, wall in _seats(stack):
        so_far = vehicle.model_copy(
            update={"frame": frame.model_copy(update={"bearings": tuple(taken)})}
        )
        fitting = [
            bearing
            for bearing in sorted(vehicle.kit.bearings, key=_price)
            if not _misfit(so_far, stack, rod, wall, bearing)
        ]
        if last[rod.name] == wall:
            fitting.sort(key=lambda bearing: not bearing.takes_thrust)
        if fitting:
            taken.append(
                SeatBearing(shaft=rod.name, wall=stack.slabs[wall], bearing=fitting[0].name)
            )
    if not taken:
        raise InputError(
            say(
                "layout.no-bearing-of-fits-a-shaft-of-in-these-walls",
                name=vehicle.kit.name,
                shaft_diameter_mm=in_mm(vehicle.kit.shaft_diameter_mm),
            )
        )
    return Edit(say("layout.choose-the-cheapest-bearings"), (Change(BEARINGS, tuple(taken)),))


def bearing_findings(vehicle: Vehicle, stack: Stack) -> Iterator[Finding]:
    """Find bearings that do not fit, and shafts that nothing holds along their axis."""
    if not vehicle.frame.bearings:
        return
    by_shaft: dict[str, list[SeatChoice]] = {}
    for seat in seat_choices(vehicle, stack):
        by_shaft.setdefault(seat.shaft, []).append(seat)
        if seat.problem:
            name = vehicle.frame.bearing_at(seat.shaft, seat.wall)
            yield Finding(
                Severity.ERROR,
                "bearing-misfit",
                ("layout",),
                say(
                    "layout.does-not-fit-in-the",
                    name=name,
                    shaft=describe_shaft(vehicle, seat.shaft),
                    wall=seat.wall,
                ),
                say(
                    "layout.choose-another-one-on-the-page-stack", problem=capitalized(seat.problem)
                ),
            )
    known = {(rod.name, stack.slabs[wall]) for rod, wall in _seats(stack)}
    for old in vehicle.frame.bearings:
        if (old.shaft, old.wall) not in known:
            yield Finding(
                Severity.NOTE,
                "bearing-nowhere",
                ("layout",),
                say("layout.has-no-seat-now", bearing=old.bearing),
                say(
                    "layout.the-bearing-was-chosen-for-in-the-which-is",
                    shaft=describe_shaft(vehicle, old.shaft),
                    wall=old.wall,
                ),
            )
    for shaft, seats in by_shaft.items():
        chosen = [seat.chosen for seat in seats if seat.chosen is not None]
        if not chosen or any(bearing.takes_thrust for bearing in chosen):
            continue
        if seats[0].thrust:
            yield Finding(
                Severity.WARNING,
                "no-thrust",
                ("layout",),
                say("layout.nothing-takes-the-thrust-of", shaft=describe_shaft(vehicle, shaft)),
                say("layout.the-bevel-pinion-behind-the-box-pushes-it"),
            )
        elif vehicle.frame.end_play_mm <= 0:
            yield Finding(
                Severity.WARNING,
                "no-end-play",
                ("layout",),
                say("layout.no-end-play-on", shaft=describe_shaft(vehicle, shaft)),
                say("layout.the-bearings-carry-no-thrust-so-a-little-end"),
                figure=vehicle.frame.end_play_mm,
                limit=0.2,
                unit="mm",
            )


def describe_bearing(vehicle: Vehicle, stack: Stack) -> str:
    """Say how many seats have a bearing and what they cost."""
    seats = seat_choices(vehicle, stack)
    chosen = [seat for seat in seats if seat.chosen is not None]
    if not chosen:
        return say("layout.seats-all-plain-holes-a-ball-bearing-carries", count_of_seats=len(seats))
    cost, unknown = bearing_cost(vehicle, stack)
    words = say(
        "layout.of-seats-have-a-bearing-in-all",
        count_of_chosen=len(chosen),
        count_of_seats=len(seats),
        cost=cost,
    )
    return words + (say("layout.and-without-a-price", unknown=unknown) if unknown else ".")

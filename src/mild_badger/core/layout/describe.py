"""What a placement comes to, in words and as plain data."""

from math import hypot
from typing import Any

from mild_badger.core.figures import in_mm, in_n_mm
from mild_badger.core.layout.apply_layout import layout_of
from mild_badger.core.layout.function_box import function_stack
from mild_badger.core.layout.place_box import Placed
from mild_badger.core.layout.proposals import changes_of
from mild_badger.core.layout.reason import why_no_functions, why_no_place
from mild_badger.core.layout.shaft_deflection import function_holds_n_mm
from mild_badger.core.message import say
from mild_badger.core.ratios.train import train_text
from mild_badger.core.structure.forks import forks_of, missing_forks
from mild_badger.core.structure.mirror import first_at_right
from mild_badger.core.structure.names import describe_shaft, shaft_label, shaft_letter
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.shaft_lengths import shaft_cuts
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import listed, signed, word

__all__ = ["describe_limits", "describe_placed", "describe_proposal", "placed_data"]


def describe_placed(vehicle: Vehicle, placed: Placed) -> str:
    """Say how many slots were placed, how big the box is, and how snug its meshes sit."""
    count = len(placed.chosen)
    total = count + len(placed.unplaced)
    gears = sum(len(chosen.way.gears) for chosen in placed.chosen)
    worst = max((chosen.way.error_mm for chosen in placed.chosen), default=0.0)
    words: str = say(
        "layout.slots-placed-with-gears-selector-shafts-up",
        word=say("layout.all") if placed.complete else count,
        value=say("layout.of") if not placed.complete else "",
        total=total,
        gears=gears,
        height=_length(vehicle, placed.height_u),
        aside=_aside(vehicle, placed),
        worst=in_mm(worst, 2),
    )
    words += _holding(vehicle, placed) + _changing(vehicle, placed)
    if placed.unplaced:
        words += say(
            "layout.no-place-for", listed=", ".join(map(vehicle.gear_name, placed.unplaced))
        )
    if not placed.finished:
        words += say("layout.the-time-limit-was-reached-a-better")
    return words


def describe_limits(vehicle: Vehicle) -> str:
    """List all limits that a placement keeps to, those that are set elsewhere too."""
    placing, kit = vehicle.placing, vehicle.kit
    unit = kit.grid_unit_mm
    limits: list[str] = []
    if vehicle.search.within_stock:
        limits.append(say("layout.gears-within-the-stock"))
    if kit.shaft_lengths_u:
        limits.append(say("layout.shafts-up-to", longest=max(kit.shaft_lengths_u)))
    if kit.beam_lengths_u and not kit.any_seat:
        limits.append(say("layout.beams-up-to", longest=max(kit.beam_lengths_u)))
    if placing.wide_mm is not None:
        limits.append(say("layout.width-up-to", far=_length(vehicle, placing.wide_mm / unit)))
    if placing.high_mm is not None:
        limits.append(say("layout.height-up-to", far=_length(vehicle, placing.high_mm / unit)))
    if placing.outline_mm:
        limits.append(say("layout.the-outline-drawn"))
    limits += [
        say("layout.is-held", shaft=describe_shaft(vehicle, pin.shaft)) for pin in placing.pins
    ]
    return say("layout.limits-in-force", listed=listed(limits)) if limits else ""


def describe_proposal(vehicle: Vehicle, placed: Placed, number: int) -> str:
    """Call a proposal by its number and by where its selector shafts stand."""
    height, aside = _length(vehicle, placed.height_u), _aside(vehicle, placed)
    words: str = say("layout.proposal-up", number=number, height=height, aside=aside)
    if placed.held is not None:
        words += (
            say("layout.holds-at-stall")
            if placed.held >= 1
            else say("layout.holds-to-of-stall", percent=100 * placed.held)
        )
    return words


def _shift_u(vehicle: Vehicle, placed: Placed) -> float:
    """Give how far to the right the selector row stands once the layout is taken."""
    return 0.0 - placed.shift_u if first_at_right(vehicle) else placed.shift_u


def _aside(vehicle: Vehicle, placed: Placed) -> str:
    """Say how far to a side the selector row stands; nothing where it stands straight above."""
    shift = _shift_u(vehicle, placed)
    if not shift:
        return ""
    side = word("right" if shift > 0 else "left")
    return say("layout.to-the", far=_length(vehicle, abs(shift)), side=side)


def _holding(vehicle: Vehicle, placed: Placed) -> str:
    """Say up to which torque no mesh lets go."""
    if placed.held is None or placed.held >= 1:
        return "" if placed.held is None else say("layout.at-stall-no-mesh-lets-go")
    stall = placed.held * vehicle.motor.shaft_stall_n_mm
    return say("layout.meshes-let-go-beyond", torque=in_n_mm(stall, 0), percent=100 * placed.held)


def _changing(vehicle: Vehicle, placed: Placed) -> str:
    """Say which trains a proposal changes, and by how much."""
    changes = [
        say(
            "layout.gear-to",
            gear=vehicle.gear_name(change.gear),
            train=train_text(change.train),
            percent=signed(change.percent, "+.1f"),
        )
        for change in changes_of(placed)
    ]
    return say("layout.it-changes", listed="; ".join(changes)) if changes else ""


def _length(vehicle: Vehicle, units: float) -> str:
    """Write a length in units of the grid, in wood and print in the builder's own."""
    if vehicle.kit.any_seat:
        return in_mm(units * vehicle.kit.grid_unit_mm, 0)
    return say("layout.grid-units", units=units)


def describe_box(vehicle: Vehicle) -> str:
    """Say where the shafts of a box stand whose places follow from its pairs."""
    stack = stack_for(vehicle)
    if stack is None:
        return why_no_place(vehicle)
    return _describe_stack(vehicle, stack)


def describe_function_box(vehicle: Vehicle) -> str:
    """Say where the shafts of a function box stand, or what is missing until they do."""
    stack = function_stack(vehicle)
    if stack is None:
        return why_no_functions(vehicle)
    held = function_holds_n_mm(vehicle, stack)
    if held is None:
        return _describe_stack(vehicle, stack)
    limit = say("layout.holds-up-to-of-the-function-motor", torque=in_n_mm(held[0], 0))
    return f"{_describe_stack(vehicle, stack)} {limit}"


def _describe_stack(vehicle: Vehicle, stack: Stack) -> str:
    shafts = "; ".join(
        say(
            "layout.at",
            shaft=shaft_label(vehicle, rod.name),
            x=in_mm(rod.x_mm, 2),
            y=in_mm(rod.y_mm, 2),
        )
        for rod in stack.rods.values()
    )
    return say("layout.long-shafts", length=in_mm(stack.length_mm, 1), shafts=shafts)


def box_data(vehicle: Vehicle) -> dict[str, Any]:
    """Give a placed box as plain data: shafts by letter and their places in mm, its length."""
    return {"architecture": vehicle.box.architecture, **_stack_data(vehicle, stack_for(vehicle))}


def function_box_data(vehicle: Vehicle) -> dict[str, Any]:
    """Give a placed function box as plain data, as box_data does; what is missing where it is not.

    It is complete where all its shafts and forks have a place.
    """
    stack = function_stack(vehicle)
    if stack is None:
        return {"complete": False, "shafts": [], "why": why_no_functions(vehicle)}
    left_out = missing_forks(stack, forks_of(vehicle, stack))
    return {"complete": not left_out, **_stack_data(vehicle, stack)}


def _stack_data(vehicle: Vehicle, stack: Stack | None) -> dict[str, Any]:
    if stack is None:
        return {"shafts": []}
    cuts = {cut.name: cut for cut in shaft_cuts(vehicle, stack)}
    shafts = [
        {
            "id": rod.name,
            "letter": shaft_letter(vehicle, rod.name),
            "x_mm": round(rod.x_mm, 4),
            "y_mm": round(rod.y_mm, 4),
            "from_mm": round(cuts[rod.name].start_mm, 4),
            "length_mm": round(cuts[rod.name].length_mm or cuts[rod.name].needed_mm, 4),
            "walls": [stack.slabs[wall] for wall in rod.walls if wall in stack.walls],
        }
        for rod in stack.rods.values()
    ]
    return {"length_mm": round(stack.length_mm, 4), "shafts": shafts}


def placed_data(vehicle: Vehicle, placed: Placed) -> dict[str, Any]:
    """Give a placement as plain data: positions and seat errors in mm, layers, rows in u."""
    layout = layout_of(vehicle, placed)
    unit = vehicle.kit.grid_unit_mm
    slots = []
    for chosen in placed.chosen:
        way = chosen.way
        seats = []
        for one, other in zip(way.gears, way.gears[1:], strict=False):
            if one[1] == other[1]:
                continue  # both on one shaft
            (x, y), (v, w) = way.points[one[1]], way.points[other[1]]
            apart = hypot(x - v, y - w) * unit / placed.steps_a_unit
            nominal = (one[0] + other[0]) * vehicle.kit.module_mm / 2
            seats.append({"teeth": [one[0], other[0]], "error_mm": round(apart - nominal, 4)})
        slots.append(
            {
                "gear": chosen.slot.gear,
                "column": chosen.slot.column,
                "side": chosen.slot.face,
                "train": train_text(way.train),
                "seats": seats,
            }
        )
    return {
        "complete": placed.complete,
        "unplaced": list(placed.unplaced),
        "finished": placed.finished,
        "holds_at_stall": None if placed.held is None else placed.held >= 1,
        "share_of_stall_held": None if placed.held is None else round(min(placed.held, 1.0), 4),
        "parts_short": placed.short,
        "changes": [
            {
                "gear": change.gear,
                "train": train_text(change.train),
                "percent": round(change.percent, 4),
            }
            for change in changes_of(placed)
        ],
        "spacing_u": placed.placing.spacing_u,
        "layers": placed.placing.layers,
        "height_u": placed.height_u,
        "shift_u": _shift_u(vehicle, placed),
        "slots": slots,
        "shafts": [
            {**shaft.model_dump(mode="json"), "letter": shaft_letter(vehicle, shaft.name)}
            for shaft in layout.shafts
        ],
        "gears": [gear.model_dump(mode="json") for gear in layout.gears],
        "architecture": vehicle.box.architecture,
        "shared": [[gear.body for gear in group] for group in layout.shared],
        "alternatives": [
            {
                "height_u": other.height_u,
                "shift_u": _shift_u(vehicle, other),
                "unplaced": list(other.unplaced),
            }
            for other in placed.others
        ],
    }

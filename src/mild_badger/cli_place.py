"""The command ``place``: where the shafts and parts of a box sit, whatever its architecture."""

import argparse
from pathlib import Path

from mild_badger.core.components.describe import components_data
from mild_badger.core.driveline.assemble import letters_of
from mild_badger.core.errors import DocumentError, InputError
from mild_badger.core.findings.finding import Severity
from mild_badger.core.layout.apply_layout import apply_layout
from mild_badger.core.layout.describe import box_data, describe_box, describe_placed, placed_data
from mild_badger.core.layout.findings import layout_findings
from mild_badger.core.layout.pins import set_pin, shaft_named
from mild_badger.core.layout.proposals import propose_layouts
from mild_badger.core.layout.reliefs import Reliefs, reliefs
from mild_badger.core.layout.shaft_box import stack_for
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.layout import PlacementSettings
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import listed, word
from mild_badger.files.vehicle_file import load, save
from mild_badger.terminal import show, show_json
from mild_badger.text.fields import parse_place

__all__ = ["add_place_options", "run_place"]


def add_place_options(parser: argparse.ArgumentParser) -> None:
    """Add the options of ``place``."""
    parser.add_argument("file", type=Path)
    parser.add_argument(
        "--spacing", type=int, metavar="U", help=say("command-line.column-spacing-in-grid-units")
    )
    parser.add_argument(
        "--layers", type=int, metavar="N", help=say("command-line.layers-of-gears-on-each-side")
    )
    parser.add_argument(
        "--seconds",
        type=float,
        metavar="S",
        help=say("command-line.time-limit-of-the-search-in-seconds"),
    )
    parser.add_argument(
        "--near",
        type=float,
        metavar="PERCENT",
        help=say("command-line.greatest-error-of-a-train-in-per-cent"),
    )
    parser.add_argument(
        "--half-units",
        action="store_true",
        help=say("command-line.allow-shafts-between-grid-points"),
    )
    parser.add_argument(
        "--pin",
        action="append",
        default=[],
        metavar="NAME=X,Y",
        help=say("command-line.hold-a-shaft-at-a-point"),
    )
    parser.add_argument("--size", metavar="W,H", help=say("command-line.clear-width-and-height"))
    parser.add_argument(
        "--save",
        type=Path,
        metavar="FILE",
        help=say("command-line.write-the-vehicle-with-the-layout"),
    )
    parser.add_argument("--json", action="store_true")


def placed_first(vehicle: Vehicle) -> Vehicle:
    """Give a vehicle whose box has its place: one that is searched and not stored is placed now."""
    if not vehicle.box.free_trains or vehicle.layout is not None:
        return vehicle
    return apply_edit(vehicle, apply_layout(vehicle, propose_layouts(vehicle)))


def run_place(options: argparse.Namespace) -> int:
    """Place a vehicle's box; exit code 1 where something has no place or is wrong."""
    vehicle = load(options.file)
    update = {
        "spacing_u": options.spacing,
        "layers": options.layers,
        "seconds": options.seconds,
        "near_percent": options.near,
        "half_units": options.half_units or None,
    }
    wanted = {name: value for name, value in update.items() if value is not None}
    if options.size is not None:
        wanted["wide_u"], wanted["high_u"] = parse_place(
            options.size, what="--size", vehicle=vehicle
        )
    data = vehicle.placing.model_dump() | wanted
    try:
        placing = PlacementSettings.model_validate(data)
    except ValueError as error:
        raise DocumentError(
            say("command-line.spacing-is-2-to-8-u-layers-1-to-6-seconds-up")
        ) from error
    vehicle = vehicle.model_copy(update={"placing": placing})
    for text in options.pin:
        vehicle = _pinned(vehicle, text)
    placed = propose_layouts(vehicle) if vehicle.box.free_trains else None
    taken = vehicle if placed is None else apply_edit(vehicle, apply_layout(vehicle, placed))
    faults = tuple(layout_findings(taken))
    stack = stack_for(taken)
    wrong = any(finding.severity is Severity.ERROR for finding in faults)
    complete = stack is not None and not wrong and (placed is None or placed.complete)
    help_ = Reliefs(()) if placed is None or placed.complete else reliefs(vehicle)
    if options.json:
        result = box_data(taken) if placed is None else placed_data(vehicle, placed)
        result |= {"complete": complete, "components": components_data(taken)}
        result["would_help"] = list(help_.helps)
        result["out_of_time"] = list(help_.unsure)
        result["findings"] = [finding.as_json() for finding in faults]
        show_json(result)
    else:
        words = describe_box(taken) if placed is None else describe_placed(vehicle, placed)
        show(words, vehicle.shown_in)
        if help_.helps:
            print(say("command-line.all-would-be-placed-with", listed=listed(help_.helps, "or")))
        if help_.unsure:
            print(say("layout.the-time-ran-out-for", listed=listed(help_.unsure)))
        for finding in faults:
            show(
                f"{word(finding.severity.value)}: {finding.title}. {finding.text}", vehicle.shown_in
            )
    if options.save is not None:
        save(taken, options.save)
    return int(not complete)


def _pinned(vehicle: Vehicle, text: str) -> Vehicle:
    """Hold a shaft: NAME=X,Y."""
    name, equals, place = text.partition("=")
    if not equals:
        raise InputError(say("command-line.write-a-pin-as-name-x-y", pin=text))
    shafts = tuple(entry.shaft for entry in letters_of(vehicle))
    shaft = shaft_named(vehicle, name.strip(), shafts)
    at = parse_place(place, what=f"--pin {name}", vehicle=vehicle)
    return apply_edit(vehicle, set_pin(vehicle, shaft, at))

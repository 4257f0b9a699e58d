"""The command ``place``: where the shafts and parts of a box sit, whatever its architecture."""

import argparse
from pathlib import Path

from mild_badger.core.components.box import function_components
from mild_badger.core.components.describe import components_data, describe_lever, lever_data
from mild_badger.core.components.vehicle_parts import has_place, main_components
from mild_badger.core.driveline.assemble import letters_of
from mild_badger.core.errors import DocumentError, InputError
from mild_badger.core.findings.finding import Severity
from mild_badger.core.layout.apply_layout import apply_layout
from mild_badger.core.layout.describe import (
    box_data,
    describe_box,
    describe_function_box,
    describe_placed,
    function_box_data,
    placed_data,
)
from mild_badger.core.layout.findings import layout_findings
from mild_badger.core.layout.function_box import (
    function_stack,
    pin_output,
    place_functions,
    take_places,
)
from mild_badger.core.layout.proposals import propose_layouts
from mild_badger.core.layout.reliefs import Reliefs, reliefs
from mild_badger.core.message import say
from mild_badger.core.structure.pins import set_pin, shaft_named
from mild_badger.core.vehicle.boxes import NoBox
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.functions import FunctionBox
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
    """Give a vehicle whose boxes have their place: what is not stored is placed now."""
    vehicle, _ = _functions_placed(vehicle)
    if not vehicle.box.free_trains or vehicle.layout is not None:
        return vehicle
    return apply_edit(vehicle, apply_layout(vehicle, propose_layouts(vehicle)))


def _functions_placed(vehicle: Vehicle) -> tuple[Vehicle, str]:
    """Place a function box that has no place yet; where none is found, also say why."""
    if vehicle.functions is None or function_stack(vehicle) is not None:
        return vehicle, ""
    try:
        return apply_edit(vehicle, take_places(vehicle, place_functions(vehicle))), ""
    except InputError as error:
        return vehicle, str(error)


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
        wanted["wide_mm"], wanted["high_mm"] = parse_place(
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
    taken, why = _functions_placed(
        taken.model_copy(update={"functions": _unplaced(taken.functions)})
    )
    faults = tuple(layout_findings(taken))
    wrong = any(finding.severity is Severity.ERROR for finding in faults)
    asked = taken.functions is not None and bool(taken.functions.positions)
    functions = function_box_data(taken) if asked else None
    boxless = asked and isinstance(taken.box, NoBox)
    complete = not wrong and (boxless or has_place(taken))
    complete = complete and (placed is None or placed.complete)
    complete = complete and (functions is None or bool(functions["complete"]))
    help_ = Reliefs(()) if placed is None or placed.complete else reliefs(vehicle)
    if options.json:
        if taken.box.lever is not None:
            result = lever_data(taken)
        else:
            result = box_data(taken) if placed is None else placed_data(vehicle, placed)
        result |= {
            "complete": complete,
            "components": components_data(taken, main_components(taken)),
        }
        if functions is not None:
            parts = components_data(taken, function_components(taken))
            result["functions"] = functions | {"components": parts}
            if why:
                result["functions"]["why"] = why
        result["would_help"] = list(help_.helps)
        result["out_of_time"] = list(help_.unsure)
        result["findings"] = [finding.as_json() for finding in faults]
        show_json(result)
    else:
        if taken.box.lever is not None:
            words = describe_lever(taken)
        else:
            words = describe_box(taken) if placed is None else describe_placed(vehicle, placed)
        show(words, vehicle.shown_in)
        if functions is not None:
            words = why or describe_function_box(taken)
            show(say("command-line.function-box", words=words), vehicle.shown_in)
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


def _unplaced(box: FunctionBox | None) -> FunctionBox | None:
    return None if box is None else box.model_copy(update={"places": ()})


def _pinned(vehicle: Vehicle, text: str) -> Vehicle:
    """Hold a shaft of the box, or an output of the function box by its name: NAME=X,Y."""
    name, equals, place = text.partition("=")
    if not equals:
        raise InputError(say("command-line.write-a-pin-as-name-x-y", pin=text))
    for output in vehicle.functions.outputs if vehicle.functions is not None else ():
        if output.name.casefold() == name.strip().casefold():
            x_mm, y_mm = parse_place(place, what=f"--pin {name}", vehicle=vehicle)
            return apply_edit(vehicle, pin_output(vehicle, output.id, (x_mm, y_mm)))
    shafts = tuple(entry.shaft for entry in letters_of(vehicle))
    shaft = shaft_named(vehicle, name.strip(), shafts)
    at = parse_place(place, what=f"--pin {name}", vehicle=vehicle)
    return apply_edit(vehicle, set_pin(vehicle, shaft, at))

"""The command `collide`: what touches in a placed box, in every state its shifter reaches."""

import argparse

from mild_badger.cli_place import placed_first
from mild_badger.core.components.collide import (
    collide,
    collide_functions,
    collide_lever,
    collision_data,
    collision_findings,
    describe_collision,
)
from mild_badger.core.components.vehicle_parts import has_place
from mild_badger.core.layout.function_box import function_stack
from mild_badger.core.message import say
from mild_badger.core.words import word
from mild_badger.files.vehicle_file import load
from mild_badger.terminal import show, show_json

__all__ = ["run_collide"]


def run_collide(options: argparse.Namespace) -> int:
    """Prove a vehicle's box by solids; exit code 1 where something touches."""
    vehicle = placed_first(load(options.file))
    functions = collide_functions(vehicle) if function_stack(vehicle) is not None else None
    lever = collide_lever(vehicle) if vehicle.lever_drive is not None else None
    beside = functions is not None or lever is not None
    own = collide(vehicle) if has_place(vehicle) or not beside else None
    clear = all(one.clear and not one.line for one in (own, functions, lever) if one is not None)
    if options.json:
        data = {} if own is None else collision_data(vehicle, own)
        if functions is not None:
            data["functions"] = collision_data(vehicle, functions)
        if lever is not None:
            data["lever"] = collision_data(vehicle, lever)
        show_json(data | {"clear": clear})
        return int(not clear)
    for collision in (own, functions, lever):
        if collision is None:
            continue
        words = describe_collision(collision)
        if collision is functions:
            words = say("command-line.function-box", words=words)
        elif collision is lever:
            words = say("command-line.lever-drive", words=words)
        show(words, vehicle.shown_in)
        for finding in collision_findings(vehicle, collision):
            kind = word(finding.severity.value)
            show(f"{kind}: {finding.title}. {finding.text}", vehicle.shown_in)
    return int(not clear)

"""The command `collide`: what touches in a placed box, in every state its shifter reaches."""

import argparse

from mild_badger.cli_place import placed_first
from mild_badger.core.components.collide import (
    collide,
    collision_data,
    collision_findings,
    describe_collision,
)
from mild_badger.core.words import word
from mild_badger.files.vehicle_file import load
from mild_badger.terminal import show, show_json

__all__ = ["run_collide"]


def run_collide(options: argparse.Namespace) -> int:
    """Prove a vehicle's box by solids; exit code 1 where something touches."""
    vehicle = placed_first(load(options.file))
    collision = collide(vehicle)
    if options.json:
        show_json(collision_data(vehicle, collision))
        return int(not collision.clear)
    show(describe_collision(collision), vehicle.shown_in)
    for finding in collision_findings(vehicle, collision):
        show(f"{word(finding.severity.value)}: {finding.title}. {finding.text}", vehicle.shown_in)
    return int(not collision.clear)

"""Kits in words: sizes as they are typed, stock as it is shown, what is undercut."""

import re

from mild_badger.core.errors import InputError
from mild_badger.core.mesh.shift import least_sound_teeth
from mild_badger.core.message import say
from mild_badger.core.vehicle.kit import Kit, Stock

__all__ = ["describe_size", "describe_stock", "describe_undercut", "duplicate_name", "parse_sizes"]


def describe_size(sizes: tuple[int, ...]) -> str:
    """Write sizes shortly: runs of three or more as a range."""
    words: list[str] = []
    start = 0
    for place in range(1, len(sizes) + 1):
        if place < len(sizes) and sizes[place] == sizes[place - 1] + 1:
            continue
        run = sizes[start:place]
        words += (
            [say("mesh.to", run=run[0], run_2=run[-1])] if len(run) > 2 else [str(z) for z in run]
        )
        start = place
    return ", ".join(words)


def parse_sizes(text: str) -> list[int]:
    """Read sizes as they are typed: 11, 13-15; empty for none.

    Raises
    ------
    InputError
        Something is no tooth count, or a range that does not rise.
    """
    sizes: set[int] = set()
    for word in re.split(r"[,;\s]+", text.replace("–", "-").replace(" to ", "-").strip()):
        if not word:
            continue
        match = re.fullmatch(r"(\d{1,4})(?:-(\d{1,4}))?", word, re.ASCII)
        if match is None:
            raise InputError(say("mesh.sizes-is-no-tooth-count-type-11-13-15", word=word[:20]))
        first, last = int(match[1]), int(match[2] or match[1])
        if not 4 <= first <= last <= 400:
            raise InputError(say("mesh.sizes-must-rise-from-4-to-400", word=word))
        sizes.update(range(first, last + 1))
    return sorted(sizes)


def describe_stock(stock: Stock) -> str:
    """Write a stock: a number, or made for what is made as it is needed."""
    return say("mesh.made") if stock is None else str(stock)


def describe_undercut(kit: Kit) -> str:
    """Say which of a kit's sizes a rack would undercut at its pressure angle."""
    limit = least_sound_teeth(kit.pressure_angle_deg)
    under = tuple(z for z in kit.sizes if z < limit)
    if not kit.any_seat or not under:
        return say(
            "mesh.at-cut-teeth-are-sound-from-up",
            pressure_angle_deg=kit.pressure_angle_deg,
            limit=limit,
        )
    return say(
        "mesh.at-teeth-of-gears-with-fewer-than-are",
        pressure_angle_deg=kit.pressure_angle_deg,
        limit=limit,
        size=describe_size(under),
    )


def duplicate_name(name: str, taken: set[str]) -> str:
    """Give a copy a name of its own."""
    number = 2
    while f"{name} {number}" in taken:
        number += 1
    return f"{name} {number}"

"""Kits in words: sizes as they are typed, stock as it is shown, what is undercut."""

import re

from mild_badger.core.errors import InputError
from mild_badger.core.mesh.shift import undercut_limit
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
        words += [f"{run[0]} to {run[-1]}"] if len(run) > 2 else [str(z) for z in run]
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
            raise InputError(f"Sizes: {word[:20]!r} is no tooth count. Type 11, 13-15.")
        first, last = int(match[1]), int(match[2] or match[1])
        if not 4 <= first <= last <= 400:
            raise InputError(f"Sizes: {word} must rise, from 4 to 400.")
        sizes.update(range(first, last + 1))
    return sorted(sizes)


def describe_stock(stock: Stock) -> str:
    """Write a stock: a number, or made for what is made as it is needed."""
    return "made" if stock is None else str(stock)


def describe_undercut(kit: Kit) -> str:
    """Say which of a kit's sizes a rack would undercut at its pressure angle."""
    limit = int(undercut_limit(kit.pressure_angle_deg))
    under = tuple(z for z in kit.sizes if z < limit)
    if not kit.any_seat or not under:
        return f"At {kit.pressure_angle_deg:g}° cut teeth are sound from {limit} up."
    return (
        f"At {kit.pressure_angle_deg:g}° teeth of gears with fewer than {limit} are undercut: here "
        f"{describe_size(under)}. Shift their profile, or make more teeth."
    )


def duplicate_name(name: str, taken: set[str]) -> str:
    """Give a copy a name of its own."""
    number = 2
    while f"{name} {number}" in taken:
        number += 1
    return f"{name} {number}"

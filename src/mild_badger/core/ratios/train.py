"""A train of pairs as a thing of its own: its ratio, its meshes, its gears."""

from fractions import Fraction
from math import prod

from mild_badger.core.vehicle.model import GearPair

__all__ = ["gear_count", "mesh_count", "train_ratio", "train_text"]


def train_ratio(train: tuple[GearPair, ...]) -> Fraction:
    """Ratio of a train, turns in per turn out, positive: idlers change only the direction."""
    return Fraction(prod(p.driven for p in train), prod(p.driver for p in train))


def mesh_count(train: tuple[GearPair, ...]) -> int:
    """How many meshes the power passes; each turns the direction over."""
    return sum(1 + len(pair.idlers) for pair in train)


def gear_count(train: tuple[GearPair, ...]) -> int:
    """How many gears the train takes, idlers among them."""
    return sum(2 + len(pair.idlers) for pair in train)


def train_text(train: tuple[GearPair, ...]) -> str:
    """Write a train as builders do: driver first, pairs apart, idlers in brackets."""
    return " · ".join(
        ":".join([str(p.driver), *(f"({z})" for z in p.idlers), str(p.driven)]) for p in train
    )

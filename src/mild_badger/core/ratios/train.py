"""A train of pairs as a thing of its own: its ratio, its meshes, its gears."""

import re
from fractions import Fraction
from itertools import pairwise

from pydantic import ValidationError

from mild_badger.core.drivetrain.lever_motion import mean_turns
from mild_badger.core.errors import InputError
from mild_badger.core.message import say
from mild_badger.core.vehicle.box import MAX_PAIRS, GearPair, LeverPlace, Slot, chain_ratio, summed
from mild_badger.core.vehicle.boxes import Box

__all__ = [
    "gear_count",
    "gear_ratio",
    "mesh_count",
    "mesh_links",
    "parse_train",
    "train_fractions",
    "train_ratio",
    "train_text",
]


def train_ratio(train: tuple[GearPair, ...]) -> Fraction:
    """Ratio of a train, turns in per turn out, positive: idlers change only the direction."""
    return chain_ratio(train)


def gear_ratio(box: Box, gear: str) -> Fraction | None:
    """Ratio of the box in a gear, turns in per turn out, positive; None while nothing is chosen.

    A lever drive's is the mean over its turn; None where its ratchets gain no tooth or it jams.
    """
    if not box.ready(gear):
        return None
    one = chain_ratio(link.pair for link in box.chain(gear))
    slot = box.slot(gear)
    if box.lever is not None and isinstance(slot, LeverPlace):
        mean = mean_turns(box.lever, slot.fulcrum_mm)
        return one / mean if mean else None
    if isinstance(slot, Slot) and slot.second:
        return summed(one, chain_ratio(slot.second))
    return one


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


def train_fractions(train: tuple[GearPair, ...]) -> str:
    """Write a train's ratio as the product of its pairs: ``25/12 = 5/3 × 5/4``."""
    whole = str(train_ratio(train))
    parts = [str(Fraction(pair.driven, pair.driver)) for pair in train]
    return whole if len(parts) < 2 else f"{whole} = {' × '.join(parts)}"


def parse_train(text: str) -> tuple[GearPair, ...]:
    """Read a train as :func:`train_text` writes it; an empty text is an empty train.

    Pairs are set apart by ``·``, ``*``, ``×``, ``;`` or blanks; the sizes of a pair by ``:`` or
    ``/``, with idlers in brackets, round or square, between them: ``8:(24):12 · 16:20``.

    Raises
    ------
    InputError
        Something is no pair of tooth counts, or there are too many pairs.
    """
    round_ = text.strip().replace("[", "(").replace("]", ")")
    tight = re.sub(r"\s*([:/()])\s*", r"\1", round_)
    words = [word for word in re.split(r"[\s·*×;,]+", tight) if word]
    if len(words) > MAX_PAIRS:
        raise InputError(
            say(
                "ratios.a-train-has-at-most-pairs-this-one-has",
                max_pairs=MAX_PAIRS,
                count_of_words=len(words),
            )
        )
    pairs = []
    for word in words:
        match = re.fullmatch(r"(\d{1,4})((?:[:/]\(\d{1,4}\))*)[:/](\d{1,4})", word, re.ASCII)
        if match is None:
            raise InputError(say("ratios.is-no-pair-of-tooth-counts-write-driver", word=word[:30]))
        idlers = tuple(int(z) for z in re.findall(r"\d+", match[2]))
        try:
            pair = GearPair(driver=int(match[1]), driven=int(match[3]), idlers=idlers)
        except ValidationError as error:
            raise InputError(
                say("ratios.tooth-counts-go-from-4-to-400-with-at-most-4", word=word)
            ) from error
        pairs.append(pair)
    return tuple(pairs)


def mesh_links(train: tuple[GearPair, ...]) -> list[tuple[int, int]]:
    """List which teeth mesh with which, pair by pair, over the idlers."""
    links = []
    for pair in train:
        row = (pair.driver, *pair.idlers, pair.driven)
        links += list(pairwise(row))
    return links

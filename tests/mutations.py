"""Damaged files of every kind: bytes flipped, cut, doubled, and odd values in odd places."""

import copy
import json
import random
from collections.abc import Callable
from pathlib import Path
from typing import Any

from examples import example_vehicle
from mild_badger.core.drivetrain.graph_file import graph_report, read_graph
from mild_badger.core.errors import BadgerError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.kit.catalogue import kit_text, shipped_kit, shipped_kits
from mild_badger.core.targets.schools import RatioConvention
from mild_badger.core.targets.table import read_targets, targets_csv
from mild_badger.core.trial.expected import places
from mild_badger.core.trial.record_reading import take_reading
from mild_badger.core.trial.rig import RigRun, pulses
from mild_badger.core.vehicle.codec import encode
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.files.kit_file import load_kit
from mild_badger.files.reader import read_file, read_text
from mild_badger.files.recovery import find_recoveries, write_recovery
from mild_badger.files.vehicle_file import load

__all__ = ["KINDS", "mutated", "read_mutated"]

ODD: tuple[bytes, ...] = (
    b"1e999",
    b"-1e999",
    b"NaN",
    b"Infinity",
    b"9" * 5000,
    b"[" * 3000,
    b"{" * 3000,
    b'"\\u0000"',
    b'"\\ud800"',
    b"\xff\xfe",
    b"\x00",
    b"null",
    b"true",
    b"-0",
    b'"' + b"x" * 20_000 + b'"',
    b";",
    b"\xef\xbb\xbf",
    b"\r\n",
    b"=1+1",
    b"{}",
    b"[]",
    b'"=cmd|x"',
)
VALUES: tuple[Any, ...] = (
    None,
    True,
    0,
    -1,
    1e300,
    "",
    "x" * 5000,
    [],
    {},
    [[]],
    {"a": 1},
    10**30,
    0.1,
    "1",
    "<b>",
    "\u202e",
    [None] * 50,
    -1e-300,
)
GRAPH = {
    "format": "mild-badger graph",
    "version": 1,
    "bodies": [{"id": name} for name in ("motor", "worm", "wheel", "drum")],
    "couplings": [
        {"kind": "fixed", "of": ["motor", "worm"]},
        {"kind": "worm", "of": ["worm", "wheel"], "teeth": [24]},
        {"kind": "fixed", "of": ["wheel", "drum"]},
    ],
    "inputs": ["motor"],
    "loads": {"drum": -100.0},
    "positions": {},
}


def _graph(path: Path) -> None:
    graph_report(read_graph(read_file(path)))


def _pulses(path: Path) -> None:
    body = places(example_vehicle())[0].body
    take_reading(read_text(path), "1", body, slots_in=6, slots_out=6)


def _recovery(path: Path) -> None:
    folder = path.parent / "recovery"
    folder.mkdir(exist_ok=True)
    whole = write_recovery(folder, example_vehicle(), None)
    text = whole.read_text()
    whole.write_text(text.replace('"owner_started": "', '"owner_started": "1', 1))
    (folder / "0-0.recovery.json").write_bytes(path.read_bytes())
    assert whole in [recovery.file for recovery in find_recoveries(folder)]


def _vehicle(path: Path) -> None:
    evaluate(load(path))


def _whole(kind: str, chance: random.Random) -> bytes:
    demo = example_vehicle(chance.choice(list(DEMOS)))
    match kind:
        case "vehicle":
            return encode(demo).encode()
        case "kit":
            return kit_text(shipped_kit(chance.choice(shipped_kits()))).encode()
        case "graph":
            return json.dumps(GRAPH).encode()
        case "targets":
            return targets_csv(demo.real).encode()
        case "pulses":
            body = places(example_vehicle())[0].body
            run = RigRun(position="1", body=body, seconds=1.0)
            return "\n".join(pulses(example_vehicle(), run)).encode()
        case _:
            left = {
                "owner": 2**22,
                "owner_started": "1",
                "original": None,
                "written": "2026-01-01T00:00:00+00:00",
                "document": json.loads(encode(demo)),
            }
            return json.dumps(left).encode()


KINDS: dict[str, Callable[[Path], object]] = {
    "vehicle": _vehicle,
    "kit": lambda path: load_kit(str(path)),
    "graph": _graph,
    "targets": lambda path: read_targets(read_text(path), RatioConvention.TURNS_IN),
    "pulses": _pulses,
    "recovery": _recovery,
}
"""Each kind of file and what reads it."""


def mutated(kind: str, seed: int) -> bytes:
    """Make a damaged file of a kind."""
    chance = random.Random(seed)
    data = _whole(kind, chance)
    if kind not in ("targets", "pulses") and chance.random() < 0.6:
        value = json.loads(data)
        for _ in range(chance.randint(1, 3)):
            _odd_leaf(value, chance)
        return json.dumps(value).encode()
    for _ in range(chance.randint(1, 4)):
        at = chance.randrange(len(data) + 1)
        to = min(len(data), at + chance.choice((1, 1, 5, 50, 1000)))
        match chance.randrange(5):
            case 0:
                data = data[:at]
            case 1:
                data = data[:at] + data[to:]
            case 2:
                data = data[:at] + data[at:to] * 2 + data[to:]
            case 3:
                data = data[:at] + bytes([chance.randrange(256)]) + data[at + 1 :]
            case _:
                data = data[:at] + chance.choice(ODD) + data[to:]
    return data


def _odd_leaf(value: Any, chance: random.Random) -> None:
    """Put an odd value somewhere into a tree."""
    here = value
    for _ in range(30):
        if isinstance(here, dict) and here:
            key: Any = chance.choice(list(here))
        elif isinstance(here, list) and here:
            key = chance.randrange(len(here))
        else:
            return
        if not isinstance(here[key], dict | list) or chance.random() < 0.15:
            here[key] = copy.deepcopy(chance.choice(VALUES))
            return
        here = here[key]


def read_mutated(kind: str, seed: int, folder: Path) -> str:
    """Write a damaged file and read it; give the sentence, empty where it was read after all.

    Anything but a short sentence is an error of the program and raised.
    """
    path = folder / f"damaged.{kind}.json"
    path.write_bytes(mutated(kind, seed))
    try:
        KINDS[kind](path)
    except BadgerError as error:
        sentence = str(error)
        assert 5 < len(sentence) <= 300, sentence
        return sentence
    return ""

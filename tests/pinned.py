"""Figures held as they were when the whole was audited: what changes them must mean to.

They stand beside the tests in `pinned/`; `PIN=1` in the environment writes them anew.
"""

import dataclasses
import json
import math
import os
from collections.abc import Mapping
from enum import Enum
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np
from pydantic import BaseModel

from mild_badger.core.figures import Figure
from mild_badger.core.figures import plain as without_marks
from mild_badger.core.message import Message

__all__ = ["hold", "plain"]

MANY = 16
"""Lists of numbers or points that are longer are held by their sums."""
SENTENCE = 4
"""Texts of so many words are for readers and not held."""


def plain(value: Any) -> Any:
    """Make plain data of results: classes by their fields, fractions as text, long lists summed.

    A message is held by its code and values, whatever words it has.
    """
    if isinstance(value, BaseModel):
        return plain(value.model_dump(mode="json"))
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        fields = (f.name for f in dataclasses.fields(value))
        return {n: plain(getattr(value, n)) for n in fields if not callable(getattr(value, n))}
    if isinstance(value, Enum):
        return value.value
    if isinstance(value, Fraction):
        return str(value)
    if isinstance(value, np.ndarray):
        return plain(value.tolist())
    if isinstance(value, np.generic):
        return plain(value.item())
    if isinstance(value, float):
        return f"{value}" if math.isinf(value) or math.isnan(value) else float(f"{value:.8g}")
    if isinstance(value, Mapping):
        return {str(key): plain(inner) for key, inner in value.items()}
    if isinstance(value, set | frozenset):
        return sorted((plain(item) for item in value), key=str)
    if isinstance(value, list | tuple):
        return _summed([plain(item) for item in value])
    if isinstance(value, Message):
        return {"says": value.code, **plain(value.values)}
    if isinstance(value, Figure):
        return plain(value.value)
    if isinstance(value, str):
        return "…" if len(value.split()) >= SENTENCE else without_marks(value)
    return value


def _summed(items: list[Any]) -> Any:
    """Hold a long list of numbers, or of points, by sums that any change moves."""
    flat = [number for item in items for number in (item if isinstance(item, list) else [item])]
    if len(flat) < MANY or not all(type(number) in (int, float) for number in flat):
        return items
    places = range(1, len(flat) + 1)
    return {
        "count": len(flat),
        "sum": float(f"{math.fsum(flat):.8g}"),
        "squares": float(f"{math.fsum(n * n for n in flat):.8g}"),
        "moment": float(f"{math.fsum(n * p for n, p in zip(flat, places, strict=True)):.8g}"),
    }


def hold(test: str, name: str, figures: Mapping[str, Any]) -> None:
    """Compare figures with those held beside a test file, to six digits."""
    path = Path(test).parent / "pinned" / f"{name}.json"
    found = plain(figures)
    if os.environ.get("PIN"):
        path.parent.mkdir(exist_ok=True)
        rows = (
            f"{json.dumps(key)}: {json.dumps(row, ensure_ascii=False)}"
            for key, row in found.items()
        )
        path.write_text("{\n" + ",\n".join(rows) + "\n}\n", encoding="utf-8")
    held = json.loads(path.read_text(encoding="utf-8"))
    apart = list(_apart(found, held, ""))
    assert not apart, "\n".join(apart[:20])


def _apart(found: Any, held: Any, where: str) -> Any:
    """List where two pieces of plain data differ."""
    if isinstance(found, dict) and isinstance(held, dict):
        for key in dict.fromkeys([*found, *held]):
            missing = object()
            yield from _apart(found.get(key, missing), held.get(key, missing), f"{where}/{key}")
    elif isinstance(found, list) and isinstance(held, list):
        if len(found) != len(held):
            yield f"{where}: {len(found)} entries, {len(held)} held"
        for number, (one, other) in enumerate(zip(found, held, strict=False)):
            yield from _apart(one, other, f"{where}[{number}]")
    elif type(found) in (int, float) and type(held) in (int, float):
        if not math.isclose(found, held, rel_tol=1e-6, abs_tol=1e-7):
            yield f"{where}: {found}, {held} held"
    elif found != held:
        yield f"{where}: {found!r}, {held!r} held"

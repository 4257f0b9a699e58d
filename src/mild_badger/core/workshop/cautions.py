"""The cautions shown where work can hurt someone: advice from a data file, never instruction."""

import json
from functools import cache
from importlib import resources

__all__ = ["cautions"]


@cache
def cautions() -> tuple[str, ...]:
    """Return the sentences in the order in which they are shown."""
    file = resources.files("mild_badger") / "data" / "cautions.json"
    data = json.loads(file.read_text(encoding="utf-8"))
    return tuple(entry["text"] for entry in data["cautions"])

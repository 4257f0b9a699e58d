"""What every field of the document is called and says: one table, in ``data/fields.txt``.

The schema and its description in the docs read it as it is. Screens and sentences read what the
catalogue of messages makes of it: its codes are ``field.`` and ``field-tip.`` with the field's key.
"""

from collections.abc import Iterator, Sequence
from functools import lru_cache
from pathlib import Path
from typing import Any, NamedTuple, get_args

from pydantic import BaseModel

from mild_badger.core.message import say

__all__ = [
    "FieldText",
    "field_texts",
    "models_in",
    "text_at",
    "text_of",
    "title_at",
    "told_field",
    "unit_of",
]

TABLE = Path(__file__).parents[2] / "data" / "fields.txt"
UNITS = {
    "_n_per_mm": "N/mm",
    "_n_mm": "N·mm",
    "_mm3": "mm³",
    "_mm": "mm",
    "_rpm": "rpm",
    "_deg": "°",
    "_kg": "kg",
    "_percent": "%",
    "_mpa": "N/mm²",
    "_hours": "h",
    "_u": "grid units",
    "_v": "V",
    "_a": "A",
    "_s": "s",
    "_n": "N",
    "_m": "m",
}
"""Units by the ends of fields' names, longer ones first."""
OWN_UNITS = {"Suspension.rate_n_mm": "N/mm", "Placing.seconds": "s", "Measured.mm": "mm"}


class FieldText(NamedTuple):
    """A field's title, as it stands in a sentence, what it says, and its unit, "" for none."""

    title: str
    description: str
    unit: str


@lru_cache(maxsize=1)
def field_texts() -> dict[str, FieldText]:
    """Read the table: texts by model and field, ``Motor.no_load_rpm``."""
    texts = {}
    for line in TABLE.read_text(encoding="utf-8").splitlines():
        if line and not line.startswith("#"):
            key, title, description = (part.strip() for part in line.split("|"))
            texts[key] = FieldText(title, description, unit_of(key))
    return texts


def unit_of(key: str) -> str:
    """Give the unit of a field, as its name says."""
    if key in OWN_UNITS:
        return OWN_UNITS[key]
    return next((unit for end, unit in UNITS.items() if key.endswith(end)), "")


def told_field(key: str) -> FieldText | None:
    """Give a field's text in the language in use, by its key; None for no field of a vehicle."""
    text = field_texts().get(key)
    if text is None:
        return None
    title, tip = f"field.{key}", f"field-tip.{key}"
    return FieldText(say(title), say(tip), text.unit)


def text_of(model: type[BaseModel], field: str) -> FieldText | None:
    """Find a field's text, in the language in use; None for a model that no vehicle file has."""
    return told_field(f"{model.__name__}.{field}")


def title_at(root: type[BaseModel], steps: Sequence[str | int]) -> str | None:
    """Give the title of the field at a place in a document; None where there is no such field."""
    text = text_at(root, steps)
    return None if text is None else text.title


def text_at(root: type[BaseModel], steps: Sequence[str | int]) -> FieldText | None:
    """Find the text of the field at a place in a document; None where there is no such field."""
    models: tuple[type[BaseModel], ...] = (root,)
    text = None
    for step in steps:
        if isinstance(step, int):
            continue
        owner = next((model for model in models if step in model.model_fields), None)
        if owner is None:
            return None
        text = text_of(owner, step)
        models = tuple(models_in(owner.model_fields[step].annotation))
    return text


def models_in(annotation: Any) -> Iterator[type[BaseModel]]:
    """List the models that a field's annotation names, whatever they are held in."""
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        yield annotation
    for part in get_args(annotation):
        yield from models_in(part)

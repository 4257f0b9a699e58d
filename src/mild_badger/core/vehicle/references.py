"""Every field that means something else of the document, found by one walk.

Fields say themselves what they mean (``RefersTo`` in their annotation), so that renaming, removing
and checking need no list of places.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cache
from typing import Any, TypeVar

from pydantic import BaseModel

from mild_badger.core.mechanisms.crane.model import BOX_OUTPUT, MOTOR_SHAFT, OWN_INPUT
from mild_badger.core.vehicle.base import RefersTo
from mild_badger.core.vehicle.edit.change import Change, Path
from mild_badger.core.vehicle.field_texts import models_in
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.trial import NEUTRAL

__all__ = ["Reference", "lost_references", "references", "repointed"]

M = TypeVar("M", bound=BaseModel)


@dataclass(frozen=True)
class Reference:
    """A place of the document, what kind of thing it means, and which one."""

    path: Path
    what: str
    value: str


def references(node: object, path: Path = ()) -> Iterator[Reference]:
    """List the references of a document or of a part of it."""
    if isinstance(node, BaseModel):
        for name, what in _fields_that_refer(type(node)):
            value = getattr(node, name)
            if what is None:
                yield from references(value, (*path, name))
                continue
            several = value if isinstance(value, tuple) else (value,)
            for number, meant in enumerate(several):
                if meant:
                    at = (number,) if isinstance(value, tuple) else ()
                    yield Reference((*path, name, *at), what, meant)
    elif isinstance(node, tuple):
        for number, item in enumerate(node):
            yield from references(item, (*path, number))


@cache
def _fields_that_refer(model: type[BaseModel]) -> tuple[tuple[str, str | None], ...]:
    """List a model's fields that refer to something, with what; None where something in them does.

    Whatever holds no reference at all is not walked through: kits and kept versions are long.
    """
    fields: list[tuple[str, str | None]] = []
    for name, field in model.model_fields.items():
        marks = [mark.what for mark in field.metadata if isinstance(mark, RefersTo)]
        if marks:
            fields.append((name, marks[0]))
        elif any(_fields_that_refer(inside) for inside in models_in(field.annotation)):
            fields.append((name, None))
    return tuple(fields)


def repointed(vehicle: Vehicle, what: str, change: Callable[[str], str | None]) -> list[Change]:
    """Change what references of a kind mean; None takes them out of lists, and empties fields.

    Gives whole fields of the document, one change each.
    """
    changes = []
    for name in Vehicle.model_fields:
        old = getattr(vehicle, name)
        new = _changed(old, what, change)
        if new is not old:
            changes.append(Change((name,), new))
    return changes


def _changed(node: Any, what: str, change: Callable[[str], str | None]) -> Any:
    if isinstance(node, BaseModel):
        update = {}
        for name, field in type(node).model_fields.items():
            old = getattr(node, name)
            if any(isinstance(mark, RefersTo) and mark.what == what for mark in field.metadata):
                new = _meant(old, change)
            else:
                new = _changed(old, what, change)
            if new is not old:
                update[name] = new
        return node.model_copy(update=update) if update else node
    if isinstance(node, tuple):
        items = tuple(_changed(item, what, change) for item in node)
        return node if all(a is b for a, b in zip(items, node, strict=True)) else items
    return node


def _meant(value: Any, change: Callable[[str], str | None]) -> Any:
    if isinstance(value, tuple):
        items = [item if item is None else (item, change(item)) for item in value]
        kept = tuple(
            item if item is None else item[1]
            for item in items
            if item is None or item[1] is not None
        )
        return value if kept == value else kept
    if not value:
        return value
    new = change(value)
    return value if new == value else new


def lost_references(vehicle: Vehicle) -> tuple[Reference, ...]:
    """List the references to what is not there; those that the document refuses cannot occur."""
    crane, functions = vehicle.crane, vehicle.functions
    known: dict[str, set[str]] = {
        "gear": {NEUTRAL, *(gear.id for gear in vehicle.real.gears)},
        "crane output": {
            MOTOR_SHAFT,
            BOX_OUTPUT,
            OWN_INPUT,
            *(o.id for o in (crane.outputs if crane else ())),
        },
        "function output": {*(o.id for o in (functions.outputs if functions else ()))},
        "version": {*(version.id for version in vehicle.versions)},
    }
    return tuple(r for r in references(vehicle) if r.value not in known[r.what])

"""Extreme documents: demo vehicles with some fields at the ends of what the schema allows."""

import copy
import random
from collections.abc import Iterator
from functools import cache
from typing import Any

from pydantic import ValidationError

from examples import example_vehicle
from mild_badger.core.vehicle.codec import encode
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["extreme_vehicle", "fields_of"]

Place = tuple[str | int, ...]
TINY, HUGE = 1e-3, 1e5
"""How far a number goes that the schema does not bound."""


@cache
def schema() -> dict[str, Any]:
    return Vehicle.model_json_schema()


@cache
def demo_data(name: str) -> dict[str, Any]:
    data: dict[str, Any] = example_vehicle(name).model_dump(mode="json")
    return data


def fields_of(data: Any, rule: dict[str, Any]) -> Iterator[tuple[Place, dict[str, Any]]]:
    """List every leaf of a document with the schema's rule for it."""
    for option in _options(rule, data):
        if isinstance(data, dict) and "properties" in option:
            for name, inner in option["properties"].items():
                for place, leaf in fields_of(data.get(name), inner):
                    yield (name, *place), leaf
            return
        if isinstance(data, list) and option.get("type") == "array":
            items = option.get("items") or {}
            for number, entry in enumerate(data[:40]):
                inner = option["prefixItems"][number] if "prefixItems" in option else items
                for place, leaf in fields_of(entry, inner):
                    yield (number, *place), leaf
            return
    if not isinstance(data, dict | list):
        yield (), rule


def _options(rule: dict[str, Any], data: Any) -> list[dict[str, Any]]:
    """Resolve references and unions; for a union of boxes, the one that the data is."""
    if "$ref" in rule:
        return _options(schema()["$defs"][rule["$ref"].rpartition("/")[2]], data)
    tag = rule.get("discriminator")
    if tag and isinstance(data, dict):
        return _options({"$ref": tag["mapping"][data[tag["propertyName"]]]}, data)
    found = []
    for key in ("anyOf", "oneOf", "allOf"):
        for option in rule.get(key, ()):
            found += _options(option, data)
    return found or [rule]


def extremes(rule: dict[str, Any], now: Any, chance: random.Random) -> list[Any]:
    """Give the values at the ends of what a rule allows."""
    values: list[Any] = []
    for option in _options(rule, now):
        if "enum" in option:
            values += option["enum"]
        elif "const" in option:
            values.append(option["const"])
        elif option.get("type") == "null":
            values.append(None)
        elif option.get("type") == "boolean":
            values += [True, False]
        elif option.get("type") in ("integer", "number"):
            whole = option["type"] == "integer"
            step = 1 if whole else TINY
            low = option.get(
                "minimum", option.get("exclusiveMinimum", -HUGE if not whole else -1000)
            )
            high = option.get(
                "maximum", option.get("exclusiveMaximum", HUGE if not whole else 1000)
            )
            low += step * ("exclusiveMinimum" in option)
            high -= step * ("exclusiveMaximum" in option)
            values += [low, high, chance.choice([low + step, high - step, 0, 1])]
        elif option.get("type") == "string" and "pattern" not in option:
            most = min(option.get("maxLength", 200), 2000)
            values += ["x" * most, "<b>&amp;\u202e=1+1", "й" * min(most, 20)]
        elif option.get("type") == "string":
            values += ["é" * min(option.get("maxLength", 24), 24), "<i>", "a/b: 1"]
    return values


def extreme_vehicle(seed: int, *, demo: str = "") -> Vehicle:
    """Make a valid vehicle with one to eight fields at an extreme."""
    chance = random.Random(seed)
    name = demo or chance.choice(list(DEMOS))
    data = copy.deepcopy(demo_data(name))
    places = list(fields_of(data, schema()))
    vehicle = example_vehicle(name)
    for _ in range(chance.randint(1, 8)):
        place, rule = chance.choice(places)
        here: Any = data
        try:
            for step in place[:-1]:
                here = here[step]
            before = here[place[-1]]
        except (KeyError, IndexError, TypeError):
            continue  # an earlier change has taken that place away
        values = extremes(rule, before, chance)
        if not values:
            continue
        here[place[-1]] = chance.choice(values)
        try:
            vehicle = Vehicle.model_validate(data)
        except ValidationError:
            here[place[-1]] = before
    encode(vehicle)  # what is valid can be saved
    return vehicle

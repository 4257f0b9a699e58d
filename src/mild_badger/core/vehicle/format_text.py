"""The file format described for a reader, made from its schema; it is ``docs/file-format.md``."""

from collections.abc import Iterator
from typing import Any

from mild_badger.core.vehicle.codec import FORMAT, VehicleFile, schema
from mild_badger.core.vehicle.field_texts import field_texts
from mild_badger.core.vehicle.migrate import VERSION

__all__ = ["format_text"]

BOUNDS = (
    ("minimum", "≥ {:g}"),
    ("exclusiveMinimum", "> {:g}"),
    ("maximum", "≤ {:g}"),
    ("exclusiveMaximum", "< {:g}"),
)
KINDS = {"number": "number", "integer": "whole number", "string": "text", "boolean": "yes or no"}


def format_text() -> str:
    """Write the whole format as text with a heading and a table for each part of it."""
    whole = schema()
    lines = [
        "# The vehicle file",
        "",
        "Made from the schema by `mild-badger schema --markdown`; not to be changed by hand.",
        "",
        f'A file `*.badger.json` is JSON in UTF-8 with `"format": "{FORMAT}"` and `"version": '
        f"{VERSION}`. Fields that are left out have their default; unknown ones are refused.",
    ]
    for name, model in ((VehicleFile.__name__, whole), *sorted(whole["$defs"].items())):
        if "properties" in model:
            lines += _model(name, model)
    return "\n".join(lines) + "\n"


def _model(name: str, model: dict[str, Any]) -> Iterator[str]:
    first = model.get("description", "").split("\n\n")[0].replace("\n", " ").replace("``", "`")
    yield from ("", f"## {name}", "", first, "")
    yield "| field | title | type and range | unit | default | meaning |"
    yield "| --- | --- | --- | --- | --- | --- |"
    required = model.get("required", [])
    for field, described in model["properties"].items():
        text = field_texts()[f"{name}.{field}"]
        default = "required" if field in required else _default(described)
        row = (f"`{field}`", text.title, _type(described), text.unit, default, text.description)
        yield f"| {' | '.join(row)} |"


def _default(described: dict[str, Any]) -> str:
    value = described.get("default")
    if value is None:
        return "none"
    if isinstance(value, dict) or (isinstance(value, list) and value):
        return "as below" if isinstance(value, dict) else f"{len(value)} entries"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list) or value == "":
        return "empty"
    return str(value)


def _type(described: dict[str, Any]) -> str:
    for union in ("anyOf", "oneOf"):
        if union in described:
            return " or ".join(dict.fromkeys(map(_type, described[union])))
    if "$ref" in described:
        name = described["$ref"].rpartition("/")[2]
        return f"[{name}](#{name.lower()})"
    if "const" in described or "enum" in described:
        values = described.get("enum", [described.get("const")])
        return ", ".join(f"“{v}”" if isinstance(v, str) else str(v) for v in values)
    kind = described.get("type", "")
    if kind == "array":
        most = f", at most {described['maxItems']}" if "maxItems" in described else ""
        items = described.get("items") or described.get("prefixItems", [{}])[0]
        return f"list of {_type(items)}{most}"
    if kind == "null":
        return "none"
    if kind == "object":
        return "object"
    limits = [words.format(described[key]) for key, words in BOUNDS if key in described]
    if "maxLength" in described:
        limits.append(f"at most {described['maxLength']} letters")
    return " ".join([KINDS.get(kind, kind), *limits[:1]]) + "".join(f", {x}" for x in limits[1:])

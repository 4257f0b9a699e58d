"""The file's text: JSON with a format name and a version, checked field by field."""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field, ValidationError

from mild_badger.core.errors import DocumentError
from mild_badger.core.json_text import parse_json
from mild_badger.core.message import say
from mild_badger.core.vehicle.base import DocumentNode
from mild_badger.core.vehicle.boxes import BOXES
from mild_badger.core.vehicle.field_texts import field_texts
from mild_badger.core.vehicle.labels import field_label, problem_text, shown_value
from mild_badger.core.vehicle.migrate import VERSION, migrate
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized

__all__ = ["FORMAT", "VehicleFile", "decode", "decode_data", "encode", "explain", "schema"]

FORMAT: Literal["mild-badger vehicle"] = "mild-badger vehicle"


class VehicleFile(DocumentNode):
    """The file as a whole."""

    format: Literal["mild-badger vehicle"] = FORMAT
    version: Annotated[int, Field(ge=1, le=VERSION)] = VERSION
    vehicle: Vehicle


def encode(vehicle: Vehicle) -> str:
    """Write a vehicle as the text of a ``*.badger.json`` file."""
    return VehicleFile(vehicle=vehicle).model_dump_json(indent=2) + "\n"


def decode(text: str | bytes) -> Vehicle:
    """Read a vehicle from a file's text.

    Raises
    ------
    DocumentError
        Not JSON, cut short, another format, too new, or a field that cannot be used; the message
        names the field and the remedy.
    """
    return decode_data(parse_json(text))


def decode_data(data: Any) -> Vehicle:
    """Read a vehicle from a file's JSON value; see :func:`decode`."""
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise DocumentError(
            say("vehicle.this-is-not-a-vehicle-file-its-format-should", format=FORMAT)
        )
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise DocumentError(
            say(
                "vehicle.version-is-not-a-file-version-it-should-be",
                shown_value=shown_value(version),
                version=VERSION,
            )
        )
    if version > VERSION:
        raise DocumentError(
            say(
                "vehicle.version-the-file-is-version-this-program",
                shown_value=shown_value(version),
                version=VERSION,
            )
        )
    try:
        return VehicleFile.model_validate(migrate(data)).vehicle
    except ValidationError as error:
        raise DocumentError(explain(error, data, Vehicle)) from error


def schema() -> dict[str, Any]:
    """Give the JSON Schema of a vehicle file, each field with title, meaning and unit."""
    whole = VehicleFile.model_json_schema()
    for name, model in (("VehicleFile", whole), *whole["$defs"].items()):
        for field, described in model.get("properties", {}).items():
            text = field_texts()[f"{name}.{field}"]
            described["title"] = capitalized(text.title)
            unit = say("vehicle.in", unit=text.unit) if text.unit else ""
            described["description"] = f"{text.description}{unit}"
    return whole


def explain(
    error: ValidationError, data: object = None, root: type[BaseModel] | None = None
) -> str:
    """Turn a validation error into sentences that name the fields.

    ``data`` is the document, ``root`` its model, from which fields have their titles.
    """
    problems = error.errors(include_url=False)
    sentences: list[str] = []
    for problem in problems:
        if problem["type"] == "value_error":
            message = problem["msg"].removeprefix("Value error, ")
            sentences.append(f"{capitalized(message)}.")
            continue
        place, known = _without_tag(problem["loc"]), problem["type"] != "extra_forbidden"
        if problem["type"].startswith("union_tag"):
            place = (*place, "architecture")
        sentences.append(problem_text(field_label(data, place, root, known=known), problem))
    text, told = sentences[0][:LONGEST_SENTENCES], 1
    while told < len(sentences) and len(text) + len(sentences[told]) < LONGEST_SENTENCES - 20:
        text, told = f"{text} {sentences[told]}", told + 1
    return (
        text
        if told == len(sentences)
        else say("vehicle.and-more", text=text, count_of_sentences=len(sentences) - told)
    )


LONGEST_SENTENCES = 220
"""So that with a file's name before it a message stays under 300 letters."""


def _without_tag(location: tuple[int | str, ...]) -> tuple[int | str, ...]:
    """Leave out the architecture that pydantic names after a field that is a union of boxes."""
    return tuple(
        part
        for n, part in enumerate(location)
        if not (n and location[n - 1] == "box" and part in BOXES)
    )

"""The kits that ship with the program, and kit files of the builder's own."""

import json
from functools import cache
from importlib import resources

from pydantic import ValidationError

from mild_badger.core.errors import DocumentError, KitError
from mild_badger.core.json_text import parse_json
from mild_badger.core.message import say
from mild_badger.core.vehicle.codec import explain
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.labels import shown_value
from mild_badger.core.vehicle.model import Motor

__all__ = [
    "KIT_SUFFIX",
    "kit_text",
    "read_kit",
    "shipped_kit",
    "shipped_kits",
    "shipped_motors",
]

KIT_SUFFIX = ".kit.json"
FORMAT = "mild-badger kit"
VERSION = 2
"""Version 2 added wood and printed kits; new fields have defaults, so version 1 still reads."""


def shipped_kits() -> tuple[str, ...]:
    """List the names of the kits that ship with the program."""
    folder = resources.files("mild_badger") / "data" / "kits"
    return tuple(sorted(f.name.removesuffix(".kit.json") for f in folder.iterdir()))


@cache
def shipped_kit(name: str) -> Kit:
    """Load a kit that ships with the program.

    Raises
    ------
    KitError
        There is no such kit.
    """
    if name not in shipped_kits():
        raise KitError(
            say("kit.there-is-no-kit-called-there-is", name=name, listed=", ".join(shipped_kits()))
        )
    file = resources.files("mild_badger") / "data" / "kits" / f"{name}.kit.json"
    return read_kit(file.read_text(encoding="utf-8"), source=file.name)


@cache
def shipped_motors() -> tuple[Motor, ...]:
    """Load the list of invented motors that ships with the program."""
    file = resources.files("mild_badger") / "data" / "motors.json"
    data = json.loads(file.read_text(encoding="utf-8"))
    return tuple(Motor.model_validate(entry) for entry in data["motors"])


def read_kit(text: str | bytes, *, source: str) -> Kit:
    """Read a kit from the text of a kit file.

    Raises
    ------
    KitError
        The text is not a kit; the message names the line or the field.
    """
    try:
        data = parse_json(text)
    except DocumentError as error:
        raise KitError(f"{source}: {error}") from error
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise KitError(say("kit.not-a-kit-file-its-format-should-be", source=source, format=FORMAT))
    version = data.get("version")
    if not isinstance(version, int) or not 1 <= version <= VERSION:
        raise KitError(
            say(
                "kit.version-this-program-reads-versions-1-to",
                source=source,
                shown_value=shown_value(version),
                version=VERSION,
            )
        )
    try:
        return Kit.model_validate(data.get("kit"))
    except ValidationError as error:
        raise KitError(f"{source}: {explain(error, data.get('kit'), Kit)}") from error


def kit_text(kit: Kit) -> str:
    """Write a kit as the text of a kit file."""
    body = {"format": FORMAT, "version": VERSION, "kit": kit.model_dump(mode="json")}
    return json.dumps(body, indent=1, ensure_ascii=False) + "\n"

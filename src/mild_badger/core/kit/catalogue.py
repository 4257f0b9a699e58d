"""The kits that ship with the program, and kit files of the builder's own."""

import json
from functools import cache
from importlib import resources
from pathlib import Path

from pydantic import ValidationError

from mild_badger.core.errors import FileAccessError, KitError
from mild_badger.core.vehicle.codec import explain
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Motor

__all__ = [
    "KIT_SUFFIX",
    "kit_text",
    "kits_in",
    "load_kit",
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
        raise KitError(f"There is no kit called {name!r}; there is {', '.join(shipped_kits())}.")
    file = resources.files("mild_badger") / "data" / "kits" / f"{name}.kit.json"
    return read_kit(file.read_text(encoding="utf-8"), source=file.name)


@cache
def shipped_motors() -> tuple[Motor, ...]:
    """Load the list of invented motors that ships with the program."""
    file = resources.files("mild_badger") / "data" / "motors.json"
    data = json.loads(file.read_text(encoding="utf-8"))
    return tuple(Motor.model_validate(entry) for entry in data["motors"])


def kits_in(folder: Path) -> tuple[Path, ...]:
    """List the kit files of a folder, by name; none where there is no such folder."""
    if not folder.is_dir():
        return ()
    return tuple(sorted(folder.glob(f"*{KIT_SUFFIX}")))


def load_kit(name_or_path: str) -> Kit:
    """Load a shipped kit by name, or a kit file by its path.

    Raises
    ------
    KitError
        No such kit, or a file whose content cannot be used.
    FileAccessError
        The file cannot be read.
    """
    if name_or_path in shipped_kits():
        return shipped_kit(name_or_path)
    path = Path(name_or_path)
    if not path.exists() and "/" not in name_or_path and not name_or_path.endswith(".json"):
        return shipped_kit(name_or_path)
    try:
        return read_kit(path.read_text(encoding="utf-8"), source=path.name)
    except UnicodeDecodeError as error:
        raise KitError(f"{path.name}: not UTF-8 text, so not a kit file.") from error
    except OSError as error:
        raise FileAccessError(f"Cannot read {path}: {error.strerror}.") from error


def read_kit(text: str, *, source: str) -> Kit:
    """Read a kit from the text of a kit file.

    Raises
    ------
    KitError
        The text is not a kit; the message names the line or the field.
    """
    try:
        data = json.loads(text)
    except json.JSONDecodeError as error:
        raise KitError(
            f"{source}, line {error.lineno}, column {error.colno}: not complete JSON "
            f"({error.msg}). Mend that line, or save the kit anew from the program."
        ) from error
    except (ValueError, RecursionError) as error:
        raise KitError(f"{source}: holds nested lists or numbers no kit needs.") from error
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise KitError(f'{source}: not a kit file; its "format" should be "{FORMAT}".')
    version = data.get("version")
    if not isinstance(version, int) or not 1 <= version <= VERSION:
        raise KitError(
            f"{source}: version {version!r}; this program reads versions 1 to {VERSION}. Open it "
            "with a newer program, or save it as an older kit there."
        )
    try:
        return Kit.model_validate(data.get("kit"))
    except ValidationError as error:
        raise KitError(f"{source}: {explain(error)}") from error


def kit_text(kit: Kit) -> str:
    """Write a kit as the text of a kit file."""
    body = {"format": FORMAT, "version": VERSION, "kit": kit.model_dump(mode="json")}
    return json.dumps(body, indent=1, ensure_ascii=False) + "\n"

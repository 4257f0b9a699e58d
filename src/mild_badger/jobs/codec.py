"""How arguments and results pass between processes: JSON with exact fractions, known types only.

A message is eight bytes of length, big end first, then JSON. What JSON has not is an object with
one key that begins with ``$``. Only types that a job's own annotations reach can be made again.
"""

import dataclasses
import inspect
import json
import typing
from base64 import b64decode, b64encode
from collections.abc import Mapping
from enum import Enum
from fractions import Fraction
from functools import cache
from typing import IO, Any

from pydantic import BaseModel

from mild_badger.core.errors import DocumentError
from mild_badger.core.figures import Figure
from mild_badger.core.message import Message, say
from mild_badger.core.vehicle.sleeves import SleeveId
from mild_badger.jobs.registry import PARTS, work_of

__all__ = ["decode", "encode", "known_types", "read_job", "read_message", "write_message"]

LARGEST_MESSAGE = 400_000_000


def write_message(stream: IO[bytes], *parts: object) -> None:
    """Write one message and send it off.

    Raises
    ------
    TypeError
        A value of a type that no job passes.
    """
    data = json.dumps([encode(part) for part in parts], separators=(",", ":")).encode()
    stream.write(len(data).to_bytes(8, "big") + data)
    stream.flush()


def read_message(stream: IO[bytes], job: str) -> list[Any]:
    """Wait for one answer to a job.

    Raises
    ------
    EOFError
        The other side has ended, perhaps in the middle of a message.
    DocumentError
        It is no message of ours.
    """
    parts = _parts(stream)
    try:
        return [decode(part, job) for part in parts]
    except (ValueError, TypeError, KeyError, RecursionError) as error:
        raise DocumentError(say("jobs.the-answer-cannot-be-read", error=error)) from error


def read_job(stream: IO[bytes]) -> tuple[str, tuple[Any, ...]]:
    """Wait for a job: its name, and its arguments.

    Raises
    ------
    EOFError
        There are no more jobs.
    DocumentError
        There is no such job, or its arguments are none.
    """
    parts = _parts(stream)
    try:
        name, arguments = parts
        work_of(name)
        return name, decode(arguments, name)
    except (ValueError, TypeError, KeyError, RecursionError) as error:
        raise DocumentError(say("jobs.there-is-no-such-job", error=error)) from error


def _parts(stream: IO[bytes]) -> list[Any]:
    head = stream.read(8)
    if len(head) < 8:
        raise EOFError
    size = int.from_bytes(head, "big")
    if size > LARGEST_MESSAGE:
        raise DocumentError(say("jobs.the-message-is-longer-than-any-answer"))
    data = stream.read(size)
    if len(data) < size:
        raise EOFError
    try:
        parts = json.loads(data)
    except (ValueError, RecursionError) as error:
        raise DocumentError(say("jobs.the-message-is-no-json")) from error
    if not isinstance(parts, list):
        raise DocumentError(say("jobs.the-message-is-no-list"))
    return parts


def encode(value: Any) -> Any:
    """Turn a value into what JSON holds.

    Raises
    ------
    TypeError
        A value of a type that no job passes.
    """
    kind = type(value)
    if value is None or kind in (bool, str, int, float):
        return value
    if isinstance(value, Message):
        return {"$say": [value.code, {name: _passed(v) for name, v in value.values.items()}]}
    if isinstance(value, SleeveId):
        return {"$sleeve": [value.rail, value.number, list(value.couples)]}
    if isinstance(value, Figure):
        return {"$figure": [str(value), value.value, value.unit]}
    if isinstance(value, str) and not isinstance(value, Enum):
        return str(value)
    if isinstance(value, Enum):
        return {"$enum": [_name(kind), value.value]}
    if isinstance(value, Fraction):
        return {"$fraction": str(value)}
    if isinstance(value, bytes):
        return {"$bytes": b64encode(value).decode("ascii")}
    if isinstance(value, tuple):
        items = [encode(item) for item in value]
        return {"$named": [_name(kind), items]} if hasattr(value, "_fields") else {"$tuple": items}
    if isinstance(value, list):
        return [encode(item) for item in value]
    if isinstance(value, Mapping):
        return {"$map": [[encode(key), encode(item)] for key, item in value.items()]}
    if isinstance(value, set | frozenset):
        return {"$set": [encode(item) for item in value]}
    if dataclasses.is_dataclass(value):
        names = [field.name for field in dataclasses.fields(value) if field.init]
        return {"$data": [_name(kind), {name: encode(getattr(value, name)) for name in names}]}
    if isinstance(value, BaseModel):
        # What core holds is not checked once more: a search may hold what is still being built.
        names = list(kind.model_fields)
        return {"$model": [_name(kind), {name: encode(getattr(value, name)) for name in names}]}
    if hasattr(value, "item"):  # NumPy's numbers
        return encode(value.item())
    raise TypeError(f"{kind.__qualname__} is no type that a job passes")


def _passed(value: Any) -> Any:
    """Encode what goes into a message; what no job passes goes as it would be read."""
    try:
        return encode(value)
    except TypeError:
        return str(value)


def decode(value: Any, job: str) -> Any:
    """Make a value again; only types that this job's annotations reach.

    Raises
    ------
    ValueError, KeyError, TypeError
        It is none of the known forms and types.
    """
    if isinstance(value, list):
        return [decode(item, job) for item in value]
    if not isinstance(value, dict):
        return value
    if len(value) != 1:
        raise ValueError(value.keys())
    ((tag, inner),) = value.items()
    match tag:
        case "$say":
            code, values = inner
            return say(code, **{name: decode(item, job) for name, item in values.items()})
        case "$sleeve":
            return SleeveId(*inner)
        case "$figure":
            return Figure.of(*inner)
        case "$fraction":
            return Fraction(inner)
        case "$bytes":
            return b64decode(inner)
        case "$tuple":
            return tuple(decode(item, job) for item in inner)
        case "$set":
            return frozenset(decode(item, job) for item in inner)
        case "$map":
            return {decode(key, job): decode(item, job) for key, item in inner}
    kind, inner = known_types(job)[inner[0]], inner[1]
    if tag == "$enum" and issubclass(kind, Enum):
        return kind(inner)
    if tag == "$named" and issubclass(kind, tuple):
        return kind(*(decode(item, job) for item in inner))
    if not isinstance(inner, dict):
        raise TypeError(tag)
    fields = {name: decode(item, job) for name, item in inner.items()}
    if tag == "$data" and dataclasses.is_dataclass(kind):
        made: Any = kind(**fields)  # type: ignore[operator]
        return made
    if tag == "$model" and issubclass(kind, BaseModel):
        return kind.model_construct(**fields)
    raise ValueError(tag)


def _name(kind: type) -> str:
    return f"{kind.__module__}:{kind.__qualname__}"


@cache
def known_types(job: str) -> dict[str, Any]:
    """List the types that a job's annotations reach, by module and name."""
    known: dict[str, Any] = {}
    waiting: list[Any] = [work_of(name) for name in (job, *PARTS.get(job, ()))]
    while waiting:
        wanted = waiting.pop()
        if inspect.isfunction(wanted):
            waiting += _hints(wanted)
        elif inspect.isclass(wanted) and typing.get_origin(wanted) is None:
            name = _name(wanted)
            if name not in known and wanted.__module__.startswith("mild_badger.core."):
                known[name] = wanted
                waiting += _hints(wanted)
        else:
            waiting += typing.get_args(wanted)
    return known


def _hints(owner: Any) -> list[Any]:
    return list(typing.get_type_hints(owner).values())

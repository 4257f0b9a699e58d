"""Messages in JSON: code and values beside every sentence."""

from collections.abc import Mapping
from typing import Any

from mild_badger.core.figures import Figure, plain
from mild_badger.core.message import Message

__all__ = ["message_data", "with_codes"]


def message_data(message: Message) -> dict[str, Any]:
    """Give a message's code and its values; figures with their units, messages as such data."""
    return {
        "code": message.code,
        "values": {name: _value(value) for name, value in message.values.items()},
    }


def _value(value: Any) -> Any:
    if isinstance(value, Message):
        return message_data(value)
    if isinstance(value, Figure):
        return {"value": value.value, "unit": value.unit}
    if value is None or isinstance(value, bool | int | float):
        return value
    return plain(str(value))


def with_codes(data: Any) -> Any:
    """Set code and values beside the messages in data that is to become JSON.

    A message under a key has them under that key and ``_message``; messages in a list under a key
    theirs in a list under that key and ``_messages``, with None for texts of other kinds.
    """
    if isinstance(data, Mapping):
        told: dict[str, Any] = {}
        for key, value in data.items():
            told[key] = with_codes(value)
            if isinstance(value, Message):
                told[f"{key}_message"] = message_data(value)
            elif isinstance(value, list | tuple) and any(isinstance(v, Message) for v in value):
                told[f"{key}_messages"] = [
                    message_data(v) if isinstance(v, Message) else None for v in value
                ]
        return told
    if isinstance(data, list | tuple):
        return [with_codes(item) for item in data]
    return data

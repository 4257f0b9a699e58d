"""What there is to tell, as a code and the values that belong to it; words are made elsewhere.

Core names a message and hands over figures, names and other messages. The sentence comes from the
catalogue of the language in use, which the text layer puts in here when the program starts.
"""

from collections.abc import Callable, Mapping
from typing import Any

__all__ = ["Message", "say", "say_count", "write_by"]

Writer = Callable[[str, Mapping[str, Any], float | None], str]
"""Makes words of a code, its values and, where there is one, the count that the words follow."""


class Message(str):
    """A sentence or a phrase that knows its code and its values.

    It is a text like any other; what is put together from several is a plain text again.
    """

    code: str
    values: Mapping[str, Any]


def say(code: str, /, **values: Any) -> Message:
    """Make the message of a code.

    Parameters
    ----------
    code
        What is told, as the catalogue knows it.
    values
        What goes into the sentence, by the names it has there.
    """
    message = Message(_writer[0](code, values, None))
    message.code, message.values = code, values
    return message


def say_count(code: str, count: float, /, **values: Any) -> Message:
    """Make a message whose words follow a count: 1 turn, 2 turns; the count is `count` in it."""
    values["count"] = count
    message = Message(_writer[0](code, values, count))
    message.code, message.values = code, values
    return message


def write_by(writer: Writer) -> None:
    """Let messages be written by a catalogue from now on; those that are made stay as they are."""
    _writer[0] = writer


def _uncatalogued(code: str, values: Mapping[str, Any], count: float | None) -> str:
    return " ".join([code, *(f"{name}={value}" for name, value in values.items())])


_writer: list[Writer] = [_uncatalogued]

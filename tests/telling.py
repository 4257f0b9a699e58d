"""What a text tells, by the codes of its messages: tests hold codes and values, not sentences."""

import re
from collections.abc import Iterator
from contextlib import contextmanager
from string import Formatter
from typing import Any, NamedTuple

import pytest

from mild_badger.core.figures import METRIC, write
from mild_badger.text.catalogue import template_of

__all__ = ["Told", "refuses", "tells", "told"]


class Told(NamedTuple):
    """A message that is expected, for tables of cases."""

    code: str
    values: dict[str, Any]


def told(code: str, **values: object) -> Told:
    """Name a message that is expected, by its code and the values that matter."""
    return Told(code, values)


def tells(text: object, code: str, **values: object) -> bool:
    """Whether a text has a message in it, with these values as they are shown there.

    Values that are not given may be any.
    """
    pattern = ""
    for words, name, _, _ in Formatter().parse(template_of(code)):
        pattern += re.escape(words)
        if name is not None:
            given = values.pop(name, None)
            pattern += ".*?" if given is None else re.escape(write(str(given), METRIC))
    assert not values, f"{code} has no {', '.join(values)}"
    first = pattern[:1]
    if first.isalpha():  # a sentence begins with a capital where the message stands first
        pattern = f"[{first.lower()}{first.upper()}]{pattern[1:]}"
    return re.search(pattern, write(str(text), METRIC), re.DOTALL) is not None


@contextmanager
def refuses(
    error: type[Exception] | tuple[type[Exception], ...], code: str | Told, **values: object
) -> Iterator[pytest.ExceptionInfo[Exception]]:
    """What runs in it ends in this error, and the error tells this message."""
    if isinstance(code, Told):
        code, values = code
    with pytest.raises(error) as caught:
        yield caught
    assert tells(caught.value, code, **values), f"{caught.value} does not tell {code}"

"""What a text tells, by the codes of its messages: tests hold codes and values, not sentences."""

import re
from string import Formatter

from mild_badger.core.figures import METRIC, write
from mild_badger.text.catalogue import template_of

__all__ = ["tells"]


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
    return re.search(pattern, write(str(text), METRIC), re.DOTALL) is not None

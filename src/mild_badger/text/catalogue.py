"""The catalogue of messages: the words of every code, in the language in use.

It has gettext's form: ``locale/<language>/LC_MESSAGES/mild_badger.po``, compiled beside it. Codes
are found in the sources by Babel; see ``scripts/catalogue``. English is the only language yet.
"""

import gettext
from collections.abc import Mapping
from functools import cache
from pathlib import Path
from typing import Any

from mild_badger.core.figures import true_minus
from mild_badger.core.message import write_by

__all__ = ["DOMAIN", "LOCALE", "install", "template_of", "write_message"]

DOMAIN = "mild_badger"
LOCALE = Path(__file__).parent / "locale"


@cache
def _translations() -> gettext.NullTranslations:
    return gettext.translation(DOMAIN, LOCALE, languages=["en"])


@cache
def template_of(code: str) -> str:
    """Give a message's words as the catalogue has them, with gaps for the values."""
    return _translations().gettext(code)


def write_message(code: str, values: Mapping[str, Any], count: float | None = None) -> str:
    """Write a message; one that is not in the catalogue, or does not fit, by its code."""
    if count is None:
        words = template_of(code)
    else:  # of parts of one there are several, as of none
        whole = int(count) if count == int(count) else 2
        words = _translations().ngettext(code, code, abs(whole))
    try:
        return true_minus(words.format(**values))
    except (KeyError, ValueError, IndexError, TypeError, AttributeError):
        return code


def install() -> None:
    """Have messages written from this catalogue."""
    write_by(write_message)

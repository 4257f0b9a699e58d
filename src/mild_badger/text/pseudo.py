"""A made-up language that shows what room words have: accented, 40 % longer, in brackets.

It is chosen by ``MILD_BADGER_LANGUAGE=pseudo`` and is for those who lay pages out: a label that is
cut off in it would be cut off in a longer language, and one without brackets never passed the last
step before the screen.
"""

import os
import re

__all__ = ["in_pseudo", "pseudo"]

LONGER = 0.4
_PLAIN = "AaBCcDdEeGgHhIiJjKkLlNnOoRrSsTtUuWwYyZz"
_ACCENTED = "ÅåßÇçĐđÉéĜĝĤĥÎîĴĵĶķĹĺÑñÖöŔŕŠšŢţÛûŴŵÝýŽž"
_TABLE = str.maketrans(_PLAIN, _ACCENTED[: len(_PLAIN)])
_VOWELS = re.compile(r"[ÅåÉéÎîÖöÛû]")
_WORDS = re.compile(r"[A-Za-z]{2,}")


def in_pseudo() -> bool:
    """Tell whether the made-up language is chosen."""
    return os.environ.get("MILD_BADGER_LANGUAGE") == "pseudo"


def pseudo(text: str) -> str:
    """Write a text in the made-up language; figures and single letters stay as they are."""
    if text.startswith("⟦") or not _WORDS.search(text):
        return text
    made = text.translate(_TABLE)
    wanted = round(len(text) * LONGER) - 2
    places = [match.start() for match in _VOWELS.finditer(made)]
    if places:
        more, rest = divmod(max(wanted, 0), len(places))
        for number in range(len(places) - 1, -1, -1):
            at = places[number]
            made = made[:at] + made[at] * (more + (number < rest)) + made[at:]
    return f"⟦{made}⟧"

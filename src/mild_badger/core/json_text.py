"""JSON from outside: whatever is wrong with it is one sentence."""

import json
from typing import Any

from mild_badger.core.errors import DocumentError
from mild_badger.core.message import say

__all__ = ["parse_json"]


def parse_json(text: str | bytes) -> Any:
    """Read JSON from a file's text or bytes, with or without a byte order mark.

    Raises
    ------
    DocumentError
        It is no UTF-8, no JSON, or nested deeper than anything the program writes.
    """
    try:
        if isinstance(text, bytes):
            text = text.decode("utf-8-sig")
        return json.loads(text.removeprefix("\ufeff"))
    except UnicodeDecodeError as error:
        raise DocumentError(
            say("json-text.the-file-is-not-utf-8-text-byte-it-is-no", start=error.start + 1)
        ) from error
    except json.JSONDecodeError as error:
        raise DocumentError(
            say(
                "json-text.the-file-is-not-complete-json-at-line-column",
                msg=error.msg,
                lineno=error.lineno,
                colno=error.colno,
            )
        ) from error
    except (RecursionError, ValueError) as error:
        raise DocumentError(say("json-text.the-file-holds-nested-lists-or-numbers")) from error

"""JSON from outside: whatever is wrong with it is one sentence."""

import json
from typing import Any

from mild_badger.core.errors import DocumentError

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
            f"The file is not UTF-8 text (byte {error.start + 1}). It is no file of this program, "
            "or it was damaged."
        ) from error
    except json.JSONDecodeError as error:
        raise DocumentError(
            f"The file is not complete JSON: {error.msg} at line {error.lineno}, "
            f"column {error.colno}. It was cut short or edited wrongly; "
            "a backup beside it would end in .bak."
        ) from error
    except (RecursionError, ValueError) as error:
        raise DocumentError(
            "The file holds nested lists or numbers larger than this program ever writes."
        ) from error

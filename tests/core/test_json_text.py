"""JSON from outside: read with or without a mark, or refused in one sentence."""

import pytest

from mild_badger.core.errors import DocumentError
from mild_badger.core.json_text import parse_json


@pytest.mark.parametrize(
    "text", ['{"a": [1, 2]}', '\ufeff{"a": [1, 2]}', b'\xef\xbb\xbf{"a": [1, 2]}']
)
def test_text_and_bytes_are_read_alike(text: str | bytes) -> None:
    assert parse_json(text) == {"a": [1, 2]}


@pytest.mark.parametrize(
    ("text", "words"),
    [
        (b'{"a": "\xff"}', r"not UTF-8 text \(byte 8\)"),
        ('{"a": ', "line 1, column 7"),
        ("[" * 100_000, "nested lists"),
        ('{"a": ' + "1" * 10_000 + "}", "numbers larger"),
    ],
)
def test_whatever_is_wrong_is_one_sentence(text: str | bytes, words: str) -> None:
    with pytest.raises(DocumentError, match=words):
        parse_json(text)

"""JSON from outside: read with or without a mark, or refused in one sentence."""

import pytest

from mild_badger.core.errors import DocumentError
from mild_badger.core.json_text import parse_json
from telling import Told, refuses, told


@pytest.mark.parametrize(
    "text", ['{"a": [1, 2]}', '\ufeff{"a": [1, 2]}', b'\xef\xbb\xbf{"a": [1, 2]}']
)
def test_text_and_bytes_are_read_alike(text: str | bytes) -> None:
    assert parse_json(text) == {"a": [1, 2]}


@pytest.mark.parametrize(
    ("text", "words"),
    [
        (b'{"a": "\xff"}', told("json-text.the-file-is-not-utf-8-text-byte-it-is-no", start="8")),
        (
            '{"a": ',
            told("json-text.the-file-is-not-complete-json-at-line-column", lineno="1", colno="7"),
        ),
        ("[" * 100_000, told("json-text.the-file-holds-nested-lists-or-numbers")),
        ('{"a": ' + "1" * 10_000 + "}", told("json-text.the-file-holds-nested-lists-or-numbers")),
    ],
)
def test_whatever_is_wrong_is_one_sentence(text: str | bytes, words: Told) -> None:
    with refuses(DocumentError, words):
        parse_json(text)

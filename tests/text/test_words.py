"""Words on the screen by the rules that can be tested: each label is understood alone."""

import ast
import re
from collections.abc import Iterator
from pathlib import Path

import mild_badger
from mild_badger.core.vehicle.field_texts import field_texts

ROOT = Path(mild_badger.__file__).parent
POINTING = re.compile(r"\b(its|it|they|them|their|theirs|there|these|those)\b", re.IGNORECASE)
"""Words that stand for a noun: a label that has one is not understood alone."""
OLD = re.compile(
    r"\b(wavers|shall|bears|let it|fall(s)? due|slab(s)?|hull|barred|bench(es)?)\b", re.IGNORECASE
)
"""Words that wording.md has others for."""
MAKERS = {"button", "caption", "page_bar", "addItem", "addAction", "setText", "setWindowTitle"}
LABEL_WORDS = 6


def labels() -> Iterator[tuple[str, str]]:
    """Every short text that the window's code puts on a label, a button or into a choice."""
    for path in sorted((ROOT / "app").rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if not isinstance(node, ast.Call):
                continue
            name = getattr(node.func, "id", getattr(node.func, "attr", ""))
            if name not in MAKERS:
                continue
            for given in node.args[:1]:
                if isinstance(given, ast.Constant) and isinstance(given.value, str):
                    yield f"{path.name}:{node.lineno}", given.value


def test_titles_of_fields_are_nouns_that_stand_alone() -> None:
    for key, text in field_texts().items():
        assert not POINTING.search(text.title), (key, text.title)
        assert not OLD.search(text.title), (key, text.title)
        assert len(text.title) <= 48, (key, text.title)
        assert not text.title.endswith("."), (key, text.title)


def test_labels_point_at_nothing_else() -> None:
    seen = list(labels())
    assert len(seen) > 250
    wrong = [
        (where, words)
        for where, words in seen
        if len(words.split()) <= LABEL_WORDS and (POINTING.search(words) or OLD.search(words))
    ]
    assert wrong == []

"""Words on the screen by the rules that can be tested: each label is understood alone."""

import ast
import json
import pickle
import re
from collections.abc import Iterator
from pathlib import Path
from string import Formatter

import pytest
from babel.messages.extract import extract_from_dir
from babel.messages.pofile import read_po

import mild_badger
from examples import example_vehicle
from mild_badger.core.evaluate import evaluate
from mild_badger.core.figures import in_mm
from mild_badger.core.message import Message, say, say_count
from mild_badger.core.message_json import message_data, with_codes
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.field_texts import field_texts, text_of
from mild_badger.core.vehicle.model import Motor
from mild_badger.core.words import kind_words, word
from mild_badger.text.catalogue import DOMAIN, LOCALE, template_of

ROOT = Path(mild_badger.__file__).parent
POINTING = re.compile(r"\b(its|it|they|them|their|theirs|there|these|those)\b", re.IGNORECASE)
"""Words that stand for a noun: a label that has one is not understood alone."""
OLD = re.compile(
    r"\b(wavers|shall|bears|let it|fall(s)? due|slab(s)?|hull|barred|bench(es)?)\b", re.IGNORECASE
)
"""Words that wording.md has others for."""
MAKERS = ("codec.py", "field_texts.py", "words.py", "cautions.py")
"""Modules that make messages by codes which do not stand in the sources."""
LABEL_WORDS = 6
MOST_WORDS = 20
"""In a sentence."""
INSIDE = re.compile(r"[a-z]_[a-z]|\bTrue\b|(?<![\d:.])\b1 [a-z]{3,}s\b")
"""Names of the program's own, and ones that are said to be several."""
SAYS_ITSELF = {
    "crane.its-screw",
    "crane.its-worm",
    "drivetrain.though-it-is-driven",
    "functions.one-way-clutch-at-its-end",
    "layout.sleeve-and-its-travel",
    "lever.lever-with-its-slot",
    "tab-layout.fork-of-on-its-rail",
    "tab-layout.train-with-its-idlers",
    "tab-shift.catch-on-its-rail",
    "tab-shift.catch-on-its-rail-front-above",
    "tab-workshop.rods-and-their-pieces",
    "text.how-it-works",
    "workshop.both-faces-with-their-dogs-outwards",
    "workshop.cable-in-its-sheath",
    "workshop.its-face-towards-gear",
    "workshop.its-input-side-down",
    "workshop.lever-with-its-slot",
    "workshop.out-before-it",
    "workshop.sleeve-with-its-fork",
    "workshop.sleeves-with-their-forks",
    "workshop.glue-up-of-its-segments",
}
"""Short texts whose pronoun stands for a noun in them, or that end a sentence which has it."""


def catalogue() -> dict[str, tuple[str, ...]]:
    """Every message's words by its code; several where they follow a count."""
    with (LOCALE / "en" / "LC_MESSAGES" / f"{DOMAIN}.po").open("rb") as stream:
        read = read_po(stream)
    words: dict[str, tuple[str, ...]] = {}
    for message in read:
        if message.id:
            code = message.id if isinstance(message.id, str) else message.id[0]
            string = message.string
            words[code] = (string,) if isinstance(string, str) else tuple(string or ())
    return words


def gaps(words: str) -> set[str]:
    """Name the values that words take, those in the forms of other values too."""
    named: set[str] = set()
    for _, name, form, _ in Formatter().parse(words):
        if name is not None:
            named |= {name} | gaps(form or "")
    return named


def calls() -> Iterator[tuple[str, ast.Call]]:
    """Every place where the sources name a message."""
    for path in sorted(ROOT.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Call) and getattr(node.func, "id", "") in {"say", "say_count"}:
                yield f"{path.name}:{node.lineno}", node


def codes_of_tables() -> dict[str, str]:
    """The codes of what the tables of fields, kinds and cautions have, with their words."""
    codes: dict[str, str] = {f"word.{key}": key for key in kind_words()}
    for key, text in field_texts().items():
        codes |= {f"field.{key}": text.title, f"field-tip.{key}": text.description}
    told = json.loads((ROOT / "data" / "cautions.json").read_text(encoding="utf-8"))["cautions"]
    return codes | {f"caution.{n}": entry["text"] for n, entry in enumerate(told, 1)}


def test_what_stands_in_tables_is_called_on_screen_as_they_say() -> None:
    for code, words in codes_of_tables().items():
        assert template_of(code) == words
    told = text_of(Motor, "no_load_rpm")
    assert told is not None
    assert isinstance(told.title, Message)
    assert told.title.code == "field.Motor.no_load_rpm"
    assert told.unit == "rpm"
    kind = word("slewing ring")
    assert isinstance(kind, Message)
    assert (kind, kind.code) == ("slewing ring", "word.slewing ring")
    assert not isinstance(word("Larkholm"), Message)


def test_the_catalogue_has_what_the_sources_say_and_nothing_else() -> None:
    words = catalogue()
    used: set[str] = set()
    for where, call in calls():
        code = call.args[0]
        if not isinstance(code, ast.Constant):
            # what another process told, and what stands in tables
            assert where.startswith(MAKERS), where
            continue
        name = str(code.value)
        used.add(name)
        given = {keyword.arg for keyword in call.keywords}
        if call.func.id == "say_count":  # type: ignore[attr-defined]
            given.add("count")
        for said in words[name]:
            assert gaps(said) <= given, (where, name)
    assert used | set(codes_of_tables()) == set(words)
    assert len(words) > 3000


def test_babel_finds_the_same_codes_and_what_it_compiles_ships() -> None:
    """Codes are extracted with Babel, as `scripts/catalogue` does."""
    found = {
        str(code)
        for call in ("say", "say_count")
        for _, _, code, _, _ in extract_from_dir(ROOT, keywords={call: None})
    }
    assert found | set(codes_of_tables()) == set(catalogue())
    for code, (first, *more) in catalogue().items():
        assert template_of(code) == first
        if more:
            assert say_count(code, 2) == more[0].format(count=2)


def test_a_message_knows_its_code_and_values_and_becomes_json() -> None:
    inner = say("workshop.drive-its-pin-out")
    message = say("tab-machine.to-its-edge", margin_mm=in_mm(12.34, 1), edge=inner)
    assert message_data(message) == {
        "code": "tab-machine.to-its-edge",
        "values": {
            "margin_mm": {"value": 12.34, "unit": "mm"},
            "edge": {"code": "workshop.drive-its-pin-out", "values": {}},
        },
    }
    told = with_codes({"text": message, "all": [message, "x"], "n": 1})
    assert told["text_message"] == message_data(message)
    assert told["all_messages"] == [message_data(message), None]
    assert json.loads(json.dumps(told))["text"] == str(message)
    copy = pickle.loads(pickle.dumps(message))
    assert (copy, copy.code, copy.values) == (message, message.code, message.values)


def test_what_is_not_in_the_catalogue_or_does_not_fit_goes_by_its_code() -> None:
    assert say("no.such-code", size=3) == "no.such-code"
    assert say("tab-machine.to-its-edge") == "tab-machine.to-its-edge"


@pytest.mark.parametrize(
    ("count", "words"), [(0, "0 pairs"), (1, "1 pair"), (2, "2 pairs"), (-1, "−1 pair")]
)
def test_only_one_is_singular(count: int, words: str) -> None:
    assert say_count("count.pair", count) == words


def test_a_part_of_one_is_plural() -> None:
    assert say_count("noun.turn", 1.5) == "turns"
    assert say_count("noun.turn", 1.0) == "turn"


def test_every_finding_of_the_demos_is_a_message_with_values() -> None:
    for name in DEMOS:
        for finding in evaluate(example_vehicle(name)).findings:
            assert isinstance(finding.title, Message), finding.code
            assert isinstance(finding.text, Message), finding.code


def test_titles_of_fields_are_nouns_that_stand_alone() -> None:
    for key, text in field_texts().items():
        assert not POINTING.search(text.title), (key, text.title)
        assert not OLD.search(text.title), (key, text.title)
        assert len(text.title) <= 48, (key, text.title)
        assert not text.title.endswith("."), (key, text.title)


def plainly(words: str) -> str:
    """Words with their gaps filled."""
    return re.sub(r"\{[^{}]*(\{[^}]*\})?[^{}]*\}", "X", words)


def test_labels_point_at_nothing_else() -> None:
    wrong = [
        (code, words)
        for code, several in catalogue().items()
        for words in map(plainly, several)
        if len(words.split()) <= LABEL_WORDS
        and not words.rstrip().endswith((".", "!", "?", ";"))
        and ((POINTING.search(words) and code not in SAYS_ITSELF) or OLD.search(words))
    ]
    assert wrong == []


def test_sentences_are_short_and_name_nothing_of_the_program() -> None:
    long, inside = [], []
    for code, several in catalogue().items():
        for words in map(plainly, several):
            for sentence in re.split(r"(?<=[.!?:;])\s+|\n|·", words):
                if len(sentence.split()) > MOST_WORDS:
                    long.append((code, sentence))
            if INSIDE.search(words):
                inside.append((code, words))
    assert long == []
    assert inside == []

"""Keep the catalogues of messages as the sources need them; see ``scripts/catalogue``."""

import io
import json
import sys
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.extract import extract_from_dir
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

SOURCES = Path(__file__).parents[1] / "src" / "mild_badger"
LOCALE = SOURCES / "text" / "locale"
FIELDS = SOURCES / "data" / "fields.txt"
WORDS = SOURCES / "data" / "words.txt"
CAUTIONS = SOURCES / "data" / "cautions.json"
"""English that stands in tables: fields, the words that name kinds of things, cautions."""

KEYWORDS = {"say": None, "say_count": None}
Places = dict[tuple[str, bool], set[str]]
"""The files that name a code, by the code and whether its words follow a count."""


def codes_in_sources() -> Places:
    """List the codes that the sources name, with where they stand."""
    places: Places = {}
    for call in KEYWORDS:
        for file, _, code, _, _ in extract_from_dir(SOURCES, keywords={call: None}):
            places.setdefault((str(code), call == "say_count"), set()).add(file)
    for code in texts_of_tables():
        table = {"word": WORDS, "caution": CAUTIONS}.get(code.split(".")[0], FIELDS)
        places[code, False] = {f"data/{table.name}"}
    return places


def texts_of_tables() -> dict[str, str]:
    """Give the English texts of the tables by their codes."""
    texts = {f"word.{line}": line for line in _lines(WORDS)}
    cautions = json.loads(CAUTIONS.read_text(encoding="utf-8"))["cautions"]
    texts |= {f"caution.{number}": told["text"] for number, told in enumerate(cautions, 1)}
    for line in _lines(FIELDS):
        key, title, description = (part.strip() for part in line.split("|"))
        texts |= {f"field.{key}": title, f"field-tip.{key}": description}
    return texts


def _lines(table: Path) -> list[str]:
    lines = table.read_text(encoding="utf-8").splitlines()
    return [line for line in lines if line and not line.startswith("#")]


def updated(catalogue: Catalog, codes: Places) -> Catalog:
    """Give a catalogue that has the codes of the sources and no others, in order."""
    new = Catalog(locale=catalogue.locale, domain="mild_badger", charset="utf-8")
    new.header_comment = catalogue.header_comment
    told = texts_of_tables() if str(catalogue.locale) == "en" else {}
    for code, follows in sorted(codes):
        words = told.get(code) or (catalogue[code].string if code in catalogue else "")
        if follows:
            words = words or ("", "")
        locations = [(file, 0) for file in sorted(codes[code, follows])]
        new.add((code, code) if follows else code, words, locations=locations)
    return new


def as_po(catalogue: Catalog) -> bytes:
    """Write a catalogue as it is kept: no line numbers, no dates, no wrapping."""
    buffer = io.BytesIO()
    write_po(buffer, catalogue, width=0, omit_header=False, include_lineno=False)
    lines = buffer.getvalue().decode().splitlines(keepends=True)
    dated = ("POT-Creation-Date", "PO-Revision-Date")
    return "".join(line for line in lines if not line.strip('"').startswith(dated)).encode()


def _complete(words: str | tuple[str, ...]) -> bool:
    return bool(words) if isinstance(words, str) else all(words)


def main() -> int:
    """Update and compile every language's catalogue; 1 where words are missing."""
    codes, missing = codes_in_sources(), []
    for file in sorted(LOCALE.glob("*/LC_MESSAGES/mild_badger.po")):
        with file.open("rb") as stream:
            catalogue = updated(read_po(stream), codes)
        file.write_bytes(as_po(catalogue))
        with file.open("rb") as stream, file.with_suffix(".mo").open("wb") as compiled:
            write_mo(compiled, read_po(stream))
        words = {code: catalogue[code].string for code, _ in codes}
        missing += [f"{file}: {code}" for code, told in words.items() if not _complete(told)]
    sys.stderr.writelines(f"no words yet: {line}\n" for line in missing)
    return 1 if missing else 0


if __name__ == "__main__":
    sys.exit(main())

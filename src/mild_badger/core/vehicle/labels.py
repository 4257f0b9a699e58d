"""What fields of a document are called in a sentence: no internal name reaches a builder."""

from collections.abc import Mapping, Sequence
from typing import Any

from pydantic import BaseModel

from mild_badger.core.message import say
from mild_badger.core.vehicle.field_texts import title_at
from mild_badger.core.words import capitalized, signed, word

__all__ = ["field_label", "problem_text", "shown_value"]

Location = Sequence[str | int]

RECORDS = {
    "gears": "gear",
    "slots": "gear",
    "bevels": "bevel gear",
    "bearings": "bearing",
    "others": "part",
    "prices": "price",
    "additional_axles": "axle",
    "motors": "motor",
    "course": "stretch",
    "versions": "version",
    "outputs": "output",
    "positions": "position",
    "hydraulic_lines": "liquid line",
    "equipment": "body",
    "runs": "cable",
    "masses": "mass",
    "readings": "reading",
    "entries": "log entry",
    "wear": "wearing part",
    "shafts": "shaft",
    "couplings": "coupling",
    "bodies": "body",
    "splitter": "splitter pair",
    "ranges": "range pair",
    "pairs": "pair",
    "train": "pair",
    "second": "pair of the second train",
    "input_pair": "input pair",
}
LONGEST_VALUE = 30


def field_label(
    data: object, location: Location, root: type[BaseModel] | None = None, *, known: bool = True
) -> str:
    """Name a field, as *Stock of the 16-tooth gear*.

    Parameters
    ----------
    data
        The document it stands in.
    location
        Names and indices from the document's root.
    root
        The document's model; without it fields are called as a file calls them.
    known
        Whether the field is one of the format; another one is called as the file calls it.
    """
    steps = [step for step in location if step != "vehicle"] or [""]
    here = _inside(data)
    owners: list[str] = []
    named = False
    for number, step in enumerate(steps[:-1] if isinstance(steps[-1:][0], str) else steps):
        here = _step(here, step)
        if isinstance(step, int):
            if not named:  # a record says where it is; what it stands in says nothing more
                owners, named = [], True
            owners.append(_record(str(steps[number - 1]) if number else "", step, here))
        elif not isinstance(here, list | tuple):
            owners.append(say("vehicle.the", title=_title(root, steps[: number + 1])))
    words = _title(root if known else None, steps) if isinstance(steps[-1], str) else ""
    if " of " in words:  # says itself what it belongs to
        phrase = ", ".join([words, *(owners[-1:] if named else [])])
    else:
        phrase = " of ".join(filter(None, [words, *reversed(owners[-2:])])) or "file"
    return capitalized(phrase)


def _title(root: type[BaseModel] | None, steps: Location) -> str:
    title = None if root is None else title_at(root, steps)
    return title or str(steps[-1]).replace("_", " ")


def problem_text(label: str, problem: Mapping[str, Any]) -> str:
    """Say what is wrong with a field and what to type instead, from pydantic's account of it."""
    kind, value, limits = problem["type"], problem["input"], problem.get("ctx", {})
    if kind == "missing":
        return say("vehicle.is-missing", label=label)
    if kind == "extra_forbidden":
        return say("vehicle.is-not-a-field-of-this-format-remove-it-or", label=label)
    if kind in ("string_too_short", "too_short") and not value:
        return say("vehicle.cannot-be-empty", label=label)
    remedy = _remedy(kind, limits)
    return say("vehicle.cannot-be-used", label=label, shown_value=shown_value(value), remedy=remedy)


def shown_value(value: object) -> str:
    """Write a value into a sentence: short, with a true minus sign."""
    if isinstance(value, bool) or value is None:
        return {True: "yes", False: "no", None: "nothing"}[value]
    if isinstance(value, int | float):
        return signed(value, ".10g")
    if isinstance(value, str):
        short = "".join(c if c.isprintable() else "?" for c in value[:LONGEST_VALUE])
        return f"“{short}{'…' if len(value) > LONGEST_VALUE else ''}”"
    return "this"


def _remedy(kind: str, limits: Mapping[str, Any]) -> str:
    number = {
        "greater_than_equal": ("ge", say("vehicle.type-or-more")),
        "greater_than": ("gt", say("vehicle.type-more-than")),
        "less_than_equal": ("le", say("vehicle.type-or-less")),
        "less_than": ("lt", say("vehicle.type-less-than")),
        "too_long": ("max_length", say("vehicle.at-most-entries-fit")),
        "too_short": ("min_length", say("vehicle.at-least-entries-are-needed")),
        "string_too_long": ("max_length", say("vehicle.use-at-most-letters")),
    }.get(kind)
    if number is not None:
        return number[1].format(shown_value(limits.get(number[0])))
    if kind == "literal_error":
        return say("vehicle.type", word=str(limits.get("expected", "")).replace("'", ""))
    if kind.startswith("union_tag"):
        return say(
            "vehicle.choose-one-of", value=str(limits.get("expected_tags", "")).replace("'", "")
        )
    if kind.startswith("int"):
        return say("vehicle.type-a-whole-number")
    if kind.startswith(("float", "finite", "decimal")):
        return say("vehicle.type-a-number")
    if kind == "string_pattern_mismatch":
        return say("vehicle.a-name-neither-begins-nor-ends-with-a-blank")
    if kind.startswith("string"):
        return say("vehicle.type-words")
    if kind.startswith("bool"):
        return say("vehicle.it-is-either-on-or-off")
    return say("vehicle.it-has-another-form-than-this-format")


def _inside(data: object) -> object:
    return data.get("vehicle", data) if isinstance(data, Mapping) else data


def _step(here: object, step: str | int) -> object:
    if isinstance(here, Mapping):
        return here.get(step)
    if isinstance(here, list | tuple) and isinstance(step, int) and step < len(here):
        return here[step]
    return None


def _record(container: str, number: int, record: object) -> str:
    """Name a record by what stands in it, or by its number."""
    kind = word(RECORDS.get(container, container.removesuffix("s").replace("_", " ") or "entry"))
    if isinstance(record, Mapping):
        if "teeth" in record and container in ("gears", "bevels"):
            return say("vehicle.the-tooth", shown_value=shown_value(record["teeth"]), kind=kind)
        for key in ("name", "gear", "id", "part", "position"):
            if isinstance(record.get(key), str) and record[key]:
                return f"{kind} {record[key][:24]}"
    return f"{kind} {number + 1}"

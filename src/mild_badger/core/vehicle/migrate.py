"""Older files: each version's step to the next, on plain data."""

import re
from collections.abc import Callable
from typing import Any

from mild_badger.core.ids import RESERVED, fresh_ids
from mild_badger.core.mechanisms.crane.model import INPUTS

__all__ = ["VERSION", "migrate"]

VERSION = 10


GRID_UNIT_MM = 8.0
"""A grid's unit where an older file's kit gives none."""
RENAMED = {
    "more_axles": "additional_axles",
    "liquids": "hydraulic_lines",
    "display": "display_engine",
}
"""Fields of the vehicle by their names before version 7."""


def migrate(data: dict[str, Any]) -> dict[str, Any]:
    """Bring a file's data to the present version, the versions kept in it too.

    Version 2 added box architectures, made gears, search limits and the change gear: every new
    field has a default, so version 1 reads as it stands. Version 3 has several liquid lines where
    there was one. Version 4 says where a gate lever's pivot is; before, it was between knob and
    finger. Version 5 gives every gear an id, which all that concerns it holds in place of its name,
    and tells pairs by an id too. Version 6 does so for outputs, driven axles, masses, liquid lines,
    cables, readings and kept versions. Version 7 keeps the letters of shafts; before, none was
    given, and three fields had other names. Version 8 knows sleeves, their forks and rails by what
    they couple, no more by a column's number. Version 9 knows parts by what they do or stand
    between, where they had numbers along their shafts: see ``layout.old_part_keys``. Version 10
    holds places and sizes of a placement in mm, where they were in units of the kit's grid.
    """
    vehicle = data.get("vehicle")
    version = data.get("version", VERSION)
    if version != VERSION and isinstance(vehicle, dict):
        data = {**data, "vehicle": _vehicle(vehicle, version)}
    return {**data, "version": VERSION}


def _vehicle(old: dict[str, Any], version: int) -> dict[str, Any]:
    new = {key: value for key, value in old.items() if key != "liquid"}
    if "liquid" in old:
        new["liquids"] = [] if old["liquid"] is None else [old["liquid"]]
    lever = old.get("lever", {})
    if version < 4 and isinstance(lever, dict):
        new["lever"] = {"pivot": "between", **lever}
    if version < 5:
        new = _with_gear_ids(new)
    if version < 6:
        new = _with_ids(new)
    new = {RENAMED.get(key, key): value for key, value in new.items()}
    new = _with_sleeves(new)
    if version < 10:
        new = _in_mm(new)
    versions = old.get("versions")
    if isinstance(versions, list):
        new["versions"] = [
            {**kept, "data": _vehicle(kept["data"], version)}
            if isinstance(kept, dict) and isinstance(kept.get("data"), dict)
            else kept
            for kept in versions
        ]
    return new


def _in_mm(vehicle: dict[str, Any]) -> dict[str, Any]:
    """Turn a placement's grid units into mm; what is wrong with it is said when it is checked."""
    kit, layout, placing = (vehicle.get(name) for name in ("kit", "layout", "placing"))
    unit = kit.get("grid_unit_mm", GRID_UNIT_MM) if isinstance(kit, dict) else GRID_UNIT_MM
    if not isinstance(unit, (int, float)):
        return vehicle

    def long(value: Any) -> Any:
        return value * unit if isinstance(value, (int, float)) else value

    def at(place: Any) -> Any:
        if not isinstance(place, dict):
            return place
        named = {"x_u": "x_mm", "y_u": "y_mm"}
        return {named.get(k, k): long(v) if k in named else v for k, v in place.items()}

    def row(places: Any) -> Any:
        return [at(place) for place in places] if isinstance(places, list) else places

    new = dict(vehicle)
    if isinstance(layout, dict):
        kept = {key: value for key, value in layout.items() if key != "spacing_u"}
        new["layout"] = kept | {"shafts": row(kept["shafts"])} if "shafts" in kept else kept
    if isinstance(placing, dict):
        sizes = {"wide_u": "wide_mm", "high_u": "high_mm"}
        moved = {sizes.get(k, k): long(v) if k in sizes else v for k, v in placing.items()}
        if "pins" in moved:
            moved["pins"] = row(moved["pins"])
        if "outline_u" in moved:
            corners = moved.pop("outline_u")
            known = isinstance(corners, list) and all(isinstance(one, list) for one in corners)
            moved["outline_mm"] = [list(map(long, one)) for one in corners] if known else corners
        new["placing"] = moved
    return new


def _with_gear_ids(vehicle: dict[str, Any]) -> dict[str, Any]:
    """Give the gears ids, and put them where their names stood."""
    real = vehicle.get("real")
    if not isinstance(real, dict):
        return vehicle  # what is wrong with it is said when it is checked
    gears = real.get("gears")
    if not isinstance(gears, list) or not all(isinstance(gear, dict) for gear in gears):
        return vehicle
    names = [gear.get("name") for gear in gears]
    if not all(isinstance(name, str) for name in names):
        return vehicle
    ids: dict[str, str] = dict(zip(names, fresh_ids(names, RESERVED), strict=True))
    named = [{**gear, "id": ids[name]} for gear, name in zip(gears, names, strict=True)]

    def gear(text: str) -> str:
        return ids.get(text, text)

    def part(text: str) -> str:
        """Put ids into the name of a train, a wheel or a shaft: gear 3/0.driver."""
        for name in sorted(ids, key=len, reverse=True):
            for end in ("/", ", second", ": ", " "):
                if text.startswith(f"gear {name}{end}"):
                    return f"gear {ids[name]}{text[len(name) + 5 :]}"
        return f"gear {ids[text[5:]]}" if text.startswith("gear ") and text[5:] in ids else text

    def position(text: str) -> str:
        return part(text) if text.startswith("gear ") and text not in ids else gear(text)

    new = {**vehicle, "real": {**real, "gears": named}}
    mark = new.get("change_gear")
    if isinstance(mark, dict) and isinstance(mark.get("pair"), int):
        new["change_gear"] = {**mark, "pair": str(mark["pair"])}
    for path, change in (
        (("box", "slots", "gear"), gear),
        (("shifting", "drum", "order"), gear),
        (("change_gear", "train"), part),
        (("layout", "shafts", "name"), part),
        (("layout", "gears", "body"), part),
        (("layout", "gears", "shaft"), part),
        (("layout", "unplaced"), gear),
        (("frame", "bearings", "shaft"), part),
        (("trial", "readings", "position"), position),
        (("trial", "readings", "body"), part),
        (("trial", "ticks"), position),
        (("trial", "measured", "key"), part),
        (("assembly", "states", "key"), part),
        (("assembly", "joints", "key"), part),
        (("assembly", "ticks"), part),
    ):
        new = _changed(new, path, change)
    return new


IDENTIFIED = (
    ("functions", "outputs"),
    ("crane", "outputs"),
    ("balance", "masses"),
    ("more_axles",),
    ("liquids",),
    ("cables", "runs"),
    ("trial", "readings"),
    ("versions",),
)


def _with_ids(vehicle: dict[str, Any]) -> dict[str, Any]:
    """Give everything that has an id since version 6 one, and put it where its name stood."""
    new = vehicle
    ids: dict[tuple[str, ...], dict[str, str]] = {}
    for path in IDENTIFIED:
        rows = _at(new, path)
        if isinstance(rows, list) and all(isinstance(row, dict) for row in rows):
            names = [str(row.get("name", "Reading")) for row in rows]
            made = fresh_ids(names, INPUTS if path[0] == "crane" else ())
            ids[path] = dict(zip(names, made, strict=True))
            pairs = zip(rows, made, strict=True)
            new = _put(new, path, [{**row, "id": identity} for row, identity in pairs])
    outputs, ends = ids.get(("functions", "outputs"), {}), ids.get(("crane", "outputs"), {})
    kept, axles = ids.get(("versions",), {}), list(ids.get(("more_axles",), {}).values())
    steps = {
        "output": ends,
        "liquid": ids.get(("liquids",), {}),
        "cable": ids.get(("cables", "runs"), {}),
    }

    def named(known: dict[str, str]) -> Callable[[str], str]:
        return lambda name: known.get(name, name)

    def tick(text: str) -> str:
        kind = text.partition(" ")[0]
        # a step's key was cut to so many characters
        long = (one for one in steps.get(kind, {}) if f"{kind} {one}"[:24].strip() == text)
        return next((f"{kind} {steps[kind][one]}" for one in long), text)

    def body(text: str) -> str:
        head, slash, rest = text.partition("/")
        kind, _, name = head.partition(" ")
        if kind == "crane" and name in ends:
            return f"crane {ends[name]}{slash}{rest}"
        first = {"axle": 2, "centre": 1}.get(kind)
        if first is None or not name.isascii() or not name.isdigit():
            return text
        number = int(name) - first
        return f"{kind} {axles[number]}{slash}{rest}" if 0 <= number < len(axles) else text

    moves: tuple[tuple[tuple[str, ...], Callable[[str], str]], ...] = (
        (("functions", "positions", "wants", "output"), named(outputs)),
        (("functions", "positions", "wants", "of"), named(outputs)),
        (("crane", "outputs", "source"), named(ends)),
        (("crane", "outputs", "loose_on"), named(ends)),
        (("crane", "outputs", "keeps"), named(ends)),
        (("balance", "carriage"), named(ends)),
        (("balance", "counterweight"), named(ends)),
        (("log", "entries", "version"), named(kept)),
        (("trial", "ticks"), tick),
        (("trial", "readings", "body"), body),
    )
    for place, change in moves:
        new = _changed(new, place, change)
    return new


COLUMN_SLEEVE = re.compile(r"\b(sleeve|fork rail)\.([0-9]+)\b")
SLEEVE_ON_SHAFT = re.compile(r"(selector\.([0-9]+)|[^:]+): sleeve ([0-9]+)")
BOX_SLEEVE = re.compile(r"\b(splitter|range) sleeve\.([0-9]+)\b")


def _with_sleeves(vehicle: dict[str, Any]) -> dict[str, Any]:
    """Know the sleeves of parts by the gears that stood in their column."""
    box = vehicle.get("box")
    slots = _at(vehicle, ("box", "slots"))
    rows = [
        slot
        for slot in (slots if isinstance(slots, list) else ())
        if isinstance(slot, dict)
        and isinstance(slot.get("gear"), str)
        and isinstance(slot.get("column"), int)
    ]
    gears: dict[str, list[str]] = {}
    for slot in rows:
        gears.setdefault(str(slot["column"]), []).append(slot["gear"])
    # as a stack in line has its sleeves: that of the direct gear first, sliders have none
    direct = {slot["column"] for slot in rows if slot.get("direct")}
    slides = isinstance(box, dict) and box.get("engagement") == "slide"
    order = sorted(direct if slides else {slot["column"] for slot in rows})
    order.sort(key=lambda column: column not in direct)

    def couples(sleeve: re.Match[str]) -> str:
        gone = f"empty {sleeve[2]}"
        return f"{sleeve[1]}.{'+'.join(sorted(gears.get(sleeve[2], ()))) or gone}"

    def both(sleeve: re.Match[str]) -> str:
        second = 2 * int(sleeve[2])
        return f"{sleeve[1]} sleeve.{second - 1}+{second}"

    def part(text: str) -> str:
        if on := SLEEVE_ON_SHAFT.fullmatch(text):
            column = on[2] or next(iter(map(str, order[int(on[3]) - 1 :])), "")
            return f"sleeve.{'+'.join(sorted(gears[column]))}" if column in gears else text
        changed = BOX_SLEEVE.sub(both, text)
        return COLUMN_SLEEVE.sub(couples, text) if changed == text else changed

    for path in (
        ("frame", "bearings", "shaft"),
        ("trial", "readings", "body"),
        ("trial", "measured", "key"),
        ("assembly", "states", "key"),
        ("assembly", "joints", "key"),
        ("assembly", "ticks"),
        ("log", "wear", "part"),
    ):
        vehicle = _changed(vehicle, path, part)
    return vehicle


def _at(value: Any, path: tuple[str, ...]) -> Any:
    for step in path:
        value = value.get(step) if isinstance(value, dict) else None
    return value


def _put(value: dict[str, Any], path: tuple[str, ...], new: Any) -> dict[str, Any]:
    inner = _put(value[path[0]], path[1:], new) if len(path) > 1 else new
    return {**value, path[0]: inner}


def _changed(value: Any, path: tuple[str, ...], change: Callable[[str], str]) -> Any:
    """Change the texts that stand at a path, in every entry of the lists on the way."""
    if isinstance(value, list):
        return [_changed(item, path, change) for item in value]
    if not path:
        return change(value) if isinstance(value, str) else value
    if not isinstance(value, dict) or path[0] not in value:
        return value
    return {**value, path[0]: _changed(value[path[0]], path[1:], change)}

"""Identities: what a thing is called in the document, whatever it is called on screen.

An id is given once and never changes, and one that is gone is not given again; names are for the
builder and may hold any character. New ids follow the name a thing had when it came, so that a file
can be read by eye; nothing may read anything out of them.
"""

import re
from collections.abc import Collection, Iterable, Sequence
from typing import Annotated, NewType, TypeAlias, TypeVar

from pydantic import Field

__all__ = [
    "ID_PATTERN",
    "MAX_ID",
    "RESERVED",
    "AxleId",
    "CableId",
    "EquipmentId",
    "GearId",
    "Held",
    "Identity",
    "LineId",
    "MassId",
    "OutputId",
    "ReadingId",
    "ShaftId",
    "VersionId",
    "fresh_id",
    "fresh_ids",
    "kept_ids",
]

MAX_ID = 40
ID_PATTERN = r"^([A-Za-z0-9][A-Za-z0-9-]*)?$"
Identity = Annotated[str, Field(max_length=MAX_ID, pattern=ID_PATTERN)]
"""An id as a file holds it; empty only on the way into a document."""
T = TypeVar("T")
Held = Annotated[T, Field(max_length=MAX_ID, pattern=ID_PATTERN)]
"""The same for the id of one kind of thing: `Held[OutputId]`."""
RESERVED = ("neutral", "N")
"""What names the position without a gear, and so can be no gear's id."""
GearId: TypeAlias = str
"""A gear of the box: a speed, not a wheel."""
ShaftId: TypeAlias = str
"""A shaft of a box: see `vehicle.bodies`."""
OutputId = NewType("OutputId", str)
"""An output of a function box or of a crane."""
AxleId = NewType("AxleId", str)
"""A driven axle besides the first one, whose id is empty."""
CableId = NewType("CableId", str)
MassId = NewType("MassId", str)
EquipmentId = NewType("EquipmentId", str)
"""A body of a given size: battery, switch, controller."""
LineId = NewType("LineId", str)
"""A liquid line."""
ReadingId = NewType("ReadingId", str)
VersionId = NewType("VersionId", str)


def fresh_id(name: str, taken: Collection[str]) -> str:
    """Make an id that is not taken, after a name."""
    stem = re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-")[: MAX_ID - 6].rstrip("-") or "x"
    made, number = stem, 1
    while made in taken:
        number += 1
        made = f"{stem}-{number}"
    return made


def fresh_ids(names: Iterable[str], taken: Collection[str] = ()) -> tuple[str, ...]:
    """Make an id for each name, none of them taken and all different."""
    known = set(taken)
    made = []
    for name in names:
        made.append(fresh_id(name, known))
        known.add(made[-1])
    return tuple(made)


def kept_ids(
    old: Sequence[tuple[str, str]], names: Sequence[str], retired: Collection[str] = ()
) -> tuple[str, ...]:
    """Give the ids of a table that was typed or pasted over.

    As many rows as before keep their ids by position, as cells of a spreadsheet do, unless they
    are the same names in another order. Where rows came, went or moved, a row whose name stood in
    the table keeps that row's id; the others take the ids that are left in their own place, and
    what is left then is new.

    Parameters
    ----------
    old
        Id and name of each row as it was.
    names
        The rows as they are now.
    retired
        Ids of rows that are gone, not to be given again.
    """
    by_name = {name: identity for identity, name in old if name}
    moved = len(old) != len(names) or sorted(by_name) == sorted(filter(None, names))
    ids: list[str | None] = [by_name.get(name) if moved else None for name in names]
    for place, identity in enumerate(ids):
        if identity is not None and identity in ids[:place]:
            ids[place] = None
    for place, (identity, _) in enumerate(old[: len(ids)]):
        if ids[place] is None and identity not in ids:
            ids[place] = identity
    taken = {*(identity for identity, _ in old), *retired}
    made = []
    for identity, name in zip(ids, names, strict=True):
        made.append(identity or fresh_id(name, taken))
        taken.add(made[-1])
    return tuple(made)

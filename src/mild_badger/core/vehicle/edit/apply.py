"""Applying an edit: only the parts that it touches are copied and checked anew."""

from typing import Any

from pydantic import BaseModel, ValidationError

from mild_badger.core.errors import DocumentError
from mild_badger.core.message import say
from mild_badger.core.vehicle.codec import explain
from mild_badger.core.vehicle.edit.change import Edit, Path
from mild_badger.core.vehicle.edit.sleeve_marks import with_sleeve_marks
from mild_badger.core.vehicle.edit.trains import trains_of
from mild_badger.core.vehicle.labels import field_label
from mild_badger.core.vehicle.model import MAX_RETIRED, Vehicle
from mild_badger.core.vehicle.train import identified_train, pair_ids

__all__ = ["HOLD_TRAINS", "apply_edit", "replaced"]


def apply_edit(vehicle: Vehicle, edit: Edit) -> Vehicle:
    """Make the vehicle that an edit leads to; the old one stays as it is.

    Only the parts that the edit touches are copied and checked anew; the others, kept versions,
    readings and the log among them, are shared with the old vehicle.

    Raises
    ------
    DocumentError
        The edit names a field that is not there, or a value that cannot be used.
    """
    data: dict[str, Any] = {name: getattr(vehicle, name) for name in Vehicle.model_fields}
    inside = {str(change.path[0]) for change in edit.changes if len(change.path) > 1}
    data |= vehicle.model_dump(mode="json", include=inside & set(data))
    for change in edit.changes:
        _put(data, change.path, _plain(change.value))
    try:
        made = Vehicle.model_validate(data)
    except ValidationError as error:
        raise DocumentError(explain(error, data, Vehicle)) from error
    touched = {change.path[0] for change in edit.changes}
    if "box" in touched:
        made = with_sleeve_marks(vehicle, made)
    if touched & HOLD_TRAINS:
        made = _with_pair_ids(vehicle, made, own_ids=edit.own_ids)
    return _with_retired(vehicle, made) if touched & HOLD_IDENTIFIED else made


HOLD_TRAINS = {"box", "final_drive", "display_engine", "lever_drive"}


HOLD_IDENTIFIED = {
    "functions",
    "crane",
    "balance",
    "additional_axles",
    "equipment",
    "hydraulic_lines",
    "cables",
    "versions",
    "trial",
}


def _with_retired(old: Vehicle, new: Vehicle) -> Vehicle:
    """Remember the ids that are gone, so that none is given again."""
    gone = _ids(old) - _ids(new) - set(new.retired_ids)
    if not gone:
        return new
    return new.model_copy(update={"retired_ids": (*new.retired_ids, *sorted(gone))[-MAX_RETIRED:]})


def _ids(vehicle: Vehicle) -> set[str]:
    functions, crane = vehicle.functions, vehicle.crane
    return {
        piece.id
        for pieces in (
            () if functions is None else functions.outputs,
            () if crane is None else crane.outputs,
            () if vehicle.balance is None else vehicle.balance.masses,
            vehicle.additional_axles,
            vehicle.equipment,
            vehicle.hydraulic_lines,
            () if vehicle.cables is None else vehicle.cables.runs,
            vehicle.versions,
            vehicle.trial.readings,
        )
        for piece in pieces
    }


def _with_pair_ids(old: Vehicle, new: Vehicle, *, own_ids: bool) -> Vehicle:
    """Let the pairs that a train had keep their ids, whatever was put before, between or behind."""
    before, made = trains_of(old), new
    gone = list(new.retired_pairs)
    for key, (path, train) in trains_of(new).items():
        had = before.get(key, ((), ()))[1]
        if had == train:
            continue
        kept = train if own_ids else identified_train(had, train, new.retired_of(key))
        lost = set(pair_ids(had)) - set(pair_ids(kept))
        gone += sorted(f"{key}/{identity}" for identity in lost)
        if kept != train:
            made = replaced(made, path, kept)
    if len(gone) > len(new.retired_pairs):
        made = made.model_copy(update={"retired_pairs": tuple(gone)})
    return made


def replaced(node: Any, path: Path, value: Any) -> Any:
    """Put a value deep into frozen models and tuples, unchecked: for asking what if."""
    if not path:
        return value
    step, rest = path[0], path[1:]
    if isinstance(node, tuple):
        number = int(step)
        return (*node[:number], replaced(node[number], rest, value), *node[number + 1 :])
    return node.model_copy(update={str(step): replaced(getattr(node, str(step)), rest, value)})


def _plain(value: Any) -> Any:
    if isinstance(value, BaseModel):
        return value.model_dump(mode="json", warnings=False)
    if isinstance(value, list | tuple):
        return [_plain(item) for item in value]
    return value


def _put(data: Any, path: Path, value: Any) -> None:
    here = data
    for step in path[:-1]:
        try:
            here = here[step]
        except (KeyError, IndexError, TypeError):
            raise DocumentError(
                say(
                    "vehicle.this-part-is-no-longer-there",
                    field_label=field_label(data, path, Vehicle),
                )
            ) from None
    last = path[-1]
    known = last in here if isinstance(here, dict) else isinstance(last, int) and last < len(here)
    if not known:
        raise DocumentError(
            say(
                "vehicle.this-part-is-no-longer-there", field_label=field_label(data, path, Vehicle)
            )
        )
    here[last] = value

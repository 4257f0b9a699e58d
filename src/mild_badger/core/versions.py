"""Named versions of a vehicle kept in its file, and any two of them side by side."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from mild_badger.core.axle.clearance import clearance
from mild_badger.core.axle.running import running_of
from mild_badger.core.axle.steering import steering_result
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import Evaluation, evaluate
from mild_badger.core.ids import VersionId
from mild_badger.core.message import say
from mild_badger.core.performance.pull import pulls
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.road import Version
from mild_badger.core.workshop.states import part_marks

__all__ = [
    "ComparedFigure",
    "Difference",
    "compare_figures",
    "differences",
    "remove_version",
    "restore_version",
    "save_version",
    "version_vehicle",
]

PLACES = 60
"""Most differences in the tree of parts that are listed."""
REMEMBERED = ("shaft_letters", "retired_gears", "retired_pairs", "retired_ids")
"""What the document only remembers, so that nothing is called what something else was."""
STAY = {"versions", *REMEMBERED}
"""What no version brings back."""
UNSEEN: dict[str, Any] = {
    **dict.fromkeys(STAY, True),
    "assembly": {"states": {"__all__": {"shape"}}},
}
"""What is no difference to a builder: that, and marks by which a part is known again."""


@dataclass(frozen=True)
class ComparedFigure:
    """One figure of two versions; ``change_percent`` is None where there is no share to give."""

    name: str
    unit: str
    before: float | None
    after: float | None

    @property
    def change_percent(self) -> float | None:
        """By how much the second differs from the first, in per cent of the first."""
        if self.before is None or self.after is None or not self.before:
            return None
        return 100 * (self.after / self.before - 1)


@dataclass(frozen=True)
class Difference:
    """A place of the document where two versions differ, and what stands there."""

    where: str
    before: str
    after: str


def save_version(vehicle: Vehicle, name: str, date: str, note: str = "") -> Edit:
    """Keep the vehicle as it stands under a name, in its own file.

    Raises
    ------
    InputError
        The name is empty or taken.
    """
    name = name.strip()
    if not name:
        raise InputError(say("versions.a-version-needs-a-name-as-before-the-new-box"))
    if any(version.name == name for version in vehicle.versions):
        raise InputError(say("versions.there-is-a-version-already-take-another-name", name=name))
    data = vehicle.model_dump(mode="json", exclude={"versions"})
    identity = VersionId(vehicle.new_id(name, (version.id for version in vehicle.versions)))
    shapes = dict(part_marks(vehicle, [state.key for state in vehicle.assembly.states]))
    kept = Version(id=identity, name=name, date=date, note=note, data=data, shapes=shapes)
    return Edit(
        say("versions.keep-version", name=name), (Change(("versions",), (*vehicle.versions, kept)),)
    )


def remove_version(vehicle: Vehicle, name: str) -> Edit:
    """Forget a version."""
    rest = tuple(version for version in vehicle.versions if version.name != name)
    return Edit(say("versions.forget-version", name=name), (Change(("versions",), rest),))


def version_vehicle(vehicle: Vehicle, name: str | None) -> Vehicle:
    """Give the vehicle as it was kept under a name; as it stands for None.

    Raises
    ------
    InputError
        There is no such version, or it cannot be read.
    """
    if name is None:
        return vehicle
    kept = next((version for version in vehicle.versions if version.name == name), None)
    if kept is None:
        raise InputError(say("versions.there-is-no-version", name=name))
    try:
        return Vehicle.model_validate({**kept.data, "versions": []})
    except ValueError as error:
        raise InputError(say("versions.version-cannot-be-read", name=name, error=error)) from error


def restore_version(vehicle: Vehicle, name: str) -> Edit:
    """Make a kept version the vehicle again; all versions stay, and what is remembered since.

    Raises
    ------
    InputError
        There is no such version, or it cannot be read.
    """
    kept = version_vehicle(vehicle, name)
    fields = [field for field in Vehicle.model_fields if field not in STAY]
    changes = tuple(Change((field,), getattr(kept, field)) for field in fields)
    return Edit(say("versions.go-back-to-version", name=name), changes, own_ids=True)


def compare_figures(one: Vehicle, other: Vehicle) -> tuple[ComparedFigure, ...]:
    """Set two vehicles side by side: ratios, speeds, pull, clearance, steering, gears, parts."""
    pair = evaluate(one), evaluate(other)
    return tuple(_figures(*pair))


def _figures(one: Evaluation, other: Evaluation) -> Iterator[ComparedFigure]:
    names = list(dict.fromkeys([*(g.id for g in one.gears), *(g.id for g in other.gears)]))

    def called(gear: str) -> str:
        return next((v.gear_name(gear) for v in (other.vehicle, one.vehicle) if v.gear(gear)), gear)

    tables = [_by_gear(e) for e in (one, other)]
    for kind, unit in (("ratio", ""), ("speed", "m/s"), ("pull", "N"), ("hill", "%")):
        for name in names:
            before, after = (table.get((kind, name)) for table in tables)
            if before is not None or after is not None:
                yield ComparedFigure(
                    say("versions.gear", kind=kind, called=called(name)), unit, before, after
                )
    rooms = [clearance(e.vehicle) for e in (one, other)]
    steers = [steering_result(e.vehicle) for e in (one, other)]
    yield ComparedFigure(
        say("versions.final-drive"), "", float(one.final_ratio), float(other.final_ratio)
    )
    yield ComparedFigure(
        say("versions.worst-ratio-error"), "%", one.worst_error_percent, other.worst_error_percent
    )
    yield ComparedFigure(
        say("versions.ground-clearance"), "mm", rooms[0].ground_mm, rooms[1].ground_mm
    )
    yield ComparedFigure(
        say("versions.breakover"), "°", rooms[0].breakover_deg, rooms[1].breakover_deg
    )
    yield ComparedFigure(say("versions.lock"), "°", steers[0].lock_deg, steers[1].lock_deg)
    yield ComparedFigure(
        say("versions.turning-radius"), "mm", steers[0].least_radius_mm, steers[1].least_radius_mm
    )
    yield ComparedFigure(
        say("versions.power-lost-in-the-box-drag-left-out"),
        "%",
        one.box_loss_percent,
        other.box_loss_percent,
    )
    yield ComparedFigure(
        say("versions.gears-in-all"), "", float(one.total_gears), float(other.total_gears)
    )
    yield ComparedFigure(
        say("versions.parts-in-all"), "", float(one.part_count), float(other.part_count)
    )
    if one.vehicle.running is not None or other.vehicle.running is not None:
        masses = [running_of(e.vehicle).chassis.mass_kg for e in (one, other)]
        yield ComparedFigure(say("versions.mass"), say("versions.kg"), masses[0], masses[1])


def _by_gear(evaluation: Evaluation) -> dict[tuple[str, str], float]:
    values: dict[tuple[str, str], float] = {}
    for gear in evaluation.gears:
        if gear.ratio is not None:
            values["ratio", gear.id] = abs(float(gear.ratio))
    for pull in pulls(evaluation.vehicle, evaluation.gears):
        values["speed", pull.gear] = pull.road_m_s
        values["pull", pull.gear] = pull.usable.force_n
        values["hill", pull.gear] = pull.hill_percent
    return values


def differences(one: Vehicle, other: Vehicle) -> tuple[Difference, ...]:
    """List where two versions differ in the tree of parts, deepest places first named whole."""
    before, after = (v.model_dump(mode="json", exclude=UNSEEN) for v in (one, other))
    return tuple(_walk("", before, after))[:PLACES]


def _walk(where: str, one: Any, other: Any) -> Iterator[Difference]:
    if one == other:
        return
    if isinstance(one, dict) and isinstance(other, dict):
        for key in dict.fromkeys([*one, *other]):
            place = f"{where} › {key}" if where else key.replace("_", " ")
            yield from _walk(place.replace("_", " "), one.get(key), other.get(key))
        return
    if isinstance(one, list) and isinstance(other, list):
        names = [_name(item, n) for n, item in enumerate(one)]
        others = [_name(item, n) for n, item in enumerate(other)]
        first, second = dict(zip(names, one, strict=True)), dict(zip(others, other, strict=True))
        for key in dict.fromkeys([*names, *others]):
            yield from _walk(f"{where} › {key}", first.get(key), second.get(key))
        return
    yield Difference(where, _describe(one), _describe(other))


def _name(item: Any, number: int) -> str:
    """Name an entry of a list by what it is called, or by its place."""
    if isinstance(item, dict):
        for key in ("name", "gear", "body", "key"):
            if isinstance(item.get(key), str):
                return str(item[key])
        if "teeth" in item:
            return f"{item['teeth']} {item.get('bore', item.get('role', ''))}".strip()
    return str(number + 1)


def _describe(value: Any) -> str:
    if value is None:
        return "–"
    if isinstance(value, dict | list):
        return "there" if value else "none"
    return str(value)

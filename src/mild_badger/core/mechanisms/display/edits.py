"""Edits of the display engine."""

from mild_badger.core.errors import InputError
from mild_badger.core.mechanisms.display.engine import evenest
from mild_badger.core.mechanisms.display.model import MAX_CYLINDERS, DisplayEngine
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["add_engine", "apply_engine", "remove_engine", "use_order", "with_throws"]


def use_order(engine: DisplayEngine, order: tuple[int, ...]) -> Edit:
    """Take a firing order."""
    named = "-".join(map(str, order))
    return Edit.one(f"Fire {named}", ("display_engine", "order"), list(order))


def add_engine(vehicle: Vehicle) -> Edit:
    """Give the vehicle a display engine: four in line on the motor."""
    return Edit.one("Plan a display engine", ("display_engine",), DisplayEngine())


def remove_engine() -> Edit:
    """Take the display engine away."""
    return Edit.one("Take the display engine away", ("display_engine",), None)


def apply_engine(engine: DisplayEngine, label: str) -> Edit:
    """Put another arrangement in."""
    return Edit.one(label, ("display_engine",), engine)


def with_throws(engine: DisplayEngine, throws: tuple[float, ...]) -> Edit:
    """Take throws; as many cylinders as throws, and the evenest order where their number changes.

    Raises
    ------
    InputError
        There is none, or there are too many.
    """
    if not 1 <= len(throws) <= MAX_CYLINDERS:
        raise InputError(
            f"Give one throw a cylinder, 1 to {MAX_CYLINDERS} of them, such as 0, 180, 180, 0; "
            f"{len(throws)} are given."
        )
    changed = engine.model_copy(
        update={
            "cylinders": len(throws),
            "throws_deg": throws,
            "made_deg": engine.made_deg if len(throws) == engine.cylinders else (),
        }
    )
    if len(throws) != engine.cylinders:
        changed = changed.model_copy(update={"order": evenest(changed).order})
    return apply_engine(changed, "Set the throws")

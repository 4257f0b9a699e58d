"""Edits of the display engine."""

from mild_badger.core.errors import InputError
from mild_badger.core.mechanisms.display.engine import evenest
from mild_badger.core.mechanisms.display.model import MAX_CYLINDERS, DisplayEngine
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["add_engine", "apply_engine", "remove_engine", "use_order", "with_throws"]


def use_order(engine: DisplayEngine, order: tuple[int, ...]) -> Edit:
    """Take a firing order."""
    named = "-".join(map(str, order))
    return Edit.one(say("display.fire", named=named), ("display_engine", "order"), list(order))


def add_engine(vehicle: Vehicle) -> Edit:
    """Give the vehicle a display engine: four in line on the motor."""
    return Edit.one(say("display.plan-a-display-engine"), ("display_engine",), DisplayEngine())


def remove_engine() -> Edit:
    """Take the display engine away."""
    return Edit.one(say("display.take-the-display-engine-away"), ("display_engine",), None)


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
            say(
                "display.give-one-throw-a-cylinder-1-to-of-them-such",
                max_cylinders=MAX_CYLINDERS,
                count_of_throws=len(throws),
            )
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
    return apply_engine(changed, say("display.set-the-throws"))

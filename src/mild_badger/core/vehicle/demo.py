"""The vehicles that ship with the program: an invented scenario, the works of Larkholm Vale."""

from importlib import resources

from mild_badger.core.vehicle.codec import decode
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["DEMOS", "demo_vehicle"]

DEMOS = {
    "larkholm-mail-bus": "Mail bus, bricks",
    "larkholm-timber-tractor": "Timber tractor, plywood",
    "larkholm-street-sweeper": "Street sweeper, bricks, with a function box",
    "larkholm-sawmill-trolley": "Sawmill trolley, plywood, stepless",
    "larkholm-crane-truck": "Crane truck, printed parts, with its outputs and balance",
}
"""The demo vehicles, and what they are called in a menu."""


def demo_vehicle(name: str = "larkholm-mail-bus") -> Vehicle:
    """Load a demo vehicle by name."""
    folder = resources.files("mild_badger") / "data" / "vehicles"
    return decode((folder / f"{name}.badger.json").read_bytes())

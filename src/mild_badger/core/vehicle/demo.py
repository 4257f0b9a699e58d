"""The vehicles that ship with the program: an invented scenario, the works of Larkholm Vale."""

from importlib import resources

from mild_badger.core.message import say
from mild_badger.core.vehicle.codec import decode
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["DEMOS", "demo_vehicle"]

DEMOS = {
    "larkholm-mail-bus": say("vehicle.mail-bus-bricks"),
    "larkholm-timber-tractor": say("vehicle.timber-tractor-plywood"),
    "larkholm-street-sweeper": say("vehicle.street-sweeper-bricks-with-a-function-box"),
    "larkholm-sawmill-trolley": say("vehicle.sawmill-trolley-plywood-stepless"),
    "larkholm-crane-truck": say("vehicle.crane-truck-printed-parts-with-its-outputs"),
}
"""The demo vehicles, and what they are called in a menu."""


def demo_vehicle(name: str = "larkholm-mail-bus") -> Vehicle:
    """Load a demo vehicle by name."""
    folder = resources.files("mild_badger") / "data" / "vehicles"
    return decode((folder / f"{name}.badger.json").read_bytes())

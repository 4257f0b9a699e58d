"""Vehicles that tests begin from: those of the works before their boxes had a place in space.

What ships as a demo is placed and tuned; a test that is about how a vehicle gets there wants one
that is not, and one that stays as it is when a demo is made better.
"""

from pathlib import Path

from mild_badger.core.vehicle.codec import decode
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["example_vehicle"]

FOLDER = Path(__file__).parent / "vehicles"


def example_vehicle(name: str = "larkholm-mail-bus") -> Vehicle:
    """Read an example by its name."""
    return decode((FOLDER / f"{name}.badger.json").read_bytes())

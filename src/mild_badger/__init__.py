"""Mild Badger: plans gearboxes and drivetrains for working model vehicles.

>>> import mild_badger as mb
>>> bus = mb.demo()
>>> [str(gear.ratio) for gear in mb.evaluate(bus).gears][:3]
['6', '10/3', '25/12']

What the package offers stands in ``mild_badger.api`` and is loaded when it is first used.
"""

from importlib import import_module
from typing import Any

from mild_badger.text.catalogue import install
from mild_badger.version import __version__

__all__ = ["__version__"]

install()


def __getattr__(name: str) -> Any:
    """Load what the package offers when it is first asked for."""
    if name.startswith("_"):
        raise AttributeError(name)
    api = import_module("mild_badger.api")
    if name not in api.__all__:
        raise AttributeError(f"mild_badger offers no {name}")
    return getattr(api, name)


def __dir__() -> list[str]:
    """List what the package offers."""
    return [*__all__, *import_module("mild_badger.api").__all__]

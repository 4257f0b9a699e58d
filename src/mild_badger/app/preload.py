"""Libraries that some tabs want are loaded while the builder looks at the first one."""

import gc
import importlib
import threading

__all__ = ["LIBRARIES", "preload"]

LIBRARIES = (
    "mild_badger.core.publish.sheet",
    "mild_badger.core.publish.drawings",
    "mild_badger.core.workshop.cutlist",
    "mild_badger.core.trial.diagnosis",
    "pyqtgraph",
)
"""Loaded one after the other beside the window; none makes a widget or touches one."""


def preload() -> threading.Thread:
    """Start loading, and return at once."""
    thread = threading.Thread(target=_load, daemon=True, name="preload")
    thread.start()
    return thread


def _load() -> None:
    for name in LIBRARIES:
        importlib.import_module(name)
    gc.freeze()  # what is loaded stays: the collector need not walk through it during an edit

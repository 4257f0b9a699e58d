"""The jobs that may run in the background, by name; nothing else can be asked for."""

from collections.abc import Callable
from dataclasses import dataclass
from importlib import import_module
from typing import Any

__all__ = ["JOBS", "PARTS", "Job", "work_of"]

JOBS: dict[str, str] = {
    "find set": "find_set:find_set",
    "place fulcrum": "mechanisms.lever.edits:place_gears",
    "compare architectures": "compare:compare_all",
    "trains of a gear": "ratios.gear_trains:gear_trains",
    "place box": "layout.proposals:propose_layouts",
    "place functions": "layout.function_box:place_functions",
    "try relaxed limits": "layout.reliefs:reliefs",
    "plan book": "publish.book:book_of",
    "templates": "publish.drawings:template_files",
    "proof by solids": "components.collide:collide",
    "proof of functions": "components.collide:collide_functions",
    "box model": "components.model:box_model",
    "vehicle model": "components.model:vehicle_model",
}
"""Functions of core; each takes ``watch`` besides its arguments, to report and to stop there."""


PARTS = {
    "try relaxed limits": ("place box",),
    "compare architectures": ("find set",),
}
"""Jobs whose best so far is that of another job, which they are made of."""


@dataclass(frozen=True)
class Job:
    """A job by its name, and its arguments.

    Raises
    ------
    KeyError
        There is no such job.
    """

    name: str
    arguments: tuple[Any, ...]

    def __post_init__(self) -> None:
        if self.name not in JOBS:
            raise KeyError(self.name)


def work_of(name: str) -> Callable[..., Any]:
    """Load the function of a job; libraries for drawings are loaded only where they are wanted.

    Raises
    ------
    KeyError
        There is no such job.
    """
    module, _, function = JOBS[name].partition(":")
    work: Callable[..., Any] = getattr(import_module(f"mild_badger.core.{module}"), function)
    return work

"""A template: what is made, how often, how thick, and how it is drawn."""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Literal

from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["Draw", "Template", "TemplateKind"]

Draw = Callable[[Vehicle], Drawing]
TemplateKind = Literal["board part", "tube", "turned", "in its place", "trial piece", "own gear"]
"""Cut from board, sawn from tube, turned from the solid, a simpler part to make in another's place,
made once to try something out, or for a gear of one's own."""


@dataclass(frozen=True)
class Template:
    """One template: ``count`` pieces of ``thick_mm``.

    ``key`` is what it is asked for by; nothing is read out of it. ``draw`` makes the drawing with
    every line at the part's own size, and raises InputError where it cannot be made so. A ``flat``
    one is a plan to lay parts on, no part to print. ``note`` says what else belongs to a drawing
    that could be made.
    """

    key: str
    words: str
    count: int
    thick_mm: float
    draw: Draw = field(compare=False, repr=False)
    kind: TemplateKind = "board part"
    flat: bool = False
    note: Callable[[Vehicle], str] | None = field(default=None, compare=False, repr=False)

"""Outputs in their order, and how large they are drawn."""

from mild_badger.core.ids import OutputId
from mild_badger.core.mechanisms.crane.figures import OutputFigures
from mild_badger.core.mechanisms.crane.model import Crane, CraneOutput

__all__ = ["drawn_mm", "in_order", "output_index"]


def output_index(crane: Crane, identity: OutputId) -> int:
    """Give the place of an output in the document.

    Raises
    ------
    KeyError
        There is none of that id.
    """
    for number, output in enumerate(crane.outputs):
        if output.id == identity:
            return number
    raise KeyError(identity)


def in_order(figures: tuple[OutputFigures, ...]) -> tuple[OutputFigures, ...]:
    """Put every output behind the one that it hangs on."""
    ordered: list[OutputFigures] = []

    def add(source: str) -> None:
        for one in figures:
            if one.output.source == source:
                ordered.append(one)
                add(one.output.id)

    names = {one.output.id for one in figures}
    for source in dict.fromkeys(one.output.source for one in figures):
        if source not in names:
            add(source)
    return tuple(ordered)


def drawn_mm(output: CraneOutput, module_mm: float) -> tuple[float, float]:
    """Give how long a train is laid out in a line, gear touching gear, and how high; mm."""
    sizes = [(p.driver, *p.idlers, p.driven) for p in output.pairs]
    if not sizes:
        return 0.0, 0.0
    reach = sum(sum(row) - (row[0] + row[-1]) / 2 for row in sizes)
    whole = reach + (sizes[0][0] + sizes[-1][-1]) / 2
    return whole * module_mm, max(max(row) for row in sizes) * module_mm

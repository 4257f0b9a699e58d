"""A train of gears as the document holds it: pairs in a row, idlers between."""

from typing import Annotated

from pydantic import Field

from mild_badger.core.vehicle.base import Part, Teeth

__all__ = ["MAX_PAIRS", "GearPair", "Train"]

MAX_PAIRS = 4


class GearPair(Part):
    """Two gears in mesh, or joined by idlers in a line between them."""

    driver: Teeth
    driven: Teeth
    idlers: Annotated[tuple[Teeth, ...], Field(max_length=4)] = ()


Train = Annotated[tuple[GearPair, ...], Field(max_length=MAX_PAIRS)]

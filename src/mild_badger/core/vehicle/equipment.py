"""Bodies of a given size that must find room: battery, switch, controller and the like.

Lengths mm. A place is in the box's axes: x to the right and y upwards from the input shaft as seen
from the input end, ``along`` from the front outer wall's outer face.
"""

from typing import Annotated, Literal

from pydantic import Field

from mild_badger.core.ids import EquipmentId, Held
from mild_badger.core.vehicle.base import DocumentNode, Identified, Length, ShortName

__all__ = ["EQUIPMENT_KINDS", "Equipment", "EquipmentKind", "EquipmentPlace", "EquipmentShape"]

EquipmentKind = Literal["battery", "switch", "controller", "other"]
EQUIPMENT_KINDS: tuple[EquipmentKind, ...] = ("battery", "switch", "controller", "other")
EquipmentShape = Literal["box", "cylinder along", "cylinder across"]
Place = Annotated[float, Field(ge=-10_000, le=10_000)]


class EquipmentPlace(DocumentNode):
    """Where the middle of a body stands."""

    x_mm: Place
    y_mm: Place
    along_mm: Place


class Equipment(Identified):
    """A body: its size to the right, upwards and along the box, and where it stands.

    A cylinder along the box is ``wide_mm`` thick and ``long_mm`` long; one across it is ``high_mm``
    thick and ``wide_mm`` long. Without a place the program looks for one beside the box.
    """

    id: Held[EquipmentId] = EquipmentId("")
    name: ShortName
    kind: EquipmentKind = "other"
    shape: EquipmentShape = "box"
    wide_mm: Length
    high_mm: Length
    long_mm: Length
    place: EquipmentPlace | None = None

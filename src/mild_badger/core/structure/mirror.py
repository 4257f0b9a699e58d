"""A slot box mirrored, so that its columns stand in the order in which the gate's rails lie.

The arms from the forks to a gate lever cannot cross: the columns must stand from left to right as
the lever has their rails. A mirrored box meshes, shifts and runs as the box itself.
"""

from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.layout import BoxLayout, PlacementSettings
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["first_at_right", "mirror_edit", "mirrored_layout", "mirrored_placing"]


def first_at_right(vehicle: Vehicle) -> bool:
    """Tell whether a gate's first rail lies on the right, as seen from the box's input end.

    The driver looks forwards: at the input end's face where that is in front, from behind it where
    it is not.
    """
    if vehicle.shifting.actuation != "gate":
        return False
    return (vehicle.shifting.box_faces == "rear") == (vehicle.lever.first_rail == "left")


def mirrored_layout(layout: BoxLayout) -> BoxLayout:
    """Turn left to right."""
    shafts = tuple(shaft.model_copy(update={"x_mm": 0.0 - shaft.x_mm}) for shaft in layout.shafts)
    return layout.model_copy(update={"shafts": shafts})


def mirrored_placing(placing: PlacementSettings) -> PlacementSettings:
    """Turn held shafts and the hull left to right."""
    pins = tuple(pin.model_copy(update={"x_mm": 0.0 - pin.x_mm}) for pin in placing.pins)
    outline = tuple((0.0 - x, y) for x, y in placing.outline_mm)
    return placing.model_copy(update={"pins": pins, "outline_mm": outline})


def mirror_edit(vehicle: Vehicle) -> Edit | None:
    """Mirror a placed slot box, with its held shafts and its hull; None where none is placed."""
    if vehicle.layout is None:
        return None
    placing = mirrored_placing(vehicle.placing)
    changes = (
        Change(("layout",), mirrored_layout(vehicle.layout)),
        Change(("placing", "pins"), placing.pins),
        Change(("placing", "outline_mm"), placing.outline_mm),
    )
    return Edit(say("layout.mirror-the-box"), changes, own_ids=True)

"""The form of a gear of the kit, and the outline of its teeth."""

from functools import lru_cache

from mild_badger.core.components.component import Outline
from mild_badger.core.errors import InputError
from mild_badger.core.templates.gear_shape import GearForm, gear_shape
from mild_badger.core.vehicle.kit import Kit

__all__ = ["form_of", "gear_ring"]


def form_of(kit: Kit, teeth: int, shift: float = 0.0) -> GearForm:
    """Give the form of a gear of the kit, with the profile shift in modules."""
    size = kit.size(teeth)
    thinning = size.tooth_thinning_mm if size is not None else 0.0
    return GearForm(teeth, kit.module_mm, kit.pressure_angle_deg, shift, thinning_mm=thinning)


@lru_cache(maxsize=256)
def gear_ring(form: GearForm) -> Outline:
    """Draw a gear's teeth round its own centre, in mm.

    Raises
    ------
    InputError
        When such teeth cannot be made.
    """
    try:
        return tuple(gear_shape(form))
    except ValueError as error:
        raise InputError(str(error)) from error

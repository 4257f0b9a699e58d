"""The kit as the document holds it: the parts that exist, their sizes, and how many there are.

A vehicle carries its own copy of the kit, so that a file opens alike on every machine and the
stock counts belong to the project.
"""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from mild_badger.core.vehicle.base import Angle, Count, Length, Part, Teeth

__all__ = ["BevelSize", "GearSize", "Kit", "OtherPart"]


class GearSize(Part):
    """A spur gear of the kit; a size that exists fixed and free stands twice."""

    teeth: Teeth
    bore: Literal["fixed", "free"]
    dog_faces: bool = False
    face_width_mm: Length
    tip_diameter_mm: Length
    tooth_thinning_mm: Annotated[float, Field(ge=0, le=5)] = 0.0
    stock: Count = 0


class BevelSize(Part):
    """A bevel gear of the kit; a crown may be the toothed rim of the differential housing."""

    teeth: Teeth
    role: Literal["bevel", "differential rim"] = "bevel"
    face_width_mm: Length
    stock: Count = 0


class OtherPart(Part):
    """A part that no computation uses yet, kept for the parts list."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    teeth: Annotated[int, Field(ge=0, le=400)] = 0
    stock: Count = 0


class Kit(Part):
    """A kit of gears and shafts.

    Lengths in mm, the pressure angle in degrees. ``mesh_loss`` is the share of the power lost in
    one loaded mesh (an estimate, 0 to 1); ``shaft_lengths_u`` are whole grid units.
    """

    name: Annotated[str, Field(min_length=1, max_length=80)]
    kind: Literal["brick"] = "brick"
    grid_unit_mm: Length
    module_mm: Length
    pressure_angle_deg: Annotated[Angle, Field(ge=10, le=35)]
    shaft_diameter_mm: Length
    mesh_loss: Annotated[float, Field(ge=0, lt=1)]
    shaft_lengths_u: tuple[Annotated[int, Field(ge=1, le=200)], ...]
    shaft_stock: Count = 0
    sleeve_stock: Count = 0
    gears: Annotated[tuple[GearSize, ...], Field(min_length=1, max_length=400)]
    bevels: Annotated[tuple[BevelSize, ...], Field(max_length=100)] = ()
    others: Annotated[tuple[OtherPart, ...], Field(max_length=200)] = ()

    @model_validator(mode="after")
    def _entries_stand_once(self) -> Self:
        keys = [(gear.teeth, gear.bore) for gear in self.gears]
        for key in keys:
            if keys.count(key) > 1:
                raise ValueError(f"the {key[0]}-tooth gear with {key[1]} bore stands twice")
        bevels = [(bevel.teeth, bevel.role) for bevel in self.bevels]
        for teeth, role in bevels:
            if bevels.count((teeth, role)) > 1:
                raise ValueError(f"the {teeth}-tooth {role} stands twice")
        for gear in self.gears:
            pitch_mm = gear.teeth * self.module_mm
            if not pitch_mm < gear.tip_diameter_mm <= pitch_mm + 4 * self.module_mm:
                raise ValueError(
                    f"the {gear.teeth}-tooth gear's tip diameter {gear.tip_diameter_mm:g} mm is "
                    f"outside {pitch_mm:g} to {pitch_mm + 4 * self.module_mm:g} mm"
                )
        return self

    @property
    def sizes(self) -> tuple[int, ...]:
        """The distinct tooth counts, ascending."""
        return tuple(sorted({gear.teeth for gear in self.gears}))

    @property
    def dog_sizes(self) -> tuple[int, ...]:
        """The tooth counts that exist free-running with dog faces, ascending."""
        return tuple(sorted({g.teeth for g in self.gears if g.bore == "free" and g.dog_faces}))

    def size(self, teeth: int, bore: Literal["fixed", "free"] | None = None) -> GearSize | None:
        """Find a gear by its tooth count, and by its bore where that matters."""
        for gear in self.gears:
            if gear.teeth == teeth and bore in (None, gear.bore):
                return gear
        return None

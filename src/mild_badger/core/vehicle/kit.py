"""The kit as the document holds it: the parts that exist, their sizes, and how many there are.

A vehicle carries its own copy of the kit, so that a file opens alike on every machine and the
stock counts belong to the project.
"""

from functools import lru_cache
from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from mild_badger.core.message import say
from mild_badger.core.units import MM_PER_INCH
from mild_badger.core.vehicle.base import Angle, Count, DocumentNode, Length, Positive, Teeth

__all__ = [
    "Bearing",
    "BearingKind",
    "BevelSize",
    "Bore",
    "GearSize",
    "Kit",
    "MadeGears",
    "OtherPart",
    "PartPrice",
    "Stock",
]

Bore = Literal["fixed", "free"]
BearingKind = Literal["ball", "roller", "bush", "flanged bush"]
Stock = Count | None
"""How many the builder owns; None for what is made as it is needed."""


LengthsInUnits = Annotated[tuple[Annotated[int, Field(ge=1, le=200)], ...], Field(max_length=200)]


class GearSize(DocumentNode):
    """A spur gear of the kit; a size that exists fixed and free stands twice."""

    teeth: Teeth
    bore: Bore
    dog_faces: bool = False
    face_width_mm: Length
    tip_diameter_mm: Length
    tooth_thinning_mm: Annotated[float, Field(ge=0, le=5)] = 0.0
    stock: Stock = 0


class MadeGears(DocumentNode):
    """Gears the builder cuts or prints to any tooth count in a range, as many as are needed.

    Full-depth teeth (ISO 53 profile A): the tip diameter is module · (teeth + 2). The face width
    is the plywood's thickness or the print's height.
    """

    least_teeth: Teeth
    most_teeth: Teeth
    face_width_mm: Length
    tooth_thinning_mm: Annotated[float, Field(ge=0, le=5)] = 0.0
    dog_faces: bool = True

    @property
    def counts(self) -> range:
        """The tooth counts that can be made, whichever end was typed first."""
        low, high = sorted((self.least_teeth, self.most_teeth))
        return range(low, high + 1)


class BevelSize(DocumentNode):
    """A bevel gear of the kit; a crown may be the toothed rim of the differential housing."""

    teeth: Teeth
    role: Literal["bevel", "differential rim"] = "bevel"
    face_width_mm: Length
    stock: Stock = 0


class Bearing(DocumentNode):
    """A bearing to be had: bore × outer diameter × width, in mm (ISO 15 sizes for rolling ones).

    ``price`` is in the builder's own money, None where it is not known.
    """

    name: Annotated[str, Field(min_length=1, max_length=40)]
    kind: BearingKind = "ball"
    bore_mm: Length
    outer_mm: Length
    width_mm: Length
    price: Annotated[float, Field(ge=0, le=100_000)] | None = None
    stock: Stock = 0

    @property
    def takes_thrust(self) -> bool:
        """Whether it holds a shaft along its axis: a roller bearing does not, a plain bush not."""
        return self.kind in ("ball", "flanged bush")


class PartPrice(DocumentNode):
    """What a part of a kind costs, in the builder's own money; ``part`` as the list names it.

    ``price`` is one part's, None where it is not known; they are sold ``pack`` at a time.
    """

    part: Annotated[str, Field(min_length=1, max_length=80)]
    price: Annotated[float, Field(ge=0, le=100_000)] | None = None
    pack: Annotated[int, Field(ge=1, le=10_000)] = 1


class OtherPart(DocumentNode):
    """A part that no computation uses yet, kept for the parts list."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    teeth: Annotated[int, Field(ge=0, le=400)] = 0
    stock: Count = 0


class Kit(DocumentNode):
    """A kit of gears and shafts.

    Lengths in mm, the pressure angle in degrees. Where ``diametral_pitch`` is given, in teeth to
    the inch of pitch diameter, the module follows from it (ISO 1122-1). ``mesh_loss`` is the share
    of the power lost in one loaded mesh (an estimate, 0 to 1); a pair sits loose from
    ``smooth_contact`` down, skips below ``least_contact``, binds below ``least_play_mm``;
    ``shaft_modulus_mpa`` is how stiff shafts are and ``tooth_strength_mpa`` what teeth bear
    (estimates); ``shaft_lengths_u`` are whole grid units, empty where shafts are cut to length. A
    brick kit's shafts sit on the grid; in wood and print a pair sits at any distance. ``barred``
    sizes are owned or can be made but shall not be used; ``cutter_mm`` is the nozzle's or the
    cutter's width, which limits how fine teeth can be.
    """

    name: Annotated[str, Field(min_length=1, max_length=80)]
    kind: Literal["brick", "wood", "printed"] = "brick"
    grid_unit_mm: Length
    module_mm: Length
    diametral_pitch: Annotated[float, Field(gt=0, le=400)] | None = None
    pressure_angle_deg: Annotated[Angle, Field(ge=10, le=35)]
    shaft_diameter_mm: Length
    mesh_loss: Annotated[float, Field(ge=0, lt=1)]
    shaft_lengths_u: LengthsInUnits = ()
    beam_lengths_u: LengthsInUnits = (2, 3, 5, 7, 9, 11, 13, 15)
    shaft_modulus_mpa: Positive = 2200.0
    tooth_strength_mpa: Positive = 60.0
    smooth_contact: Annotated[float, Field(ge=1, le=3)] = 1.2
    least_contact: Annotated[float, Field(ge=0.8, le=2)] = 1.0
    least_play_mm: Annotated[float, Field(ge=-0.5, le=1)] = 0.0
    shaft_stock: Stock = 0
    sleeve_stock: Stock = 0
    one_way_stock: Stock = None
    gears: Annotated[tuple[GearSize, ...], Field(max_length=400)] = ()
    made: MadeGears | None = None
    barred: Annotated[tuple[Teeth, ...], Field(max_length=400)] = ()
    cutter_mm: Length | None = None
    bevels: Annotated[tuple[BevelSize, ...], Field(max_length=100)] = ()
    bearings: Annotated[tuple[Bearing, ...], Field(max_length=100)] = ()
    others: Annotated[tuple[OtherPart, ...], Field(max_length=200)] = ()
    prices: Annotated[tuple[PartPrice, ...], Field(max_length=500)] = ()

    def __repr__(self) -> str:
        """Name it in a line."""
        return f"<Kit {self.name!r}: {self.kind}, {len(self.gears)} gears>"

    @model_validator(mode="before")
    @classmethod
    def _module_follows_pitch(cls, data: Any) -> Any:
        pitch = data.get("diametral_pitch") if isinstance(data, dict) else None
        if isinstance(pitch, int | float) and pitch > 0:
            return {**data, "module_mm": MM_PER_INCH / pitch}
        return data

    @model_validator(mode="after")
    def _entries_stand_once(self) -> Self:
        _once(
            [
                say("vehicle.tooth-gear-with-bore", teeth=gear.teeth, bore=gear.bore)
                for gear in self.gears
            ]
        )
        _once([say("vehicle.tooth", teeth=bevel.teeth, role=bevel.role) for bevel in self.bevels])
        _once([say("vehicle.bearing", name=bearing.name) for bearing in self.bearings])
        _once([say("vehicle.price-of-the", part=price.part) for price in self.prices])
        return self

    def tip_fits(self, gear: GearSize) -> bool:
        """Whether a size's tip diameter is one that teeth of the kit's module can have."""
        pitch_mm = gear.teeth * self.module_mm
        return pitch_mm < gear.tip_diameter_mm <= pitch_mm + 4 * self.module_mm

    @model_validator(mode="after")
    def _has_gears(self) -> Self:
        if not self.gears and self.made is None:
            raise ValueError(say("vehicle.the-kit-has-no-gears-list-some-or-give-a"))
        if not self.sizes:
            raise ValueError(say("vehicle.every-size-of-the-kit-is-barred-let-some-be"))
        return self

    @property
    def any_seat(self) -> bool:
        """Whether two gears sit at whatever distance they need, not on a grid."""
        return self.kind != "brick"

    @property
    def sizes(self) -> tuple[int, ...]:
        """The tooth counts that may be used, ascending: what there is less what is barred."""
        return _usable(self._every(), self.barred)

    @property
    def dog_sizes(self) -> tuple[int, ...]:
        """The tooth counts that exist free-running with dog faces, ascending, less the barred."""
        sizes = {g.teeth for g in self.gears if g.bore == "free" and g.dog_faces}
        if self.made is not None and self.made.dog_faces:
            sizes.update(self.made.counts)
        return _usable(tuple(sorted(sizes)), self.barred)

    def size(self, teeth: int, bore: Bore | None = None) -> GearSize | None:
        """Find a gear by its tooth count, and by its bore where that matters; barred ones too."""
        for gear in self.gears:
            if gear.teeth == teeth and bore in (None, gear.bore):
                return gear
        if self.made is not None and teeth in self.made.counts:
            return _made(self.made, self.module_mm, teeth, bore or "fixed")
        return None

    def owned(self, teeth: int, bore: Bore | None = None) -> Stock:
        """How many gears of a size there are, of either bore where it is not named."""
        bores: tuple[Bore, ...] = ("fixed", "free") if bore is None else (bore,)
        counts = [g.stock for each in bores if (g := self.size(teeth, each)) is not None]
        return None if None in counts else sum(count or 0 for count in counts)

    def _every(self) -> tuple[int, ...]:
        sizes = {gear.teeth for gear in self.gears}
        if self.made is not None:
            sizes.update(self.made.counts)
        return tuple(sorted(sizes))


def _once(names: list[str]) -> None:
    for name in names:
        if names.count(name) > 1:
            raise ValueError(say("vehicle.the-stands-twice", name=name))


def _usable(sizes: tuple[int, ...], barred: tuple[int, ...]) -> tuple[int, ...]:
    return tuple(z for z in sizes if z not in barred)


@lru_cache(maxsize=4096)
def _made(made: MadeGears, module_mm: float, teeth: int, bore: Bore) -> GearSize:
    return GearSize(
        teeth=teeth,
        bore=bore,
        dog_faces=made.dog_faces and bore == "free",
        face_width_mm=made.face_width_mm,
        tip_diameter_mm=min(module_mm * (teeth + 2), 100_000.0),  # as far as lengths go
        tooth_thinning_mm=made.tooth_thinning_mm,
        stock=None,
    )

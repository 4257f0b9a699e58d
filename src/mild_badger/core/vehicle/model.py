"""The vehicle: one document from which everything else is assembled and solved.

Ratios in the document are turns in per turn out; lengths mm, speeds rpm, torque N·mm.
"""

from collections.abc import Iterable, Mapping
from typing import Annotated, Any, Literal, Self

from pydantic import Field, field_validator, model_validator

from mild_badger.core.figures import UnitChoice
from mild_badger.core.ids import (
    ID_PATTERN,
    MAX_ID,
    RESERVED,
    AxleId,
    GearId,
    Held,
    Identity,
    VersionId,
    fresh_id,
)
from mild_badger.core.mechanisms.balance.model import Balance
from mild_badger.core.mechanisms.cables.model import Cables
from mild_badger.core.mechanisms.clutch.model import Clutch
from mild_badger.core.mechanisms.crane.model import Crane
from mild_badger.core.mechanisms.display.model import DisplayEngine
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.mechanisms.liquid.model import MAX_LINES, LiquidLine
from mild_badger.core.message import say
from mild_badger.core.vehicle.assembly import Assembly
from mild_badger.core.vehicle.base import (
    DocumentNode,
    Identified,
    Length,
    Positive,
    Rpm,
    ShortName,
    Teeth,
    identified,
)
from mild_badger.core.vehicle.bodies import INNER_WALL
from mild_badger.core.vehicle.box import MAX_GEARS, MAX_PAIRS, Train, gear_key
from mild_badger.core.vehicle.boxes import Box
from mild_badger.core.vehicle.chassis import RunningGear
from mild_badger.core.vehicle.edit.change import Path
from mild_badger.core.vehicle.equipment import Equipment
from mild_badger.core.vehicle.frame import Frame
from mild_badger.core.vehicle.functions import FunctionBox
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.layout import BoxLayout, PlacementSettings
from mild_badger.core.vehicle.letters import MAX_SHAFTS, ShaftLetter
from mild_badger.core.vehicle.log import Log
from mild_badger.core.vehicle.making import FabricationSettings, Fit
from mild_badger.core.vehicle.road import Ground, Losses, Segment, Version
from mild_badger.core.vehicle.shifting import Lever, Shifting, Side
from mild_badger.core.vehicle.sleeves import SleeveId, describe_sleeve
from mild_badger.core.vehicle.trial import Trial
from mild_badger.core.vehicle.units import UnitSettings, unit_choice
from mild_badger.core.words import word

__all__ = [
    "MAX_RETIRED",
    "Axle",
    "ChangeGear",
    "Differential",
    "DifferentialKind",
    "DrivenAxle",
    "FinalDrive",
    "GearTarget",
    "Motor",
    "RealVehicle",
    "Scale",
    "SearchSettings",
    "Vehicle",
    "Wheels",
]

HISTORY = frozenset({"versions", "trial", "log"})
"""What a vehicle was and how it did; it does not bear on what it is."""
HASH = "_hash"
MAX_RETIRED = 10_000
MAX_TYPED = 400
Ratio = Annotated[float, Field(ge=0.01, le=1000)]


class GearTarget(Identified):
    """One gear of the real vehicle; the ratio is positive, reverse too.

    Everything else in the document means it by its ``id``; only a gear on its way into a document
    has none yet.
    """

    id: Held[GearId] = ""
    name: ShortName
    ratio: Ratio
    reverse: bool = False


class RealVehicle(DocumentNode):
    """What the model is to behave like."""

    gears: Annotated[tuple[GearTarget, ...], Field(min_length=1, max_length=MAX_GEARS)]
    final_drive: Ratio
    tyre_diameter_mm: Length
    idle_rpm: Rpm = 700
    peak_rpm: Rpm = 2000
    limit_rpm: Rpm = 2900
    shift_rpm: Rpm | None = None

    @property
    def shifts_at_rpm(self) -> float:
        """Engine speed at which the next gear is taken; the limit where none is given."""
        return self.limit_rpm if self.shift_rpm is None else self.shift_rpm

    @field_validator("gears")
    @classmethod
    def _have_ids(cls, gears: tuple[GearTarget, ...]) -> tuple[GearTarget, ...]:
        """Give an id to gears that come without, as files before version 5 have them."""
        return identified(gears, RESERVED)

    @model_validator(mode="after")
    def _names_stand_once(self) -> Self:
        names = [gear.name for gear in self.gears]
        for name in names:
            if names.count(name) > 1:
                raise ValueError(say("vehicle.two-gears-are-called", name=name))
        return self


class Scale(DocumentNode):
    """Scale 1:n, and which school of scale speed is in force."""

    denominator: Annotated[float, Field(ge=1, le=500)]
    speed_school: Literal["geometric", "froude"] = "geometric"


class Motor(DocumentNode):
    """A motor with a linear curve; ``turns`` +1 is clockwise seen along the box's axis.

    ``no_load_rpm`` and ``stall_torque_n_mm`` are one motor's own at ``rated_v``. ``count`` alike
    ones work on one shaft behind their own ``reduction``, at ``supply_v``, of which a speed
    controller lets through ``throttle``. ``limit_a`` caps the current of each, between
    ``no_load_a`` and ``stall_a``. ``working_rpm`` is the speed of the shaft that enters the box.
    ``diameter_mm`` and ``length_mm`` are a motor's body with its gears, None for not known.
    """

    name: Annotated[str, Field(max_length=80)] = ""
    no_load_rpm: Rpm
    stall_torque_n_mm: Positive
    working_rpm: Rpm
    turns: Literal[1, -1] = 1
    count: Annotated[int, Field(ge=1, le=8)] = 1
    reduction: Annotated[float, Field(gt=0, le=1000)] = 1.0
    rated_v: Annotated[float, Field(gt=0, le=100)] = 9.0
    supply_v: Annotated[float, Field(gt=0, le=100)] = 9.0
    throttle: Annotated[float, Field(gt=0, le=1)] = 1.0
    no_load_a: Annotated[float, Field(ge=0, le=500)] = 0.1
    stall_a: Annotated[float, Field(gt=0, le=1000)] = 1.0
    limit_a: Annotated[float, Field(gt=0, le=1000)] | None = None
    diameter_mm: Length | None = None
    length_mm: Length | None = None

    @property
    def shaft_no_load_rpm(self) -> float:
        """No-load speed of the shaft that enters the box, at the voltage there is."""
        return self.no_load_rpm * self.supply_v * self.throttle / (self.rated_v * self.reduction)

    @property
    def shaft_stall_n_mm(self) -> float:
        """Torque at standstill of that shaft, as far as the current is let through."""
        own = self.stall_torque_n_mm * self.supply_v * self.throttle / self.rated_v
        return min(own, self._capped_n_mm) * self.count * self.reduction

    @property
    def _capped_n_mm(self) -> float:
        """Torque of one motor at its current limit: k (I − I₀), k = stall torque by current."""
        if self.limit_a is None or self.stall_a <= self.no_load_a:
            return float("inf")
        per_amp = self.stall_torque_n_mm / (self.stall_a - self.no_load_a)
        return max(per_amp * (self.limit_a - self.no_load_a), 0.0)

    def shaft_torque_n_mm(self, rpm: float) -> float:
        """Give that shaft's torque at a speed: a line from stall to no load, capped by current."""
        own = self.stall_torque_n_mm * self.supply_v * self.throttle / self.rated_v
        line = own * max(0.0, 1.0 - abs(rpm) / self.shaft_no_load_rpm)
        return min(line, self._capped_n_mm) * self.count * self.reduction

    def current_a(self, torque_n_mm: float) -> float:
        """Give the current of all motors together at a torque on that shaft."""
        one = torque_n_mm / (self.count * self.reduction)
        share = one / self.stall_torque_n_mm
        return self.count * (self.no_load_a + share * (self.stall_a - self.no_load_a))


class Wheels(DocumentNode):
    """The model's driven wheels."""

    diameter_mm: Length


class Axle(DocumentNode):
    """The model's main dimensions on the ground."""

    track_mm: Length
    wheelbase_mm: Length


class FinalDrive(DocumentNode):
    """Spur pairs, then a bevel pinion on a crown wheel.

    The crown wheel sits ``left`` or ``right`` of the pinion, seen by the driver.
    """

    pairs: Train = ()
    pinion: Teeth
    crown: Teeth
    crown_side: Side = "left"


DifferentialKind = Literal["open", "locked", "none", "planetary"]


class Differential(DocumentNode):
    """What sits between two driven wheels, or between two driven axles.

    ``open`` is a bevel differential with ``planets`` planets, ``locked`` a solid axle, ``none``
    drives the wheel on ``driven_side`` alone; ``planetary`` brings the drive in at the carrier,
    left takes the sun and right the ring, so that torques stand as sun : ring. ``tooth_limit_n``
    is what a planet's tooth may carry as the builder found it, None for an estimate.
    """

    kind: DifferentialKind = "open"
    planets: Annotated[int, Field(ge=1, le=6)] = 2
    side_teeth: Teeth = 12
    planet_teeth: Teeth = 12
    sun_teeth: Teeth = 24
    ring_teeth: Teeth = 56
    driven_side: Side = "left"
    tooth_limit_n: Positive | None = None


class DrivenAxle(Identified):
    """A further driven axle, ``ahead_mm`` ahead of the first one (behind it: negative).

    Its propeller shaft comes from the end of the final drive's spur pairs, to its pinion from
    behind (``pinion_from`` "rear") or from ahead; the crown wheel's side is seen by the driver.
    ``centre`` couples its shaft with that of the axles before it.
    """

    id: Held[AxleId] = AxleId("")
    name: ShortName
    ahead_mm: Annotated[float, Field(ge=-10_000, le=10_000)]
    pinion: Teeth
    crown: Teeth
    crown_side: Side = "left"
    pinion_from: Literal["rear", "front"] = "rear"
    differential: Differential = Differential()
    centre: Literal["locked", "open"] = "locked"
    steered: bool = False


class SearchSettings(DocumentNode):
    """How the builder wants trains chosen.

    Tolerance in per cent; the factor is k of domain §1, ``factor_bound`` "final drive" narrows its
    range to what the kit's final drives can take up. Limits that are None do not bind:
    ``max_gears`` in a train, idlers among them, and the greatest centre distance. ``within_stock``
    keeps the set to what the builder owns; ``seated`` asks that every mesh of a brick kit sits on
    whole units; ``profile_shift`` lets a pair of a box with one centre distance have a tooth sum
    one off. ``hull_mm`` is the clear height for the largest gear, ``step_unevenness_percent`` the
    most by which neighbouring steps may differ before it is said.
    """

    fit: Literal["absolute", "spacing"] = "absolute"
    max_pairs: Annotated[int, Field(ge=1, le=MAX_PAIRS)] = 2
    tolerance_percent: Annotated[float, Field(gt=0, le=100)] = 3.0
    factor_low: Annotated[float, Field(ge=0.01, le=100)] = 0.5
    factor_high: Annotated[float, Field(ge=0.01, le=100)] = 2.0
    factor_bound: Literal["range", "final drive"] = "range"
    max_gears: Annotated[int, Field(ge=2, le=24)] | None = None
    max_centre_mm: Length | None = None
    within_stock: bool = False
    seated: bool = True
    profile_shift: bool = False
    hull_mm: Length | None = None
    step_unevenness_percent: Annotated[float, Field(gt=0, le=500)] = 25.0

    @property
    def factors(self) -> tuple[float, float]:
        """The range of the common factor, the lower end first however it was typed."""
        low, high = sorted((self.factor_low, self.factor_high))
        return low, high


class ChangeGear(DocumentNode):
    """The one place whose gear the builder means to swap for another top speed.

    ``train`` is the key of a train (``gear 3``, ``input pair``, ``final drive`` …), ``pair`` the id
    of the pair in it.
    """

    train: Annotated[str, Field(min_length=1, max_length=60)]
    pair: Annotated[str, Field(min_length=1, max_length=MAX_ID, pattern=ID_PATTERN)]
    role: Literal["driver", "driven"]


class TypedFigure(DocumentNode):
    """A fraction as it was typed, so that it is shown as that fraction."""

    field: Annotated[str, Field(min_length=1, max_length=120)]
    text: Annotated[str, Field(min_length=1, max_length=60)]


class Vehicle(DocumentNode):
    """The whole document.

    ``retired_gears`` are ids of gears that are gone, so that none is given again; so are
    ``retired_pairs``, each with its train's key: gear 3/1. ``retired_ids`` are those of everything
    else: outputs, axles, masses, lines, cables, versions.
    """

    name: Annotated[str, Field(min_length=1, max_length=200)]
    notes: Annotated[str, Field(max_length=20_000)] = ""
    real: RealVehicle
    scale: Scale
    kit: Kit
    search: SearchSettings = SearchSettings()
    motor: Motor
    wheels: Wheels
    box: Box
    final_drive: FinalDrive
    differential: Differential = Differential()
    additional_axles: Annotated[tuple[DrivenAxle, ...], Field(max_length=3)] = ()
    axle: Axle
    running: RunningGear | None = None
    losses: Losses = Losses()
    ground: Ground = Ground()
    motors: Annotated[tuple[Motor, ...], Field(max_length=40)] = ()
    course: Annotated[tuple[Segment, ...], Field(max_length=60)] = ()
    versions: Annotated[tuple[Version, ...], Field(max_length=60)] = ()
    change_gear: ChangeGear | None = None
    lever: Lever = Lever()
    shifting: Shifting = Shifting()
    functions: FunctionBox | None = None
    display_engine: DisplayEngine | None = None
    lever_drive: LeverDrive | None = None
    clutch: Clutch | None = None
    equipment: Annotated[tuple[Equipment, ...], Field(max_length=20)] = ()
    hydraulic_lines: Annotated[tuple[LiquidLine, ...], Field(max_length=MAX_LINES)] = ()
    cables: Cables | None = None
    crane: Crane | None = None
    balance: Balance | None = None
    placing: PlacementSettings = PlacementSettings()
    frame: Frame = Frame()
    making: FabricationSettings = FabricationSettings()
    assembly: Assembly = Assembly()
    trial: Trial = Trial()
    log: Log = Log()
    units: UnitSettings = UnitSettings()
    typed: Annotated[tuple[TypedFigure, ...], Field(max_length=MAX_TYPED)] = ()
    layout: BoxLayout | None = None
    shaft_letters: Annotated[tuple[ShaftLetter, ...], Field(max_length=MAX_SHAFTS)] = ()
    retired_gears: Annotated[tuple[Identity, ...], Field(max_length=MAX_RETIRED)] = ()
    retired_pairs: Annotated[
        tuple[Annotated[str, Field(max_length=100)], ...], Field(max_length=MAX_RETIRED)
    ] = ()
    retired_ids: Annotated[tuple[Identity, ...], Field(max_length=MAX_RETIRED)] = ()

    @field_validator("additional_axles", "versions", "hydraulic_lines", "equipment")
    @classmethod
    def _have_ids(cls, pieces: tuple[Identified, ...]) -> tuple[Identified, ...]:
        return identified(pieces)

    @field_validator("shaft_letters")
    @classmethod
    def _letters_stand_once(cls, given: tuple[ShaftLetter, ...]) -> tuple[ShaftLetter, ...]:
        for words in ([entry.shaft for entry in given], [entry.letter for entry in given]):
            if len(set(words)) < len(words):
                twice = next(word for word in words if words.count(word) > 1)
                raise ValueError(
                    say("vehicle.stands-twice-every-shaft-has-a-letter-of-its", twice=twice)
                )
        return given

    @model_validator(mode="after")
    def _slots_serve_gears(self) -> Self:
        gears = {gear.id for gear in self.real.gears}
        for slot in self.box.slots:
            if slot.gear not in gears:
                raise ValueError(
                    say("vehicle.box-a-slot-serves-gear-which-has-no-target", gear=slot.gear)
                )
        kept = [version.name for version in self.versions]
        if len(set(kept)) < len(kept):
            raise ValueError(say("vehicle.two-versions-share-a-name"))
        if self.lever_drive is not None and self.box.lever is not None:
            raise ValueError(say("vehicle.the-box-is-a-lever-drive-itself-it-takes"))
        lines = [line.name for line in self.hydraulic_lines]
        if len(set(lines)) < len(lines):
            raise ValueError(say("vehicle.two-liquid-lines-share-a-name"))
        things = [item.name for item in self.equipment]
        if len(set(things)) < len(things):
            raise ValueError(say("vehicle.two-bodies-share-a-name"))
        axles = [axle.name for axle in self.additional_axles]
        if len(set(axles)) < len(axles):
            raise ValueError(say("vehicle.two-driven-axles-share-a-name"))
        return self

    def __hash__(self) -> int:
        """Hash what can be evaluated, once: caches ask for it often, and history is long."""
        known: int | None = self.__dict__.get(HASH)
        if known is None:
            fields = (name for name in Vehicle.model_fields if name not in HISTORY)
            known = self.__dict__[HASH] = hash(tuple(getattr(self, name) for name in fields))
        return known

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """Copy it, with other values for some fields."""
        copied = super().model_copy(update=update, deep=deep)
        copied.__dict__.pop(HASH, None)
        return copied

    def __repr__(self) -> str:
        """Name it in a line: all of it would fill pages."""
        return f"<Vehicle {self.name!r}: {len(self.real.gears)} gears, {self.box.architecture}>"

    def hole_mm(self, diameter_mm: float, fit: Fit) -> float:
        """Give the hole for what is so thick, with the allowance of the fit."""
        return diameter_mm + self.making.allowance_mm(fit, self.kit.kind)

    @property
    def grid_mm(self) -> float | None:
        """Size of a grid unit; None for a kit without a grid."""
        return None if self.kit.any_seat else self.kit.grid_unit_mm

    @property
    def shown_in(self) -> UnitChoice:
        """The units that this vehicle's figures are written in."""
        return unit_choice(self.units, self.grid_mm)

    @property
    def stepless(self) -> LeverDrive | None:
        """The lever drive: the box itself, or one beside it; None where there is none."""
        return self.box.lever or self.lever_drive

    @property
    def stepless_path(self) -> Path:
        """Where the lever drive stands in the document."""
        return ("lever_drive",) if self.box.lever is None else ("box", "drive")

    def new_id(self, name: str, taken: Iterable[str]) -> str:
        """Make an id after a name for a thing beside those that are there or were."""
        return fresh_id(name, {*taken, *self.retired_ids})

    def gear(self, gear: str) -> GearTarget | None:
        """Find a target by its gear's id."""
        return next((target for target in self.real.gears if target.id == gear), None)

    def gear_name(self, gear: str) -> str:
        """Give what a gear is called on screen; its id where it is not there."""
        target = self.gear(gear)
        return gear if target is None else target.name

    def retired_of(self, key: str) -> frozenset[str]:
        """Give the ids of pairs that a train had once."""
        start = f"{key}/"
        return frozenset(
            name[len(start) :] for name in self.retired_pairs if name.startswith(start)
        )

    def gear_names(self, gears: Iterable[str]) -> str:
        """Give the names of gears that one place engages: 1/R."""
        return "/".join(map(self.gear_name, gears))

    def version_name(self, version: VersionId) -> str:
        """Give what a kept version is called; its id where it is not there."""
        named = (kept.name for kept in self.versions if kept.id == version)
        return next(named, version)

    def train_title(self, key: str) -> str:
        """Give what a train or a sleeve is called in a sentence: gear 3, input pair, sleeve 2 …."""
        if isinstance(key, SleeveId):
            return describe_sleeve(key)
        kind, _, number = key.rpartition(" ")
        if kind == INNER_WALL and number.isdigit():
            return say("vehicle.inner-wall-number", number=int(number))
        named = (g.name for g in self.real.gears if gear_key(g.id) == key)
        return next((say("vehicle.gear-5", name=name) for name in named), word(key))

    def gear_called(self, name: str) -> GearTarget | None:
        """Find a target by its gear's name, as a builder types it."""
        return next((gear for gear in self.real.gears if gear.name == name), None)

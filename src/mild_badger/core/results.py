"""What is answered: figures per gear, per station, at the axle."""

from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction
from typing import Literal, NamedTuple

from mild_badger.core.axle.road_state import TyrePaths
from mild_badger.core.axle.rows import AxleRow
from mild_badger.core.findings.finding import Severity
from mild_badger.core.ids import GearId
from mild_badger.core.mesh.shift import ProfileShift
from mild_badger.core.message import say
from mild_badger.core.structure.train import Placement
from mild_badger.core.vehicle.box import GearPair, Link

__all__ = ["AxleResult", "GearMotion", "GearResult", "GearState", "GearTurns", "Sign", "Station"]


Sign = Literal[1, 0, -1]


class GearState(StrEnum):
    """What engaging a gear does."""

    DRIVES = "drives"
    LOCKED = "locked"
    EMPTY = say("results.no-train-yet")


class GearTurns(NamedTuple):
    """Turns per turn of the motor, straight ahead: the box's output and the first left wheel.

    None is what the graph leaves open; ``locked`` says that it cannot turn at all.
    """

    output: Fraction | None
    wheel: Fraction | None
    locked: bool


@dataclass(frozen=True)
class GearMotion:
    """How a gear turns and how far it takes the vehicle, straight ahead.

    ``ratio`` is the box's, turns in per turn out, negative where the output turns against the
    input; ``direction`` is the vehicle's: +1 forwards, −1 backwards, 0 not at all. Speeds are at
    ``motor_rpm`` and signed, forwards positive; ``wheel_turns`` are per turn of the motor.
    ``geared`` says that there is a box whose gears are to follow the targets.
    """

    id: GearId
    name: str
    reverse: bool
    target: float
    wanted: float
    state: GearState
    ratio: Fraction | None
    error_percent: float | None
    direction: Sign
    motor_rpm: float
    box_rpm: float | None
    wheel_rpm: float | None
    wheel_turns: Fraction | None
    speed_mm_s: float | None
    full_size_mm_s: float | None
    geared: bool


@dataclass(frozen=True)
class GearResult(GearMotion):
    """Everything known of one gear, straight ahead.

    ``efficiency`` is the share of
    the motor's power that arrives at the wheels, ``box_efficiency`` that at the box's output;
    ``turns`` are the train's gears' turns per turn of the motor, in the placement's order.
    ``train`` is the whole chain from the box's input to its
    output, ``links`` say where each of its pairs stands in the document; ``own`` is the gear's own
    train, ``second`` its other branch where a differential sums two. ``shifts`` holds the profile
    shift of each pair of the chain that needs one.
    """

    train: tuple[GearPair, ...]
    own: tuple[GearPair, ...]
    second: tuple[GearPair, ...]
    direct: bool
    links: tuple[Link, ...]
    shifts: tuple[ProfileShift | None, ...]
    meshes: int
    gears: int
    box_efficiency: float
    efficiency: float
    real_limit_mm_s: float
    placement: Placement
    turns: tuple[Fraction | None, ...]
    bodies: tuple[str, ...]


@dataclass(frozen=True)
class Station:
    """A stop on the way of the power, as the strip shows it.

    ``rpm`` is signed about the station's own axis; ``ratio_so_far`` is motor turns per turn here.
    ``rpm_other`` is the right wheel's where the station has two sides.
    """

    key: Literal["motor", "clutch", "box", "final drive", "differential", "wheels"]
    name: str
    rpm: float | None
    torque_n_mm: float | None
    ratio_so_far: float | None
    direction: Sign
    figure: str
    details: tuple[str, ...]
    rpm_other: float | None = None
    mark: Severity | None = None
    engaged: bool = False


@dataclass(frozen=True)
class AxleResult:
    """The driven axle in the situation's road state.

    Shares are a wheel's turns per turn of the housing, None where the wheel's speed is open;
    rpm are for the engaged gear. ``rows`` tell the same of every driven axle, ``torque`` who gets
    the torque. ``stalls`` says that the axle cannot turn at all.
    """

    left_share: Fraction | None
    right_share: Fraction | None
    housing_rpm: float | None
    left_rpm: float | None
    right_rpm: float | None
    paths: TyrePaths | None
    rows: tuple[AxleRow, ...]
    torque: str
    stalls: bool
    kind_summary: str
    road_summary: str

    @property
    def summary(self) -> str:
        """Say what the differential does on what road."""
        return f"{self.kind_summary}, {self.road_summary}"

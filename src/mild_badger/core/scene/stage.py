"""What the picture in space shows of a vehicle: its parts, how they turn, what is engaged."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache

from mild_badger.core.axle.road_state import Road
from mild_badger.core.axle.steering import rack_for
from mild_badger.core.components.chassis_parts import chassis_parts
from mild_badger.core.components.component import Component
from mild_badger.core.components.drive_line import drive_line_parts
from mild_badger.core.components.equipment import WholeVehicle, motor_parts, whole_vehicle
from mild_badger.core.components.mechanism_parts import mechanism_groups
from mild_badger.core.components.vehicle_parts import levers_of, main_components
from mild_badger.core.driveline.crane import crane_input, crane_key
from mild_badger.core.layout.turning import shaft_rpm
from mild_badger.core.mechanisms.crane.model import OWN_INPUT
from mild_badger.core.mechanisms.lever.reach import lever_seen
from mild_badger.core.scene.mechanisms import MechanismMotion, mechanism_motion
from mild_badger.core.scene.mesh import Floats
from mild_badger.core.scene.motion import STRAIGHT, Shift, roles_of, shift_to, turns_of
from mild_badger.core.scene.ratchets import RatchetMotion, ratchet_motion
from mild_badger.core.scene.steered import Steered, steered
from mild_badger.core.structure.lever_place import LeverPlace
from mild_badger.core.vehicle.bodies import CLUTCH
from mild_badger.core.vehicle.cache_key import CacheKey, Same, ThisVehicle, parts_key
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["Stage", "drive_line_stage", "mechanism_stage", "path_stage", "stage_of"]


@dataclass(frozen=True, eq=False)
class Stage:
    """Parts in space as they stand in a gear.

    ``turns`` is how far each turns for one turn of the motor, rad; ``roles`` how each is drawn;
    ``rpm`` the speeds of what turns, ``torques`` what bodies on the way of the power pass on, N·mm;
    ``ratchets`` is how a lever drive moves that is the box, ``steered`` where the road has the
    steering, ``mechanisms`` what slides in them.
    """

    parts: tuple[Component, ...]
    levers: tuple[LeverPlace, ...]
    turns: Floats
    roles: tuple[str, ...]
    shift: Shift
    rpm: Mapping[str, float] = field(default_factory=dict)
    torques: Mapping[str, float] = field(default_factory=dict)
    ratchets: RatchetMotion | None = None
    steered: Steered | None = None
    mechanisms: MechanismMotion | None = None

    def rpm_of(self, part: Component) -> float | None:
        """Give a part's speed, signed as the drivetrain counts; None for what does not turn."""
        known = (self.rpm.get(body) for body in part.bodies)
        return next((speed for speed in known if speed is not None), None)

    def torque_of(self, part: Component) -> float | None:
        """Give the torque that a part passes on, N·mm; None off the way of the power."""
        known = [self.torques[body] for body in part.bodies if body in self.torques]
        return max(known, default=None)


def stage_of(
    vehicle: Vehicle,
    gear: str | None,
    motor_rpm: float | None = None,
    torques: Mapping[str, float] | None = None,
    *,
    whole: bool = False,
    road: Road = STRAIGHT,
    locked: bool = False,
) -> Stage | None:
    """Give the box in a gear, or the ``whole`` vehicle; None where it has no place in space.

    ``torques`` are those of the bodies on the way of the power, N·mm, where they are known;
    wheels turn, and are steered, as the ``road`` has it.

    Raises
    ------
    InputError
        A gear or its dogs cannot be made.
    """
    # the levers of sleeves are posed on their way, those of a lever drive as a gear has them
    box = main_components(vehicle, gear if vehicle.box.lever is not None else None)
    if box is None:
        return None
    lever_drive = vehicle.box.lever is not None
    if whole:
        parts = _with_chassis(vehicle, whole_vehicle(vehicle, gear if lever_drive else None))
    else:
        parts = box.components
    levers = levers_of(vehicle)
    return Stage(
        parts,
        levers,
        turns_of(vehicle, parts, gear, road, locked=locked),
        tuple(roles_of(vehicle, parts, gear, torques or {})),
        shift_to(vehicle, gear, levers),
        shaft_rpm(vehicle, gear, motor_rpm),
        torques or {},
        _ratchets(vehicle, parts, gear),
        steered(vehicle, parts, rack_for(vehicle, road)) if whole else None,
        mechanism_motion(vehicle, parts) if whole else None,
    )


def path_stage(stage: Stage) -> Stage | None:
    """Keep of a stage what lies on the way of the power; None where nothing is engaged."""
    rows = tuple(n for n, role in enumerate(stage.roles) if role != "idle")
    if not rows:
        return None
    return replace(
        stage,
        parts=_kept(Same(stage.parts), rows),
        turns=stage.turns[list(rows)],
        roles=tuple(stage.roles[n] for n in rows),
        ratchets=None,
        steered=None,
        mechanisms=None,
    )


@lru_cache(maxsize=16)
def _kept(same: Same[tuple[Component, ...]], rows: tuple[int, ...]) -> tuple[Component, ...]:
    """Keep the same parts for the same rows, so that their picture is not made anew."""
    return tuple(same.it[n] for n in rows)


def _ratchets(
    vehicle: Vehicle, parts: tuple[Component, ...], gear: str | None
) -> RatchetMotion | None:
    """Move a lever drive with its fulcrum where it is seen in a gear."""
    if vehicle.box.lever is None:
        return None
    seen = lever_seen(vehicle, gear)
    return ratchet_motion(vehicle, parts, gear, None if seen is None else seen.fulcrum_mm)


@lru_cache(maxsize=4)
def _chassis(this: ThisVehicle, same: Same[WholeVehicle]) -> tuple[Component, ...]:
    parts = same.it.components
    wheels = [part for part in parts if part.kind == "wheel"]
    return *parts, *chassis_parts(this.vehicle, wheels)


def _with_chassis(vehicle: Vehicle, whole: WholeVehicle) -> tuple[Component, ...]:
    """Add frame, floor and steering; the same parts for the same vehicle."""
    return _chassis(ThisVehicle(vehicle), Same(whole))


def mechanism_stage(
    vehicle: Vehicle, mechanism: str, gear: str | None, motor_rpm: float | None = None
) -> Stage | None:
    """Give a mechanism by itself; None where it is not planned or has no parts in space.

    ``mechanism`` is that of :func:`mechanism_groups`, or :data:`CLUTCH`. What has an input of its
    own turns with that as with the motor.

    Raises
    ------
    InputError
        A gear cannot be made.
    """
    parts = _mechanism(parts_key(vehicle), mechanism)
    if not parts:
        return None
    outputs = vehicle.crane.outputs if vehicle.crane is not None else ()
    driving = next(
        (
            crane_input(output.id)
            for output in outputs
            if crane_key(output.id) == mechanism and output.source == OWN_INPUT
        ),
        "",
    )
    turns = turns_of(vehicle, parts, gear, driving=driving)
    return Stage(
        parts,
        (),
        turns,
        tuple("run" if turn else "idle" for turn in turns),
        Shift({}, {}),
        shaft_rpm(vehicle, gear, motor_rpm),
        mechanisms=mechanism_motion(vehicle, parts),
    )


@lru_cache(maxsize=16)
def _mechanism(key: CacheKey, mechanism: str) -> tuple[Component, ...]:
    if mechanism == CLUTCH:
        return motor_parts(key.vehicle)
    groups = mechanism_groups(key.vehicle)
    return next((group.parts for group in groups if group.id == mechanism), ())


def drive_line_stage(
    vehicle: Vehicle,
    gear: str | None,
    motor_rpm: float | None = None,
    road: Road = STRAIGHT,
    *,
    locked: bool = False,
) -> Stage:
    """Give what lies between the box and the wheels, as the road has it turn.

    Raises
    ------
    InputError
        A gear of the final drive cannot be made.
    """
    parts = drive_line_parts(vehicle)
    known = vehicle.gear(gear) if gear is not None else None
    role = "idle" if gear is None else "back" if known is not None and known.reverse else "run"
    turns = turns_of(vehicle, parts, gear, road, locked=locked)
    roles = tuple(
        role if turn and part.kind != "wheel" else "idle"
        for part, turn in zip(parts, turns, strict=True)
    )
    return Stage(
        parts,
        (),
        turns,
        roles,
        Shift({}, {}),
        shaft_rpm(vehicle, gear, motor_rpm),
        steered=steered(vehicle, parts, rack_for(vehicle, road)),
    )

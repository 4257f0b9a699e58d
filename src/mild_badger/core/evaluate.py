"""The one composition: from a vehicle and a situation to every number that is shown."""

from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache
from itertools import pairwise
from math import sqrt

from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.architectures.scheme import Scheme
from mild_badger.core.axle.road_state import (
    HeldWheel,
    LiftedWheel,
    Road,
    Straight,
    Turn,
    conditions,
    tyre_paths,
)
from mild_badger.core.axle.rows import axle_rows, describe_torque
from mild_badger.core.driveline.assemble import (
    HOUSING,
    WHEELS,
    assemble,
    box_output,
    shifter_state_for,
)
from mild_badger.core.driveline.efficiency import InGear, gears_ahead
from mild_badger.core.drivetrain.builder import chain_bodies, train_bodies
from mild_badger.core.drivetrain.graph import Drivetrain
from mild_badger.core.drivetrain.solve import Solution, solve
from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding
from mild_badger.core.functions.result import FunctionResult, function_result
from mild_badger.core.layout.gear import place_gear
from mild_badger.core.mesh.centres import centre_of, shift_at
from mild_badger.core.mesh.shift import ProfileShift
from mild_badger.core.message import say
from mild_badger.core.performance.chart import SawLeg, SpeedLine, saw_teeth, speed_lines
from mild_badger.core.ratios.final_drive import (
    factor_square,
    overall_final_ratio,
    wanted_final_drive,
)
from mild_badger.core.ratios.train import gear_count, mesh_count
from mild_badger.core.results import (
    AxleResult,
    GearMotion,
    GearResult,
    GearState,
    GearTurns,
    Station,
)
from mild_badger.core.review import housing_ratios, review, review_road, worst_first
from mild_badger.core.shift.slots import SlotColumn, slot_columns
from mild_badger.core.shift.states import Proof, prove
from mild_badger.core.situation import Situation
from mild_badger.core.stations import sign_of, stations
from mild_badger.core.targets.speeds import (
    deviation_percent,
    full_size_speed_mm_s,
    real_speed_mm_s,
    scaled_diameter_mm,
    signed_error_percent,
    spread,
    steps,
)
from mild_badger.core.units import km_per_hour, rim_speed_mm_s
from mild_badger.core.vehicle.box import Link, Slot, second_key
from mild_badger.core.vehicle.model import GearTarget, Vehicle
from mild_badger.core.workshop.parts import PartLine, parts_needed, parts_spare

AXLE_WORDS = {
    "open": say("evaluate.open"),
    "locked": say("evaluate.solid-axle"),
    "none": say("evaluate.one-wheel-driven"),
    "planetary": say("evaluate.planetary"),
}

__all__ = ["Evaluation", "evaluate", "gear_motion", "gear_turns"]


@dataclass(frozen=True, repr=False)
class Evaluation:
    """All that the screens and exports show of a vehicle in a situation."""

    vehicle: Vehicle
    situation: Situation
    gears: tuple[GearResult, ...]
    stations: tuple[Station, ...]
    columns: tuple[SlotColumn, ...]
    scheme: Scheme | None
    parts: tuple[PartLine, ...]
    spare_parts: tuple[PartLine, ...]
    axle: AxleResult
    speed_lines: tuple[SpeedLine, ...]
    real_saw: tuple[SawLeg, ...]
    model_saw: tuple[SawLeg, ...]
    findings: tuple[Finding, ...]
    proof: Proof
    functions: FunctionResult | None
    factor: float
    worst_error_percent: float | None
    final_ratio: Fraction
    final_wanted: float
    final_error_percent: float
    steps: tuple[float, ...]
    spread: float
    scaled_wheel_mm: float
    total_gears: int

    def __repr__(self) -> str:
        """Name it in a line: all of it would fill pages."""
        gear = self.engaged
        return (
            f"<Evaluation of {self.vehicle.name!r}, {gear.name if gear else 'neutral'} in, "
            f"{len(self.findings)} findings>"
        )

    @property
    def motor_rpm(self) -> float:
        """Speed of the motor: as the situation has it, else its working speed."""
        asked = self.situation.motor_rpm
        return self.vehicle.motor.working_rpm if asked is None else asked

    def gear(self, name: str | None) -> GearResult | None:
        """Find a gear's figures by its id."""
        return next((gear for gear in self.gears if gear.id == name), None)

    def step_after(self, name: str) -> float | None:
        """Step i_k / i_(k+1) from a forward gear to the next one, as the box has it."""
        forward = [gear for gear in self.gears if not gear.reverse]
        for gear, following in pairwise(forward):
            if gear.id == name and gear.ratio and following.ratio:
                return abs(float(gear.ratio / following.ratio))
        return None

    @property
    def housing_ratios(self) -> dict[str, float]:
        """Motor turns for one of the first axle's housing, gear by gear."""
        return housing_ratios(self.vehicle, self.gears)

    @property
    def train_gears(self) -> int:
        """Gears in all the trains of the box, without drive row and tie."""
        return sum(gear.gears for gear in self.gears)

    @property
    def box_loss_percent(self) -> float | None:
        """Share of the power lost in the box, the mean over the gears that drive, in per cent."""
        shares = [gear.box_efficiency for gear in self.gears if gear.state is GearState.DRIVES]
        return 100 * (1 - sum(shares) / len(shares)) if shares else None

    @property
    def kit_gears(self) -> int:
        """Spur gears that the builder owns."""
        return sum(gear.stock or 0 for gear in self.vehicle.kit.gears)

    @property
    def sleeves(self) -> int:
        """Sleeves, or sliders, the box takes."""
        return self.vehicle.box.sleeves

    @property
    def part_count(self) -> int:
        """How many parts the vehicle takes."""
        return sum(part.needed for part in self.parts)

    @property
    def kinds_short(self) -> int:
        """How many kinds of part the stock does not cover."""
        return sum(1 for part in self.parts if part.short)

    @property
    def gear_driven(self) -> str | None:
        """The gear that the motor drives: none in neutral and with the clutch released."""
        return None if self.situation.clutch_released(self.vehicle) else self.situation.gear

    @property
    def engaged(self) -> GearResult | None:
        """The gear that is in; None in neutral."""
        return self.gear(self.situation.gear)

    def findings_at(self, where: str) -> tuple[Finding, ...]:
        """List the findings that concern a gear or a station."""
        return tuple(finding for finding in self.findings if where in finding.where)


@dataclass(frozen=True)
class _Standing:
    """What a vehicle comes to whatever road it is on, at a motor speed."""

    train: Drivetrain
    gears: tuple[GearResult, ...]
    columns: tuple[SlotColumn, ...]
    parts: tuple[PartLine, ...]
    spare_parts: tuple[PartLine, ...]
    proof: Proof
    functions: FunctionResult | None
    findings: tuple[Finding, ...]
    speed_lines: tuple[SpeedLine, ...]
    real_saw: tuple[SawLeg, ...]
    model_saw: tuple[SawLeg, ...]
    factor: float


@lru_cache(maxsize=6)
def _standing(vehicle: Vehicle, rpm: float) -> _Standing:
    """Work it out once: moving a slider of the road asks for the same again and again."""
    train = assemble(vehicle)
    ahead = conditions(vehicle, Straight(), locked=False)
    in_gear = gears_ahead(vehicle, ahead)
    factor = sqrt(factor_square(vehicle))
    gears = tuple(
        _gear(vehicle, in_gear[gear.id], target=gear, factor=factor, rpm=rpm)
        for gear in vehicle.real.gears
    )
    parts = parts_needed(vehicle)
    proof = prove(vehicle, ahead)
    functions = function_result(vehicle)
    forward = [g for g in gears if not g.reverse]
    turns = {g.id: None if g.wheel_turns is None else float(g.wheel_turns) for g in gears}
    shifts_at = vehicle.real.shifts_at_rpm
    return _Standing(
        train=train,
        gears=gears,
        columns=slot_columns(vehicle, {gear: ahead.solution for gear, ahead in in_gear.items()}),
        parts=parts,
        spare_parts=parts_spare(vehicle),
        proof=proof,
        functions=functions,
        findings=review(vehicle, gears, parts, proof=proof, functions=functions),
        speed_lines=speed_lines(vehicle, turns),
        real_saw=saw_teeth(
            {g.id: km_per_hour(real_speed_mm_s(vehicle.real, g.target, shifts_at)) for g in forward}
        ),
        model_saw=saw_teeth(
            {
                g.id: abs(km_per_hour(g.full_size_mm_s))
                for g in forward
                if g.full_size_mm_s is not None
            }
        ),
        factor=factor,
    )


def evaluate(vehicle: Vehicle, situation: Situation | None = None) -> Evaluation:
    """Solve a vehicle in a situation: every gear straight ahead, the engaged one on its road."""
    situation = situation or Situation()
    if situation.gear is not None and vehicle.gear(situation.gear) is None:
        situation = replace(situation, gear=None)
    rpm = vehicle.motor.working_rpm if situation.motor_rpm is None else situation.motor_rpm
    standing = _standing(vehicle, rpm)
    gears = standing.gears
    axle = _axle(vehicle, standing.train, situation, rpm)
    findings = worst_first((*standing.findings, *review_road(vehicle, axle, situation)))
    errors = [deviation_percent(g.error_percent) for g in gears if g.error_percent is not None]
    final = overall_final_ratio(vehicle)
    wanted = wanted_final_drive(vehicle)
    return Evaluation(
        vehicle=vehicle,
        situation=situation,
        gears=gears,
        stations=stations(vehicle, situation, gears, axle, rpm=rpm, findings=findings),
        columns=standing.columns,
        scheme=architecture_of(vehicle.box).scheme(vehicle.box, situation.gear),
        parts=standing.parts,
        spare_parts=standing.spare_parts,
        axle=axle,
        speed_lines=standing.speed_lines,
        real_saw=standing.real_saw,
        model_saw=standing.model_saw,
        findings=findings,
        proof=standing.proof,
        functions=standing.functions,
        factor=standing.factor,
        worst_error_percent=max(errors, default=None),
        final_ratio=final,
        final_wanted=wanted,
        final_error_percent=signed_error_percent(float(final), wanted),
        steps=steps(vehicle.real),
        spread=spread(vehicle.real),
        scaled_wheel_mm=scaled_diameter_mm(vehicle.real, vehicle.scale),
        total_gears=sum(p.needed for p in standing.parts if p.key[0] in ("fixed", "free")),
    )


def gear_motion(
    vehicle: Vehicle,
    name: str,
    situation: Situation | None = None,
    *,
    turns: GearTurns | None = None,
) -> GearMotion | None:
    """Say how one gear moves the vehicle straight ahead; None where there is no such gear.

    For asking what an edit would do without evaluating all the rest. ``turns`` are solved for
    where they are not known.
    """
    target = vehicle.gear(name)
    if target is None:
        return None
    rpm = situation.motor_rpm if situation and situation.motor_rpm is not None else None
    return _motion(
        vehicle,
        gear_turns(vehicle, name) if turns is None else turns,
        target=target,
        factor=sqrt(factor_square(vehicle)),
        rpm=vehicle.motor.working_rpm if rpm is None else rpm,
    )


def gear_turns(vehicle: Vehicle, gear: str) -> GearTurns:
    """Solve one gear straight ahead."""
    ahead = conditions(vehicle, Straight(), locked=False)
    return _turns(vehicle, solve(assemble(vehicle), shifter_state_for(vehicle, gear), ahead))


def _turns(vehicle: Vehicle, solution: Solution) -> GearTurns:
    output, wheel = solution.speed(box_output(vehicle)), solution.speed(WHEELS["left"])
    return GearTurns(output, wheel, solution.locked)


def _motion(
    vehicle: Vehicle, turning: GearTurns, *, target: GearTarget, factor: float, rpm: float
) -> GearMotion:
    output = turning.output
    if not vehicle.box.ready(target.id):
        state = GearState.EMPTY
    elif turning.locked or not output:
        state = GearState.LOCKED
    else:
        state = GearState.DRIVES
    drives = state is GearState.DRIVES
    ratio = 1 / output if drives and output else None
    turns = turning.wheel if drives else None
    forwards = None if turns is None else turns * vehicle.motor.turns
    wheel_rpm = None if forwards is None else float(forwards) * rpm
    speed = None
    if wheel_rpm is not None:
        speed = rim_speed_mm_s(rpm=wheel_rpm, diameter_mm=vehicle.wheels.diameter_mm)
    return GearMotion(
        id=target.id,
        name=target.name,
        reverse=target.reverse,
        target=target.ratio,
        wanted=target.ratio * factor,
        state=state,
        ratio=ratio,
        error_percent=None
        if ratio is None or not vehicle.box.geared
        else signed_error_percent(float(ratio), target.ratio, factor),
        direction=sign_of(forwards),
        motor_rpm=rpm,
        box_rpm=None if output is None or not drives else float(output) * rpm * vehicle.motor.turns,
        wheel_rpm=wheel_rpm,
        wheel_turns=forwards,
        speed_mm_s=speed,
        full_size_mm_s=None if speed is None else full_size_speed_mm_s(speed, vehicle.scale),
        geared=vehicle.box.geared,
    )


def _gear(
    vehicle: Vehicle, ahead: InGear, *, target: GearTarget, factor: float, rpm: float
) -> GearResult:
    motion = _motion(
        vehicle, _turns(vehicle, ahead.solution), target=target, factor=factor, rpm=rpm
    )
    slot, links = vehicle.box.slot(target.id), vehicle.box.chain(target.id)
    pairs = tuple(link.pair for link in links)
    second = slot.second if isinstance(slot, Slot) else ()
    drives = motion.state is GearState.DRIVES
    bodies = (*chain_bodies(links), *train_bodies(second_key(target.id), second))
    return GearResult(
        **vars(motion),
        train=pairs,
        own=slot.train if isinstance(slot, Slot) else (),
        second=second,
        direct=isinstance(slot, Slot) and slot.direct,
        links=links,
        shifts=_shifts(vehicle, links),
        meshes=mesh_count((*pairs, *second)),
        gears=gear_count((*pairs, *second)),
        box_efficiency=ahead.box if drives else 0.0,
        efficiency=ahead.wheels if drives else 0.0,
        real_limit_mm_s=real_speed_mm_s(vehicle.real, target.ratio, vehicle.real.limit_rpm),
        placement=place_gear(vehicle, target.id),
        turns=tuple(map(ahead.solution.speed, bodies)),
        bodies=bodies,
    )


def _shifts(vehicle: Vehicle, links: tuple[Link, ...]) -> tuple[ProfileShift | None, ...]:
    groups = vehicle.box.between()
    shifts: list[ProfileShift | None] = []
    for link in links:
        group = next((g for g in groups if link in g.links), None)
        centre = centre_of(vehicle.kit, (o.pair for o in group.links)) if group else None
        shifts.append(shift_at(vehicle.kit, link.pair, centre) if centre else None)
    return tuple(shifts)


def _axle(vehicle: Vehicle, train: Drivetrain, situation: Situation, rpm: float) -> AxleResult:
    road = conditions(vehicle, situation.road, locked=situation.locked)
    alone = solve(train, {}, road, source=HOUSING)
    parted = situation.clutch_released(vehicle)
    whole = assemble(vehicle, released=True) if parted else train
    driven = solve(whole, shifter_state_for(vehicle, situation.gear), road)
    engaged = situation.gear is not None and not driven.locked and not parted
    turns = vehicle.motor.turns

    def rpm_of(body: str) -> float | None:
        speed = driven.speed(body)
        return None if not engaged or speed is None else float(speed) * rpm * turns

    paths = None
    if isinstance(situation.road, Turn):
        paths = tyre_paths(vehicle, situation.road, locked=situation.locked)
    return AxleResult(
        left_share=None if alone.locked else alone.speed(WHEELS["left"]),
        right_share=None if alone.locked else alone.speed(WHEELS["right"]),
        housing_rpm=rpm_of(HOUSING),
        left_rpm=rpm_of(WHEELS["left"]),
        right_rpm=rpm_of(WHEELS["right"]),
        paths=paths,
        rows=axle_rows(vehicle, driven, situation.road, rpm * turns if engaged else None),
        torque=describe_torque(vehicle, situation.road, locked=situation.locked),
        stalls=alone.locked,
        kind_summary=_describe_kind(vehicle, situation),
        road_summary=_describe_road(situation.road),
    )


def _describe_kind(vehicle: Vehicle, situation: Situation) -> str:
    if situation.locked and vehicle.differential.kind in ("open", "planetary"):
        return say("evaluate.differential-locked")
    return AXLE_WORDS[vehicle.differential.kind]


def _describe_road(road: Road) -> str:
    match road:
        case Turn(radius, towards):
            return say("evaluate.turn-to-the-r", towards=towards, radius=in_mm(radius, 0))
        case HeldWheel(side):
            return say("evaluate.wheel-held", side=side)
        case LiftedWheel(side):
            return say("evaluate.wheel-lifted", side=side)
        case _:
            return say("evaluate.straight-ahead")

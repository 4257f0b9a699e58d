"""What every output of a crane does in a gear: its turns, its speed, the torque it asks for.

Speeds come from the drivetrain graph, torques from its power flow; a screw's own loss is in the
torque at its shaft.
"""

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from math import inf

from mild_badger.core.driveline.assemble import (
    assemble,
    assemble_crane,
    box_output,
    shifter_state_for,
)
from mild_badger.core.driveline.crane import (
    crane_end,
    crane_input,
    crane_shaft,
    inner_shafts,
    worm_holds,
)
from mild_badger.core.drivetrain.graph import Drivetrain, fixed
from mild_badger.core.drivetrain.outputs import travel_per_turn
from mild_badger.core.drivetrain.power import power_flow
from mild_badger.core.drivetrain.solve import Motion, Solution, solve
from mild_badger.core.ids import OutputId
from mild_badger.core.mechanisms.bearings.loads import BEARING_KINDS, rubbing_n_mm
from mild_badger.core.mechanisms.crane.ends import (
    raising_n_mm,
    rope_layers,
    rope_turns,
    screw_holds,
)
from mild_badger.core.mechanisms.crane.model import (
    BOX_OUTPUT,
    MOTOR_SHAFT,
    OWN_INPUT,
    CraneOutput,
    Plain,
    Rack,
    Ring,
    Screw,
    Spool,
)
from mild_badger.core.message import say
from mild_badger.core.vehicle.bodies import MOTOR
from mild_badger.core.vehicle.cache_key import CacheKey, cache_key
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "LooseGear",
    "OutputFigures",
    "actual_share",
    "crane_figures",
    "end_torque_n_mm",
    "shares",
]


@dataclass(frozen=True)
class LooseGear:
    """A gear that runs loose on another output's shaft: how fast against it, rpm.

    ``glued`` says what happens where it is glued by mistake.
    """

    on: str
    rpm: float
    glued: str


@dataclass(frozen=True)
class OutputFigures:
    """One output in a gear.

    ``input`` is the input that it hangs on in the end, at ``input_rpm``; ``turns`` are its end's
    for one of that input, signed, None where it stands or is free. ``rate`` is in ``unit`` at the
    working layer of a spool, the outermost; ``slow`` and ``fast`` bound it over the way.
    ``seconds`` are for the whole way, None where there is no end to it. Torques at its own shaft
    and at the input, for this output alone; the latter None where it cannot be worked out, as are
    ``lost_percent`` of the power. ``holds`` says what keeps the load at rest, "" for nothing.
    """

    output: CraneOutput
    input: str
    input_rpm: float
    turns: Fraction | None
    rate: float
    slow: float
    fast: float
    unit: str
    seconds: float | None
    end_n_mm: float
    input_n_mm: float | None
    lost_percent: float | None
    holds: str
    loose: LooseGear | None
    key_off: float

    @property
    def end_rpm(self) -> float:
        """Give its end's speed, signed."""
        return float(self.turns or 0) * self.input_rpm

    @property
    def input_turns(self) -> float | None:
        """Give the turns of the input for one of the end, signed."""
        return float(1 / self.turns) if self.turns else None


def _per_turn(vehicle: Vehicle, output: CraneOutput) -> tuple[float, float, float, str]:
    """Give what one turn of the end does: at work, least and most, and its unit."""
    end = output.end
    match end:
        case Spool():
            layers = rope_layers(end)
            each = [travel_per_turn("spool", layer.middle_mm)[0] / end.falls for layer in layers]
            return each[-1], min(each), max(each), "mm"
        case Screw():
            way, unit = end.lead_mm, "mm"
        case Rack():
            way, unit = travel_per_turn("rack", end.pinion * vehicle.kit.module_mm)[0], "mm"
        case Ring():
            way, unit = 360.0, "°"
        case _:
            way, unit = 1.0, "turns"
    return way, way, way, unit


def end_torque_n_mm(vehicle: Vehicle, output: CraneOutput) -> float:
    """Give the torque at an output's end against its load; infinite where a thread jams."""
    end = output.end
    match end:
        case Ring():
            return end.drag_n_mm
        case Screw():
            each = end.push_n / end.screws
            mu = BEARING_KINDS[output.carried.bearing].mu
            collar = rubbing_n_mm(mu, each, output.carried.shaft_mm)
            return end.screws * (raising_n_mm(end, each) + collar)
        case Spool():
            layers = rope_layers(end)
            return end.weight_n / end.falls * layers[-1].middle_mm / 2
        case Rack():
            return end.push_n * end.pinion * vehicle.kit.module_mm / 2
        case Plain():
            return end.torque_n_mm


def _turns_of_way(output: CraneOutput, per: float) -> float | None:
    """Give the turns of the end over its whole way; None where that has no end."""
    end = output.end
    match end:
        case Ring():
            return end.swing_deg / per
        case Screw() | Rack():
            return end.travel_mm / per
        case Spool():
            return rope_turns(end)
        case Plain():
            return None


def _holds(vehicle: Vehicle, output: CraneOutput) -> str:
    """Say what keeps the load at rest, looking back from the end to the input."""
    assert vehicle.crane is not None  # an output stands in it
    if isinstance(output.end, Screw) and screw_holds(output.end):
        return say("crane.its-screw")
    for one in reversed(vehicle.crane.way_to(output.id)):
        if one.worm is not None and worm_holds(one.worm, vehicle.kit.module_mm):
            return (
                say("crane.its-worm") if one is output else say("crane.the-worm-of", name=one.name)
            )
    return ""


@dataclass(frozen=True)
class _Driven:
    """The graph with its sleeves set, driven from an input: its body, its name, its speed.

    ``loaded`` is the part of the graph in which torques are looked for.
    """

    vehicle: Vehicle
    train: Drivetrain
    loaded: Drivetrain
    sleeves: dict[str, str]
    solution: Solution
    body: str
    named: str
    rpm: float


def crane_figures(
    vehicle: Vehicle, gear: str | None, motor_rpm: float
) -> tuple[OutputFigures, ...]:
    """Work every output out in a gear, at a speed of the motor; none where there is no crane."""
    return _worked_out(cache_key(vehicle, vehicle.kit, vehicle.motor), gear, motor_rpm)


@lru_cache(maxsize=24)
def _worked_out(
    question: CacheKey, gear: str | None, motor_rpm: float
) -> tuple[OutputFigures, ...]:
    vehicle = question.vehicle
    crane = vehicle.crane
    if crane is None:
        return ()
    train, alone = assemble(vehicle), assemble_crane(vehicle)
    sleeves = shifter_state_for(vehicle, gear)
    solved: dict[str, _Driven] = {}
    rows = []
    for output in crane.outputs:
        first = crane.way_to(output.id)[0]
        own = first.source == OWN_INPUT
        body = crane_input(first.id) if own else MOTOR
        rpm = first.input_rpm if own else motor_rpm * vehicle.motor.turns
        key = BOX_OUTPUT if first.source == BOX_OUTPUT else body
        if key not in solved:
            solution, named = solve(train, sleeves, source=body), first.name if own else MOTOR_SHAFT
            loaded = train if key == BOX_OUTPUT else alone
            solved[key] = _Driven(vehicle, train, loaded, sleeves, solution, body, named, rpm)
        rows.append(_figures(solved[key], output))
    return tuple(rows)


def _figures(driven: _Driven, output: CraneOutput) -> OutputFigures:
    vehicle, solution, rpm = driven.vehicle, driven.solution, driven.rpm
    end = crane_end(output)
    turns = None if solution.locked else solution.speed(end)
    per, least, most, unit = _per_turn(vehicle, output)
    end_rpm = float(turns or 0) * rpm
    torque = end_torque_n_mm(vehicle, output)
    flow = None
    if turns and torque < inf:
        load = -torque if turns > 0 else torque
        flow = power_flow(
            driven.loaded,
            driven.sleeves,
            solution,
            {end: load},
            mesh_loss=vehicle.kit.mesh_loss,
            source=driven.body,
        )
    way, rate = _turns_of_way(output, per), per * end_rpm / 60
    return OutputFigures(
        output=output,
        input=driven.named,
        input_rpm=rpm,
        turns=turns or None,
        rate=rate,
        slow=least * abs(end_rpm) / 60,
        fast=most * abs(end_rpm) / 60,
        unit=f"{unit}/s",
        seconds=60 * way / abs(end_rpm) if way is not None and end_rpm else None,
        end_n_mm=torque,
        input_n_mm=None if flow is None else abs(flow.source_torque),
        lost_percent=None if flow is None or not flow.power_in else 100 * flow.lost / flow.power_in,
        holds=_holds(vehicle, output),
        loose=_loose(driven, output),
        key_off=_key_off(driven, output, per),
    )


def _loose(driven: _Driven, output: CraneOutput) -> LooseGear | None:
    """Compare the inner gears with the shaft they run loose on; glue them and see."""
    inner, solution = inner_shafts(output), driven.solution
    if output.loose_on is None or not inner:
        return None
    crane = driven.vehicle.crane
    name = crane.called(output.loose_on) if crane is not None else ""
    shaft = crane_shaft(output.loose_on)
    one, other = solution.speed(inner[0]), solution.speed(shaft)
    glue = (fixed(inner[0], shaft),)
    glued = solve(driven.train, driven.sleeves, glue, source=driven.body)
    end = crane_end(output)
    if glued.locked or Motion.LOCKED in glued.motions.values():
        words = say("crane.glued-to-it-by-mistake-the-drive-locks")
    elif other is None:
        words = say("crane.glued-to-it-by-mistake-turns-along", name=name)
    elif glued.speed(end) != solution.speed(end):
        words = say("crane.glued-to-it-by-mistake-it-turns-at-another")
    else:
        words = say("crane.it-turns-with-that-shaft-so-that-glue-does")
    return LooseGear(name, abs(float((one or 0) - (other or 0)) * driven.rpm), words)


def _key_off(driven: _Driven, output: CraneOutput, per: float) -> float:
    """Give how far the end is off where the coupling was put together one key further."""
    if output.keys < 2:
        return 0.0
    inner = (*inner_shafts(output), crane_shaft(output.id))
    after = min(output.coupled_after, len(inner))
    start = _source_body(driven.vehicle, output) if after == 0 else inner[after - 1]
    alone = solve(driven.train, driven.sleeves, source=start)
    turns = None if alone.locked else alone.speed(crane_end(output))
    return abs(float(turns or 0)) / output.keys * per


def _source_body(vehicle: Vehicle, output: CraneOutput) -> str:
    if output.source == OWN_INPUT:
        return crane_input(output.id)
    if output.source == BOX_OUTPUT:
        return box_output(vehicle)
    return MOTOR if output.source == MOTOR_SHAFT else crane_shaft(OutputId(output.source))


def shares(figures: tuple[OutputFigures, ...], to: OutputId) -> dict[OutputId, float]:
    """Give every output's speed as a share of one's; those of another unit are left out."""
    base = next((one for one in figures if one.output.id == to), None)
    if base is None or not base.rate:
        return {}
    return {one.output.id: one.rate / base.rate for one in figures if one.unit == base.unit}


def actual_share(figures: tuple[OutputFigures, ...], output: CraneOutput) -> float | None:
    """Give the share of the speed that an output keeps of the one it shall; None if it stands."""
    return shares(figures, output.keeps or OutputId("")).get(output.id)

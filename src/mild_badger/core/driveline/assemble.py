"""From the document to the drivetrain graph.

The motor sits on the box's input. A slot box has one sleeve a column, on the column's selector
shaft; the selector shafts are tied by equal gears and the first of them is the box's output.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache

from mild_badger.core.architectures.lever import LEVER_THROWS, LEVER_WHEEL, build_lever
from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.driveline.crane import build_crane
from mild_badger.core.driveline.letters import letters_in
from mild_badger.core.drivetrain.builder import Builder
from mild_badger.core.drivetrain.graph import (
    Body,
    Drivetrain,
    bevel_differential,
    bevel_pair,
    external_mesh,
    fixed,
    planetary,
)
from mild_badger.core.ids import AxleId
from mild_badger.core.mechanisms.crane.model import BOX_OUTPUT, MOTOR_SHAFT
from mild_badger.core.mechanisms.display.model import DisplayEngine
from mild_badger.core.message import say
from mild_badger.core.vehicle.bodies import CLUTCH, MOTOR, input_shaft
from mild_badger.core.vehicle.cache_key import CacheKey, cache_key
from mild_badger.core.vehicle.chassis import RunningGear
from mild_badger.core.vehicle.letters import ShaftLetter
from mild_badger.core.vehicle.model import Differential, FinalDrive, Vehicle
from mild_badger.core.vehicle.shifting import Side

__all__ = [
    "BOX_INPUT",
    "CRANK",
    "DISPLAY",
    "HOUSING",
    "LEVER_THROWS",
    "LEVER_WHEEL",
    "WHEELS",
    "assemble",
    "assemble_crane",
    "axle_body",
    "box_output",
    "lettered",
    "letters_of",
    "shifter_state_for",
]

BOX_INPUT = input_shaft()
HOUSING = "housing"
WHEELS = {"left": "wheel.left", "right": "wheel.right"}
PINION_SHAFT = "pinion shaft"
CRANK = "crank"
DISPLAY = "display engine"
"""The key of the train that takes a display engine's crank along."""


def box_output(vehicle: Vehicle) -> str:
    """Name the body that leaves the box."""
    return vehicle.box.output


def shifter_state_for(vehicle: Vehicle, gear: str | None) -> dict[str, str]:
    """Sleeve positions that engage a gear; all in neutral for None or a gear without a slot."""
    return {} if gear is None else vehicle.box.closed(gear)


FIRST_AXLE = AxleId("")


def axle_ids(vehicle: Vehicle) -> tuple[AxleId, ...]:
    """List the driven axles, the first one first."""
    return (FIRST_AXLE, *(axle.id for axle in vehicle.additional_axles))


def axle_body(axle: AxleId, body: str) -> str:
    """Name a body of a driven axle: the first one's bear no mark."""
    return body if axle == FIRST_AXLE else f"axle {axle}/{body}"


def assemble(vehicle: Vehicle, *, released: bool = False) -> Drivetrain:
    """Build the graph from motor to wheels; a released clutch joins nothing."""
    return _assembled(cache_key(vehicle), released)


@lru_cache(maxsize=16)
def _assembled(key: CacheKey, released: bool) -> Drivetrain:
    vehicle = key.vehicle
    builder = Builder({gear.id: gear.name for gear in vehicle.real.gears})
    motor = builder.shaft(MOTOR, say("driveline.motor-shaft"))
    entry = motor
    if vehicle.clutch is not None:
        entry = builder.shaft(CLUTCH, say("driveline.clutch-driven-side"))
        if not released:
            builder.equations.append(fixed(motor, entry))
    output = vehicle.box.output
    architecture_of(vehicle.box).build(builder, vehicle.box, entry, vehicle.motor.turns)
    shaft = _spur_pairs(builder, vehicle.final_drive, output)
    if vehicle.lever_drive is not None:
        build_lever(builder, vehicle.lever_drive, motor, vehicle.motor.turns)
    if vehicle.display_engine is not None:
        _crank(builder, vehicle.display_engine, {"motor": motor, "box output": output})
    if vehicle.crane is not None:
        starts = {MOTOR_SHAFT: motor, BOX_OUTPUT: output}
        build_crane(builder, vehicle.crane, starts, vehicle.kit.module_mm)
    shafts = _centres(builder, vehicle, shaft)
    for plan, shaft in zip(_plans(vehicle), shafts, strict=True):
        _axle(builder, vehicle.running, plan, shaft)
    train = Drivetrain(tuple(builder.bodies.values()), tuple(builder.equations), motor)
    return _lettered(train, vehicle.shaft_letters)


def _lettered(train: Drivetrain, known: tuple[ShaftLetter, ...]) -> Drivetrain:
    """Call shafts by their letters, and by what they are: Shaft C, gear 1."""
    letter_of = {entry.shaft: entry.letter for entry in letters_in(train, known, BOX_INPUT)}

    def named(body: Body) -> Body:
        letter = letter_of.get(body.id)
        if letter is None or body.kind != "shaft":
            return body
        role = f"{body.name[:1].lower()}{body.name[1:]}"
        return replace(
            body, name=say("driveline.shaft-and-role", letter=letter, role=role), role=role
        )

    return replace(train, bodies=tuple(map(named, train.bodies)))


def letters_of(vehicle: Vehicle) -> tuple[ShaftLetter, ...]:
    """Give the letter of every shaft of a vehicle: as the document has it, or the next one."""
    return _letters(cache_key(vehicle))


@lru_cache(maxsize=16)
def _letters(key: CacheKey) -> tuple[ShaftLetter, ...]:
    return letters_in(assemble(key.vehicle), key.vehicle.shaft_letters, BOX_INPUT)


def lettered(vehicle: Vehicle) -> Vehicle:
    """Write the letters of new shafts into the document; the same vehicle where there is none."""
    now = letters_of(vehicle)
    return (
        vehicle
        if now == vehicle.shaft_letters
        else vehicle.model_copy(update={"shaft_letters": now})
    )


def assemble_crane(vehicle: Vehicle) -> Drivetrain:
    """Build only what a crane's outputs hang on; for torques that box and axle have no part in."""
    builder = Builder()
    motor, output = builder.shaft(MOTOR, say("driveline.motor-shaft")), box_output(vehicle)
    builder.shaft(output, say("driveline.output-of-the-box"))
    if vehicle.crane is not None:
        starts = {MOTOR_SHAFT: motor, BOX_OUTPUT: output}
        build_crane(builder, vehicle.crane, starts, vehicle.kit.module_mm)
    return Drivetrain(tuple(builder.bodies.values()), tuple(builder.equations), motor)


def _crank(builder: Builder, engine: DisplayEngine, ends: dict[str, str]) -> None:
    """Take a display engine's crank along: on the shaft it is driven from, or over pairs."""
    crank = builder.shaft(CRANK, say("driveline.crank-of-the-display-engine"))
    start = ends[engine.drive]
    if engine.pairs:
        builder.train(
            DISPLAY, engine.pairs, start=start, end=crank, title=say("driveline.display-engine")
        )
    else:
        builder.equations.append(fixed(start, crank))


def _other(side: Side) -> Side:
    """Give the other side: a pinion from behind meets its crown wheel on the far side of its axis.

    There ω × r at the contact points the other way, which is as if the crown wheel had changed
    sides (see ``bevel_pair``).
    """
    return "right" if side == "left" else "left"


def _spur_pairs(builder: Builder, final: FinalDrive, output: str) -> str:
    if not final.pairs:
        return output
    shaft = builder.shaft(PINION_SHAFT, say("driveline.pinion-3"))
    builder.train(
        "final drive", final.pairs, start=output, end=shaft, title=say("driveline.final-drive")
    )
    return shaft


def _centres(builder: Builder, vehicle: Vehicle, shaft: str) -> list[str]:
    """Share a shaft out to the driven axles; give each axle's pinion shaft."""
    shafts = {}
    here = shaft
    for number in range(len(vehicle.additional_axles), 0, -1):
        axle = vehicle.additional_axles[number - 1]
        name = say("driveline.propeller-shaft-of", name=axle.name)
        own = builder.shaft(axle_body(axle.id, "propeller shaft"), name)
        if axle.centre == "locked":
            builder.equations.append(fixed(own, here))
        else:
            rest = builder.shaft(
                f"centre {axle.id}/rest", say("driveline.shaft-on-from-centre", number=number)
            )
            housing = f"centre {axle.id}/housing"
            builder.bodies[housing] = Body(
                housing, say("driveline.centre-differential", number=number), "housing"
            )
            builder.equations += [
                fixed(housing, here),
                bevel_differential(housing, rest, own),
            ]
            here = rest
        shafts[number] = own
    return [here, *(shafts[n] for n in sorted(shafts))]


@dataclass(frozen=True)
class _Plan:
    """What an axle is built of; ``side`` is the crown wheel's as the equation counts it."""

    axle: AxleId
    title: str
    teeth: tuple[int, int]
    side: Side
    differential: Differential


def _plans(vehicle: Vehicle) -> Iterator[_Plan]:
    final = vehicle.final_drive
    yield _Plan(FIRST_AXLE, "", (final.pinion, final.crown), final.crown_side, vehicle.differential)
    for axle in vehicle.additional_axles:
        side = axle.crown_side if axle.pinion_from == "front" else _other(axle.crown_side)
        yield _Plan(axle.id, f"{axle.name}: ", (axle.pinion, axle.crown), side, axle.differential)


def _axle(builder: Builder, running: RunningGear | None, plan: _Plan, shaft: str) -> None:
    """Build an axle from its pinion shaft to its wheels."""

    def name(body: str) -> str:
        return axle_body(plan.axle, body)

    title, teeth, differential = plan.title, plan.teeth, plan.differential
    pinion = builder.gear(
        name("pinion"),
        teeth[0],
        on=shaft,
        name=say("driveline.bevel-pinion", title=title),
    )
    housing = name(HOUSING)
    builder.bodies[housing] = Body(
        housing, say("driveline.differential-housing", title=title), "housing"
    )
    crown = builder.gear(
        name("crown"), teeth[1], on=housing, name=say("driveline.crown-wheel", title=title)
    )
    builder.equations.append(bevel_pair(pinion, crown, teeth, crown_side=plan.side))
    halves = {}
    for side, wheel in WHEELS.items():
        own, words = name(wheel), f"{title}{side.capitalize()}"
        builder.bodies[own] = Body(own, say("driveline.wheel", words=words), "wheel")
        halves[side] = own
        if running is not None and running.shape.hub == "geared":
            hub = (running.shape.hub_driver, running.shape.hub_driven)
            half = builder.shaft(
                name(f"half shaft.{side}"), say("driveline.half-shaft", words=words)
            )
            gear = builder.gear(
                name(f"hub.{side}"), hub[0], on=half, name=say("driveline.hub-pinion", words=words)
            )
            builder.equations.append(external_mesh(gear, own, hub))
            halves[side] = half
    left, right = halves["left"], halves["right"]
    if differential.kind == "open":
        builder.equations.append(bevel_differential(housing, left, right))
    elif differential.kind == "planetary":
        sizes = (differential.sun_teeth, differential.ring_teeth)
        builder.equations.append(planetary(left, right, housing, sizes))
    elif differential.kind == "none":
        builder.equations.append(fixed(housing, halves[differential.driven_side]))
    else:
        builder.equations.extend(fixed(housing, half) for half in halves.values())

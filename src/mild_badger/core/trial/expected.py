"""What the vehicle as planned does in each position of its shifter: the trial list."""

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from math import floor, log10

from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.driveline.assemble import (
    WHEELS,
    assemble,
    box_output,
    shifter_state_for,
)
from mild_badger.core.drivetrain.graph import Drivetrain
from mild_badger.core.drivetrain.solve import Solution, solve
from mild_badger.core.functions.result import function_result
from mild_badger.core.mechanisms.steps import TrialStep, mechanism_steps
from mild_badger.core.message import say
from mild_badger.core.vehicle.bodies import MOTOR
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import describe_place
from mild_badger.core.vehicle.trial import NEUTRAL, Reading
from mild_badger.core.words import signed, word

__all__ = [
    "Place",
    "Step",
    "agrees",
    "describe_reading",
    "describe_turns",
    "describe_way",
    "expected",
    "function_steps",
    "further_rows",
    "places",
    "position_called",
    "positions",
    "signed_speed",
    "trial_steps",
    "with_spread",
]

FITS_WITHIN = 1.5
"""A reading counts as agreeing within this many of its own 95 % half widths (common practice)."""


@dataclass(frozen=True)
class Place:
    """A body that a reading can be taken at; ``wheel`` where + means forwards."""

    body: str
    name: str
    wheel: bool = False


@dataclass(frozen=True)
class Step:
    """One position of the trial list: what should turn, which way and how fast.

    ``turns`` are the box output's for one turn of the input, signed; ``wheel_turns`` the wheels',
    + forwards; both None in neutral. rpm are at the motor's working speed.
    """

    position: str
    sleeves: str
    turns: Fraction | None
    wheel_turns: Fraction | None
    output_rpm: float | None
    wheel_rpm: float | None
    words: str


def positions(vehicle: Vehicle) -> tuple[str, ...]:
    """Give the positions to try: neutral, then every gear."""
    return (NEUTRAL, *(gear.id for gear in vehicle.real.gears))


def position_called(vehicle: Vehicle, name: str) -> str:
    """Find a position by what it is called, as a builder types it; as it is where there is none."""
    gear = vehicle.gear_called(name)
    return name if gear is None else gear.id


@lru_cache(maxsize=8)
def _train(vehicle: Vehicle) -> Drivetrain:
    return assemble(vehicle)


@lru_cache(maxsize=256)
def _solved(vehicle: Vehicle, position: str) -> Solution:
    gear = None if position == NEUTRAL else position
    ahead = conditions(vehicle, Straight(), locked=False)
    return solve(_train(vehicle), shifter_state_for(vehicle, gear), ahead)


@lru_cache(maxsize=8)
def places(vehicle: Vehicle) -> tuple[Place, ...]:
    """List where a reading can be taken: the box's output, the wheels, then every other shaft."""
    train = _train(vehicle)
    output = box_output(vehicle)
    first = (
        Place(output, say("trial.box-output")),
        Place(WHEELS["left"], say("trial.wheels-both-turning-alike"), wheel=True),
    )
    rest = (
        Place(body.id, body.name)
        for body in train.bodies
        if body.kind == "shaft" and body.id not in (MOTOR, output)
    )
    return (*first, *rest)


def signed_speed(vehicle: Vehicle, solution: Solution, body: str) -> Fraction | None:
    """Give a body's turns for one turn of the input as one sees them; None where it is free.

    + means as the input turns; at a wheel + means forwards with the motor turning its own way.
    """
    speed = solution.speed(body)
    if speed is None:
        return None
    wheel = _train(vehicle).index[body].kind == "wheel"
    return speed * vehicle.motor.turns if wheel else speed


def expected(vehicle: Vehicle, position: str, body: str) -> Fraction | None:
    """Give what is planned at a body in a position; None where it hangs free.

    Raises
    ------
    KeyError
        The drivetrain has no such body.
    """
    return signed_speed(vehicle, _solved(vehicle, position), body)


def agrees(vehicle: Vehicle, reading: Reading) -> bool | None:
    """Tell whether a reading is as planned; None where the vehicle has no such place any more."""
    if reading.position not in positions(vehicle) or reading.body not in _train(vehicle).index:
        return None
    solution = _solved(vehicle, reading.position)
    if reading.jams or solution.locked:
        return reading.jams == solution.locked
    planned = signed_speed(vehicle, solution, reading.body)
    if planned is None:
        return reading.turns == 0
    if reading.way and planned and (planned > 0) != (reading.way > 0):
        return False
    allowed = max(FITS_WITHIN * reading.spread, 1e-3 * abs(float(planned)), 1e-6)
    return abs(reading.turns - abs(float(planned))) <= allowed


def trial_steps(vehicle: Vehicle) -> tuple[Step, ...]:
    """Make the trial list from the shift table: neutral first, then gear by gear."""
    steps = []
    for position in positions(vehicle):
        sleeves = {} if position == NEUTRAL else shifter_state_for(vehicle, position)
        solution = _solved(vehicle, position)
        out = signed_speed(vehicle, solution, box_output(vehicle))
        wheel = signed_speed(vehicle, solution, WHEELS["left"])
        rpm = vehicle.motor.working_rpm
        steps.append(
            Step(
                position=position,
                sleeves=", ".join(
                    describe_place(name, vehicle.gear_name(place))
                    for name, place in sleeves.items()
                )
                or say("trial.all-sleeves-out"),
                turns=out,
                wheel_turns=wheel,
                output_rpm=None if out is None else float(abs(out)) * rpm,
                wheel_rpm=None if wheel is None else float(abs(wheel)) * rpm,
                words=_describe_step(position, solution, out, wheel, rpm),
            )
        )
    return tuple(steps)


def _describe_step(
    position: str, solution: Solution, out: Fraction | None, wheel: Fraction | None, rpm: float
) -> str:
    if position == NEUTRAL:
        return say("trial.the-input-turns-and-nothing-drives-the")
    if solution.locked:
        return say("trial.as-planned-this-position-locks-mend-the-plan")
    if out is None or wheel is None:
        return say("trial.no-train-yet-nothing-is-driven")
    return say(
        "trial.one-turn-of-the-input-the-output-turns-the",
        turns=describe_turns(out),
        way=describe_way(out),
        turns_2=describe_turns(wheel),
        way_2=describe_way(wheel, wheel=True),
        rpm=rpm,
        out=abs(float(out)) * rpm,
        wheel=abs(float(wheel)) * rpm,
    )


def describe_turns(turns: Fraction | float) -> str:
    """Write how often something turns, without its sign."""
    value = abs(float(turns))
    return "once" if value == 1 else say("trial.times", value=value)


def with_spread(value: float, spread: float) -> str:
    """Write a value and what it is uncertain by, both to the digit that the uncertainty allows."""
    if not 0 < spread < float("inf"):
        return f"{signed(value, '.4g')} ± {signed(spread, '.2g')}"
    digits = min(max(1 - floor(log10(spread)), 0), 9)
    return f"{value:.{digits}f} ± {spread:.{digits}f}"


def describe_way(turns: Fraction | float, *, wheel: bool = False) -> str:
    """Say which way something turns."""
    if not turns:
        return say("trial.not-at-all")
    if wheel:
        return say("trial.forwards") if turns > 0 else say("trial.backwards")
    return say("trial.as-the-input-does") if turns > 0 else say("trial.against-the-input")


def describe_reading(vehicle: Vehicle, reading: Reading) -> str:
    """Say what was read, and beside it what is planned."""
    place = next((p for p in places(vehicle) if p.body == reading.body), None)
    name = place.name if place else reading.body
    if reading.jams:
        return say("trial.the-input-would-not-turn", gear_name=vehicle.gear_name(reading.position))
    way = (
        ""
        if not reading.way
        else f" {describe_way(reading.way, wheel=bool(place and place.wheel))}"
    )
    seen = f"{with_spread(reading.turns, reading.spread)}{way}" if reading.turns else "stood"
    planned = expected(vehicle, reading.position, reading.body) if place else None
    beside = say("trial.hangs-free") if planned is None else signed(float(planned), ".4g")
    return say(
        "trial.planned",
        gear_name=vehicle.gear_name(reading.position),
        name=name,
        seen=seen,
        beside=beside,
    )


def function_steps(vehicle: Vehicle) -> tuple[str, ...]:
    """List the steps of a function box's trial; empty where the vehicle has none."""
    result = function_result(vehicle)
    return result.trials if result is not None else ()


def further_rows(vehicle: Vehicle) -> tuple[TrialStep, ...]:
    """Give the steps beyond the gears: those of the function box, then of every mechanism."""
    functions = [
        TrialStep(f"f{n}", word("box"), words)
        for n, words in enumerate(function_steps(vehicle), start=1)
    ]
    return (*functions, *mechanism_steps(vehicle))

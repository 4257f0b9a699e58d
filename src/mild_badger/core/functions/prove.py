"""The arrangement as a graph, solved in every position and both ways of the motor."""

from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise

from mild_badger.core.drivetrain.builder import Builder
from mild_badger.core.drivetrain.graph import Drivetrain, OneWay, dog, fixed
from mild_badger.core.drivetrain.one_way import OneWaySolution, solve_one_way
from mild_badger.core.drivetrain.solve import Motion
from mild_badger.core.functions.arrange import Arrangement, Branch
from mild_badger.core.functions.branches import WAYS, wanted_speed
from mild_badger.core.functions.rectifier import Rectifier
from mild_badger.core.ids import OutputId
from mild_badger.core.message import say
from mild_badger.core.targets.speeds import deviation_percent, signed_error_percent
from mild_badger.core.vehicle.functions import FunctionBox

__all__ = ["FunctionState", "OutputSpeed", "build_functions", "output_body", "prove_functions"]

MOTOR = "function motor"
INPUT = "feed.input"
ONE_WAY = "feed.one-way"
COUNTER = "feed.counter"


@dataclass(frozen=True)
class OutputSpeed:
    """What an output does in a state: turns per turn of the motor, None where it is not driven."""

    output: OutputId
    speed: Fraction | None
    wanted: float
    right: bool


@dataclass(frozen=True)
class FunctionState:
    """One position with the motor turning one way (+1 forwards).

    ``passing`` marks what the shifter only passes through between two positions.
    """

    position: str
    direction: int
    sleeves: tuple[tuple[str, str], ...]
    outputs: tuple[OutputSpeed, ...]
    locked: bool
    passing: bool = False

    @property
    def right(self) -> bool:
        """Whether everything does what the table says."""
        return not self.locked and all(output.right for output in self.outputs)


def output_body(output: OutputId) -> str:
    """Name the body of an output's shaft."""
    return f"output {output}"


def build_functions(box: FunctionBox, arrangement: Arrangement) -> Drivetrain:
    """Build the graph of an arrangement from its motor to its outputs."""
    builder = Builder()
    motor = builder.shaft(MOTOR, say("functions.motor-shaft"))
    feed = builder.shaft(INPUT, say("functions.input-shaft"))
    builder.equations.append(fixed(motor, feed))
    clutches: list[OneWay] = []
    if arrangement.rectifier is not None:
        clutches += _rectifier(builder, arrangement.rectifier)
    for output in box.outputs:
        builder.shaft(output_body(output.id), output.name)
    for branch in arrangement.branches:
        clutches += _branch(builder, branch, box.called(branch.output))
    return Drivetrain(
        tuple(builder.bodies.values()), tuple(builder.equations), motor, tuple(clutches)
    )


def _rectifier(builder: Builder, gears: Rectifier) -> list[OneWay]:
    """Drive the one-way shaft's wheels from the input and from a counter-shaft.

    The counter-shaft turns against the input. A gear on either is free but for a one-way clutch
    that carries it forwards only; whichever of the two shafts turns forwards drives the wheels.
    """
    counter = builder.shaft(COUNTER, say("functions.counter-shaft"))
    one = builder.gear(
        "reversing/input",
        gears.reversing,
        on=INPUT,
        name=say("functions.reversing-gear-on-the-input"),
    )
    two = builder.gear(
        "reversing/counter", gears.counter, on=counter, name=say("functions.reversing-gear")
    )
    builder.mesh(one, two)
    shaft = builder.shaft(ONE_WAY, say("functions.one-way-shaft"))
    clutches = []
    for name, carrier, teeth, driven in (
        ("input", INPUT, gears.direct, gears.direct),
        ("counter", counter, gears.counter, gears.reversing),
    ):
        wheel = builder.gear(
            f"one-way/wheel {name}", driven, on=shaft, name=say("functions.one-way-shafts-wheel")
        )
        free = builder.gear(
            f"one-way/{name}",
            teeth,
            on=None,
            name=say("functions.gear-with-a-one-way-clutch", name=name),
        )
        builder.mesh(free, wheel)
        clutches.append(OneWay(f"clutch {name}", carrier, free, 1))
    return clutches


def _branch(builder: Builder, branch: Branch, title: str) -> list[OneWay]:
    feed = ONE_WAY if branch.feed == "one-way" else INPUT
    head = builder.shaft(f"{branch.key}/head", say("functions.free-gear", title=title))
    if branch.sleeve is None or branch.face is None:
        builder.equations.append(fixed(head, feed))
    else:
        builder.equations.append(dog(head, feed, sleeve=branch.sleeve, position=branch.face))
    end = output_body(branch.output)
    if not branch.sense:
        builder.train(branch.key, branch.train, start=head, end=end, title=title)
        return []
    tail = builder.shaft(f"{branch.key}/tail", say("functions.clutchs-driver", title=title))
    builder.train(branch.key, branch.train, start=head, end=tail, title=title)
    return [OneWay(f"clutch {branch.key}", tail, end, branch.sense)]


def prove_functions(box: FunctionBox, arrangement: Arrangement) -> tuple[FunctionState, ...]:
    """Solve every position for the ways the motor runs there, and what lies between positions.

    Between two positions the sleeves that stay in are in, and the motor may turn either way.
    """
    train = build_functions(box, arrangement)
    states = []
    for position in box.positions:
        sleeves = arrangement.settings(position.name)
        for direction in WAYS[position.motor]:
            solution = solve_one_way(train, sleeves, direction=direction)
            speeds = []
            for output in box.outputs:
                wanted = wanted_speed(box, position, output, direction)
                speed = solution.speed(output_body(output.id))
                speeds.append(
                    OutputSpeed(
                        output.id,
                        speed,
                        wanted or 0.0,
                        wanted is not None and _right(speed, wanted, box.tolerance_percent),
                    )
                )
            states.append(
                FunctionState(
                    position.name,
                    direction,
                    tuple(sleeves.items()),
                    tuple(speeds),
                    _locked(solution),
                )
            )
    for one, other in pairwise(box.positions):
        here, there = arrangement.settings(one.name), arrangement.settings(other.name)
        staying = {s: face for s, face in here.items() if there.get(s) == face}
        for direction in (1, -1):
            solution = solve_one_way(train, staying, direction=direction)
            name = say("functions.to", name=one.name, name_2=other.name)
            states.append(
                FunctionState(name, direction, tuple(staying.items()), (), _locked(solution), True)
            )
    return tuple(states)


def _locked(solution: OneWaySolution) -> bool:
    return solution.solution.locked or Motion.LOCKED in solution.solution.motions.values()


def _right(speed: Fraction | None, wanted: float, limit: float) -> bool:
    if not wanted:
        return not speed
    if not speed or (speed > 0) != (wanted > 0):
        return False
    error = signed_error_percent(abs(1 / float(speed)), abs(1 / wanted))
    return deviation_percent(error) <= limit + 1e-9

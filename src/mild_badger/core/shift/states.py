"""Every state the shifter can reach, solved; and why the rest is out of its reach or locks.

A gate's finger, a catch that passes neutral before it moves on and a drum's tracks keep to one
sleeve in at a time where they are made so; a range × splitter box has two such shifters, one for
either small box. The states they reach are solved one by one. What the other settings of the
sleeves would do is told by structure: free gears that sleeves couple to shafts of one group must
all ask the same speed of it.
"""

from collections import Counter
from dataclasses import dataclass, field, replace
from enum import StrEnum
from fractions import Fraction
from functools import lru_cache
from itertools import permutations
from math import prod

from mild_badger.core.driveline.assemble import WHEELS, assemble, box_output, shifter_state_for
from mild_badger.core.drivetrain.conflict import conflict
from mild_badger.core.drivetrain.graph import Coupling, Drivetrain, Equation, OneWay
from mild_badger.core.drivetrain.one_way import solve_one_way
from mild_badger.core.drivetrain.solve import Motion, Solution, solve
from mild_badger.core.message import say, say_count
from mild_badger.core.shift.reachability import Shifter, Stop, reach
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import rail_of

__all__ = ["Proof", "ShiftState", "StateVerdict", "prove", "shifters"]


SHIFTED = (Coupling.DOG, Coupling.MESH)
"""What a shifter closes: a sleeve's dogs, or a sliding gear's mesh."""


class StateVerdict(StrEnum):
    """What a state of the shifter does."""

    DRIVES = "drives"
    NEUTRAL = "neutral"
    LOCKS = "locks"


@dataclass(frozen=True)
class ShiftState:
    """One setting of the sleeves; those that are not named are in neutral.

    ``gears`` are the vehicle's gears that it stands for; ``ratio`` is the box's, turns in per turn
    out, signed; ``forwards`` the turns of the wheels per turn of the motor, + forwards. Where it
    locks ``fighting`` names the parts that fight. ``passing`` says where the shifter only passes
    through it.
    """

    sleeves: tuple[tuple[str, str], ...]
    verdict: StateVerdict
    gears: tuple[str, ...]
    ratio: Fraction | None
    forwards: Fraction | None
    fighting: tuple[str, ...] = ()
    passing: str = ""


@dataclass(frozen=True)
class Proof:
    """All that the shifter can reach, and how many settings of the sleeves there are besides.

    ``settings`` counts every combination of the sleeves' places, ``locking`` those of them that
    lock something; the shifter, named in ``reaching``, reaches only ``states``.
    """

    states: tuple[ShiftState, ...]
    settings: int
    locking: int
    shifters: int
    reaching: str

    def count(self, verdict: StateVerdict) -> int:
        """How many of the reachable states do a thing."""
        return sum(1 for state in self.states if state.verdict is verdict)

    @property
    def locks(self) -> tuple[ShiftState, ...]:
        """The reachable states that lock."""
        return tuple(state for state in self.states if state.verdict is StateVerdict.LOCKS)

    @property
    def summary(self) -> str:
        """Say in two sentences what can be reached and what cannot."""
        drive, neutral, lock = (self.count(verdict) for verdict in StateVerdict)
        reached = len(self.states)
        halves = say("shift.of-either-small-box") if self.shifters > 1 else ""
        first = say(
            "shift.reaches-neutral",
            reaching=self.reaching,
            halves=halves,
            state=say_count("count.state", reached),
            drive=drive,
            drives=say_count("noun.drives", drive),
            neutral=neutral,
            be=say_count("noun.is", neutral),
            lock=lock or say("shift.none"),
            word=say_count("noun.locks", lock or 1),
        )
        beyond = self.locking - lock
        if beyond <= 0:
            return (
                first
                if lock
                else say("shift.no-other-setting-of-the-sleeves-locks-either", first=first)
            )
        return say(
            "shift.of-the-settings-of-all-sleeves-would-lock",
            first=first,
            settings=self.settings,
            beyond=beyond,
            bool=say("shift.more") * bool(lock),
        )


def shifters(train: Drivetrain) -> tuple[Shifter, ...]:
    """Group the sleeves by what moves them: all by one, but for two small boxes in series."""
    places: dict[str, list[str]] = {}
    for equation in train.equations:
        if equation.kind in SHIFTED and equation.sleeve and equation.position:
            faces = places.setdefault(equation.sleeve, [])
            if equation.position not in faces:
                faces.append(equation.position)
    groups: dict[str, list[tuple[str, tuple[str, ...]]]] = {}
    for sleeve, positions in places.items():
        groups.setdefault(rail_of(sleeve), []).append((sleeve, tuple(positions)))
    return tuple(tuple(group) for group in groups.values())


def prove(vehicle: Vehicle, road: tuple[Equation, ...]) -> Proof:
    """Solve every state that the shifter can reach, and count what the other settings would do.

    Parameters
    ----------
    vehicle
        Whose box it is.
    road
        What the road says of the wheels, as when they run straight ahead.
    """
    asked = (
        vehicle.box,
        vehicle.shifting,
        vehicle.lever.plungers,
        vehicle.lever.fork_travel_mm,
        vehicle.final_drive,
        vehicle.differential,
        vehicle.motor.turns,
        tuple((gear.id, gear.name, gear.reverse) for gear in vehicle.real.gears),
    )
    return _proved(_StateQuestion(asked, vehicle), road)


@dataclass(frozen=True)
class _StateQuestion:
    """What a proof depends on, so that it is found again while other fields are typed."""

    asked: tuple[object, ...]
    vehicle: Vehicle = field(compare=False)


@lru_cache(maxsize=16)
def _proved(question: _StateQuestion, road: tuple[Equation, ...]) -> Proof:
    vehicle = question.vehicle
    train = assemble(vehicle)
    groups = shifters(train)
    named: dict[frozenset[tuple[str, str]], list[str]] = {}
    for gear in vehicle.real.gears:
        if vehicle.box.ready(gear.id):
            named.setdefault(frozenset(shifter_state_for(vehicle, gear.id).items()), []).append(
                gear.id
            )
    if vehicle.box.lever is not None:
        return _slid(vehicle, train, road)
    clash = _clashes(train, groups)
    states = []
    for stop in reach(vehicle, groups):
        if stop.passing and not stop.one_way and clash.get(stop.sleeves):
            states.append(_clashing(stop, clash[stop.sleeves]))
            continue
        gears = tuple(named.get(frozenset(stop.sleeves), ()))
        states.append(_state(vehicle, train, road, stop, gears))
    for place, state in enumerate(states):
        if state.passing and state.verdict is StateVerdict.LOCKS:
            parts = _fighting(train, dict(state.sleeves), road)  # one named whole explains the rest
            states[place] = replace(state, fighting=parts)
            break
    settings = prod(len(places) + 1 for group in groups for _, places in group)
    return Proof(
        tuple(states),
        settings,
        _locking(train, groups),
        len(groups),
        _reaching(vehicle),
    )


def _slid(vehicle: Vehicle, train: Drivetrain, road: tuple[Equation, ...]) -> Proof:
    """Solve every place of a lever drive's fulcrum: one at a time, nothing can fight."""
    states = tuple(
        _state(
            vehicle,
            train,
            road,
            Stop(tuple(shifter_state_for(vehicle, gear).items())),
            () if gear is None else (gear,),
        )
        for gear in (None, *(slot.gear for slot in vehicle.box.slots))
    )
    return Proof(states, len(states), 0, 1, say("shift.the-fulcrum"))


def _reaching(vehicle: Vehicle) -> str:
    match vehicle.shifting.actuation:
        case "catch":
            return say("shift.the-catch")
        case "drum":
            return say("shift.the-drum")
        case _:
            held = vehicle.lever.plungers
            return (
                say("shift.one-rail-in-at-a-time") if held else say("shift.a-gate-without-plungers")
            )


def _state(
    vehicle: Vehicle,
    train: Drivetrain,
    road: tuple[Equation, ...],
    stop: Stop,
    gears: tuple[str, ...],
) -> ShiftState:
    sleeves = dict(stop.sleeves)
    way = vehicle.motor.turns
    if stop.one_way:
        overrun = _one_way(train, road, sleeves, way)
        solved = solve_one_way(overrun, {}, road, direction=way).solution
    else:
        solved = solve(train, sleeves, road)
    key = tuple(sorted(sleeves.items()))
    if solved.locked or Motion.LOCKED in solved.motions.values():
        names = _fighting(train, sleeves, road)
        return ShiftState(key, StateVerdict.LOCKS, gears, None, None, names, stop.passing)
    output = solved.speed(box_output(vehicle))
    if not output:
        return ShiftState(key, StateVerdict.NEUTRAL, gears, None, None, (), stop.passing)
    turns = solved.speed(WHEELS["left"])
    forwards = None if turns is None else turns * way
    return ShiftState(key, StateVerdict.DRIVES, gears, 1 / output, forwards, (), stop.passing)


def _fighting(
    train: Drivetrain, sleeves: dict[str, str], road: tuple[Equation, ...]
) -> tuple[str, ...]:
    parts = conflict(train, sleeves, road)
    return tuple(dict.fromkeys(train.index[body].name for part in parts for body in part.bodies))


def _clashes(
    train: Drivetrain, groups: tuple[Shifter, ...]
) -> dict[tuple[tuple[str, str], ...], tuple[str, ...]]:
    """Find the pairs of positions that lock by structure, and the two gears that they couple."""
    gears_of: dict[tuple[tuple[str, str], ...], tuple[str, ...]] = {}
    for group in groups:
        asked = _asked(train, group)
        free = {
            (e.sleeve, e.position): train.index[e.bodies[e.kind is Coupling.MESH]].name
            for e in train.equations
            if e.kind in SHIFTED and e.sleeve
        }
        for one, other in permutations(asked, 2):
            if one[0] != other[0] and asked[one] != asked[other]:
                gears_of[one, other] = (free[one], free[other])
    return gears_of


def _clashing(stop: Stop, gears: tuple[str, ...]) -> ShiftState:
    key = tuple(sorted(stop.sleeves))
    return ShiftState(key, StateVerdict.LOCKS, (), None, None, gears, stop.passing)


def _one_way(
    train: Drivetrain, road: tuple[Equation, ...], sleeves: dict[str, str], way: int
) -> Drivetrain:
    """Make the closed dogs ones that drive their shaft the way its gear turns it, and overrun."""
    dogs = []
    for dog in train.equations:
        if dog.kind is not Coupling.DOG or not dog.holds(sleeves):
            continue
        kind = rail_of(dog.sleeve or "")
        others = {s: p for s, p in sleeves.items() if rail_of(s) != kind}
        alone = solve(train, {**others, dog.sleeve or "": dog.position or ""}, road)
        free, shaft = dog.bodies
        sense = (alone.speed(shaft) or Fraction(1)) * way
        dogs.append(OneWay(dog.id, free, shaft, 1 if sense > 0 else -1))
    rest = tuple(e for e in train.equations if e.kind is not Coupling.DOG)
    return replace(train, equations=rest, one_ways=tuple(dogs))


def _locking(train: Drivetrain, groups: tuple[Shifter, ...]) -> int:
    """Count the settings that lock, by structure.

    With all sleeves out every free gear has a speed per turn of its group's first shaft, and the
    shafts that sleeves couple them to have one per turn of its last. Closing several sleeves of a
    group is sound if and only if all ask the same ratio of it.
    """
    sound = 1
    for group in groups:
        asked = _asked(train, group)
        alike = 1  # all out
        for ratio in set(asked.values()):
            per_sleeve = Counter(sleeve for (sleeve, _), r in asked.items() if r == ratio)
            alike += prod(count + 1 for count in per_sleeve.values()) - 1
        sound *= alike
    every = prod(len(places) + 1 for group in groups for _, places in group)
    return every - sound


def _asked(train: Drivetrain, group: Shifter) -> dict[tuple[str, str], Fraction]:
    """Ratio that each position of a group's sleeves asks between the group's two ends."""
    dogs = {
        (e.sleeve, e.position): e
        for e in train.equations
        if e.sleeve in dict(group) and e.position is not None and e.sleeve is not None
    }
    first = next(iter(dogs.values()))
    ahead = _from(train, first.bodies[0])
    behind = _from(train, first.bodies[1])
    asked = {}
    for place, dog in dogs.items():
        (free, one), (shaft, other) = dog.terms
        gain = -one * (ahead.speed(free) or Fraction(0)) / other
        asked[place] = gain / (behind.speed(shaft) or Fraction(1))
    return asked


def _from(train: Drivetrain, body: str) -> Solution:
    return solve(train, {}, source=body)

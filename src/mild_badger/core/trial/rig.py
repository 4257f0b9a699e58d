"""The stand-in rig: it runs the vehicle's own drivetrain, built with faults, and sends pulses.

It lets the bench be used and tested without hardware. A fault changes what is *built*: the document
is edited, a sleeve is moved by mistake, a gear is glued; then the drivetrain is solved as any other
is. The diagnosis knows nothing of this module, nor this of the diagnosis.
"""

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from math import pi, sin
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.drivetrain.graph import Coupling, Drivetrain, fixed
from mild_badger.core.drivetrain.solve import Solution, solve
from mild_badger.core.errors import BadgerError, InputError
from mild_badger.core.message import say
from mild_badger.core.vehicle.bodies import gear_body
from mild_badger.core.vehicle.box import GearPair, gear_key
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.trains import set_shared, train_at
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.train import Role, pair_ids
from mild_badger.core.vehicle.trial import NEUTRAL

__all__ = ["FAULT_KINDS", "RigFault", "RigRun", "SlotDisc", "faults_of", "parse_fault", "pulses"]

FaultKind = Literal[
    "swapped gear",
    "swapped pair",
    "missing idler",
    "wrong sleeve",
    "glued gear",
    "slipping dog",
    "skipping tooth",
]
ROLES: dict[str, Role] = {"driver": "driver", "driven": "driven"}
FAULT_KINDS: dict[str, str] = {
    "swapped gear": say("trial.a-gear-of-another-size-swapped-gear-train"),
    "swapped pair": say("trial.driver-and-driven-changed-over-swapped-pair"),
    "missing idler": say("trial.an-idler-left-out-missing-idler-train-pair"),
    "wrong sleeve": say("trial.one-gears-lever-position-engages-another"),
    "glued gear": say("trial.a-gear-meant-to-run-free-is-glued-to-its"),
    "slipping dog": say("trial.a-sleeves-dogs-slip-slipping-dog-gear"),
    "skipping tooth": say("trial.a-mesh-skips-a-tooth-now-and-then-skipping"),
}
"""The faults that the rig can be built with, and how they are written."""


Floats = NDArray[np.float64]
STEP_S = 1e-3
JERK_TURNS = 0.1
"""What slips lets go for so much of a turn of the input at a time."""


@dataclass(frozen=True)
class RigFault:
    """Something built wrong. Which fields count depends on the kind, see ``FAULT_KINDS``."""

    kind: FaultKind
    train: str = ""
    pair: int = 0
    role: Role = "driven"
    teeth: int = 0
    gear: str = ""
    other: str = ""
    percent: float = 0.0

    def describe(self, vehicle: Vehicle) -> str:
        """Say what was done to the rig."""
        gear, other = vehicle.gear_name(self.gear), vehicle.gear_name(self.other)
        place = say("trial.pair", train_title=vehicle.train_title(self.train), pair=self.pair + 1)
        match self.kind:
            case "swapped gear":
                return say("trial.the-has-teeth", place=place, role=self.role, teeth=self.teeth)
            case "swapped pair":
                return say("trial.driver-and-driven-are-changed-over", place=place)
            case "missing idler":
                return say("trial.the-idler-is-left-out", place=place)
            case "wrong sleeve":
                return say("trial.gear-s-lever-position-engages-gear", gear=gear, other=other)
            case "glued gear":
                return say("trial.the-free-gear-of-gear-is-glued-to-its-shaft", gear=gear)
            case "slipping dog":
                return say("trial.the-dogs-of-gear-slip-by", gear=gear, percent=self.percent)
            case _:
                return say(
                    "trial.a-tooth-is-skipped-now-and-then", place=place, percent=self.percent
                )


@dataclass(frozen=True)
class SlotDisc:
    """A slotted disc and its light gate.

    ``bent`` shifts one slot by a share of the slots' spacing; ``missed`` of the pulses do not come
    through; time stamps are off by ``noise_us`` (one standard deviation).
    """

    slots: int = 6
    bent: float = 0.0
    missed: float = 0.0
    noise_us: float = 20.0


@dataclass(frozen=True)
class RigRun:
    """One run of the rig: where the second disc sits, how fast and how long the input turns."""

    position: str
    body: str
    fault: RigFault | None = None
    rpm: float = 240.0
    seconds: float = 10.0
    source: SlotDisc = field(default_factory=SlotDisc)
    output: SlotDisc = field(default_factory=SlotDisc)
    seed: int = 1


def _trains(vehicle: Vehicle) -> list[str]:
    own = vehicle.box.own_keys()
    shared = [shared.key for shared in vehicle.box.shared()]
    known = (*own, *shared, "final drive", "display engine", "lever drive")
    return [key for key in known if train_at(vehicle, key)]


def faults_of(vehicle: Vehicle) -> tuple[RigFault, ...]:
    """List the faults this vehicle can be built with: sizes of the kit, a step or two about."""
    faults: list[RigFault] = []
    for train in _trains(vehicle):
        for number, pair in enumerate(train_at(vehicle, train)):
            for role in ROLES.values():
                planned = getattr(pair, role)
                near = sorted(vehicle.kit.sizes, key=lambda z: (abs(z - planned), z))[1:4]
                faults += [RigFault("swapped gear", train, number, role, z) for z in near]
            if pair.driver != pair.driven:
                faults.append(RigFault("swapped pair", train, number))
            if pair.idlers:
                faults.append(RigFault("missing idler", train, number))
            faults.append(RigFault("skipping tooth", train, number, percent=4.0))
    gears = [g.id for g in vehicle.real.gears if shifter_state_for(vehicle, g.id)]
    for gear in gears:
        if vehicle.box.own_keys():
            faults.append(RigFault("slipping dog", gear=gear, percent=12.0))
            faults.append(RigFault("glued gear", gear=gear))
        faults += [
            RigFault("wrong sleeve", gear=gear, other=other) for other in gears if other != gear
        ]
    return tuple(faults)


def parse_fault(vehicle: Vehicle, text: str) -> RigFault:
    """Read a fault as the command line writes it, gears by their names.

    Raises
    ------
    InputError
        It is no fault that the rig knows.
    """
    known = {target.name: target.id for target in vehicle.real.gears}
    known |= {f"gear {name}": gear_key(gear) for name, gear in known.items()}
    kind, *rest = [cell.strip() for cell in text.split(":")]
    gears = {"wrong sleeve": 2}.get(kind, 1)
    rest = [known.get(cell, cell) if n < gears else cell for n, cell in enumerate(rest)]
    try:
        match kind:
            case "swapped gear":
                train, pair, written, teeth = rest
                role = ROLES[written]
                return RigFault(kind, train, int(pair) - 1, role, int(teeth))
            case "swapped pair" | "missing idler":
                train, pair = rest
                return RigFault(kind, train, int(pair) - 1)
            case "wrong sleeve":
                gear, other = rest
                return RigFault(kind, gear=gear, other=other)
            case "glued gear":
                (gear,) = rest
                return RigFault(kind, gear=gear)
            case "slipping dog":
                gear, percent = rest
                return RigFault(kind, gear=gear, percent=float(percent))
            case "skipping tooth":
                train, pair, percent = rest
                return RigFault(kind, train, int(pair) - 1, percent=float(percent))
    except (KeyError, ValueError):
        raise InputError(
            say("trial.fault-write-it-so", text=text, fault_kinds=FAULT_KINDS[kind])
        ) from None
    raise InputError(
        say("trial.the-rig-knows-no-fault-it-knows", kind=kind, listed=", ".join(FAULT_KINDS))
    )


def _as_built(vehicle: Vehicle, fault: RigFault | None) -> Vehicle:
    """Edit the document into what was built by mistake."""
    if fault is None or not fault.train:
        return vehicle
    train = list(train_at(vehicle, fault.train))
    if fault.pair not in range(len(train)):
        raise InputError(
            say("trial.there-is-no-pair-in-the-train", pair=fault.pair + 1, train=fault.train)
        )
    pair = train[fault.pair]
    if fault.kind == "swapped gear":
        train[fault.pair] = pair.model_copy(update={fault.role: fault.teeth})
    elif fault.kind == "swapped pair":
        train[fault.pair] = GearPair(driver=pair.driven, driven=pair.driver, idlers=pair.idlers)
    elif fault.kind == "missing idler":
        if not pair.idlers:
            raise InputError(
                say("trial.pair-has-no-idler-to-leave-out", train=fault.train, pair=fault.pair + 1)
            )
        train[fault.pair] = pair.model_copy(update={"idlers": pair.idlers[1:]})
    try:
        return apply_edit(vehicle, set_shared(vehicle, fault.train, tuple(train)))
    except BadgerError as error:
        raise InputError(
            say("trial.the-rig-cannot-be-built-with-this-fault", error=error)
        ) from error


def _glued(train: Drivetrain, sleeves: dict[str, str]) -> Drivetrain:
    """Glue what the sleeves of a gear would couple."""
    extra = tuple(
        fixed(*equation.bodies)
        for equation in train.equations
        if equation.kind is Coupling.DOG and equation.holds(sleeves)
    )
    return replace(train, equations=(*train.equations, *extra))


def _solved(vehicle: Vehicle, run: RigRun) -> tuple[Solution, float]:
    """Solve what was built; give with it the share of the speed that slips away."""
    fault = run.fault
    for name in (run.position, *((fault.gear, fault.other) if fault else ())):
        if name and name != NEUTRAL and vehicle.gear(name) is None:
            raise InputError(say("trial.the-vehicle-has-no-gear", name=name))
    built = _as_built(vehicle, fault)
    position = run.position
    if fault is not None and fault.kind == "wrong sleeve" and position == fault.gear:
        position = fault.other
    sleeves = {} if position == NEUTRAL else shifter_state_for(built, position)
    train = assemble(built)
    if run.body not in train.index and run.body not in assemble(vehicle).index:
        raise InputError(say("trial.the-drivetrain-has-no-body-to-put-a-disc-on", body=run.body))
    if fault is not None and fault.kind == "glued gear":
        train = _glued(train, shifter_state_for(built, fault.gear))
    ahead = conditions(built, Straight(), locked=False)
    return solve(train, sleeves, ahead), _slip(vehicle, run, position, train)


def _slip(vehicle: Vehicle, run: RigRun, position: str, train: Drivetrain) -> float:
    """Give the share that slips between the input and the disc, in this position."""
    fault = run.fault
    if fault is None or fault.kind not in ("slipping dog", "skipping tooth"):
        return 0.0
    sleeves = {} if position == NEUTRAL else shifter_state_for(vehicle, position)
    if fault.kind == "slipping dog":
        weak = [
            e
            for e in train.equations
            if e.kind is Coupling.DOG and e.holds(shifter_state_for(vehicle, fault.gear))
        ]
    else:
        own = pair_ids(train_at(vehicle, fault.train))[fault.pair]
        driven = gear_body(fault.train, own, "driven")
        weak = [e for e in train.equations if driven in e.bodies and e.kind is Coupling.MESH]
    without = replace(train, equations=tuple(e for e in train.equations if e not in weak))
    free = solve(without, sleeves, conditions(vehicle, Straight(), locked=False))
    return fault.percent / 100 if free.speeds.get(run.body) is None else 0.0


def pulses(vehicle: Vehicle, run: RigRun) -> Iterator[str]:
    """Run the rig: the lines of the tachometer in the order of their time stamps.

    Channel 1 sits on the input, channel 2 on ``run.body``. A box that jams sends nothing.

    Raises
    ------
    InputError
        The run names a gear, a body or a fault that the vehicle has no place for.
    """
    solution, slip = _solved(vehicle, run)
    if solution.locked:
        yield say(
            "trial.rig-position-the-input-does-not-turn", gear_name=vehicle.gear_name(run.position)
        )
        return
    speed = solution.speeds.get(run.body)  # an idler that was left out turns no disc
    name = vehicle.gear_name(run.position)
    yield say("trial.rig-position-channel-1-input-channel-2", name=name, body=run.body)
    rate = abs(float(speed)) if speed is not None else 0.0
    random = np.random.default_rng(run.seed)
    seconds, driven = _input(run, random)
    events = _passing(1, run.source, seconds, driven, random)
    if rate:
        turned = rate * (driven - _lost(driven[-1], slip, random, driven))
        events += _passing(2, run.output, seconds, turned, random)
    for us, channel in sorted(events):
        yield f"{us},{channel}"


def _input(run: RigRun, random: np.random.Generator) -> tuple[Floats, Floats]:
    """Give times, and how often the input has turned: its speed wanders slowly about its mean."""
    depth, hertz, phase = random.uniform((0.002, 0.1, 0.0), (0.01, 0.4, 2 * pi))
    swing = 2 * pi * hertz
    seconds = np.arange(0.0, run.seconds, STEP_S)
    wander = depth / swing * (np.sin(swing * seconds + phase) - sin(phase))
    return seconds, run.rpm / 60 * (seconds - wander)


def _lost(whole: float, slip: float, random: np.random.Generator, driven: Floats) -> Floats:
    """Give the input's turns that slip away: in jerks, during which the output stands."""
    if not slip:
        return np.zeros_like(driven)
    count = int(whole * slip / JERK_TURNS) + 2
    stood = JERK_TURNS * random.uniform(0.5, 1.5, count)
    ran = stood * (1 - slip) / slip
    ends = np.cumsum(ran + stood)
    at = np.ravel(np.column_stack((ends - stood, ends)))
    lost = np.cumsum(stood)
    gone = np.ravel(np.column_stack((lost - stood, lost)))
    angles: Floats = np.interp(driven, at, gone, left=0.0)
    return angles


def _passing(
    channel: int, disc: SlotDisc, seconds: Floats, turned: Floats, random: np.random.Generator
) -> list[tuple[int, int]]:
    """Find when each slot of a disc passes its gate, as its instrument has it."""
    phase = turned * disc.slots + random.random()
    numbers = np.arange(1, int(phase[-1]))
    at = numbers + np.where(numbers % disc.slots == int(random.integers(disc.slots)), disc.bent, 0)
    us = 1e6 * np.interp(at, phase, seconds) + random.normal(0, disc.noise_us, len(at))
    seen = random.random(len(at)) >= disc.missed
    return [(max(round(float(t)), 0), channel) for t in us[seen]]

"""What share of the motor's power arrives: read off the power flow of the graph, here alone.

What is lost in loaded teeth counts: of the box, its drive row and tie, the final drive, and of
planetary sets and differentials whose bodies turn against one another. What only idles along, and
bearings, count as drag (``performance/losses``) and are left out.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from mild_badger.core.driveline.assemble import WHEELS, assemble, box_output, shifter_state_for
from mild_badger.core.drivetrain.builder import Builder
from mild_badger.core.drivetrain.graph import Drivetrain, Equation, fixed
from mild_badger.core.drivetrain.power import power_flow, power_shares
from mild_badger.core.drivetrain.solve import Solution, solve
from mild_badger.core.ratios.train import mesh_count
from mild_badger.core.vehicle.box import Train
from mild_badger.core.vehicle.cache_key import CacheKey, cache_key
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.slots import set_train
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "InGear",
    "box_efficiencies",
    "driven_wheels",
    "efficiency",
    "gears_ahead",
    "loaded_couplings",
    "mean_efficiency",
    "train_efficiencies",
    "trains_alone",
]

SMALL = 1e-9


def efficiency(
    train: Drivetrain,
    sleeves: dict[str, str],
    solution: Solution,
    ends: Mapping[str, float],
    mesh_loss: float,
) -> float | None:
    """Give the share of the source's power that comes out at loaded bodies, 0 to 1.

    ``ends`` holds how the load is shared between them, as :func:`driven_wheels` gives it.

    None where nothing turns them, or where how the power is shared cannot be told.
    """
    loads = _loads(solution, ends)
    if loads is None:
        return None
    shares = power_shares(train, sleeves, solution, loads, mesh_loss=mesh_loss, at=tuple(loads))
    return None if shares is None else sum(shares.values())


def loaded_couplings(
    train: Drivetrain,
    sleeves: dict[str, str],
    solution: Solution,
    ends: Mapping[str, float],
    mesh_loss: float,
) -> set[str]:
    """Name the couplings that carry torque where bodies are loaded; none where none turn."""
    loads = _loads(solution, ends)
    flow = None
    if loads is not None:
        flow = power_flow(train, sleeves, solution, loads, mesh_loss=mesh_loss)
    if flow is None:
        return set()
    return {t.coupling.id for t in flow.through if any(abs(n) > SMALL for _, n in t.torques)}


def _loads(solution: Solution, ends: Mapping[str, float]) -> dict[str, float] | None:
    """Load bodies against their speeds; None where one stands or is free."""
    speeds = {body: solution.speeds.get(body) for body in ends}
    if not all(speeds.values()):
        return None
    return {body: -ends[body] if (speed or 0) > 0 else ends[body] for body, speed in speeds.items()}


@dataclass(frozen=True)
class InGear:
    """A gear straight ahead: how everything turns, and what share of the power arrives.

    Shares are 0 where the gear does not drive.
    """

    solution: Solution
    box: float
    wheels: float


def gears_ahead(vehicle: Vehicle, road: tuple[Equation, ...]) -> dict[str, InGear]:
    """Solve every gear straight ahead; ``road`` is what the road says of the wheels then."""
    return _gears_ahead(cache_key(vehicle, vehicle.kit.mesh_loss), road)


@lru_cache(maxsize=16)
def _gears_ahead(key: CacheKey, road: tuple[Equation, ...]) -> dict[str, InGear]:
    gears = key.vehicle.real.gears
    return {gear.id: _gear_ahead(key.vehicle, gear.id, road) for gear in gears}


def _gear_ahead(vehicle: Vehicle, gear: str, road: tuple[Equation, ...]) -> InGear:
    """Solve one gear straight ahead; see :func:`gears_ahead`."""
    train, output, wheels = assemble(vehicle), box_output(vehicle), driven_wheels(vehicle)
    sleeves = shifter_state_for(vehicle, gear)
    solution = solve(train, sleeves, road)
    loads = None if solution.locked else _loads(solution, wheels)
    shares = None
    if loads is not None:
        shares = power_shares(
            train, sleeves, solution, loads, mesh_loss=vehicle.kit.mesh_loss, at=(output, *wheels)
        )
    if shares is None:
        return InGear(solution, 0.0, 0.0)
    return InGear(solution, shares[output], sum(shares[wheel] for wheel in wheels))


def driven_wheels(vehicle: Vehicle) -> dict[str, float]:
    """Name the wheels that the first driven axle drives, and how its torque is shared between."""
    differential = vehicle.differential
    if differential.kind == "none":
        return {WHEELS[differential.driven_side]: 1.0}
    if differential.kind == "planetary":  # the left wheel takes the sun, the right one the ring
        whole = differential.sun_teeth + differential.ring_teeth
        return {
            WHEELS["left"]: 2 * differential.sun_teeth / whole,
            WHEELS["right"]: 2 * differential.ring_teeth / whole,
        }
    return dict.fromkeys(WHEELS.values(), 1.0)


def box_efficiencies(
    vehicle: Vehicle, gears: Iterable[str] | None = None
) -> dict[str, float | None]:
    """Give the share of the power that passes the box, gear by gear."""
    train, output = assemble(vehicle), box_output(vehicle)
    shares = {}
    for gear in gears if gears is not None else [target.id for target in vehicle.real.gears]:
        sleeves = shifter_state_for(vehicle, gear)
        solution = solve(train, sleeves)
        shares[gear] = efficiency(train, sleeves, solution, {output: 1.0}, vehicle.kit.mesh_loss)
    return shares


def mean_efficiency(vehicle: Vehicle) -> float | None:
    """Give the share of the power that passes the box, the mean over the gears that drive."""
    shares = [share for share in box_efficiencies(vehicle).values() if share is not None]
    return sum(shares) / len(shares) if shares else None


def train_efficiencies(
    vehicle: Vehicle, gear: str, trains: Sequence[Train]
) -> tuple[float | None, ...]:
    """Give the share of the power that passes the box with each of several trains in a gear.

    Trains of as many meshes lose as much in one place, so one of each kind is worked out.
    """
    known: dict[int, float | None] = {}
    for train in trains:
        meshes = mesh_count(train)
        if meshes not in known:
            after = apply_edit(vehicle, set_train(vehicle, gear, train))
            known[meshes] = box_efficiencies(after, (gear,))[gear]
    return tuple(known[mesh_count(train)] for train in trains)


def trains_alone(trains: Sequence[Train], mesh_loss: float) -> float:
    """Give the share of the power that passes trains without a box, the mean over them."""
    shares = []
    for train in trains:
        builder = Builder()
        start, end = builder.shaft("in", "Input"), builder.shaft("out", "Output")
        if train:
            builder.train("train", train, start=start, end=end, title="Train")
        else:
            builder.equations.append(fixed(start, end))
        graph = Drivetrain(tuple(builder.bodies.values()), tuple(builder.equations), start)
        shares.append(efficiency(graph, {}, solve(graph, {}), {end: 1.0}, mesh_loss) or 0.0)
    return sum(shares) / len(shares)

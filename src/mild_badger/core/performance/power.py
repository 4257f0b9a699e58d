"""Torque, power and loss at everything that carries the power in the engaged gear."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import pi

from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.driveline.assemble import WHEELS, assemble, shifter_state_for
from mild_badger.core.driveline.efficiency import driven_wheels
from mild_badger.core.drivetrain.graph import Coupling, Drivetrain
from mild_badger.core.drivetrain.power import PowerFlow, Through, power_flow
from mild_badger.core.drivetrain.solve import Solution, solve
from mild_badger.core.message import say
from mild_badger.core.performance.motor import torque_at
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["PowerLine", "PowerTable", "body_torques", "power_table"]

WATT = 2 * pi / 60 / 1000
"""Watts for one N·mm at one rpm."""
_SMALL = 1e-9
KINDS = {
    Coupling.MESH: "mesh",
    Coupling.BEVEL: "bevel",
    Coupling.DOG: "sleeve",
    Coupling.DIFFERENTIAL: "differential",
    Coupling.ONE_WAY: "ratchets",
}


@dataclass(frozen=True)
class PowerLine:
    """One coupling on the way: what it takes in and gives on.

    Speeds in rpm and torques in N·mm, both as sizes; power and loss in W.
    """

    kind: str
    giver: str
    takers: tuple[str, ...]
    rpm_in: float
    rpm_out: float
    torque_in_n_mm: float
    torque_out_n_mm: float
    power_w: float
    lost_w: float


@dataclass(frozen=True)
class PowerTable:
    """The way of the power, in order, and its sum.

    ``circulating`` names bodies round which power runs; ``determinate`` is False where how the
    power is shared hangs on more than speeds.
    """

    lines: tuple[PowerLine, ...]
    in_w: float
    out_w: float
    lost_w: float
    circulating: tuple[str, ...]
    determinate: bool

    @property
    def summary(self) -> str:
        """Say where the power goes."""
        lossy = [line.kind for line in self.lines if line.lost_w > _SMALL]
        ratchets = (
            say("performance.and-the-lever-drives-joints")
            if KINDS[Coupling.ONE_WAY] in lossy
            else ""
        )
        meshes = sum(1 for kind in lossy if kind != KINDS[Coupling.ONE_WAY])
        share = 100 * self.lost_w / self.in_w if self.in_w else 0.0
        words: str = say(
            "performance.the-motor-gives-w-w-reach-the-wheels-w-are",
            in_w=self.in_w,
            out_w=self.out_w,
            lost_w=self.lost_w,
            share=share,
            meshes=meshes,
            ratchets=ratchets,
        )
        if self.circulating:
            words += say("performance.power-circulates-through", listed=", ".join(self.circulating))
        if not self.determinate:
            words += say("performance.how-it-is-shared-between-two-ways-hangs-on")
        return words


def power_table(vehicle: Vehicle, gear: str | None, rpm: float) -> PowerTable | None:
    """Follow the motor's power to the wheels, straight ahead, in a gear at a motor speed.

    The wheels' load is what the motor's torque at that speed carries. None in neutral, in a gear
    that does not drive, and where the motor gives no torque.
    """
    found = _flow_in(vehicle, gear, rpm)
    if found is None:
        return None
    train, solution, unit, scale = found
    watts = scale * rpm * WATT
    return PowerTable(
        tuple(_lines(train, solution, unit, scale, rpm)),
        unit.power_in * watts,
        unit.power_out * watts,
        unit.lost * watts,
        tuple(train.index[body].name for body in unit.circulating),
        unit.determinate,
    )


def body_torques(vehicle: Vehicle, gear: str | None, rpm: float) -> dict[str, float]:
    """Give the torque that every body on the way of the power passes on, N·mm, as a size.

    Empty where :func:`power_table` has nothing to follow.
    """
    found = _flow_in(vehicle, gear, rpm)
    if found is None:
        return {}
    _, _, unit, scale = found
    torques: dict[str, float] = {}
    for through in unit.through:
        powers = dict(through.powers)
        for body, torque in through.torques:
            if abs(powers.get(body, 0.0)) > _SMALL:
                torques[body] = max(torques.get(body, 0.0), abs(torque) * scale)
    return torques


def _flow_in(
    vehicle: Vehicle, gear: str | None, rpm: float
) -> tuple[Drivetrain, Solution, PowerFlow, float] | None:
    """Solve the power's way for unit loads, and give what they are to be scaled by."""
    torque = torque_at(vehicle.motor, rpm)
    train = assemble(vehicle)
    road = conditions(vehicle, Straight(), locked=False)
    sleeves = shifter_state_for(vehicle, gear)
    solution = solve(train, sleeves, road)
    turns = solution.speeds[WHEELS["left"]]
    still = vehicle.box.sleeved and not sleeves  # neutral
    if still or solution.locked or not turns or torque <= 0:
        return None
    way = 1.0 if turns > 0 else -1.0
    loads = {wheel: -way * share for wheel, share in driven_wheels(vehicle).items()}
    unit = power_flow(train, sleeves, solution, loads, mesh_loss=vehicle.kit.mesh_loss)
    if unit is None or unit.source_torque <= 0:
        return None
    return train, solution, unit, torque / unit.source_torque  # the flow is linear in its loads


def _lines(
    train: Drivetrain, solution: Solution, flow: PowerFlow, scale: float, rpm: float
) -> Iterator[PowerLine]:
    """Walk from the motor along what carries power, joints of a gear and its shaft left out."""
    giving: dict[str, list[Through]] = {}
    for through in flow.through:
        for body, power in through.powers:
            if power < -_SMALL:
                giving.setdefault(body, []).append(through)
    queue, seen = [train.source], {train.source}
    done: set[str] = set()
    for body in queue:
        for through in giving.get(body, ()):
            takers = [b for b, power in through.powers if power > _SMALL]
            if through.coupling.id not in done and through.coupling.kind in KINDS:
                yield _line(train, solution, through, (body, takers), scale=scale, rpm=rpm)
            done.add(through.coupling.id)
            for taker in takers:
                if taker not in seen:
                    seen.add(taker)
                    queue.append(taker)


def _line(
    train: Drivetrain,
    solution: Solution,
    through: Through,
    ends: tuple[str, list[str]],
    *,
    scale: float,
    rpm: float,
) -> PowerLine:
    giver, takers = ends
    torques = {body: abs(torque) * scale for body, torque in through.torques}
    first = takers[0] if takers else giver
    power = sum(-p for _, p in through.powers if p < 0) * scale * rpm * WATT
    return PowerLine(
        KINDS[through.coupling.kind],
        _name(train, giver),
        tuple(_name(train, body) for body in takers),
        abs(float(solution.speeds[giver] or 0)) * rpm,
        abs(float(solution.speeds[first] or 0)) * rpm,
        float(torques[giver]),
        float(sum(torques[body] for body in takers)),
        float(power),
        max(float(through.lost * scale * rpm * WATT), 0.0),
    )


def _name(train: Drivetrain, body: str) -> str:
    named = train.index[body]
    return (
        say("performance.teeth", name=named.name, teeth=named.teeth) if named.teeth else named.name
    )

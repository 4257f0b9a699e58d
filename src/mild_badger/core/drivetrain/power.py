"""Torques and powers in a solved state: what every coupling carries, and what is lost.

By virtual work a coupling Σ c n = 0 puts torques λ c on its bodies, which do no work together. At
teeth a share of the power is lost where it leaves: the side that takes power out gets η of it. In a
differential or a planetary set that holds of the power that meshes pass as seen from the carrier,
whose own torque balances the other two (Müller, *Epicyclic Drive Trains*). The torques of every
body balance, loads included; speeds are per turn of the source, so powers are torque × speed in the
same unit.
"""

from dataclasses import dataclass
from graphlib import CycleError, TopologicalSorter

import numpy as np

from mild_badger.core.drivetrain.graph import Coupling, Drivetrain, Equation
from mild_badger.core.drivetrain.solve import Solution

__all__ = ["PowerFlow", "Through", "power_flow", "power_shares"]

_PASSES = 60
_SMALL = 1e-9


@dataclass(frozen=True)
class Through:
    """What a coupling does: torque on each of its bodies, and the power lost in it.

    ``torques`` and ``powers`` are positive where the coupling drives the body.
    """

    coupling: Equation
    torques: tuple[tuple[str, float], ...]
    powers: tuple[tuple[str, float], ...]
    lost: float


@dataclass(frozen=True)
class PowerFlow:
    """The whole of a state.

    Attributes
    ----------
    source_torque : torque on the source, positive where it is driven the way it turns
    power_in, power_out, lost : power put in, taken out by the loads, and lost in teeth; they add up
    through : what each coupling does
    circulating : bodies round which power runs in a loop, in order; empty where none does
    determinate : False where the couplings share the torque in a way that speeds alone do not tell
    driven_back : self-locking worms whose wheel would have to turn them: the train stands instead
    """

    source_torque: float
    power_in: float
    power_out: float
    lost: float
    through: tuple[Through, ...]
    circulating: tuple[str, ...]
    determinate: bool
    driven_back: tuple[str, ...]

    def at(self, coupling: str) -> Through:
        """Find what a coupling does by its id."""
        return next(t for t in self.through if t.coupling.id == coupling)


def power_flow(
    train: Drivetrain,
    sleeves: dict[str, str],
    solution: Solution,
    loads: dict[str, float],
    *,
    carrying: tuple[Equation, ...] = (),
    mesh_loss: float = 0.0,
    source: str | None = None,
) -> PowerFlow | None:
    """Work out the torques of a state that turns.

    Parameters
    ----------
    train, sleeves, solution
        The graph and the speeds solved for it.
    loads
        Torque on bodies from outside, signed about their axes: a load is against the speed.
    carrying
        Further couplings that carry torque: closed one-way clutches, a lock, a held ring, clutches
        that slip. What the road only says of the speeds is none.
    mesh_loss
        Share of the power lost in a mesh, 0 to 1.
    source
        The body that is driven, the drivetrain's own where it is not named.

    Returns
    -------
    PowerFlow or None
        None where the source cannot turn, where nothing could hold the loads, or where a clutch
        would have to slip against the torque that it passes.
    """
    solved = _solved(train, sleeves, solution, loads, (carrying, mesh_loss, source))
    if solved is None:
        return None
    driver, couplings, forces, shares, speed = (
        solved.driver,
        solved.couplings,
        solved.forces,
        solved.shares,
        solved.speed,
    )
    through = tuple(
        _through(e, forces.get(e.id, 0.0), shares.get(e.id) or dict.fromkeys(e.bodies, 1.0), speed)
        for e in couplings
    )
    if any(t.lost < -_SMALL * max(1.0, abs(solved.source_torque)) for t in through):
        return None
    torque = solved.source_torque
    out = -sum(load * speed[body] for body, load in loads.items())
    back = [
        t.coupling.id for t in through if not t.coupling.back_drivable and t.powers[0][1] > _SMALL
    ]
    return PowerFlow(
        source_torque=torque,
        power_in=torque * speed[driver],
        power_out=out,
        lost=sum(t.lost for t in through),
        through=through,
        circulating=_circulating(through),
        determinate=solved.determinate,
        driven_back=tuple(back),
    )


@dataclass(frozen=True)
class _Solved:
    """The torques of a state, coupling by coupling, before they are told."""

    driver: str
    couplings: list[Equation]
    forces: dict[str, float]
    shares: dict[str, dict[str, float]]
    speed: dict[str, float]
    source_torque: float
    determinate: bool


def _solved(
    train: Drivetrain,
    sleeves: dict[str, str],
    solution: Solution,
    loads: dict[str, float],
    more: tuple[tuple[Equation, ...], float, str | None],
) -> _Solved | None:
    """Balance the torques; ``more`` are what carries besides, the loss in a mesh, the source."""
    if solution.locked:
        return None
    carrying, mesh_loss, source = more
    driver = source or train.source
    couplings = [e for e in (*train.equations, *carrying) if e.holds(sleeves)]
    speed = _speeds(train, solution, couplings, loads)
    bearing = _bearing(couplings, {driver, *loads})
    keep = {e.id: _efficiency(e, mesh_loss) for e in bearing}
    shares = {e.id: dict.fromkeys(e.bodies, 1.0) for e in bearing}
    statics = _Statics(bearing, driver, loads)
    force = statics.solved(shares)
    for _ in range(_PASSES):
        if force is None:
            return None
        after = {
            e.id: _shares(e, force[number], speed, keep[e.id]) for number, e in enumerate(bearing)
        }
        if after == shares:
            break
        shares = after
        force = statics.solved(shares)
    if force is None:
        return None
    forces = {e.id: float(force[number]) for number, e in enumerate(bearing)}
    return _Solved(driver, couplings, forces, shares, speed, float(force[-1]), statics.determinate)


def power_shares(
    train: Drivetrain,
    sleeves: dict[str, str],
    solution: Solution,
    loads: dict[str, float],
    *,
    mesh_loss: float,
    at: tuple[str, ...],
) -> dict[str, float] | None:
    """Give the share of the power put in that comes to some bodies; as ``power_flow``, but less.

    None where ``power_flow`` gives none, and where the source would have to be held back.
    """
    solved = _solved(train, sleeves, solution, loads, ((), mesh_loss, None))
    if solved is None:
        return None
    given = solved.source_torque * solved.speed[solved.driver]
    if given <= 0:
        return None
    into = dict.fromkeys(at, 0.0)
    for coupling in solved.couplings:
        if coupling.id in solved.forces:
            for body, coefficient in coupling.floats:
                if body in into:
                    share = solved.shares[coupling.id][body]
                    power = solved.forces[coupling.id] * coefficient * share * solved.speed[body]
                    into[body] += max(power, 0.0)
    return {body: power / given for body, power in into.items()}


def _speeds(
    train: Drivetrain, solution: Solution, couplings: list[Equation], loads: dict[str, float]
) -> dict[str, float]:
    """Give every body a speed; free ones that are loaded get speeds that their couplings allow.

    What the loads do together does not hang on which: torques that balance do no work along a
    free motion. The least such speeds are taken.
    """
    speed = {body: float(solution.speeds.get(body) or 0) for body in train.index}
    free = {body for body, value in solution.speeds.items() if value is None}
    if not free.intersection(loads):
        return speed
    column = {body: n for n, body in enumerate(sorted(free))}
    open_ = [e for e in couplings if free.intersection(e.bodies)]
    matrix, known = np.zeros((len(open_), len(column))), np.zeros(len(open_))
    for row, coupling in enumerate(open_):
        for body, coefficient in coupling.terms:
            if body in column:
                matrix[row, column[body]] += float(coefficient)
            else:
                known[row] -= float(coefficient) * speed[body]
    least = np.linalg.lstsq(matrix, known, rcond=None)[0]
    return speed | {body: float(least[n]) for body, n in column.items()}


def _bearing(couplings: list[Equation], ends: set[str]) -> list[Equation]:
    """Leave out what ends at a body that is neither driven nor loaded: no torque passes there."""
    left = {e.id: e for e in couplings}
    touching: dict[str, set[str]] = {}
    for coupling in couplings:
        for body in coupling.bodies:
            touching.setdefault(body, set()).add(coupling.id)
    loose = [body for body, ids in touching.items() if len(ids) == 1 and body not in ends]
    for body in loose:
        for identity in tuple(touching[body]):
            for other in left.pop(identity).bodies:
                touching[other].discard(identity)
                if len(touching[other]) == 1 and other not in ends:
                    loose.append(other)
    return list(left.values())


def _efficiency(coupling: Equation, mesh_loss: float) -> float:
    if coupling.efficiency is not None:
        return coupling.efficiency
    if coupling.kind is Coupling.DIFFERENTIAL:
        return float((1.0 - mesh_loss) ** coupling.meshes)
    return 1.0 - mesh_loss if coupling.kind.has_teeth else 1.0


class _Statics:
    """The balance of torques on every body: Σ share × c × λ + source + load = 0."""

    def __init__(self, couplings: list[Equation], driver: str, loads: dict[str, float]) -> None:
        bodies = dict.fromkeys((driver, *loads, *(b for e in couplings for b in e.bodies)))
        self.couplings, self.row = couplings, {body: n for n, body in enumerate(bodies)}
        self.driver = driver
        self.load = np.zeros(len(self.row))
        for body, torque in loads.items():
            self.load[self.row[body]] += torque
        self.determinate = True

    def solved(self, shares: dict[str, dict[str, float]]) -> "np.ndarray | None":
        """Give every coupling's λ, and last the torque on the source; None if nothing balances."""
        matrix = np.zeros((len(self.row), len(self.couplings) + 1))
        for number, coupling in enumerate(self.couplings):
            for body, coefficient in coupling.floats:
                matrix[self.row[body], number] += coefficient * shares[coupling.id][body]
        matrix[self.row[self.driver], -1] = 1.0
        scale = np.abs(matrix).max(axis=0)
        unknowns, _, rank, _ = np.linalg.lstsq(matrix / scale, -self.load, rcond=1e-12)
        force = unknowns / scale
        self.determinate = bool(rank == matrix.shape[1])
        residue = np.abs(matrix @ force + self.load).max(initial=0.0)
        if residue > 1e-7 * max(1.0, float(np.abs(self.load).max(initial=0.0))):
            return None
        return np.asarray(force)


def _shares(
    coupling: Equation, force: float, speed: dict[str, float], keep: float
) -> dict[str, float]:
    """Give the bodies that a coupling drives what is left of the power."""
    if coupling.kind is Coupling.DIFFERENTIAL and keep < 1.0:
        (one, a), (other, b), (carrier, c) = coupling.floats
        into = {
            body: force * coefficient * (speed[body] - speed[carrier])
            for body, coefficient in coupling.floats[:2]
        }
        ends = {body: keep if power > _SMALL else 1.0 for body, power in into.items()}
        reaction = -(a * ends[one] + b * ends[other]) / c
        return {**ends, carrier: reaction}
    return {
        body: keep if force * coefficient * speed[body] > _SMALL else 1.0
        for body, coefficient in coupling.floats
    }


def _through(
    coupling: Equation, force: float, shares: dict[str, float], speed: dict[str, float]
) -> Through:
    torques = tuple((b, force * c * shares[b]) for b, c in coupling.floats)
    powers = tuple((b, torque * speed[b]) for b, torque in torques)
    return Through(coupling, torques, powers, -sum(power for _, power in powers))


def _circulating(through: tuple[Through, ...]) -> tuple[str, ...]:
    """Find a loop round which power runs: from body over coupling to body, back to the first."""
    after: dict[tuple[str, str], set[tuple[str, str]]] = {}
    for one in through:
        node = ("coupling", one.coupling.id)
        for body, power in one.powers:
            if power > _SMALL:
                after.setdefault(node, set()).add(("body", body))
            elif power < -_SMALL:
                after.setdefault(("body", body), set()).add(node)
    try:
        TopologicalSorter(after).prepare()
    except CycleError as error:
        loop: list[tuple[str, str]] = error.args[1]
        return tuple(name for kind, name in loop[:-1] if kind == "body")
    return ()

"""How far the meshes of a placed box are pushed apart at the motor's stall torque.

Every tooth pushes its gear along the line of centres and across it; all the pushes on a shaft bend
it together, between all the supports it has. No losses are taken off, which is on the safe side.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import cos, hypot, pi, radians, sqrt, tan

import numpy as np

from mild_badger.core.drivetrain.assemble import MOTOR, assemble, box_output, sleeves_for
from mild_badger.core.drivetrain.graph import Coupling, Drivetrain
from mild_badger.core.drivetrain.path import power_path
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.layout.bending import influence
from mild_badger.core.layout.stack import Disc, Rod, Stack, tip_mm
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["Separation", "separations", "weakest"]


@dataclass(frozen=True)
class Separation:
    """A mesh at the motor's stall torque: the force at its teeth, and how far apart it is pushed.

    ``contact`` is the contact ratio that is left; ``supported_mm`` for one that skips the
    separation with a wall right beside the gears on both shafts; ``far_mm`` how far the farther
    gear sits from its nearest support.
    """

    gear: str
    teeth: tuple[int, int]
    slab: str
    force_n: float
    apart_mm: float
    contact: float
    supported_mm: float | None
    far_mm: float
    skips: bool


@dataclass(frozen=True)
class _Mesh:
    """A mesh that carries the power: giver and taker, and the pushes on the taker in N."""

    one: Disc
    other: Disc
    force_n: float
    push: np.ndarray


def separations(vehicle: Vehicle, stack: Stack) -> tuple[Separation, ...]:
    """Push every mesh on the way of the power apart, gear by gear, at the motor's stall torque.

    Shafts count as round bars of the kit's diameter and stiffness (an estimate).
    """
    train = assemble(vehicle)
    found: list[Separation] = []
    for gear in vehicle.real.gears:
        meshes = _loaded(vehicle, train, stack, gear.name)
        bent = _bent(vehicle, stack, meshes, beside=False)
        left = [
            _contact(
                vehicle.kit, mesh.one.teeth, mesh.other.teeth,
                stack.apart_mm(mesh.one.shaft, mesh.other.shaft) + apart,
            )
            for mesh, apart in zip(meshes, bent, strict=True)
        ]  # fmt: skip
        skips = [contact < vehicle.kit.least_contact for contact in left]
        held: Sequence[float | None] = [None] * len(meshes)
        if any(skips):
            held = _bent(vehicle, stack, meshes, beside=True)
        for n, (mesh, apart, contact) in enumerate(zip(meshes, bent, left, strict=True)):
            found.append(
                Separation(
                    gear.name, (mesh.one.teeth, mesh.other.teeth), stack.slabs[mesh.one.slab],
                    mesh.force_n, apart, contact, held[n] if skips[n] else None,
                    max(_far(stack, mesh.one), _far(stack, mesh.other)),
                    skips[n],
                )
            )  # fmt: skip
    return tuple(found)


def _loaded(vehicle: Vehicle, train: Drivetrain, stack: Stack, gear: str) -> list[_Mesh]:
    """List the meshes on the way from motor to output, with the forces at their teeth."""
    sleeves = sleeves_for(vehicle, gear)
    path = power_path(train, sleeves, MOTOR, box_output(vehicle)) if sleeves else None
    if path is None:
        return []
    solved = solve(train, sleeves)
    discs = {disc.body: disc for disc in stack.discs}
    alpha = radians(vehicle.kit.pressure_angle_deg)
    found = []
    for giver, taker, coupling in zip(path.bodies, path.bodies[1:], path.couplings, strict=False):
        one, other = discs.get(giver), discs.get(taker)
        speed = solved.speed(giver)
        if coupling.kind is not Coupling.MESH or one is None or other is None or not speed:
            continue
        a, b = stack.rods[one.shaft], stack.rods[other.shaft]
        apart = hypot(b.x_mm - a.x_mm, b.y_mm - a.y_mm)
        if not apart:
            continue
        radius = one.teeth * vehicle.kit.module_mm / 2
        force = vehicle.motor.stall_torque_n_mm / (abs(float(speed)) * radius)
        along = np.array([b.x_mm - a.x_mm, b.y_mm - a.y_mm]) / apart
        # seen from the input, against the axis, a positive speed is clockwise
        clockwise = float(speed) * vehicle.motor.turns > 0
        across = np.array([along[1], -along[0]]) * (1.0 if clockwise else -1.0)
        found.append(_Mesh(one, other, force, force * (across + tan(alpha) * along)))
    return found


def _bent(vehicle: Vehicle, stack: Stack, meshes: list[_Mesh], *, beside: bool) -> list[float]:
    """How far apart each mesh is pushed, in mm; ``beside`` puts a support next to every gear."""
    kit = vehicle.kit
    stiffness = kit.shaft_modulus_mpa * pi * kit.shaft_diameter_mm**4 / 64
    loads: dict[str, list[tuple[str, float, np.ndarray]]] = {}
    for mesh in meshes:
        for disc, push in ((mesh.one, -mesh.push), (mesh.other, mesh.push)):
            loads.setdefault(disc.shaft, []).append((disc.body, stack.middle_mm(disc.slab), push))
    moved: dict[str, np.ndarray] = {}
    for shaft, pushes in loads.items():
        places = tuple(dict.fromkeys(at for _, at, _ in pushes))
        supports = _supports(stack, stack.rods[shaft])
        if beside:
            supports = (*supports, *(at - kit.grid_unit_mm for at in places))
        per_newton = influence(supports, places, stiffness)
        total = np.zeros((len(places), 2))
        for _, at, push in pushes:
            total[places.index(at)] += push
        with np.errstate(invalid="ignore"):
            shifts = per_newton @ total
        for body, at, _ in pushes:
            moved[body] = shifts[places.index(at)]
    return [_apart(stack, mesh, moved) for mesh in meshes]


def _apart(stack: Stack, mesh: _Mesh, moved: dict[str, np.ndarray]) -> float:
    a, b = stack.rods[mesh.one.shaft], stack.rods[mesh.other.shaft]
    before = np.array([b.x_mm - a.x_mm, b.y_mm - a.y_mm])
    after = before + moved[mesh.other.body] - moved[mesh.one.body]
    grown = float(np.hypot(*after) - np.hypot(*before))
    return grown if np.isfinite(grown) else float("inf")


def _supports(stack: Stack, rod: Rod) -> tuple[float, ...]:
    return tuple(stack.middle_mm(wall) for wall in rod.walls)


def _far(stack: Stack, disc: Disc) -> float:
    at = stack.middle_mm(disc.slab)
    supports = _supports(stack, stack.rods[disc.shaft])
    return min((abs(at - s) for s in supports), default=float("inf"))


def _contact(kit: Kit, one: int, other: int, apart: float) -> float:
    """Contact ratio at a distance (ISO 21771)."""
    if apart == float("inf"):
        return 0.0
    alpha, module = radians(kit.pressure_angle_deg), kit.module_mm
    cosine = min((one + other) * module * cos(alpha) / 2 / apart, 1.0)
    path = -apart * sqrt(1 - cosine**2)
    for teeth in (one, other):
        base = teeth * module * cos(alpha) / 2
        path += sqrt(max(tip_mm(kit, teeth) ** 2 - base**2, 0.0))
    return path / (pi * module * cos(alpha))


def weakest(rows: tuple[Separation, ...]) -> Iterator[Separation]:
    """Give the mesh with the least contact left of every gear."""
    worst: dict[str, Separation] = {}
    for row in rows:
        if row.gear not in worst or row.contact < worst[row.gear].contact:
            worst[row.gear] = row
    yield from worst.values()

"""How far the meshes of a placed box are pushed apart at the motor's stall torque.

Every tooth pushes its gear along the line of centres and across it; all the pushes on a shaft bend
it together, between all the supports it has. No losses are taken off, which is on the safe side.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from math import cos, hypot, pi, radians, sqrt, tan

import numpy as np

from mild_badger.core.driveline.assemble import assemble, box_output, shifter_state_for
from mild_badger.core.drivetrain.graph import Coupling, Drivetrain
from mild_badger.core.drivetrain.one_way import solve_one_way
from mild_badger.core.drivetrain.path import power_path
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.functions.arrange import arrange
from mild_badger.core.functions.branches import WAYS
from mild_badger.core.functions.prove import output_body
from mild_badger.core.kit.part_sizes import tip_mm
from mild_badger.core.layout.bending import bearing_shares, influence
from mild_badger.core.message import say
from mild_badger.core.structure.stack import Disc, Rod, Stack
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "Separation",
    "WallLoad",
    "function_holds_n_mm",
    "separations",
    "shaft_bends",
    "share_held",
    "tooth_skip_torque_n_mm",
    "wall_loads",
    "weakest",
]


STALL_N_MM = 100.0
"""What a function motor is held against where its torque is not known: the limit scales."""


@dataclass(frozen=True)
class Separation:
    """A mesh at the motor's stall torque: the force at its teeth, and how far apart it is pushed.

    ``contact`` is the contact ratio that is left; ``supported_mm`` for one that skips the
    separation with a wall right beside the gears on both shafts; ``far_mm`` how far the farther
    gear sits from its nearest support; ``room_mm`` how far they may be
    pushed until they let go, ``line_mm`` and ``shift_mm`` the line between the shafts at rest and
    how it moves.
    """

    gear: str
    teeth: tuple[int, int]
    slab: str
    force_n: float
    apart_mm: float
    contact: float
    supported_mm: float | None
    far_mm: float
    room_mm: float
    line_mm: tuple[float, float]
    shift_mm: tuple[float, float]
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

    Of a function box position by position and output by output: ``gear`` says which.

    Shafts count as round bars of the kit's diameter and stiffness (an estimate).
    """
    rows: list[Separation] = []
    for run in _runs(vehicle, stack):
        meshes = _loaded(vehicle, stack, run)
        shifts = _bent(vehicle, stack, meshes, beside=False)
        bent = [_apart(stack, mesh, shift) for mesh, shift in zip(meshes, shifts, strict=True)]
        left = [
            _contact(
                vehicle.kit,
                mesh.one.teeth,
                mesh.other.teeth,
                stack.apart_mm(mesh.one.shaft, mesh.other.shaft) + apart,
            )
            for mesh, apart in zip(meshes, bent, strict=True)
        ]
        skips = [contact < vehicle.kit.least_contact for contact in left]
        held: Sequence[float | None] = [None] * len(meshes)
        if any(skips):
            firm = _bent(vehicle, stack, meshes, beside=True)
            held = [_apart(stack, mesh, shift) for mesh, shift in zip(meshes, firm, strict=True)]
        for n, (mesh, apart, contact) in enumerate(zip(meshes, bent, left, strict=True)):
            rows.append(
                Separation(
                    run.name,
                    (mesh.one.teeth, mesh.other.teeth),
                    stack.slabs[mesh.one.slab],
                    mesh.force_n,
                    apart,
                    contact,
                    held[n] if skips[n] else None,
                    max(_far(stack, mesh.one), _far(stack, mesh.other)),
                    _room(
                        vehicle.kit,
                        mesh.one.teeth,
                        mesh.other.teeth,
                        stack.apart_mm(mesh.one.shaft, mesh.other.shaft),
                    ),
                    _line(stack, mesh),
                    (float(shifts[n][0]), float(shifts[n][1])),
                    skips[n],
                )
            )
    return tuple(rows)


@dataclass(frozen=True)
class _Run:
    """A way of the power: what it is called, how the shifter stands, where it leads.

    ``torque_n_mm`` is the motor's at stall, ``turns`` the way it turns.
    """

    name: str
    train: Drivetrain
    sleeves: dict[str, str]
    end: str
    torque_n_mm: float
    turns: int


def _runs(vehicle: Vehicle, stack: Stack) -> Iterator[_Run]:
    """List the ways to the box's output gear by gear, or to each output of a function box."""
    if stack.own is not None:
        yield from _function_runs(vehicle, stack.own.drivetrain)
        return
    train, motor, end = assemble(vehicle), vehicle.motor, box_output(vehicle)
    for gear in vehicle.real.gears:
        sleeves = shifter_state_for(vehicle, gear.id)
        if sleeves:
            yield _Run(gear.id, train, sleeves, end, motor.shaft_stall_n_mm, motor.turns)


def _function_runs(vehicle: Vehicle, train: Drivetrain) -> Iterator[_Run]:
    """List what turns in every position: one output at a time holds up the whole motor."""
    box = vehicle.functions
    if box is None:
        return
    arrangement = arrange(vehicle, box)
    torque = STALL_N_MM if box.stall_n_mm is None else box.stall_n_mm
    for position in box.positions:
        sleeves = arrangement.settings(position.name)
        for way in WAYS[position.motor]:
            solved = solve_one_way(train, sleeves, direction=way)
            joined = [c.closed for c in train.one_ways if c.id in solved.carrying]
            closed = replace(train, equations=(*train.equations, *joined))
            for output in box.outputs:
                end = output_body(output.id)
                if solved.speed(end):
                    name = say("layout.in-position", output=output.name, position=position.name)
                    yield _Run(name, closed, sleeves, end, torque, way)


def _loaded(vehicle: Vehicle, stack: Stack, run: _Run) -> list[_Mesh]:
    """List the meshes on the way from motor to output, with the forces at their teeth."""
    path = power_path(run.train, run.sleeves, run.train.source, run.end)
    if path is None:
        return []
    solved = solve(run.train, run.sleeves)
    discs = {disc.body: disc for disc in stack.discs}
    alpha = radians(vehicle.kit.pressure_angle_deg)
    loads = []
    for giver, taker, coupling in zip(path.bodies, path.bodies[1:], path.couplings, strict=False):
        one, other = discs.get(giver), discs.get(taker)
        speed = solved.speed(giver)
        if coupling.kind is not Coupling.MESH or one is None or other is None or not speed:
            continue
        if coupling.sleeve is not None:  # a gear that slides into mesh stands in neutral till then
            slab = discs[coupling.bodies[0]].slab
            one, other = replace(one, slab=slab), replace(other, slab=slab)
        a, b = stack.rods[one.shaft], stack.rods[other.shaft]
        apart = hypot(b.x_mm - a.x_mm, b.y_mm - a.y_mm)
        if not apart:
            continue
        radius = one.teeth * vehicle.kit.module_mm / 2
        force = run.torque_n_mm / (abs(float(speed)) * radius)
        along = np.array([b.x_mm - a.x_mm, b.y_mm - a.y_mm]) / apart
        # seen from the input, against the axis, a positive speed is clockwise
        clockwise = float(speed) * run.turns > 0
        across = np.array([along[1], -along[0]]) * (1.0 if clockwise else -1.0)
        loads.append(_Mesh(one, other, force, force * (across + tan(alpha) * along)))
    return loads


def shaft_bends(
    vehicle: Vehicle, stack: Stack, gear: str, places: Mapping[str, tuple[float, ...]]
) -> dict[str, np.ndarray]:
    """Give how far shafts bend at the motor's stall torque in a gear, seen from the input end.

    Parameters
    ----------
    vehicle, stack
        The box where it has its place.
    gear
        The engaged gear.
    places
        For every shaft where it is looked at, mm from the front outer wall's outer face.

    Returns
    -------
    dict of ndarray of shape (places, 2)
        To the right and up, mm; of the shafts that are loaded and held in two places.
    """
    run = next((run for run in _runs(vehicle, stack) if run.name == gear), None)
    if run is None:
        return {}
    loads = _pushes(stack, _loaded(vehicle, stack, run))
    stiffness = _stiffness(vehicle.kit)
    bends: dict[str, np.ndarray] = {}
    for shaft, pushes in loads.items():
        supports = _supports(stack, stack.rods[shaft])
        looked = places.get(shaft, ())
        if len(set(supports)) < 2 or not looked:
            continue
        pushed = tuple(at for _, at, _ in pushes)
        every = tuple(dict.fromkeys((*looked, *pushed)))
        per_newton = influence(supports, every, stiffness)
        total = np.zeros((len(every), 2))
        for _, at, push in pushes:
            total[every.index(at)] += push
        shifts = per_newton @ total
        bends[shaft] = np.array([shifts[every.index(at)] for at in looked])
    return bends


def _stiffness(kit: Kit) -> float:
    """Give a shaft's stiffness in bending, N·mm²: that of a round bar."""
    return float(kit.shaft_modulus_mpa * pi * kit.shaft_diameter_mm**4 / 64)


def _pushes(stack: Stack, meshes: list[_Mesh]) -> dict[str, list[tuple[str, float, np.ndarray]]]:
    """List for every shaft the bodies that are pushed, where, and how hard, N."""
    loads: dict[str, list[tuple[str, float, np.ndarray]]] = {}
    for mesh in meshes:
        for disc, push in ((mesh.one, -mesh.push), (mesh.other, mesh.push)):
            loads.setdefault(disc.shaft, []).append((disc.body, stack.middle_mm(disc.slab), push))
    return loads


def _bent(vehicle: Vehicle, stack: Stack, meshes: list[_Mesh], *, beside: bool) -> list[np.ndarray]:
    """How each mesh's line moves, in mm; ``beside`` puts a support next to every gear."""
    kit = vehicle.kit
    stiffness, loads = _stiffness(kit), _pushes(stack, meshes)
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
    with np.errstate(invalid="ignore"):
        return [moved[mesh.other.body] - moved[mesh.one.body] for mesh in meshes]


@dataclass(frozen=True)
class WallLoad:
    """What a shaft bears on one wall at its worst, at the motor's stall torque, and in which gear.

    ``turns`` are the shaft's for one of the motor there, ``torque_n_mm`` the largest on it.
    """

    shaft: str
    wall: str
    gear: str
    load_n: float
    turns: float
    torque_n_mm: float


def wall_loads(vehicle: Vehicle, stack: Stack) -> tuple[WallLoad, ...]:
    """List the load on every bearing of a placed box, each in the gear in which it is greatest."""
    worst: dict[tuple[str, str], WallLoad] = {}
    for run in _runs(vehicle, stack):
        meshes = _loaded(vehicle, stack, run)
        solved = solve(run.train, run.sleeves) if meshes else None
        loads: dict[str, list[tuple[Disc, float, np.ndarray]]] = {}
        for mesh in meshes:
            for disc, push in ((mesh.one, -mesh.push), (mesh.other, mesh.push)):
                loads.setdefault(disc.shaft, []).append((disc, mesh.force_n, push))
        for shaft, pushes in loads.items():
            rod = stack.rods[shaft]
            places = tuple(stack.middle_mm(disc.slab) for disc, _, _ in pushes)
            taken = bearing_shares(_supports(stack, rod), places) @ np.array(
                [push for _, _, push in pushes]
            )
            torque = max(
                force * disc.teeth * vehicle.kit.module_mm / 2 for disc, force, _ in pushes
            )
            speed = solved.speed(pushes[0][0].body) if solved is not None else None
            for wall, force in zip(rod.walls, np.hypot(*taken.T), strict=True):
                key = (shaft, stack.slabs[wall])
                if np.isfinite(force) and (key not in worst or force > worst[key].load_n):
                    worst[key] = WallLoad(
                        shaft, key[1], run.name, float(force), abs(float(speed or 0)), torque
                    )
    return tuple(worst.values())


def _line(stack: Stack, mesh: _Mesh) -> tuple[float, float]:
    a, b = stack.rods[mesh.one.shaft], stack.rods[mesh.other.shaft]
    return b.x_mm - a.x_mm, b.y_mm - a.y_mm


def _apart(stack: Stack, mesh: _Mesh, shift: np.ndarray) -> float:
    """How much longer the line between two shafts gets; without end where nothing holds one."""
    before = np.array(_line(stack, mesh))
    grown = float(np.hypot(*(before + shift)) - np.hypot(*before))
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


def tooth_skip_torque_n_mm(vehicle: Vehicle, stack: Stack) -> dict[str, tuple[float, str]]:
    """Give, per gear, the motor's torque at which its first mesh lets go, and which one it is.

    Shafts move in proportion to the torque. Gears whose meshes never let go are left out.
    """
    least: dict[str, tuple[float, str]] = {}
    for row in separations(vehicle, stack):
        share = share_held(row)
        if share is None:
            continue
        torque = vehicle.motor.shaft_stall_n_mm * share
        if row.gear not in least or torque < least[row.gear][0]:
            where = vehicle.train_title(row.slab)
            least[row.gear] = (
                torque,
                say("layout.with-in", teeth=row.teeth[0], teeth_2=row.teeth[1], where=where),
            )
    return least


def function_holds_n_mm(vehicle: Vehicle, stack: Stack) -> tuple[float, Separation] | None:
    """Give the function motor's torque at which the first mesh of its box lets go, and which one.

    None where none ever does, however strong the motor.
    """
    box = vehicle.functions
    torque = STALL_N_MM if box is None or box.stall_n_mm is None else box.stall_n_mm
    rows = separations(vehicle, stack) if stack.own is not None else ()
    held = [(torque * share, row) for row in rows if (share := share_held(row)) is not None]
    return min(held, key=lambda pair: pair[0], default=None)


def share_held(row: Separation) -> float | None:
    """Give the share of the stall torque at which a mesh has moved as far as it may; None: never.

    With b between the shafts at rest and k d at a share k: |b + k d| = |b| + room.
    """
    (bx, by), (dx, dy) = row.line_mm, row.shift_mm
    far = hypot(bx, by) + row.room_mm
    a, half, c = dx * dx + dy * dy, bx * dx + by * dy, bx * bx + by * by - far * far
    if not np.isfinite(a) or a <= 0:
        return 0.0 if not np.isfinite(a) else None
    return float((-half + sqrt(max(half * half - a * c, 0.0))) / a)


@lru_cache(maxsize=2048)
def _room(kit: Kit, one: int, other: int, distance: float) -> float:
    """How far two gears may move apart until their contact ratio is the least allowed."""
    if _contact(kit, one, other, distance) < kit.least_contact:
        return 0.0
    far = distance + 2 * kit.module_mm
    if _contact(kit, one, other, far) >= kit.least_contact:
        return far - distance
    from scipy.optimize import brentq  # noqa: PLC0415 - slow to load, wanted here only

    return float(
        brentq(lambda at: _contact(kit, one, other, at) - kit.least_contact, distance, far)
        - distance
    )


def weakest(rows: tuple[Separation, ...]) -> Iterator[Separation]:
    """Give the mesh with the least contact left of every gear."""
    worst: dict[str, Separation] = {}
    for row in rows:
        if row.gear not in worst or row.contact < worst[row.gear].contact:
            worst[row.gear] = row
    yield from worst.values()

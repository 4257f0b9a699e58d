"""What holds a placed box: shafts cut to length, walls of beams, how far meshes are pushed apart.

Lengths along the shafts in units from the front outer wall's outer face.
"""

from dataclasses import dataclass
from itertools import accumulate, pairwise
from math import cos, pi, radians, sqrt, tan

from mild_badger.core.drivetrain.boxes import chain_bodies
from mild_badger.core.layout.verify import Disc, Rod, Stack
from mild_badger.core.vehicle.box import chain_ratio
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "Beam",
    "Separation",
    "ShaftCut",
    "Wall",
    "compliance",
    "separations",
    "shaft_cuts",
    "slab_edges",
    "walls_of",
]

SLEEVE_SLAB_U = 3.0
"""Length kept for the sleeves: one unit of sleeve and a unit of travel either way."""


@dataclass(frozen=True)
class ShaftCut:
    """One shaft: what it must reach, the length to take, None where none is long enough.

    ``parts`` are what sits on it in order, each with where its middle is.
    """

    name: str
    from_u: float
    needed_u: float
    length_u: float | None
    parts: tuple[tuple[float, str], ...]

    @property
    def overhang_u(self) -> float:
        """How much of the shaft stands out."""
        return 0.0 if self.length_u is None else self.length_u - self.needed_u


@dataclass(frozen=True)
class Beam:
    """A row of holes in a wall: from where to where, and the beam to take, None if none reaches.

    ``upright`` ones tie the rows of a wall to one another at its ends.
    """

    along_u: float
    start_u: float
    end_u: float
    length_u: int | None
    upright: bool = False


@dataclass(frozen=True)
class Wall:
    """A wall as beams; ``between`` names shafts whose holes are not on the grid's points."""

    name: str
    beams: tuple[Beam, ...]
    between: tuple[str, ...]


@dataclass(frozen=True)
class Separation:
    """A mesh at the motor's stall torque: the force, and how far its shafts are pushed apart.

    ``contact`` is the contact ratio that is left; ``supported_mm`` the separation with a wall right
    beside the gears.
    """

    gear: str
    teeth: tuple[int, int]
    slab: str
    force_n: float
    apart_mm: float
    contact: float
    supported_mm: float
    skips: bool


def slab_edges(stack: Stack) -> tuple[float, ...]:
    """Where each slab begins, and last where the stack ends, in units."""
    usual = (SLEEVE_SLAB_U if name == "sleeves" else 1.0 for name in stack.slabs)
    wide = stack.widths_u or tuple(usual)
    return (0.0, *accumulate(wide))


def shaft_cuts(vehicle: Vehicle, stack: Stack) -> tuple[ShaftCut, ...]:
    """Give every shaft its length: from face to face of the walls it stands in, or to its end."""
    edges = slab_edges(stack)
    lengths = sorted(vehicle.kit.shaft_lengths_u)
    cuts = []
    for rod in stack.rods.values():
        start, end = edges[rod.first], edges[rod.last + 1]
        needed = end - start
        taken = next((float(n) for n in lengths if n >= needed - 1e-9), None)
        if not lengths:
            taken = needed  # cut to length
        discs = sorted((d for d in stack.discs if d.shaft == rod.name), key=lambda d: d.slab)
        parts = [((edges[w] + edges[w + 1]) / 2, stack.slabs[w]) for w in rod.walls]
        parts += [((edges[d.slab] + edges[d.slab + 1]) / 2, _disc_words(d)) for d in discs]
        cuts.append(ShaftCut(rod.name, start, needed, taken, tuple(sorted(parts))))
    return tuple(cuts)


def _disc_words(disc: Disc) -> str:
    if not disc.teeth:
        return "sleeve"
    return f"{disc.teeth}, free" if disc.body.endswith(".driven") and (
        disc.shaft.startswith("selector.")
    ) else str(disc.teeth)  # fmt: skip


def walls_of(vehicle: Vehicle, stack: Stack) -> tuple[Wall, ...]:
    """Build every wall of beams with holes on the grid: a row for each height, tied at its ends."""
    unit, lengths = vehicle.kit.grid_unit_mm, sorted(vehicle.kit.beam_lengths_u)

    def fitting(needed: float) -> int | None:
        return next((n for n in lengths if n >= needed - 1e-9), None)

    walls = []
    for wall in stack.walls:
        rods = [rod for rod in stack.rods.values() if wall in rod.walls]
        places = {rod.name: (rod.x_mm / unit, rod.y_mm / unit) for rod in rods}
        between = tuple(
            name for name, place in places.items() if any(abs(c - round(c)) > 1e-6 for c in place)
        )
        rows: dict[int, list[float]] = {}
        for x, y in places.values():
            rows.setdefault(round(y), []).append(x)
        beams = [
            Beam(y, min(xs), max(xs), fitting(max(xs) - min(xs) + 1))
            for y, xs in sorted(rows.items())
        ]
        if len(rows) > 1:
            low, high = min(rows), max(rows)
            ends = [x for xs in rows.values() for x in xs]
            beams += [
                Beam(x, low, high, fitting(high - low + 1), upright=True)
                for x in sorted({min(ends), max(ends)})
            ]
        walls.append(Wall(stack.slabs[wall], tuple(beams), between))
    return tuple(walls)


def compliance(supports_mm: tuple[float, ...], at_mm: float, stiffness_n_mm2: float) -> float:
    """Deflection per newton of a shaft at a place, in mm/N.

    Between two supports F a² b² / (3 E I L), beyond the last one F c² (L + c) / (3 E I), as a beam
    on two simple supports (Roark's Formulas for Stress and Strain, table of beams; from memory).
    With more supports the two nearest ones count, which is on the safe side.
    """
    below = [s for s in supports_mm if s <= at_mm]
    above = [s for s in supports_mm if s > at_mm]
    if below and above:
        a, b = at_mm - below[-1], above[0] - at_mm
        return a**2 * b**2 / (3 * stiffness_n_mm2 * (a + b))
    row = below[-2:][::-1] if below else above[:2]
    if len(row) < 2:
        return float("inf")
    over, span = abs(at_mm - row[0]), abs(row[0] - row[1])
    return over**2 * (span + over) / (3 * stiffness_n_mm2)


def separations(vehicle: Vehicle, stack: Stack) -> tuple[Separation, ...]:
    """Push every mesh of every gear's train apart with the motor's stall torque, without losses.

    The force along the line of centres is F_t tan α, on both shafts; what is tangential changes the
    distance little. Shafts count as round bars of the kit's diameter and stiffness (an estimate).
    """
    kit = vehicle.kit
    stiffness = kit.shaft_modulus_mpa * pi * kit.shaft_diameter_mm**4 / 64
    discs = {disc.body: disc for disc in stack.discs}
    edges = [edge * kit.grid_unit_mm for edge in slab_edges(stack)]
    found = []
    for gear in vehicle.real.gears:
        links = vehicle.box.chain(gear.name)
        before = 1.0
        for link in links:
            torque = vehicle.motor.stall_torque_n_mm * before
            force = torque / (link.pair.driver * kit.module_mm / 2)
            row = [discs.get(body) for body in chain_bodies((link,))]
            for one, other in pairwise(row):
                if one is not None and other is not None:
                    found.append(_pushed(kit, stack, edges, (gear.name, one, other),
                                         force=force, stiffness=stiffness))  # fmt: skip
            before *= float(chain_ratio((link.pair,)))
    return tuple(found)


def _pushed(
    kit: Kit,
    stack: Stack,
    edges: list[float],
    mesh: tuple[str, Disc, Disc],
    *,
    force: float,
    stiffness: float,
) -> Separation:
    gear, one, other = mesh
    radial = force * tan(radians(kit.pressure_angle_deg))
    at = (edges[one.slab] + edges[one.slab + 1]) / 2
    apart = supported = 0.0
    for rod in (stack.rods[one.shaft], stack.rods[other.shaft]):
        supports = _supports(stack, rod, edges)
        apart += radial * compliance(supports, at, stiffness)
        beside = tuple(sorted((*supports, at - kit.grid_unit_mm)))
        supported += radial * compliance(beside, at, stiffness)
    distance = stack.apart_mm(one.shaft, other.shaft)
    contact = _contact(kit, one.teeth, other.teeth, distance + apart)
    return Separation(
        gear, (one.teeth, other.teeth), stack.slabs[one.slab], force, apart, contact, supported,
        contact < kit.least_contact,
    )  # fmt: skip


def _supports(stack: Stack, rod: Rod, edges: list[float]) -> tuple[float, ...]:
    return tuple((edges[w] + edges[w + 1]) / 2 for w in rod.walls)


def _contact(kit: Kit, one: int, other: int, apart: float) -> float:
    """Contact ratio at a distance (ISO 21771)."""
    alpha, module = radians(kit.pressure_angle_deg), kit.module_mm
    cosine = (one + other) * module * cos(alpha) / 2 / apart
    path = -apart * sqrt(max(1 - cosine**2, 0.0))
    for teeth in (one, other):
        size = kit.size(teeth)
        tip = size.tip_diameter_mm / 2 if size else module * (teeth + 2) / 2
        path += sqrt(max(tip**2 - (teeth * module * cos(alpha) / 2) ** 2, 0.0))
    return path / (pi * module * cos(alpha))

"""Proof by solids that nothing touches: every state the shifter reaches, and the way there.

It shares nothing with the search for places and its fast checks: it intersects the solids of the
components themselves. Only what moves is intersected anew. Two parts touch where their
intersection is thicker than 0.02 mm in every direction; declared fits are left out.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from typing import TYPE_CHECKING

from mild_badger.core.components.box import BoxComponents
from mild_badger.core.components.component import Component, Travel
from mild_badger.core.components.phase import Wheel, turn_to_mesh
from mild_badger.core.components.shift_lever_parts import LEVER_KINDS
from mild_badger.core.components.solids import solid_of
from mild_badger.core.watch import UNWATCHED, Watch

if TYPE_CHECKING:
    from manifold3d import Manifold

__all__ = [
    "Overlap",
    "SolidProof",
    "Step",
    "Stroke",
    "Turn",
    "allowed_mm",
    "overlap_of",
    "prove_solids",
    "travels",
]

TOUCH_MM = 0.02
"""What counts as touching, and no more than what facets may differ from the true shape."""
STEPS = 5
"""Places looked at on the way from neutral into a gear, the end among them."""
MESH_BITE = 0.06
"""How far teeth in mesh may bite into one another, in modules: backlash is the fast check's."""
SIGNS = {"front": -1.0, "back": 1.0}


@dataclass(frozen=True)
class Step:
    """A place of the shifter's members: which sleeves are how far in, as a share of the way."""

    sleeves: tuple[tuple[str, str], ...]
    share: float

    def travel(self, travel_mm: float) -> dict[str, float]:
        """How far each member stands from neutral in mm, − towards the input end."""
        return {name: SIGNS[face] * travel_mm * self.share for name, face in self.sleeves}


@dataclass(frozen=True)
class Stroke:
    """A place of a lever drive: where its fulcrum stands, and how far its throws have turned."""

    fulcrum_mm: float
    angle_deg: float


@dataclass(frozen=True)
class Turn:
    """A place of a drum: how far it has turned."""

    angle_deg: float


@dataclass(frozen=True)
class Overlap:
    """Two components that penetrate: how much, and where the shifter then stands first.

    ``volume_mm3`` is the most of all places; ``depth_mm`` the least extent of the intersection
    there.
    """

    one: str
    other: str
    volume_mm3: float
    depth_mm: float
    step: Step | Stroke | Turn


@dataclass(frozen=True)
class SolidProof:
    """What was looked at and what touches; nothing touches where ``overlaps`` is empty."""

    overlaps: tuple[Overlap, ...]
    states: int
    places: int
    pairs: int

    def with_more(self, other: "SolidProof") -> "SolidProof":
        """Add what was looked at besides; the states are the same."""
        return SolidProof(
            (*self.overlaps, *other.overlaps),
            self.states,
            self.places + other.places,
            self.pairs + other.pairs,
        )


def travels(states: Sequence[Sequence[tuple[str, str]]]) -> tuple[Step, ...]:
    """List the places to look at: neutral, and five on the way into every state.

    Sleeves of a state that stand in two small boxes are moved together, and each alone.
    """
    steps: dict[Step, None] = {Step((), 0.0): None}
    for state in states:
        own = [tuple(pair) for pair in state if pair[1] in SIGNS]
        for moved in [own, *([pair] for pair in own if len(own) > 1)]:
            for number in range(1, STEPS + 1):
                if moved:
                    steps[Step(tuple(moved), number / STEPS)] = None  # type: ignore[arg-type]
    return tuple(steps)


def prove_solids(
    box: BoxComponents,
    states: Sequence[Sequence[tuple[str, str]]],
    travel_mm: float,
    module_mm: float,
    *,
    watch: Watch = UNWATCHED,
) -> SolidProof:
    """Intersect all pairs of components that come near one another, wherever the shifter stands.

    Parameters
    ----------
    box
        The components, in neutral.
    states
        The sleeves and faces of every state that the shifter can reach.
    travel_mm
        From neutral into a gear.
    module_mm
        Of the gears, which says how far teeth in mesh may bite.

    Raises
    ------
    SearchStopped
        It was stopped.
    """
    places = travels(states)
    meshing = {frozenset((mesh.one, mesh.other)) for mesh in box.meshes}
    solids = {str(part.id): solid_of(part) for part in box.components}
    boxes = {name: _bounds(solid) for name, solid in solids.items()}
    worst: dict[tuple[str, str], Overlap] = {}
    near = [
        (one, other)
        for one, other in combinations(box.components, 2)
        if not _fits(one, other) and _may_meet(one, other, boxes, travel_mm)
    ]
    count = 0
    for number, (one, other) in enumerate(near):
        watch.tick(number / max(len(near), 1))
        limit = allowed_mm(module_mm, meshing=frozenset((one.id, other.id)) in meshing)
        posed: Mapping[str, Manifold] = solids
        for here, there in ((one, other), (other, one)):
            if (here.id, there.id) in box.sliding:
                posed = {**solids, there.id: solid_of(_met(here, there))}
        for step, apart in _apart(one, other, places, travel_mm):
            count += 1
            found = _overlap(one, other, posed, boxes, apart)
            if found is None or found[1] <= limit:
                continue
            known = worst.get((one.id, other.id))
            if known is None or found[0] > known.volume_mm3 + 1e-9:
                worst[one.id, other.id] = Overlap(one.id, other.id, *found, step)
    ordered = sorted(worst.values(), key=lambda o: (-o.volume_mm3, o.one, o.other))
    return SolidProof(tuple(ordered), len(states), len(places), count)


def _met(here: Component, there: Component) -> Component:
    """Turn a gear so that it meshes with its partner, as it does when it slides into it."""
    one, other = (Wheel(c.id, c.teeth, c.x_mm, c.y_mm, c.shaft) for c in (here, there))
    return replace(there, turn_rad=turn_to_mesh(one, here.turn_rad, other))


def _fits(one: Component, other: Component) -> bool:
    """Whether two parts are pressed or fixed together on purpose."""
    kinds = {one.kind, other.kind}
    if kinds == {"drum", "follower"}:
        return True  # the drum turns as its followers move: looked at by itself
    if kinds & LEVER_KINDS:
        return True  # it leans as its arms move: looked at by itself
    if kinds == {"bearing", "wall"}:
        bearing, wall = (one, other) if one.kind == "bearing" else (other, one)
        return bearing.wall == wall.id
    return False


def _bounds(solid: "Manifold") -> tuple[float, ...]:
    return tuple(solid.bounding_box())


def _may_meet(
    one: Component, other: Component, boxes: Mapping[str, tuple[float, ...]], travel_mm: float
) -> bool:
    a, b = boxes[one.id], boxes[other.id]
    reach = travel_mm * (bool(one.member) + bool(other.member))
    across = all(a[n] < b[n + 3] and b[n] < a[n + 3] for n in (0, 1))
    return across and a[2] - reach < b[5] and b[2] < a[5] + reach


def _apart(
    one: Component, other: Component, places: Sequence[Step], travel_mm: float
) -> Iterator[tuple[Step, tuple[float, float]]]:
    """List the places at which two parts stand differently to one another, each once."""
    seen = set()
    for step in places:
        travel: Travel = step.travel(travel_mm)
        moved = (one.moved_mm(travel), other.moved_mm(travel))
        relative = round(moved[0] - moved[1], 6)
        if relative not in seen:
            seen.add(relative)
            yield step, moved


def _overlap(
    one: Component,
    other: Component,
    solids: Mapping[str, "Manifold"],
    boxes: Mapping[str, tuple[float, ...]],
    moved: tuple[float, float],
) -> tuple[float, float] | None:
    """Give volume and least extent of two parts' intersection; None where they are apart."""
    shift = moved[1] - moved[0]  # the other's way relative to the one's, along the box
    a, b = boxes[one.id], boxes[other.id]
    if a[2] >= b[5] - shift or b[2] - shift >= a[5]:
        return None
    second = solids[other.id]
    if shift:
        second = second.translate((0.0, 0.0, -shift))
    return overlap_of(solids[one.id], second)


def allowed_mm(module_mm: float, *, meshing: bool) -> float:
    """How deep two parts may go into one another and count as clear."""
    return MESH_BITE * module_mm if meshing else TOUCH_MM


def overlap_of(one: "Manifold", other: "Manifold") -> tuple[float, float] | None:
    """Give volume and least extent of two solids' intersection; None where they are apart."""
    common = one ^ other
    volume = common.volume()
    if volume <= 0:
        return None
    edges = common.bounding_box()
    return volume, min(edges[n + 3] - edges[n] for n in range(3))

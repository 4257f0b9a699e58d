"""At which angle every gear stands so that all meshes interlock: gears keyed to a shaft share one.

Two gears mesh at their pitch point with a tooth of one in a gap of the other. With tooth counts
z₁, z₂, angles φ₁, φ₂ of a tooth of each and the direction α from the first centre to the second

    z₁ (φ₁ − α) + z₂ (φ₂ − α − π) = π   (mod 2π),

which follows from equal arcs rolled on both pitch circles. A bore fits its shaft in a number of
steps a turn; a gear that is glued or pressed on stands at any angle.
"""

from collections import deque
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import atan2, pi, tau

__all__ = ["MeshOf", "Phases", "Wheel", "phases_of", "turn_to_mesh"]


@dataclass(frozen=True)
class Wheel:
    """A gear for this purpose: its teeth, its centre in mm, and the rigid body it turns with.

    ``steps`` is in how many ways a turn it goes on its shaft, 0 for any angle.
    """

    id: str
    teeth: int
    x_mm: float
    y_mm: float
    body: str
    steps: int = 0


@dataclass(frozen=True)
class MeshOf:
    """Two gears that mesh, by their ids."""

    one: str
    other: str


@dataclass(frozen=True)
class Phases:
    """Angles in rad by gear; ``astray`` are meshes without a common phase.

    Each of those has the share of a tooth pitch by which its teeth miss their gaps, 0 to 0.5.
    """

    turns: Mapping[str, float]
    astray: tuple[tuple[MeshOf, float], ...]


def phases_of(wheels: Sequence[Wheel], meshes: Sequence[MeshOf], *, slack: float = 0.02) -> Phases:
    """Turn every rigid body so that its gears interlock with those turned before.

    Parameters
    ----------
    wheels
        All gears.
    meshes
        Which of them mesh.
    slack
        Share of a pitch that counts as interlocking.
    """
    known = {wheel.id: wheel for wheel in wheels}
    beside: dict[str, list[str]] = {wheel.id: [] for wheel in wheels}
    for mesh in meshes:
        beside[mesh.one].append(mesh.other)
        beside[mesh.other].append(mesh.one)
    together: dict[str, list[str]] = {}
    for wheel in wheels:  # what is glued waits for its meshes: its shaft does not turn it
        if wheel.steps:
            together.setdefault(wheel.body, []).append(wheel.id)
    turns: dict[str, float] = {}
    bodies: dict[str, float] = {}
    for first in wheels:
        if first.id in turns:
            continue
        turns[first.id] = bodies[first.body] = 0.0
        queue = deque([first.id])
        while queue:
            here = known[queue.popleft()]
            for name in [*together.get(here.body, ()), *beside[here.id]]:
                if name in turns:
                    continue
                there = known[name]
                wanted = _interlocked(there, known, beside, turns)
                turns[name] = _on_shaft(there, wanted, bodies)
                queue.append(name)
    astray = []
    for mesh in meshes:
        miss = _miss(known[mesh.one], turns[mesh.one], known[mesh.other], turns[mesh.other])
        if miss > slack:
            astray.append((mesh, miss))
    return Phases(turns, tuple(astray))


def turn_to_mesh(here: Wheel, turned_rad: float, there: Wheel) -> float:
    """Give the angle at which a gear meshes with another that stands at an angle, in rad."""
    alpha = atan2(there.y_mm - here.y_mm, there.x_mm - here.x_mm)
    return alpha + pi + (pi - here.teeth * (turned_rad - alpha)) / there.teeth


def _interlocked(
    there: Wheel,
    known: Mapping[str, Wheel],
    beside: Mapping[str, Sequence[str]],
    turns: Mapping[str, float],
) -> float | None:
    """Give the angle at which a gear meshes with the first of its neighbours that stands."""
    for name in beside[there.id]:
        if name in turns:
            return turn_to_mesh(known[name], turns[name], there)
    return None


def _on_shaft(wheel: Wheel, wanted: float | None, bodies: dict[str, float]) -> float:
    """Turn a gear as wanted, as far as its bore lets it."""
    standing = bodies.get(wheel.body)
    if standing is None:
        bodies[wheel.body] = wanted if wanted is not None else 0.0
        return bodies[wheel.body]
    if wanted is None:
        return standing
    if not wheel.steps:
        return wanted
    pitch = tau / wheel.teeth

    def off(step: int) -> float:
        past = ((standing + tau * step / wheel.steps - wanted) / pitch) % 1.0
        return min(past, 1.0 - past)

    return standing + tau * min(range(wheel.steps), key=off) / wheel.steps


def _miss(one: Wheel, turn: float, other: Wheel, other_turn: float) -> float:
    """Give the share of a pitch by which two gears' teeth miss one another's gaps."""
    alpha = atan2(other.y_mm - one.y_mm, other.x_mm - one.x_mm)
    past = (one.teeth * (turn - alpha) + other.teeth * (other_turn - alpha - pi) - pi) / tau % 1.0
    return min(past, 1.0 - past)

"""A gate lever or a catch proven by solids: over every shift that it makes, and from rail to rail.

Its tip goes along each rail as far as that has gears, the arm with it, and in neutral from the
first jaw to the last; wherever it stands, nothing may go into lever, cradle or catch.
"""

from collections.abc import Iterator, Sequence
from itertools import chain, combinations, pairwise, product

from mild_badger.core.components.component import Component
from mild_badger.core.components.proof import (
    SIGNS,
    STEPS,
    TOUCH_MM,
    Overlap,
    SolidProof,
    Step,
    overlap_of,
)
from mild_badger.core.components.shift_lever_parts import LEVER_KINDS, posed
from mild_badger.core.components.solids import solid_of
from mild_badger.core.structure.lever_place import LeverPlace
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = ["prove_shift_levers"]

Box = tuple[float, ...]
ACROSS_STEPS = 4
"""Places looked at on the way from one jaw to the next."""


def prove_shift_levers(
    components: tuple[Component, ...],
    places: Sequence[LeverPlace],
    states: Sequence[Sequence[tuple[str, str]]],
    travel_mm: float,
    *,
    watch: Watch = UNWATCHED,
) -> SolidProof:
    """Move every lever through all its shifts, and look at what it comes to.

    Parameters
    ----------
    components
        The box's parts, in neutral.
    places
        Its levers or catches.
    states
        The sleeves and faces of every state that the shifter can reach.
    travel_mm
        From neutral into a gear.

    Raises
    ------
    SearchStopped
        It was stopped.
    """
    used = {pair for state in states for pair in state if pair[1] in SIGNS}
    worst: dict[tuple[str, str], Overlap] = {}
    seen = pairs = 0
    for place in places:
        own = [p for p in components if p.kind in LEVER_KINDS and p.lever == place.rail]
        poses = [
            (
                step,
                [(part, solid_of(posed(place, part, x, _gone(step, travel_mm)))) for part in own],
            )
            for x, step in _poses(place, used)
        ]
        seen += len(poses)
        swept = _around([solid.bounding_box() for _, moved in poses for _, solid in moved])
        others = [(part, solid_of(part)) for part in components if part not in own]
        near = [
            (part, solid)
            for part, solid in others
            if _meet(swept, solid.bounding_box(), travel_mm if part.member else 0.0)
        ]
        for number, (step, moved) in enumerate(poses):
            watch.tick(number / len(poses))
            travel = step.travel(travel_mm)
            there = [
                (part, solid_of(part, travel) if part.moved_mm(travel) else solid)
                for part, solid in near
            ]
            for (one, solid), (other, met) in chain(product(moved, there), combinations(moved, 2)):
                if not _meet(solid.bounding_box(), met.bounding_box()):
                    continue
                pairs += 1
                found = overlap_of(solid, met)
                if found is None or found[1] <= TOUCH_MM:
                    continue
                known = worst.get((one.id, other.id))
                if known is None or found[0] > known.volume_mm3 + 1e-9:
                    worst[one.id, other.id] = Overlap(one.id, other.id, *found, step)
    ordered = sorted(worst.values(), key=lambda o: (-o.volume_mm3, o.one, o.other))
    return SolidProof(tuple(ordered), 0, seen, pairs)


def _poses(place: LeverPlace, used: set[tuple[str, str]]) -> Iterator[tuple[float, Step]]:
    """List where the tip stands across the box, and how far which sleeve has gone with it."""
    xs = [arm.x_mm for arm in place.arms]
    for before, after in pairwise(xs):
        for number in range(ACROSS_STEPS):
            yield before + (after - before) * number / ACROSS_STEPS, Step((), 0.0)
    yield xs[-1], Step((), 0.0)
    for arm in place.arms:
        for face in SIGNS:
            if (arm.fork.column, face) in used:
                for number in range(1, STEPS + 1):
                    yield arm.x_mm, Step(((arm.fork.column, face),), number / STEPS)


def _gone(step: Step, travel_mm: float) -> float:
    return next(iter(step.travel(travel_mm).values()), 0.0)


def _around(boxes: Sequence[Box]) -> Box:
    low = tuple(min(box[n] for box in boxes) for n in range(3))
    return (*low, *(max(box[n] for box in boxes) for n in range(3, 6)))


def _meet(one: Box, other: Box, along_mm: float = 0.0) -> bool:
    """Whether two boxes share space, the other moved so far along either way."""
    more = (0.0, 0.0, along_mm)
    return all(
        one[n] < other[n + 3] + more[n] and other[n] - more[n] < one[n + 3] for n in range(3)
    )

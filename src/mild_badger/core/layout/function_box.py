"""A function box in space: its shafts placed in the plane, outputs where the builder pins them.

Shafts whose gears mesh stand at their distance, on a grid at one of the places where the pair
runs; all others keep clear of one another. Shafts are placed one after another, the one with the
most neighbours that stand first, nearest to the input first; where that leads nowhere the search
goes back, and begins anew in another order. Of several solutions the one of the least area is kept.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from math import cos, hypot, pi, sin
from random import Random
from time import monotonic

from mild_badger.core.errors import InputError
from mild_badger.core.functions.arrange import Arrangement, arrange
from mild_badger.core.functions.distances import SAME_MM, Distance
from mild_badger.core.functions.prove import INPUT, output_body
from mild_badger.core.ids import OutputId
from mild_badger.core.layout.function_plan import FunctionPlan, plan_functions
from mild_badger.core.layout.reason import why_no_functions
from mild_badger.core.message import say
from mild_badger.core.structure.forks import forks_of, missing_forks
from mild_badger.core.structure.stack import Rod, Stack
from mild_badger.core.structure.train import crossings
from mild_badger.core.vehicle.cache_key import ThisVehicle
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.functions import MAX_VARIANTS, FunctionPin, FunctionPlace
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = [
    "PlacedFunctions",
    "function_stack",
    "pin_output",
    "place_functions",
    "take_places",
]

Point = tuple[float, float]
DIRECTIONS = 72
"""So many directions are tried for a shaft at one distance from another in wood and print."""
TRIES = 4_000
"""Shafts tried in one order before another order is begun."""
PASSES, ENOUGH = (range(6), range(6, 60)), 5
"""Orders begun for each choice of trains, then more; after so many solutions the best is taken."""
VARIANTS = range(MAX_VARIANTS)
"""Choices of trains, the usual one first, each with sleeves shared and then with one a train."""
FIT_MM = 0.02
"""By so much a stored place may miss its distance in wood and print."""


@dataclass(frozen=True)
class PlacedFunctions:
    """Where the shafts stand, the rectangle round all gears, and whether all forks have room.

    ``variant`` is the choice of trains that they are of.
    """

    places: tuple[FunctionPlace, ...]
    size_mm: tuple[float, float]
    complete: bool
    variant: int = 0


def place_functions(
    vehicle: Vehicle, seconds: float | None = None, *, watch: Watch = UNWATCHED
) -> PlacedFunctions:
    """Find places for all shafts of a vehicle's function box.

    Parameters
    ----------
    vehicle
        Whose function box it is; ``functions.pins`` hold outputs at a point.
    seconds
        How long is looked at most; as long as for the box where not given.
    watch
        What may stop it.

    Raises
    ------
    InputError
        There is nothing to place, or no place was found.
    SearchStopped
        It was stopped.
    """
    box = vehicle.functions
    if box is None or _plan(ThisVehicle(vehicle)) is None:
        raise InputError(why_no_functions(vehicle))
    limit = monotonic() + (vehicle.placing.seconds if seconds is None else seconds)
    blocked, whole = "", len(VARIANTS) * len(PASSES)
    usual = arrange(vehicle, box.model_copy(update={"variant": 0}))
    for patience, orders in enumerate(PASSES):
        seen: set[Arrangement] = set()
        for number, variant in enumerate(VARIANTS):
            watch.tick((patience * len(VARIANTS) + number) / whole)
            if monotonic() > limit and (number or patience):
                break
            other = box.model_copy(update={"variant": variant})
            tried = vehicle.model_copy(update={"functions": other})
            arrangement = arrange(tried, other)
            plan = _plan(ThisVehicle(tried))
            leaves_out = len(arrangement.problems) > len(usual.problems)
            if plan is None or arrangement in seen or leaves_out:
                continue
            seen.add(arrangement)
            blocked = blocked or _blocked(plan)
            found = None if _blocked(plan) else _placed(tried, plan, orders, limit, watch)
            if found is not None:
                return replace(found, variant=variant)
    if box.pins:
        raise InputError(say("functions.no-place-with-the-outputs-held-there"))
    if blocked:
        raise InputError(say("functions.two-trains-are-in-each-others-way", slab=blocked))
    raise InputError(say("functions.no-place-for-all-shafts-was-found"))


def _placed(
    vehicle: Vehicle, plan: FunctionPlan, orders: range, limit: float, watch: Watch
) -> PlacedFunctions | None:
    """Search places for a plan in some orders; the best of several, None where there is none."""
    box = vehicle.functions
    pins = {output_body(p.output): (p.x_mm, p.y_mm) for p in (box.pins if box is not None else ())}
    found: list[tuple[tuple[bool, float], PlacedFunctions]] = []
    for order in orders:
        best = min(found, key=lambda pair: pair[0])[1] if found else None
        watch.tick((order - orders.start) / len(orders), best)
        if monotonic() > limit or len(found) >= ENOUGH:
            break
        places = _Search(vehicle, plan, pins, Random(order), limit).run()
        if places is None:
            continue
        stack = _stack(plan, places)
        whole = not missing_forks(stack, forks_of(vehicle, stack))
        wide, high = _size(stack)
        made = tuple(FunctionPlace(shaft=s, x_mm=x, y_mm=y) for s, (x, y) in places.items())
        found.append(((not whole, wide * high), PlacedFunctions(made, (wide, high), whole)))
    return min(found, key=lambda pair: pair[0])[1] if found else None


def take_places(vehicle: Vehicle, placed: PlacedFunctions) -> Edit:
    """Write the places found into the document, and the choice of trains that they are of."""
    return Edit(
        say("functions.place-the-function-box"),
        (
            Change(("functions", "variant"), placed.variant),
            Change(("functions", "places"), placed.places),
        ),
    )


def pin_output(vehicle: Vehicle, output: OutputId, place: Point | None) -> Edit:
    """Hold an output's shaft at a point from the input's, in mm, or let go of it.

    Raises
    ------
    InputError
        There is no such output.
    """
    box = vehicle.functions
    if box is None or box.output(output) is None:
        raise InputError(say("functions.there-is-no-such-output-to-hold", output=output))
    others = tuple(pin for pin in box.pins if pin.output != output)
    name = box.called(output)
    if place is None:
        change = Change(("functions", "pins"), others)
        return Edit(say("functions.let-go-of-output", name=name), (change,))
    pin = FunctionPin(output=output, x_mm=place[0], y_mm=place[1])
    return Edit(
        say("functions.hold-output", name=name), (Change(("functions", "pins"), (*others, pin)),)
    )


def function_stack(vehicle: Vehicle) -> Stack | None:
    """Give the function box in space; None where its shafts have no places that suit its trains."""
    return _function_stack(ThisVehicle(vehicle))


@lru_cache(maxsize=4)
def _function_stack(this: ThisVehicle) -> Stack | None:
    box = this.vehicle.functions
    plan = _plan(this)
    if plan is None or box is None:
        return None
    places = {place.shaft: (place.x_mm, place.y_mm) for place in box.places}
    if not set(plan.spans) <= set(places):
        return None
    for mesh in plan.meshes:
        if not _fits(mesh.apart, places[mesh.one], places[mesh.other]):
            return None
    for pair, least in plan.apart_mm.items():
        one, other = (places[shaft] for shaft in pair)
        if hypot(one[0] - other[0], one[1] - other[1]) < least - FIT_MM:
            return None
    return _stack(plan, {shaft: places[shaft] for shaft in plan.spans})


@lru_cache(maxsize=4)
def _plan(this: ThisVehicle) -> FunctionPlan | None:
    box = this.vehicle.functions
    if box is None:
        return None
    arrangement = arrange(this.vehicle, box)
    if not arrangement.branches:
        return None
    return plan_functions(this.vehicle, box, arrangement)


def _blocked(plan: FunctionPlan) -> str:
    """Name a layer whose mesh stands nearer than what its shafts carry elsewhere allows."""
    for mesh in plan.meshes:
        if mesh.apart.mm < plan.apart_mm.get(frozenset((mesh.one, mesh.other)), 0.0) - SAME_MM:
            return plan.slabs[mesh.slab]
    return ""


def _fits(apart: Distance, one: Point, other: Point) -> bool:
    dx, dy = other[0] - one[0], other[1] - one[1]
    if apart.places is None:
        return abs(hypot(dx, dy) - apart.mm) <= FIT_MM
    return any(hypot(dx - x, dy - y) <= FIT_MM for x, y in apart.places)


def _stack(plan: FunctionPlan, places: Mapping[str, Point]) -> Stack:
    walls = tuple(n for n, kind in enumerate(plan.kinds) if kind == "wall")
    rods = {
        shaft: Rod(
            shaft, *places[shaft], first, last, tuple(w for w in walls if first <= w <= last)
        )
        for shaft, (first, last) in plan.spans.items()
    }
    return Stack(
        plan.slabs, plan.kinds, walls, rods, plan.discs, plan.edges_mm, plan.lefts_mm, plan.own
    )


def _size(stack: Stack) -> tuple[float, float]:
    rounds = [(stack.rods[d.shaft], d.radius_mm) for d in stack.discs]
    wide = max(r.x_mm + far for r, far in rounds) - min(r.x_mm - far for r, far in rounds)
    high = max(r.y_mm + far for r, far in rounds) - min(r.y_mm - far for r, far in rounds)
    return wide, high


class _Search:
    def __init__(
        self,
        vehicle: Vehicle,
        plan: FunctionPlan,
        pins: Mapping[str, Point],
        random: Random,
        limit: float,
    ) -> None:
        self.plan, self.random, self.limit = plan, random, limit
        self.step = (
            0.0
            if vehicle.kit.any_seat
            else vehicle.kit.grid_unit_mm / (2 if vehicle.placing.half_units else 1)
        )
        self.beside: dict[str, dict[str, Distance]] = {shaft: {} for shaft in plan.spans}
        self.common: dict[frozenset[str], frozenset[Point]] = {}
        for mesh in plan.meshes:
            self.beside[mesh.one][mesh.other] = self._both(mesh.one, mesh.other, mesh.apart)
            self.beside[mesh.other][mesh.one] = self.beside[mesh.one][mesh.other]
        self.places: dict[str, Point] = {INPUT: (0.0, 0.0)}
        self.held = {shaft: place for shaft, place in pins.items() if shaft in plan.spans}
        self.tries = 0

    def _both(self, one: str, other: str, apart: Distance) -> Distance:
        """Join what several meshes of two shafts ask."""
        known = self.beside[one].get(other)
        if known is None or known.places is None or apart.places is None:
            return apart
        return Distance(apart.mm, known.places & apart.places)

    def run(self) -> dict[str, Point] | None:
        for shaft, place in self.held.items():
            if not self._clear(shaft, place):
                return None
            self.places[shaft] = place
        return dict(self.places) if self._next() else None

    def _next(self) -> bool:
        shaft = self._choose()
        if shaft is None:
            return True
        options = [place for place in self._options(shaft) if self._clear(shaft, place)]
        middle = self._middle()
        jitter = self.random.random() * 12.0
        options.sort(
            key=lambda p: hypot(p[0] - middle[0], p[1] - middle[1]) + jitter * self.random.random()
        )
        for place in options:
            self.tries += 1
            if self.tries > TRIES or monotonic() > self.limit:
                return False
            self.places[shaft] = place
            if self._next():
                return True
            del self.places[shaft]
        return False

    def _choose(self) -> str | None:
        """Take the shaft with the most neighbours that stand; those next to held ones come late."""
        left = [shaft for shaft in self.plan.spans if shaft not in self.places]
        if not left:
            return None
        return max(
            left,
            key=lambda s: (sum(o in self.places for o in self.beside[s]), -left.index(s)),
        )

    def _middle(self) -> Point:
        xs, ys = zip(*self.places.values(), strict=True)
        return sum(xs) / len(xs), sum(ys) / len(ys)

    def _options(self, shaft: str) -> Iterator[Point]:
        standing = [(o, d) for o, d in self.beside[shaft].items() if o in self.places]
        if not standing:
            return
        other, apart = standing[0]
        at = self.places[other]
        if apart.places is not None:
            for x, y in apart.places:
                place = (at[0] + x, at[1] + y)
                if all(_fits(d, self.places[o], place) for o, d in standing[1:]):
                    yield place
            return
        if len(standing) > 1:
            second, distance = standing[1]
            for place in crossings(at, apart.mm, self.places[second], distance.mm):
                if all(_fits(d, self.places[o], place) for o, d in standing[2:]):
                    yield place
            return
        start = self.random.random() * 2 * pi / DIRECTIONS
        for number in range(DIRECTIONS):
            turn = start + number * 2 * pi / DIRECTIONS
            yield at[0] + apart.mm * cos(turn), at[1] + apart.mm * sin(turn)

    def _clear(self, shaft: str, place: Point) -> bool:
        """Whether a shaft stands clear there, and can still reach all that it is tied to."""
        for other, at in self.places.items():
            apart = hypot(place[0] - at[0], place[1] - at[1])
            least = self.plan.apart_mm.get(frozenset((shaft, other)), 0.0)
            if apart < least - SAME_MM:
                return False
            reach = self._reach(shaft, other)
            if reach is not None and apart > reach + SAME_MM:
                return False
        return True

    def _reach(self, shaft: str, other: str) -> float | None:
        """Give how far two shafts may stand apart that are tied over one that does not stand."""
        ways = [
            first.mm + second.mm
            for between, first in self.beside[shaft].items()
            if between not in self.places
            and (second := self.beside[between].get(other)) is not None
        ]
        return min(ways, default=None)

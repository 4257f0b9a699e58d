"""Layshaft and two-shaft boxes in space: shafts in line, pairs side by side, the reverse idler.

Nothing is searched: the shafts stand at the box's centre distance, the idler where two circles
cross, on the side where it is clear of everything. Its short shaft stands in a post of its own
beside its gear, over a sleeve or a wall where one is next to it.

A direct gear's sleeve couples the input's hub: it stands behind the middle wall with its dogs
towards the sleeve, half of it on the input's end, and the output's end runs in the other half.

Gears that slide into mesh stand in neutral: a slider between the two gears it serves, with a groove
for its fork, and as much of the shaft left open on either side as it travels.
"""

from dataclasses import replace
from functools import lru_cache

from mild_badger.core.architectures.places import InLine, Series
from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.kit.part_sizes import (
    direct_reach_mm,
    groove_mm,
    ring_radius_mm,
    sleeve_form,
    sleeve_radius_mm,
    sleeve_room_mm,
)
from mild_badger.core.mesh.centres import Centre, centre_of
from mild_badger.core.structure.pins import held
from mild_badger.core.structure.series_box import series_stack
from mild_badger.core.structure.slabs import SlabBuilder
from mild_badger.core.structure.slot_box import stack_of
from mild_badger.core.structure.stack import HUB, Disc, Rod, Stack, walls_in
from mild_badger.core.structure.train import crossings
from mild_badger.core.vehicle.bodies import gear_body, idler_shaft, input_shaft
from mild_badger.core.vehicle.box import GearPair, Slot, gear_key
from mild_badger.core.vehicle.boxes import EitherSideBox, LayshaftBox
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.train import pair_id

__all__ = ["HUB_DIAMETERS", "ring_pair", "shaft_stack", "stack_for"]

ROOM_MM = 0.3
"""Room between an idler's shaft and what it passes (an estimate, no source)."""
HUB_DIAMETERS = 2.0
"""Its width: one diameter for each shaft's end (an estimate, no source)."""

Point = tuple[float, float]
SLACK_MM = 0.5
"""By so much may forks travel farther than whole units of a grid."""
FLANGE_MM = 1.5
"""How thick a slider's flange is where no gear is one (an estimate, no source)."""


@lru_cache(maxsize=8)
def stack_for(vehicle: Vehicle) -> Stack | None:
    """Give a box in space: a slot box as its layout has it, a box of shafts as it must stand."""
    if vehicle.box.free_trains:
        return stack_of(vehicle, vehicle.layout) if vehicle.layout is not None else None
    places = architecture_of(vehicle.box).places(vehicle.box)
    stack = series_stack(vehicle, places) if isinstance(places, Series) else shaft_stack(vehicle)
    return None if stack is None else held(vehicle, stack)


def shaft_stack(vehicle: Vehicle) -> Stack | None:
    """Lay a box of shafts in line out; None for other boxes and where nothing is chosen."""
    places = architecture_of(vehicle.box).places(vehicle.box)
    if not isinstance(places, InLine):
        return None
    links = [link for group in vehicle.box.between() for link in group.links]
    centre = centre_of(vehicle.kit, [link.pair for link in links])
    if centre is None:
        return None
    return _Builder(vehicle, places, centre).stack()


def ring_pair(vehicle: Vehicle) -> GearPair | None:
    """Give the pair whose driven gear enters a ring for the direct drive; None without a ring."""
    box = LayshaftBox.of(vehicle.box)
    slots = box.slots if box is not None else ()
    return next(
        (
            slot.train[0]
            for slot in slots
            if box is not None and slot.face == "back" and box.ringed(slot.column)
        ),
        None,
    )


class _Builder(SlabBuilder):
    def __init__(self, vehicle: Vehicle, places: InLine, centre: Centre) -> None:
        super().__init__(vehicle)
        self.places = places
        self.slots = [slot for slot in vehicle.box.slots if isinstance(slot, Slot)]
        unit = self.kit.grid_unit_mm
        if centre.offset_u is not None:
            self.other: Point = (centre.offset_u[0] * unit, -centre.offset_u[1] * unit)
        else:
            self.other = (0.0, -centre.distance_mm)
        self.idlers: dict[str, tuple[Slot, GearPair, int]] = {}

    def stack(self) -> Stack:
        places = self.places
        self.wall("front wall")
        for link in places.shared:
            pair = link.pair
            slab = self.gears(link.key, pair)
            for role, teeth, shaft in (
                ("driver", pair.driver, input_shaft()),
                ("driven", pair.driven, places.driving),
            ):
                self.disc(gear_body(link.key, link.id, role), teeth, shaft, slab)
        if places.coaxial:
            self.wall("middle wall")
            self._input_hub()
        columns = sorted({slot.column for slot in self.slots})
        columns.sort(key=lambda c: not any(s.direct and s.column == c for s in self.slots))
        box = self.vehicle.box
        for column in columns:
            slot_at: dict[str, Slot] = {s.face: s for s in self.slots if s.column == column}
            if box.slides:
                self._slider(column, slot_at, last=column == columns[-1])
                continue
            for face in ("front", "back"):
                slot = slot_at.get(face)
                if face == "back":
                    body = box.sleeve_at(column)
                    sleeve = self.add(body, sleeve_room_mm(self.vehicle), "sleeve")
                    self._hub(column, sleeve)
                if slot is None or not slot.train:
                    continue
                self._slot(slot)
        self.wall("back wall")
        return self._placed()

    def _input_hub(self) -> None:
        """End the input in a hub where a direct gear's sleeve comes towards it."""
        direct = next((s for s in self.slots if s.direct and s.face == "front"), None)
        if direct is None:
            return
        width, radius = HUB_DIAMETERS * self.kit.shaft_diameter_mm, sleeve_radius_mm(self.vehicle)
        ring = ring_pair(self.vehicle)
        if ring is not None:  # as much on either side of its middle, where the two shafts meet
            width += 2 * self.width_of(ring)
            radius = ring_radius_mm(self.kit, ring.driven)
        slab = self.add(HUB, self.on_grid(width), "hub")
        self.discs.append(Disc(HUB, input_shaft(), slab, radius))

    def _hub(self, column: int, slab: int) -> None:
        box, places = self.vehicle.box, self.places
        couples = {box.couples(slot.gear) for slot in self.slots if slot.column == column}
        shaft = places.driving if couples == {"driver"} else places.driven
        self.discs.append(Disc(box.sleeve_at(column), shaft, slab, sleeve_radius_mm(self.vehicle)))

    def _slider(self, column: int, slots: dict[str, Slot], *, last: bool) -> None:
        """Lay a slider out in neutral: fixed gear, way, sliding gear, groove, and back again."""
        front, back = slots.get("front"), slots.get("back")
        if front is not None and back is not None and self._one_gear(column):
            self._one_gear_slider(column, front, back)
            return
        if front is not None and front.train:
            if self.slabs[-1][2] != "wall":
                self._post(front)
            self._slot(front)
            self._way(front)
            self._sliding(front)
        elif front is not None:
            self._way(front)
        width = groove_mm(self.vehicle)
        if front is not None and front.direct:  # its dogs, and as much on the other side
            width += 2 * sleeve_form(self.vehicle).cup_mm
        else:
            width += sum(FLANGE_MM for slot in (front, back) if slot is None or not slot.train)
        body = self.vehicle.box.sleeve_at(column)
        self._hub(column, self.add(body, self.on_grid(width), "sleeve"))
        if back is not None and back.train:
            self._sliding(back)
            self._way(back)
            self._slot(back)
            if not last:
                self._post(back)
        elif back is not None:
            self._way(back)

    def _one_gear(self, column: int) -> bool:
        box = EitherSideBox.of(self.vehicle.box)
        if box is None:
            return False
        return box.one_gear(column) or (isinstance(box, LayshaftBox) and box.ringed(column))

    def _one_gear_slider(self, column: int, front: Slot, back: Slot) -> None:
        """Lay a slider of one gear out: the gear between what it enters, its groove behind all.

        A boss passes the back pair, twice as long as the slider travels, so that the fork stays
        behind it.
        """
        if front.train:
            if self.slabs[-1][2] != "wall":
                self._post(front)
            self._slot(front)
        self._way(front if front.train else back, named=front)
        slab = self._sliding(back)
        if front.train:  # one part that both trains call their own
            own = gear_body(gear_key(front.gear), pair_id(front.train[0], 0), "driven")
            self.disc(own, front.train[0].driven, self.places.driven, slab)
        self._way(back)
        self._slot(back)
        self._post(back)
        sleeve = self.vehicle.box.sleeve_at(column)
        travel = self.on_grid(self.vehicle.lever.fork_travel_mm)
        width = self.on_grid(groove_mm(self.vehicle) + 2 * FLANGE_MM)
        self.add(f"way before {sleeve}", travel, "way")
        self._hub(column, self.add(sleeve, width, "sleeve"))
        self.add(f"way behind {sleeve}", travel, "way")

    def _post(self, slot: Slot) -> None:
        """Keep room beside an idler for the post of its shaft: the other side is a slider's way."""
        if slot.train[0].idlers:
            self.add(f"post {self.vehicle.gear_name(slot.gear)}", self.wall_mm, "post")

    def _way(self, slot: Slot, *, named: Slot | None = None) -> None:
        """Leave open what a slider travels before it is as far in as its fork goes."""
        travel = self.vehicle.lever.fork_travel_mm
        if self.kit.any_seat:
            face = self.width_of(slot.train[0]) if slot.train else direct_reach_mm(self.vehicle)
            open_mm = max(travel - face, self.vehicle.frame.gap_mm)
        else:  # gears fill their units, and the partner stands on one
            face = self.kit.grid_unit_mm if slot.train else 0.0
            open_mm = max(travel - face - SLACK_MM, self.kit.grid_unit_mm)
        name = f"way {self.vehicle.gear_name((named or slot).gear)}"
        self.add(name, self.on_grid(open_mm), "way")

    def _sliding(self, slot: Slot) -> int:
        """Put a slider's gear where it stands in neutral; give its slab."""
        pair, own = slot.train[0], pair_id(slot.train[0], 0)
        name = f"slider {self.vehicle.gear_name(slot.gear)}"
        slab = self.add(name, self.on_grid(self.width_of(pair)), "slider")
        body = gear_body(gear_key(slot.gear), own, "driven")
        self.disc(body, pair.driven, self.places.driven, slab)
        return slab

    def _slot(self, slot: Slot) -> None:
        pair, key = slot.train[0], gear_key(slot.gear)
        own = pair_id(pair, 0)
        slab = self.gears(f"gear {self.vehicle.gear_name(slot.gear)}", pair)
        self.disc(gear_body(key, own, "driver"), pair.driver, self.places.driving, slab)
        if not self.vehicle.box.slides:
            self.disc(gear_body(key, own, "driven"), pair.driven, self.places.driven, slab)
        if len(pair.idlers) == 1:
            shaft = idler_shaft(key, own, 0)
            self.disc(gear_body(key, own, "idler0"), pair.idlers[0], shaft, slab)
            self.idlers[shaft] = (slot, pair, slab)

    def _placed(self) -> Stack:
        coaxial, out = self.places.coaxial, self.places.driven
        names, kinds = [name for name, _, _ in self.slabs], self.kinds
        walls = walls_in(kinds)
        first, last = walls[0], walls[-1]
        middle = walls[1] if coaxial else first
        places = {input_shaft(): ((0.0, 0.0), first, middle if coaxial else last)}
        places[out] = ((0.0, 0.0) if coaxial else self.other, middle, last)
        if coaxial:
            places[self.places.driving] = (self.other, first, last)
        rods = {
            name: Rod(name, *at, a, b, tuple(w for w in walls if a <= w <= b))
            for name, (at, a, b) in places.items()
        }
        meeting = kinds.index("hub") if "hub" in kinds else middle
        if meeting != middle:  # the output's end runs in the hub on the input's
            own = rods[input_shaft()]
            rods[input_shaft()] = replace(own, last=meeting)
            behind = tuple(w for w in rods[out].walls if w > meeting)
            rods[out] = replace(rods[out], walls=(meeting, *behind))
        if coaxial:  # the two in line meet there, each half way in
            rods[out] = replace(rods[out], first=meeting + 1)
        edges, lefts = self.spaced()
        stack = Stack(tuple(names), kinds, walls, rods, tuple(self.discs), edges, lefts)
        start: Point = self.other if coaxial else (0.0, 0.0)
        end: Point = (0.0, 0.0) if coaxial else self.other
        for shaft, (_, pair, slab) in self.idlers.items():
            options = self._crossings(start, end, pair)
            if not options:
                continue
            beside = (n for n in (slab - 1, slab + 1) if kinds[n] in ("sleeve", "wall", "post"))
            free = [slab, *beside]
            post = (min(free), max(free))
            tried = [
                replace(stack, rods={**stack.rods, shaft: Rod(shaft, x, y, *post, post)})
                for x, y in options
            ]
            hits = [self._touching(one, shaft) for one in tried]
            stack = self._to_a_wall(tried[hits.index(min(hits))], shaft, slab)
        known = set(stack.rods)
        return replace(stack, discs=tuple(d for d in stack.discs if d.shaft in known))

    def _to_a_wall(self, stack: Stack, shaft: str, slab: int) -> Stack:
        """Let an idler's shaft reach on to a wall beyond its post, where the way is clear."""
        rod = stack.rods[shaft]
        post = next((n for n in rod.walls if n != slab), slab)
        if post == slab or post in stack.walls:
            return stack
        before, after = (
            max(w for w in stack.walls if w < slab),
            min(w for w in stack.walls if w > slab),
        )
        for wall in (before, after) if post < slab else (after, before):
            longer = replace(
                rod,
                first=min(rod.first, wall),
                last=max(rod.last, wall),
                walls=tuple(sorted((wall, post))),
            )
            tried = replace(stack, rods={**stack.rods, shaft: longer})
            if not self._touching(tried, shaft):
                return tried
        return stack

    def _crossings(self, start: Point, end: Point, pair: GearPair) -> list[Point]:
        """Where the idler meshes with both: the crossings of two circles."""
        module = self.kit.module_mm
        one = (pair.driver + pair.idlers[0]) * module / 2
        other = (pair.idlers[0] + pair.driven) * module / 2
        return crossings(start, one, end, other)

    def _touching(self, stack: Stack, name: str) -> int:
        """Count what an idler's shaft and gear run into."""
        rod, radius = stack.rods[name], self.kit.shaft_diameter_mm / 2
        hits = 0
        for disc in stack.discs:
            if disc.shaft == name or disc.shaft not in stack.rods:
                continue
            near = stack.apart_mm(name, disc.shaft)
            hits += rod.first <= disc.slab <= rod.last and near < disc.radius_mm + radius + ROOM_MM
        return hits

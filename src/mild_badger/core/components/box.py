"""The components of a placed box: walls, shafts, gears as they are made, sleeves, forks and rails.

Sleeve and dogs, where nothing else is known: the gear's dogs are a star on its face, the sleeve
has a cup at either end that drops over it, and the fork's groove lies between the two cups. A thin
sleeve is the star, and enters a cup let into the gear. Sizes that the vehicle does not give are
estimates, no source.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from mild_badger.core.components.clutch_shape import clutch_shape
from mild_badger.core.components.component import (
    Component,
    ComponentId,
    Outline,
    Prism,
)
from mild_badger.core.components.dogs import cup_outlines, star_outline
from mild_badger.core.components.drum_parts import drum_parts
from mild_badger.core.components.frame_parts import tie_parts, wall_parts
from mild_badger.core.components.gear_ring import form_of, gear_ring
from mild_badger.core.components.phase import MeshOf, Phases, Wheel, phases_of
from mild_badger.core.components.sensor_disc_parts import sensor_disc_parts
from mild_badger.core.components.shift_lever_parts import shift_lever_parts
from mild_badger.core.components.solids import circle, rotated, round_hole, widened
from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.drivetrain.graph import Coupling, Drivetrain
from mild_badger.core.kit.part_sizes import (
    DOG_CLEAR_MM,
    RING_ROOM_MM,
    RUN_MM,
    TUBE_MM,
    ring_radius_mm,
    sleeve_form,
    spacer_radius_mm,
)
from mild_badger.core.layout.function_box import function_stack
from mild_badger.core.mesh.centres import centre_of, shift_at
from mild_badger.core.structure.brackets import SEAT_MM, brackets_of
from mild_badger.core.structure.drums import drums_of
from mild_badger.core.structure.forks import Fork, forks_of
from mild_badger.core.structure.lever_place import lever_places
from mild_badger.core.structure.shaft_box import ring_pair, stack_for
from mild_badger.core.structure.shaft_lengths import ShaftCut, StackPart, shaft_cuts
from mild_badger.core.structure.spacers import beside_shafts, spacer_room_mm
from mild_badger.core.structure.stack import Stack
from mild_badger.core.templates.gear_shape import GearForm
from mild_badger.core.vehicle.bodies import gear_body
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.cache_key import CacheKey, parts_key
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import fork_id

__all__ = [
    "BoxComponents",
    "box_components",
    "function_components",
]

MOST_LET_IN = 0.8
"""How much of its width a gear is let in for dogs at most: the rest would be no gear."""
LEAST_MM = 1e-6
RING_BACK_MM = 1.5
"""How thick the back of a ring of pawls is, which lies on its gear (an estimate, no source)."""
BORE_STEPS = 4
"""In how many ways a turn a brick's gear goes on its shaft: a cross fits every quarter turn."""


@dataclass(frozen=True)
class BoxComponents:
    """All components of a box, and the phases at which its gears interlock.

    ``meshes`` are the pairs of gears that the drivetrain meshes, ``sliding`` those on keyed bores
    into which one slides, by their ids: they have no common phase, and need none.
    """

    components: tuple[Component, ...]
    meshes: tuple[MeshOf, ...]
    phases: Phases
    sliding: frozenset[tuple[str, str]] = frozenset()

    def of(self, identity: str) -> Component:
        """Find a component.

        Raises
        ------
        KeyError
            There is none of that id.
        """
        found = next((part for part in self.components if part.id == identity), None)
        if found is None:
            raise KeyError(identity)
        return found


def box_components(vehicle: Vehicle) -> BoxComponents | None:
    """List every part of the box in space; None where it has no place yet.

    Raises
    ------
    InputError
        A gear or its dogs cannot be made.
    """
    return _components(parts_key(vehicle, "equipment"))


def function_components(vehicle: Vehicle) -> BoxComponents | None:
    """List every part of the function box in space, from its input's shaft; None without a place.

    Raises
    ------
    InputError
        A gear or its dogs cannot be made.
    """
    return _function_components(parts_key(vehicle, "equipment"))


@lru_cache(maxsize=4)
def _components(key: CacheKey) -> BoxComponents | None:
    stack = stack_for(key.vehicle)
    return None if stack is None else _Builder(key.vehicle, stack).build()


@lru_cache(maxsize=4)
def _function_components(key: CacheKey) -> BoxComponents | None:
    stack = function_stack(key.vehicle)
    return None if stack is None else _Builder(key.vehicle, stack).build()


class _Builder:
    def __init__(self, vehicle: Vehicle, stack: Stack) -> None:
        self.vehicle, self.stack, self.kit = vehicle, stack, vehicle.kit
        self.forks = forks_of(vehicle, stack)
        self.brackets = brackets_of(vehicle, stack, self.forks)
        self.beside = beside_shafts(vehicle, stack, self.forks)
        own = stack.own
        self.graph: Drivetrain = assemble(vehicle) if own is None else own.drivetrain
        self.rides = {} if own is None else own.rides
        self.shaft_mm = vehicle.kit.shaft_diameter_mm / 2
        self.bore = round_hole(self.shaft_mm + RUN_MM)
        self.shifts = _shifts(vehicle) if own is None else {}
        self.dogs = sleeve_form(vehicle)
        self.faces = self._faces()
        self.sliders = {
            body: equation.sleeve
            for equation in self.graph.equations
            if equation.kind is Coupling.MESH and equation.sleeve
            for body in equation.bodies[1:]
        }
        self.forms: dict[str, tuple[Outline, float, frozenset[str], GearForm]] = {}

    def build(self) -> BoxComponents:
        cuts = shaft_cuts(self.vehicle, self.stack)
        parts = [
            *wall_parts(self.vehicle, self.stack, self.forks),
            *(part for cut in cuts for part in self._on_shaft(cut)),
            *self._shifters(),
            *sensor_disc_parts(self.vehicle, self.stack, self.forks),
            *self._clutches(),
            *self._drums(),
            *shift_lever_parts(self.vehicle, lever_places(self.vehicle, self.stack, self.forks)),
            *tie_parts(self.vehicle, self.stack, self.forks),
        ]
        gears = [part for part in parts if part.kind == "gear"]
        by_body = {body: part.id for part in gears for body in part.bodies}
        meshes = tuple(
            dict.fromkeys(
                MeshOf(by_body[one], by_body[other])
                for one, other in _meshing(self.graph)
                if one in by_body and other in by_body
            )
        )
        # a slider on a keyed bore meets its partner by turning its whole shaft, which is free then
        keyed = [] if self.kit.any_seat else meshes
        sliding = {(pair.one, pair.other) for pair in keyed if self._slides(pair, gears)}
        firm = [pair for pair in meshes if (pair.one, pair.other) not in sliding]
        phases = phases_of([self._wheel(part) for part in gears], firm)
        turned = tuple(
            self._turned(part, phases.turns[part.id])
            if part.kind == "gear"
            else self._ringed(part, parts, phases)
            if part.kind == "hub"
            else part
            for part in parts
        )
        return BoxComponents(turned, meshes, phases, frozenset(sliding))

    @staticmethod
    def _slides(pair: MeshOf, gears: Sequence[Component]) -> bool:
        """Whether a mesh is made by a gear that slides into it."""
        return any(part.id in (pair.one, pair.other) and part.member for part in gears)

    def _faces(self) -> dict[str, set[str]]:
        """Tell on which of their faces free gears carry dogs: where their sleeves come from."""
        faces: dict[str, set[str]] = {}
        for equation in self.graph.equations:
            if equation.kind is Coupling.DOG and equation.position in ("front", "back"):
                for body in equation.bodies:
                    towards = "back" if equation.position == "front" else "front"
                    faces.setdefault(body, set()).add(towards)
        for gear, body in self.rides.items():
            if body in faces:
                faces[gear] = faces[body]
        return faces

    def _wheel(self, part: Component) -> Wheel:
        turns_with = self.rides.get(part.bodies[0], part.bodies[0]) if part.free else part.shaft
        steps = BORE_STEPS if not self.kit.any_seat else 0
        return Wheel(part.id, part.teeth, part.x_mm, part.y_mm, turns_with, steps)

    def _on_shaft(self, cut: ShaftCut) -> Iterator[Component]:
        rod = self.stack.rods[cut.name]
        length = cut.length_mm if cut.length_mm is not None else cut.needed_mm
        yield Component(
            ComponentId(cut.name),
            "shaft",
            (Prism((circle(self.shaft_mm),), 0.0, length),),
            rod.x_mm,
            rod.y_mm,
            cut.start_mm,
            bodies=(cut.name,),
            shaft=cut.name,
        )
        made = [self._part(cut.name, part) for part in cut.parts]
        for part, component in zip(cut.parts, made, strict=True):
            if part.kind == "spacer":
                spacer = self._spacer(cut.name, part)
                if spacer is not None:
                    yield spacer
            elif component is not None:
                yield component

    def _part(self, shaft: str, part: StackPart) -> Component | None:
        match part.kind:
            case "gear" | "free gear":
                return self._gear(shaft, part)
            case "sleeve":
                return self._sleeve(shaft, part)
            case "hub":
                return self._hub(shaft, part)
            case "post":
                rod = self.stack.rods[shaft]
                solid = (self._post(shaft, part),)
                return Component(
                    ComponentId(part.key),
                    "post",
                    solid,
                    rod.x_mm,
                    rod.y_mm,
                    part.from_mm,
                    shaft=shaft,
                    wall=part.wall,
                )
            case "wall":
                return self._bearing(shaft, part)
        return None

    def _post(self, shaft: str, part: StackPart) -> Prism:
        """Make what holds an idler's shaft: a bracket to a tie rod, a block where none is near."""
        rod = self.stack.rods[shaft]
        slab = self.stack.slabs.index(part.wall)
        for bracket in self.brackets:
            if (bracket.shaft, bracket.slab) == (shaft, slab):
                own = tuple((x - rod.x_mm, y - rod.y_mm) for x, y in bracket.outline)
                at = (bracket.tie.x_mm - rod.x_mm, bracket.tie.y_mm - rod.y_mm)
                tie = round_hole(self.vehicle.frame.post_mm / 2 + RUN_MM, at)
                return Prism((own,), 0.0, part.length_mm, (self.bore, tie))
        return Prism((circle(self.shaft_mm + SEAT_MM),), 0.0, part.length_mm, (self.bore,))

    def _gear(self, shaft: str, part: StackPart) -> Component:
        rod = self.stack.rods[shaft]
        slab = next(d.slab for d in self.stack.discs if d.body == part.body)
        shared = [d for d in self.stack.discs if (d.shaft, d.slab) == (shaft, slab) and d.teeth]
        form = form_of(self.kit, part.teeth, self.shifts.get(part.body, 0.0))
        free = part.kind == "free gear"
        width, outline = part.length_mm, gear_ring(form)
        faces = frozenset(self.faces.get(part.body, ()) if free else ())
        self.forms[part.body] = (outline, width, faces, form)
        return Component(
            ComponentId(part.key),
            "gear",
            tuple(self._gear_solid(outline, width, faces, form)),
            rod.x_mm,
            rod.y_mm,
            part.from_mm,
            bodies=tuple(dict.fromkeys(d.body for d in shared)),
            shaft=shaft,
            teeth=part.teeth,
            free=free,
            member=self.sliders.get(part.body, ""),
        )

    def _turned(self, part: Component, turn: float) -> Component:
        """Turn a gear; its dogs are put on where they meet the sleeve's, which stays as it is."""
        solid = tuple(self._gear_solid(*self.forms[part.id], turn))
        return replace(part, turn_rad=turn, solid=solid)

    def _gear_solid(
        self,
        outline: Outline,
        width: float,
        faces: frozenset[str],
        form: GearForm,
        turn: float = 0.0,
    ) -> Iterator[Prism]:
        dogs = self.dogs
        if not faces or dogs.dog_mm <= 0:
            yield Prism((outline,), 0.0, width, (self.bore,))
            return
        if not dogs.thin:
            yield Prism((outline,), 0.0, width, (self.bore,))
            star = rotated(star_outline(self.vehicle), -turn)
            if "front" in faces:
                yield Prism((star,), -dogs.dog_mm, 0.0, (self.bore,))
            if "back" in faces:
                yield Prism((star,), width, width + dogs.dog_mm, (self.bore,))
            return
        deep = min(dogs.dog_mm, MOST_LET_IN * width / len(faces))
        start = deep if "front" in faces else 0.0
        end = width - deep if "back" in faces else width
        cup = rotated(cup_outlines(self.vehicle)[1], -turn)
        yield Prism((outline,), start, end, (self.bore,))
        if form.root_mm <= dogs.outer_mm:
            return  # too small to be let in: it stays a boss shorter there
        if "front" in faces:
            yield Prism((outline,), 0.0, start, (cup,))
        if "back" in faces:
            yield Prism((outline,), end, width, (cup,))

    def _hub(self, shaft: str, part: StackPart) -> Component:
        """Make the hub on the input's end: dogs on its back, or let in there for thin sleeves."""
        rod, dogs, width = self.stack.rods[shaft], self.dogs, part.length_mm
        body = circle(dogs.outer_mm)
        if self._ring() is not None:
            solid: tuple[Prism, ...] = (Prism((body,), 0.0, width, (self.bore,)),)
        elif dogs.thin:
            deep = min(dogs.dog_mm, MOST_LET_IN * width)
            round_, cup = cup_outlines(self.vehicle)
            solid = (
                Prism((body,), 0.0, width - deep, (self.bore,)),
                Prism((round_,), width - deep, width, (cup,)),
            )
        else:
            solid = (
                Prism((body,), 0.0, width, (self.bore,)),
                Prism((star_outline(self.vehicle),), width, width + dogs.dog_mm, (self.bore,)),
            )
        return Component(
            ComponentId(part.key),
            "hub",
            tuple(prism for prism in solid if prism.to_mm - prism.from_mm > LEAST_MM),
            rod.x_mm,
            rod.y_mm,
            part.from_mm,
            bodies=(shaft,),
            shaft=shaft,
        )

    def _slider(self, shaft: str, part: StackPart) -> Component:
        """Make what joins a slider's gears: the groove for its fork, flanges where no gear is.

        One that couples directly by dogs has them on the input's side; one whose only gear stands
        apart has a boss to it.
        """
        rod, half = self.stack.rods[shaft], part.length_mm / 2
        groove = min(self.dogs.groove_mm / 2, half)
        ring, flange = circle(self.dogs.groove_radius_mm), circle(self.dogs.outer_mm)
        gears = [d for d in self.stack.discs if self.sliders.get(d.body) == part.body]
        beside = {d.slab for d in gears}
        slab = next(d.slab for d in self.stack.discs if d.body == part.body)
        coupling = self._couples_input(part.body) and not self._ring()
        ends = (-half, -groove, slab - 1), (groove, half, slab + 1)
        solid = [Prism((ring,), -groove, groove, (self.bore,))]
        for start, end, other in ends:
            if end - start <= LEAST_MM:
                continue
            if coupling and start < 0:
                # on a grid the slider stops a whole unit off: its dogs reach on into the hub
                more = self.dogs.cup_mm if self.dogs.thin and not self.kit.any_seat else 0.0
                solid.append(self._dogged_end(start - more, end))
            elif other in beside and not coupling:
                solid.append(Prism((ring,), start, end, (self.bore,)))
            else:
                solid.append(Prism((flange,), start, end, (self.bore,)))
        apart = [d for d in gears if d.slab < slab - 1]
        if apart:
            start = self.stack.edges_mm[apart[0].slab + 1] - part.middle_mm
            boss = circle(spacer_radius_mm(self.vehicle))
            solid.append(Prism((boss,), start, -half, (self.bore,)))
        return Component(
            ComponentId(part.key),
            "sleeve",
            tuple(solid),
            rod.x_mm,
            rod.y_mm,
            part.middle_mm,
            bodies=(shaft,),
            member=part.body,
            shaft=shaft,
        )

    def _couples_input(self, sleeve: str) -> bool:
        """Whether a slider couples the output to the input."""
        return any(
            equation.kind is Coupling.DOG and equation.sleeve == sleeve
            for equation in self.graph.equations
        )

    def _ring(self) -> GearPair | None:
        return ring_pair(self.vehicle) if self.stack.own is None else None

    def _dogged_end(self, start: float, end: float) -> Prism:
        """Make a sleeve's end: a cup over the other part's dogs, or dogs of its own if thin."""
        if self.dogs.thin:
            return Prism((star_outline(self.vehicle),), start, end, (self.bore,))
        inside = cup_outlines(self.vehicle)[1]
        return Prism((circle(self.dogs.outer_mm),), start, end, (inside,))

    def _ringed(self, hub: Component, parts: Sequence[Component], phases: Phases) -> Component:
        """Cut inner teeth into the hub where a slider's gear enters it for the direct drive."""
        pair = self._ring()
        if pair is None:
            return hub
        sliding = (part for part in parts if part.kind == "gear" and part.member)
        gear = next(part for part in sliding if self._couples_input(part.member))
        outline, width, _, _ = self.forms[gear.id]
        long, deep = hub.length_mm, width + DOG_CLEAR_MM
        body = circle(ring_radius_mm(self.kit, pair.driven))
        solid = (
            Prism((body,), 0.0, long - deep, (self.bore,)),
            Prism((body,), long - deep, long, (widened(outline, RING_ROOM_MM),)),
        )
        return replace(hub, solid=solid, turn_rad=phases.turns[gear.id])

    def _sleeve(self, shaft: str, part: StackPart) -> Component:
        if self.vehicle.box.slides and self.stack.own is None:
            return self._slider(shaft, part)
        rod, dogs = self.stack.rods[shaft], self.dogs
        half, groove = dogs.length_mm / 2, dogs.groove_mm / 2
        solid = (
            self._dogged_end(-half, -groove),
            Prism((circle(dogs.groove_radius_mm),), -groove, groove, (self.bore,)),
            self._dogged_end(groove, half),
        )
        return Component(
            ComponentId(part.key),
            "sleeve",
            tuple(p for p in solid if p.to_mm - p.from_mm > 1e-6),
            rod.x_mm,
            rod.y_mm,
            part.middle_mm,
            bodies=(shaft,),
            member=part.body,
            shaft=shaft,
        )

    def _bearing(self, shaft: str, part: StackPart) -> Component | None:
        bearing = next((b for b in self.kit.bearings if b.name == part.bearing), None)
        if bearing is None:
            return None
        rod, half = self.stack.rods[shaft], min(bearing.width_mm, part.length_mm) / 2
        solid = (Prism((circle(bearing.outer_mm / 2),), -half, half, (self.bore,)),)
        return Component(
            ComponentId(part.key),
            "bearing",
            solid,
            rod.x_mm,
            rod.y_mm,
            part.middle_mm,
            shaft=shaft,
            wall=part.wall,
            name=bearing.name,
        )

    def _spacer(self, shaft: str, part: StackPart) -> Component | None:
        """Make a spacer; None where no tube goes in."""
        rod = self.stack.rods[shaft]
        room = spacer_room_mm(self.stack, rod, part, self.beside)
        radius = min(spacer_radius_mm(self.vehicle), room)
        if radius < self.shaft_mm + TUBE_MM:
            return None
        return Component(
            ComponentId(part.key),
            "spacer",
            (Prism((circle(radius),), 0.0, part.length_mm, (self.bore,)),),
            rod.x_mm,
            rod.y_mm,
            part.from_mm,
            bodies=(),
            shaft=shaft,
        )

    def _shifters(self) -> Iterator[Component]:
        for fork in self.forks:
            yield self._rail(fork)
            yield self._fork(fork)

    def _rail(self, fork: Fork) -> Component:
        stack, rail = self.stack, fork.rail
        start, end = stack.edges_mm[rail.first], stack.edges_mm[rail.last + 1]
        return Component(
            ComponentId(rail.name),
            "rail",
            (Prism((circle(self.shaft_mm),), 0.0, end - start),),
            rail.x_mm,
            rail.y_mm,
            start,
            member=fork.column,
            shaft=rail.name,
        )

    def _fork(self, fork: Fork) -> Component:
        half, at = self.vehicle.frame.fork_mm / 2, (fork.rail.x_mm, fork.rail.y_mm)
        hole = round_hole(self.shaft_mm + RUN_MM, at)
        return Component(
            ComponentId(fork_id(fork.column)),
            "fork",
            (Prism((fork.outline,), -half, half, (hole,)),),
            0.0,
            0.0,
            self.stack.middle_mm(fork.slab),
            member=fork.column,
            shaft=fork.rail.name,
        )

    def _clutches(self) -> Iterator[Component]:
        """Make one-way clutches: a ratchet wheel on a shaft, a ring with pawls on its gear."""
        for name, fit in (self.stack.own.clutches if self.stack.own is not None else {}).items():
            disc = next(disc for disc in self.stack.discs if disc.body == name)
            rod, slab = self.stack.rods[disc.shaft], disc.slab
            start, end = self.stack.edges_mm[slab], self.stack.edges_mm[slab + 1]
            width = end - start - 2 * RUN_MM
            shape = clutch_shape(disc.radius_mm, self.shaft_mm, fit.faces)
            thick = min(RING_BACK_MM, width / 3)
            back = (0.0, thick) if fit.behind else (width - thick, width)
            rest = (thick, width) if fit.behind else (0.0, width - thick)
            tooth = (rest[0] + RUN_MM, rest[1]) if fit.behind else (rest[0], rest[1] - RUN_MM)
            at = rod.x_mm, rod.y_mm, start + RUN_MM
            yield Component(
                ComponentId(f"ratchet wheel of {name}"),
                "ratchet wheel",
                (Prism((shape.wheel,), *tooth, (self.bore,)),),
                *at,
                bodies=(disc.shaft,),
                shaft=disc.shaft,
            )
            ring = circle(disc.radius_mm)
            pawls = tuple(Prism((pawl,), *rest) for pawl in shape.pawls)
            yield Component(
                ComponentId(f"pawl ring of {name}"),
                "pawl ring",
                (
                    Prism((ring,), *back, (self.bore,)),
                    Prism((ring,), *rest, (shape.inside,)),
                    *pawls,
                ),
                *at,
                bodies=(self.rides[fit.gear],),
                shaft=disc.shaft,
            )

    def _drums(self) -> Iterator[Component]:
        place = drums_of(self.vehicle, self.stack, self.forks)
        if place is not None:
            yield from drum_parts(self.vehicle, self.stack, place)


def _meshing(graph: Drivetrain) -> Iterator[tuple[str, str]]:
    """List the pairs of gears that mesh, from the drivetrain, in neutral or in a gear."""
    for equation in graph.equations:
        if equation.kind is Coupling.MESH and len(equation.bodies) == 2:
            one, other = equation.bodies
            yield one, other


def _shifts(vehicle: Vehicle) -> dict[str, float]:
    """Give the profile shift of gears whose pair stands at another distance than its own."""
    shifts: dict[str, float] = {}
    if vehicle.box.free_trains:
        return shifts
    for group in vehicle.box.between():
        centre = centre_of(vehicle.kit, [link.pair for link in group.links])
        for link in group.links if centre is not None else ():
            shift = shift_at(vehicle.kit, link.pair, centre) if centre is not None else None
            if shift is not None:
                shifts[gear_body(link.key, link.id, "driver")] = shift.driver
                shifts[gear_body(link.key, link.id, "driven")] = shift.driven
    return shifts

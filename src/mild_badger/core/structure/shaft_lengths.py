"""The stack along every shaft: its parts in order with running positions, its length to take.

Lengths in mm from the front outer wall's outer face. Spacers are what is left between two parts
of a shaft, so that the gears of a mesh line up.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from typing import Literal

from mild_badger.core.driveline.assemble import assemble, box_output
from mild_badger.core.drivetrain.graph import Coupling
from mild_badger.core.figures import in_mm
from mild_badger.core.kit.part_sizes import sleeve_room_mm
from mild_badger.core.message import say
from mild_badger.core.structure.stack import Disc, Rod, Stack
from mild_badger.core.vehicle.bodies import column_shaft, input_shaft
from mild_badger.core.vehicle.boxes import SlottedBox
from mild_badger.core.vehicle.cache_key import Same, ThisVehicle
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import is_sleeve

__all__ = [
    "STUB_DIAMETERS",
    "ShaftCut",
    "StackPart",
    "describe_stack",
    "nut_mm",
    "output_rod",
    "shaft_cuts",
    "sleeve_saving_mm",
    "sliding_shafts",
    "standing_out",
    "stub_mm",
    "unequal",
]

PartKind = Literal[
    "wall", "post", "gear", "free gear", "sleeve", "hub", "clutch", "pilot", "spacer", "end play"
]
LEAST_MM = 0.02
"""Gaps below this are none."""
STUB_DIAMETERS = 1.5
"""Length of a stub where none is typed, in diameters (common practice, no source)."""
GRID_SLACK_MM = 0.6
"""Gaps of a brick kit that its parts' own slack makes (common practice, no source)."""


@dataclass(frozen=True)
class StackPart:
    """One thing on a shaft: what it is, and from where to where.

    ``key`` is the id of its component, of the bearing for a wall, "" for room that nothing fills.
    ``body`` is what the graph calls it, ``teeth`` a gear's, ``wall`` and ``bearing`` a seat's.
    """

    kind: PartKind
    words: str
    from_mm: float
    to_mm: float
    body: str = ""
    teeth: int = 0
    wall: str = ""
    bearing: str = ""
    key: str = ""

    @property
    def length_mm(self) -> float:
        """Length along the shaft."""
        return self.to_mm - self.from_mm

    @property
    def middle_mm(self) -> float:
        """Where its middle is."""
        return (self.from_mm + self.to_mm) / 2


@dataclass(frozen=True)
class ShaftCut:
    """One shaft: what it must reach, the length to take, None where none is long enough.

    What is too long stands out at the back, or before the front wall where ``out_first``: the
    other end lies inside the box.
    """

    name: str
    from_mm: float
    needed_mm: float
    length_mm: float | None
    parts: tuple[StackPart, ...]
    out_first: bool = False

    @property
    def overhang_mm(self) -> float:
        """How much of the shaft stands out."""
        return 0.0 if self.length_mm is None else self.length_mm - self.needed_mm

    @property
    def start_mm(self) -> float:
        """Where the shaft as taken begins."""
        return self.from_mm - (self.overhang_mm if self.out_first else 0.0)


def shaft_cuts(vehicle: Vehicle, stack: Stack) -> tuple[ShaftCut, ...]:
    """Give every shaft its parts and its length: over the walls it stands in, or to its end."""
    return _cuts(ThisVehicle(vehicle), Same(stack))


@lru_cache(maxsize=4)
def _cuts(this: ThisVehicle, same: Same[Stack]) -> tuple[ShaftCut, ...]:
    vehicle, stack = this.vehicle, same.it
    unit = vehicle.kit.grid_unit_mm
    lengths = sorted(n * unit for n in vehicle.kit.shaft_lengths_u)
    cuts = []
    for rod in stack.rods.values():
        start, end = _ends(vehicle, stack, rod)
        needed = end - start
        taken = next((n for n in lengths if n >= needed - 1e-6), None) if lengths else needed
        inside = rod.first == stack.walls[0] and rod.last < stack.walls[-1]
        parts = tuple(_parts(vehicle, stack, rod))
        cuts.append(ShaftCut(rod.name, start, needed, taken, parts, inside))
    return tuple(cuts)


def _ends(vehicle: Vehicle, stack: Stack, rod: Rod) -> tuple[float, float]:
    """From where to where a shaft reaches; two in one line share a wall half and half.

    Input and output stand out of the box by a stub, which something can be coupled to.
    """
    start, end = stack.edges_mm[rod.first], stack.edges_mm[rod.last + 1]
    front, back = standing_out(vehicle, stack)
    if rod.name in front and rod.first == stack.walls[0]:
        start -= stub_mm(vehicle)
    if rod.name in back and rod.last == stack.walls[-1]:
        end += stub_mm(vehicle)
    if stack.kinds[rod.last] == "hub":  # it ends half way in it, and another begins there
        end = stack.middle_mm(rod.last)
    if stack.kinds[rod.walls[0]] == "hub":
        start = stack.middle_mm(rod.walls[0])
    for other in stack.rods.values():
        if other.name != rod.name and stack.apart_mm(rod.name, other.name) < LEAST_MM:
            for wall in set(rod.walls) & set(other.walls):
                if rod.walls[0] == wall:
                    start = stack.middle_mm(wall)
                if rod.walls[-1] == wall:
                    end = stack.middle_mm(wall)
    return start, end


def standing_out(vehicle: Vehicle, stack: Stack) -> tuple[frozenset[str], frozenset[str]]:
    """Name the shafts that stand out of the box at its front and at its back."""
    if stack.own is not None:
        return stack.own.front, stack.own.back
    out = output_rod(vehicle, stack)
    return frozenset({input_shaft()}), frozenset({out} if out is not None else ())


def _parts(vehicle: Vehicle, stack: Stack, rod: Rod) -> Iterator[StackPart]:
    """List what sits on a shaft in order, what is left between two parts as a spacer."""
    firm = sorted(_firm(vehicle, stack, rod), key=lambda part: part.from_mm)
    play = vehicle.frame.end_play_mm if stack.lefts_mm else 0.0
    least = LEAST_MM if stack.lefts_mm else GRID_SLACK_MM
    sliding = sliding_shafts(vehicle, stack)
    yield from firm[:1]
    for before, after in pairwise(firm):
        start, end = before.to_mm, after.from_mm
        if after.kind in ("wall", "post") and play:
            end = max(end - play, start)
        if end - start > least and rod.name not in sliding:
            name = f"spacer of {rod.name} between {_known_as(before)} and {_known_as(after)}"
            words = say("layout.spacer", end=in_mm(end - start))
            yield StackPart("spacer", words, start, end, key=name)
        if after.from_mm - end > LEAST_MM:
            yield StackPart(
                "end play",
                say("layout.end-play", from_mm=in_mm(after.from_mm - end)),
                end,
                after.from_mm,
            )
        yield after


def _known_as(part: StackPart) -> str:
    """Give what a spacer's neighbour is known by: a wall by itself, whatever bearing is in it."""
    return part.wall if part.kind in ("wall", "pilot") else part.key


def _firm(vehicle: Vehicle, stack: Stack, rod: Rod) -> Iterator[StackPart]:
    own = [disc for disc in stack.discs if disc.shaft == rod.name]
    gears = {disc.slab for disc in own if disc.teeth}
    for wall in rod.walls:
        if wall in gears:
            continue
        name = stack.slabs[wall]
        if stack.kinds[wall] == "hub":
            if not any(disc.slab == wall for disc in own):  # it runs in another shaft's hub
                start, end = stack.edges_mm[wall], stack.edges_mm[wall + 1]
                yield StackPart("pilot", say("layout.runs-in-the-hub"), start, end, wall=name)
            continue
        bearing = vehicle.frame.bearing_at(rod.name, name)
        kind: PartKind = "wall" if wall in stack.walls else "post"
        start, end = stack.edges_mm[wall], stack.edges_mm[wall + 1]
        if kind == "post" and stack.lefts_mm:  # a bracket beside the gear, as thick as a wall
            thick = min(vehicle.frame.wall_mm, end - start)
            behind = min(gears, default=wall) < wall
            start, end = (start, start + thick) if behind else (end - thick, end)
        title = vehicle.train_title(name)
        seat = say("layout.with-2", name=title, bearing=bearing) if bearing else title
        yield StackPart(
            kind,
            seat if kind == "wall" else say("layout.post-over", name=vehicle.train_title(name)),
            start,
            end,
            wall=name,
            bearing=bearing or "",
            key=f"{'bearing' if kind == 'wall' else 'post'} of {rod.name} in {name}",
        )
    seen = set()
    for disc in own:
        if disc.slab in seen:
            continue  # one gear that two trains share
        seen.add(disc.slab)
        start, end = stack.edges_mm[disc.slab], stack.edges_mm[disc.slab + 1]
        if stack.kinds[disc.slab] == "hub":
            left = start + (stack.lefts_mm[disc.slab] if stack.lefts_mm else 0.0)
            yield StackPart("hub", say("layout.hub-with-dogs"), left, end, disc.body, key=disc.body)
            continue
        if stack.kinds[disc.slab] == "clutch":
            yield StackPart(
                "clutch", say("layout.one-way-clutch"), start, end, disc.body, key=disc.body
            )
            continue
        if not disc.teeth:
            yield StackPart(
                "sleeve", say("layout.sleeve-and-its-travel"), start, end, disc.body, key=disc.body
            )
            continue
        size = vehicle.kit.size(disc.teeth)
        width = min(size.face_width_mm if size else end - start, end - start)
        left = start + (stack.lefts_mm[disc.slab] if stack.lefts_mm else (end - start - width) / 2)
        free = _runs_free(vehicle, stack, disc)
        yield StackPart(
            "free gear" if free else "gear",
            say("layout.free", teeth=disc.teeth) if free else str(disc.teeth),
            left,
            left + width,
            disc.body,
            disc.teeth,
            key=disc.body,
        )


def sliding_shafts(vehicle: Vehicle, stack: Stack) -> frozenset[str]:
    """Name the shafts on which gears slide into mesh: nothing else may stand between them."""
    box = SlottedBox.of(vehicle.box)
    if box is None or not box.slides or stack.own is not None:
        return frozenset()
    return frozenset(disc.shaft for disc in stack.discs if is_sleeve(disc.body))


def _runs_free(vehicle: Vehicle, stack: Stack, disc: Disc) -> bool:
    """Whether a gear runs free on its shaft until a sleeve or a one-way clutch couples it."""
    if stack.own is not None:
        return disc.body in stack.own.rides
    touching = assemble(vehicle).touching.get(disc.body, ())
    return any(equation.kind is Coupling.DOG for equation in touching)


def sleeve_saving_mm(vehicle: Vehicle, stack: Stack) -> float:
    """By how much thin sleeves shorten the box against grooved ones; on a grid often nothing."""
    sleeves = stack.kinds.count("sleeve")
    return sleeves * (sleeve_room_mm(vehicle, "grooved") - sleeve_room_mm(vehicle, "thin"))


def stub_mm(vehicle: Vehicle) -> float:
    """How far input and output stand out of the box."""
    own = vehicle.frame.stub_mm
    return STUB_DIAMETERS * vehicle.kit.shaft_diameter_mm if own is None else own


def output_rod(vehicle: Vehicle, stack: Stack) -> str | None:
    """Name the shaft that the power leaves the box by; None where none reaches an outer wall."""
    own = stack.rods.get(box_output(vehicle))
    if own is not None and own.last == stack.walls[-1]:
        return own.name
    led_out = (
        rod.name
        for rod in stack.rods.values()
        if (column := column_shaft(rod.name)) is not None
        and column.kind == "selector"
        and rod.last == stack.walls[-1]
    )
    return next(led_out, None)


def nut_mm(vehicle: Vehicle) -> float:
    """How far a tie rod stands out of an end plate: its nut (ISO 4032: 0.8 d) and two threads."""
    return vehicle.frame.post_mm


def unequal(cuts: tuple[ShaftCut, ...], limit_mm: float) -> tuple[ShaftCut, ...]:
    """Find shafts that stand out of their walls by more than others do, beyond a limit."""
    known = [cut for cut in cuts if cut.length_mm is not None]
    least = min((cut.overhang_mm for cut in known), default=0.0)
    return tuple(cut for cut in known if cut.overhang_mm - least > limit_mm + LEAST_MM)


def describe_stack(vehicle: Vehicle, stack: Stack) -> str:
    """Say how long the box is, what rods tie its end plates, and what thin sleeves would save."""
    words: str = say("layout.over-the-outer-walls", length_mm=in_mm(stack.length_mm, 1))
    if vehicle.kit.any_seat:
        words += say(
            "layout.which-is-the-tie-rods-length-between-the",
            end_play_mm=in_mm(vehicle.frame.end_play_mm),
        )
    if vehicle.box.slides and stack.own is None:
        return words + "."
    saved = sleeve_saving_mm(vehicle, stack)
    if vehicle.frame.sleeve == "thin":
        words += say("layout.thin-sleeves-save", saved=in_mm(saved, 1))
    elif saved > 0:
        words += say("layout.thin-sleeves-would-save", saved=in_mm(saved, 1))
    else:
        words += say("layout.thin-sleeves-would-save-nothing-on-whole")
    return words + "."

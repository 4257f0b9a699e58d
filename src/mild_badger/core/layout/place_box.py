"""Placing a whole slot box: a way for every slot, all clear of one another.

Columns stand ``spacing_u`` apart, in wood and print as far as the gears of drive row and tie do,
their input shafts in a row at height 0 and their selector shafts in a row above, a little to one
side where that helps. The sleeves and the drive row between front
and back part the two sides, so each is placed by itself. For each slot all near-best trains are
laid out in every way; of these one a slot is chosen by branch and bound over tables of which two go
together. Where not all can be placed the most are. The gears that tie the selector shafts stand in
a layer of their own between the front's layer 1 and its inner wall.
"""

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import partial
from math import hypot, sqrt
from time import monotonic

from mild_badger.core.architectures.places import Columns
from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.errors import DocumentError
from mild_badger.core.kit.part_sizes import fork_radius_mm, sleeve_radius_mm, tip_mm
from mild_badger.core.layout.free_routes import MOST_IDLERS, SAME_MM, STEP_MM, free_ways_between
from mild_badger.core.layout.other_gears import other_gears
from mild_badger.core.layout.routes import Bounds, Half, TrainRoute, clearance_mm, ways_between
from mild_badger.core.layout.side_placement import UNPLACED, Chosen, Side, counted
from mild_badger.core.mesh.shift import least_sound_teeth
from mild_badger.core.message import say
from mild_badger.core.ratios.final_drive import factor_square
from mild_badger.core.ratios.propose import slot_pool, wanted_parity
from mild_badger.core.ratios.single import Candidate, ranked_trains
from mild_badger.core.structure.mirror import first_at_right, mirrored_placing
from mild_badger.core.structure.plane import to_segment
from mild_badger.core.vehicle.bodies import column_shaft, idler_shaft, input_shaft, shaft_after
from mild_badger.core.vehicle.box import MAX_PAIRS, Slot, gear_key
from mild_badger.core.vehicle.layout import PlacementSettings
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.train import pair_ids
from mild_badger.core.watch import UNWATCHED, Watch

Pairs = tuple[tuple[int, int], ...]
Between = tuple[int, int | None]
"""A shaft of a train: behind a pair, or the shaft of one of its idlers."""
Point = tuple[float, float]

__all__ = ["Chosen", "Placed", "place_box"]

HEIGHTS_U = (4, 5, 6, 3, 7, 8, 9)
SHIFTS_U = (0, 1, -1, 2, -2)
"""Where the row of selector shafts is tried: above the row of input shafts, and to its right."""
MOST_KEPT = 4
"""Proposals kept, the best first."""
TRAINS, WAYS = 60, 900
"""Most trains tried for a slot, and most ways kept of them."""
PITCHES = (0.7, 1.0, 1.3, 1.6)
"""Further heights in wood and print, in distances of columns."""
HEIGHTS, MADE_SHIFTS = 5, (0.0, 0.25, -0.25, 0.5, -0.5)
"""In wood and print: heights tried, each a tenth more than the least, and shifts in columns."""
MADE_TRAINS, IDLED_TRAINS, TURNED_TRAINS = 250, 12, 90
"""Trains tried for a slot in wood and print: the smallest, those with idlers put in in all ways,
and those with one idler that turn the wrong way without."""
FIRST_TRAINS, FIRST_WAYS, FIRST_SHARE = 48, 240, 0.5
"""In wood and print: with how many of them a first placement is looked for, more only where they
have fewer ways than that, and for what share of the time at most."""
ASIDE_U = 5


@dataclass(frozen=True)
class Placed:
    """A whole box: the ways chosen, where the selector row stands, and the slots left out.

    ``shift_u`` is how far the selector row stands to the right of the input row; ``inputs_u`` and
    ``selectors_u`` are the places of both rows' shafts, ``steps_a_unit`` how many steps of the
    chosen ways' coordinates make a unit of the kit, ``offset_u`` where the first input is held;
    ``held`` is the share of the stall torque up to
    which no mesh lets go and ``short`` how many parts lack, where looked at; ``finished`` tells
    whether everything was gone through, so that nothing better is left; ``others`` are the next
    best ones, with the selector row elsewhere.
    """

    chosen: tuple[Chosen, ...]
    height_u: float
    shift_u: float
    unplaced: tuple[str, ...]
    cost: float
    placing: PlacementSettings
    inputs_u: tuple[Point, ...] = ()
    selectors_u: tuple[Point, ...] = ()
    steps_a_unit: float = 2.0
    offset_u: Point = (0.0, 0.0)
    held: float | None = None
    short: int = 0
    finished: bool = True
    others: "tuple[Placed, ...]" = ()

    @property
    def complete(self) -> bool:
        """Whether every slot has its place."""
        return not self.unplaced


def place_box(vehicle: Vehicle, *, watch: Watch = UNWATCHED, enough: bool = False) -> Placed:
    """Place the slots of a slot box that have a train, with any train near enough.

    With ``enough`` the first placement that has room for all of them is taken.

    Raises
    ------
    DocumentError
        The box is of another architecture, or no slot has a train.
    SearchStopped
        The watch asked for it.
    """
    return _PlacementSearch(vehicle, watch).run(enough=enough)


class _PlacementSearch:
    def __init__(self, vehicle: Vehicle, watch: Watch) -> None:
        box = vehicle.box
        places = architecture_of(box).places(box)
        if not isinstance(places, Columns):
            raise DocumentError(say("layout.only-a-slot-box-is-placed-as-a-whole-the"))
        self.slots = [
            slot for slot in box.slots if isinstance(slot, Slot) and slot.train and not slot.second
        ]
        if not self.slots:
            raise DocumentError(say("layout.no-slot-has-a-train-yet-find-the-set-on-the"))
        self.vehicle, self.places, self.kit, self.watch = vehicle, places, vehicle.kit, watch
        turned = first_at_right(vehicle)  # then the layout is mirrored afterwards
        self.placing = mirrored_placing(vehicle.placing) if turned else vehicle.placing
        self.half_step = 1 if self.placing.half_units else 2
        self.columns = places.count
        self.room = clearance_mm(self.kit)
        if self.kit.any_seat:
            self.step_mm = STEP_MM
            self.tie_teeth = places.tie_teeth
            self.row_teeth = places.row_teeth if places.by_row else places.tie_teeth
            self.pitch, self.tied = (
                round(teeth * self.kit.module_mm / STEP_MM)
                for teeth in (self.row_teeth, self.tie_teeth)
            )
        else:
            self.step_mm = self.kit.grid_unit_mm / 2
            self.row_teeth = self.tie_teeth = 8 * self.placing.spacing_u
            self.pitch = self.tied = 2 * self.placing.spacing_u
        self.steps_a_unit = self.kit.grid_unit_mm / self.step_mm
        thick = self.kit.shaft_diameter_mm
        bore = vehicle.hole_mm(thick, "running") + vehicle.frame.edge_mm
        self.holes_mm = bore if self.kit.any_seat else thick + self.room
        self.until = monotonic() + self.placing.seconds
        unit = self.kit.grid_unit_mm
        pins = {pin.shaft: (pin.x_mm / unit, pin.y_mm / unit) for pin in self.placing.pins}
        self.offset_u = pins.get(input_shaft(), (0.0, 0.0))
        self.end_u = pins.get(box.output)
        self.held = {slot.gear: _held_between(slot, pins) for slot in self.slots}
        self.cut_short = False
        self.most_ways = WAYS
        self.ranked: list[Placed] = []

    def run(self, *, enough: bool = False) -> Placed:
        """Go through all places of the selector row; with ``enough`` to the first whole box."""
        trains = {slot.gear: self._trains(slot) for slot in self.slots}
        if not self._row_inside((0, 0), rail=True):
            raise DocumentError(say("layout.the-hulls-outline-leaves-no-room-for-the"))
        places = [row for row in self._rows() if self._row_inside(row, rail=False)]
        if self.kit.any_seat:
            until = self.until
            self.until -= (1 - FIRST_SHARE) * self.placing.seconds
            self.most_ways = FIRST_WAYS
            self._go_through(places, trains, enough=True)
            self.until, self.most_ways, self.cut_short = until, WAYS, False
        finished = self._go_through(places, trains, enough=enough)
        best = self._best()
        if best is None:
            raise DocumentError(say("layout.nothing-could-be-placed-the-hulls-outline"))
        return replace(best, finished=finished)

    def _go_through(
        self, places: list[Half], trains: dict[str, list[Pairs]], *, enough: bool
    ) -> bool:
        """Place both sides with the selector row at one place after another.

        Returns whether everything was gone through.
        """
        finished = True
        for number, row in enumerate(places):
            best = self._best()
            whole_box = best is not None and best.complete
            if best is not None and (monotonic() > self.until or (enough and whole_box)):
                return False
            placed, whole = self._at(row, trains)
            finished = finished and whole and not self.cut_short
            if placed is not None:
                others = (p for p in self.ranked if (p.shift_u, p.height_u) != self._row_of(placed))
                self.ranked = sorted((*others, placed), key=lambda p: p.cost)[:MOST_KEPT]
            self.watch.tick((number + 1) / len(places), self._best())
        return finished

    @staticmethod
    def _row_of(placed: Placed) -> Point:
        return placed.shift_u, placed.height_u

    def _rows(self) -> list[Half]:
        """List where the first selector shaft is tried, in steps from the first input shaft."""
        if self.end_u is not None:
            return [self._held_row(self.end_u)]
        if not self.kit.any_seat:
            return [(2 * shift, 2 * height) for height in HEIGHTS_U for shift in SHIFTS_U]
        sleeve, shaft = sleeve_radius_mm(self.vehicle), self.kit.shaft_diameter_mm / 2
        beside = max(fork_radius_mm(self.vehicle), sleeve) + self.room
        least = shaft + beside
        if self.columns > 1:
            least = max(least, tip_mm(self.kit, self.tie_teeth) + shaft + self.room)
            if self.places.by_row:
                least = max(least, tip_mm(self.kit, self.row_teeth) + beside)
        heights = {least * (1 + number / 10) for number in range(HEIGHTS)}
        pitch_mm = self.pitch * self.step_mm
        heights |= {pitch_mm * share for share in PITCHES if pitch_mm * share > least}
        return [
            (round(shift * self.pitch), round(height / self.step_mm))
            for height in sorted(heights)
            for shift in (MADE_SHIFTS if self.columns > 1 else (0.0,))
        ]

    def _held_row(self, end_u: Point) -> Half:
        """Give the one place of the row in which the output stands where it is held."""
        x, y = (
            round((e - o) * self.steps_a_unit, 6) for e, o in zip(end_u, self.offset_u, strict=True)
        )
        if not self.kit.any_seat and (x % self.half_step or y % self.half_step):
            raise DocumentError(say("layout.the-output-is-held-off-the-grid"))
        own = column_shaft(self.vehicle.box.output)
        column = 1 if own is None else own.column
        return (round(x) - self.tied * (column - 1), round(y))

    def _best(self) -> Placed | None:
        if not self.ranked:
            return None
        others = (p for p in self.ranked[1:] if p.complete or not self.ranked[0].complete)
        return replace(self.ranked[0], others=tuple(others))

    def _worth(self) -> float | None:
        """Give the cost that a placement must stay below to be kept."""
        whole = [p for p in self.ranked if p.complete]
        if not whole:
            return self.ranked[0].cost if self.ranked else None
        return self.ranked[-1].cost if len(self.ranked) == MOST_KEPT else whole[0].cost + UNPLACED

    def _trains(self, slot: Slot) -> list[Pairs]:
        """List the slot's own pairs first, then those whose ratio is near enough, small ones first.

        Idlers are put in as the places ask for them.
        """
        own = tuple((pair.driver, pair.driven) for pair in slot.train)
        target = self.vehicle.gear(slot.gear)
        if slot.kept or target is None:
            return [own]
        near = partial(
            ranked_trains,
            slot_pool(self.vehicle),
            target.ratio,
            parity=wanted_parity(self.vehicle, slot.gear),
            tolerance_percent=self.placing.near_percent,
            factor=sqrt(factor_square(self.vehicle)),
        )
        ranked: tuple[Candidate, ...]
        if self.kit.any_seat:  # of thousands the fewest pairs, then the smallest gears
            half, least = MADE_TRAINS // 2, least_sound_teeth(self.kit.pressure_angle_deg)
            sound = near(by="teeth", limit=half, least_teeth=least)
            ranked = (*near(limit=IDLED_TRAINS), *sound, *near(by="teeth", limit=half))
        else:
            ranked = near()[:TRAINS]
        every = (tuple((p.driver, p.driven) for p in c.train) for c in ranked)
        return list(dict.fromkeys((own, *every)))

    def _start(self, column: int) -> Half:
        if not self.places.by_row:
            middle = self.pitch * (self.columns - 1) // 2
            return (middle - middle % 2, 0)
        return (self.pitch * (column - 1), 0)

    def _at(self, row: Half, trains: dict[str, list[Pairs]]) -> tuple[Placed | None, bool]:
        """Place both sides with the row of selector shafts at a place; None if no better so."""
        chosen: list[Chosen] = []
        half_units = self.step_mm / (self.kit.grid_unit_mm / 2)
        cost, whole = half_units * (0.15 * row[1] + 0.1 * abs(row[0])), True
        left = Counter(self._stock()) if self.vehicle.search.within_stock else None
        for face in ("front", "back"):
            slots = [slot for slot in self.slots if slot.face == face]
            options = [self._options(slot, trains[slot.gear], row) for slot in slots]
            side = Side(self.kit, slots, options, step_mm=self.step_mm, holes_mm=self.holes_mm)
            worth = self._worth()
            most = None if worth is None else worth - cost
            picked, spent, done = side.choose(left, self.until, self.watch, most=most)
            if picked is None:
                return None, done
            chosen += picked
            cost += spent
            whole = whole and done
            if left is not None:
                left.subtract(counted(picked))
        names = {c.slot.gear for c in chosen}
        unplaced = tuple(slot.gear for slot in self.slots if slot.gear not in names)
        columns = range(1, self.columns + 1)
        inputs = [self._start(c) for c in (columns if self.places.by_row else columns[:1])]
        selectors = [(self.tied * (c - 1) + row[0], row[1]) for c in columns]
        aside, up = self._in_units(row)
        placed = Placed(
            tuple(chosen),
            up,
            aside,
            unplaced,
            cost,
            self.placing,
            tuple(map(self._in_units, inputs)),
            tuple(map(self._in_units, selectors)),
            self.steps_a_unit,
            self.offset_u,
        )
        return placed, whole

    def _in_units(self, place: Half) -> Point:
        """Give a place in units of the kit, whole ones as such."""
        x, y = (c / self.steps_a_unit for c in place)
        return (int(x) if x.is_integer() else x, int(y) if y.is_integer() else y)

    def _stock(self) -> dict[tuple[str, int], int]:
        kit = self.kit
        rows = Counter({("fixed", z): kit.owned(z, "fixed") or 0 for z in kit.sizes})
        rows.update({("free", z): kit.owned(z, "free") or 0 for z in kit.dog_sizes})
        taken = replace(self.places, row_teeth=self.row_teeth, tie_teeth=self.tie_teeth)
        rows.subtract(other_gears(self.vehicle, taken))
        return dict(rows)

    def _options(self, slot: Slot, trains: list[Pairs], row: Half) -> list[tuple[TrainRoute, Half]]:
        start = self._start(slot.column)
        columns = range(1, self.columns + 1)
        inputs = tuple({(self._start(c)[0] - start[0], 0) for c in columns})
        selectors = tuple((self.tied * (c - 1) + row[0] - start[0], row[1]) for c in columns)
        end = selectors[slot.column - 1]
        routes: list[TrainRoute] = []
        for number, pairs in enumerate(trains):
            if routes and monotonic() > self.until:
                self.cut_short = True
                break
            if len(routes) > self.most_ways < WAYS and number >= FIRST_TRAINS:
                break  # a first placement is looked for among these
            routes += self._ways(slot, pairs, number, end, inputs=inputs, selectors=selectors)
        routes = [way for way in routes if self._in_hull(way, start)]
        if slot.face == "front":
            routes = [way for way in routes if self._clears_tie(way, selectors)]
        if self.held[slot.gear] and self.kit.any_seat:
            routes = [way for way in routes if self._stands_held(way, slot, start)]
        routes.sort(key=lambda way: way.cost)
        return [(way, start) for way in routes[: self.most_ways]]

    def _from_start(self, point: Point, start: Half) -> Point:
        """Give a point in units of the kit as steps from a column's input shaft."""
        (x, y), (left, low), unit = point, self.offset_u, self.steps_a_unit
        return (x - left) * unit - start[0], (y - low) * unit - start[1]

    def _stands_held(self, way: TrainRoute, slot: Slot, start: Half) -> bool:
        """Whether a way has all shafts that are held, where they are held."""
        for (pair, idler), point in self.held[slot.gear].items():
            if pair >= len(way.train) or (idler or 0) >= max(len(way.train[pair].idlers), 1):
                return False
            if idler is not None and not way.train[pair].idlers:
                return False
            shafts = [len(p.idlers) + 1 for p in way.train[: pair + 1]]
            number = sum(shafts) if idler is None else sum(shafts[:-1]) + idler + 1
            x, y = self._from_start(point, start)
            off = hypot(way.points[number][0] - x, way.points[number][1] - y)
            if off * self.step_mm > SAME_MM or number == len(way.points) - 1:
                return False
        return True

    def _ways(
        self,
        slot: Slot,
        pairs: Pairs,
        number: int,
        end: Half,
        *,
        inputs: tuple[Half, ...],
        selectors: tuple[Half, ...],
    ) -> tuple[TrainRoute, ...]:
        """Lay one train; ``number`` is its place among those tried for its slot."""
        parity, layers = wanted_parity(self.vehicle, slot.gear), self.placing.layers
        start = self._start(slot.column)
        if not self.kit.any_seat:
            room = 2 * ASIDE_U
            return ways_between(
                self.kit,
                pairs,
                end,
                parity=parity,
                layers=layers,
                step=self.half_step,
                bounds=Bounds(min(0, end[0]) - room, max(0, end[0]) + room, -8, end[1] + 8),
                inputs=inputs,
                selectors=selectors,
                wanted=lambda way: self._stands_held(way, slot, start),
            )
        room = max(end[1], self.pitch)
        own, turned = number < IDLED_TRAINS, len(pairs) % 2 != parity
        through = {
            pair: self._from_start(point, start)
            for (pair, idler), point in self.held[slot.gear].items()
            if idler is None
        }
        own = own or bool(through)
        return free_ways_between(
            self.kit,
            pairs,
            end,
            parity=parity,
            layers=layers,
            bounds=Bounds(min(0, end[0]) - room, max(0, end[0]) + room, -room, end[1] + room),
            inputs=inputs,
            selectors=selectors,
            most_idlers=MOST_IDLERS if own else int(turned and number < TURNED_TRAINS),
            quick=not own,
            holes_mm=self.holes_mm,
            through=through,
        )

    def _in_hull(self, way: TrainRoute, start: Half) -> bool:
        """Whether all gears lie within the clear width and height, and within the outline."""
        placing, unit = self.placing, self.kit.grid_unit_mm
        if placing.wide_mm is None and placing.high_mm is None and not placing.outline_mm:
            return True
        steps = self.steps_a_unit
        middle = self.pitch * (self.columns - 1) / 2 / steps
        floor = -tip_mm(self.kit, self.row_teeth) / unit
        for teeth, number, _ in way.gears:
            x, y = way.points[number]
            tip = tip_mm(self.kit, teeth) / unit
            across, above = (x + start[0]) / steps, (y + start[1]) / steps
            aside = abs(across - middle) + tip
            if placing.wide_mm is not None and aside > placing.wide_mm / unit / 2 + 1e-9:
                return False
            if placing.high_mm is not None and not (
                floor - 1e-9 <= above - tip and above + tip <= floor + placing.high_mm / unit + 1e-9
            ):
                return False
            if placing.outline_mm and not self._in_outline(across, above, tip):
                return False
        return True

    def _row_inside(self, row: Half, *, rail: bool) -> bool:
        """Whether the rail's gears, or the tie's and the sleeves, lie inside the outline."""
        if not self.placing.outline_mm:
            return True
        tip = tip_mm(self.kit, self.row_teeth if rail else self.tie_teeth)
        pitch, steps = self.pitch if rail else self.tied, self.steps_a_unit
        if rail and (not self.places.by_row or self.columns == 1):
            return True
        if not rail:
            tip = max(sleeve_radius_mm(self.vehicle), tip if self.columns > 1 else 0.0)
        return all(
            self._in_outline(
                (pitch * column + row[0]) / steps, row[1] / steps, tip / self.kit.grid_unit_mm
            )
            for column in range(self.columns)
        )

    def _in_outline(self, x: float, y: float, radius: float) -> bool:
        """Whether a circle lies inside the hull's outline: its middle is, and no side is nearer."""
        left, low = self.offset_u
        unit = self.kit.grid_unit_mm
        corners = [(a / unit - left, b / unit - low) for a, b in self.placing.outline_mm]
        inside = False
        for (a, b), (c, d) in zip(corners, [*corners[1:], corners[0]], strict=True):
            if (b > y) != (d > y) and x < a + (y - b) * (c - a) / (d - b):
                inside = not inside
            if to_segment(((a, b), (c, d)), (x, y)) < radius - 1e-9:
                return False
        return inside

    def _clears_tie(self, way: TrainRoute, selectors: tuple[Half, ...]) -> bool:
        """Whether the shafts that pass the tie gears' layer keep clear of them."""
        tip = tip_mm(self.kit, self.tie_teeth)
        least = (tip + self.kit.shaft_diameter_mm / 2 + self.room) / self.step_mm
        passing = {s for _, s, layer in way.gears if layer == 1} - {0, len(way.points) - 1}
        return all(_far(way.points[n], place, least) for n in passing for place in selectors)


def _held_between(slot: Slot, pins: Mapping[str, Point]) -> dict[Between, Point]:
    """Give where shafts between a slot's two ends are held: behind a pair, or of one's idlers."""
    key, known = gear_key(slot.gear), dict(enumerate(pair_ids(slot.train)))
    held: dict[Between, Point] = {}
    for number in range(MAX_PAIRS):
        own = known.get(number, str(number))
        names: dict[str, int | None] = {shaft_after(key, own): None}
        names |= {idler_shaft(key, own, place): place for place in range(MOST_IDLERS + 1)}
        held |= {(number, names[name]): pins[name] for name in names if name in pins}
    return held


def _far(one: Half, other: Half, steps: float) -> bool:
    return hypot(one[0] - other[0], one[1] - other[1]) >= steps - 1e-9

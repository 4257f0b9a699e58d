"""One side of a slot box: of the ways of every slot one each, all clear of one another.

Ways that begin alike at one shaft may share gears: as long as they run through the same gears in
the same places they are one train, and their speeds agree.
"""

from collections import Counter
from dataclasses import dataclass
from time import monotonic

import numpy as np

from mild_badger.core.kit.part_sizes import tip_mm
from mild_badger.core.layout.routes import Half, TrainRoute, clearance_mm, gear_cost
from mild_badger.core.vehicle.box import Slot
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.watch import Watch

__all__ = ["UNPLACED", "Chosen", "Side", "counted"]

UNPLACED = 10_000.0
"""Cost of a slot that is left out: more than any way of placing it."""
OUTER = -1
"""Marks a shaft that passes the layers beyond the inner wall only."""
MOST_ROUNDS = 3
Place = tuple[int, int, int, int]
"""A gear or, with no teeth, a shaft: its place in steps, its layer, its teeth."""
Item = tuple[Place, tuple[Place, ...]]
"""Something at its place, and all gears through which the power comes there."""
Laid = tuple[TrainRoute, Half]
"""A way, and where its column's input shaft stands."""


@dataclass(frozen=True)
class Chosen:
    """A slot's way, and where its column's input shaft stands, in steps."""

    slot: Slot
    way: TrainRoute
    start: Half

    @property
    def gears(self) -> tuple[Place, ...]:
        """Its gears at their places in the box, in the order of the power."""
        return gears_at(self.way, self.start)


def gears_at(way: TrainRoute, start: Half) -> tuple[Place, ...]:
    """List the gears of a way at their places in the box."""
    return tuple(
        (way.points[s][0] + start[0], way.points[s][1] + start[1], layer, teeth)
        for teeth, s, layer in way.gears
    )


def counted(chosen: list[Chosen]) -> Counter[tuple[str, int]]:
    """Count the gears of ways by bore and teeth, shared ones once; the last of each runs free."""
    counts: Counter[tuple[str, int]] = Counter()
    seen = set()
    for one in chosen:
        gears = one.gears
        for number, gear in enumerate(gears):
            if gears[: number + 1] not in seen:
                seen.add(gears[: number + 1])
                last = number == len(gears) - 1
                counts["free" if last else "fixed", gear[3]] += 1
    return counts


def _items(way: TrainRoute, start: Half) -> list[Item]:
    """List the gears of a way and the shafts between, each behind the gear that drives it.

    What two ways share is then always the beginning of both.
    """
    gears = gears_at(way, start)
    inner = {s for _, s, layer in way.gears if layer == 1}
    items: list[Item] = []
    seen = {0, len(way.points) - 1}  # the ends carry other columns too
    for number, (gear, (_, shaft, _)) in enumerate(zip(gears, way.gears, strict=True)):
        path = gears[: number + 1]
        items.append((gear, path))
        if shaft not in seen:
            seen.add(shaft)
            items.append(((gear[0], gear[1], 0 if shaft in inner else OUTER, 0), path))
    return items


class Side:
    """One side of the sleeves: which ways of different slots go together."""

    def __init__(
        self,
        kit: Kit,
        slots: list[Slot],
        options: list[list[Laid]],
        *,
        step_mm: float,
        holes_mm: float,
    ) -> None:
        self.step_mm, self.holes_mm = step_mm, holes_mm
        self.kit, self.slots, self.options = kit, slots, options
        self.order = sorted(range(len(slots)), key=lambda n: len(options[n]))
        items = [[_items(*laid) for laid in ways] for ways in options]
        places: dict[Place, int] = {}
        rows = [
            [[places.setdefault(place, len(places)) for place, _ in own] for own in mine]
            for mine in items
        ]
        self.places = np.array(list(places), dtype=np.int32).reshape(-1, 4)
        clash = self._clash()
        bits = []
        for mine in rows:
            table = np.zeros((len(mine), len(places)), dtype=np.float32)
            for number, held in enumerate(mine):
                table[number, held] = 1
            bits.append(table)
        barred = [table @ clash for table in bits]
        self.common = {
            (a, b): _common(items[a], items[b])
            for a in range(len(items))
            for b in range(len(items))
            if a != b
        }
        self.fits: dict[tuple[int, int], np.ndarray] = {}
        for (a, b), common in self.common.items():
            hits = barred[a] @ bits[b].T
            if common is not None:
                # clashes of what both are with the rest of either are none: each is clear itself
                one, other = _first(rows[a], barred[a]), _first(rows[b], barred[b])
                hits -= np.take_along_axis(one, common, axis=1)
                hits -= np.take_along_axis(other, common.T, axis=1).T
                hits += np.take_along_axis(_within(rows[a], clash), common, axis=1)
            self.fits[a, b] = np.asarray(hits < 0.5)

    def _clash(self) -> np.ndarray:
        """Say of every two gears or shafts at their places whether they touch.

        A shaft is in the way of gears in all the layers it passes: all, or those beyond the wall.
        """
        items, unit = self.places, self.step_mm
        if not len(items):
            return np.zeros((0, 0), dtype=np.float32)
        tips = np.array([tip_mm(self.kit, int(teeth)) if teeth else 0.0 for teeth in items[:, 3]])
        shaft = self.kit.shaft_diameter_mm / 2
        place = items[:, :2].astype(float) * unit
        apart = np.hypot(
            place[:, None, 0] - place[None, :, 0], place[:, None, 1] - place[None, :, 1]
        )
        is_shaft = items[:, 3] == 0
        reach = np.where(is_shaft, shaft, tips)
        near = apart < reach[:, None] + reach[None, :] + clearance_mm(self.kit)
        near |= is_shaft[:, None] & is_shaft[None, :] & (apart < self.holes_mm)
        same_layer = items[:, None, 2] == items[None, :, 2]
        layer = items[:, 2]
        passes = is_shaft[:, None] & ((layer[:, None] != OUTER) | (layer[None, :] != 1))
        relevant = same_layer | passes | passes.T
        clash = near & relevant
        return np.asarray(clash, dtype=np.float32)

    def choose(
        self,
        stock: "Counter[tuple[str, int]] | None",
        until: float,
        watch: Watch,
        *,
        most: float | None = None,
    ) -> tuple[list[Chosen] | None, float, bool]:
        """Choose one way a slot, the cheapest that go together; slots left out cost most of all.

        None where nothing costs less than ``most``.
        """
        best_cost = UNPLACED * len(self.slots) + 1 if most is None else most
        best: dict[int, int] | None = None
        picked: dict[int, int] = {}
        steps = 0
        whole = True
        costs = [np.array([way.cost for way, _ in ways]) for ways in self.options]
        floor = [float(c.min()) if len(c) else UNPLACED for c in costs]

        def extend(depth: int, cost: float, open_: list[np.ndarray]) -> None:
            nonlocal best_cost, best, steps, whole
            rest = sum(floor[n] for n in self.order[depth:])
            if cost + rest >= best_cost - 1e-9:
                return
            if depth == len(self.order):
                best_cost, best = cost, dict(picked)
                return
            steps += 1
            if steps % 64 == 0:
                watch.tick(0.0, None)
                if monotonic() > until and (best is not None or most is not None):
                    whole = False
                    return
            slot = self.order[depth]
            for number in np.flatnonzero(open_[slot]):
                if cost + costs[slot][number] + rest - floor[slot] >= best_cost - 1e-9:
                    break  # ways are sorted by their cost
                if not whole:
                    return
                if stock is not None and not self._in_stock(stock, {**picked, slot: int(number)}):
                    continue
                after = list(open_)
                dead = False
                for other in self.order[depth + 1 :]:
                    after[other] = open_[other] & self.fits[slot, other][number]
                    dead = dead or not after[other].any()
                if dead and best_cost < UNPLACED:
                    continue
                picked[slot] = int(number)
                extend(depth + 1, cost + float(costs[slot][number]), after)
                del picked[slot]
            extend(depth + 1, cost + UNPLACED, open_)

        extend(0, 0.0, [np.ones(len(ways), dtype=bool) for ways in self.options])
        if best is None:
            return None, 0.0, whole
        best = self._shared(best, stock)
        chosen = self._chosen(best)
        return chosen, best_cost - _saved(chosen), whole

    def _chosen(self, picked: dict[int, int]) -> list[Chosen]:
        return [Chosen(self.slots[n], *self.options[n][way]) for n, way in sorted(picked.items())]

    def _shared(
        self, picked: dict[int, int], stock: "Counter[tuple[str, int]] | None"
    ) -> dict[int, int]:
        """Change ways for others that share gears, as long as that costs less in all."""
        if all(common is None for common in self.common.values()):
            return picked
        best = dict(picked)
        cost = self._cost(best)
        for _ in range(MOST_ROUNDS):
            before = cost
            for slot in picked:
                open_ = np.ones(len(self.options[slot]), dtype=bool)
                for other, way in best.items():
                    if other != slot:
                        open_ &= self.fits[slot, other][:, way]
                for number in np.flatnonzero(open_):
                    tried = {**best, slot: int(number)}
                    if stock is not None and not self._in_stock(stock, tried):
                        continue
                    if (cost_tried := self._cost(tried)) < cost - 1e-9:
                        best, cost = tried, cost_tried
            if cost >= before - 1e-9:
                break
        return best

    def _cost(self, picked: dict[int, int]) -> float:
        own = sum(self.options[slot][way][0].cost for slot, way in picked.items())
        return own - _saved(self._chosen(picked))

    def _in_stock(self, stock: Counter[tuple[str, int]], picked: dict[int, int]) -> bool:
        used = counted(self._chosen(picked))
        return all(stock[key] >= count for key, count in used.items())


def _saved(chosen: list[Chosen]) -> float:
    """Give what the gears that ways share would cost once more."""
    saved, seen = 0.0, set()
    for one in chosen:
        gears = one.gears
        for number, gear in enumerate(gears):
            path = gears[: number + 1]
            if path in seen:
                saved += gear_cost(gear[3])
            seen.add(path)
    return saved


def _common(one: list[list[Item]], other: list[list[Item]]) -> np.ndarray | None:
    """Count what every way of a slot has in common with every one of another; None for nothing."""
    both = {item for own in one for item in own} & {item for own in other for item in own}
    if not both:
        return None
    number = {item: n for n, item in enumerate(both)}
    tables = []
    for ways in (one, other):
        table = np.zeros((len(ways), len(both)), dtype=np.float32)
        for row, own in enumerate(ways):
            table[row, [number[item] for item in own if item in number]] = 1
        tables.append(table)
    return np.asarray(tables[0] @ tables[1].T, dtype=np.int64)


def _first(rows: list[list[int]], barred: np.ndarray) -> np.ndarray:
    """Sum up, for every way and number of its first things, what they bar of the way itself."""
    longest = max((len(row) for row in rows), default=0)
    table = np.zeros((len(rows), longest + 1))
    for number, row in enumerate(rows):
        sums = np.cumsum(barred[number, row])
        table[number, 1 : len(row) + 1] = sums
    return table


def _within(rows: list[list[int]], clash: np.ndarray) -> np.ndarray:
    """Count for every way the clashes among its own first things, for each number of them."""
    longest = max((len(row) for row in rows), default=0)
    table = np.zeros((len(rows), longest + 1))
    for number, row in enumerate(rows):
        own = clash[np.ix_(row, row)]
        for count in range(1, len(row) + 1):
            table[number, count] = own[:count, :count].sum()
    return table

"""The catch: it slides along a rail from column to column and tilts there, front or back."""

from dataclasses import dataclass
from itertools import pairwise

from mild_badger.core.message import say, say_count
from mild_badger.core.shift.moves import shift_between
from mild_badger.core.vehicle.box import Slot
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import column_of, rail_of

__all__ = ["CatchShift", "best_catch_order", "catch_run", "catch_shift", "catch_sleeves"]

MOST_COLUMNS_EXACT = 12
"""Up to so many columns the best order is found exactly; beyond, gears' own order is taken."""


@dataclass(frozen=True)
class CatchShift:
    """What the catch does from one gear to another.

    ``slides`` counts the columns it goes on, ``tilts`` how often it turns out of or into a gear;
    ``sleeves`` are the ones it stands at, in order.
    """

    start: str | None
    end: str | None
    slides: int
    tilts: int
    seconds: float
    words: str

    @property
    def moves(self) -> int:
        """Slides, each however long, and tilts together."""
        return bool(self.slides) + self.tilts


def catch_sleeves(vehicle: Vehicle) -> dict[str, tuple[str, ...]]:
    """List the sleeves along the rail of each catch: one, but two for a range × splitter box."""
    sleeves_of: dict[str, set[str]] = {}
    for gear in vehicle.real.gears:
        if vehicle.box.ready(gear.id):
            for sleeve in vehicle.box.engaged(gear.id):
                sleeves_of.setdefault(rail_of(sleeve), set()).add(sleeve)
    order = list(vehicle.shifting.catch.order)

    def place(sleeve: str) -> tuple[int, int]:
        number = column_of(sleeve)
        return (
            (order.index(number), 0)
            if rail_of(sleeve) == "sleeve" and number in order
            else (len(order), number)
        )

    return {kind: tuple(sorted(sleeves, key=place)) for kind, sleeves in sleeves_of.items()}


def catch_shift(vehicle: Vehicle, start: str | None, end: str | None) -> CatchShift:
    """Count what the catch does between two gears, None being neutral in the column it left."""
    catch = vehicle.shifting.catch
    shift = shift_between(vehicle.box, start, end)
    slides, words = 0, []
    for sleeves in catch_sleeves(vehicle).values():
        moves = [move for move in shift.moves if move.sleeve in sleeves]
        for move, following in pairwise((*moves, None)):
            if move is None:
                continue
            words.append(
                say("shift.tilt-into-gear-at-column", end=move.end, column=_column(move.sleeve))
                if move.end
                else say("shift.tilt-upright-at-column", column=_column(move.sleeve))
            )
            if following is not None and following.sleeve != move.sleeve:
                step = sleeves.index(following.sleeve) - sleeves.index(move.sleeve)
                slides += abs(step)
                words.append(say("shift.slide", column=say_count("count.column", abs(step))))
    tilts = len(shift.moves)
    if shift.one_pull:
        words = [
            say(
                "shift.tilt-from-over-upright-to",
                start=shift.moves[0].start,
                end=shift.moves[1].end,
            )
        ]
    seconds = slides * catch.slide_s + tilts * catch.tilt_s
    return CatchShift(
        start, end, slides, tilts, seconds, ", ".join(words) or say("shift.nothing-moves")
    )


def catch_run(vehicle: Vehicle) -> tuple[CatchShift, ...]:
    """Count the run 1 … n … 1."""
    gears = [g.id for g in vehicle.real.gears if not g.reverse and vehicle.box.ready(g.id)]
    run = (*gears, *reversed(gears[:-1]))
    return tuple(catch_shift(vehicle, a, b) for a, b in pairwise(run))


def best_catch_order(vehicle: Vehicle) -> tuple[int, ...]:
    """Order the columns for the fewest slides over the run 1 … n … 1.

    A linear arrangement of least total length, exact by a sweep over subsets: a set of columns put
    first costs every change between it and the rest once (Adolphson and Hu, SIAM J. Appl. Math.
    25 (1973) 403-423, define the problem; the sweep is common practice, from memory).
    """
    gears = [g.id for g in vehicle.real.gears if not g.reverse and vehicle.box.ready(g.id)]
    columns: list[int] = []
    weight: dict[tuple[int, int], int] = {}
    places = [_only_column(vehicle, gear) for gear in gears]
    every = [*places, *(_only_column(vehicle, g.id) for g in vehicle.real.gears if g.reverse)]
    columns = list(dict.fromkeys(c for c in every if c is not None))
    for one, other in pairwise(places):
        if one is not None and other is not None and one != other:
            a, b = sorted((columns.index(one), columns.index(other)))
            weight[a, b] = weight.get((a, b), 0) + 1
    count = len(columns)
    if count > MOST_COLUMNS_EXACT:
        return tuple(columns)
    best: list[tuple[int, tuple[int, ...]]] = [(0, ())]
    for chosen in range(1, 1 << count):
        cut = sum(w for (a, b), w in weight.items() if (chosen >> a & 1) != (chosen >> b & 1))
        best.append(
            min(
                (best[chosen ^ 1 << last][0] + cut, (*best[chosen ^ 1 << last][1], last))
                for last in range(count)
                if chosen >> last & 1
            )
        )
    return tuple(columns[n] for n in best[-1][1])


def _only_column(vehicle: Vehicle, gear: str) -> int | None:
    slot = vehicle.box.slot(gear)
    return slot.column if isinstance(slot, Slot) else None


def _column(sleeve: str) -> str:
    return str(column_of(sleeve))

"""What a train may be made of, and what joining two sizes costs in idlers."""

from dataclasses import dataclass
from functools import cache, lru_cache
from heapq import heappop, heappush
from itertools import pairwise, product

from mild_badger.core.mesh.seats import seats_well
from mild_badger.core.vehicle.kit import Kit

__all__ = ["IdlerCost", "IdlerTable", "Rules", "any_rules", "slot_rules"]

IdlerCost = tuple[int, int, tuple[int, ...]]
"""Number of idlers, their teeth in total, and the idlers themselves from driver to driven."""

MOST_IDLERS = 4


@dataclass(frozen=True)
class IdlerTable:
    """For each ordered pair of sizes, the cheapest even and odd number of idlers between them.

    Entry ``[p][i][j]`` has parity p; None where the two cannot be joined so.
    """

    sizes: tuple[int, ...]
    entries: tuple[tuple[tuple[IdlerCost | None, ...], ...], ...]

    def cost(self, driver: int, driven: int, parity: int) -> IdlerCost | None:
        """Look up a pair by tooth counts; parity 0 for even, 1 for odd."""
        return self.entries[parity][self.sizes.index(driver)][self.sizes.index(driven)]


@dataclass(frozen=True)
class Rules:
    """What the trains of a pool obey.

    Parameters
    ----------
    sizes
        Tooth counts that may stand anywhere, ascending.
    max_pairs
        Most pairs in a train.
    last_driven
        Sizes allowed as the last driven gear, or None for any.
    idlers
        How two sizes are joined.
    max_gears
        Most gears in a train, idlers among them; None for no limit.
    """

    sizes: tuple[int, ...]
    max_pairs: int
    last_driven: tuple[int, ...] | None
    idlers: IdlerTable
    max_gears: int | None = None

    @property
    def any_meshes(self) -> bool:
        """Whether any two sizes mesh and any may stand last, so that only products matter."""
        table = self.idlers
        return self.last_driven is None and all(
            entry == (0, 0, ()) for row in table.entries[0] for entry in row
        )

    def joins(self, driver: int, driven: int, parity: int) -> tuple[tuple[int, ...], ...]:
        """List the idlers of every size that join two sizes with as few as can be."""
        cheapest = self.idlers.cost(driver, driven, parity)
        if cheapest is None:
            return ()
        if not cheapest[0]:
            return ((),)
        return tuple(
            row
            for row in product(self.sizes, repeat=cheapest[0])
            if all(
                self.idlers.entries[0][self.sizes.index(a)][self.sizes.index(b)] == (0, 0, ())
                for a, b in pairwise((driver, *row, driven))
            )
        )


def any_rules(
    sizes: tuple[int, ...],
    max_pairs: int,
    *,
    max_tooth_sum: int | None = None,
    max_gears: int | None = None,
) -> Rules:
    """Pairs alone: any size anywhere, any two mesh, an idler (of the smallest size) turns over.

    With ``max_tooth_sum`` no two gears with more teeth together mesh, which is a greatest centre
    distance of max_tooth_sum · module / 2.
    """
    ordered = tuple(sorted(set(sizes)))
    if max_tooth_sum is not None and max_tooth_sum < 2 * ordered[-1]:
        meshes = tuple(tuple(a + b <= max_tooth_sum for b in ordered) for a in ordered)
        return Rules(ordered, max_pairs, None, _idlers(ordered, meshes), max_gears)
    direct: IdlerCost = (0, 0, ())
    over: IdlerCost = (1, ordered[0], (ordered[0],))
    n = len(ordered)
    entries = tuple(tuple((cost,) * n for _ in range(n)) for cost in (direct, over))
    return Rules(ordered, max_pairs, None, IdlerTable(ordered, entries), max_gears)


def slot_rules(
    kit: Kit,
    max_pairs: int,
    *,
    max_tooth_sum: int | None = None,
    max_gears: int | None = None,
) -> Rules:
    """Build the slot box's rules: dog faces on the last driven gear, every mesh seated."""
    if kit.any_seat and set(kit.dog_sizes) == set(kit.sizes):
        return any_rules(kit.sizes, max_pairs, max_tooth_sum=max_tooth_sum, max_gears=max_gears)
    idlers = grid_idlers(kit, max_tooth_sum=max_tooth_sum)
    return Rules(kit.sizes, max_pairs, kit.dog_sizes, idlers, max_gears)


def grid_idlers(kit: Kit, *, max_tooth_sum: int | None = None) -> IdlerTable:
    """Find the cheapest idlers that join each pair of sizes where the kit's gears can sit.

    Two sizes that never sit together are joined over others (8 and 12 by 24, domain.md §8).
    """
    sizes = kit.sizes
    if kit.any_seat:
        return any_rules(sizes, 1, max_tooth_sum=max_tooth_sum).idlers
    most = 2 * max(sizes, default=0) if max_tooth_sum is None else max_tooth_sum
    return _idlers(sizes, _meshes(_bare(kit, sizes), sizes, most))


def _bare(kit: Kit, sizes: tuple[int, ...]) -> Kit:
    """Leave out of a kit what has no bearing on seats, so that what was found is found again."""
    firsts = {gear.teeth: gear for gear in reversed(kit.gears)}
    gears = tuple(firsts[z].model_copy(update={"stock": 0}) for z in sizes if z in firsts)
    nothing: dict[str, object] = dict.fromkeys(("bevels", "bearings", "others", "barred"), ())
    nothing |= {"gears": gears, "shaft_lengths_u": (), "name": "", "mesh_loss": 0.0}
    nothing |= {"shaft_stock": 0, "sleeve_stock": 0}
    return kit.model_copy(update=nothing)


@lru_cache(maxsize=16)
def _meshes(kit: Kit, sizes: tuple[int, ...], most: int) -> tuple[tuple[bool, ...], ...]:
    return tuple(tuple(a + b <= most and seats_well(kit, a, b) for b in sizes) for a in sizes)


@cache
def _idlers(sizes: tuple[int, ...], meshes: tuple[tuple[bool, ...], ...]) -> IdlerTable:
    n = len(sizes)
    entries: list[list[list[IdlerCost | None]]] = [[[None] * n for _ in range(n)] for _ in range(2)]
    for start in range(n):
        # Dijkstra over (size, parity): a walk of seated meshes, fewest idlers, then fewest teeth.
        queue: list[tuple[int, int, tuple[int, ...], int]] = [(0, 0, (), start)]
        seen: set[tuple[int, int]] = set()
        while queue:
            count, teeth, between, here = heappop(queue)
            if (here, count % 2) in seen or count > MOST_IDLERS:
                continue
            if count:
                seen.add((here, count % 2))
            for there in range(n):
                if not meshes[here][there]:
                    continue
                entry: IdlerCost = (count, teeth, between)
                known = entries[count % 2][start][there]
                if known is None or entry < known:
                    entries[count % 2][start][there] = entry
                if count == MOST_IDLERS or (there, (count + 1) % 2) in seen:
                    continue  # it would be let go when its turn came
                step = (count + 1, teeth + sizes[there], (*between, sizes[there]), there)
                heappush(queue, step)
    return IdlerTable(sizes, tuple(tuple(tuple(row) for row in parity) for parity in entries))

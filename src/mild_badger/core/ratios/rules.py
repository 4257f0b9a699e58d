"""What a train may be made of, and what joining two sizes costs in idlers."""

from dataclasses import dataclass
from functools import cache
from heapq import heappop, heappush

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
    """

    sizes: tuple[int, ...]
    max_pairs: int
    last_driven: tuple[int, ...] | None
    idlers: IdlerTable


def any_rules(sizes: tuple[int, ...], max_pairs: int) -> Rules:
    """Pairs alone: any size anywhere, any two mesh, an idler (of the smallest size) turns over."""
    ordered = tuple(sorted(set(sizes)))
    direct: IdlerCost = (0, 0, ())
    over: IdlerCost = (1, ordered[0], (ordered[0],))
    n = len(ordered)
    entries = tuple(tuple((cost,) * n for _ in range(n)) for cost in (direct, over))
    return Rules(ordered, max_pairs, None, IdlerTable(ordered, entries))


def slot_rules(kit: Kit, max_pairs: int) -> Rules:
    """Build the slot box's rules: dog faces on the last driven gear, every mesh on whole units."""
    return Rules(kit.sizes, max_pairs, kit.dog_sizes, grid_idlers(kit))


def grid_idlers(kit: Kit) -> IdlerTable:
    """Find the cheapest idlers that join each pair of sizes on whole units.

    Two sizes that never sit together are joined over others (8 and 12 by 24, domain.md §8).
    """
    sizes = kit.sizes
    meshes = tuple(tuple(seats_well(kit, a, b) for b in sizes) for a in sizes)
    return _idlers(sizes, meshes)


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
                step = (count + 1, teeth + sizes[there], (*between, sizes[there]), there)
                heappush(queue, step)
    return IdlerTable(sizes, tuple(tuple(tuple(row) for row in parity) for parity in entries))

"""Solids read back as any program reads them."""

import struct
from itertools import pairwise

__all__ = ["volume_of"]


def volume_of(stl: bytes) -> float:
    """Volume by the divergence theorem, corners read as any STL reader does."""
    (count,) = struct.unpack_from("<I", stl, 80)
    assert len(stl) == 84 + 50 * count
    total = 0.0
    edges: set[frozenset[tuple[float, ...]]] = set()
    for n in range(count):
        v = struct.unpack_from("<12f", stl, 84 + 50 * n)[3:]
        a, b, c = v[0:3], v[3:6], v[6:9]
        total += (
            a[0] * (b[1] * c[2] - b[2] * c[1])
            - a[1] * (b[0] * c[2] - b[2] * c[0])
            + a[2] * (b[0] * c[1] - b[1] * c[0])
        ) / 6
        edges ^= {frozenset(pair) for pair in pairwise((a, b, c, a))}
    assert not edges  # every edge borders an even number of triangles: the solid is closed
    return total

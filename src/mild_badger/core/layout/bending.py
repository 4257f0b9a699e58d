"""Shafts as beams: how far forces push them at the places where gears sit.

Euler-Bernoulli beam of one stiffness on simple supports, any number of them, by the stiffness
method with cubic elements, which is exact for forces at nodes (Przemieniecki, Theory of Matrix
Structural Analysis; from memory). Nothing else is assumed about the shaft.
"""

from functools import lru_cache
from itertools import pairwise

import numpy as np

__all__ = ["bearing_shares", "influence"]

SAME_MM = 1e-6


@lru_cache(maxsize=1024)
def influence(
    supports_mm: tuple[float, ...], places_mm: tuple[float, ...], stiffness_n_mm2: float
) -> np.ndarray:
    """Give the deflection at every place per newton at every place, in mm/N.

    Parameters
    ----------
    supports_mm, places_mm
        Where the shaft is held and where it is looked at, along its axis.
    stiffness_n_mm2
        Young's modulus times the second moment of area.

    Returns
    -------
    ndarray of shape (places, places)
        Symmetric (Maxwell); infinite everywhere with fewer than two supports.
    """
    count = len(places_mm)
    held = _apart(supports_mm)
    if len(held) < 2:
        return np.full((count, count), np.inf)
    nodes, _, bent = _solved(tuple(held), places_mm, stiffness_n_mm2)
    rows = [2 * _number(nodes, place) for place in places_mm]
    bends = np.asarray(bent[np.ix_(rows, rows)])
    bends.setflags(write=False)  # shared by all who ask the same
    return bends


@lru_cache(maxsize=1024)
def bearing_shares(supports_mm: tuple[float, ...], places_mm: tuple[float, ...]) -> np.ndarray:
    """Give what each support takes of a newton at every place, whatever the shaft's stiffness.

    Returns
    -------
    ndarray of shape (supports, places)
        Columns add up to 1 and their moments to the place, to 1e-6 with everything half a
        millimetre apart; not a number with fewer than two supports, which hold nothing.
    """
    held = _apart(supports_mm)
    if len(held) < 2:
        return np.full((len(supports_mm), len(places_mm)), np.nan)
    nodes, whole, bent = _solved(tuple(held), places_mm, 1.0)
    columns = [2 * _number(nodes, place) for place in places_mm]
    rows = [2 * _number(nodes, place) for place in supports_mm]
    shares: np.ndarray = -(whole @ bent[:, columns])[rows]
    for column, place in enumerate(places_mm):  # what stands on a support bears on it alone
        if min(abs(place - support) for support in held) <= SAME_MM:
            shares[:, column] = [float(abs(place - s) <= SAME_MM) for s in supports_mm]
    shares.setflags(write=False)
    return shares


def _solved(
    held: tuple[float, ...], places_mm: tuple[float, ...], stiffness_n_mm2: float
) -> tuple[list[float], np.ndarray, np.ndarray]:
    """Give the nodes, the stiffness of the whole, and its inverse with the supports held."""
    nodes = _apart((*held, *places_mm))
    whole = np.zeros((2 * len(nodes), 2 * len(nodes)))
    for n, (left, right) in enumerate(pairwise(nodes)):
        span = right - left
        own = (
            stiffness_n_mm2
            / span**3
            * np.array(
                [
                    [12, 6 * span, -12, 6 * span],
                    [6 * span, 4 * span**2, -6 * span, 2 * span**2],
                    [-12, -6 * span, 12, -6 * span],
                    [6 * span, 2 * span**2, -6 * span, 4 * span**2],
                ]
            )
        )
        whole[2 * n : 2 * n + 4, 2 * n : 2 * n + 4] += own
    fixed = {2 * _number(nodes, place) for place in held}
    free = [n for n in range(2 * len(nodes)) if n not in fixed]
    bent = np.zeros_like(whole)
    bent[np.ix_(free, free)] = np.linalg.inv(whole[np.ix_(free, free)])
    return nodes, whole, bent


def _apart(places: tuple[float, ...]) -> list[float]:
    distances: list[float] = []
    for place in sorted(places):
        if not distances or place - distances[-1] > SAME_MM:
            distances.append(place)
    return distances


def _number(nodes: list[float], place: float) -> int:
    return min(range(len(nodes)), key=lambda n: abs(nodes[n] - place))

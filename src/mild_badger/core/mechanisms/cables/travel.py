"""How far cables pull over levers with several holes, and which holes do best.

A cable pulls square to its lever's middle, so that a hole at r moves r sin θ: travels stand as the
holes' distances, x_out / x_in = r_out / r_in, as far as the lever may swing.
"""

from dataclasses import dataclass
from math import asin, degrees, inf, radians, sin

import numpy as np

from mild_badger.core.mechanisms.cables.model import CableRun, Cables
from mild_badger.core.message import say

__all__ = [
    "HoleChoice",
    "RunFigures",
    "best_holes",
    "choices",
    "leans_deg",
    "pull_n",
    "run_figures",
    "with_holes",
]


@dataclass(frozen=True)
class RunFigures:
    """One cable with the lever thrown over: travels mm, angles from one end to the other in °.

    ``travels`` are at the hand's hole, then behind each lever, the last one at the end; ``swings``
    each lever's, the hand's first; ``jams`` names what swings too far, "" for nothing. ``starts``
    is the share of the hand's stroke at which the end begins to move.
    """

    run: CableRun
    travels: tuple[float, ...]
    swings: tuple[float, ...]
    starts: float
    jams: str

    @property
    def travel(self) -> float:
        """What the end moves."""
        return self.travels[-1]

    @property
    def error_percent(self) -> float:
        """How far that is from what is wanted."""
        return 100 * (self.travel / self.run.wanted_mm - 1)


def _swing(travel: float, arm: float) -> float:
    """Give the whole angle through which an arm swings for a travel; infinite beyond its reach."""
    return 2 * degrees(asin(travel / 2 / arm)) if travel <= 2 * arm else inf


def run_figures(cables: Cables, run: CableRun, share: float = 1.0) -> RunFigures:
    """Follow a cable with the hand moved by a share of its stroke."""
    stroke = share * cables.stroke_mm
    hole = cables.holes_mm[run.from_hole - 1]
    at_hole = stroke * hole / cables.hand_mm
    travels, swings = [at_hole], [_swing(stroke, cables.hand_mm)]
    jams = say("cables.the-hand-lever") if swings[0] > 2 * cables.swing_deg else ""
    here = max(at_hole - run.slack_mm, 0.0)
    for number, lever in enumerate(run.levers, start=1):
        arm = lever.holes_mm[lever.takes - 1]
        swings.append(_swing(here, arm))
        if swings[-1] > 2 * lever.swing_deg and not jams:
            jams = say("cables.lever-of", number=number, name=run.name)
        here *= lever.holes_mm[lever.gives - 1] / arm
        travels.append(here)
    if not run.levers:
        travels.append(here)
    starts = min(run.slack_mm / at_hole, 1.0) if at_hole else 1.0
    return RunFigures(run, tuple(travels), tuple(swings), starts, jams)


def leans_deg(cables: Cables, run: CableRun, share: float) -> tuple[float, ...]:
    """Give each lever's angle from its middle at a share of the stroke, the hand's first.

    A lever swings from as far on the one side to as far on the other; one that would have to go
    beyond its reach stays in the middle.
    """
    whole, now = run_figures(cables, run), run_figures(cables, run, share)
    leans = []
    for full, here in zip(whole.swings, now.swings, strict=True):
        if not 0 < full < inf:
            leans.append(0.0)
            continue
        gone = sin(radians(here) / 2) / sin(radians(full) / 2)
        leans.append(full * (min(gone, 1.0) - 0.5))
    return tuple(leans)


def pull_n(cables: Cables, run: CableRun) -> float:
    """Give the force at the hand that moves one cable's end: work in is work out and the loss."""
    ratio = cables.holes_mm[run.from_hole - 1] / cables.hand_mm
    for lever in run.levers:
        ratio *= lever.holes_mm[lever.gives - 1] / lever.holes_mm[lever.takes - 1]
    return run.push_n * ratio / (1 - run.loss)


@dataclass(frozen=True)
class HoleChoice:
    """Holes for one cable: of the hand lever, then in and out of each lever; what comes of it."""

    from_hole: int
    levers: tuple[tuple[int, int], ...]
    travel: float
    error_percent: float


def choices(cables: Cables, run: CableRun, limit: int = 40) -> tuple[HoleChoice, ...]:
    """List the holes that come nearest to the travel wanted, those that would jam left out."""
    hand = _hand_limit(cables)
    if cables.stroke_mm > hand:
        return ()
    ranked: list[tuple[float, int, tuple[tuple[int, int], ...], float]] = []
    for number, hole in enumerate(cables.holes_mm, start=1):
        start = max(cables.stroke_mm * hole / cables.hand_mm - run.slack_mm, 0.0)
        travel = np.array([start])
        holes: list[tuple[tuple[int, int], ...]] = [()]
        for lever in run.levers:
            arms = np.array(lever.holes_mm)
            most = 2 * arms * sin(radians(lever.swing_deg))
            fits = travel[:, None] <= most[None, :] + 1e-9
            grown = travel[:, None, None] * arms[None, None, :] / arms[None, :, None]
            which = np.argwhere(np.broadcast_to(fits[:, :, None], grown.shape))
            holes = [(*holes[k], (int(i) + 1, int(o) + 1)) for k, i, o in which]
            travel = grown[which[:, 0], which[:, 1], which[:, 2]]
        if not len(travel):
            continue
        off = np.abs(travel / run.wanted_mm - 1)
        for place in np.argsort(off, kind="stable")[:limit]:
            ranked.append((float(off[place]), number, holes[place], float(travel[place])))
    ranked.sort(key=lambda one: (round(one[0], 9), one[1], one[2]))
    return tuple(
        HoleChoice(number, levers, travel, 100 * (travel / run.wanted_mm - 1))
        for _, number, levers, travel in ranked[:limit]
    )


def _hand_limit(cables: Cables) -> float:
    return 2 * cables.hand_mm * sin(radians(cables.swing_deg))


def best_holes(cables: Cables) -> tuple[HoleChoice, ...] | None:
    """Choose all cables' holes together; None where some cable finds none.

    Where they must not share holes the squares of their errors add up to the least there is, by an
    exact assignment; else each takes its own best.
    """
    best: list[dict[int, HoleChoice]] = []
    for run in cables.runs:
        own: dict[int, HoleChoice] = {}
        for number in range(1, len(cables.holes_mm) + 1):
            one = _only_hole(cables, number)
            chosen = choices(one, run.model_copy(update={"from_hole": 1}), 1)
            if chosen:
                own[number] = HoleChoice(
                    number, chosen[0].levers, chosen[0].travel, chosen[0].error_percent
                )
        if not own:
            return None
        best.append(own)
    if not cables.apart:
        return tuple(min(own.values(), key=lambda c: abs(c.error_percent)) for own in best)
    if len(cables.runs) > len(cables.holes_mm):
        return None
    far = 1e12
    cost = np.full((len(best), len(cables.holes_mm)), far)
    for row, own in enumerate(best):
        for number, choice in own.items():
            cost[row, number - 1] = choice.error_percent**2
    from scipy.optimize import linear_sum_assignment  # noqa: PLC0415 - it is slow to load

    rows, columns = linear_sum_assignment(cost)
    if cost[rows, columns].max(initial=0.0) >= far:
        return None
    return tuple(best[row][int(column) + 1] for row, column in zip(rows, columns, strict=True))


def _only_hole(cables: Cables, number: int) -> Cables:
    return cables.model_copy(update={"holes_mm": (cables.holes_mm[number - 1],), "runs": ()})


def with_holes(run: CableRun, choice: HoleChoice) -> CableRun:
    """Give a cable with its holes chosen."""
    levers = tuple(
        lever.model_copy(update={"takes": takes, "gives": gives})
        for lever, (takes, gives) in zip(run.levers, choice.levers, strict=True)
    )
    return run.model_copy(update={"from_hole": choice.from_hole, "levers": levers})

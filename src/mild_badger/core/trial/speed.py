"""From pulses to speeds and ratios, with what they are uncertain by.

Whole turns of the disc are compared, so that slots which are not evenly spaced cancel. Intervals
are 95 % by Student's t over blocks of whole turns; no interval is narrower than a plain crystal's
error (100 ppm, common practice, no source).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.message import say, say_count

__all__ = ["RatioFigure", "SpeedFigure", "Turning", "ratio_of", "speed_of", "turning_of"]

CRYSTAL = 1e-4
BOUNCE = 0.4
"""Two pulses closer than this share of the usual interval are one slot seen twice."""
GAP = 12
"""So many intervals without a pulse, and what follows is another run."""
MOST_BLOCKS = 12
LONG, NEAR_WHOLE, MOSTLY = 1.35, 0.15, 0.6
"""From where an interval is long, how near a whole number a missed pulse leaves it, and from which
share of odd ones they are jerks; a bent slot makes the intervals beside it odd too."""
BENT = 0.08
"""A slot wider or narrower than the mean by this share is told."""

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Turning:
    """The longest run without a gap: time in s of each slot, and how many slots have passed."""

    times_s: Floats
    counts: Floats
    slots: int
    missed: int
    bounced: int
    gaps: int
    bent_percent: float
    jerky: bool = False

    @property
    def turns(self) -> float:
        """How often the disc turned."""
        return float(self.counts[-1] - self.counts[0]) / self.slots if len(self.counts) else 0.0

    @property
    def summary(self) -> str:
        """Say what was odd about the pulses; nothing where nothing was."""
        sentences = []
        if self.missed:
            sentences.append(say("trial.missed", missed=self.missed))
        if self.bounced:
            sentences.append(say("trial.seen-twice", bounced=self.bounced))
        if self.jerky:
            sentences.append(say("trial.it-runs-in-jerks"))
        if self.gaps:
            sentences.append(
                say("trial.the-longest-run-is-used", gap=say_count("count.gap", self.gaps))
            )
        if self.bent_percent > 100 * BENT:
            sentences.append(
                say("trial.one-slot-is-off-the-others-a-bent-disc", bent_percent=self.bent_percent)
            )
        return ", ".join(sentences)


@dataclass(frozen=True)
class SpeedFigure:
    """A speed in rpm and half the width of its 95 % interval."""

    rpm: float
    spread_rpm: float
    turns: float


@dataclass(frozen=True)
class RatioFigure:
    """Turns of the output for one of the input, half its 95 % interval, and how uneven it ran.

    ``unevenness`` is the greatest deviation of a block's ratio from the mean, as a share.
    """

    turns: float
    spread: float
    blocks: int
    unevenness: float


def turning_of(times_us: Sequence[int], slots: int) -> Turning | None:
    """Count slots from time stamps: bounces dropped, missed ones put in, gaps cut out.

    None where there are fewer than two turns' worth of pulses, or than four.
    """
    if len(times_us) < max(2 * slots + 1, 4):
        return None
    times = np.asarray(times_us, dtype=np.float64) / 1e6
    bounced = 0
    usual = _usual(np.diff(times), slots)
    keep = np.concatenate(([True], np.diff(times) > BOUNCE * usual))
    while not keep.all():
        bounced += int((~keep).sum())
        times = times[keep]
        if len(times) < max(2 * slots + 1, 4):
            return None
        usual = _usual(np.diff(times), slots)
        keep = np.concatenate(([True], np.diff(times) > BOUNCE * usual))
    steps, jerky = _steps(np.diff(times) / usual)
    cuts = np.flatnonzero(steps > GAP)
    edges = [0, *(int(cut) + 1 for cut in cuts), len(times)]
    first, last = max(pairwise(edges), key=lambda pair: pair[1] - pair[0])
    if last - first < max(2 * slots + 1, 4):
        return None
    run = times[first:last]
    inside = steps[first : last - 1]
    counts = np.concatenate(([0.0], np.cumsum(inside)))
    missed = int((inside - 1).sum())
    bent = 0.0 if jerky else _bent(run, counts, slots)
    return Turning(run, counts, slots, missed, bounced, len(cuts), bent, jerky)


def _steps(intervals: Floats) -> tuple[Floats, bool]:
    """Say how many slots passed in each interval, in units of the usual one.

    A pulse that did not come through leaves an interval of a whole number; where most long ones
    are none, the disc itself ran in jerks and nothing was missed.
    """
    whole = np.maximum(np.rint(intervals), 1.0)
    long = (intervals > LONG) & (intervals <= GAP)
    if long.sum() >= 3:
        odd = np.abs(intervals[long] - whole[long]) > NEAR_WHOLE
        if odd.mean() > MOSTLY:
            return np.where(intervals > GAP, whole, 1.0), True
    return whole, False


def _usual(intervals: Floats, slots: int) -> Floats:
    """Give the usual interval about each one: a running median over two turns of the disc."""
    from scipy.ndimage import median_filter  # noqa: PLC0415 - slow to load, wanted for pulses only

    width = max(2 * slots + 1, 9) | 1
    usual: Floats = np.maximum(median_filter(intervals, size=width, mode="mirror"), 1e-9)
    return usual


def _bent(times: Floats, counts: Floats, slots: int) -> float:
    """Give in % how far one slot's mean width is off the disc's mean."""
    if slots < 3 or counts[-1] < 4 * slots:
        return 0.0
    steps = np.diff(counts)
    widths = np.diff(times)
    per_slot = []
    for place in range(slots):
        chosen = (counts[:-1] % slots == place) & (steps == 1)
        if chosen.sum() < 3:
            return 0.0
        per_slot.append(float(np.median(widths[chosen])))
    mean = float(np.mean(per_slot))
    return 100.0 * max(abs(w - mean) for w in per_slot) / mean


def _half_width(values: Floats) -> float:
    count = len(values)
    if count < 2:
        return float("inf")
    from scipy.special import stdtrit  # noqa: PLC0415 - slow to load, wanted for pulses only

    return float(stdtrit(count - 1, 0.975) * values.std(ddof=1) / np.sqrt(count))


def speed_of(turning: Turning, *, last_turns: float | None = None) -> SpeedFigure | None:
    """Give the mean speed of a run, or of its last turns; None for fewer than two whole turns."""
    counts, times = turning.counts / turning.slots, turning.times_s
    start = counts[0] if last_turns is None else max(counts[0], counts[-1] - last_turns)
    whole = int(np.floor(counts[-1] - start + 1e-9))
    if whole < 2:
        return None
    blocks = min(whole, MOST_BLOCKS)
    marks = counts[-1] - np.linspace(whole // blocks * blocks, 0, blocks + 1)
    at = np.interp(marks, counts, times)
    rpm = 60.0 * (whole // blocks) / np.diff(at)
    mean = 60.0 * float(marks[-1] - marks[0]) / float(at[-1] - at[0])
    return SpeedFigure(mean, max(_half_width(rpm), CRYSTAL * mean), float(marks[-1] - marks[0]))


def ratio_of(source: Turning, output: Turning) -> RatioFigure | None:
    """Give the output's turns for one of the input over the time that both ran.

    Blocks are whole turns of the output's disc; None where it made fewer than two in that time.
    """
    begin = max(source.times_s[0], output.times_s[0])
    end = min(source.times_s[-1], output.times_s[-1])
    out = output.counts / output.slots
    inside = (output.times_s >= begin) & (output.times_s <= end)
    if inside.sum() < 2:
        return None
    first, last = out[inside][0], out[inside][-1]
    whole = int(np.floor(last - first + 1e-9))
    if whole < 2:
        return None
    blocks = min(whole, MOST_BLOCKS)
    size = whole // blocks
    marks = last - np.arange(blocks, -1, -1) * size
    at = np.interp(marks, out, output.times_s)
    driven = np.interp(at, source.times_s, source.counts / source.slots)
    each = size / np.diff(driven)
    mean = float(blocks * size / (driven[-1] - driven[0]))
    uneven = float(np.abs(each / mean - 1).max())
    # two ends of the input's disc are read between its slots
    reading = mean / (driven[-1] - driven[0]) / source.slots * 0.5
    spread = max(min(_half_width(each), 10 * mean), CRYSTAL * mean, float(reading) * 0.1)
    return RatioFigure(mean, spread, blocks, uneven)

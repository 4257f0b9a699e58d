"""Pistons, firing intervals and balance of a display engine.

A piston's height over the crank's middle is x = r cos θ + √(l² − r² sin²θ) (slider-crank). Each
cylinder fires once in 720°; the second-order force goes with cos 2θ along the cylinder.
"""

from dataclasses import dataclass
from functools import lru_cache
from itertools import accumulate, pairwise, product
from math import cos, hypot, pi, radians, sin, sqrt

from mild_badger.core.figures import in_mm
from mild_badger.core.mechanisms.display.model import DisplayEngine
from mild_badger.core.message import say
from mild_badger.core.words import signed

__all__ = [
    "EVEN_DEG",
    "Firing",
    "PistonPose",
    "WrongThrow",
    "evenest",
    "firing",
    "free_force",
    "piston_mm",
    "poses",
    "preset",
    "presets",
    "top_deg",
    "wrong_throws",
]

EVEN_DEG = 0.5
"""Intervals that differ by less are even (common practice, no source)."""
WRONG_DEG = 6.0
"""A glued throw may be so far out before it is told (common practice, no source)."""
PRESETS: dict[str, tuple[str, float, tuple[float, ...], tuple[int, ...]]] = {
    "single": ("inline", 0, (0,), (1,)),
    "two in line": ("inline", 0, (0, 180), (1, 2)),
    "three in line": ("inline", 0, (0, 240, 120), (1, 3, 2)),
    "four in line": ("inline", 0, (0, 180, 180, 0), (1, 3, 4, 2)),
    "four in line, cross-plane": ("inline", 0, (0, 90, 270, 180), (1, 3, 2, 4)),
    "five in line": ("inline", 0, (0, 216, 144, 72, 288), (1, 2, 4, 5, 3)),
    "six in line": ("inline", 0, (0, 240, 120, 120, 240, 0), (1, 5, 3, 6, 2, 4)),
    "flat twin": ("flat", 180, (0, 180), (1, 2)),
    "flat four": ("flat", 180, (0, 180, 180, 0), (1, 3, 2, 4)),
    "V twin, 90°": ("V", 90, (0, 0), (1, 2)),
    "V8, cross-plane": ("V", 90, (0, 0, 90, 90, 270, 270, 180, 180), (1, 8, 4, 3, 6, 5, 7, 2)),
    "V8, flat-plane": ("V", 90, (0, 0, 180, 180, 180, 180, 0, 0), ()),
    "V12": ("V", 60, (0, 0, 240, 240, 120, 120, 120, 120, 240, 240, 0, 0), ()),
}
"""Known arrangements: layout, bank, throws, order; an empty order takes the evenest."""


@dataclass(frozen=True)
class Firing:
    """When cylinders fire, in the order given; ``angles_deg`` from the first, within 720°.

    ``intervals_deg`` go from each to the next, the last back to the first; ``start_deg`` is the
    crank's angle when the first fires. ``possible`` says whether the order can be followed in two
    turns; ``even`` whether all intervals agree.
    """

    order: tuple[int, ...]
    angles_deg: tuple[float, ...]
    intervals_deg: tuple[float, ...]
    start_deg: float

    @property
    def possible(self) -> bool:
        """Whether every cylinder gets its turn within 720°."""
        return abs(sum(self.intervals_deg) - 720.0) < 1e-6

    @property
    def even(self) -> bool:
        """Whether the engine fires evenly."""
        return self.possible and max(self.intervals_deg) - min(self.intervals_deg) < EVEN_DEG

    def fires_at(self, crank_deg: float, within_deg: float = 30.0) -> int | None:
        """Name the cylinder that fires at an angle of the crank, or did a few degrees before."""
        since = (crank_deg - self.start_deg) % 720.0
        for cylinder, at in zip(self.order, self.angles_deg, strict=True):
            if (since - at) % 720.0 < within_deg:
                return cylinder
        return None

    @property
    def summary(self) -> str:
        """Say it."""
        named = "-".join(map(str, self.order))
        if not self.possible:
            turns = sum(self.intervals_deg) / 360
            return say("display.the-order-takes-turns-of-the-crank-a", named=named, turns=turns)
        if self.even:
            return say(
                "display.the-order-fires-every", named=named, intervals_deg=self.intervals_deg[0]
            )
        shown = ", ".join(signed(interval, ".4g") for interval in self.intervals_deg)
        return say("display.the-order-fires-unevenly-after", named=named, shown=shown)


@dataclass(frozen=True)
class WrongThrow:
    """A throw that was glued off its place, and what moving it back would do."""

    cylinder: int
    meant_deg: float
    made_deg: float
    words: str

    @property
    def off_deg(self) -> float:
        """How far it is out, −180 to 180."""
        return _signed(self.made_deg - self.meant_deg)


def _signed(angle: float) -> float:
    return (angle + 180.0) % 360.0 - 180.0


def piston_mm(throw_mm: float, rod_mm: float, angle_deg: float) -> float:
    """Give the piston pin's height over the crank's middle; the top is at angle 0.

    Raises
    ------
    ValueError
        The rod is not longer than the throw.
    """
    if rod_mm <= throw_mm:
        raise ValueError(
            say(
                "display.a-rod-of-cannot-follow-a-throw-of-it-must-be",
                rod_mm=in_mm(rod_mm),
                throw_mm=in_mm(throw_mm),
            )
        )
    angle = radians(angle_deg)
    across = throw_mm * sin(angle)
    return throw_mm * cos(angle) + sqrt(rod_mm**2 - across**2)


@dataclass(frozen=True)
class PistonPose:
    """Where a cylinder's parts are, seen along the crank: x to the right, y upwards, in mm.

    ``share`` is how far down the piston is, 0 at its top to 1 at its bottom.
    """

    cylinder: int
    bank_deg: float
    pin: tuple[float, float]
    piston: tuple[float, float]
    share: float


def poses(
    engine: DisplayEngine, crank_deg: float, *, throws_deg: tuple[float, ...] = ()
) -> tuple[PistonPose, ...]:
    """Give every cylinder's parts with the crank turned so far; the crank turns clockwise.

    Raises
    ------
    ValueError
        The rod is not longer than the throw.
    """
    throws = throws_deg or engine.throws_deg
    pistons = []
    for number in range(1, engine.cylinders + 1):
        bank = engine.bank_of(number)
        turn = radians(crank_deg + throws[number - 1])
        lean = radians(bank)
        height = piston_mm(engine.throw_mm, engine.rod_mm, crank_deg + throws[number - 1] - bank)
        top = engine.throw_mm + engine.rod_mm
        pistons.append(
            PistonPose(
                number,
                bank,
                (engine.throw_mm * sin(turn), engine.throw_mm * cos(turn)),
                (height * sin(lean), height * cos(lean)),
                (top - height) / (2 * engine.throw_mm),
            )
        )
    return tuple(pistons)


def top_deg(engine: DisplayEngine, cylinder: int, throws_deg: tuple[float, ...] = ()) -> float:
    """Give the crank angle at which a cylinder's piston is at its top, 0 to 360."""
    throws = throws_deg or engine.throws_deg
    return (engine.bank_of(cylinder) - throws[cylinder - 1]) % 360.0


def firing(
    engine: DisplayEngine, *, throws_deg: tuple[float, ...] = (), order: tuple[int, ...] = ()
) -> Firing:
    """Follow a firing order: each cylinder at its next top after the one before fired."""
    order = order or engine.order
    tops = {c: top_deg(engine, c, throws_deg) for c in order}
    angles = [tops[order[0]]]
    for before, cylinder in pairwise(order):
        step = (tops[cylinder] - tops[before]) % 360.0
        # two cylinders never fire together: equal tops fire a turn apart
        angles.append(angles[-1] + (step if step > 1e-9 else 360.0))
    back = (tops[order[0]] - tops[order[-1]]) % 360.0
    intervals = [b - a for a, b in pairwise(angles)]
    intervals.append(back if back > 1e-9 else 360.0)
    if abs(sum(intervals) - 360.0) < 1e-6:  # all in one turn: one of them waits for the second
        waiting = min(
            range(len(intervals)),
            key=lambda n: max(v + 360.0 * (m == n) for m, v in enumerate(intervals)),
        )
        intervals[waiting] += 360.0
    begun = tuple(accumulate(intervals[:-1], initial=0.0))
    return Firing(order, begun, tuple(intervals), tops[order[0]])


@lru_cache(maxsize=64)
def evenest(engine: DisplayEngine, throws_deg: tuple[float, ...] = ()) -> Firing:
    """Find the firing order with the least uneven intervals: every choice of first or second turn.

    At most 2^11 choices; of equally even ones the order that stays nearest to 1, 2, 3 … .
    """
    cylinders = range(1, engine.cylinders + 1)
    tops = [top_deg(engine, c, throws_deg) for c in cylinders]
    best: tuple[tuple[float, tuple[int, ...]], tuple[int, ...]] | None = None
    for later in product((0.0, 360.0), repeat=engine.cylinders - 1):
        angles = [tops[0], *(t + extra for t, extra in zip(tops[1:], later, strict=True))]
        ranked = sorted(zip(((a - angles[0]) % 720.0 for a in angles), cylinders, strict=True))
        gaps = [b[0] - a[0] for a, b in pairwise(ranked)]
        gaps.append(720.0 - ranked[-1][0])
        uneven = round(max(gaps) - min(gaps), 6)
        order = tuple(c for _, c in ranked)
        if best is None or (uneven, order) < best[0]:
            best = ((uneven, order), order)
    order = best[1] if best else (1,)
    return firing(engine, throws_deg=throws_deg, order=order)


def free_force(engine: DisplayEngine, harmonic: int) -> float:
    """Give the largest free force of a harmonic over a turn, in one cylinder's own force.

    The first goes with cos θ along each cylinder, the second with cos 2θ; banks add as vectors.
    """
    largest = 0.0
    for step in range(720):
        angle = step * pi / 360
        x = y = 0.0
        for cylinder in range(1, engine.cylinders + 1):
            bank = radians(engine.bank_of(cylinder))
            turn = angle - radians(top_deg(engine, cylinder))
            force = cos(harmonic * turn)
            x, y = x + force * sin(bank), y + force * cos(bank)
        largest = max(largest, hypot(x, y))
    return largest if largest > 1e-9 else 0.0


def wrong_throws(engine: DisplayEngine) -> tuple[WrongThrow, ...]:
    """Look a glued crank over: which throws are out, and what each does to the firing.

    Throws count from the first one's own place, so that a crank laid down turned is not blamed.
    """
    if not engine.made_deg:
        return ()
    shift = _signed(engine.made_deg[0] - engine.throws_deg[0])
    offs = [_signed(m - p) for m, p in zip(engine.made_deg, engine.throws_deg, strict=True)]
    # the first throw may be the wrong one: turn the crank so that most throws fit
    best = max(
        (shift, *offs), key=lambda s: (sum(abs(_signed(o - s)) < WRONG_DEG for o in offs), -abs(s))
    )
    made = tuple((m - best) % 360.0 for m in engine.made_deg)
    wrong = []
    for number, (glued, meant) in enumerate(zip(made, engine.throws_deg, strict=True), start=1):
        off = _signed(glued - meant)
        if abs(off) < WRONG_DEG:
            continue
        alone = tuple(glued if c == number else t for c, t in enumerate(engine.throws_deg, start=1))
        effect = firing(engine, throws_deg=alone)
        shown = ", ".join(signed(i, ".4g") for i in effect.intervals_deg)
        wrong.append(
            WrongThrow(
                number,
                meant % 360.0,
                glued,
                say(
                    "display.throw-stands-at-instead-of-out-cylinder",
                    number=number,
                    glued=glued,
                    meant=meant % 360.0,
                    off=off,
                    off_2=abs(off),
                    word=say("display.early") if off > 0 else say("display.late"),
                    shown=shown,
                ),
            )
        )
    return tuple(wrong)


def presets() -> tuple[str, ...]:
    """Name the known arrangements."""
    return tuple(PRESETS)


def preset(engine: DisplayEngine, name: str) -> DisplayEngine:
    """Take a known arrangement; sizes and drive stay."""
    layout, bank, throws, order = PRESETS[name]
    made = engine.model_copy(
        update={
            "layout": layout,
            "bank_deg": float(bank),
            "cylinders": len(throws),
            "throws_deg": tuple(float(t) for t in throws),
            "made_deg": (),
            "order": order or tuple(range(1, len(throws) + 1)),
        }
    )
    return made if order else made.model_copy(update={"order": evenest(made).order})

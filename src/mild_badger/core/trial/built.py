"""As built: measured lengths in place of the planned ones, and which spacer that asks to trim.

Between two walls a shaft carries gears, sleeves and spacers; what the gap is longer than they are
is the end play. Where it is too little a spacer is trimmed, the one that leaves the gears nearest
to where they are planned.
"""

from dataclasses import dataclass

from mild_badger.core.figures import in_mm
from mild_badger.core.message import say
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.shaft_lengths import ShaftCut, StackPart, shaft_cuts
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.trial import Measured
from mild_badger.core.words import word

__all__ = ["Bay", "BayPart", "bays", "measure"]

TOLERATED_MM = 0.1
"""End play is left alone within this of what is wanted (common practice, no source)."""
LOOSE_MM = 0.8
"""From so much more than is wanted a washer is worth while (common practice, no source)."""
LEAST_TRIM_MM = 0.05
SPARE_MM = 1.0
"""A shaft may stand out of its walls by so much (common practice, no source)."""


@dataclass(frozen=True)
class BayPart:
    """A part between two walls: its key for a measured length, and both lengths."""

    key: str
    kind: str
    words: str
    planned_mm: float
    mm: float
    measured: bool


@dataclass(frozen=True)
class Bay:
    """One shaft between two walls, as built; ``rod`` is the whole shaft's length.

    ``trim`` is the key of the spacer to shorten and by how much; ``play_mm`` what end play there
    is now, ``left_mm`` what is left after the advice is followed.
    """

    shaft: str
    walls: tuple[str, str]
    gap: BayPart
    rod: BayPart
    parts: tuple[BayPart, ...]
    play_mm: float
    wanted_mm: float
    trim: tuple[str, float] | None
    left_mm: float
    words: str


def measure(vehicle: Vehicle, key: str, mm: float | None) -> Edit:
    """Note a measured length, or take it away with None."""
    kept = [m for m in vehicle.trial.measured if m.key != key]
    if mm is not None:
        kept.append(Measured(key=key, mm=mm))
    return Edit.one(say("trial.measure", key=key), ("trial", "measured"), kept)


def bays(vehicle: Vehicle) -> tuple[Bay, ...]:
    """Go through every shaft from wall to wall; empty where the box has no place in space yet."""
    stack = stack_for(vehicle)
    if stack is None:
        return ()
    known = {m.key: m.mm for m in vehicle.trial.measured}
    return tuple(
        bay for cut in shaft_cuts(vehicle, stack) for bay in _of_shaft(vehicle, cut, known)
    )


def _of_shaft(vehicle: Vehicle, cut: ShaftCut, known: dict[str, float]) -> list[Bay]:
    parts = []
    inside: list[StackPart] | None = None
    wall: StackPart | None = None
    planned = cut.needed_mm if cut.length_mm is None else cut.length_mm
    rod = _part(f"shaft {cut.name}", "shaft", say("trial.the-whole-shaft"), planned, known)
    for part in cut.parts:
        if part.kind in ("wall", "post", "pilot"):
            if wall is not None and inside:
                parts.append(
                    _bay(
                        vehicle,
                        cut.name,
                        walls=(wall, part),
                        inside=inside,
                        known=known,
                        rod=rod,
                        needed_mm=cut.needed_mm,
                    )
                )
            wall, inside = part, []
        elif inside is not None and part.kind != "end play":
            inside.append(part)
    return parts


def _bay(
    vehicle: Vehicle,
    shaft: str,
    *,
    walls: tuple[StackPart, StackPart],
    inside: list[StackPart],
    known: dict[str, float],
    rod: BayPart,
    needed_mm: float,
) -> Bay:
    names = (_seat_name(walls[0]), _seat_name(walls[1]))
    gap = _part(
        f"gap {names[0]} to {names[1]}",
        "gap",
        say("trial.from-to", names=names[0], names_2=names[1]),
        walls[1].from_mm - walls[0].to_mm,
        known,
    )
    parts = []
    for part in inside:
        parts.append(_part(part.key, part.kind, part.words, part.length_mm, known))
    play = gap.mm - sum(part.mm for part in parts)
    planned_play = gap.planned_mm - sum(part.planned_mm for part in parts)
    wanted = vehicle.frame.end_play_mm if vehicle.kit.any_seat else max(planned_play, 0.0)
    trim, left, words = _advice(tuple(parts), play, wanted)
    lack = needed_mm - rod.mm
    if lack > TOLERATED_MM:
        words = say(
            "trial.the-shaft-is-short-of-its-walls-cut-it-anew", lack=in_mm(lack, 2), words=words
        )
    elif rod.measured and -lack > SPARE_MM:
        words = say("trial.the-shaft-stands-out-by", lack=in_mm(-lack, 2), words=words)
    return Bay(shaft, names, gap, rod, tuple(parts), play, wanted, trim, left, words)


def _part(key: str, kind: str, words: str, planned_mm: float, known: dict[str, float]) -> BayPart:
    return BayPart(key, kind, words, planned_mm, known.get(key, planned_mm), key in known)


def _advice(
    parts: tuple[BayPart, ...], play: float, wanted: float
) -> tuple[tuple[str, float] | None, float, str]:
    """Say what to do about the end play, and what is left of it then."""
    if play >= wanted - TOLERATED_MM:
        if play <= wanted + LOOSE_MM:
            return None, play, say("trial.of-end-play-as-it-should-be", play=in_mm(play, 2))
        return (
            None,
            play,
            say(
                "trial.of-end-play-more-than-is-wanted-put-a-washer",
                play=in_mm(play, 2),
                play_2=in_mm(play - wanted, 2),
            ),
        )
    by = wanted - play
    chosen = _spacer(parts, by)
    how = (
        say("trial.of-end-play", play=in_mm(play, 2))
        if play >= 0
        else say("trial.too-long-for-the-gap", play=in_mm(-play, 2))
    )
    if chosen is None:
        return (
            None,
            play,
            say("trial.and-no-spacer-long-enough-to-trim-set-the", how=how, by=in_mm(by, 2)),
        )
    return (
        (chosen.key, by),
        wanted,
        say(
            "trial.trim-the-spacer-of-by-to-then-are-left",
            how=how,
            mm=in_mm(chosen.mm, 2),
            by=in_mm(by, 2),
            mm_2=in_mm(chosen.mm - by, 2),
            wanted=in_mm(wanted, 2),
        ),
    )


def _spacer(parts: tuple[BayPart, ...], by: float) -> BayPart | None:
    """Choose the spacer after which the gears stand nearest to where they are planned."""
    best: tuple[float, float, BayPart] | None = None
    for number, part in enumerate(parts):
        if part.kind != "spacer" or part.mm - by < LEAST_TRIM_MM:
            continue
        at = off = 0.0
        for place, other in enumerate(parts):
            if other.kind in ("gear", "free gear"):
                off = max(off, abs(at))
            at += other.mm - other.planned_mm - (by if place == number else 0.0)
        rank = (round(off, 6), -part.mm, part)
        if best is None or rank[:2] < best[:2]:
            best = rank
    return best[2] if best else None


def _seat_name(part: StackPart) -> str:
    """Name what a shaft sits in, whatever bearing is in it."""
    return word(part.wall) if part.kind == "wall" else part.words

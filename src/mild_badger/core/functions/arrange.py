"""An arrangement for a function box: trains, sleeves, one-way clutches, and where each is in.

Sleeves sit on the shafts that feed: each couples one of two free gears with dog faces. Two ways to
outputs share a sleeve where they are never in together.
"""

from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cache, lru_cache

from mild_badger.core.functions.branches import Need, Sense, needs_of
from mild_badger.core.ids import OutputId
from mild_badger.core.mesh.seats import seats_well
from mild_badger.core.message import say
from mild_badger.core.ratios.pool import EVEN, ODD, RatioTable
from mild_badger.core.ratios.propose import short_pool
from mild_badger.core.ratios.single import best_train, ranked_trains
from mild_badger.core.ratios.train import gear_count, train_text
from mild_badger.core.targets.speeds import signed_error_percent
from mild_badger.core.vehicle.box import Face, GearPair, chain_ratio
from mild_badger.core.vehicle.functions import FunctionBox
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import SleeveId
from mild_badger.core.vehicle.tally import Tally
from mild_badger.core.words import listed

__all__ = ["Arrangement", "Branch", "arrange", "count_functions"]

RECTIFIER_GEARS = 5
"""Gears that drive the one-way shaft."""
MOST_MATCHED_EXACT = 14
"""Up to so many ways on one shaft sleeves are shared out with the fewest; beyond in order."""


@dataclass(frozen=True)
class Branch:
    """One way to an output.

    ``ratio`` is exact and signed as in its need; ``feed`` the shaft it starts from. ``sleeve`` is
    None where it is always in. A clutched branch drives in ``sense`` only.
    """

    key: str
    output: OutputId
    name: str
    feed: str
    wanted: float
    ratio: Fraction
    train: tuple[GearPair, ...]
    sense: Sense
    positions: tuple[str, ...]
    sleeve: str | None = None
    face: Face | None = None

    @property
    def error_percent(self) -> float:
        """Error of the ratio, per cent."""
        return signed_error_percent(abs(float(self.ratio)), abs(self.wanted))

    @property
    def summary(self) -> str:
        """Say what it is made of."""
        way = say(
            "functions.from-the-shaft", name=self.name, train=train_text(self.train), feed=self.feed
        )
        return say("functions.one-way-clutch-at-its-end", way=way) if self.sense else way


@dataclass(frozen=True)
class Arrangement:
    """What is to be built; ``problems`` say why a table cannot be, or not as it stands.

    ``rectifier`` holds the teeth of the equal gears that drive the one-way shaft, None where there
    is none.
    """

    branches: tuple[Branch, ...]
    rectifier: int | None
    problems: tuple[str, ...]

    @property
    def sleeves(self) -> tuple[str, ...]:
        """Names of the sleeves."""
        return tuple(dict.fromkeys(b.sleeve for b in self.branches if b.sleeve))

    @property
    def clutches(self) -> int:
        """How many one-way clutches it takes."""
        return 2 * (self.rectifier is not None) + sum(b.sense != 0 for b in self.branches)

    @property
    def gears(self) -> int:
        """How many gears it takes, those of the one-way shaft among them."""
        one_way = RECTIFIER_GEARS * (self.rectifier is not None)
        return one_way + sum(gear_count(b.train) for b in self.branches)

    def settings(self, position: str) -> dict[str, str]:
        """Give the sleeves that are in in a position."""
        return {
            b.sleeve: b.face
            for b in self.branches
            if b.sleeve and b.face and position in b.positions
        }


def arrange(vehicle: Vehicle, box: FunctionBox) -> Arrangement:
    """Find an arrangement that does what a table says, from the vehicle's kit.

    Straight trains for what turns over with the motor; one shaft that turns one way for all that
    must; a one-way clutch where an output stands while the motor turns the other way. A way that
    is in everywhere takes no sleeve.
    """
    return _arranged(_bare(vehicle), box)


def count_functions(tally: Tally, box: FunctionBox, arrangement: Arrangement) -> None:
    """Count a function box: a train begins with the free gear that a sleeve couples."""
    user = "functions"
    if not arrangement.branches:
        return
    for branch in arrangement.branches:
        first = branch.train[0]
        tally.train(branch.train, user, free_end=False)
        if branch.sleeve is not None:
            tally.add("fixed", first.driver, user, -1)
            tally.add("free", first.driver, user)
        tally.add("one-way clutch", 0, user, abs(branch.sense))
    if arrangement.rectifier is not None:
        tally.add("fixed", arrangement.rectifier, user, RECTIFIER_GEARS)
        tally.add("one-way clutch", 0, user, 2)
    tally.add("sleeve", 0, user, len(arrangement.sleeves))
    shafts = 1 + 2 * (arrangement.rectifier is not None)
    tally.add("shaft", 0, user, shafts + len(box.outputs))


def _bare(vehicle: Vehicle) -> Vehicle:
    """Leave out what has no bearing, so that what was found is found again."""
    return vehicle.model_copy(
        update={"name": "-", "notes": "", "functions": None, "change_gear": None}
    )


@lru_cache(maxsize=64)
def _arranged(vehicle: Vehicle, box: FunctionBox) -> Arrangement:
    needs, problems = needs_of(box)
    sentences = list(problems)
    pool = short_pool(vehicle)
    rectifier = None
    if any(need.kind == "one-way" for need in needs):
        rectifier = _equal_gears(vehicle.kit)
        if rectifier is None:
            sentences.append(
                say("functions.has-no-two-equal-gears-that-sit-together-so", name=vehicle.kit.name)
            )
    branches = []
    counts: dict[OutputId, int] = {}
    for need in needs:
        counts[need.output] = counts.get(need.output, 0) + 1
        branch = _branch(pool, box, need, counts[need.output])
        if isinstance(branch, str):
            sentences.append(branch)
        else:
            branches.append(branch)
    placed = _sleeves(branches, box)
    arrangement = Arrangement(placed, rectifier, ())
    if box.actuation == "one lever":
        for position in box.positions:
            inside = arrangement.settings(position.name)
            if len(inside) > 1:
                names = listed(
                    [b.name for b in placed if b.sleeve in inside and position.name in b.positions]
                )
                sentences.append(
                    say(
                        "functions.position-takes-sleeves-in-at-once-for-one",
                        name=position.name,
                        count_of_inside=len(inside),
                        names=names,
                    )
                )
    return Arrangement(placed, rectifier, tuple(sentences))


def _equal_gears(kit: Kit) -> int | None:
    """Find the smallest size of which two sit together and that has dog faces or a plain bore."""
    return next((z for z in kit.sizes if z >= 12 and seats_well(kit, z, z)), None)


def _branch(pool: RatioTable, box: FunctionBox, need: Need, number: int) -> Branch | str:
    """Find the train of a need; a sentence where the kit has none near enough.

    The pool's trains end on a gear with dog faces; turned round, one begins with it.
    """
    # the one-way shaft turns against whatever drives it
    feed_sign = -1 if need.kind == "one-way" else 1
    parity = EVEN if need.ratio * feed_sign > 0 else ODD
    target = 1 / abs(need.ratio)
    limit = box.tolerance_percent
    ranked = ranked_trains(pool, target, parity=parity, tolerance_percent=limit, limit=1)
    if not ranked:
        nearest = best_train(pool, target, parity=parity)
        near = ""
        if nearest is not None:
            near = say("functions.the-nearest-is", ratio=float(1 / nearest.ratio))
        return say(
            "functions.found-no-train-that-makes-turns-in-per-turn",
            called=box.called(need.output),
            ratio=abs(need.ratio),
            limit=limit,
            near=near,
        )
    train = _turned_round(ranked[0].train)
    sign = 1 if need.ratio > 0 else -1
    return Branch(
        key=f"{need.output} {number}",
        output=need.output,
        name=box.called(need.output),
        feed="one-way" if need.kind == "one-way" else "input",
        wanted=need.ratio,
        ratio=sign * chain_ratio(train),
        train=train,
        sense=need.sense,
        positions=need.positions,
    )


def _turned_round(train: tuple[GearPair, ...]) -> tuple[GearPair, ...]:
    return tuple(
        GearPair(driver=pair.driven, driven=pair.driver, idlers=pair.idlers[::-1])
        for pair in reversed(train)
    )


def _sleeves(branches: list[Branch], box: FunctionBox) -> tuple[Branch, ...]:
    """Give every branch that is not always in a side of a sleeve on the shaft that feeds it."""
    every = {position.name for position in box.positions}
    placed: dict[str, tuple[str, Face]] = {}
    number = 0
    for feed in ("input", "one-way"):
        here = [b for b in branches if b.feed == feed and set(b.positions) != every]
        for pair in _paired(here):
            number += 1
            sleeve = SleeveId("sleeve", number, [branch.key for branch in pair])
            faces: tuple[Face, Face] = ("front", "back")
            for branch, face in zip(pair, faces, strict=False):
                placed[branch.key] = (sleeve, face)
    return tuple(
        replace(b, sleeve=placed[b.key][0], face=placed[b.key][1]) if b.key in placed else b
        for b in branches
    )


def _paired(branches: list[Branch]) -> list[tuple[Branch, ...]]:
    """Pair branches that are never in together, as many as can be: the fewest sleeves."""
    apart = [[not set(a.positions) & set(b.positions) for b in branches] for a in branches]
    if len(branches) > MOST_MATCHED_EXACT:
        return _paired_in_order(branches, apart)

    @cache
    def best(left: int) -> tuple[int, tuple[tuple[int, ...], ...]]:
        """Give the most pairs among those left, same output first, and the groups."""
        if not left:
            return 0, ()
        first = (left & -left).bit_length() - 1
        rest = left & ~(1 << first)
        alone = best(rest)
        choice = (alone[0], ((first,), *alone[1]))
        for other in range(first + 1, len(branches)):
            if rest >> other & 1 and apart[first][other]:
                more = best(rest & ~(1 << other))
                same = branches[first].output == branches[other].output
                score = more[0] + 100 + same
                if score > choice[0]:
                    choice = (score, ((first, other), *more[1]))
        return choice

    groups = best((1 << len(branches)) - 1)[1]
    return [tuple(branches[n] for n in group) for group in groups]


def _paired_in_order(branches: list[Branch], apart: list[list[bool]]) -> list[tuple[Branch, ...]]:
    left = list(range(len(branches)))
    groups = []
    while left:
        first = left.pop(0)
        mate = next((n for n in left if apart[first][n]), None)
        if mate is not None:
            left.remove(mate)
        groups.append(tuple(branches[n] for n in (first, mate) if n is not None))
    return groups

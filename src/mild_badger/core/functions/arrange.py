"""An arrangement for a function box: trains, sleeves, one-way clutches, and where each is in.

Sleeves sit on the shafts that feed: each couples one of two free gears with dog faces. Two ways to
outputs share a sleeve where they are never in together.
"""

from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cache, lru_cache
from math import hypot, inf

from mild_badger.core.functions.branches import Need, Sense, needs_of
from mild_badger.core.functions.distances import (
    Reach,
    can_stand,
    distances_of,
    passing_gear_mm,
    passing_mm,
    reach_of,
)
from mild_badger.core.functions.rectifier import Rectifier, rectifier_for
from mild_badger.core.ids import OutputId
from mild_badger.core.kit.part_sizes import clutch_radius_mm
from mild_badger.core.mesh.shift import undercut_limit
from mild_badger.core.message import say
from mild_badger.core.ratios.pool import EVEN, ODD, RatioTable
from mild_badger.core.ratios.propose import short_pool
from mild_badger.core.ratios.single import best_train, ranked_trains
from mild_badger.core.ratios.train import gear_count, train_text
from mild_badger.core.targets.speeds import signed_error_percent
from mild_badger.core.vehicle.box import Face, GearPair, chain_ratio
from mild_badger.core.vehicle.functions import MAX_VARIANTS, FunctionBox
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import SleeveId
from mild_badger.core.vehicle.tally import Tally
from mild_badger.core.words import listed

__all__ = ["Arrangement", "Branch", "arrange", "count_functions"]

LEAST_SIZES = 8
"""Small gears are left out where so many larger sizes are left."""
MOST_TRAINS, MOST_TRIED = 200, 50_000
"""So many trains of a way are looked through, and so often, for some that stand side by side."""
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
class _End:
    """How a train comes to its output: from which feed, over which last mesh, where it can stand.

    ``beside_mm`` is how far a shaft stands from the output's that passes all it has of the train;
    ``straight`` leads from feed to output without a shaft between.
    """

    feed: str
    last_mm: float
    straight: bool
    beside_mm: float
    reach: Reach

    def meets(self, other: "_End") -> bool:
        """Whether both can lead to one shaft, each in a place of its own along it."""
        if self.feed == other.feed:
            return self.reach.meets(other.reach)
        return not (self.straight and other.straight)

    def stands_beside(self, other: "_End") -> bool:
        """Whether both can lead to one shaft, and be clear of one another side by side."""
        return self.meets(other) and all(
            one.straight or one.last_mm >= two.beside_mm
            for one, two in ((self, other), (other, self))
        )


@dataclass(frozen=True)
class Arrangement:
    """What is to be built; ``problems`` say why a table cannot be, or not as it stands.

    ``rectifier`` holds the gears that drive the one-way shaft, None where there is none.
    """

    branches: tuple[Branch, ...]
    rectifier: Rectifier | None
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
        one_way = 0 if self.rectifier is None else len(self.rectifier.gears)
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
    return _arranged(_bare(vehicle), box.model_copy(update={"places": ()}))


def count_functions(tally: Tally, box: FunctionBox, arrangement: Arrangement) -> None:
    """Count a function box: a train begins with the free gear that a sleeve couples."""
    user = "functions"
    if not arrangement.branches:
        return
    for branch in arrangement.branches:
        first = branch.train[0]
        tally.train(branch.train, user, free=None)
        if branch.sleeve is not None:
            tally.add("fixed", first.driver, user, -1)
            tally.add("free", first.driver, user)
        tally.add("one-way clutch", 0, user, abs(branch.sense))
    if arrangement.rectifier is not None:
        for teeth in arrangement.rectifier.gears:
            tally.add("fixed", teeth, user)
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
    pools = [short_pool(one) for one in (*_without_undercut(vehicle), vehicle)]
    rectifier = None
    if any(need.kind == "one-way" for need in needs):
        rectifier = rectifier_for(vehicle)
        if rectifier is None:
            sentences.append(
                say("functions.has-no-two-equal-gears-that-sit-together-so", name=vehicle.kit.name)
            )
    if rectifier is None:  # what hangs on the one-way shaft cannot be
        needs = tuple(need for need in needs if need.kind != "one-way")
    branches: list[Branch] = []
    often = Counter(need.output for need in needs)
    several = [output for output, count in often.items() if count > 1]
    for output in often:
        own = [need for need in needs if need.output == output]
        rank = _rank(box.variant, several.index(output), len(several)) if len(own) > 1 else 0
        found = _ways_to(vehicle, pools, box, own, rank)
        sentences += [one for one in found if isinstance(one, str)]
        branches += [one for one in found if not isinstance(one, str)]
    branches.sort(key=lambda branch: _place_of(needs, branch))
    placed = _sleeves(vehicle, branches, box)
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


def _rank(variant: int, number: int, outputs: int) -> int:
    """Say which choice of trains an output takes of those that several trains lead to."""
    choices = int((MAX_VARIANTS // 2) ** (1 / outputs) + 1e-9)
    return int(variant // 2 // choices**number % choices)


def _place_of(needs: tuple[Need, ...], branch: Branch) -> int:
    """Tell which need a branch answers, in the order of the table."""
    same = [n for n, need in enumerate(needs) if need.output == branch.output]
    return same[int(branch.key.rpartition(" ")[2]) - 1]


def _without_undercut(vehicle: Vehicle) -> Iterator[Vehicle]:
    """Give the vehicle with small made gears barred, whose teeth would be undercut."""
    kit = vehicle.kit
    if not kit.any_seat:
        return
    small = [teeth for teeth in kit.sizes if teeth < undercut_limit(kit.pressure_angle_deg)]
    if small and len(kit.sizes) - len(small) >= LEAST_SIZES:
        barred = kit.model_copy(update={"barred": (*kit.barred, *small)})
        yield vehicle.model_copy(update={"kit": barred})


def _ways_to(
    vehicle: Vehicle, pools: list[RatioTable], box: FunctionBox, needs: list[Need], rank: int
) -> list[Branch | str]:
    """Find the trains of one output's needs; a sentence for each that the kit has none for."""
    options = [_trains(vehicle, pools, box, need) for need in needs]
    able = [n for n, trains in enumerate(options) if trains]
    chosen = _together(
        [_ends(vehicle, box, needs[n], options[n]) for n in able],
        _held_end(vehicle, box, needs),
        rank,
    )
    trains = {n: options[n][row] for n, row in zip(able, chosen, strict=True)}
    return [
        _branch(box, need, number + 1, trains[number])
        if number in trains
        else _nothing_near(pools[-1], need, box)
        for number, need in enumerate(needs)
    ]


def _feed(need: Need) -> str:
    return "one-way" if need.kind == "one-way" else "input"


def _wanted(need: Need) -> tuple[float, int]:
    """Give the ratio of the pool's train, turned round, and the parity of its meshes."""
    # the one-way shaft turns against whatever drives it
    feed_sign = -1 if need.kind == "one-way" else 1
    return 1 / abs(need.ratio), EVEN if need.ratio * feed_sign > 0 else ODD


def _ranked(pool: RatioTable, box: FunctionBox, need: Need) -> list[tuple[GearPair, ...]]:
    """List the trains that do, the least first.

    The pool's trains end on a gear with dog faces; turned round, one begins with it.
    """
    target, parity = _wanted(need)
    ranked = ranked_trains(
        pool,
        target,
        parity=parity,
        tolerance_percent=box.tolerance_percent,
        limit=MOST_TRAINS,
    )
    return [_turned_round(candidate.train) for candidate in ranked]


def _trains(
    vehicle: Vehicle, pools: list[RatioTable], box: FunctionBox, need: Need
) -> list[tuple[GearPair, ...]]:
    """List the trains that do of which every shaft can stand, from the first pool that has any.

    Where there is none, the least train that does without regard to that: its placing says why.
    """
    sleeved, clutched = _sleeved(box, need), need.sense != 0
    for pool in pools:
        trains = [
            train
            for train in _ranked(pool, box, need)
            if can_stand(vehicle, train, sleeved=sleeved, clutched=clutched)
        ]
        if trains:
            return trains
    return _ranked(pools[-1], box, need)[:1]


def _held_end(vehicle: Vehicle, box: FunctionBox, needs: list[Need]) -> _End | None:
    """Give the point at which an output is held, as a train's end; None where it is not held."""
    pin = next((pin for pin in box.pins if pin.output == needs[0].output), None)
    if pin is None:
        return None
    apart = hypot(pin.x_mm, pin.y_mm)
    places = None if vehicle.kit.any_seat else frozenset({(pin.x_mm, pin.y_mm)})
    reach = Reach(apart, apart, places)
    return _End("input", inf, straight=False, beside_mm=0.0, reach=reach)


def _sleeved(box: FunctionBox, need: Need) -> bool:
    """Whether a need is in in some positions only, and takes a sleeve."""
    return {position.name for position in box.positions} != set(need.positions)


def _ends(
    vehicle: Vehicle, box: FunctionBox, need: Need, trains: list[tuple[GearPair, ...]]
) -> list[_End]:
    feed, sleeved = _feed(need), _sleeved(box, need)
    clutch = passing_mm(vehicle, clutch_radius_mm(vehicle)) if need.sense else 0.0
    ends = []
    for train in trains:
        apart = distances_of(vehicle, train)
        beside = max(passing_gear_mm(vehicle, train[-1].driven), clutch)
        reach = reach_of(vehicle, train, sleeved=sleeved)
        ends.append(_End(feed, apart[-1].mm, len(apart) == 1, beside, reach))
    return ends


def _together(ends: list[list[_End]], held: _End | None, rank: int) -> list[int]:
    """Choose a train for each need so that all lead to one shaft, where it is held if it is.

    At best they are clear of one another side by side, at worst the least of each is taken. A
    ``rank`` above 0 takes a later choice, where there are so many.
    """
    for point in ([[held]], []) if held is not None else ([],):
        for suits in (_End.stands_beside, _End.meets):
            chosen = _agreeing([*point, *ends], suits, rank)
            if chosen is not None:
                return chosen[len(point) :]
    return [0] * len(ends)


def _agreeing(
    ends: list[list[_End]], suits: Callable[[_End, _End], bool], rank: int
) -> list[int] | None:
    """Choose a row of each list so that all suit one another, none farther down than must be.

    The choice of a rank, the last one found where there are fewer; None where no choice does.
    """
    tried = 0
    found: list[list[int]] = []

    def choose(rows: list[int], most: int) -> bool:
        """List choices that go down to a row and no farther; whether there are enough."""
        nonlocal tried
        if len(rows) == len(ends):
            if max(rows, default=0) == most:
                found.append(rows)
            return len(found) > rank
        here = len(rows)
        for row, end in enumerate(ends[here][: most + 1]):
            tried += 1
            if tried > MOST_TRIED:
                return True
            fits = all(suits(end, ends[n][other]) for n, other in enumerate(rows))
            if fits and choose([*rows, row], most):
                return True
        return False

    for most in range(max((len(rows) for rows in ends), default=0)):
        if choose([], most):
            break
    if not ends:
        return []
    return found[min(rank, len(found) - 1)] if found else None


def _nothing_near(pool: RatioTable, need: Need, box: FunctionBox) -> str:
    target, parity = _wanted(need)
    nearest = best_train(pool, target, parity=parity)
    near = ""
    if nearest is not None:
        near = say("functions.the-nearest-is", ratio=float(1 / nearest.ratio))
    return say(
        "functions.found-no-train-that-makes-turns-in-per-turn",
        called=box.called(need.output),
        ratio=abs(need.ratio),
        limit=box.tolerance_percent,
        near=near,
    )


def _branch(box: FunctionBox, need: Need, number: int, train: tuple[GearPair, ...]) -> Branch:
    return Branch(
        key=f"{need.output} {number}",
        output=need.output,
        name=box.called(need.output),
        feed=_feed(need),
        wanted=need.ratio,
        ratio=(1 if need.ratio > 0 else -1) * chain_ratio(train),
        train=train,
        sense=need.sense,
        positions=need.positions,
    )


def _turned_round(train: tuple[GearPair, ...]) -> tuple[GearPair, ...]:
    return tuple(
        GearPair(driver=pair.driven, driven=pair.driver, idlers=pair.idlers[::-1])
        for pair in reversed(train)
    )


def _sleeves(vehicle: Vehicle, branches: list[Branch], box: FunctionBox) -> tuple[Branch, ...]:
    """Give every branch that is not always in a side of a sleeve on the shaft that feeds it."""
    every = {position.name for position in box.positions}
    placed: dict[str, tuple[str, Face]] = {}
    number = 0
    for feed in ("input", "one-way"):
        here = [b for b in branches if b.feed == feed and set(b.positions) != every]
        pairs = _paired(vehicle, here) if box.variant % 2 == 0 else [(b,) for b in here]
        for pair in pairs:
            number += 1
            sleeve = SleeveId("sleeve", number, [branch.key for branch in pair])
            faces: tuple[Face, Face] = ("front", "back")
            for branch, face in zip(pair, faces, strict=False):
                placed[branch.key] = (sleeve, face)
    return tuple(
        replace(b, sleeve=placed[b.key][0], face=placed[b.key][1]) if b.key in placed else b
        for b in branches
    )


def _side_by_side(vehicle: Vehicle, one: Branch, other: Branch) -> bool:
    """Whether two trains may stand on either side of a sleeve: never in together, and clear.

    Each one's first shaft passes the first gear of the other. Where both lead to one output, each
    one's last shaft but one passes what the other has on the output's.
    """
    if set(one.positions) & set(other.positions):
        return False
    for a, b in ((one, other), (other, one)):
        apart = distances_of(vehicle, a.train)
        if apart[0].mm < passing_gear_mm(vehicle, b.train[0].driver):
            return False
        if a.output == b.output and len(apart) > 1:
            beside = passing_gear_mm(vehicle, b.train[-1].driven)
            if b.sense:
                beside = max(beside, passing_mm(vehicle, clutch_radius_mm(vehicle)))
            if apart[-1].mm < beside:
                return False
    return True


def _paired(vehicle: Vehicle, branches: list[Branch]) -> list[tuple[Branch, ...]]:
    """Pair branches that can share a sleeve, as many as can be: the fewest sleeves."""
    apart = [[_side_by_side(vehicle, a, b) for b in branches] for a in branches]
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

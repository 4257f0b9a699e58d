"""Which single fault explains all readings, and which reading would tell the candidates apart.

Every suspect is solved with the drivetrain's own solver in the positions that were read. A wrong
tooth count acts on a speed by a power of its ratio (or not at all, or it locks): each gear is
solved once with a size that no kit has, and all its sizes follow from that.
"""

from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace
from fractions import Fraction
from functools import lru_cache
from math import exp, isclose, log

from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.driveline.assemble import WHEELS, assemble, box_output, shifter_state_for
from mild_badger.core.drivetrain.graph import Drivetrain, Equation
from mild_badger.core.drivetrain.path import power_path
from mild_badger.core.drivetrain.solve import Solution, solve
from mild_badger.core.message import say, say_count
from mild_badger.core.trial.expected import agrees, places, positions
from mild_badger.core.trial.faults import Suspect, suspects
from mild_badger.core.vehicle.log import Log
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.trial import NEUTRAL, Reading, Trial

__all__ = [
    "Diagnosis",
    "FaultCandidate",
    "NextReading",
    "Observation",
    "WrongReading",
    "diagnose",
    "wrong_readings",
]

EXPLAINS = 3.0
"""A reading that lies more standard deviations away than this is not explained."""
Z95 = 1.96
FINEST = 5e-4
"""No reading is taken to be finer than this share (common practice, no source)."""
ODD = Fraction(101, 89)
KEPT = 60
"""So many candidates are asked what they would show next."""
COASTS = 4.0
"""What hangs free does not turn at one steady ratio: such a reading is not explained by it."""
STEADY, JERKY = 0.1, 5.0
"""A slip shows in how the ratio wanders: less than this share of it, or more than so many times."""
Observation = Fraction | float | str | None
"""What would be seen: signed turns for one of the input, "jams", or None where it hangs free."""
JAMS = "jams"


@dataclass(frozen=True)
class FaultCandidate:
    """A fault that explains every reading.

    ``share`` is how much of the belief it takes among the candidates; ``off`` the largest
    deviation in standard deviations; ``alike`` the words of others that no reading of a shaft or
    wheel tells from it.
    """

    suspect: Suspect
    words: str
    look: str
    share: float
    off: float
    slip: float | None = None
    alike: tuple[str, ...] = ()


@dataclass(frozen=True)
class NextReading:
    """The reading that tells the candidates apart best, and what each group would show there."""

    position: str
    body: str
    name: str
    shows: tuple[tuple[str, int], ...]
    words: str


@dataclass(frozen=True)
class Diagnosis:
    """What the readings say.

    ``disagreeing`` are readings that are not as planned; ``unexplained`` is set where no single
    fault fits them all, with the nearest ones in ``nearest``.
    """

    used: int
    disagreeing: tuple[Reading, ...]
    candidates: tuple[FaultCandidate, ...]
    next_reading: NextReading | None
    words: str
    nearest: tuple[str, ...] = ()

    @property
    def fits(self) -> bool:
        """Whether every reading is as planned."""
        return bool(self.used) and not self.disagreeing


@dataclass
class _Case:
    """A vehicle's drivetrain, solved again and again with one thing changed."""

    vehicle: Vehicle
    train: Drivetrain
    ahead: tuple[Equation, ...]
    suspects: tuple[Suspect, ...]
    known: dict[tuple[object, str], Solution] = field(default_factory=dict)
    families: dict[str, "_Family"] = field(default_factory=dict)
    ways: dict[tuple[str, str], frozenset[str]] = field(default_factory=dict)
    loops: dict[str, set[str]] = field(default_factory=dict)

    def solution(self, suspect: Suspect | None, position: str) -> Solution:
        """Solve the drivetrain as a suspect would have it, in a position."""
        real = suspect.position(position) if suspect else position
        structural = suspect is not None and bool(
            suspect.scaled or suspect.dropped or suspect.added or suspect.turned
        )
        key = ((suspect.words if structural and suspect else None), real)
        if key not in self.known:
            train = suspect.built(self.train) if structural and suspect else self.train
            self.known[key] = self.solved(train, real)
        return self.known[key]

    def solved(self, train: Drivetrain, position: str) -> Solution:
        """Solve a drivetrain in a position."""
        gear = None if position == NEUTRAL else position
        return solve(train, shifter_state_for(self.vehicle, gear), self.ahead)

    def matters(self, position: str, body: str) -> frozenset[str]:
        """Name the couplings that can act on a body's speed as planned: those on the way to it.

        With them go all that may lie on a loop, since a loop that no longer agrees locks. What is
        left out hangs loose: its speeds change nothing elsewhere.
        """
        if (position, body) not in self.ways:
            gear = None if position == NEUTRAL else position
            sleeves = shifter_state_for(self.vehicle, gear)
            way = power_path(self.train, sleeves, self.train.source, body)
            on_way = {e.id for e in way.couplings} if way else set()
            self.ways[position, body] = frozenset(on_way | self._loops(position, sleeves))
        return self.ways[position, body]

    def _loops(self, position: str, sleeves: dict[str, str]) -> set[str]:
        """Name the couplings left when whatever ends loose has been taken off again and again."""
        if position not in self.loops:
            held = [e for e in (*self.train.equations, *self.ahead) if e.holds(sleeves)]
            left = {e.id: set(e.bodies) for e in held if len(e.bodies) > 1}
            counts = Counter(body for bodies in left.values() for body in bodies)
            loose = list(left)
            while loose:
                loose = [i for i, bodies in left.items() if sum(counts[b] > 1 for b in bodies) < 2]
                for identity in loose:
                    counts.subtract(left.pop(identity))
            self.loops[position] = set(left)
        return self.loops[position]

    def seen(self, solution: Solution, body: str) -> Observation:
        """Say what a solution shows at a body."""
        if solution.locked:
            return JAMS
        speed = solution.speed(body)
        wheel = self.train.index[body].kind == "wheel"
        return speed * self.vehicle.motor.turns if wheel and speed is not None else speed

    def family(self, key: str, change: Callable[[Drivetrain], Drivetrain]) -> "_Family":
        """Give what stands for all sizes of a gear or all shares of a slip; made once."""
        if key not in self.families:
            self.families[key] = _Family(self, change)
        return self.families[key]


class _Family:
    """All sizes of one gear, or all shares of one slip: one solution stands for them all."""

    def __init__(self, case: _Case, change: Callable[[Drivetrain], Drivetrain]) -> None:
        self._case = case
        self._train = change(case.train)
        self._solutions: dict[str, Solution] = {}

    def power(self, position: str, body: str) -> int | str | None:
        """By which power of the factor a speed changes; "jams"; None where it cannot be told."""
        if position not in self._solutions:
            self._solutions[position] = self._case.solved(self._train, position)
        solution = self._solutions[position]
        planned = self._case.solution(None, position)
        if solution.locked or planned.locked:
            return JAMS if solution.locked else None
        before = planned.speed(body)
        after = solution.speed(body)
        if before is None or after is None:
            return 0 if before is after else None
        if not before or not after:
            return 0 if before == after else None
        for power, factor in ((0, Fraction(1)), (1, ODD), (-1, 1 / ODD)):
            if after / before == factor:
                return power
        return None


@dataclass
class _Prediction:
    """What a suspect would show anywhere; ``slip`` is the share fitted to the readings."""

    case: _Case
    suspect: Suspect
    family: _Family | None
    factor: Fraction | float = Fraction(1)
    steadiness: float = 1.0

    def leaves_alone(self, position: str, body: str) -> bool:
        """Whether the fault cannot act there at all."""
        suspect = self.suspect
        if suspect.added or suspect.sleeves:
            return False
        matters = self.case.matters(position, body)
        if suspect.scaled:
            touching = self.case.train.touching
            return not any(e.id in matters for gear, _, _ in suspect.scaled for e in touching[gear])
        return not matters & {*suspect.turned, *suspect.dropped, suspect.slips}

    def at(self, position: str, body: str) -> Observation:
        """Say what would be seen at a body in a position."""
        if body in self.suspect.gone:
            return None
        if self.leaves_alone(position, body):
            return self.case.seen(self.case.solution(None, position), body)
        if self.family is None:
            return self.case.seen(self.case.solution(self.suspect, position), body)
        power = self.family.power(position, body)
        planned = self.case.seen(self.case.solution(None, position), body)
        if power is None and not self.suspect.slips:
            return self.case.seen(self.case.solution(self.suspect, position), body)
        if power == JAMS and not self.suspect.slips:
            return JAMS
        if not power or isinstance(planned, str) or planned is None:
            return planned
        # what slips runs behind, whichever side of the slip the disc is on
        exponent = 1 if self.suspect.slips else int(power)
        return planned * (self.factor if exponent > 0 else 1 / self.factor)


def diagnose(vehicle: Vehicle, readings: Iterable[Reading] | None = None) -> Diagnosis:
    """Compare readings with the plan and rank the single faults that explain all of them.

    Parameters
    ----------
    vehicle
        The vehicle as planned.
    readings
        What was measured; the document's own where they are not given. A reading of a place or a
        position that the vehicle no longer has is left out.
    """
    given = vehicle.trial.readings if readings is None else tuple(readings)
    vehicle = vehicle.model_copy(update={"trial": Trial(), "log": Log()})  # the plan alone counts
    used = [r for r in given if agrees(vehicle, r) is not None]
    disagreeing = tuple(r for r in used if agrees(vehicle, r) is False)
    if not disagreeing:
        return Diagnosis(len(used), (), (), None, _describe_fitting(vehicle, used))
    case = _case(vehicle)
    scored = _score(case, used)
    fitting = [(p, off) for p, off in scored if off <= EXPLAINS]
    if not fitting:
        nearest = sorted(scored, key=lambda pair: pair[1])[:3]
        return Diagnosis(
            len(used),
            disagreeing,
            (),
            None,
            say(
                "trial.of-readings-are-not-as-planned-and-no-single",
                count_of_disagreeing=len(disagreeing),
                count_of_used=len(used),
            ),
            tuple(
                say("trial.leaves-unexplained", words=p.suspect.words, worst=_worst(p, used))
                for p, _ in nearest
            ),
        )
    fitting.sort(key=lambda pair: (_weight(pair), pair[0].suspect.likely), reverse=True)
    return _told(case, used, disagreeing, fitting)


@dataclass(frozen=True)
class WrongReading:
    """What else than planned a position may show at the left wheel, and the faults that do so.

    ``causes`` name the faults, the usual ones first.
    """

    position: str
    seen: Observation
    words: str
    causes: tuple[str, ...]


def wrong_readings(vehicle: Vehicle, *, most: int = 4) -> tuple[WrongReading, ...]:
    """List for each position what single faults would show at the wheel, the usual ones first.

    Gears of wrong sizes and slips are left out: they may show anything. At most so many for each
    position.
    """
    case = _case(vehicle)
    body = WHEELS["left"]
    known = [p for p in _families(case) if p.suspect.kind not in ("size", "slip")]
    found = []
    for position in positions(vehicle):
        planned = case.seen(case.solution(None, position), body)
        groups: list[tuple[Observation, list[Suspect]]] = []
        for prediction in known:
            seen = prediction.at(position, body)
            if _same(seen, planned):
                continue
            group = next((own for other, own in groups if _same(seen, other)), None)
            if group is None:
                groups.append((seen, [prediction.suspect]))
            else:
                group.append(prediction.suspect)
        groups.sort(key=lambda group: -sum(suspect.likely for suspect in group[1]))
        for seen, own in groups[:most]:
            own.sort(key=lambda suspect: -suspect.likely)
            causes = tuple(dict.fromkeys(suspect.words for suspect in own))
            found.append(WrongReading(position, seen, _shown(seen, wheel=True), causes))
    return tuple(found)


@lru_cache(maxsize=2)
def _case(vehicle: Vehicle) -> _Case:
    """Keep what was solved: every further reading of one vehicle asks for it again."""
    train = assemble(vehicle)
    ahead = conditions(vehicle, Straight(), locked=False)
    return _Case(vehicle, train, ahead, suspects(vehicle, train))


def _describe_fitting(vehicle: Vehicle, used: list[Reading]) -> str:
    """Say that all is as planned, and what has not been looked at yet."""
    if not used:
        return say("trial.nothing-has-been-read-yet-engage-a-position")
    sentence: str = (
        say("trial.all-readings-are-as-planned", count_of_used=len(used))
        if len(used) > 1
        else say("trial.the-reading-is-as-planned")
    )
    left = [p for p in positions(vehicle) if all(r.position != p for r in used)]
    if left:
        sentence += say("trial.not-read-yet", listed=", ".join(map(vehicle.gear_name, left)))
    if all(r.body != WHEELS["left"] for r in used):
        sentence += say("trial.the-final-drive-shows-at-the-wheels-only")
    if all(not r.way for r in used):
        sentence += say("trial.nobody-has-looked-which-way-it-turns")
    return sentence


def _families(case: _Case) -> list[_Prediction]:
    """Make a prediction for every suspect; sizes of one gear share a family."""
    families = []
    for suspect in case.suspects:
        if suspect.kind == "size":
            ((body, old, new),) = suspect.scaled
            odd = replace(suspect, scaled=((body, ODD.denominator, ODD.numerator),))
            family = case.family(body, odd.built)
            families.append(_Prediction(case, suspect, family, Fraction(new, old)))
        elif suspect.slips:
            family = case.family(say("trial.slip", slips=suspect.slips), _loosened(suspect.slips))
            families.append(_Prediction(case, suspect, family))
        else:
            families.append(_Prediction(case, suspect, None))
    return families


def _loosened(identity: str) -> Callable[[Drivetrain], Drivetrain]:
    """Let one coupling pass its speed on by the odd factor."""

    def change(train: Drivetrain) -> Drivetrain:
        equations = []
        for equation in train.equations:
            if equation.id == identity:
                (one, value), *rest = equation.terms
                equations.append(replace(equation, terms=((one, value * ODD), *rest)))
            else:
                equations.append(equation)
        return replace(train, equations=tuple(equations))

    return change


def _score(case: _Case, used: list[Reading]) -> list[tuple[_Prediction, float]]:
    scored = []
    for prediction in _families(case):
        if prediction.suspect.slips and not _fit_slip(prediction, used):
            continue
        worst = 0.0
        for reading in used:
            worst = max(worst, _off(prediction.at(reading.position, reading.body), reading))
            if worst == float("inf"):
                break
        scored.append((prediction, worst))
    return scored


def _fit_slip(prediction: _Prediction, used: list[Reading]) -> bool:
    """Find the share by which a part slips from the readings behind it; False where it does not."""
    top = bottom = 0.0
    wander: list[float] = []
    for reading in used:
        family = prediction.family
        alone = prediction.leaves_alone(reading.position, reading.body)
        power = family.power(reading.position, reading.body) if family and not alone else 0
        planned = prediction.case.seen(
            prediction.case.solution(None, reading.position), reading.body
        )
        if not power or power == JAMS or not isinstance(planned, Fraction) or reading.jams:
            continue
        share = reading.turns / abs(float(planned))
        weight = (abs(float(planned)) / _sigma(reading, float(planned))) ** 2
        top, bottom = top + weight * share, bottom + weight
        if reading.uneven is not None:
            wander.append(reading.uneven)
    if not bottom:
        return False
    prediction.factor = top / bottom
    if wander and max(wander) < STEADY * (1.0 - prediction.factor):
        prediction.steadiness = 0.05
    elif wander and max(wander) > 0.5 * (1.0 - prediction.factor):
        prediction.steadiness = JERKY
    return bool(0.0 <= prediction.factor < 1.0 - 2.0 / bottom**0.5)


def _sigma(reading: Reading, about: float) -> float:
    return max(reading.spread / Z95, FINEST * max(abs(about), reading.turns), 1e-6)


def _off(seen: Observation, reading: Reading) -> float:
    """Say by how many standard deviations a reading is off what would be seen."""
    if isinstance(seen, str) or reading.jams:
        return 0.0 if isinstance(seen, str) and reading.jams else float("inf")
    if seen is None:
        return 0.0 if not reading.turns else COASTS
    value = float(seen)
    if reading.way and value and (value > 0) != (reading.way > 0):
        return float("inf")
    return abs(abs(value) - reading.turns) / _sigma(reading, value)


def _worst(prediction: _Prediction, used: list[Reading]) -> str:
    worst = max(used, key=lambda r: _off(prediction.at(r.position, r.body), r))
    return say("trial.the-reading-in", gear_name=prediction.case.vehicle.gear_name(worst.position))


def _weight(pair: tuple[_Prediction, float]) -> float:
    prediction, off = pair
    return prediction.suspect.likely * prediction.steadiness * exp(-0.5 * off * off)


def _told(
    case: _Case,
    used: list[Reading],
    disagreeing: tuple[Reading, ...],
    fitting: list[tuple[_Prediction, float]],
) -> Diagnosis:
    total = sum(_weight(pair) for pair in fitting)
    looked = fitting[:KEPT]
    table = _table(case, [p for p, _ in looked])
    candidates = []
    for number, (prediction, off) in enumerate(fitting):
        suspect = prediction.suspect
        alike = (
            tuple(
                other.suspect.words
                for n, (other, _) in enumerate(looked)
                if n != number and _same_everywhere(table[number], table[n])
            )
            if number < len(table)
            else ()
        )
        slip = 1.0 - float(prediction.factor) if suspect.slips else None
        words = (
            suspect.words
            if slip is None
            else say("trial.is-lost", words=suspect.words, slip=100 * slip)
        )
        share = _weight((prediction, off)) / total
        candidates.append(FaultCandidate(suspect, words, suspect.look, share, off, slip, alike))
    following = _next(case, used, looked, table)
    count = len(candidates)
    sentence: str = say(
        "trial.of-readings-not-as-planned",
        count_of_disagreeing=len(disagreeing),
        count_of_used=len(used),
        word=say_count("noun.is", len(disagreeing)),
    )
    if count == 1:
        sentence += say(
            "trial.one-single-fault-explains-everything-read-so", words=candidates[0].words
        )
    else:
        sentence += say("trial.single-faults-explain-everything-read-so-far", count=count)
    if following is None and count > 1:
        sentence += say("trial.no-reading-of-a-shaft-or-wheel-tells-them")
    return Diagnosis(len(used), disagreeing, tuple(candidates), following, sentence)


def _table(case: _Case, predictions: list[_Prediction]) -> list[dict[tuple[str, str], Observation]]:
    """Tell what each candidate would show in every position at every place."""
    asked = [(p, q.body) for p in positions(case.vehicle) for q in places(case.vehicle)]
    return [{ask: prediction.at(*ask) for ask in asked} for prediction in predictions]


def _same(one: Observation, other: Observation) -> bool:
    if one is None or other is None:
        return one is other
    if isinstance(one, str) or isinstance(other, str):
        return one == other
    return isclose(float(one), float(other), rel_tol=0.01, abs_tol=1e-9)


def _same_everywhere(
    one: dict[tuple[str, str], Observation], other: dict[tuple[str, str], Observation]
) -> bool:
    return all(_same(seen, other[ask]) for ask, seen in one.items())


def _next(
    case: _Case,
    used: list[Reading],
    looked: list[tuple[_Prediction, float]],
    table: list[dict[tuple[str, str], Observation]],
) -> NextReading | None:
    """Choose the reading whose answer is least foreseeable: the greatest entropy over the groups.

    Easy places (output, wheels) go before inner shafts where both tell as much.
    """
    weights = [_weight(pair) for pair in looked]
    total = sum(weights)
    taken = {(r.position, r.body) for r in used}
    easy = {box_output(case.vehicle): 0.03, WHEELS["left"]: 0.02}
    best: tuple[float, tuple[str, str], list[list[int]]] | None = None
    for ask in table[0]:
        if ask in taken:
            continue
        groups: list[list[int]] = []
        for number, row in enumerate(table):
            for group in groups:
                if _same(row[ask], table[group[0]][ask]):
                    group.append(number)
                    break
            else:
                groups.append([number])
        if len(groups) < 2:
            continue
        shares = [sum(weights[n] for n in group) / total for group in groups]
        told = -sum(share * log(share) for share in shares if share > 0) + easy.get(ask[1], 0.0)
        if best is None or told > best[0]:
            best = (told, ask, groups)
    if best is None:
        return None
    _, (position, body), groups = best
    place = next(p for p in places(case.vehicle) if p.body == body)
    shows = tuple(
        (_shown(table[group[0]][position, body], wheel=place.wheel), len(group)) for group in groups
    )
    sentence = "; ".join(
        f"{what}: {looked[group[0]][0].suspect.words}"
        + (say("trial.and-more", count_of_group=len(group) - 1) if len(group) > 1 else "")
        for (what, _), group in list(zip(shows, groups, strict=True))[:4]
    )
    more = say("trial.answers-more", count_of_groups=len(groups) - 4) if len(groups) > 4 else ""
    return NextReading(
        position,
        body,
        place.name,
        shows,
        say(
            "trial.read-next-in",
            gear_name=case.vehicle.gear_name(position),
            lower=place.name[:1].lower(),
            name=place.name[1:],
            sentence=sentence,
            more=more,
        ),
    )


def _shown(seen: Observation, *, wheel: bool) -> str:
    if isinstance(seen, str):
        return say("trial.the-input-jams")
    if seen is None:
        return say("trial.it-hangs-free")
    if not seen:
        return say("trial.it-stands")
    ways = (
        (say("trial.forwards"), say("trial.backwards"))
        if wheel
        else (say("trial.as-the-input"), say("trial.against-it"))
    )
    return say("trial.turns", seen=abs(float(seen)), ways=ways[seen < 0])

"""From the table to branches: what each output needs, by the kind of way the power takes to it.

Plain: a train from the input; the output turns over with the motor. One-way: a train from a shaft
that two one-way clutches drive, one of them behind a reversing mesh, so that it turns one way
whatever the motor does. Clutched: a plain train with a one-way clutch at its end, which lets the
output stand while the motor turns the other way.
"""

from dataclasses import dataclass, replace
from typing import Literal

from mild_badger.core.drivetrain.outputs import travel_per_turn
from mild_badger.core.ids import OutputId
from mild_badger.core.message import say
from mild_badger.core.vehicle.functions import FunctionBox, FunctionOutput, FunctionPosition, Want

__all__ = ["Need", "needs_of", "wanted_speed"]

WAYS: dict[str, tuple[int, ...]] = {"both": (1, -1), "forward": (1,), "backward": (-1,)}
Sense = Literal[1, 0, -1]
Kind = Literal["plain", "one-way", "clutched"]


@dataclass(frozen=True)
class Need:
    """A way to one output, and the positions in which it is in.

    ``ratio`` is turns of the motor per turn of the output, signed as the motor turns forwards, or,
    for a one-way need, as the output always turns; ``sense`` is the only way in which a clutched
    need drives, 0 for others.
    """

    output: OutputId
    kind: Kind
    ratio: float
    sense: Sense
    positions: tuple[str, ...]


def needs_of(box: FunctionBox) -> tuple[tuple[Need, ...], tuple[str, ...]]:
    """List what the table needs, and what of it cannot be, as sentences."""
    positions_of: dict[tuple[OutputId, Kind, float, Sense], list[str]] = {}
    problems: list[str] = []
    for position in box.positions:
        for want in position.wants:
            output = box.output(want.output)
            ratio, trouble = _ratio(box, position, want, ())
            if trouble or output is None or ratio is None:
                problems.append(trouble)
                continue
            need, trouble = _need(output, position, want, ratio)
            if need is None:
                problems.append(trouble)
                continue
            positions_of.setdefault((output.id, *need), []).append(position.name)
    needs = [Need(*key, tuple(where)) for key, where in positions_of.items()]
    problems += _turned_both_ways(box)
    return tuple(_spared(needs, box)), tuple(dict.fromkeys(problems))


def wanted_speed(
    box: FunctionBox, position: FunctionPosition, output: FunctionOutput, direction: int
) -> float | None:
    """Give the turns of an output per turn of the motor; 0 where it stands, None if impossible.

    ``direction`` +1 or −1 is the way the motor turns; the speed is for that turn.
    """
    want = position.want(output.id)
    if want is None or direction not in WAYS[want.motor]:
        return 0.0
    ratio, trouble = _ratio(box, position, want, ())
    if trouble or ratio is None:
        return None
    return 1 / ratio if output.one_way else direction / ratio


def _ratio(
    box: FunctionBox, position: FunctionPosition, want: Want, asking: tuple[OutputId, ...]
) -> tuple[float | None, str]:
    """Resolve a want to turns of the motor per turn of the output, or say why it has none."""
    if want.of is None or want.share is None:
        return want.ratio, ""
    name, base = box.called(want.output), box.called(want.of)
    here = say(
        "functions.position-asks-for-a-share-of-s-speed", name=position.name, name_2=name, base=base
    )
    if want.output in asking:
        return None, say("functions.and-so-on-in-a-circle-give-one-of-them-a", here=here)
    other = position.want(want.of)
    mine, its = box.output(want.output), box.output(want.of)
    if other is None or mine is None or its is None:
        return None, say(
            "functions.which-stands-there-give-a-ratio-or-one", here=here, base=base, name=name
        )
    ratio, trouble = _ratio(box, position, other, (*asking, want.output))
    if trouble or ratio is None:
        return None, trouble
    travel, unit = travel_per_turn(mine.kind, mine.measure)
    its_travel, its_unit = travel_per_turn(its.kind, its.measure)
    if unit != its_unit:
        return None, say(
            "functions.but-one-moves-in-and-the-other-in", here=here, unit=unit, its_unit=its_unit
        )
    return ratio * travel / (want.share * its_travel), ""


def _need(
    output: FunctionOutput, position: FunctionPosition, want: Want, ratio: float
) -> tuple[tuple[Kind, float, Sense] | None, str]:
    runs = [way for way in WAYS[position.motor] if way in WAYS[want.motor]]
    stands = [way for way in WAYS[position.motor] if way not in WAYS[want.motor]]
    if not runs:
        return None, (
            say(
                "functions.position-shall-run-with-the-motor-but-there",
                name=position.name,
                name_2=output.name,
                motor=want.motor,
                motor_2=position.motor,
            )
        )
    if output.one_way and len(runs) == 2:
        return ("one-way", ratio, 0), ""
    # what runs for one way of the motor only may take a plain train of the right sign
    plain = ratio * runs[0] if output.one_way else ratio
    if not stands:
        return ("plain", plain, 0), ""
    sense: Sense = 1 if plain * runs[0] > 0 else -1
    return ("clutched", plain, sense), ""


def _turned_both_ways(box: FunctionBox) -> list[str]:
    """Find outputs that must turn one way and are asked for both."""
    problems: list[str] = []
    for output in box.outputs:
        if not output.one_way:
            continue
        senses: dict[int, str] = {}
        for position in box.positions:
            for way in WAYS[position.motor]:
                speed = wanted_speed(box, position, output, way)
                if speed:
                    senses.setdefault(1 if speed > 0 else -1, position.name)
        if len(senses) > 1:
            problems.append(
                say(
                    "functions.must-always-turn-one-way-but-position-asks",
                    name=output.name,
                    senses=senses[1],
                    senses_2=senses[-1],
                )
            )
    return problems


def _spared(needs: list[Need], box: FunctionBox) -> list[Need]:
    """Let a plain need whose motor runs one way go over a one-way need of the same speed."""
    order = [position.name for position in box.positions]
    motor = {position.name: position.motor for position in box.positions}
    taken: dict[int, list[str]] = {}  # one-way need by place → positions it takes over
    left: list[int] = []
    for place, need in enumerate(needs):
        ways = {motor[p] for p in need.positions}
        twin = None
        if need.kind == "plain" and len(ways) == 1 and ways != {"both"}:
            speed = need.ratio * WAYS[ways.pop()][0]
            twin = next(
                (
                    n
                    for n, other in enumerate(needs)
                    if (other.output, other.kind, other.ratio) == (need.output, "one-way", speed)
                ),
                None,
            )
        if twin is None:
            left.append(place)
        else:
            taken.setdefault(twin, []).extend(need.positions)
    return [
        replace(
            needs[n],
            positions=tuple(sorted((*needs[n].positions, *taken.get(n, ())), key=order.index)),
        )
        for n in left
    ]

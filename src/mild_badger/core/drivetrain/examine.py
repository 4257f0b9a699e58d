"""Looking a graph over before it is solved: loose ends, gears on no shaft, inputs that fight.

A graph that cannot be built at all is told as findings too, never as a traceback.
"""

from collections import Counter
from collections.abc import Iterator, Sequence

from mild_badger.core.drivetrain.graph import Body, Coupling, Drivetrain, Equation, OneWay
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.message import say

__all__ = ["examine", "examined"]

ON_SHAFT = (
    Coupling.FIXED,
    Coupling.DOG,
    Coupling.CLUTCH,
    Coupling.DIFFERENTIAL,
    Coupling.LOCK,
    Coupling.ROAD,
)
"""Couplings that hold a gear to something it turns with, or that is held itself."""


def examined(
    bodies: Sequence[Body],
    equations: Sequence[Equation],
    inputs: Sequence[str],
    *,
    one_ways: Sequence[OneWay] = (),
) -> tuple[Drivetrain | None, tuple[Finding, ...]]:
    """Build a graph if it can be built, and list what is wrong with it.

    Parameters
    ----------
    bodies, equations, one_ways
        What the graph is made of.
    inputs
        Bodies that are driven from outside, the first one the drivetrain's own source.

    Returns
    -------
    tuple
        The drivetrain, None where it cannot be built, and the findings, worst first.
    """
    faults = list(_broken(bodies, equations, inputs, one_ways))
    if faults:
        return None, tuple(faults)
    train = Drivetrain(tuple(bodies), tuple(equations), inputs[0], tuple(one_ways))
    return train, examine(train, inputs[1:])


def examine(train: Drivetrain, further_inputs: Sequence[str] = ()) -> tuple[Finding, ...]:
    """List what is wrong with a graph that can be built, worst first.

    ``further_inputs`` are bodies that something else drives besides the train's own source.
    """
    faults = [
        *_fighting(train, further_inputs),
        *_without_shaft(train),
        *_loose(train, further_inputs),
    ]
    order = list(Severity)
    return tuple(sorted(faults, key=lambda finding: order.index(finding.severity)))


def _broken(
    bodies: Sequence[Body],
    equations: Sequence[Equation],
    inputs: Sequence[str],
    one_ways: Sequence[OneWay],
) -> Iterator[Finding]:
    names = Counter(body.id for body in bodies)
    for name in (name for name, count in names.items() if count > 1):
        yield _error(
            "body-twice",
            (name,),
            say("drivetrain.two-bodies-are-called", name=name),
            say("drivetrain.every-body-needs-a-name-of-its-own"),
        )
    for coupling, ends in (
        *((e.id, e.bodies) for e in equations),
        *((c.id, (c.driver, c.driven)) for c in one_ways),
    ):
        for body in ends:
            if body not in names:
                yield _error(
                    "loose-end",
                    (coupling,),
                    say("drivetrain.couples-which-is-not-there", coupling=coupling, body=body),
                    say("drivetrain.add-a-body-or-couple-another-one", body=body),
                )
        if len(set(ends)) < len(ends):
            yield _error(
                "coupled-to-itself",
                (coupling,),
                say("drivetrain.couples-a-body-to-itself", coupling=coupling),
                say("drivetrain.name-two-different-bodies"),
            )
    if not inputs:
        yield _error(
            "no-input",
            (),
            say("drivetrain.nothing-is-driven"),
            say("drivetrain.name-the-body-that-the-motor-drives"),
        )
    for body in inputs:
        if body not in names:
            yield _error(
                "no-input",
                (body,),
                say("drivetrain.the-motor-drives-which-is-not-there", body=body),
                say("drivetrain.add-a-body-or-drive-another-one", body=body),
            )


def _fighting(train: Drivetrain, inputs: Sequence[str]) -> Iterator[Finding]:
    """Find inputs whose speed another input already says with no sleeve in at all."""
    for number, one in enumerate((train.source, *inputs)):
        speeds = solve(train, {}, source=one)
        for other in inputs[number:]:
            speed = None if speeds.locked else speeds.speed(other)
            if speed is not None:
                yield _error(
                    "inputs-fight",
                    (one, other),
                    say(
                        "drivetrain.and-are-driven-twice",
                        name=_name(train, one),
                        name_2=_name(train, other),
                    ),
                    say(
                        "drivetrain.turns-times-for-one-turn-of-two-motors-would",
                        name=_name(train, other),
                        speed=float(speed),
                        name_2=_name(train, one),
                    ),
                )


def _without_shaft(train: Drivetrain) -> Iterator[Finding]:
    carried = {body for clutch in train.one_ways for body in (clutch.driver, clutch.driven)}
    for body in train.bodies:
        if body.kind != "gear" or body.id in carried or body.id == train.source:
            continue
        couplings = train.touching[body.id]
        held = any(e.kind in ON_SHAFT for e in couplings)
        meshes = sum(1 for e in couplings if e.kind.has_teeth)
        if couplings and not held and meshes < 2:
            yield Finding(
                Severity.WARNING,
                "gear-on-no-shaft",
                (body.id,),
                say("drivetrain.sits-on-no-shaft", name=body.name),
                say("drivetrain.it-meshes-but-is-neither-fixed-to-a-shaft"),
            )


def _loose(train: Drivetrain, inputs: Sequence[str]) -> Iterator[Finding]:
    clutched = {body for clutch in train.one_ways for body in (clutch.driver, clutch.driven)}
    for body in train.bodies:
        alone = not train.touching[body.id] and body.id not in clutched
        if alone:
            driven = (
                say("drivetrain.though-it-is-driven") if body.id in (train.source, *inputs) else ""
            )
            yield Finding(
                Severity.WARNING,
                "loose-end",
                (body.id,),
                say("drivetrain.is-coupled-to-nothing", name=body.name),
                say("drivetrain.nothing-meshes-with-it-or-sits-on-it-couple", driven=driven),
            )


def _error(code: str, where: tuple[str, ...], title: str, text: str) -> Finding:
    return Finding(Severity.ERROR, code, where, title, text)


def _name(train: Drivetrain, body: str) -> str:
    return train.index[body].name

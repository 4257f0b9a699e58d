"""A drivetrain of any make as a file: bodies, couplings, inputs, loads; read, looked over, solved.

JSON with a format name and a version, checked field by field. For what the box architectures do
not cover: worms, rings, planetary sets, belts, racks, clutches.
"""

from dataclasses import replace
from fractions import Fraction
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from mild_badger.core.drivetrain.conflict import conflict
from mild_badger.core.drivetrain.examine import examined
from mild_badger.core.drivetrain.graph import (
    Body,
    Coupling,
    Drivetrain,
    Equation,
    OneWay,
    belt,
    bevel_differential,
    bevel_pair,
    clutch,
    dog,
    external_mesh,
    fixed,
    held,
    internal_mesh,
    planet,
    planetary,
    rack_mesh,
    same_speed,
    sliding_mesh,
    slipping,
    worm_pair,
)
from mild_badger.core.drivetrain.one_way import OneWaySolution, solve_one_way
from mild_badger.core.drivetrain.power import PowerFlow, power_flow
from mild_badger.core.drivetrain.solve import Motion
from mild_badger.core.errors import DocumentError, GraphError
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.json_text import parse_json
from mild_badger.core.message import say, say_count
from mild_badger.core.vehicle.base import DocumentNode, ShortName, Teeth
from mild_badger.core.vehicle.codec import explain

__all__ = ["GraphFile", "graph_report", "graph_schema", "read_graph"]

FORMAT = "mild-badger graph"
Kind = Literal[
    "fixed",
    "external mesh",
    "sliding mesh",
    "internal mesh",
    "belt",
    "bevel pair",
    "worm",
    "rack",
    "dog",
    "clutch",
    "one-way clutch",
    "bevel differential",
    "planetary",
    "planet",
    "held",
    "same speed",
]
ENDS: dict[str, int] = {"held": 1, "bevel differential": 3, "planetary": 3, "planet": 3}
"""How many bodies a coupling names; two where it is not listed."""
WITH_TEETH = (
    "external mesh",
    "sliding mesh",
    "internal mesh",
    "belt",
    "bevel pair",
    "planetary",
    "planet",
)


class FileBody(DocumentNode):
    """A body: a shaft, a gear, a housing, a wheel or a rack."""

    id: ShortName
    kind: Literal["shaft", "gear", "housing", "wheel", "rack"] = "shaft"
    name: Annotated[str, Field(max_length=80)] = ""


class FileCoupling(DocumentNode):
    """What joins bodies.

    ``of`` names them in the order of the formulas: pinion or worm first, free gear before shaft,
    housing before left and right, sun, ring and carrier, driver before driven. ``teeth`` are
    theirs. ``sleeve`` and ``position`` say when a dog is closed; a clutch is closed, open or
    slipping by its ``lever``.
    """

    kind: Kind
    of: Annotated[tuple[ShortName, ...], Field(min_length=1, max_length=3)]
    teeth: Annotated[tuple[Teeth, ...], Field(max_length=2)] = ()
    starts: Annotated[int, Field(ge=1, le=12)] = 1
    sign: Literal[1, -1] = 1
    back_drivable: bool = True
    side: Literal["left", "right"] = "left"
    sleeve: ShortName = "sleeve"
    position: ShortName = "front"
    lever: ShortName = "clutch"


class GraphFile(DocumentNode):
    """The whole file.

    ``inputs`` are driven, the first one by the motor; ``loads`` are torques on bodies, signed about
    their axes; ``positions`` say where sleeves and levers stand.
    """

    format: Literal["mild-badger graph"]
    version: Annotated[int, Field(ge=1, le=1)]
    bodies: Annotated[tuple[FileBody, ...], Field(max_length=500)]
    couplings: Annotated[tuple[FileCoupling, ...], Field(max_length=2000)] = ()
    inputs: Annotated[tuple[ShortName, ...], Field(max_length=20)] = ()
    positions: Annotated[dict[ShortName, ShortName], Field(default_factory=dict)]
    loads: Annotated[dict[ShortName, float], Field(default_factory=dict)]
    mesh_loss: Annotated[float, Field(ge=0, lt=1)] = 0.0
    direction: Literal[1, -1] = 1


def read_graph(text: str | bytes) -> GraphFile:
    """Read a graph file.

    Raises
    ------
    DocumentError
        It is no JSON, or a field cannot be used.
    """
    try:
        data = parse_json(text)
        graph = GraphFile.model_validate(data)
    except ValidationError as error:
        raise DocumentError(explain(error, data)) from error
    for number, coupling in enumerate(graph.couplings, start=1):
        _check(number, coupling)
    return graph


def graph_schema() -> dict[str, Any]:
    """Give the JSON Schema of a graph file."""
    return GraphFile.model_json_schema()


def _check(number: int, coupling: FileCoupling) -> None:
    wanted = ENDS.get(coupling.kind, 2)
    where = say("drivetrain.couplings-entry", number=number, kind=coupling.kind)
    if len(coupling.of) != wanted:
        raise DocumentError(
            say(
                "drivetrain.it-joins-bodies-not",
                where=where,
                wanted=wanted,
                count_of_of=len(coupling.of),
            )
        )
    teeth = 2 if coupling.kind in WITH_TEETH else 1 if coupling.kind in ("worm", "rack") else 0
    if len(coupling.teeth) != teeth:
        raise DocumentError(
            say(
                "drivetrain.it-takes-not",
                where=where,
                teeth=teeth or "no",
                tooth_count=say_count("noun.tooth-count", teeth),
                count_of_teeth=len(coupling.teeth),
            )
        )


def _equation(coupling: FileCoupling) -> Equation | OneWay:
    of, teeth = coupling.of, coupling.teeth
    made: Equation | OneWay
    match coupling.kind:
        case "fixed":
            made = fixed(of[0], of[1])
        case "external mesh":
            made = external_mesh(of[0], of[1], (teeth[0], teeth[1]))
        case "sliding mesh":
            made = sliding_mesh(
                of[0],
                of[1],
                (teeth[0], teeth[1]),
                sleeve=coupling.sleeve,
                position=coupling.position,
            )
        case "internal mesh":
            made = internal_mesh(of[0], of[1], (teeth[0], teeth[1]))
        case "belt":
            made = belt(of[0], of[1], (teeth[0], teeth[1]))
        case "bevel pair":
            made = bevel_pair(of[0], of[1], (teeth[0], teeth[1]), crown_side=coupling.side)
        case "worm":
            made = worm_pair(
                of[0],
                of[1],
                starts=coupling.starts,
                teeth=teeth[0],
                sign=coupling.sign,
                back_drivable=coupling.back_drivable,
            )
        case "rack":
            made = rack_mesh(of[0], of[1], teeth[0], sign=coupling.sign)
        case "dog":
            made = dog(of[0], of[1], sleeve=coupling.sleeve, position=coupling.position)
        case "clutch":
            made = clutch(of[0], of[1], lever=coupling.lever)
        case "one-way clutch":
            made = OneWay(f"{of[0]}>{of[1]}", of[0], of[1], coupling.sign)
        case "bevel differential":
            made = bevel_differential(of[0], of[1], of[2])
        case "planetary":
            made = planetary(of[0], of[1], of[2], (teeth[0], teeth[1]))
        case "planet":
            made = planet(of[0], of[1], of[2], (teeth[0], teeth[1]))
        case "held":
            made = held(of[0])
        case "same speed":
            made = same_speed(of[0], of[1], kind=Coupling.LOCK)
    return made


def graph_report(graph: GraphFile) -> tuple[dict[str, Any], tuple[Finding, ...]]:
    """Look a graph over and solve it: plain data for the command line, and the findings.

    Speeds are exact turns per turn of the motor, null where a body is free; a rack's in teeth.
    """
    bodies = [Body(b.id, b.name or b.id, b.kind) for b in graph.bodies]
    parts = [_equation(coupling) for coupling in graph.couplings]
    equations = [
        replace(part, id=f"{part.id} ({number})")
        for number, part in enumerate(parts, start=1)
        if isinstance(part, Equation) and part.kind is not Coupling.ROAD
    ]
    one_ways = [part for part in parts if isinstance(part, OneWay)]
    train, findings = examined(bodies, equations, graph.inputs, one_ways=one_ways)
    findings = (*_astray(graph), *findings)
    nothing: dict[str, Any] = {"bodies": [], "power": None}
    if train is None or any(finding.code == "astray" for finding in findings):
        return {**nothing, "findings": [f.as_json() for f in findings]}, findings
    positions = dict(graph.positions)
    try:
        solution = solve_one_way(train, positions, _held(graph), direction=graph.direction)
    except GraphError as error:
        sentence = Finding(
            Severity.ERROR, "not-solved", (), say("drivetrain.the-graph-is-not-solved"), str(error)
        )
        findings = (sentence, *findings)
        return {**nothing, "findings": [f.as_json() for f in findings]}, findings
    flow = _flow(graph, train, solution, positions)
    motions = solution.solution.motions.values()
    fighting: tuple[Equation, ...] = ()
    if not train.one_ways and (solution.solution.locked or Motion.LOCKED in motions):
        fighting = conflict(train, positions, _held(graph))
    return {
        "locked": solution.solution.locked,
        "fighting": [e.id for e in fighting],
        "carrying": list(solution.carrying),
        "bodies": [
            {
                "id": body.id,
                "motion": solution.solution.motions[body.id].value,
                "speed": _text(solution.speed(body.id)),
            }
            for body in train.bodies
        ],
        "power": None if flow is None else _power(flow),
        "findings": [finding.as_json() for finding in findings],
    }, findings


def _held(graph: GraphFile) -> tuple[Equation, ...]:
    return tuple(held(coupling.of[0]) for coupling in graph.couplings if coupling.kind == "held")


def _astray(graph: GraphFile) -> list[Finding]:
    """Find loads on bodies, and positions of sleeves, that are not there."""
    names = {body.id for body in graph.bodies}
    movers = {c.sleeve for c in graph.couplings if c.kind in ("dog", "sliding mesh")}
    movers |= {c.lever for c in graph.couplings if c.kind == "clutch"}
    astray = []
    for kind, asked, there in (
        ("load", graph.loads, names),
        ("hold", [c.of[0] for c in graph.couplings if c.kind == "held"], names),
        ("position", graph.positions, movers),
    ):
        for name in sorted(set(asked) - there):
            title = say("drivetrain.a-is-given-for-which-is-not-there", kind=kind, name=name)
            text = say(
                "drivetrain.check-the-name-there-are", listed=", ".join(sorted(there)) or "none"
            )
            astray.append(Finding(Severity.ERROR, "astray", (name,), title, text))
    return astray


def _flow(
    graph: GraphFile, train: Drivetrain, solution: OneWaySolution, positions: dict[str, str]
) -> PowerFlow | None:
    if not graph.loads:
        return None
    slips = [
        slipping(e)
        for e in train.equations
        if e.kind is Coupling.CLUTCH and positions.get(e.sleeve or "") == "slipping"
    ]
    carrying = [c.closed for c in train.one_ways if c.id in solution.carrying]
    return power_flow(
        train,
        positions,
        solution.solution,
        dict(graph.loads),
        carrying=(*carrying, *slips, *_held(graph)),
        mesh_loss=graph.mesh_loss,
    )


def _power(flow: PowerFlow) -> dict[str, Any]:
    return {
        "source_torque": flow.source_torque,
        "in": flow.power_in,
        "out": flow.power_out,
        "lost": flow.lost,
        "circulating": list(flow.circulating),
        "determinate": flow.determinate,
        "driven_back": list(flow.driven_back),
        "couplings": [
            {"id": t.coupling.id, "torques": dict(t.torques), "lost": t.lost} for t in flow.through
        ],
    }


def _text(speed: Fraction | None) -> str | None:
    return None if speed is None else str(speed)

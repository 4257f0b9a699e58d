"""Single faults that a builder makes, each as a change of the planned drivetrain.

What makes one more likely than another is common practice without a source: a sleeve on the wrong
side and a pair changed over are the usual ones, an idler too many is rare.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import combinations
from typing import Literal

from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.drivetrain.graph import Body, Coupling, Drivetrain, Equation, fixed
from mild_badger.core.message import say
from mild_badger.core.vehicle.bodies import is_driver, partner_of
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.trial import NEUTRAL

__all__ = ["Suspect", "SuspectKind", "suspects"]

SuspectKind = Literal[
    "size", "pair", "idler out", "idler in", "sleeve", "glued", "crown", "slip", "open"
]
LIKELY: dict[SuspectKind, float] = {
    "pair": 1.0,
    "sleeve": 1.0,
    "idler out": 1.0,
    "size": 0.6,
    "glued": 0.8,
    "crown": 0.8,
    "open": 0.5,
    "slip": 0.4,
    "idler in": 0.15,
}


@dataclass(frozen=True)
class Suspect:
    """A fault that may be there: what the drivetrain would be like, and what to look at.

    ``scaled`` gives for a body by which share its tooth count differs; ``dropped`` and ``added``
    are couplings; ``turned`` are meshes whose sense is turned over; ``sleeves`` what a position
    engages instead; ``gone`` are shafts that are not there; ``slips`` a coupling after which
    everything runs slower by an unknown share.
    """

    kind: SuspectKind
    words: str
    look: str
    scaled: tuple[tuple[str, int, int], ...] = ()
    dropped: tuple[str, ...] = ()
    added: tuple[Equation, ...] = ()
    turned: tuple[str, ...] = ()
    sleeves: tuple[tuple[str, str], ...] = ()
    gone: tuple[str, ...] = ()
    slips: str = ""

    @property
    def likely(self) -> float:
        """How usual such a fault is, against others."""
        return LIKELY[self.kind]

    def position(self, wanted: str) -> str:
        """Give the position that is really engaged where one is wanted."""
        return dict(self.sleeves).get(wanted, wanted)

    def built(self, train: Drivetrain) -> Drivetrain:
        """Change the planned drivetrain into the one that the fault would make."""
        sizes = {body: Fraction(new, old) for body, old, new in self.scaled}
        equations = []
        for equation in train.equations:
            if equation.id in self.dropped:
                continue
            if equation.kind.has_teeth and (sizes or equation.id in self.turned):
                turn = -1 if equation.id in self.turned else 1
                terms = tuple(
                    (body, value * sizes.get(body, 1) * (turn if not n else 1))
                    for n, (body, value) in enumerate(equation.terms)
                )
                if terms != equation.terms:
                    equations.append(replace(equation, terms=terms))
                    continue
            equations.append(equation)
        return replace(train, equations=(*equations, *self.added))


def suspects(vehicle: Vehicle, train: Drivetrain | None = None) -> tuple[Suspect, ...]:
    """List every single fault that is looked for."""
    train = train or assemble(vehicle)
    meshes = [e for e in train.equations if e.kind in (Coupling.MESH, Coupling.BEVEL)]
    return (
        *_pairs(train),
        *_idlers(train, meshes),
        *_sleeves(vehicle),
        *_dogs(train),
        *_crowns(train),
        *_sizes(vehicle, train, meshes),
        *_slips(train, meshes),
        *_more_idlers(train, meshes),
    )


def _part(train: Drivetrain, body: str) -> str:
    """Name a part so that one knows which: with its pair's number where its train has several."""
    name = train.index[body].name
    parsed = re.fullmatch(r"(.+)/(\d+)\.(\w+)", body)
    if parsed is None or f"{parsed[1]}/1.driver" not in train.index:
        return name
    return name.replace(", ", f", pair {int(parsed[2]) + 1}, ", 1)


def _joined(train: Drivetrain, equation: Equation) -> str:
    one, other = (_part(train, body) for body in equation.bodies)
    return say("trial.and", one=one, lower=other[:1].lower(), other=other[1:])


def _sizes(vehicle: Vehicle, train: Drivetrain, meshes: list[Equation]) -> Iterator[Suspect]:
    in_mesh = {body for equation in meshes for body in equation.bodies}
    bevels = {body for e in meshes if e.kind is Coupling.BEVEL for body in e.bodies}
    here = {b.teeth for b in train.bodies if b.teeth}
    for body in train.bodies:
        if body.id not in in_mesh or not body.teeth:
            continue
        if body.id in bevels:
            sizes = sorted({b.teeth for b in vehicle.kit.bevels} | {body.teeth - 1, body.teeth + 1})
        elif vehicle.kit.any_seat:
            near = set(range(body.teeth - 3, body.teeth + 4)) | here
            sizes = sorted(z for z in near if z and z > 3)
        else:
            sizes = list(vehicle.kit.sizes)
        for teeth in sizes:
            if teeth != body.teeth and teeth > 3:
                name = _part(train, body.id)
                yield Suspect(
                    "size",
                    say("trial.has-teeth-instead-of", name=name, teeth=teeth, teeth_2=body.teeth),
                    say("trial.count-the-teeth-of", name=name),
                    scaled=((body.id, body.teeth, teeth),),
                )


def _pairs(train: Drivetrain) -> Iterator[Suspect]:
    """Driver and driven changed over: they fit the same centre distance, so it is easily done."""
    for body in train.bodies:
        if not is_driver(body.id) or not body.teeth:
            continue
        driven = train.index.get(partner_of(body.id))
        if driven is None or not driven.teeth or driven.teeth == body.teeth:
            continue
        yield Suspect(
            "pair",
            say(
                "trial.and-driven-changed-over-drives",
                part=_part(train, body.id),
                teeth=driven.teeth,
                teeth_2=body.teeth,
            ),
            say("trial.which-of-the-two-is-on-the-driving-shaft-it", teeth=body.teeth),
            scaled=((body.id, body.teeth, driven.teeth), (driven.id, driven.teeth, body.teeth)),
        )


def _idlers(train: Drivetrain, meshes: list[Equation]) -> Iterator[Suspect]:
    for body in train.bodies:
        if ".idler" not in body.id:
            continue
        touching = [e for e in meshes if body.id in e.bodies]
        if len(touching) != 2:
            continue
        yield Suspect(
            "idler out",
            say("trial.is-left-out", part=_part(train, body.id)),
            say("trial.whether-is-there-between-its-two-gears", part=_part(train, body.id)),
            turned=(touching[0].id,),
            gone=tuple(
                b
                for e in train.equations
                if e.kind is Coupling.FIXED and body.id in e.bodies
                for b in e.bodies
                if b != body.id
            ),
        )


def _more_idlers(train: Drivetrain, meshes: list[Equation]) -> Iterator[Suspect]:
    for equation in meshes:
        if equation.kind is Coupling.MESH:
            joined = _joined(train, equation)
            yield Suspect(
                "idler in",
                say("trial.an-idler-too-many-between", joined=joined),
                say("trial.what-stands-between", joined=joined),
                turned=(equation.id,),
            )


def _crowns(train: Drivetrain) -> Iterator[Suspect]:
    for equation in train.equations:
        if equation.kind is Coupling.BEVEL:
            yield Suspect(
                "crown",
                say(
                    "trial.sits-on-the-other-side-of-its-pinion",
                    name=train.index[equation.bodies[1]].name,
                ),
                say("trial.on-which-side-of-its-pinion-the-crown-wheel"),
                turned=(equation.id,),
            )


def _sleeves(vehicle: Vehicle) -> Iterator[Suspect]:
    gears = [g.id for g in vehicle.real.gears if shifter_state_for(vehicle, g.id)]
    called = vehicle.gear_name
    for one, other in combinations(gears, 2):
        yield Suspect(
            "sleeve",
            say(
                "trial.gears-and-are-changed-over-at-the-sleeves",
                called=called(one),
                called_2=called(other),
            ),
            say(
                "trial.which-sleeve-moves-and-to-which-side-for-and",
                called=called(one),
                called_2=called(other),
            ),
            sleeves=((one, other), (other, one)),
        )
    for one in gears:
        for other in gears:
            if one != other:
                yield Suspect(
                    "sleeve",
                    say(
                        "trial.gear-s-place-on-the-shifter-engages-gear",
                        called=called(one),
                        called_2=called(other),
                    ),
                    say("trial.what-the-sleeve-does-in", called=called(one)),
                    sleeves=((one, other),),
                )
        yield Suspect(
            "open",
            say("trial.gear-does-not-engage-its-sleeve-does-not", called=called(one)),
            say("trial.how-far-the-sleeve-travels-in", called=called(one)),
            sleeves=((one, NEUTRAL),),
        )


def _dogs(train: Drivetrain) -> Iterator[Suspect]:
    for equation in train.equations:
        if equation.kind is Coupling.DOG:
            one, other = (train.index[b] for b in equation.bodies)
            name = _free(train, one, other)
            yield Suspect(
                "glued",
                say("trial.is-fast-on-its-shaft-though-it-should-run", name=name),
                say("trial.whether-turns-freely-on-its-shaft-with-the", name=name),
                added=(fixed(one.id, other.id),),
            )


def _free(train: Drivetrain, one: Body, other: Body) -> str:
    return (
        _part(train, one.id)
        if one.teeth
        else say("trial.with", name=one.name, lower=other.name.lower())
    )


def _slips(train: Drivetrain, meshes: list[Equation]) -> Iterator[Suspect]:
    for equation in train.equations:
        if equation.kind is Coupling.DOG:
            one, other = (train.index[b] for b in equation.bodies)
            yield Suspect(
                "slip",
                say("trial.the-dogs-between-and-its-sleeve-slip", free=_free(train, one, other)),
                say("trial.whether-the-sleeve-goes-in-all-the-way-and"),
                slips=equation.id,
            )
    for equation in meshes:
        yield Suspect(
            "slip",
            say("trial.skip-teeth", joined=_joined(train, equation)),
            say("trial.listen-for-clicks-there-and-look-whether-the"),
            slips=equation.id,
        )

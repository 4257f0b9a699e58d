"""What a graph is collected in, and what its bodies are called."""

from collections.abc import Iterable, Mapping

from mild_badger.core.drivetrain.graph import Body, Equation, external_mesh, fixed, sliding_mesh
from mild_badger.core.message import say
from mild_badger.core.vehicle.bodies import gear_body, idler_shaft, shaft_after
from mild_badger.core.vehicle.box import GearPair, Link, links_of
from mild_badger.core.vehicle.train import pair_ids

__all__ = ["Builder", "chain_bodies", "train_bodies"]


class Builder:
    """Collects the bodies and equations of a graph."""

    def __init__(self, names: Mapping[str, str] | None = None) -> None:
        """Begin with nothing; ``names`` are what gears of the box are called, by id."""
        self.bodies: dict[str, Body] = {}
        self.equations: list[Equation] = []
        self._names = names or {}

    def title(self, gear: str) -> str:
        """Call a gear of the box by its name."""
        return say("drivetrain.gear", gear=self._names.get(gear, gear))

    def shaft(self, identity: str, name: str) -> str:
        """Add a shaft, once."""
        self.bodies.setdefault(identity, Body(identity, name, "shaft"))
        return identity

    def gear(self, identity: str, teeth: int, *, on: str | None, name: str) -> str:
        """Add a gear, fixed on a shaft or free."""
        self.bodies[identity] = Body(identity, name, "gear", teeth)
        if on is not None:
            self.equations.append(fixed(identity, on))
        return identity

    def mesh(self, one: str, other: str) -> None:
        """Put two gears into mesh."""
        teeth = (self.bodies[one].teeth or 0, self.bodies[other].teeth or 0)
        self.equations.append(external_mesh(one, other, teeth))

    def train(
        self,
        key: str,
        pairs: tuple[GearPair, ...],
        *,
        start: str | None,
        end: str | None,
        title: str,
        slides: tuple[str, str] | None = None,
    ) -> str:
        """Add a train between two shafts. Returns its last gear.

        ``start`` None leaves its first gear free, ``end`` None its last one. ``slides`` names the
        slider and its position where the last gear slides into mesh.
        """
        here = start
        last = ""
        for number, (pair, own) in enumerate(zip(pairs, pair_ids(pairs), strict=True)):
            finish = number == len(pairs) - 1
            drive = self.gear(
                gear_body(key, own, "driver"),
                pair.driver,
                on=here,
                name=say("drivetrain.driver", title=title),
            )
            for place, teeth in enumerate(pair.idlers):
                carrier = self.shaft(
                    idler_shaft(key, own, place), say("drivetrain.idler", title=title)
                )
                idler = self.gear(
                    gear_body(key, own, f"idler{place}"),
                    teeth,
                    on=carrier,
                    name=say("drivetrain.idler", title=title),
                )
                self.mesh(drive, idler)
                drive = idler
            on: str | None
            if finish:
                on = end
            else:
                on = self.shaft(shaft_after(key, own), title)
                here = on
            last = self.gear(
                gear_body(key, own, "driven"),
                pair.driven,
                on=on,
                name=say("drivetrain.driven", title=title),
            )
            if finish and slides is not None:
                both = (self.bodies[drive].teeth or 0, pair.driven)
                sleeve, position = slides
                self.equations.append(
                    sliding_mesh(drive, last, both, sleeve=sleeve, position=position)
                )
            else:
                self.mesh(drive, last)
        return last


def chain_bodies(chain: Iterable[Link]) -> tuple[str, ...]:
    """Name the gears of a chain of pairs in the order in which the power meets them."""
    return tuple(
        gear_body(link.key, link.id, role)
        for link in chain
        for role in ("driver", *(f"idler{n}" for n in range(len(link.pair.idlers))), "driven")
    )


def train_bodies(key: str, pairs: tuple[GearPair, ...]) -> tuple[str, ...]:
    """Name the gears of one train in the order in which the power meets them."""
    return chain_bodies(links_of(key, pairs))

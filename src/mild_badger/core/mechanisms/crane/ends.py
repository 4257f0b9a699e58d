"""What stands at the end of an output: thrust of a screw, layers of rope on a drum.

Screws after Shigley, equations 8-1 to 8-4, square threads; lengths mm, forces N, torques N·mm.
"""

from dataclasses import dataclass
from math import floor, inf, pi

from mild_badger.core.mechanisms.crane.model import Screw, Spool

__all__ = [
    "RopeLayer",
    "RopeSettings",
    "lowering_n_mm",
    "paid_out_mm",
    "raising_n_mm",
    "rope_layers",
    "rope_settings",
    "rope_turns",
    "screw_holds",
]


def raising_n_mm(screw: Screw, push_n: float) -> float:
    """Give the torque that moves a nut against a force; infinite where the thread jams."""
    d, lead, mu = screw.mean_mm, screw.lead_mm, screw.mu
    below = pi * d - mu * lead
    return push_n * d / 2 * (lead + pi * mu * d) / below if below > 0 else inf


def lowering_n_mm(screw: Screw, push_n: float) -> float:
    """Give the torque that lets the nut back with the force; negative where it runs by itself."""
    d, lead, mu = screw.mean_mm, screw.lead_mm, screw.mu
    return push_n * d / 2 * (pi * mu * d - lead) / (pi * d + mu * lead)


def screw_holds(screw: Screw) -> bool:
    """Whether the force cannot turn the screw: π μ d ≥ lead."""
    return lowering_n_mm(screw, 1.0) >= 0


@dataclass(frozen=True)
class RopeLayer:
    """One layer: from the drum outwards, the diameter to the rope's middle, rope in it, mm."""

    number: int
    middle_mm: float
    holds_mm: float
    wound_mm: float


def rope_layers(spool: Spool) -> tuple[RopeLayer, ...]:
    """Lay the whole rope turn by turn: layer k lies at D + (2 k − 1) d, floor(width / d) turns."""
    turns = floor(spool.width_mm / spool.rope_mm + 1e-9)
    left, layers = spool.rope_length_mm, list[RopeLayer]()
    while left > 1e-9:
        number = len(layers) + 1
        middle = spool.drum_mm + (2 * number - 1) * spool.rope_mm
        holds = pi * middle * turns
        layers.append(RopeLayer(number, middle, holds, min(left, holds)))
        left -= holds
    return tuple(layers)


def rope_turns(spool: Spool) -> float:
    """Give the turns of the drum that the whole rope takes."""
    return sum(layer.wound_mm / (pi * layer.middle_mm) for layer in rope_layers(spool))


def paid_out_mm(spool: Spool, rope: int, turns: float) -> float:
    """Give the rope that leaves one drum, full at the start, in so many turns of its shaft."""
    drum = spool.made_mm[rope] if spool.made_mm else spool.drum_mm
    own = spool.model_copy(update={"drum_mm": drum})
    gone = 0.0
    for layer in reversed(rope_layers(own)):
        round_mm = pi * layer.middle_mm
        here = min(turns, layer.wound_mm / round_mm)
        gone += here * round_mm
        turns -= here
        if turns <= 0:
            break
    return gone


@dataclass(frozen=True)
class RopeSettings:
    """Ropes against the mean of all, mm: with everything wound up, and with all paid out.

    ``best`` are the adjusters' settings that share each rope's difference between both ends;
    ``left`` is the most that is then still out of step.
    """

    wound: tuple[float, ...]
    paid: tuple[float, ...]
    best: tuple[float, ...]
    left: float

    @property
    def apart(self) -> float:
        """How far the ropes differ now, at the worse end."""
        return max(max(self.wound) - min(self.wound), max(self.paid) - min(self.paid))


def rope_settings(spool: Spool) -> RopeSettings:
    """Compare the ropes of one shaft over the whole way."""
    many = range(spool.ropes)
    now = spool.adjust_mm or (0.0,) * spool.ropes
    turns = min(
        rope_turns(spool.model_copy(update={"drum_mm": drum}))
        for drum in (spool.made_mm or (spool.drum_mm,))
    )
    gone = [paid_out_mm(spool, n, turns) for n in many]
    mean = sum(gone) / len(gone)
    drift = [one - mean for one in gone]
    best = tuple(-d / 2 for d in drift)
    return RopeSettings(
        tuple(now),
        tuple(n + d for n, d in zip(now, drift, strict=True)),
        best,
        max(abs(d) / 2 for d in drift),
    )

"""The outputs of a crane as part of the drivetrain graph."""

from collections.abc import Mapping
from math import atan, cos, radians, tan

from mild_badger.core.drivetrain.builder import Builder
from mild_badger.core.drivetrain.graph import fixed, internal_mesh, worm_pair
from mild_badger.core.ids import OutputId
from mild_badger.core.mechanisms.crane.model import OWN_INPUT, Crane, CraneOutput, Ring, Worm
from mild_badger.core.message import say

__all__ = [
    "build_crane",
    "crane_end",
    "crane_input",
    "crane_key",
    "crane_shaft",
    "inner_shafts",
    "worm_efficiency",
    "worm_holds",
]

PRESSURE_DEG = 20.0


def crane_key(output: OutputId) -> str:
    """Name the train of an output."""
    return f"crane {output}"


def crane_shaft(output: OutputId) -> str:
    """Name the shaft at whose end an output sits."""
    return f"{crane_key(output)}/end shaft"


def crane_input(output: OutputId) -> str:
    """Name the input that is an output's own."""
    return f"{crane_key(output)}/own input"


def crane_end(output: CraneOutput) -> str:
    """Name the body that an output moves: its slewing ring, else its shaft."""
    return (
        f"{crane_key(output.id)}/ring" if isinstance(output.end, Ring) else crane_shaft(output.id)
    )


def inner_shafts(output: CraneOutput) -> tuple[str, ...]:
    """Name what turns between two pairs, or between the pairs and the worm."""
    count = len(output.pairs) - (output.worm is None)
    return tuple(f"{crane_key(output.id)}/shaft {n + 1}" for n in range(count))


def _lead_angle(worm: Worm, module_mm: float) -> float:
    return atan(worm.starts * module_mm / worm.mean_mm)


def worm_holds(worm: Worm, module_mm: float) -> bool:
    """Whether the wheel cannot turn the worm: tan γ ≤ μ / cos α_n (common practice, no source)."""
    return tan(_lead_angle(worm, module_mm)) <= worm.mu / cos(radians(PRESSURE_DEG))


def worm_efficiency(worm: Worm, module_mm: float) -> float:
    """Give what a driving worm passes on: (cos α − μ tan γ) / (cos α + μ cot γ), Shigley 13-46."""
    lead, cosine = _lead_angle(worm, module_mm), cos(radians(PRESSURE_DEG))
    return max((cosine - worm.mu * tan(lead)) / (cosine + worm.mu / tan(lead)), 0.01)


def build_crane(
    builder: Builder, crane: Crane, starts: Mapping[str, str], module_mm: float
) -> None:
    """Add every output behind what drives it; ``starts`` names the bodies of the inputs."""
    ends: dict[str, str] = dict(starts)
    for output in sorted(crane.outputs, key=lambda o: len(crane.way_to(o.id))):
        if output.source == OWN_INPUT:
            start = builder.shaft(
                crane_input(output.id), say("driveline.separate-input", name=output.name)
            )
        else:
            start = ends[output.source]
        ends[output.id] = _output(builder, output, start, module_mm)


def _output(builder: Builder, output: CraneOutput, start: str, module_mm: float) -> str:
    key, title = crane_key(output.id), output.name
    shaft = builder.shaft(crane_shaft(output.id), title)
    worm = output.worm
    before = shaft if worm is None else start
    if output.pairs:
        if worm is not None:
            before = builder.shaft(inner_shafts(output)[-1], say("driveline.worm", title=title))
        builder.train(key, output.pairs, start=start, end=before, title=title)
    elif worm is None:
        builder.equations.append(fixed(start, shaft))
    if worm is not None:
        thread = builder.gear(
            f"{key}/worm", worm.starts, on=before, name=say("driveline.worm", title=title)
        )
        wheel = builder.gear(
            f"{key}/wheel", worm.teeth, on=shaft, name=say("driveline.worm-wheel", title=title)
        )
        builder.equations.append(
            worm_pair(
                thread,
                wheel,
                starts=worm.starts,
                teeth=worm.teeth,
                sign=1,
                back_drivable=not worm_holds(worm, module_mm),
                efficiency=worm_efficiency(worm, module_mm),
            )
        )
    end = output.end
    if isinstance(end, Ring):
        pinion = builder.gear(
            f"{key}/pinion", end.pinion, on=shaft, name=say("driveline.pinion", title=title)
        )
        ring = builder.gear(
            crane_end(output), end.teeth, on=None, name=say("driveline.slewing-ring", title=title)
        )
        if end.internal:
            builder.equations.append(internal_mesh(pinion, ring, (end.pinion, end.teeth)))
        else:
            builder.mesh(pinion, ring)
    return shaft

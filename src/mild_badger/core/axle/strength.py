"""Load on the planets of a differential at the motor's stall, against what their teeth bear.

Each planet hands half of the housing's torque to either side gear: F = T / (2 r N) with N planets
on a side gear of pitch radius r, so two planets carry about twice what one does (domain.md §9).
Losses are not taken off, which is on the safe side.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from math import pi, sin

from mild_badger.core.figures import in_n, in_n_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mesh.lewis import lewis_load_n
from mild_badger.core.message import say, say_count
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Differential, Vehicle
from mild_badger.core.words import capitalized

__all__ = [
    "PlanetLoad",
    "describe_strength",
    "planet_limit_n",
    "planet_loads",
    "planets_fit",
    "strength_findings",
]

MOST_PLANETS = 4


@dataclass(frozen=True)
class PlanetLoad:
    """One gear at stall: torque at the housing in N·mm, force on each planet's tooth in N."""

    gear: str
    torque_n_mm: float
    force_n: float
    clicks: bool

    def share_percent(self, limit_n: float) -> float:
        """Give the force in per cent of a limit."""
        return 100 * self.force_n / limit_n


def planet_limit_n(vehicle: Vehicle) -> tuple[float | None, str]:
    """Give the force a planet's tooth may carry, and where the figure comes from.

    The builder's own figure counts first; otherwise Lewis' estimate for the tooth count; None where
    there is neither.
    """
    differential, kit = vehicle.differential, vehicle.kit
    if differential.tooth_limit_n is not None:
        return differential.tooth_limit_n, say("axle.as-you-found-it")
    teeth = differential.planet_teeth
    faces = [bevel.face_width_mm for bevel in kit.bevels if bevel.teeth == teeth]
    face = faces[0] if faces else 6 * kit.module_mm
    limit = lewis_load_n(kit.tooth_strength_mpa, face_mm=face, module_mm=kit.module_mm, teeth=teeth)
    if limit is None:
        return None, say("axle.no-estimate-below-12-teeth-and-the-planets", teeth=teeth)
    return limit, say("axle.estimated-by-lewis-formula")


def planet_loads(vehicle: Vehicle, overall: dict[str, float]) -> tuple[PlanetLoad, ...]:
    """Load the first axle's planets in every gear; empty for an axle without planets.

    ``overall`` holds, per gear, motor turns for one of the housing.
    """
    differential, module = vehicle.differential, vehicle.kit.module_mm
    if differential.kind not in ("open", "planetary"):
        return ()
    limit, _ = planet_limit_n(vehicle)
    rows = []
    for gear, ratio in overall.items():
        torque = vehicle.motor.shaft_stall_n_mm * abs(ratio)
        if differential.kind == "open":
            force = torque / (differential.side_teeth * module * differential.planets)
        else:
            teeth = differential.sun_teeth + differential.ring_teeth
            force = 2 * torque / (teeth * module * differential.planets)
        rows.append(PlanetLoad(gear, torque, force, limit is not None and force > limit))
    return tuple(rows)


def planets_fit(differential: Differential) -> str:
    """Say why planets do not fit; empty where they do.

    Equal planets fit when the sum of sun and ring (of both side gears) divides by their number and
    neighbours clear one another, (S + P) sin(π/N) > P + 2 (domain.md §9).
    """
    count = differential.planets
    if differential.kind == "open":
        if 2 * differential.side_teeth % count:
            return say(
                "axle.planets-do-not-fit-teeth-of-both-side-gears",
                count=count,
                side_teeth=2 * differential.side_teeth,
            )
        return (
            ""
            if count <= MOST_PLANETS
            else say("axle.no-room-for-more-than-planets", most_planets=MOST_PLANETS)
        )
    if differential.kind != "planetary":
        return ""
    sun, ring = differential.sun_teeth, differential.ring_teeth
    planet, odd = divmod(ring - sun, 2)
    if odd:
        return say("axle.sun-and-ring-leave-no-whole-planet-between", sun=sun, ring=ring)
    if (sun + ring) % count:
        return say("axle.planets-do-not-fit-does-not-divide-by", count=count, sun=sun, ring=ring)
    if count > 1 and (sun + planet) * sin(pi / count) <= planet + 2:
        return say("axle.planets-of-teeth-would-touch-one-another", count=count, planet=planet)
    return ""


def strength_findings(vehicle: Vehicle, overall: dict[str, float]) -> Iterator[Finding]:
    """Find planets that do not fit, and those that click before the motor stalls."""
    misfit = planets_fit(vehicle.differential)
    if misfit:
        yield Finding(
            Severity.ERROR,
            "planets-misfit",
            ("differential",),
            say("axle.the-planet-gears-do-not-fit"),
            f"{capitalized(misfit)}.",
        )
    weak = [row for row in planet_loads(vehicle, overall) if row.clicks]
    limit, source = planet_limit_n(vehicle)
    if not weak or limit is None:
        return
    worst = max(weak, key=lambda row: row.force_n)
    known = vehicle.differential.tooth_limit_n is not None
    stall = vehicle.motor.shaft_stall_n_mm
    yield Finding(
        Severity.WARNING if known else Severity.NOTE,
        "differential-clicks",
        ("differential",),
        say(
            "axle.the-differential-skips-teeth-at-motor-stall",
            gear=say_count("noun.gear", len(weak)),
            listed=", ".join(vehicle.gear_name(row.gear) for row in weak),
        ),
        say(
            "axle.at-motor-stall-in-gear-each-planet-tooth",
            gear_name=vehicle.gear_name(worst.gear),
            force_n=in_n(worst.force_n, 0),
            limit=in_n(limit, 0),
            source=source,
            torque=in_n_mm(stall * limit / worst.force_n, 0),
            stall=in_n_mm(stall, 0),
            strength=describe_strength(vehicle, overall),
        ),
        figure=worst.force_n,
        limit=limit,
        unit="N",
        mend=_more_planets(vehicle, worst, limit),
    )


def _enough(vehicle: Vehicle, worst: PlanetLoad, limit: float) -> int | None:
    """Give the fewest planets that carry a load, None where four are too few."""
    differential = vehicle.differential
    for count in range(differential.planets + 1, MOST_PLANETS + 1):
        other = differential.model_copy(update={"planets": count})
        if not planets_fit(other) and worst.force_n * differential.planets / count <= limit:
            return count
    return None


def _more_planets(vehicle: Vehicle, worst: PlanetLoad, limit: float) -> Edit | None:
    count = _enough(vehicle, worst, limit)
    if count is None:
        return None
    return Edit.one(say("axle.use-planet-gears", count=count), ("differential", "planets"), count)


def describe_strength(vehicle: Vehicle, overall: dict[str, float]) -> str:
    """Advise on a differential that is too weak; say by how much one that holds does."""
    rows = planet_loads(vehicle, overall)
    limit, source = planet_limit_n(vehicle)
    if not rows:
        return say("axle.this-axle-has-no-planet-gears")
    worst = max(rows, key=lambda row: row.force_n)
    if limit is None:
        return say(
            "axle.on-each-planets-tooth-in-gear",
            force_n=in_n(worst.force_n, 0),
            gear_name=vehicle.gear_name(worst.gear),
            source=source,
        )
    if worst.force_n <= limit:
        return say(
            "axle.safety-factor-at-motor-stall-in-gear",
            limit=limit / worst.force_n,
            gear_name=vehicle.gear_name(worst.gear),
            source=source,
        )
    count = _enough(vehicle, worst, limit)
    more = (
        say("axle.planet-gears-are-enough", count=count)
        if count
        else say("axle.more-planet-gears-are-not-enough-use-larger")
    )
    return say(
        "axle.hub-reduction-gears-of-1-or-more-also", more=more, force_n=worst.force_n / limit
    )

"""Whether a machine with a boom stands: moments about its tipping edges over every position.

Stability is the holding moment by the tipping moment about an edge; a load hangs straight down
from where its rope leaves the boom. Feet bear as equal springs under a stiff frame.
"""

from dataclasses import dataclass
from math import atan, cos, degrees, hypot, inf, radians, sin, tan

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.mechanisms.balance.model import Balance
from mild_badger.core.units import GRAVITY_M_S2

__all__ = [
    "EDGES",
    "LoadChart",
    "OnRing",
    "SlopedGround",
    "Spot",
    "Stability",
    "ballast_window",
    "behind_mm",
    "ground_under",
    "load_chart",
    "on_ring",
    "spots",
    "standing",
    "worst",
]

EDGES = ("front", "rear", "left", "right")
SLEWS, REACHES = 72, 25
TINY = 1e-9
"""A tipping moment below this share of the holding one is none."""
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class SlopedGround:
    """What it stands on: front, rear and half width from the slewing axis, mm; what slope is left.

    ``let_down`` is the most that a foot is let down, ``wanted`` what a level stand would take.
    """

    front: float
    rear: float
    half: float
    along: float
    across: float
    let_down: float = 0.0
    wanted: float = 0.0

    @property
    def corners(self) -> tuple[tuple[float, float], ...]:
        """Where the feet or wheels are: front left, front right, rear left, rear right."""
        return tuple((x, y) for x in (self.front, self.rear) for y in (self.half, -self.half))

    @property
    def tilt_deg(self) -> float:
        """The slope that is left, steepest way."""
        return degrees(atan(hypot(self.along, self.across)))


def ground_under(balance: Balance, *, wheelbase_mm: float, track_mm: float) -> SlopedGround:
    """Give the feet or wheels and the slope that levelling leaves; wheels level nothing."""
    along, across = (tan(radians(d)) for d in (balance.slope_along_deg, balance.slope_across_deg))
    if balance.stands == "wheels":
        rear = -balance.axis_ahead_mm
        return SlopedGround(rear + wheelbase_mm, rear, track_mm / 2, along, across)
    front, rear, wide = balance.feet_ahead_mm, -balance.feet_behind_mm, balance.feet_apart_mm
    wanted = abs(along) * (front - rear) + abs(across) * wide
    share = 1.0 if wanted <= balance.foot_travel_mm else balance.foot_travel_mm / wanted
    left = 1.0 - share
    return SlopedGround(front, rear, wide / 2, left * along, left * across, share * wanted, wanted)


@dataclass(frozen=True)
class _Places:
    """Masses (kg) over slews × reaches × masses, with the edges' distances behind: inside +."""

    mass: Floats
    inside: Floats


Row = tuple[float, ...]
"""Mass, whether it turns with the boom, its share of the reach, of the weight's way; x, y, z."""


def _masses(balance: Balance, *, loaded: bool, road: bool = False) -> list[Row]:
    """List the masses, on the road without what is taken off, and the load last."""
    rows: list[Row] = []
    for one in balance.masses:
        if road and one.removable:
            continue
        rides = float(one.on != "chassis")
        rows.append(
            (
                one.mass_kg,
                rides,
                float(one.on == "carriage"),
                float(one.on == "counterweight"),
                one.x_mm,
                one.y_mm,
                one.z_mm,
            )
        )
    if loaded:
        rows.append((balance.load_kg, 1.0, 1.0, 0.0, 0.0, 0.0, balance.boom_mm))
    return rows


@dataclass(frozen=True)
class _Sweep:
    """Positions to look at: slews in degrees × reaches in mm, on some ground."""

    balance: Balance
    ground: SlopedGround
    share: float
    slews: Floats
    reaches: Floats


def _places(sweep: _Sweep, rows: list[Row]) -> _Places:
    balance, ground, share = sweep.balance, sweep.ground, sweep.share
    slews, reaches = sweep.slews, sweep.reaches
    table = np.array(rows, dtype=np.float64).reshape(-1, 7)
    mass, rides, carriage, weight, x, y, z = table.T
    out = reaches[:, None]
    behind = balance.weight_at_mm + share * (out - balance.reach_low_mm)
    along = x + carriage * out - weight * behind  # reaches × masses, in the boom's frame
    turn = np.radians(slews)[:, None, None]
    cosine = 1.0 + rides * (np.cos(turn) - 1.0)
    sine = rides * np.sin(turn)
    ahead = along * cosine - y * sine - z * ground.along
    left = along * sine + y * cosine - z * ground.across
    inside = np.stack(
        [ground.front - ahead, ahead - ground.rear, ground.half - left, left + ground.half]
    )
    return _Places(mass, inside)


def _moments(places: _Places) -> tuple[Floats, Floats]:
    """Give holding and tipping moment, kg·mm: edges × slews × reaches."""
    moment = places.inside * places.mass
    return np.maximum(moment, 0).sum(axis=-1), np.maximum(-moment, 0).sum(axis=-1)


def _factors(places: _Places) -> Floats:
    """Give holding by tipping moment: edges × slews × reaches; infinite where nothing tips."""
    holding, tipping = _moments(places)
    factors: Floats = np.divide(
        holding, tipping, out=np.full_like(holding, inf), where=tipping > TINY * holding
    )
    return factors


@dataclass(frozen=True)
class Stability:
    """One position: weight N, its centre mm, the edge nearest to tipping and how far off.

    ``factor`` is the least holding by tipping moment, ``feet_n`` what each corner bears, front
    left first; ``margin_mm`` is negative where it tips.
    """

    slew_deg: float
    reach_mm: float
    loaded: bool
    weight_n: float
    centre: tuple[float, float]
    margin_mm: float
    factor: float
    edge: str
    feet_n: tuple[float, ...]


def standing(
    balance: Balance,
    ground: SlopedGround,
    share: float,
    *,
    slew_deg: float,
    reach_mm: float,
    loaded: bool,
    road: bool = False,
) -> Stability:
    """Work one position out."""
    rows = _masses(balance, loaded=loaded, road=road)
    at = _Sweep(balance, ground, share, np.array([slew_deg]), np.array([reach_mm]))
    places = _places(at, rows)
    total = float(places.mass.sum())
    if total <= 0:
        return Stability(slew_deg, reach_mm, loaded, 0.0, (0.0, 0.0), 0.0, inf, "", (0.0,) * 4)
    inside = places.inside[:, 0, 0, :]
    spare = inside @ places.mass / total
    centre = (ground.front - float(spare[0]), ground.half - float(spare[2]))
    factors = _factors(places)[:, 0, 0]
    edge = int(np.argmin(spare))
    weight = total * GRAVITY_M_S2
    return Stability(
        slew_deg,
        reach_mm,
        loaded,
        weight,
        centre,
        float(spare[edge]),
        float(factors.min()),
        EDGES[edge],
        _feet(ground, weight, centre),
    )


def _feet(ground: SlopedGround, weight: float, centre: tuple[float, float]) -> tuple[float, ...]:
    """Share a weight out over four equal springs; a foot that would pull lifts off."""
    corners = np.array(ground.corners)
    bears = np.ones(4, dtype=bool)
    force = np.zeros(4)
    for _ in range(3):
        flat = np.column_stack([np.ones(int(bears.sum())), corners[bears]])
        wanted = np.array([weight, weight * centre[0], weight * centre[1]])
        forces = flat @ np.linalg.lstsq(flat.T @ flat, wanted, rcond=None)[0]
        force[:] = 0.0
        force[bears] = forces
        if (force >= -1e-9).all() or bears.sum() < 4:
            break
        bears[int(np.argmin(force))] = False
    return tuple(float(f) for f in np.maximum(force, 0.0))


def _sweep(balance: Balance, ground: SlopedGround, share: float) -> _Sweep:
    slews = np.linspace(0.0, 360.0, SLEWS, endpoint=False)
    reaches = np.linspace(balance.reach_low_mm, balance.reach_high_mm, REACHES)
    return _Sweep(balance, ground, share, slews, reaches)


def worst(balance: Balance, ground: SlopedGround, share: float, *, loaded: bool) -> Stability:
    """Find the position, all round and from end to end of the boom, that stands least well.

    Where it tips at all that is where its weight falls farthest out, else where it holds the
    smallest multiple of what tips it, or has the least margin where nothing does.
    """
    sweep = _sweep(balance, ground, share)
    rows = _masses(balance, loaded=loaded)
    if not rows:
        return standing(
            balance, ground, share, slew_deg=0.0, reach_mm=balance.reach_low_mm, loaded=loaded
        )
    places = _places(sweep, rows)
    total = max(float(places.mass.sum()), 1e-12)
    spare = (places.inside @ places.mass / total).min(axis=0)
    factors = _factors(places).min(axis=0)
    least = spare if spare.min() < 0 or np.isinf(factors).all() else factors
    slew, reach = np.unravel_index(int(np.argmin(least)), least.shape)
    return standing(
        balance,
        ground,
        share,
        slew_deg=float(sweep.slews[slew]),
        reach_mm=float(sweep.reaches[reach]),
        loaded=loaded,
    )


@dataclass(frozen=True)
class LoadChart:
    """What may hang at each reach, all round: kg for the factor asked, and what tips it."""

    reach_mm: tuple[float, ...]
    allowed_kg: tuple[float, ...]
    tips_kg: tuple[float, ...]


def load_chart(balance: Balance, ground: SlopedGround, share: float) -> LoadChart:
    """Work the load out that each reach allows; 0 where it would not even stand empty."""
    sweep = _sweep(balance, ground, share)
    empty = _masses(balance, loaded=False)
    hook = _masses(_with_load(balance, 1.0), loaded=True)[-1:]
    own = _places(sweep, empty)
    load = _places(sweep, hook).inside[..., 0]
    holding, tipping = _moments(own)
    points = []
    for factor in (balance.least_factor, 1.0):
        spare = holding - factor * tipping
        most = np.divide(spare, -factor * load, out=np.full_like(load, inf), where=load < 0)
        # where the load itself holds an edge down, it cannot make up for an empty machine
        most = np.where((load >= 0) & (spare < 0), 0.0, most)
        points.append(np.maximum(most.min(axis=(0, 1)), 0.0))
    return LoadChart(
        tuple(sweep.reaches.tolist()), tuple(points[0].tolist()), tuple(points[1].tolist())
    )


def _with_load(balance: Balance, load_kg: float) -> Balance:
    """Hang another load."""
    return balance.model_copy(update={"load_kg": load_kg})


def ballast_window(
    balance: Balance, ground: SlopedGround, share: float
) -> tuple[float, float] | None:
    """Give the least and most mass at the counterweight that stands everywhere, loaded and empty.

    Kilograms; None where no mass there does. The masses that ride on it now are left out.
    """
    others = balance.model_copy(
        update={"masses": tuple(m for m in balance.masses if m.on != "counterweight")}
    )
    riding = [m for m in balance.masses if m.on == "counterweight"]
    total = sum(m.mass_kg for m in riding)
    height = sum(m.mass_kg * m.z_mm for m in riding) / total if total else 40.0
    sweep = _sweep(balance, ground, share)
    low, high, factor = 0.0, inf, balance.least_factor
    rows: list[Row] = [(1.0, 1.0, 0.0, 1.0, 0.0, 0.0, height)]
    arm = _places(sweep, rows).inside[..., 0]
    gain = np.where(arm >= 0, arm, factor * arm)
    for loaded in (True, False):
        held = _masses(others, loaded=loaded)
        if not held:
            continue
        places = _places(sweep, held)
        holding, tipping = _moments(places)
        spare = holding - factor * tipping
        if (spare[np.abs(gain) < 1e-12] < 0).any():
            return None
        need = -spare / np.where(np.abs(gain) < 1e-12, 1.0, gain)
        low = max(low, float(need[gain > 1e-12].max(initial=0.0)))
        high = min(high, float(need[gain < -1e-12].min(initial=inf)))
    return (low, high) if low <= high else None


@dataclass(frozen=True)
class Spot:
    """Where a mass is seen from above, mm from the slewing axis, and how heavy it is."""

    name: str
    mass_kg: float
    x: float
    y: float


def spots(balance: Balance, share: float) -> tuple[Spot, ...]:
    """Give every mass and last the load as seen from above, the boom where it is."""
    turn, behind = radians(balance.slew_deg), behind_mm(balance, share)
    names = [*(mass.name for mass in balance.masses), "load"]
    places = []
    for name, row in zip(names, _masses(balance, loaded=True), strict=True):
        mass, rides, carriage, counter, x, y, _ = row
        along = x + carriage * balance.reach_mm - counter * behind
        angle = turn * rides
        places.append(
            Spot(
                name, mass, along * cos(angle) - y * sin(angle), along * sin(angle) + y * cos(angle)
            )
        )
    return tuple(places)


def behind_mm(balance: Balance, share: float) -> float:
    """Give how far behind the axis the counterweight stands, at the reach there is."""
    return balance.weight_at_mm + share * (balance.reach_mm - balance.reach_low_mm)


@dataclass(frozen=True)
class OnRing:
    """What bears on the slewing ring: weight N, moment N·mm along the boom, and its lift.

    Between two points of a ring of so wide a pitch circle; ``lifts_n`` is what its far side must be
    held down with, 0 where the weight alone keeps it down.
    """

    weight_n: float
    moment_n_mm: float
    presses_n: float
    lifts_n: float


def on_ring(balance: Balance, share: float, ring_mm: float, *, loaded: bool) -> OnRing:
    """Give what bears on the slewing ring at the reach there is."""
    behind = behind_mm(balance, share)
    weight = moment = 0.0
    for mass, rides, carriage, counter, x, _, _ in _masses(balance, loaded=loaded):
        force = mass * GRAVITY_M_S2 * rides
        weight += force
        moment += force * (x + carriage * balance.reach_mm - counter * behind)
    far = weight / 2 - abs(moment) / ring_mm
    return OnRing(weight, moment, weight / 2 + abs(moment) / ring_mm, max(-far, 0.0))

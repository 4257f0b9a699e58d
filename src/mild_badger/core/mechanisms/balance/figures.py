"""How a vehicle with a boom stands: figures, over the whole swing."""

from dataclasses import dataclass
from functools import lru_cache
from math import inf

from mild_badger.core.mechanisms.balance.model import Balance
from mild_badger.core.mechanisms.balance.statics import (
    LoadChart,
    OnRing,
    SlopedGround,
    Stability,
    ballast_window,
    ground_under,
    load_chart,
    on_ring,
    standing,
    worst,
)
from mild_badger.core.mechanisms.crane.figures import crane_figures, shares
from mild_badger.core.mechanisms.crane.model import Ring
from mild_badger.core.vehicle.cache_key import CacheKey, cache_key
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "MASS_FIELDS",
    "BalanceFigures",
    "balance_figures",
    "ring_mm",
    "weight_share",
    "with_boom",
]


@dataclass(frozen=True)
class BalanceFigures:
    """All of it: the ground, the share of the counterweight, this position, the worst ones.

    ``empty`` are without the load, as after it was set down or fell; ``road`` is on the wheels,
    the boom straight ahead and drawn in, without what is removable.
    """

    ground: SlopedGround
    share: float
    here: Stability
    here_empty: Stability
    loaded: Stability
    empty: Stability
    road: Stability
    chart: LoadChart
    window: tuple[float, float] | None
    ring: OnRing | None

    def charted(
        self, load_kg: float
    ) -> tuple[list[tuple[float, float]], list[tuple[float, float]]]:
        """Give the load chart's curves, allowed and tipping, cut off well above what hangs."""
        most = max(2.5 * load_kg, 4 * self.chart.allowed_kg[-1])
        most = min(most, max((kg for kg in self.chart.tips_kg if kg < inf), default=0.0))
        curves = (self.chart.allowed_kg, self.chart.tips_kg)
        allowed, tips = (
            [(mm, min(kg, most)) for mm, kg in zip(self.chart.reach_mm, curve, strict=True)]
            for curve in curves
        )
        return allowed, tips


MASS_FIELDS = ("name", "mass_kg", "on", "x_mm", "y_mm", "z_mm")
"""What of a mass may be typed, in the order in which it is shown."""


def ring_mm(vehicle: Vehicle) -> float | None:
    """Give the pitch circle of the first slewing ring; None where there is none."""
    outputs = vehicle.crane.outputs if vehicle.crane is not None else ()
    ring = next((o.end for o in outputs if isinstance(o.end, Ring)), None)
    return None if ring is None else ring.teeth * vehicle.kit.module_mm


def weight_share(vehicle: Vehicle) -> float | None:
    """Give the share of the carriage's way that the counterweight goes; None if it cannot be told.

    Where outputs of the crane are named it is theirs, both counting + outwards; else as typed.
    """
    balance = vehicle.balance
    if balance is None:
        return None
    if balance.carriage is None or balance.counterweight is None:
        return balance.weight_share
    figures = crane_figures(vehicle, None, vehicle.motor.working_rpm)
    return shares(figures, balance.carriage).get(balance.counterweight)


def balance_figures(vehicle: Vehicle) -> BalanceFigures | None:
    """Work a vehicle's balance out; None where none is planned."""
    return _worked_out(
        cache_key(vehicle, vehicle.kit, vehicle.motor, vehicle.balance, vehicle.axle)
    )


@lru_cache(maxsize=16)
def _worked_out(question: CacheKey) -> BalanceFigures | None:
    vehicle = question.vehicle
    balance = vehicle.balance
    if balance is None:
        return None
    share = weight_share(vehicle)
    base, track = vehicle.axle.wheelbase_mm, vehicle.axle.track_mm
    used = balance.weight_share if share is None else share
    ring = ring_mm(vehicle)
    ground = ground_under(balance, wheelbase_mm=base, track_mm=track)
    wheels = ground_under(
        balance.model_copy(update={"stands": "wheels"}), wheelbase_mm=base, track_mm=track
    )
    slew, reach = balance.slew_deg, balance.reach_mm
    sweep = _swept(_anywhere(balance), ground, used)
    return BalanceFigures(
        ground,
        used,
        standing(balance, ground, used, slew_deg=slew, reach_mm=reach, loaded=True),
        standing(balance, ground, used, slew_deg=slew, reach_mm=reach, loaded=False),
        sweep[0],
        sweep[1],
        standing(
            balance,
            wheels,
            used,
            slew_deg=0.0,
            reach_mm=balance.reach_low_mm,
            loaded=False,
            road=True,
        ),
        sweep[2],
        sweep[3],
        None if ring is None else on_ring(balance, used, ring, loaded=True),
    )


def with_boom(vehicle: Vehicle, slew_deg: float, reach_mm: float) -> Vehicle:
    """Give the vehicle with its boom held elsewhere, as while it is dragged."""
    balance = vehicle.balance
    if balance is None:
        return vehicle
    reach = min(max(reach_mm, balance.reach_low_mm), balance.reach_high_mm)
    held = balance.model_copy(update={"slew_deg": slew_deg % 360.0, "reach_mm": reach})
    return vehicle.model_copy(update={"balance": held})


def _anywhere(balance: Balance) -> Balance:
    """Forget where the boom is now, so that moving it asks for the same sweep again."""
    return balance.model_copy(update={"slew_deg": 0.0, "reach_mm": balance.reach_low_mm})


@lru_cache(maxsize=32)
def _swept(
    balance: Balance, ground: SlopedGround, share: float
) -> tuple[Stability, Stability, LoadChart, tuple[float, float] | None]:
    return (
        worst(balance, ground, share, loaded=True),
        worst(balance, ground, share, loaded=False),
        load_chart(balance, ground, share),
        ballast_window(balance, ground, share),
    )

"""The final drive: what the box leaves to it, and what the kit can make of that.

In the spacing fit one common factor k is free and the final drive takes it up (domain.md §2).
"""

from dataclasses import dataclass
from fractions import Fraction
from math import sqrt

from mild_badger.core.message import say
from mild_badger.core.ratios.pool import EVEN, ODD, RatioTable, build_pool
from mild_badger.core.ratios.rules import Rules, grid_idlers
from mild_badger.core.ratios.single import best_train, ranked_trains
from mild_badger.core.ratios.train import gear_count, gear_ratio, mesh_count, train_ratio
from mild_badger.core.targets.speeds import signed_error_percent
from mild_badger.core.units import exact
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import FinalDrive, Vehicle
from mild_badger.core.vehicle.shifting import Side

__all__ = [
    "FinalDriveOffer",
    "factor_range",
    "factor_square",
    "final_drive_offer",
    "final_drive_range",
    "final_drive_ratio",
    "hub_ratio",
    "overall_final_ratio",
    "wanted_final_drive",
]


def factor_square(vehicle: Vehicle) -> Fraction:
    """Square of the factor k by which the box as it stands departs from its targets.

    1 in the absolute fit; otherwise the middle of the trains' x = ratio/target, kept in the range.
    """
    xs = []
    for target in vehicle.real.gears:
        ratio = gear_ratio(vehicle.box, target.id)
        if ratio is not None:
            xs.append(ratio / exact(target.ratio))
    low, high = factor_range(vehicle)
    if not xs:
        xs = [Fraction(1)]
    return min(max(min(xs) * max(xs), low * low), high * high)


def wanted_final_drive(vehicle: Vehicle) -> float:
    """Give the final drive that keeps the real vehicle's overall ratios: the real one over k."""
    return vehicle.real.final_drive / sqrt(factor_square(vehicle))


def final_drive_ratio(final: FinalDrive) -> Fraction:
    """Ratio of a final drive, turns in per turn out, positive."""
    return train_ratio(final.pairs) * Fraction(final.crown, final.pinion)


def overall_final_ratio(vehicle: Vehicle) -> Fraction:
    """Ratio from the box's output to the wheels: the final drive's, and that of geared hubs."""
    return final_drive_ratio(vehicle.final_drive) * hub_ratio(vehicle)


def hub_ratio(vehicle: Vehicle) -> Fraction:
    """Give turns of a half shaft for one of its wheel: the ratio of geared hubs, 1 without."""
    running = vehicle.running
    if running is None or running.shape.hub != "geared":
        return Fraction(1)
    return Fraction(running.shape.hub_driven, running.shape.hub_driver)


@dataclass(frozen=True)
class FinalDriveOffer:
    """A final drive that comes near what is wanted."""

    final_drive: FinalDrive
    ratio: Fraction
    error_percent: float

    def edit(self) -> Edit:
        """Make the edit that takes it."""
        return Edit(
            say("ratios.take-the-final-drive"), (Change(("final_drive",), self.final_drive),)
        )


def final_drive_offer(vehicle: Vehicle) -> FinalDriveOffer | None:
    """Find spur pairs and a bevel pair of the kit for the final drive that is wanted.

    The fewest gears within the tolerance, otherwise the least error. The crown wheel's side makes
    up for the direction, so no idler is spent on it. None when the kit has no bevel gears.
    """
    wanted = wanted_final_drive(vehicle) / float(hub_ratio(vehicle))
    pinions, crowns = _bevels(vehicle)
    pool = _spur_pool(vehicle)
    offers = []
    for pinion in pinions:
        for crown in crowns:
            bevel = Fraction(crown, pinion)
            for train in ((), *_trains_near(pool, wanted / float(bevel), vehicle)):
                ratio = train_ratio(train) * bevel
                offers.append((ratio, train, pinion, crown))
    if not offers:
        return None

    def rank(offer: tuple[Fraction, tuple[GearPair, ...], int, int]) -> tuple[float, ...]:
        error = abs(signed_error_percent(float(offer[0]), wanted))
        inside = error <= vehicle.search.tolerance_percent
        return (0.0, gear_count(offer[1]), error) if inside else (1.0, error, 0.0)

    ratio, train, pinion, crown = min(offers, key=rank)
    keeps = (-1) ** mesh_count(train) * vehicle.motor.turns * vehicle.box.turns > 0
    side: Side = "left" if keeps else "right"
    return FinalDriveOffer(
        FinalDrive(pairs=train, pinion=pinion, crown=crown, crown_side=side),
        ratio,
        signed_error_percent(float(ratio), wanted),
    )


def _trains_near(
    pool: RatioTable, target: float, vehicle: Vehicle
) -> tuple[tuple[GearPair, ...], ...]:
    near = []
    for parity in (EVEN, ODD):
        ranked = ranked_trains(
            pool,
            target,
            parity=parity,
            tolerance_percent=vehicle.search.tolerance_percent,
            limit=3,
        )
        best = best_train(pool, target, parity=parity)
        near += [candidate.train for candidate in (*ranked, *([best] if best else []))]
    return tuple(near)


ABOUND = 20
"""More sizes than these make so many pairs that one comes near enough, and two take seconds."""


def _spur_pool(vehicle: Vehicle) -> RatioTable:
    """Give the trains there are ahead of the bevels: one pair where sizes abound, else two."""
    kit = vehicle.kit
    pairs = 1 if kit.any_seat or len(kit.sizes) > ABOUND else 2
    return build_pool(Rules(kit.sizes, pairs, None, grid_idlers(kit)))


def final_drive_range(vehicle: Vehicle) -> tuple[Fraction, Fraction] | None:
    """Give the least and the greatest final drive of the kit; None without bevel gears."""
    pinions, crowns = _bevels(vehicle)
    if not pinions or not crowns:
        return None
    pool = _spur_pool(vehicle)
    bevels = [Fraction(crown, pinion) for pinion in pinions for crown in crowns]
    last = len(pool.log_ratio) - 1
    spur = (min(pool.ratio(0), Fraction(1)), max(pool.ratio(last), Fraction(1)))
    return min(bevels) * spur[0], max(bevels) * spur[1]


def _bevels(vehicle: Vehicle) -> tuple[list[int], list[int]]:
    kit = vehicle.kit
    pinions = [b.teeth for b in kit.bevels if b.role == "bevel"]
    rims = [b.teeth for b in kit.bevels if b.role == "differential rim"]
    return pinions, rims if vehicle.differential.kind == "open" and rims else pinions


def factor_range(vehicle: Vehicle) -> tuple[Fraction, Fraction]:
    """Give the range of the factor k: 1 in the absolute fit, else the settings' range.

    Narrowed to what the kit's final drives can take up where the settings ask for it; where that
    leaves nothing, to the end that comes nearest.
    """
    search = vehicle.search
    if search.fit == "absolute":
        return Fraction(1), Fraction(1)
    low, high = (exact(factor) for factor in search.factors)
    drives = final_drive_range(vehicle) if search.factor_bound == "final drive" else None
    if drives is None:
        return low, high
    wanted = exact(vehicle.real.final_drive) / hub_ratio(vehicle)
    return (
        min(max(low, wanted / drives[1]), high),
        max(min(high, wanted / drives[0]), low),
    )

"""Trains, ladders, final drives and sets under every setting, as audited."""

from fractions import Fraction
from typing import Any

import pytest

from examples import example_vehicle
from mild_badger.core.architectures.match import match_box
from mild_badger.core.architectures.registry import searches
from mild_badger.core.ratios.box_question import Kind
from mild_badger.core.ratios.final_drive import (
    factor_range,
    factor_square,
    final_drive_offer,
    final_drive_range,
    final_drive_ratio,
    hub_ratio,
    overall_final_ratio,
    wanted_final_drive,
)
from mild_badger.core.ratios.gear_trains import gear_trains
from mild_badger.core.ratios.ladder import best_approximations, ladder
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.ratios.propose import (
    goals_of,
    ladder_for_gear,
    pairs_for_gear,
    short_pool,
    slot_pool,
    trains_for_gear,
    wanted_parity,
)
from mild_badger.core.ratios.single import best_train, ranked_trains
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from pinned import hold
from strategies import vehicle_of

SEARCHES: dict[str, dict[str, object]] = {
    "usual": {},
    "spacing": {"fit": "spacing"},
    "one pair": {"max_pairs": 1, "tolerance_percent": 12.0},
    "three pairs": {"max_pairs": 3, "tolerance_percent": 0.5},
    "few gears": {"max_gears": 3},
    "near": {"max_centre_mm": 22.0},
    "in stock": {"within_stock": True},
    "bounded": {"fit": "spacing", "factor_low": 0.9, "factor_high": 1.1},
    "by final drive": {"fit": "spacing", "factor_bound": "final drive"},
    "anywhere": {"seated": False},
}


def searched(vehicle: Vehicle, settings: dict[str, object]) -> Vehicle:
    changes = tuple(Change(("search", name), value) for name, value in settings.items())
    return apply_edit(vehicle, Edit("", changes)) if changes else vehicle


def matched(vehicle: Vehicle, kind: Kind, best: str) -> Any:
    """The set that is found, short."""
    match = match_box(vehicle, kind, best=best)  # type: ignore[arg-type]
    if isinstance(match, Impossible):
        return ["impossible", match.gear if hasattr(match, "gear") else ""]
    found = match.found
    return [found.worst_error_percent, [[g.train, g.ratio, g.error_percent] for g in found.gears]]


@pytest.mark.parametrize("name", SEARCHES)
def test_sets_under_every_setting_are_as_audited(name: str) -> None:
    figures: dict[str, Any] = {}
    bus = searched(vehicle_of(4.1, 2.2, 1.3, 0.9, reverse=3.7), SEARCHES[name])
    for best in ("error", "size"):
        figures[f"slot {best}"] = matched(bus, "slot", best)
    figures["trains"] = [
        [c.train, c.ratio, c.error_percent] for c in trains_for_gear(bus, "2", limit=12)
    ]
    figures["goals"] = goals_of(bus)
    figures["factors"] = factor_range(bus)
    hold(__file__, f"slot-{name.replace(' ', '-')}", figures)


@pytest.mark.parametrize("kind", searches())
def test_sets_of_every_kind_are_as_audited(kind: Kind) -> None:
    plain = vehicle_of(3.4, 2.1, 1.3, reverse=3.0)
    figures: dict[str, Any] = {}
    for name in ("usual", "spacing", "in stock"):
        vehicle = searched(plain, SEARCHES[name])
        figures[name] = [matched(vehicle, kind, best) for best in ("error", "size")]
    shifted = searched(plain, {"profile_shift": True})
    figures["shifted"] = matched(shifted, kind, "error")
    hold(__file__, f"kind-{kind}", figures)


@pytest.mark.parametrize("name", DEMOS)
def test_trains_of_the_demos_are_as_audited(name: str) -> None:
    vehicle = example_vehicle(name)
    gears = [gear.id for gear in vehicle.real.gears][:4]
    figures: dict[str, Any] = {
        "square": factor_square(vehicle),
        "wanted": wanted_final_drive(vehicle),
        "final": [
            final_drive_ratio(vehicle.final_drive),
            overall_final_ratio(vehicle),
            hub_ratio(vehicle),
            final_drive_range(vehicle),
        ],
        "offer": final_drive_offer(vehicle),
        "parities": [wanted_parity(vehicle, gear) for gear in gears],
    }
    if vehicle.box.has_places:
        for gear in gears:
            figures[f"gear {gear}"] = {
                "trains": [[c.train, c.ratio] for c in trains_for_gear(vehicle, gear, limit=8)],
                "pairs": [[c.train, c.ratio] for c in pairs_for_gear(vehicle, gear, limit=8)],
                "ladder": ladder_for_gear(vehicle, gear),
                "all": gear_trains(vehicle, gear),
            }
    hold(__file__, f"trains-{name}", figures)


def test_single_trains_and_ladders_are_as_audited() -> None:
    bus = example_vehicle()
    figures: dict[str, Any] = {
        "pi": best_approximations(Fraction(355, 113), largest_denominator=113),
        "brocot": best_approximations(Fraction(191, 23), largest_denominator=22),
    }
    for name, pool in (("slot", slot_pool(bus)), ("short", short_pool(bus))):
        for parity in (0, 1):
            for target in (3.1415, 0.42, Fraction(9, 4)):
                key = f"{name} {parity} {target}"
                best = best_train(pool, target, parity=parity)
                ranked = ranked_trains(
                    pool, target, parity=parity, tolerance_percent=2.0, factor=1.02, limit=6
                )
                figures[key] = {
                    "best": None if best is None else [best.train, best.ratio],
                    "ranked": [[c.train, c.error_percent] for c in ranked],
                    "ladder": ladder(pool, target, factor=1.02, parity=parity),
                }
    hold(__file__, "single", figures)

"""Room between parts of a box: what touches by a hair is seen, what just clears is let pass."""

import pytest

from examples import example_vehicle
from mild_badger.core.kit.part_sizes import sleeve_radius_mm, tip_mm
from mild_badger.core.layout.apply_layout import apply_layout
from mild_badger.core.layout.findings import layout_findings
from mild_badger.core.layout.free_routes import STEP_MM, free_ways_between
from mild_badger.core.layout.place_box import _PlacementSearch
from mild_badger.core.layout.routes import CLEARANCE_MM as GRID_CLEARANCE_MM
from mild_badger.core.layout.routes import MADE_CLEARANCE_MM, Bounds, TrainRoute
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import UNWATCHED

from .test_place_box import first_whole, with_placing

BUS = example_vehicle()
TRACTOR = example_vehicle("larkholm-timber-tractor")
HAIR = 0.01


@pytest.mark.parametrize("spare", [-HAIR, HAIR])
def test_a_made_gear_clears_a_shaft_by_the_clearance(spare: float) -> None:
    kit = TRACTOR.kit
    far = tip_mm(kit, 30) + kit.shaft_diameter_mm / 2 + MADE_CLEARANCE_MM + spare
    beside = (round(far / STEP_MM), 0)
    apart = round((30 + 20) * kit.module_mm / 2 / STEP_MM)
    bounds = Bounds(-apart, apart, -apart, apart)
    end = (0, apart)
    ways = free_ways_between(
        kit, ((30, 20),), end, parity=1, layers=1, bounds=bounds, inputs=(beside,)
    )
    assert bool(ways) is (spare > 0)


@pytest.mark.parametrize("spare", [-HAIR, HAIR])
def test_two_made_gears_of_a_layer_clear_one_another(spare: float) -> None:
    """Two idlers fold so far that the gears at both ends only just clear one another."""
    kit = TRACTOR.kit
    far = tip_mm(kit, 30) + tip_mm(kit, 20) + MADE_CLEARANCE_MM + spare
    end = (round(far / STEP_MM), 0)
    bounds = Bounds(-end[0], 2 * end[0], -end[0], end[0])
    ways = free_ways_between(kit, ((30, 20),), end, parity=0, layers=1, bounds=bounds)
    assert bool(ways) is (spare > 0)


def searching(vehicle: Vehicle, **placing: object) -> _PlacementSearch:
    """A search for a place, with other limits."""
    other = vehicle.model_copy(update={"placing": vehicle.placing.model_copy(update=placing)})
    return _PlacementSearch(other, UNWATCHED)


def test_a_shaft_passes_the_tie_gears_where_it_clears_them() -> None:
    tip = tip_mm(BUS.kit, 8 * BUS.placing.spacing_u)
    far = 14  # half units
    reach = far * BUS.kit.grid_unit_mm / 2 - tip - GRID_CLEARANCE_MM
    for spare in (-HAIR, HAIR):
        kit = BUS.kit.model_copy(update={"shaft_diameter_mm": 2 * (reach - spare)})
        search = searching(BUS.model_copy(update={"kit": kit}))
        route = TrainRoute((), ((0, 0), (far, 0), (90, 90)), ((8, 1, 1),), 0.0, 0.0)
        assert search._clears_tie(route, ((0, 0),)) is (spare > 0)


@pytest.mark.parametrize("high", [3.0, 9.0])
def test_the_rows_lie_inside_the_space_allowed(high: float) -> None:
    tip = tip_mm(BUS.kit, 8 * BUS.placing.spacing_u) / BUS.kit.grid_unit_mm
    wide = 100.0
    outline = ((-wide, -tip - 0.1), (wide, -tip - 0.1), (wide, high), (-wide, high))
    unit = BUS.kit.grid_unit_mm
    search = searching(BUS, outline_mm=tuple((x * unit, y * unit) for x, y in outline))
    row = (0, 4)  # two units up, at the first column
    assert search._row_inside(row, rail=True) is (2 + tip <= high)
    assert search._row_inside((0, -1), rail=True) is False


def test_every_mesh_in_two_layers_or_at_a_wrong_distance_is_found() -> None:
    bus = with_placing(BUS)
    bus = apply_edit(bus, apply_layout(bus, first_whole(bus)))
    layout = bus.layout
    assert layout is not None
    pairs = {gear.body.rpartition(".")[0] for gear in layout.gears}
    first, second = sorted(pairs)[:2]
    driver = next(g for g in layout.gears if g.body == f"{first}.driver")
    moved = [
        g.model_copy(update={"layer": 3 - min(g.layer, 2)}) if g is driver else g
        for g in layout.gears
    ]
    shaft = next(g.shaft for g in layout.gears if g.body == f"{second}.driven")
    shafts = [
        s.model_copy(update={"x_mm": s.x_mm + 4.0}) if s.name == shaft else s for s in layout.shafts
    ]
    wrong = layout.model_copy(update={"gears": tuple(moved), "shafts": tuple(shafts)})
    findings = tuple(layout_findings(bus.model_copy(update={"layout": wrong})))
    codes = [finding.code for finding in findings]
    assert "mesh-in-two-layers" in codes
    seats = [finding for finding in findings if finding.code == "bad-seat"]
    assert seats
    for finding in seats:
        teeth = [int(word) for word in finding.title.split(":")[0].split(" with ")]
        assert finding.limit == pytest.approx(sum(teeth) * BUS.kit.module_mm / 2)
        assert finding.figure is not None
        assert finding.figure > 0


def test_a_sleeve_s_radius_follows_its_shaft_or_what_is_typed() -> None:
    """9 mm at least, 4.5 mm round a thick shaft's bore; as typed, but for the room of its dogs."""
    bus = example_vehicle()
    assert sleeve_radius_mm(bus) == 9.0
    thick = bus.model_copy(update={"kit": bus.kit.model_copy(update={"shaft_diameter_mm": 16.0})})
    bore = thick.hole_mm(16.0, "running") / 2
    assert sleeve_radius_mm(thick) == bore + 4.5

    def typed(vehicle: Vehicle, radius: float) -> float:
        frame = vehicle.frame.model_copy(update={"sleeve_radius_mm": radius})
        return sleeve_radius_mm(vehicle.model_copy(update={"frame": frame}))

    assert typed(bus, 11.5) == 11.5
    assert typed(thick, 2.0) == bore + 4.0

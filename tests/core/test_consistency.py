"""Values that depend on one another may be typed in any order: each disagreement is a finding."""

from pathlib import Path
from typing import Any, get_args

import pytest
from pydantic import BaseModel

from examples import example_vehicle
from mild_badger.core.consistency import inconsistencies
from mild_badger.core.evaluate import evaluate
from mild_badger.core.mechanisms.clutch.edits import add_clutch
from mild_badger.core.mechanisms.clutch.grip import clutch_figures
from mild_badger.core.mechanisms.clutch.model import Clutch
from mild_badger.core.publish.report import report
from mild_badger.core.vehicle.codec import decode, encode
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from strategies import vehicle_of

BUS, TRACTOR = "larkholm-mail-bus", "larkholm-timber-tractor"
TROLLEY, CRANE = "larkholm-sawmill-trolley", "larkholm-crane-truck"
BEARING = {"name": "x", "bore_mm": 9, "outer_mm": 8, "width_mm": 3}
TWIN = {
    "architecture": "twin-layshaft",
    "output_pairs": [[{"driver": 8, "driven": 16}], [{"driver": 8, "driven": 20}]],
}
ODD: tuple[tuple[str, str, dict[tuple[Any, ...], Any]], ...] = (
    ("engine-speeds", BUS, {("real", "limit_rpm"): 500.0}),
    ("shift-speed", BUS, {("real", "shift_rpm"): 9000.0}),
    ("working-speed", BUS, {("motor", "working_rpm"): 9999.0}),
    ("working-speed", BUS, {("motor", "supply_v"): 0.5}),
    ("motor-currents", BUS, {("motor", "no_load_a"): 5.0, ("motor", "limit_a"): 0.5}),
    ("current-limit", BUS, {("motor", "limit_a"): 0.01}),
    (
        "planetary-room",
        BUS,
        {("differential", "kind"): "planetary", ("differential", "ring_teeth"): 20},
    ),
    ("factor-range", BUS, {("search", "factor_low"): 3.0}),
    ("made-range", TRACTOR, {("kit", "made", "least_teeth"): 90}),
    ("tip-diameter", BUS, {("kit", "module_mm"): 1.5}),
    ("bearing-wall", BUS, {("kit", "bearings"): [BEARING]}),
    ("output-wheel", BUS, {("box",): TWIN}),
    ("fulcrum-stops", TROLLEY, {("box", "drive", "stop_low_mm"): 60.0}),
    ("fulcrum-stops", TROLLEY, {("box", "drive", "fulcrum_mm"): 5.0}),
    ("thin-sleeve", BUS, {("frame", "recess_mm"): 4.0}),
    ("reach-range", CRANE, {("balance", "reach_mm"): 900.0}),
    ("drop-gears", BUS, {("running", "line", "drop_driver"): 16}),
)


def changed(vehicle: Vehicle, changes: dict[tuple[Any, ...], Any]) -> Vehicle:
    edits = tuple(Change(path, value) for path, value in changes.items())
    return apply_edit(vehicle, Edit("odd", edits))


def codes(vehicle: Vehicle) -> list[str]:
    return [finding.code for finding in inconsistencies(vehicle)]


@pytest.mark.parametrize(("code", "demo", "changes"), ODD)
def test_what_does_not_agree_is_taken_said_and_mended(
    code: str, demo: str, changes: dict[tuple[Any, ...], Any]
) -> None:
    assert codes(example_vehicle(demo)) == []
    odd = changed(example_vehicle(demo), changes)
    assert decode(encode(odd)) == odd  # it can be saved and opened
    evaluation = evaluate(odd)
    assert code in [finding.code for finding in evaluation.findings]
    report(evaluation)
    (finding,) = [f for f in inconsistencies(odd) if f.code == code]
    assert finding.mend is not None
    mended = apply_edit(odd, finding.mend)
    assert code not in codes(mended)


def test_an_exchanged_lining_works_as_the_right_one_does() -> None:
    clutched = apply_edit(example_vehicle(), add_clutch(example_vehicle()))
    right = clutched.clutch or Clutch()
    odd = changed(
        clutched,
        {("clutch", "inner_mm"): right.outer_mm, ("clutch", "outer_mm"): right.inner_mm},
    )
    assert codes(odd) == ["clutch-ring"]
    assert odd.clutch is not None
    assert clutch_figures(odd.clutch) == clutch_figures(right)


def test_any_order_of_typing_reaches_the_same_speeds() -> None:
    # From idle 700, peak 2000, limit 2900 to 3000, 4000, 5000, one field at a time.
    wanted = {"idle_rpm": 3000.0, "peak_rpm": 4000.0, "limit_rpm": 5000.0}
    for order in (("idle_rpm", "peak_rpm", "limit_rpm"), ("limit_rpm", "idle_rpm", "peak_rpm")):
        vehicle = vehicle_of(4.0, 2.0, 1.0)
        for name in order:
            vehicle = changed(vehicle, {("real", name): wanted[name]})
        assert "engine-speeds" not in codes(vehicle)
        assert vehicle.real.limit_rpm == 5000


def test_a_wheel_larger_than_the_track_builds_a_valid_running_gear() -> None:
    wide = changed(
        example_vehicle(TRACTOR).model_copy(update={"running": None}),
        {("wheels", "diameter_mm"): 400.0, ("axle", "track_mm"): 140.0},
    )
    report(evaluate(wide))


def test_every_finding_stands_in_the_table_of_the_docs() -> None:
    table = (Path(__file__).parents[2] / "docs" / "validation.md").read_text(encoding="utf-8")
    for code in {code for code, _, _ in ODD} | {"clutch-ring"}:
        assert f"`{code}`" in table
    for holder in _kinds(Vehicle):
        for name in holder.__pydantic_decorators__.model_validators:
            owner = next(kind for kind in reversed(holder.__mro__) if name in vars(kind))
            assert f"`{owner.__name__}`" in table, (owner, name)


def _kinds(kind: Any, known: set[type[BaseModel]] | None = None) -> set[type[BaseModel]]:
    """List the classes of the document that a class reaches, itself among them."""
    known = set() if known is None else known
    if isinstance(kind, type) and issubclass(kind, BaseModel) and kind not in known:
        known.add(kind)
        for field in kind.model_fields.values():
            _kinds(field.annotation, known)
    for inner in get_args(kind):
        _kinds(inner, known)
    return known

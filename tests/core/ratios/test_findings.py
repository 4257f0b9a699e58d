"""Drive row, tie and final drive: each finding is told, and its mend mends."""

from collections.abc import Callable, Iterator

import pytest

from examples import example_vehicle
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.ratios.final_drive import overall_final_ratio, wanted_final_drive
from mild_badger.core.ratios.findings import final_drive_findings, row_findings
from mild_badger.core.ratios.train import mesh_links
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit, Path
from mild_badger.core.vehicle.model import Vehicle

PAIRS: Path = ("final_drive", "pairs")
Told = Callable[[Vehicle], Iterator[Finding]]


@pytest.mark.parametrize(
    ("path", "value", "code", "told"),
    [
        (("box", "tie_teeth"), 20, "row-does-not-seat", row_findings),
        (("box", "rail_teeth"), 16, "rail-and-tie-differ", row_findings),
        (PAIRS, [], "final-drive-error", final_drive_findings),
        (
            PAIRS,
            [{"driver": 9, "driven": 20}],
            "not-in-kit",
            final_drive_findings,
        ),
        (PAIRS, [{"driver": 8, "driven": 12}], "no-seat", final_drive_findings),
    ],
)
def test_each_fault_is_told_and_mended(path: Path, value: object, code: str, told: Told) -> None:
    vehicle = example_vehicle()
    assert code not in [fault.code for fault in told(vehicle)]
    broken = apply_edit(vehicle, Edit.one("", path, value))
    fault = next(fault for fault in told(broken) if fault.code == code)
    assert fault.mend is not None
    assert code not in [f.code for f in told(apply_edit(broken, fault.mend))]


def test_the_final_drive_is_off_from_the_tolerance_on() -> None:
    vehicle = apply_edit(example_vehicle(), Edit.one("", PAIRS, []))
    got, wanted = float(overall_final_ratio(vehicle)), wanted_final_drive(vehicle)
    fault = next(f for f in final_drive_findings(vehicle) if f.code == "final-drive-error")
    assert fault.severity is Severity.WARNING
    assert fault.figure == pytest.approx(100 * (got / wanted - 1))
    assert fault.limit == vehicle.search.tolerance_percent
    wide = apply_edit(vehicle, Edit.one("", ("search", "tolerance_percent"), 99.9))
    size = max(got / wanted, wanted / got) - 1
    told = "final-drive-error" in [f.code for f in final_drive_findings(wide)]
    assert told == (100 * size > 99.9)


@pytest.mark.parametrize("name", DEMOS)
def test_the_demos_have_no_such_fault(name: str) -> None:
    vehicle = example_vehicle(name)
    assert list(row_findings(vehicle)) == []
    assert [f.code for f in final_drive_findings(vehicle) if f.severity is Severity.ERROR] == []


def test_every_mesh_of_a_train_is_listed_over_its_idlers() -> None:
    train = (GearPair(driver=8, driven=24), GearPair(driver=12, driven=20, idlers=(16, 8)))
    assert mesh_links(train) == [(8, 24), (12, 16), (16, 8), (8, 20)]

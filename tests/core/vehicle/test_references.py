"""One walk finds, renames and checks every field that means something else of the document."""

from typing import Any

import pytest

from examples import example_vehicle
from mild_badger.core.evaluate import evaluate
from mild_badger.core.functions import table
from mild_badger.core.mechanisms.crane.edits import rename_output
from mild_badger.core.mechanisms.steps import mechanism_steps
from mild_badger.core.publish.report import report
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.edit.gears import remove_gear
from mild_badger.core.vehicle.references import lost_references, references
from mild_badger.core.versions import remove_version, save_version

CRANE, SWEEPER = "larkholm-crane-truck", "larkholm-street-sweeper"


@pytest.mark.parametrize("name", DEMOS)
def test_every_reference_of_a_demo_finds_its_thing(name: str) -> None:
    vehicle = example_vehicle(name)
    assert lost_references(vehicle) == ()
    for reference in references(vehicle):
        here: Any = vehicle
        for step in reference.path:
            here = here[step] if isinstance(step, int) else getattr(here, step)
        assert here == reference.value


def test_references_are_found_wherever_they_are() -> None:
    kinds = {r.what for name in (CRANE, SWEEPER) for r in references(example_vehicle(name))}
    assert kinds >= {"gear", "crane output", "function output"}
    fields = {r.path[-1] for r in references(example_vehicle(CRANE)) if r.what == "crane output"}
    assert fields >= {"source", "keeps", "carriage", "counterweight"}


def plain(vehicle_report: dict[str, Any], new: str, old: str) -> str:
    return str(vehicle_report).replace(new, old)


def test_an_output_is_renamed_wherever_it_is_named() -> None:
    vehicle = example_vehicle(CRANE)
    assert vehicle.crane is not None
    for output in vehicle.crane.outputs:
        after = apply_edit(vehicle, rename_output(vehicle.crane, output.id, "Zz"))
        assert lost_references(after) == ()
        assert (
            plain(report(evaluate(after)), "Zz", output.name).casefold()
            == str(report(evaluate(vehicle))).casefold()
        )
    functions = example_vehicle(SWEEPER)
    assert functions.functions is not None
    for driven in functions.functions.outputs:
        after = apply_edit(functions, table.rename_output(functions, driven.id, "Zz"))
        assert lost_references(after) == ()
        assert after.functions is not None
        assert "Zz" in [o.name for o in after.functions.outputs]


def test_its_steps_of_the_trial_stay_ticked() -> None:
    vehicle = example_vehicle(CRANE)
    keys = [step.key for step in mechanism_steps(vehicle)]
    ticked = apply_edit(vehicle, Edit.one("", ("trial", "ticks"), keys))
    assert ticked.crane is not None
    hoist = next(output.id for output in ticked.crane.outputs if output.name == "hoist")
    after = apply_edit(ticked, rename_output(ticked.crane, hoist, "lift"))
    assert set(after.trial.ticks) == {step.key for step in mechanism_steps(after)}
    assert "lift" in [step.name for step in mechanism_steps(after)]


def test_what_belongs_to_nothing_is_kept_and_said_and_mended() -> None:
    vehicle = example_vehicle()
    readings = [
        {"position": "R", "body": "selector.1", "turns": 1.0, "way": 1},
        {"position": "1", "body": "selector.1", "turns": 1.0, "way": 1},
    ]
    vehicle = apply_edit(
        vehicle,
        Edit(
            "",
            (
                Change(("trial", "readings"), readings),
                Change(("shifting", "drum", "order"), ["R", None, "1", "2", "3", "4", "5", "6"]),
            ),
        ),
    )
    vehicle = apply_edit(vehicle, save_version(vehicle, "first", "2026-01-02"))
    entry = {"date": "2026-01-03", "version": "first", "changed": "x"}
    vehicle = apply_edit(vehicle, Edit.one("", ("log", "entries"), [entry]))
    assert lost_references(vehicle) == ()
    gone = apply_edit(vehicle, remove_gear(vehicle, "R"))
    assert gone.shifting.drum.order == (None, "1", "2", "3", "4", "5", "6")
    gone = apply_edit(gone, remove_version(gone, "first"))
    assert len(gone.trial.readings) == 2
    said = {f.code: f for f in evaluate(gone).findings if f.code.endswith("-lost")}
    assert set(said) == {"readings-lost", "versions-lost"}
    for finding in said.values():
        assert finding.mend is not None
        gone = apply_edit(gone, finding.mend)
    assert lost_references(gone) == ()
    assert [r.position for r in gone.trial.readings] == ["1"]

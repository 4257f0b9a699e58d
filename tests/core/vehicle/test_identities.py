"""A name is for the builder alone: what it is called changes nothing, and no id is shown."""

import json
from io import BytesIO
from pathlib import Path
from typing import Any

import pytest
from pypdf import PdfReader

from examples import example_vehicle
from marked import leaks, marked
from mild_badger.core.axle.running import add_axle
from mild_badger.core.components.describe import describe_part
from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.evaluate import evaluate
from mild_badger.core.mechanisms.cables.edits import add_cables
from mild_badger.core.mechanisms.crane.edits import add_output, remove_output, rename_output
from mild_badger.core.mechanisms.liquid.edits import add_line
from mild_badger.core.mechanisms.steps import mechanism_steps
from mild_badger.core.publish.book import plan_book
from mild_badger.core.publish.report import report
from mild_badger.core.publish.sheet import sheet_pdf
from mild_badger.core.publish.tables import gears_csv, parts_csv
from mild_badger.core.situation import Situation
from mild_badger.core.vehicle.codec import decode, encode
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.gears import rename_gear
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.references import lost_references
from mild_badger.core.workshop.assembly import assembly_plan
from mild_badger.core.workshop.cutlist import cut_plans
from mild_badger.core.workshop.templates import templates_of
from strategies import placed_demo
from wordsonly import words_only

FILES = Path(__file__).parent / "files"
ODD_NAMES = ("lo/3", "gear 1", "2: second", "R, second", "ß·4", "N?", "a/b.driver", "7 8")


def without(value: Any, names: dict[str, str]) -> Any:
    """Put the old names back into what a report says."""
    text = json.dumps(value, ensure_ascii=False)
    for odd, name in names.items():
        text = text.replace(json.dumps(odd, ensure_ascii=False)[1:-1], name)
    return json.loads(text)


def renamed(vehicle: Vehicle, names: dict[str, str]) -> Vehicle:
    for gear in vehicle.real.gears:
        odd = next(o for o, name in names.items() if name == gear.name)
        vehicle = apply_edit(vehicle, rename_gear(vehicle, gear.id, odd))
    return vehicle


@pytest.mark.parametrize("name", DEMOS)
def test_renaming_changes_nothing_but_names(name: str) -> None:
    plain = placed_demo(name)
    gears = plain.real.gears
    names = {f"{n}¤{ODD_NAMES[n]}": gear.name for n, gear in enumerate(gears)}
    odd = renamed(plain, names)
    assert odd.model_copy(update={"real": plain.real}) == plain
    for gear in (None, plain.real.gears[0].id):
        one, other = (evaluate(v, Situation(gear=gear)) for v in (plain, odd))
        assert without(report(other), names) == json.loads(json.dumps(report(one)))
        assert [f.code for f in other.findings] == [f.code for f in one.findings]
        assert [f.where for f in other.findings] == [f.where for f in one.findings]
    back = decode(encode(odd))
    assert back == odd


@pytest.mark.parametrize("name", DEMOS)
def test_no_id_is_shown(name: str) -> None:
    vehicle = marked(placed_demo(name))
    for gear in (None, *(g.id for g in vehicle.real.gears)):
        shown = evaluate(vehicle, Situation(gear=gear))
        data = report(shown)
        for gear_data in data["gears"]:
            del gear_data["id"]
        for finding in data["findings"]:
            del finding["where"]
        for state in data["states"]:
            del state["sleeves"]
        for output in data["machine"].get("outputs", ()):
            del output["id"]
        for state in (data.get("functions") or {"states": ()})["states"]:
            del state["sleeves"]
        if data.get("functions"):
            del data["functions"]["shafts"]
        for branch in (data.get("functions") or {"branches": ()})["branches"]:
            del branch["output_id"], branch["sleeve"]
        assert list(leaks(data)) == []
        assert list(leaks([[s.name, s.figure, list(s.details)] for s in shown.stations])) == []
        assert list(leaks([f.mend.label for f in shown.findings if f.mend])) == []
    assert list(leaks(gears_csv(shown))) == []
    assert list(leaks(parts_csv(shown))) == []
    plan = assembly_plan(vehicle)
    said = [[s.title, s.words, list(s.mistakes), list(s.counts)] for s in plan.steps]
    assert list(leaks(said)) == []
    assert list(leaks([describe_part(vehicle, part) for part in plan.parts])) == []
    assert list(leaks([template.words for template in templates_of(vehicle)])) == []
    cuts = [piece.words for plan in cut_plans(vehicle) for rod in plan.rods for piece in rod.pieces]
    assert list(leaks(cuts)) == []


@pytest.mark.parametrize(
    ("name", "version"), [("timber-tractor", 4), ("street-sweeper", 4), ("crane-truck", 5)]
)
def test_files_of_earlier_versions_open_as_they_were(name: str, version: int) -> None:
    old = decode((FILES / f"{name}-version-{version}.badger.json").read_text(encoding="utf-8"))
    now = example_vehicle(f"larkholm-{name}")
    if name == "timber-tractor":  # its final drive reached the ground then
        now = now.model_copy(update={"final_drive": old.final_drive, "running": old.running})
    if name == "street-sweeper":  # its functions have another pattern now
        now = now.model_copy(update={"functions": old.functions})
    assert old == now


def test_ids_go_where_names_stood_in_older_files() -> None:
    data = json.loads((FILES / "timber-tractor-version-4.badger.json").read_text(encoding="utf-8"))
    plain = decode(json.dumps(data))
    text = json.dumps(data["vehicle"])
    # a name that no id can have, in all that concerned the gear, and in a version kept inside
    for old, new in (('"gear": "2"', '"gear": "lo/2"'), ('"name": "2"', '"name": "lo/2"')):
        text = text.replace(old, new)
    odd = json.loads(text)
    odd["shifting"] = {**odd.get("shifting", {}), "drum": {"order": ["lo/2", None, "1"]}}
    odd["trial"] = {
        "readings": [{"position": "lo/2", "body": "gear lo/2/0.driven", "turns": 1.0, "way": 1}],
        "ticks": ["lo/2", "neutral"],
    }
    odd["assembly"] = {"states": [{"key": "gear lo/2/0.driver", "state": "made"}]}
    odd["change_gear"] = {"train": "gear lo/2", "pair": 0, "role": "driver"}
    odd["versions"] = [
        {"name": "before", "date": "2026-01-02", "data": json.loads(json.dumps(odd))}
    ]
    vehicle = decode(json.dumps({**data, "vehicle": odd}))
    assert vehicle.gear_name("lo-2") == "lo/2"
    assert vehicle.box.slot("lo-2") is not None
    assert vehicle.shifting.drum.order[0] == "lo-2"
    (reading,) = vehicle.trial.readings
    assert (reading.position, reading.body) == ("lo-2", "gear lo-2/0.driven")
    assert vehicle.trial.ticks == ("lo-2", "neutral")
    assert vehicle.assembly.states[0].key == "gear lo-2/0.driver"
    assert vehicle.change_gear is not None
    assert vehicle.change_gear.train == "gear lo-2"
    assert vehicle.versions[0].data["box"]["slots"] == odd_slots(vehicle)
    ratios = [gear.ratio for gear in evaluate(vehicle).gears]
    assert ratios == [gear.ratio for gear in evaluate(plain).gears]


def odd_slots(vehicle: Vehicle) -> Any:
    """The slots as the kept version has them: plain data of the same gears."""
    kept = vehicle.versions[0].data["box"]["slots"]
    assert {slot["gear"] for slot in kept} == {slot.gear for slot in vehicle.box.slots}
    return kept


@pytest.mark.parametrize("name", ["larkholm-street-sweeper", "larkholm-crane-truck"])
def test_no_id_stands_in_book_or_sheet(name: str) -> None:
    vehicle = marked(placed_demo(name))
    with words_only():
        book = plan_book(vehicle)
    for made in (book, sheet_pdf(evaluate(vehicle))):
        pages = PdfReader(BytesIO(made)).pages
        assert [list(leaks(page.extract_text().splitlines())) for page in pages] == [[]] * len(
            pages
        )


def test_what_is_short_is_found_at_the_same_places_whatever_gears_are_called() -> None:
    plain = example_vehicle("larkholm-mail-bus")
    kit = plain.kit.model_copy(
        update={"gears": tuple(g.model_copy(update={"stock": 0}) for g in plain.kit.gears)}
    )
    short = plain.model_copy(update={"kit": kit})
    odd = renamed(short, {f"odd {g.name}": g.name for g in short.real.gears})
    one, other = (
        [f.where for f in evaluate(v).findings if f.code == "stock-short"] for v in (short, odd)
    )
    assert one
    assert one == other


def test_renaming_outputs_axles_and_lines_changes_nothing_but_names() -> None:
    truck, sweeper = (
        example_vehicle("larkholm-crane-truck"),
        example_vehicle("larkholm-street-sweeper"),
    )
    for edit in (add_axle(truck), add_line(truck), add_cables()):
        assert edit is not None
        truck = apply_edit(truck, edit)
    for vehicle, paths in (
        (
            truck,
            (("crane", "outputs"), ("additional_axles",), ("hydraulic_lines",), ("cables", "runs")),
        ),
        (sweeper, (("functions", "outputs"),)),
    ):
        keys = [step.key for step in mechanism_steps(vehicle)]
        plain = apply_edit(vehicle, Edit.one("", ("trial", "ticks"), keys))
        odd, names = plain, {}
        for path in paths:
            rows: Any = plain
            for step in path:
                rows = getattr(rows, step)
            for number, row in enumerate(rows):
                name = f"{number}¤{ODD_NAMES[number]}{path[0][:3]}"
                names[name] = str(row.name)
                odd = apply_edit(odd, Edit.one("", (*path, number, "name"), name))
        one, other = evaluate(plain), evaluate(odd)
        said = without(report(other), names)
        assert str(said).casefold() == str(json.loads(json.dumps(report(one)))).casefold()
        assert [f.where for f in other.findings] == [f.where for f in one.findings]
        assert [step.key for step in mechanism_steps(odd)] == keys
        assert lost_references(odd) == ()


def test_an_id_that_is_gone_is_not_given_again() -> None:
    truck = example_vehicle("larkholm-crane-truck")
    assert truck.crane is not None
    gone = truck.crane.outputs[0]
    less = apply_edit(truck, remove_output(truck, gone.id))
    assert gone.id in less.retired_ids
    edit = add_output(less, "ring")
    assert edit is not None
    more = apply_edit(less, edit)
    assert more.crane is not None
    back = apply_edit(more, rename_output(more.crane, more.crane.outputs[-1].id, gone.name))
    assert back.crane is not None
    assert gone.id not in [output.id for output in back.crane.outputs]
    axles = apply_edit(truck, add_axle(truck))
    first = axles.additional_axles[0].id
    axles = apply_edit(axles, Edit.one("", ("additional_axles",), ()))
    axles = apply_edit(axles, add_axle(axles))
    assert axles.additional_axles[0].id != first


def _name_as_before_version_7(vehicle: dict[str, Any]) -> None:
    for new, old in (
        ("additional_axles", "more_axles"),
        ("hydraulic_lines", "liquids"),
        ("display_engine", "display"),
    ):
        vehicle[old] = vehicle.pop(new)


def test_files_of_version_6_keep_their_ids_whatever_was_renamed() -> None:
    truck = example_vehicle("larkholm-crane-truck")
    assert truck.crane is not None
    renamed = apply_edit(truck, Edit.one("", ("crane", "outputs", 0, "name"), "Renamed since"))
    renamed = apply_edit(renamed, add_axle(renamed))
    data = json.loads(encode(renamed))
    _name_as_before_version_7(data["vehicle"])
    data["version"] = 6
    read = decode(json.dumps(data).encode())
    assert read == renamed
    assert lost_references(read) == ()


def test_files_before_version_6_keep_what_hangs_on_names() -> None:
    truck = example_vehicle("larkholm-crane-truck")
    truck = apply_edit(truck, add_axle(truck))
    data = json.loads(encode(truck))
    vehicle = data["vehicle"]
    names = {output["id"]: output["name"] for output in vehicle["crane"]["outputs"]}
    for output in vehicle["crane"]["outputs"]:
        del output["id"]
        for field in ("source", "loose_on", "keeps"):
            output[field] = names.get(output[field], output[field])
    for field in ("carriage", "counterweight"):
        vehicle["balance"][field] = names.get(vehicle["balance"][field])
    for mass in vehicle["balance"]["masses"]:
        del mass["id"]
    del vehicle["additional_axles"][0]["id"]
    _name_as_before_version_7(vehicle)
    del vehicle["retired_ids"]
    vehicle["trial"]["ticks"] = ["output rear winch", "1"]
    vehicle["trial"]["readings"] = [
        {"position": "1", "body": "axle 2/wheel.left", "turns": 0.1, "way": 1},
        {"position": "1", "body": "crane rear winch/end shaft", "turns": 0.2, "way": 1},
    ]
    data["version"] = 5
    read = decode(json.dumps(data).encode())
    bodies = {body.id for body in assemble(read).bodies}
    assert {reading.body for reading in read.trial.readings} <= bodies
    assert set(read.trial.ticks) == {"output rear-winch", "1"}
    assert lost_references(read) == ()
    assert read.crane == truck.crane
    assert (
        evaluate(read).findings == evaluate(truck.model_copy(update={"trial": read.trial})).findings
    )


def test_places_in_units_are_read_as_the_same_places_in_mm() -> None:
    path = Path(__file__).parents[2] / "vehicles" / "larkholm-mail-bus-placed.badger.json"
    data = json.loads(path.read_text(encoding="utf-8"))
    old = data["vehicle"]
    assert data["version"] < 10
    unit = old["kit"]["grid_unit_mm"]
    old["placing"] |= {
        "wide_u": 14.5,
        "high_u": 9,
        "outline_u": [[0, 0], [20, 0], [20, 12.5]],
        "pins": [{"shaft": "input.1", "x_u": 1, "y_u": -2}],
    }
    read = decode(json.dumps(data).encode())
    assert read.layout is not None
    assert read.layout.layers == old["layout"]["layers"]
    assert [(shaft.name, shaft.x_mm, shaft.y_mm) for shaft in read.layout.shafts] == [
        (shaft["name"], shaft["x_u"] * unit, shaft["y_u"] * unit)
        for shaft in old["layout"]["shafts"]
    ]
    assert (read.placing.wide_mm, read.placing.high_mm) == (14.5 * unit, 9 * unit)
    assert read.placing.outline_mm[2] == (20 * unit, 12.5 * unit)
    assert (read.placing.pins[0].x_mm, read.placing.pins[0].y_mm) == (unit, -2 * unit)
    # another grid leaves a placed box where it stands
    other = read.model_copy(update={"kit": read.kit.model_copy(update={"grid_unit_mm": 2 * unit})})
    assert decode(encode(other)).layout == read.layout

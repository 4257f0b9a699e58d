"""What leaves the program: tables and sheet, read back with other libraries."""

import csv
import io
import json
from datetime import date

import pytest
from pypdf import PdfReader

from examples import example_vehicle
from mild_badger.core.evaluate import evaluate
from mild_badger.core.message import say
from mild_badger.core.publish.report import report
from mild_badger.core.publish.sheet import sheet_pdf
from mild_badger.core.publish.tables import gears_csv, parts_csv
from mild_badger.core.targets.schools import RatioConvention
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.gears import add_gear, new_gear, rename_gear
from mild_badger.core.vehicle.edit.slots import set_train
from mild_badger.core.vehicle.model import Vehicle
from strategies import brick, slot_of, slots_of
from telling import tells


def many_gears() -> Vehicle:
    """Ten forward gears and reverse, all with trains, under a very long name."""
    bus = example_vehicle()
    slot = slot_of(bus, "3")
    for _ in range(4):
        bus = apply_edit(bus, add_gear(bus, new_gear(bus)))
        bus = apply_edit(bus, set_train(bus, bus.real.gears[-1].name, slot.train))
    return apply_edit(bus, Edit.one("x", ("name",), "The longest name a bus ever had " * 6))


def sheet_text(vehicle: Vehicle, school: RatioConvention = RatioConvention.TURNS_IN) -> str:
    data = sheet_pdf(evaluate(vehicle), school=school, day=date(2026, 11, 24))
    reader = PdfReader(io.BytesIO(data))
    assert len(reader.pages) == 1
    box = reader.pages[0].mediabox
    assert [round(float(v) / 72 * 25.4) for v in (box.width, box.height)] == [210, 297]
    return reader.pages[0].extract_text()


def test_the_sheet_says_what_the_box_does() -> None:
    text = sheet_text(example_vehicle())
    wanted = "2.083|12:20 · 16:20|−5.556|6.300 : 1|crown on the left|differential housing"
    for words in ("Larkholm Vale mail bus", "Keep fingers", "2026-11-24", *wanted.split("|")):
        assert words in text
    assert "0.480" in sheet_text(example_vehicle(), RatioConvention.TURNS_OUT)


@pytest.mark.parametrize("vehicle", [many_gears(), blank_vehicle(brick())])
def test_the_sheet_stays_one_page(vehicle: Vehicle) -> None:
    assert vehicle.real.gears[-1].name in sheet_text(vehicle)


def test_the_gears_table() -> None:
    rows = list(csv.DictReader(io.StringIO(gears_csv(evaluate(example_vehicle())))))
    assert [row["gear"] for row in rows] == ["1", "2", "3", "4", "5", "6", "R"]
    assert (rows[2]["ratio_exact"], rows[6]["ratio_exact"]) == ("25/12", "-50/9")
    assert rows[2]["train"] == "12:20 · 16:20"
    assert [row["direction"] for row in rows[-2:]] == ["forwards", "backwards"]
    assert float(rows[2]["model_speed_m_s"]) == pytest.approx(0.8681, abs=1e-4)


def test_a_spreadsheet_takes_no_name_for_a_formula() -> None:
    bus = apply_edit(example_vehicle(), rename_gear(example_vehicle(), "1", "=1+1"))
    rows = list(csv.reader(io.StringIO(gears_csv(evaluate(bus)))))
    assert rows[1][0] == "'=1+1"


def test_the_parts_add_up() -> None:
    rows = list(csv.DictReader(io.StringIO(parts_csv(evaluate(example_vehicle())))))
    need = {row["part"]: int(row["needed"]) for row in rows}
    bus = example_vehicle()
    pairs = [p for slot in slots_of(bus) for p in slot.train] + list(bus.final_drive.pairs)
    # two gears a pair, the idlers, a rail and a tie gear for each of four columns
    gears = sum(2 + len(pair.idlers) for pair in pairs) + 8
    assert sum(n for name, n in need.items() if tells(name, "kits.tooth-gear")) == gears
    assert sum(n for name, n in need.items() if tells(name, "workshop.free-with-dog-faces")) == 7
    assert (
        need["dog sleeve"],
        need[say("workshop.differential-housing-tooth-rim", teeth="28")],
    ) == (4, 1)
    assert all(row["short"] == "0" for row in rows)


def test_the_report_is_plain_data() -> None:
    data = json.loads(json.dumps(report(evaluate(example_vehicle()))))
    third = data["gears"][2]
    assert (third["ratio"], third["direction"], third["motor_rpm"]) == ("25/12", "forwards", 3200)
    assert third["scale_speed_km_h"] == pytest.approx(third["model_speed_m_s"] * 3.6 * 13)
    assert data["worst_error_percent"] == pytest.approx(2.8806584)
    assert data["final_drive"]["ratio"] == "63/10"

"""What leaves the program follows the vehicle's units: book, templates, DXF, CSV; files do not."""

import csv
import io
import json
import re

import ezdxf
import pytest
from pypdf import PdfReader

from examples import example_vehicle
from mild_badger.core.evaluate import evaluate
from mild_badger.core.figures import MARK
from mild_badger.core.publish.book import plan_book
from mild_badger.core.publish.drawings import template_data
from mild_badger.core.publish.report import report
from mild_badger.core.publish.sheet import sheet_pdf
from mild_badger.core.publish.tables import gears_csv, parts_csv
from mild_badger.core.vehicle.codec import encode
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.units import INCH
from wordsonly import words_only

RULER = "100 mm above, 4 in below: measure before you cut"
OTHER = re.compile(r"\d (?:mm|N·mm|kg|N|km/h)\b(?!²|³|/)")


def inch(name: str) -> Vehicle:
    return example_vehicle(name).model_copy(update={"units": INCH})


def words_of(data: bytes) -> str:
    pages = (page.extract_text() for page in PdfReader(io.BytesIO(data)).pages)
    return "\n".join(pages).replace(RULER, "")


@pytest.mark.parametrize("name", ["larkholm-timber-tractor", "larkholm-crane-truck"])
def test_the_plan_book_is_written_in_the_units_chosen(name: str) -> None:
    with words_only():
        text = words_of(plan_book(inch(name)))
    assert MARK not in text
    lines = text.split("\n")
    assert [line for line in lines if OTHER.search(line)] == []
    assert " in\n" in text or " in " in text
    assert RULER in "\n".join(
        page.extract_text()
        for page in PdfReader(io.BytesIO(plan_book(inch(name), chapters=("templates",)))).pages
    )


def test_the_sheet_and_the_tables_follow_too() -> None:
    evaluation = evaluate(inch("larkholm-timber-tractor"))
    text = words_of(sheet_pdf(evaluation))
    assert "mph" in text
    assert "km/h" not in text
    parts = parts_csv(evaluation)
    assert " mm" not in parts
    assert MARK not in parts + gears_csv(evaluation)


def test_speeds_in_tables_follow_and_their_columns_say_so() -> None:
    """A mile is 1609.344 m (NIST SP 811, appendix B.8, from memory)."""
    metric, other = (
        list(csv.DictReader(io.StringIO(gears_csv(evaluate(vehicle)))))
        for vehicle in (example_vehicle("larkholm-timber-tractor"), inch("larkholm-timber-tractor"))
    )
    assert "scale_speed_km_h" not in other[0]
    seen = 0
    for old, new in zip(metric, other, strict=True):
        if old["scale_speed_km_h"]:
            seen += 1
            km_h = float(new["scale_speed_mph"]) * 1.609344
            assert km_h == pytest.approx(float(old["scale_speed_km_h"]), abs=0.02)
            assert float(new["model_speed_mph"]) * 0.44704 == pytest.approx(
                float(old["model_speed_m_s"]), abs=1e-4
            )
    assert seen > 3


def test_a_template_names_inches_and_keeps_its_true_size() -> None:
    tractor = example_vehicle("larkholm-timber-tractor")
    metric = template_data(tractor, "gear 12 fixed", "svg").decode()
    other = template_data(inch("larkholm-timber-tractor"), "gear 12 fixed", "svg").decode()
    assert re.findall(r'points="[^"]*"', metric) == re.findall(r'points="[^"]*"', other)
    assert " mm" in metric
    assert " mm" not in re.sub(r"<svg[^>]*>", "", other)
    assert MARK not in metric + other


def test_a_dxf_says_its_unit_and_is_drawn_in_it() -> None:
    """$INSUNITS 4 is mm, 1 is inches (DXF reference, header variables)."""
    tractor = example_vehicle("larkholm-timber-tractor")
    wide = {}
    for unit, code in (("mm", 4), ("in", 1)):
        units = tractor.units.model_copy(update={"dxf": unit})
        vehicle = tractor.model_copy(update={"units": units})
        document = ezdxf.read(io.StringIO(template_data(vehicle, "gear 12 fixed", "dxf").decode()))
        assert document.header["$INSUNITS"] == code
        xs = [x for line in document.modelspace().query("LWPOLYLINE") for x, *_ in line]
        wide[unit] = max(xs) - min(xs)
    assert wide["mm"] == pytest.approx(25.4 * wide["in"])


def test_files_and_reports_keep_the_formats_own_units() -> None:
    tractor = inch("larkholm-timber-tractor")
    data = json.loads(encode(tractor))["vehicle"]
    assert data["wheels"]["diameter_mm"] == 120.0
    plain = report(evaluate(example_vehicle("larkholm-timber-tractor")))
    assert report(evaluate(tractor))["gears"] == plain["gears"]

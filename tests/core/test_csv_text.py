"""CSV: what a spreadsheet would run is only text, figures stay figures, reading gives it back."""

import csv
import io

import pytest

from examples import example_vehicle
from mild_badger.core.csv_text import bare_cell, csv_text, split_line
from mild_badger.core.errors import InputError
from mild_badger.core.targets.schools import RatioConvention
from mild_badger.core.targets.table import read_targets, targets_csv

# Which first letters start a formula: OWASP, "CSV injection" (read there, from memory).
FORMULAS = ("=1+1", "+cmd|x", "-2+3", "@SUM(A1)", "\t=1", "\r=1", "-", "+", "=")
PLAIN = ("", "gear 3", "-2.45", "+7", "1e-3", "-.5", "-50/9", 3, -1.25, None, "1=2")


@pytest.mark.parametrize("cell", FORMULAS)
def test_formulas_become_text_and_come_back(cell: str) -> None:
    line = csv_text(("name",), [(cell,)]).split("\n", 1)[1]
    ((written,),) = csv.reader(io.StringIO(line, newline=""))
    assert written == f"'{cell}"
    assert bare_cell(written) == cell


@pytest.mark.parametrize("cell", PLAIN)
def test_figures_and_words_stay_as_they_are(cell: object) -> None:
    written = csv_text(("a", "b"), [(cell, "x")]).splitlines()[1]
    assert written == f"{'' if cell is None else cell},x"


def test_gears_with_odd_names_go_out_and_come_back() -> None:
    real = example_vehicle().real
    odd = [
        gear.model_copy(update={"name": name})
        for gear, name in zip(real.gears, ("=1+1", "@x", "a,b", '"q"'), strict=False)
    ]
    text = targets_csv(real.model_copy(update={"gears": tuple(odd)}))
    back = [(g.name, g.ratio, g.reverse) for g in read_targets(text, RatioConvention.TURNS_IN)]
    assert back == [(g.name, g.ratio, g.reverse) for g in odd]


@pytest.mark.parametrize("text", [";", ";\n2", "x" * 140_000, '"', "gear;ratio\n" + "9" * 200_000])
def test_lines_that_are_no_rows_are_said(text: str) -> None:
    with pytest.raises(InputError) as caught:
        read_targets(text, RatioConvention.TURNS_IN)
    assert len(str(caught.value)) <= 300
    with pytest.raises(InputError):
        split_line("y" * 10_001, ",")

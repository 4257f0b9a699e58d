"""The command line as a script would use it."""

import json
import subprocess
import sys
from collections import Counter
from fractions import Fraction
from pathlib import Path
from typing import Any

import pytest

from examples import example_vehicle
from mild_badger import cli
from mild_badger.core.architectures.registry import searches
from mild_badger.core.figures import MARK
from mild_badger.core.kit.catalogue import kit_text, shipped_kit
from mild_badger.core.mechanisms.cables.edits import add_cables
from mild_badger.core.mechanisms.clutch.edits import add_clutch
from mild_badger.core.mechanisms.display.edits import add_engine
from mild_badger.core.mechanisms.lever.edits import add_lever
from mild_badger.core.mechanisms.liquid.edits import add_line
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.units import INCH
from mild_badger.files.vehicle_file import save
from telling import tells


def run(capsys: pytest.CaptureFixture[str], *arguments: str) -> tuple[int, str, str]:
    code = cli.run(list(arguments))
    out, err = capsys.readouterr()
    return code, out, err


def test_match_in_json(capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = run(
        capsys,
        "match",
        "--kit",
        "brick-grid",
        "--targets",
        "3.9,2.4,1.6",
        "--reverse",
        "3.5",
        "--json",
    )
    data = json.loads(out)
    assert code == 0
    assert (data["fit"], data["factor"]) == ("absolute", 1)
    assert [gear["name"] for gear in data["gears"]] == ["1", "2", "3", "R"]
    assert data["gears"][1]["ratio"] == "12/5"
    assert data["gears"][3]["ratio"] == "-7/2"
    for gear in data["gears"]:
        ratio = Fraction(1)
        for driver, driven in gear["train"]:
            ratio *= Fraction(driven, driver)
        assert abs(Fraction(gear["ratio"])) == ratio
        assert len(gear["train"]) <= 2
        meshes = len(gear["train"]) + gear["idlers"]
        assert (meshes % 2 == 0) == (Fraction(gear["ratio"]) > 0)
        assert gear["error_percent"] == pytest.approx(100 * (float(ratio) / gear["target"] - 1))
    worst = max(
        abs(100 * (float(abs(Fraction(g["ratio"]))) / g["target"] - 1)) for g in data["gears"]
    )
    assert data["worst_error_percent"] == pytest.approx(worst, rel=0.01)


def gears(out: str) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = json.loads(out)["gears"]
    return found


def test_match_with_a_range_of_teeth(capsys: pytest.CaptureFixture[str]) -> None:
    # reference table: 377/120 = 13·29 / (2³·3·5) is the gear-friendly π
    code, out, _ = run(capsys, "match", "--teeth", "10-30", "--targets", "3.14159265", "--json")
    assert code == 0
    assert gears(out)[0]["ratio"] == "377/120"


def test_match_for_a_slot_box_ends_on_dog_faces(capsys: pytest.CaptureFixture[str]) -> None:
    free = run(capsys, "match", "--targets", "5", "--max-pairs", "1", "--json")[1]
    slot = run(capsys, "match", "--targets", "5", "--architecture", "slot", "--json")[1]
    assert gears(free)[0]["train"] == [[8, 40]]
    assert gears(slot)[0]["ratio"] == "5"
    assert gears(slot)[0]["train"][-1][1] in (16, 20)
    wood = ("match", "--teeth", "8-40", "--targets", "5", "--architecture", "slot", "--json")
    assert len(gears(run(capsys, *wood)[1])[0]["train"]) == 1


def test_match_for_boxes_with_one_centre_distance(capsys: pytest.CaptureFixture[str]) -> None:
    box = ("match", "--teeth", "12-60", "--json", "--reverse", "3.3")
    asked = (*box, "--targets", "3.6,2.1,1.4,1")
    code, out, _ = run(capsys, *asked, "--architecture", "layshaft")
    data = json.loads(out)
    assert code == 0
    assert data["centre_distance_mm"] == data["tooth_sum"] / 2
    first = data["gears"][0]["train"][0]
    for gear in data["gears"]:
        ratio = Fraction(1)
        for driver, driven in gear["train"]:
            ratio *= Fraction(driven, driver)
        assert abs(Fraction(gear["ratio"])) == ratio
        assert gear["train"] == [] or gear["train"][0] == first
    assert data["gears"][3]["train"] == []  # the direct drive
    code, out, _ = run(capsys, *asked, "--architecture", "two-shaft", "--centre-distance", "40")
    assert json.loads(out)["tooth_sum"] == 80
    for same in ("4 cm", "0.04m", "40mm"):
        code, out, _ = run(capsys, *asked, "--architecture", "two-shaft", "--centre-distance", same)
        assert json.loads(out)["tooth_sum"] == 80
    inches = run(capsys, *asked, "--architecture", "two-shaft", "--centre-distance", "2 3/8in")
    assert inches[0] == 2
    assert "60.325 mm" in inches[2]
    assert run(capsys, "match", "--targets", "2", "--architecture", "two-shaft")[0] == 0


def test_match_for_every_architecture(capsys: pytest.CaptureFixture[str]) -> None:
    asked = ("match", "--teeth", "12-24", "--targets", "2.9,2.1,1.4,1", "--reverse", "3", "--json")
    worst = {}
    for kind in searches():
        code, out, _ = run(capsys, *asked, "--architecture", kind)
        data = json.loads(out)
        assert (code, data["architecture"]) == (0, kind)
        worst[kind] = data["worst_error_percent"]
        for gear in data["gears"]:
            ratio = Fraction(1)
            for driver, driven in gear["train"]:
                ratio *= Fraction(driven, driver)
            if gear["name"] in data.get("second_trains", {}):
                other = Fraction(1)
                for driver, driven in data["second_trains"][gear["name"]]:
                    other *= Fraction(driven, driver)
                ratio = 2 / (1 / ratio + 1 / other)
            assert abs(Fraction(gear["ratio"])) == ratio
        if kind == "range-splitter":
            m, n = data["split"]
            assert len(data["shift_order"]) == m * n
            ratios = [Fraction(speed["ratio"]) for speed in data["shift_order"]]
            assert ratios == sorted(ratios, reverse=True)
        if kind == "twin-layshaft":
            assert len({driven for _, driven in data["output_pairs"]}) == 1
    code, out, _ = run(capsys, *asked, "--architecture", "auto")
    data = json.loads(out)
    best = min(worst[row["architecture"]] for row in data["compared"])
    assert data["worst_error_percent"] == pytest.approx(best)
    code, out, _ = run(capsys, *asked[:-1], "--architecture", "auto", "--best", "size")
    assert code == 0
    assert "range × splitter:" in out


def test_a_slider_that_serves_two_speeds_is_asked_for(capsys: pytest.CaptureFixture[str]) -> None:
    asked = ("match", "--teeth", "12-30", "--targets", "3.2,1.9,1", "--reverse", "4.4", "--json")
    code, out, _ = run(capsys, *asked, "--architecture", "layshaft-slide", "--shared-slider")
    assert code == 0
    found = json.loads(out)
    driven = {gear["name"]: gear["train"][-1][1] for gear in found["gears"] if gear["train"]}
    assert driven["1"] == driven["R"]
    trains = [gear["train"][1:] for gear in found["gears"]]
    idlers = sum(gear["idlers"] for gear in found["gears"])
    # every gear but the one that is shared, and the input pair
    assert found["gears_used"] == 2 * sum(map(len, trains)) + idlers + 2 - 1
    code, _, told = run(capsys, *asked, "--architecture", "slot", "--shared-slider")
    assert code == 2
    assert "--shared-slider" in told


def test_auto_sums_where_gears_alone_miss(capsys: pytest.CaptureFixture[str]) -> None:
    # by hand: one pair of 8, 9 or 10 teeth is 4.8 % off 1.06; half of 8/8 + 8/9 turns is 17/18
    asked = (
        "match",
        "--targets",
        "1.06",
        "--teeth",
        "8-10",
        "--max-pairs",
        "1",
        "--best",
        "size",
        "--tolerance",
        "0.4",
    )
    assert run(capsys, *asked, "--architecture", "slot")[0] == 1
    code, out, _ = run(capsys, *asked, "--architecture", "auto", "--json")
    data = json.loads(out)
    assert (code, data["architecture"], data["gears"][0]["ratio"]) == (0, "slot-sum", "18/17")
    assert data["second_trains"] == {"1": [[8, 9]]}
    assert [row["architecture"] for row in data["compared"] if "reason" not in row] == []


def test_match_keeps_within_the_stock(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    stock = {8: 2, 12: 2, 16: 3, 20: 2, 24: 2, 28: 1, 36: 1, 40: 1}
    kit = shipped_kit("brick-grid")
    gears_there = tuple(
        g.model_copy(update={"stock": stock[g.teeth] if g.bore == "fixed" else 0})
        for g in kit.gears
    )
    file = tmp_path / "few.kit.json"
    file.write_text(kit_text(kit.model_copy(update={"gears": gears_there})))
    asked = ("match", "--kit", str(file), "--targets", "4,2.5,1.6,1.1", "--json")
    free = json.loads(run(capsys, *asked)[1])
    code, out, _ = run(capsys, *asked, "--stock")
    data = json.loads(out)
    assert code == 0
    assert data["worst_error_percent"] >= free["worst_error_percent"]
    used = Counter(z for gear in data["gears"] for pair in gear["train"] for z in pair)
    assert all(used[z] <= stock[z] for z in used)
    code, _, err = run(capsys, *asked, "--stock", "--architecture", "slot")
    assert code == 1  # no free gear with dog faces is left
    assert "stock" in err


def test_match_under_limits(capsys: pytest.CaptureFixture[str]) -> None:
    asked = ("match", "--targets", "5,2.2", "--json")
    for limit in ("--max-centre", "22"), ("--max-gears", "3"):
        for gear in gears(run(capsys, *asked, *limit)[1]):
            if limit[0] == "--max-centre":
                assert all(driver + driven <= 44 for driver, driven in gear["train"])
            else:
                assert 2 * len(gear["train"]) + gear["idlers"] <= 3
    seated = gears(run(capsys, *asked, "--architecture", "slot", "--seated")[1])
    assert all(gear["train"][-1][1] in (16, 20) for gear in seated)
    code, out, _ = run(
        capsys,
        "match",
        "--teeth",
        "8-80",
        "--targets",
        "250,4",
        "--max-pairs",
        "3",
        "--best",
        "size",
        "--json",
    )
    assert code == 0
    assert [len(gear["train"]) for gear in gears(out)] == [3, 1]


def test_the_trade_offs_are_listed(capsys: pytest.CaptureFixture[str]) -> None:
    asked = ("match", "--targets", "4.1,2.3,1.5", "--pareto")
    points = json.loads(run(capsys, *asked, "--json")[1])["pareto"]
    spent = [point["gears_used"] for point in points]
    worst = [point["worst_error_percent"] for point in points]
    assert len(points) > 2
    assert spent == sorted(set(spent))
    assert worst == sorted(set(worst), reverse=True)
    assert all(0 < point["efficiency"] < 1 for point in points)
    assert run(capsys, *asked, "--architecture", "slot")[1].count("%") == 2 * len(points)


def test_match_by_size_and_in_words(capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = run(
        capsys,
        "match",
        "--targets",
        "3.9,2.4,1.6",
        "--fit",
        "spacing",
        "--best",
        "size",
        "--tolerance",
        "2.5",
        "--factor-range",
        "0.8,1.25",
    )
    assert code == 0
    assert tells(out, "command-line.factor-worst-error")
    code, out, err = run(
        capsys,
        "match",
        "--targets",
        "3.9,1.6",
        "--max-pairs",
        "1",
        "--best",
        "size",
        "--tolerance",
        "0.1",
        "--json",
    )
    assert code == 1
    assert json.loads(out)["gears"] == []
    assert tells(err, "ratios.no-set-keeps-every-gear-within-the-least")


@pytest.mark.parametrize(
    ("arguments", "word"),
    [
        (["match", "--targets", "3.9,-2"], "--targets"),
        (["match", "--targets", "3.9,,2"], "--targets"),
        (["match", "--targets", "1e999999999"], "not a number"),
        (["match", "--targets", ",".join(["2"] * 30)], "more than"),
        (["match", "--targets", "2", "--max-pairs", "9"], "--max-pairs"),
        (["match", "--targets", "2", "--kit", "marble"], "no kit called"),
        (["match", "--targets", "2", "--kit", "/nowhere/x.json"], "Cannot read"),
        (["match", "--targets", "2", "--fit", "spacing", "--factor-range", "2,1"], "rising"),
        (["match", "--targets", "2", "--fit", "sideways"], "Try mild-badger match --help"),
        (["match"], "required"),
        (["match", "--targets", "2", "--teeth", "40-8"], "must rise"),
        (["match", "--targets", "2", "--teeth", "8"], "no range"),
        (["match", "--targets", "2", "--teeth", "8-400", "--max-pairs", "4"], "Use fewer"),
        (["match", "--targets", "2", "--teeth", "8-40", "--stock"], "has no stock"),
        (["match", "--targets", "2", "--pareto", "--architecture", "layshaft"], "slot box"),
        (["match", "--targets", "2", "--max-gears", "many"], "whole number"),
        (["match", "--targets", "2", "--max-centre", "0"], "--max-centre"),
        (["match", "--targets", "2", "--architecture", "orrery"], "invalid choice"),
        (["match", "--targets", "2", "--centre-distance", "40"], "two-shaft"),
        (
            ["match", "--targets", "2", "--architecture", "layshaft", "--centre-distance", "20.3"],
            "nearest is 20.5 mm",
        ),
        (["check", "/nowhere/x.badger.json"], "no such file"),
        (["export", "/nowhere/x.badger.json", "--to", "/tmp"], "no such file"),
        (["match", "--targets", "2", "--tolerance", "0"], "--tolerance"),
    ],
)
def test_bad_input_is_said_with_code_two(
    capsys: pytest.CaptureFixture[str], arguments: list[str], word: str
) -> None:
    code, out, err = run(capsys, *arguments)
    assert code == 2
    assert out == ""
    assert word in err
    assert "Traceback" not in err


def test_check_and_export(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    file = tmp_path / "bus.badger.json"
    save(example_vehicle(), file)
    code, out, _ = run(capsys, "check", str(file), "--json")
    assert code == 0
    assert json.loads(out)["gears"][0]["ratio"] == "25/4"
    code, out, _ = run(capsys, "check", str(file))
    assert "km/h at scale" in out
    code, _, _ = run(capsys, "export", str(file), "--to", str(tmp_path / "new" / "out"))
    assert code == 0
    written = sorted(p.name for p in (tmp_path / "new" / "out").iterdir())
    strips = [f"detent-strip.{form}" for form in ("dxf", "stl", "svg")]
    assert written == [*strips, "gears.csv", "parts.csv", "sheet.pdf"]
    code, _, err = run(capsys, "export", str(file), "--to", str(file))
    assert (code, tells(err, "files.cannot-make")) == (2, True)


def test_check_tells_of_every_mechanism(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    truck = example_vehicle("larkholm-crane-truck")
    for edit in (
        add_engine(truck),
        add_clutch(truck),
        add_line(truck),
        add_cables(),
        add_lever(),
    ):
        assert edit is not None
        truck = apply_edit(truck, edit)
    file = tmp_path / "truck.badger.json"
    save(truck, file)
    _, out, _ = run(capsys, "check", str(file), "--json")
    told = json.loads(out)["machine"]
    assert set(told) == {
        "display_engine",
        "lever_drive",
        "clutch",
        "liquid_lines",
        "cables",
        "outputs",
        "balance",
        "bearings",
    }
    turns = {output["name"]: output["turns"] for output in told["outputs"]}
    assert (turns["slewing"], turns["carriage"], turns["rear winch"]) == ("1/360", "1/3", None)
    assert told["balance"]["load_chart"][0]["allowed_kg"] is None  # drawn in nothing tips it
    assert told["cables"][0]["travel_mm"] == pytest.approx(9.3)
    assert told["display_engine"]["even"]
    assert any("metal" in row["serve"] for row in told["bearings"])


def test_an_error_in_the_vehicle_gives_code_one(
    capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    file = tmp_path / "bus.badger.json"
    save(apply_edit(example_vehicle(), Edit.one("x", ("final_drive", "crown_side"), "right")), file)
    code, out, _ = run(capsys, "check", str(file), "--json")
    assert code == 1
    assert json.loads(out)["findings"][0]["code"] == "crown-wheel-side"


def test_the_schema_is_printed(capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = run(capsys, "schema")
    assert code == 0
    assert "Vehicle" in json.loads(out)["$defs"]


@pytest.mark.parametrize("arguments", [["schema"], ["match", "--targets", "2"], []])
def test_no_command_loads_qt(arguments: list[str]) -> None:
    script = (
        "import sys\n"
        "class Wall:\n"
        "    def find_spec(self, name, path=None, target=None):\n"
        "        if name.split('.')[0] in ('PyQt6', 'pyqtgraph'):\n"
        "            raise ImportError(name)\n"
        "sys.meta_path.insert(0, Wall())\n"
        "sys.argv = ['mild-badger', *sys.argv[1:]]\n"
        "from mild_badger.__main__ import main\n"
        "main()\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", script, *arguments], capture_output=True, text=True, check=False
    )
    assert done.returncode == (0 if arguments else 2)
    assert "Traceback" not in done.stderr
    assert arguments or tells(done.stderr, "command-line.the-window-cannot-be-loaded")


def test_check_prints_speeds_and_lengths_in_the_vehicles_units(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file = tmp_path / "t.badger.json"
    tractor = example_vehicle("larkholm-timber-tractor")
    save(tractor.model_copy(update={"units": INCH}), file)
    cli.run(["check", str(file)])
    printed = capsys.readouterr().out
    assert "mph" in printed
    assert not any(unit in printed for unit in (" m/s", " km/h", " mm", MARK))
    cli.run(["check", "--json", str(file)])
    assert MARK not in capsys.readouterr().out

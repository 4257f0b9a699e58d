"""The stand-in rig and the trial as a script would use them, through files."""

import json
from pathlib import Path

import pytest

from examples import example_vehicle
from mild_badger import cli
from mild_badger.core.message import say
from mild_badger.files.vehicle_file import load, save
from telling import tells


def run(capsys: pytest.CaptureFixture[str], *arguments: str) -> tuple[int, str, str]:
    code = cli.run(list(arguments))
    out, err = capsys.readouterr()
    return code, out, err


@pytest.fixture
def bus(tmp_path: Path) -> Path:
    path = tmp_path / "bus.badger.json"
    save(example_vehicle(), path)
    return path


def test_the_rig_s_pulses_are_read_and_its_fault_is_named(
    capsys: pytest.CaptureFixture[str], bus: Path
) -> None:
    fault = "swapped gear:gear 3:1:driver:16"
    code, out, _ = run(capsys, "rig", str(bus), "--position", "3", "--fault", fault)
    assert code == 0
    file = bus.with_name("run.csv")
    file.write_text(out)
    told = bus.with_name("told.badger.json")
    code, out, _ = run(
        capsys,
        "trial",
        str(bus),
        "--read",
        str(file),
        "--position",
        "3",
        "--save",
        str(told),
        "--json",
    )
    data = json.loads(out)
    assert code == 1
    assert data["not_as_planned"] == ["3"]
    assert data["candidates"][0]["fault"] == say(
        "trial.has-teeth-instead-of", name="Gear 3, pair 1, driver", teeth="16", teeth_2="12"
    )
    assert data["positions"][3]["output_turns"] == "12/25"
    kept = load(told)
    assert kept.trial.readings[0].turns == pytest.approx(0.64, rel=1e-3)
    code, out, _ = run(capsys, "trial", str(told))
    assert code == 1
    assert tells(out, "command-line.look", look="count the teeth of Gear 3, pair 1, driver")
    code, out, _ = run(capsys, "trial", str(bus))
    assert code == 0
    assert tells(out, "trial.nothing-has-been-read-yet-engage-a-position")


def test_a_jam_sends_no_pulses_and_is_no_reading(
    capsys: pytest.CaptureFixture[str], bus: Path
) -> None:
    _, out, _ = run(capsys, "rig", str(bus), "--position", "3", "--fault", "glued gear:5")
    file = bus.with_name("run.csv")
    file.write_text(out)
    code, _, err = run(capsys, "trial", str(bus), "--read", str(file), "--position", "3")
    assert code == 2
    assert tells(err, "trial.no-pulses-of-the-input-yet")


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["rig", "--position", "9"], "has no gear '9'"),
        (["rig", "--position", "3", "--at", "moon"], "no body 'moon'"),
        (["rig", "--position", "3", "--rpm", "0"], "1 to 20000 rpm"),
        (["rig", "--position", "3", "--slots", "0"], "1 to 400 slots"),
        (["rig", "--position", "3", "--noise", "-1"], "0 to 5000"),
        (["rig", "--position", "3", "--fault", "rust"], "knows no fault 'rust'"),
        (["trial", "--read", "nothing.csv", "--position", "3"], "nothing.csv"),
        (["trial", "--read", "nothing.csv"], "--position must be one of"),
        (["trial", "--read", "nothing.csv", "--position", "3", "--at", "moon"], "--at must be"),
    ],
)
def test_bad_input_is_a_sentence(
    capsys: pytest.CaptureFixture[str], bus: Path, arguments: list[str], said: str
) -> None:
    code, _, err = run(capsys, arguments[0], str(bus), *arguments[1:])
    assert code == 2
    assert said in err

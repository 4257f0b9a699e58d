"""Commands as a shell runs them: what goes wrong is a sentence and a code, never a traceback."""

import os
import signal
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

import pytest

from examples import example_vehicle
from mild_badger.__main__ import main
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.files.vehicle_file import save
from telling import tells

PROGRAM = [sys.executable, "-P", "-m", "mild_badger"]
ROOT = Path(__file__).parents[2]


def start(*arguments: str, **options: Any) -> subprocess.Popen[bytes]:
    # where the tests run in the background of a shell, Ctrl+C is ignored and would stay so
    made: subprocess.Popen[bytes] = subprocess.Popen(
        ["env", "--default-signal=INT", *PROGRAM, *arguments], stderr=subprocess.PIPE, **options
    )
    return made


def said(process: subprocess.Popen[bytes], code: int) -> str:
    out, err = process.communicate(timeout=60)
    words = err.decode()
    assert process.returncode == code, words
    assert "Traceback" not in words
    assert "Error" not in words
    return words + (out or b"").decode(errors="replace")


@pytest.fixture
def bus(tmp_path: Path) -> str:
    save(example_vehicle(), tmp_path / "bus.badger.json")
    return str(tmp_path / "bus.badger.json")


def test_ctrl_c_ends_a_command_with_130(bus: str) -> None:
    # with one layer there is no place for all, so that it looks for as long as it may
    tight = Edit.one("One layer", ("placing", "layers"), 1)
    save(apply_edit(example_vehicle(), tight), Path(bus))
    process = start("place", bus, "--seconds", "60", stdout=subprocess.DEVNULL)
    time.sleep(3)
    process.send_signal(signal.SIGINT)
    assert said(process, 130) == ""


def test_ctrl_c_that_a_library_swallows_ends_a_command_all_the_same() -> None:
    program = (
        "import time\n"
        "from mild_badger.terminal import guarded, interruptible\n"
        "def run():\n"
        "    print('ready', flush=True)\n"
        "    while True:\n"
        "        try:\n"
        "            time.sleep(30)\n"
        "        except BaseException:\n"
        "            pass\n"
        "raise SystemExit(guarded(lambda: interruptible(run)))\n"
    )
    process = subprocess.Popen(
        [sys.executable, "-c", program], stdout=subprocess.PIPE, stderr=subprocess.PIPE
    )
    assert process.stdout is not None
    process.stdout.readline()
    process.send_signal(signal.SIGINT)
    assert said(process, 130) == ""


def test_a_full_or_closed_standard_output(bus: str) -> None:
    with Path("/dev/full").open("wb") as full:
        words = said(start("schema", stdout=full), 2)
    assert tells(words, "command-line.standard-output-cannot-be-written")
    reading, writing = os.pipe()
    os.close(reading)
    try:
        assert "closed" in said(start("schema", stdout=writing), 2)
    finally:
        os.close(writing)


@pytest.mark.parametrize("encoding", ["ascii", "latin-1"])
def test_terminals_that_lack_signs(bus: str, encoding: str) -> None:
    environment = {**os.environ, "PYTHONIOENCODING": encoding, "PYTHONUTF8": "0"}
    process = start("check", bus, stdout=subprocess.PIPE, env=environment)
    assert "rpm" in said(process, 0)


@pytest.mark.parametrize(
    ("settings", "word"),
    [
        ({"DISPLAY": ":987"}, ":987"),
        ({"QT_QPA_PLATFORM": "punch-cards"}, "punch-cards"),
        ({}, "no display"),
    ],
)
def test_a_screen_that_is_not_there(settings: dict[str, str], word: str) -> None:
    names = ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")
    environment = {k: v for k, v in os.environ.items() if k not in names} | settings
    assert word in said(start("--demo", env=environment), 2)


@pytest.mark.parametrize(
    ("arguments", "word"),
    [
        (["chek", "x.badger.json"], "Did you mean check?"),
        (["match", "--targets", "2", "--seated"], "--seated"),
        (["match", "--targets", "2", "--seated", "--pareto"], "--seated"),
        (["match", "--targets", "2", "--seated", "--pareto", "--architecture", "slot"], "--seated"),
        (["match", "--targets", "2", "--profile-shift"], "--profile-shift"),
        (["match", "--targets", "2", "--factor-range", "1,2"], "--factor-range"),
        (["match", "--targets", "2", "--tolerance", "1"], "--tolerance"),
        (["match", "--targets", "2", "--teeth", "8-20", "--kit", "brick-grid"], "--kit"),
        (["match", "--targets", "3", "--reverse", "7,200"], "7200 or 7.2"),
        (["check", "/dev/zero"], "device"),
        (["solve", "/"], "folder"),
        (["match", "--targets", "2", "--kit", "/dev/null"], "device"),
    ],
)
def test_what_cannot_be_honoured_is_refused(
    arguments: list[str],
    word: str,
    monkeypatch: pytest.MonkeyPatch,
    capsys: pytest.CaptureFixture[str],
) -> None:
    monkeypatch.setattr(sys, "argv", ["mild-badger", *arguments])
    with pytest.raises(SystemExit) as left:
        main()
    assert left.value.code == 2
    assert word in capsys.readouterr().err


def test_the_rig_refuses_a_seed_below_zero(bus: str) -> None:
    assert "seed" in said(start("rig", bus, "--position", "1", "--seed", "-1"), 2)


def test_a_pipe_nobody_writes_to_is_refused_at_once(tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "pipe.badger.json")
    began = time.monotonic()
    assert "pipe" in said(start("check", str(tmp_path / "pipe.badger.json")), 2)
    assert time.monotonic() - began < 20

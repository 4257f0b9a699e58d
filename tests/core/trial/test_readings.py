"""Readings typed by hand, and streams: files, pipes, a serial line, the rig in its own time."""

import os
import pty
from pathlib import Path

import pytest

from examples import example_vehicle
from mild_badger.core.errors import FileAccessError, InputError
from mild_badger.core.trial.pulses import PulseReader
from mild_badger.core.trial.readings import (
    forget_all,
    forget_reading,
    note_reading,
    tick,
    typed_reading,
)
from mild_badger.core.trial.rig import RigRun, pulses
from mild_badger.core.trial.stream import FileStream, RigStream
from mild_badger.core.vehicle.edit.apply import apply_edit
from telling import refuses

PLACE = ("3", "selector.1")


def test_turns_and_speeds_are_read_alike() -> None:
    turns = typed_reading(PLACE, turned_in="25", turned_out="12", percent="", way=1)
    rpm = typed_reading(PLACE, turned_in="500", turned_out="240,0", percent="1", way=0)
    assert turns.turns == rpm.turns == pytest.approx(0.48)
    assert turns.spread == pytest.approx(0.0096)
    assert (turns.way, rpm.way) == (1, 0)
    stood = typed_reading(PLACE, turned_in="10", turned_out="0", percent="", way=-1)
    assert (stood.turns, stood.way) == (0.0, 0)


@pytest.mark.parametrize(
    ("given", "taken", "percent"),
    [
        ("0", "1", ""),
        ("-3", "1", ""),
        ("ten", "1", ""),
        ("", "1", ""),
        ("1", "-1", ""),
        ("1", "x", ""),
        ("1", "1", "200"),
        ("1", "1", "much"),
        ("0.0001", "1", ""),
    ],
)
def test_numbers_that_cannot_be_are_refused(given: str, taken: str, percent: str) -> None:
    with pytest.raises(InputError, match=r"[.?]$"):
        typed_reading(PLACE, turned_in=given, turned_out=taken, percent=percent, way=0)


def test_readings_and_ticks_are_noted_read_anew_and_taken_away() -> None:
    vehicle = example_vehicle()
    first = typed_reading(PLACE, turned_in="25", turned_out="12", percent="", way=1)
    again = typed_reading(PLACE, turned_in="25", turned_out="13", percent="", way=1)
    noted = apply_edit(vehicle, note_reading(vehicle, first))
    known = noted.trial.readings[0].id
    noted = apply_edit(noted, note_reading(noted, again))
    assert noted.trial.readings == (again.model_copy(update={"id": known}),)
    ticked = apply_edit(noted, tick(noted, "5", done=True))
    ticked = apply_edit(ticked, tick(ticked, "2", done=True))
    assert ticked.trial.ticks == ("2", "5")
    assert apply_edit(ticked, tick(ticked, "5", done=False)).trial.ticks == ("2",)
    assert apply_edit(ticked, forget_reading(ticked, ticked.trial.readings[0])).trial.readings == ()
    assert apply_edit(ticked, forget_all(ticked)).trial == vehicle.trial


def test_a_file_is_read_to_its_end_in_pieces(tmp_path: Path) -> None:
    path = tmp_path / "run.csv"
    path.write_text("".join(f"{n * 5000},1\n" for n in range(30_000)))
    stream, reader = FileStream(path), PulseReader()
    pieces = 0
    while not stream.ended:
        reader.feed(stream.read())
        pieces += 1
    assert reader.pulses == 30_000
    assert pieces > 3


def test_a_serial_line_is_read_as_it_comes_and_its_loss_is_a_sentence() -> None:
    ours, theirs = pty.openpty()
    stream, reader = FileStream(Path(os.ttyname(theirs))), PulseReader()
    assert stream.read() == ""  # nothing has come, and nobody waits
    os.write(ours, b"1000,1\r\n20")
    reader.feed(stream.read())
    os.write(ours, b"00,2\r\n")
    reader.feed(stream.read())
    assert reader.times_us == {1: [1000], 2: [2000]}
    os.close(theirs)
    os.close(ours)
    with refuses(FileAccessError, "trial.can-no-longer-be-read-is-the-plug-in-2"):
        stream.read()
    assert stream.ended


def test_what_cannot_be_opened_is_a_sentence(tmp_path: Path) -> None:
    with refuses(FileAccessError, "trial.cannot-be-read"):
        FileStream(tmp_path / "nothing")
    with refuses(FileAccessError, "trial.is-a-folder-choose-a-file-or-a-device"):
        FileStream(tmp_path)


def test_the_rig_keeps_its_time() -> None:
    now = [0.0]
    lines = pulses(example_vehicle(), RigRun("3", "selector.1", seconds=4))
    stream = RigStream(lines, pace=2.0, clock=lambda: now[0])
    reader = PulseReader()
    for tenth in range(1, 21):
        now[0] = tenth / 10
        reader.feed(stream.read())
        newest = max((t[-1] for t in reader.times_us.values() if t), default=0)
        assert newest <= 2e6 * now[0]
    now[0] = 9.0
    reader.feed(stream.read())
    assert stream.ended
    assert len(reader.times_us[1]) == pytest.approx(4 * 4 * 6, abs=3)

"""Where pulses come from: files, pipes, lines that are pulled out, and the rig in its own time."""

import os
import pty
from pathlib import Path

from mild_badger.core.errors import FileAccessError
from mild_badger.core.trial.stream import FileStream, RigStream
from telling import refuses


def test_what_cannot_be_read_is_said(tmp_path: Path) -> None:
    with refuses(FileAccessError, "trial.cannot-be-read"):
        FileStream(tmp_path / "none")
    with refuses(FileAccessError, "trial.is-a-folder-choose-a-file-or-a-device"):
        FileStream(tmp_path)


def test_a_file_ends_and_a_pipe_waits(tmp_path: Path) -> None:
    file = tmp_path / "pulses.csv"
    file.write_text("1,1\n2,2\n", encoding="ascii")
    stream = FileStream(file)
    assert stream.read() == "1,1\n2,2\n"
    assert stream.read() == ""
    assert stream.ended
    assert stream.read() == ""
    stream.close()
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    waiting = FileStream(pipe)
    writer = os.open(pipe, os.O_WRONLY | os.O_NONBLOCK)
    assert waiting.read() == ""  # nothing has come, and more may
    os.write(writer, b"3,1\n")
    assert waiting.read() == "3,1\n"
    os.close(writer)
    waiting.close()
    assert waiting.ended


def test_a_line_that_is_pulled_out_is_said() -> None:
    master, slave = pty.openpty()
    stream = FileStream(Path(os.ttyname(slave)))
    os.write(master, b"5,2\n")
    assert stream.read() == "5,2\n"
    assert stream.read() == ""
    os.close(slave)
    os.close(master)
    with refuses(FileAccessError, "trial.can-no-longer-be-read-is-the-plug-in-2"):
        stream.read()
    assert stream.ended


def test_the_rig_keeps_its_own_time() -> None:
    now = [0.0]
    lines = iter(["# rig", "1000,1", "2000,2", "5000,1"])
    rig = RigStream(lines, pace=2.0, clock=lambda: now[0])
    assert rig.read() == "# rig\n"
    now[0] = 0.0005  # at twice the pace that is 1000 µs
    assert rig.read() == "1000,1\n"
    now[0] = 0.002
    assert rig.read() == "2000,2\n"
    now[0] = 1.0
    assert rig.read() == "5000,1\n"
    assert rig.ended
    again = RigStream(iter(["9,1"]), clock=lambda: now[0])
    again.close()
    assert again.ended
    assert again.read() == ""

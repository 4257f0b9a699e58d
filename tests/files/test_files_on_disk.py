"""Files on disk: whole or not at all, with a backup, and recovery after a crash."""

import errno
import os
import signal
import socket
import stat
import subprocess
import sys
import time
from pathlib import Path

import pytest

from examples import example_vehicle
from mild_badger.core.errors import FileAccessError
from mild_badger.files.reader import LARGEST_FILE_BYTES, FileStamp, read_file, read_text
from mild_badger.files.vehicle_file import load, open_vehicle, save, save_unchanged
from mild_badger.files.writer import FileChangedError, write_file
from telling import Told, refuses, told


def test_saving_keeps_the_version_before_as_backup(tmp_path: Path) -> None:
    path = tmp_path / "bus.badger.json"
    first = example_vehicle()
    second = first.model_copy(update={"name": "Changed"})
    save(first, path)
    assert not path.with_name("bus.badger.json.bak").exists()
    save(second, path)
    assert load(path) == second
    assert load(path.with_name("bus.badger.json.bak")) == first
    save(first, path)
    assert load(path.with_name("bus.badger.json.bak")) == second
    assert sorted(p.name for p in tmp_path.iterdir()) == ["bus.badger.json", "bus.badger.json.bak"]


@pytest.mark.parametrize(
    ("number", "words"),
    [
        (errno.ENOSPC, told("files.the-disk-is-full-free-some-space-or-save")),
        (errno.EROFS, told("files.that-place-is-read-only-save-elsewhere")),
        (errno.EACCES, told("files.you-may-not-do-that-there-check-the")),
    ],
)
@pytest.mark.parametrize("step", ["fsync", "replace"])
def test_a_failed_save_leaves_the_old_file_whole(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, number: int, words: Told, step: str
) -> None:
    path = tmp_path / "bus.badger.json"
    save(example_vehicle(), path)

    def fail(*_: object) -> None:
        raise OSError(number, os.strerror(number))

    monkeypatch.setattr(os, step, fail)
    with refuses(FileAccessError, words):
        save(example_vehicle().model_copy(update={"name": "Lost?"}), path)
    monkeypatch.undo()
    assert load(path) == example_vehicle()
    assert {p.suffix for p in tmp_path.iterdir()} <= {".json", ".bak"}


def test_saving_through_a_link_keeps_the_link(tmp_path: Path) -> None:
    real = tmp_path / "real.badger.json"
    link = tmp_path / "link.badger.json"
    save(example_vehicle(), real)
    link.symlink_to(real)
    save(example_vehicle().model_copy(update={"name": "Through"}), link)
    assert link.is_symlink()
    assert load(real).name == "Through"


def test_what_cannot_be_read_is_said(tmp_path: Path) -> None:
    with refuses(FileAccessError, "files.there-is-no-such-file-or-folder-check-the"):
        load(tmp_path / "none.badger.json")
    with refuses(FileAccessError, "files.is-a-folder"):
        load(tmp_path)
    with refuses(FileAccessError, "files.there-is-no-such-file-or-folder-check-the"):
        save(example_vehicle(), tmp_path / "missing" / "bus.badger.json")
    large = tmp_path / "large.badger.json"
    with large.open("wb") as stream:
        stream.truncate(30_000_000)
    with refuses(FileAccessError, "files.holds-more-than-million-bytes-far-more-than"):
        load(large)


def sentence_of(error: BaseException) -> str:
    """Whatever is said about a file is one short paragraph, without a traceback's words."""
    text = str(error)
    assert 10 < len(text) <= 300
    assert "\n" not in text
    assert "Traceback" not in text
    return text


@pytest.mark.parametrize("make", ["fifo", "device", "folder", "socket", "loop"])
def test_only_regular_files_are_read_and_written_at_once(tmp_path: Path, make: str) -> None:
    path = tmp_path / "odd.badger.json"
    if make == "fifo":
        os.mkfifo(path)
    elif make == "device":
        path = Path("/dev/zero")
    elif make == "folder":
        path.mkdir()
    elif make == "socket":
        with socket.socket(socket.AF_UNIX) as bound:
            bound.bind(str(path))
    else:
        path.symlink_to(path)
    began = time.monotonic()
    for use in (load, read_text, lambda p: write_file(p, b"x")):
        with pytest.raises(FileAccessError) as caught:
            use(path)
        sentence_of(caught.value)
    assert time.monotonic() - began < 1.0  # nothing waited for a writer
    assert make != "fifo" or stat.S_ISFIFO(path.stat().st_mode)


def test_a_name_of_any_length_or_kind_is_a_sentence(tmp_path: Path) -> None:
    for name in ("x" * 300, "a\nb" * 100, "no\0name", "y/" * 200):
        for use in (load, lambda p: save(example_vehicle(), p)):
            with pytest.raises(FileAccessError) as caught:
                use(tmp_path / name)
            sentence_of(caught.value)
    longest = tmp_path / ("z" * 251 + ".bak")  # 255 bytes, the most that a name can have
    write_file(longest, b"kept")
    assert longest.read_bytes() == b"kept"
    assert len(list(tmp_path.iterdir())) == 1


def test_what_is_saved_can_be_opened_and_what_cannot_be_opened_is_not_saved(tmp_path: Path) -> None:
    path = tmp_path / "book.bin"
    write_file(path, b"x" * LARGEST_FILE_BYTES)
    assert len(read_file(path)) == LARGEST_FILE_BYTES
    with refuses(FileAccessError, "files.would-hold-million-bytes-more-than-the-that"):
        write_file(path, b"x" * (LARGEST_FILE_BYTES + 1))
    assert path.stat().st_size == LARGEST_FILE_BYTES
    with path.open("ab") as stream:
        stream.write(b"x")
    with refuses(FileAccessError, "files.holds-more-than-million-bytes-far-more-than"):
        read_file(path)


def test_a_file_that_others_changed_is_not_overwritten(tmp_path: Path) -> None:
    path = tmp_path / "bus.badger.json"
    first, second = example_vehicle(), example_vehicle().model_copy(update={"name": "Second"})
    save(first, path)
    _, one = open_vehicle(path)
    _, two = open_vehicle(path)  # another window on the same file
    after = save_unchanged(second, path, one)
    with pytest.raises(FileChangedError) as caught:
        save_unchanged(first, path, two)
    sentence_of(caught.value)
    assert load(path) == second
    assert load(path.with_name(path.name + ".bak")) == first
    save_unchanged(first, path, after)  # who saved last may go on
    with pytest.raises(FileChangedError):
        save_unchanged(second, path, None)  # nothing is known of it
    stamp = FileStamp.of(path.read_bytes())
    path.touch()  # a new date alone is no change
    stamp = save_unchanged(second, path, stamp)
    path.unlink()
    save_unchanged(second, path, stamp)  # it was taken away: saving brings it back
    assert load(path) == second


def test_modes_are_kept_and_new_files_follow_the_umask(tmp_path: Path) -> None:
    path = tmp_path / "bus.badger.json"
    before = os.umask(0o027)
    try:
        save(example_vehicle(), path)
        assert stat.S_IMODE(path.stat().st_mode) == 0o640
        path.chmod(0o604)
        save(example_vehicle(), path)
        assert stat.S_IMODE(path.stat().st_mode) == 0o604
        write_file(path, b"secret", private=True)
        assert stat.S_IMODE(path.stat().st_mode) == 0o600
    finally:
        os.umask(before)


KILLED = """
import itertools, pathlib, sys
from mild_badger.files.writer import write_file
path = pathlib.Path(sys.argv[1])
print("ready", flush=True)
for number in itertools.count():
    write_file(path, (f"{number:08d}" * 40_000).encode(), backup=True)
"""


def test_a_save_killed_at_any_moment_leaves_whole_files_and_the_next_one_tidies_up(
    tmp_path: Path,
) -> None:
    path = tmp_path / "bus.badger.json"
    backup = path.with_name(path.name + ".bak")
    write_file(path, b"00000000" * 40_000)
    write_file(path, b"00000000" * 40_000, backup=True)
    for kill in range(8):
        writer = subprocess.Popen(
            [sys.executable, "-c", KILLED, str(path)], stdout=subprocess.PIPE, text=True
        )
        assert writer.stdout is not None
        assert writer.stdout.readline() == "ready\n"
        deadline = time.monotonic() + 0.011 * (kill + 1)
        while time.monotonic() < deadline:
            assert backup.exists()  # not missing for an instant
        writer.send_signal(signal.SIGKILL)
        writer.wait()
        writer.stdout.close()
        for file in (path, backup):
            data = file.read_bytes()
            assert len(data) == 320_000
            assert data == data[:8] * 40_000
    write_file(path, b"last", backup=True)
    assert {p.name for p in tmp_path.iterdir()} == {path.name, backup.name}

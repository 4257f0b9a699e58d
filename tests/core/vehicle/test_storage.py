"""Files on disk: whole or not at all, with a backup, and recovery after a crash."""

import errno
import os
import subprocess
import sys
from pathlib import Path

import pytest

from mild_badger.core.errors import DocumentError, FileAccessError
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.storage import (
    discard_recovery,
    find_recoveries,
    load,
    save,
    write_recovery,
)


def test_saving_keeps_the_version_before_as_backup(tmp_path: Path) -> None:
    path = tmp_path / "bus.badger.json"
    first = demo_vehicle()
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
    [(errno.ENOSPC, "disk is full"), (errno.EROFS, "read-only"), (errno.EACCES, "permissions")],
)
@pytest.mark.parametrize("step", ["fsync", "replace"])
def test_a_failed_save_leaves_the_old_file_whole(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, number: int, words: str, step: str
) -> None:
    path = tmp_path / "bus.badger.json"
    save(demo_vehicle(), path)

    def fail(*_: object) -> None:
        raise OSError(number, os.strerror(number))

    monkeypatch.setattr(os, step, fail)
    with pytest.raises(FileAccessError, match=words):
        save(demo_vehicle().model_copy(update={"name": "Lost?"}), path)
    monkeypatch.undo()
    assert load(path) == demo_vehicle()
    assert {p.suffix for p in tmp_path.iterdir()} <= {".json", ".bak"}


def test_saving_through_a_link_keeps_the_link(tmp_path: Path) -> None:
    real = tmp_path / "real.badger.json"
    link = tmp_path / "link.badger.json"
    save(demo_vehicle(), real)
    link.symlink_to(real)
    save(demo_vehicle().model_copy(update={"name": "Through"}), link)
    assert link.is_symlink()
    assert load(real).name == "Through"


def test_what_cannot_be_read_is_said(tmp_path: Path) -> None:
    with pytest.raises(FileAccessError, match="no such file"):
        load(tmp_path / "none.badger.json")
    with pytest.raises(FileAccessError, match="is a folder"):
        load(tmp_path)
    with pytest.raises(FileAccessError, match="no such file or folder"):
        save(demo_vehicle(), tmp_path / "missing" / "bus.badger.json")
    large = tmp_path / "large.badger.json"
    with large.open("wb") as stream:
        stream.truncate(30_000_000)
    with pytest.raises(DocumentError, match="far more"):
        load(large)


def test_a_copy_is_offered_only_once_its_program_is_gone(tmp_path: Path) -> None:
    original = tmp_path / "bus.badger.json"
    mine = write_recovery(tmp_path, demo_vehicle(), original)
    assert find_recoveries(tmp_path) == []  # this process is at work
    script = (
        "import pathlib, sys\n"
        "from mild_badger.core.vehicle.demo import demo_vehicle\n"
        "from mild_badger.core.vehicle.storage import write_recovery\n"
        "write_recovery(pathlib.Path(sys.argv[1]), demo_vehicle(), None)\n"
    )
    subprocess.run([sys.executable, "-c", script, str(tmp_path)], check=True)
    (tmp_path / "77.recovery.json").write_text("{ damaged")
    found = find_recoveries(tmp_path)
    assert [(r.vehicle, r.original) for r in found] == [(demo_vehicle(), None)]
    # The number of a process may be given out again: then the start time tells them apart.
    mine.write_text(mine.read_text().replace('"owner_started": "', '"owner_started": "1'))
    assert len(find_recoveries(tmp_path)) == 2
    discard_recovery(found[0].file)
    assert [r.original for r in find_recoveries(tmp_path)] == [original]

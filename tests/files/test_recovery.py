"""Recovery copies: private, offered once their program is gone, one damaged one spoils nothing."""

import json
import os
import stat
import subprocess
import sys
from pathlib import Path

import pytest

from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.files.reader import FileStamp
from mild_badger.files.recovery import discard_recovery, find_recoveries, write_recovery

ELSEWHERE = """
import pathlib, sys
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.files.recovery import write_recovery
write_recovery(pathlib.Path(sys.argv[1]), demo_vehicle(), None)
"""


def test_a_copy_is_offered_only_once_its_program_is_gone(tmp_path: Path) -> None:
    original, stamp = tmp_path / "bus.badger.json", FileStamp.of(b"what was read")
    mine = write_recovery(tmp_path, demo_vehicle(), original, stamp)
    assert find_recoveries(tmp_path) == []  # this process is at work
    subprocess.run([sys.executable, "-c", ELSEWHERE, str(tmp_path)], check=True)
    recoveries = find_recoveries(tmp_path)
    assert [(r.vehicle, r.original, r.stamp) for r in recoveries] == [(demo_vehicle(), None, None)]
    # The number of a process may be given out again: then the start time tells them apart.
    mine.write_text(mine.read_text().replace('"owner_started": "', '"owner_started": "1'))
    assert len(find_recoveries(tmp_path)) == 2
    discard_recovery(recoveries[0].file)
    assert [(r.original, r.stamp) for r in find_recoveries(tmp_path)] == [(original, stamp)]


def test_copies_are_for_nobody_elses_eyes(tmp_path: Path) -> None:
    folder = tmp_path / "state" / "recovery"
    folder.mkdir(parents=True, mode=0o755)
    copy = write_recovery(folder, demo_vehicle(), None)
    assert stat.S_IMODE(copy.stat().st_mode) == 0o600
    assert stat.S_IMODE(folder.stat().st_mode) == 0o700


@pytest.mark.parametrize(
    "damage",
    [
        "{ damaged",
        "[" * 100_000,
        '{"owner": 1e999}',
        "\ud800".encode("utf-8", "surrogatepass"),
        "[]",
        "null",
        '{"owner": 1, "owner_started": "x", "original": null, "written": 3}',
        '{"owner": 99999999, "owner_started": "1", "original": "\\u0000", "written": '
        '"2026-01-01T00:00:00", "document": {}}',
    ],
)
def test_one_damaged_copy_does_not_keep_the_others_from_being_offered(
    tmp_path: Path, damage: str | bytes
) -> None:
    subprocess.run([sys.executable, "-c", ELSEWHERE, str(tmp_path)], check=True)
    bad = tmp_path / "0-0.recovery.json"
    bad.write_bytes(damage if isinstance(damage, bytes) else damage.encode())
    os.mkfifo(tmp_path / "1-1.recovery.json")
    (tmp_path / "2-2.recovery.json").mkdir()
    assert [r.vehicle for r in find_recoveries(tmp_path)] == [demo_vehicle()]


def test_a_copy_of_a_damaged_document_is_passed_over(tmp_path: Path) -> None:
    subprocess.run([sys.executable, "-c", ELSEWHERE, str(tmp_path)], check=True)
    (whole,) = tmp_path.glob("*.recovery.json")
    body = json.loads(whole.read_text())
    body["document"]["vehicle"]["name"] = 7
    (tmp_path / "3-3.recovery.json").write_text(json.dumps(body))
    assert [r.file for r in find_recoveries(tmp_path)] == [whole]

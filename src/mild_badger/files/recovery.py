"""Recovery copies: what a program that did not end well leaves for the next start."""

import contextlib
import json
import os
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from pydantic import AwareDatetime, BaseModel, ConfigDict, ValidationError

from mild_badger.core.errors import BadgerError, FileAccessError
from mild_badger.core.json_text import parse_json
from mild_badger.core.layout.old_part_keys import with_part_ids
from mild_badger.core.message import say
from mild_badger.core.vehicle.codec import decode_data, encode
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.files.reader import FileStamp, read_file, reason, shown
from mild_badger.files.writer import process_started, write_file

__all__ = ["Recovery", "discard_recovery", "find_recoveries", "write_recovery"]


@dataclass(frozen=True)
class Recovery:
    """What was left behind by a program that did not end well."""

    file: Path
    original: Path | None
    stamp: FileStamp | None
    written: datetime
    vehicle: Vehicle


class _RecoveryFile(BaseModel):
    """A recovery copy as it stands on disk."""

    model_config = ConfigDict(strict=False, allow_inf_nan=False)

    owner: int
    owner_started: str | None
    original: str | None
    original_size: int | None = None
    original_digest: str | None = None
    written: AwareDatetime
    document: dict[str, Any]


def write_recovery(
    folder: Path, vehicle: Vehicle, original: Path | None, stamp: FileStamp | None = None
) -> Path:
    """Keep a recovery copy of this process's document and return where it is.

    ``stamp`` is what the original was when it was read or written last.

    Raises
    ------
    FileAccessError
        The copy could not be written.
    """
    pid = os.getpid()
    began = process_started(pid)
    file = folder / f"{pid}-{began or 0}.recovery.json"
    body = {
        "owner": pid,
        "owner_started": began,
        "original": str(original) if original else None,
        "original_size": stamp.size if stamp else None,
        "original_digest": stamp.digest if stamp else None,
        "written": datetime.now(UTC).isoformat(timespec="seconds"),
        "document": json.loads(encode(vehicle)),
    }
    try:
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        folder.chmod(0o700)
    except OSError as error:
        raise FileAccessError(
            say("files.cannot-make", folder=shown(folder), reason=reason(error))
        ) from error
    write_file(file, json.dumps(body, ensure_ascii=False).encode(), private=True)
    return file


def find_recoveries(folder: Path) -> list[Recovery]:
    """List the copies whose program is gone, newest first; unreadable ones are passed over."""
    recoveries = []
    for file in sorted(folder.glob("*.recovery.json")):
        # A damaged copy must not keep the others from being offered.
        with contextlib.suppress(BadgerError, ValidationError):
            body = _RecoveryFile.model_validate(parse_json(read_file(file)))
            if process_started(body.owner) == body.owner_started:
                continue  # its program is still at work
            recoveries.append(_recovery(file, body))
    return sorted(recoveries, key=lambda recovery: recovery.written, reverse=True)


def _recovery(file: Path, body: _RecoveryFile) -> Recovery:
    known = body.original_size is not None and body.original_digest is not None
    return Recovery(
        file,
        original=Path(body.original) if body.original else None,
        stamp=FileStamp(body.original_size or 0, body.original_digest or "") if known else None,
        written=body.written,
        vehicle=with_part_ids(decode_data(body.document)),
    )


def discard_recovery(file: Path) -> None:
    """Remove a recovery copy that is no longer wanted."""
    with contextlib.suppress(OSError):
        file.unlink()

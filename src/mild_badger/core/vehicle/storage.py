"""Files on disk: atomic save with one backup, and recovery copies for after a crash."""

import contextlib
import errno
import json
import os
import tempfile
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from mild_badger.core.errors import DocumentError, FileAccessError
from mild_badger.core.vehicle.codec import decode, encode
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "SUFFIX",
    "Recovery",
    "discard_recovery",
    "find_recoveries",
    "load",
    "read_text",
    "save",
    "write_atomically",
    "write_recovery",
]

SUFFIX = ".badger.json"
LARGEST_FILE_BYTES = 20_000_000


def load(path: Path) -> Vehicle:
    """Read a vehicle file.

    Raises
    ------
    FileAccessError
        The file is not there or may not be read.
    DocumentError
        Its content cannot be used.
    """
    try:
        if path.stat().st_size > LARGEST_FILE_BYTES:
            raise DocumentError(
                f"{path.name}: {path.stat().st_size:,} bytes is far more than a vehicle file "
                "holds. Choose a file that the program saved."
            )
        data = path.read_bytes()
    except OSError as error:
        raise FileAccessError(f"Cannot read {path}: {_reason(error)}") from error
    try:
        return decode(data)
    except DocumentError as error:
        raise DocumentError(f"{path.name}: {error}") from error


def read_text(path: Path) -> str:
    """Read a small text file, as a table from a spreadsheet.

    Raises
    ------
    FileAccessError
        The file cannot be read, or is no text.
    """
    try:
        data = path.read_bytes()[:LARGEST_FILE_BYTES]
    except OSError as error:
        raise FileAccessError(f"Cannot read {path}: {_reason(error)}") from error
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise FileAccessError(
            f"{path.name}: not UTF-8 text. Save it from the spreadsheet as CSV (UTF-8)."
        ) from error


def save(vehicle: Vehicle, path: Path) -> None:
    """Write a vehicle file; the version before it stays beside it as ``*.bak``.

    Raises
    ------
    FileAccessError
        The file could not be written; what was there before is untouched.
    """
    write_atomically(path, encode(vehicle).encode(), backup=True)


def write_atomically(path: Path, data: bytes, *, backup: bool = False) -> None:
    """Write a whole file or none of it.

    Raises
    ------
    FileAccessError
        Nothing was written; an older file is as it was.
    """
    target = path.resolve() if path.is_symlink() else path
    scratch: str | None = None
    try:
        handle, scratch = tempfile.mkstemp(prefix=f".{target.name[:80]}.", dir=target.parent)
        with os.fdopen(handle, "wb") as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
        os.chmod(scratch, _mode_of(target))
        if backup and target.exists():
            _copy_aside(target)
        os.replace(scratch, target)
    except OSError as error:
        if scratch is not None:
            with contextlib.suppress(OSError):
                os.unlink(scratch)
        raise FileAccessError(f"Cannot write {path}: {_reason(error)}") from error


@dataclass(frozen=True)
class Recovery:
    """What was left behind by a program that did not end well."""

    file: Path
    original: Path | None
    written: datetime
    vehicle: Vehicle


def write_recovery(folder: Path, vehicle: Vehicle, original: Path | None) -> Path:
    """Keep a recovery copy of this process's document and return where it is.

    Raises
    ------
    FileAccessError
        The copy could not be written.
    """
    file = folder / f"{os.getpid()}.recovery.json"
    body = {
        "owner": os.getpid(),
        "owner_started": _started(os.getpid()),
        "original": str(original) if original else None,
        "written": datetime.now(UTC).isoformat(timespec="seconds"),
        "document": json.loads(encode(vehicle)),
    }
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileAccessError(f"Cannot make {folder}: {_reason(error)}") from error
    write_atomically(file, json.dumps(body).encode())
    return file


def find_recoveries(folder: Path) -> list[Recovery]:
    """List the copies whose program is gone, newest first; unreadable ones are passed over."""
    found = []
    for file in sorted(folder.glob("*.recovery.json")):
        with contextlib.suppress(OSError, ValueError, KeyError, TypeError):
            body = json.loads(file.read_text(encoding="utf-8"))
            if _started(int(body["owner"])) == body["owner_started"]:
                continue  # its program is still at work
            found.append(
                Recovery(
                    file=file,
                    original=Path(body["original"]) if body["original"] else None,
                    written=datetime.fromisoformat(body["written"]),
                    vehicle=decode(json.dumps(body["document"])),
                )
            )
    return sorted(found, key=lambda recovery: recovery.written, reverse=True)


def discard_recovery(file: Path) -> None:
    """Remove a recovery copy that is no longer wanted."""
    with contextlib.suppress(OSError):
        file.unlink()


def _copy_aside(target: Path) -> None:
    backup = target.with_name(target.name + ".bak")
    with contextlib.suppress(FileNotFoundError):
        backup.unlink()
    try:
        os.link(target, backup)
    except OSError:  # a file system without hard links
        backup.write_bytes(target.read_bytes())


def _mode_of(target: Path) -> int:
    with contextlib.suppress(OSError):
        return target.stat().st_mode & 0o777
    return 0o644


def _started(process: int) -> str | None:
    """Tell when a process began, so that a number used again is not taken for the same one."""
    try:
        stat = Path(f"/proc/{process}/stat").read_text(encoding="utf-8", errors="replace")
    except OSError:
        return None
    return stat.rpartition(")")[2].split()[19]  # field 22 of proc(5), after the command's name


def _reason(error: OSError) -> str:
    remedies = {
        errno.ENOSPC: "the disk is full. Free some space or save elsewhere.",
        errno.EDQUOT: "your disk quota is used up. Free some space or save elsewhere.",
        errno.EROFS: "that place is read-only. Save elsewhere.",
        errno.EACCES: "you may not do that there. Check the permissions or choose another place.",
        errno.EPERM: "you may not do that there. Check the permissions or choose another place.",
        errno.ENOENT: "there is no such file or folder. Check the name.",
        errno.EISDIR: "that is a folder. Choose a file.",
        errno.ENOTDIR: "part of that path is not a folder. Check the name.",
        errno.ENAMETOOLONG: "the name is too long. Choose a shorter one.",
    }
    return remedies.get(error.errno or 0, f"{error.strerror or error}.")

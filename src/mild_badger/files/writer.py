"""The one writer: whole files or nothing, private where asked, aware of changes by others."""

import contextlib
import os
import re
import secrets
import stat
from pathlib import Path

from mild_badger.core.errors import FileAccessError
from mild_badger.core.message import say
from mild_badger.files.reader import LARGEST_FILE_BYTES, FileStamp, read_file, reason, shown

__all__ = ["FileChangedError", "check_unchanged", "process_started", "write_file"]

_SCRATCH = re.compile(r"\.(?P<name>.+)\.(?P<pid>\d+)-(?P<began>\d+)-[0-9a-f]{8}\.part")


class FileChangedError(FileAccessError):
    """The file is no longer what was read: somebody else wrote it since."""


def check_unchanged(path: Path, before: FileStamp | None) -> None:
    """Compare a file with what it was; a file that is gone is no change, as nothing is lost.

    Raises
    ------
    FileChangedError
        Its content is another one; or there is a file where there was none (``before`` None).
    FileAccessError
        It cannot be read.
    """
    try:
        size = os.stat(path).st_size
    except OSError:
        return
    if before is None or size != before.size or FileStamp.of(read_file(path)) != before:
        raise FileChangedError(
            say("files.was-changed-by-another-program-or-window", path=shown(path))
        )


def write_file(
    path: Path, data: bytes, *, backup: bool = False, private: bool = False
) -> FileStamp:
    """Write a whole file or none of it.

    Parameters
    ----------
    backup
        Keep what was there before beside it, as ``*.bak``.
    private
        Let nobody else read it; otherwise the mode of the file that was there is kept, and a new
        one follows the umask.

    Raises
    ------
    FileAccessError
        Nothing was written; an older file is as it was.
    """
    if len(data) > LARGEST_FILE_BYTES:
        raise FileAccessError(
            say(
                "files.would-hold-million-bytes-more-than-the-that",
                path=shown(path),
                count_of_data=len(data) / 1000000.0,
                largest_file_bytes=LARGEST_FILE_BYTES // 1000000,
            )
        )
    scratch: Path | None = None
    try:
        target = Path(os.path.realpath(path)) if path.is_symlink() else path
        mode = _mode_of(target)
        scratch = _scratch_beside(target)
        make = os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC | os.O_NOFOLLOW
        handle = os.open(scratch, make, 0o600 if private else 0o666)
        with os.fdopen(handle, "wb") as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
        if mode is not None and not private:
            os.chmod(scratch, mode)
        if backup and mode is not None:
            _copy_aside(target)
        os.replace(scratch, target)
    except FileAccessError:
        raise
    except (OSError, ValueError) as error:
        if scratch is not None:
            with contextlib.suppress(OSError):
                scratch.unlink()
        raise FileAccessError(
            say("files.cannot-write", path=shown(path), reason=reason(error))
        ) from error
    _sync_folder(target.parent)
    _sweep(target)
    return FileStamp.of(data)


def process_started(process: int) -> str | None:
    """Tell when a process began, so that a number used again is not taken for the same one."""
    try:
        state = Path(f"/proc/{process}/stat").read_text(encoding="utf-8", errors="replace")
    except OSError:
        return None
    return state.rpartition(")")[2].split()[19]  # field 22 of proc(5), after the command's name


def _mode_of(target: Path) -> int | None:
    """Permissions of the file that is there; None where there is none."""
    try:
        state = os.stat(target)
    except FileNotFoundError:
        return None
    if stat.S_ISDIR(state.st_mode):
        raise FileAccessError(
            say("files.cannot-write-that-is-a-folder-choose-a-file", target=shown(target))
        )
    if not stat.S_ISREG(state.st_mode):
        raise FileAccessError(
            say("files.cannot-write-that-is-a-device-or-a-pipe", target=shown(target))
        )
    return stat.S_IMODE(state.st_mode)


def _scratch_beside(target: Path) -> Path:
    pid = os.getpid()
    tail = f".{pid}-{process_started(pid) or 0}-{secrets.token_hex(4)}.part"
    # A file name holds 255 bytes; what is left of a long one is enough to know it again.
    name = os.fsdecode(os.fsencode(target.name)[: 254 - len(tail)])
    return target.with_name(f".{name}{tail}")


def _copy_aside(target: Path) -> None:
    """Put the file that is there in the backup's place in one step, so that one is always there."""
    backup = target.with_name(target.name + ".bak")
    scratch = _scratch_beside(backup)
    try:
        try:
            os.link(target, scratch)
        except OSError:  # a file system without hard links
            scratch.write_bytes(target.read_bytes())
        os.replace(scratch, backup)
    finally:
        with contextlib.suppress(OSError):  # it stays where both are the same file already
            scratch.unlink()


def _sync_folder(folder: Path) -> None:
    with contextlib.suppress(OSError):  # some file systems cannot; the file itself is safe
        handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _sweep(target: Path) -> None:
    """Take away what killed saves of this file left behind."""
    with contextlib.suppress(OSError):
        for entry in os.scandir(target.parent):
            matched = _SCRATCH.fullmatch(entry.name)
            if matched is None or matched["name"] not in (target.name, f"{target.name}.bak"):
                continue
            if process_started(int(matched["pid"])) != matched["began"]:
                with contextlib.suppress(OSError):
                    os.unlink(entry.path)

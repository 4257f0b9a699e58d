"""The one reader: regular files only, bounded, UTF-8; whatever is wrong is one short sentence."""

import errno
import os
import stat
from dataclasses import dataclass
from hashlib import sha256
from pathlib import Path

from mild_badger.core.errors import FileAccessError
from mild_badger.core.message import say

__all__ = ["LARGEST_FILE_BYTES", "FileStamp", "read_file", "read_text", "reason", "shown"]

LARGEST_FILE_BYTES = 20_000_000
"""One limit for what is written and what is read, so that whatever was saved can be opened."""
LONGEST_NAME = 80


@dataclass(frozen=True)
class FileStamp:
    """What a file was when it was read or written, to notice changes by others."""

    size: int
    digest: str

    @classmethod
    def of(cls, data: bytes) -> "FileStamp":
        """Take the stamp of a file's content."""
        return cls(len(data), sha256(data).hexdigest())


def shown(path: Path) -> str:
    """Give a path fit for a sentence: one line, its end where it is long."""
    text = "".join(c if c.isprintable() else "?" for c in str(path))
    return text if len(text) <= LONGEST_NAME else f"…{text[1 - LONGEST_NAME :]}"


def read_file(path: Path, *, most: int = LARGEST_FILE_BYTES) -> bytes:
    """Read a regular file whole.

    Raises
    ------
    FileAccessError
        It is not there, may not be read, is a folder, device, pipe or socket, or holds more than
        ``most`` bytes.
    """
    try:
        # Not waiting: opening a pipe nobody writes to would last for ever.
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_NOCTTY | os.O_CLOEXEC)
    except (OSError, ValueError) as error:
        raise FileAccessError(
            say("files.cannot-read", path=shown(path), reason=reason(error))
        ) from error
    kind = os.fstat(handle).st_mode
    if not stat.S_ISREG(kind):
        os.close(handle)
        what = (
            say("files.is-a-folder") if stat.S_ISDIR(kind) else say("files.is-a-device-or-a-pipe")
        )
        raise FileAccessError(
            say("files.cannot-read-that-choose-a-file-on-disk", path=shown(path), what=what)
        )
    with os.fdopen(handle, "rb") as stream:
        try:
            data = stream.read(most + 1) if os.fstat(stream.fileno()).st_size <= most else None
        except OSError as error:
            raise FileAccessError(
                say("files.cannot-read", path=shown(path), reason=reason(error))
            ) from error
    if data is None or len(data) > most:
        raise FileAccessError(
            say(
                "files.holds-more-than-million-bytes-far-more-than",
                path=shown(path),
                most=most // 1000000,
            )
        )
    return data


def read_text(path: Path) -> str:
    """Read a text file in UTF-8, with or without a byte order mark.

    Raises
    ------
    FileAccessError
        The file cannot be read, or is no text.
    """
    try:
        return read_file(path).decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise FileAccessError(
            say("files.is-not-utf-8-text-save-it-from-the", path=shown(path))
        ) from error


def reason(error: Exception) -> str:
    """Say why a file could not be used, and what to do."""
    remedies = {
        errno.ENOSPC: say("files.the-disk-is-full-free-some-space-or-save"),
        errno.EDQUOT: say("files.your-disk-quota-is-used-up-free-some-space"),
        errno.EROFS: say("files.that-place-is-read-only-save-elsewhere"),
        errno.EACCES: say("files.you-may-not-do-that-there-check-the"),
        errno.EPERM: say("files.you-may-not-do-that-there-check-the"),
        errno.ENOENT: say("files.there-is-no-such-file-or-folder-check-the"),
        errno.EISDIR: say("files.that-is-a-folder-choose-a-file"),
        errno.ENOTDIR: say("files.part-of-that-path-is-not-a-folder-check-the"),
        errno.ENAMETOOLONG: say("files.the-name-is-too-long-choose-a-shorter-one"),
        errno.ELOOP: say("files.its-links-lead-round-in-a-circle-choose-the"),
        errno.ENXIO: say("files.that-is-a-device-or-a-pipe-not-a-file-choose"),
        errno.ENODEV: say("files.that-is-a-device-not-a-file-choose-a-file-on"),
    }
    if not isinstance(error, OSError):
        return say("files.that-is-no-usable-file-name")
    return remedies.get(error.errno or 0, f"{error.strerror or 'it failed'}.")

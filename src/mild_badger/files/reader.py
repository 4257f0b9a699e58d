"""The one reader: regular files only, bounded, UTF-8; whatever is wrong is one short sentence."""

import errno
import os
import stat
from dataclasses import dataclass
from hashlib import sha256
from pathlib import Path

from mild_badger.core.errors import FileAccessError

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
        raise FileAccessError(f"Cannot read {shown(path)}: {reason(error)}") from error
    kind = os.fstat(handle).st_mode
    if not stat.S_ISREG(kind):
        os.close(handle)
        what = "is a folder" if stat.S_ISDIR(kind) else "is a device or a pipe"
        raise FileAccessError(f"Cannot read {shown(path)}: that {what}. Choose a file on disk.")
    with os.fdopen(handle, "rb") as stream:
        try:
            data = stream.read(most + 1) if os.fstat(stream.fileno()).st_size <= most else None
        except OSError as error:
            raise FileAccessError(f"Cannot read {shown(path)}: {reason(error)}") from error
    if data is None or len(data) > most:
        raise FileAccessError(
            f"{shown(path)} holds more than {most // 1_000_000} million bytes, far more than this "
            "program writes. Choose another file."
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
            f"{shown(path)} is not UTF-8 text. Save it from the spreadsheet as CSV (UTF-8)."
        ) from error


def reason(error: Exception) -> str:
    """Say why a file could not be used, and what to do."""
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
        errno.ELOOP: "its links lead round in a circle. Choose the file itself.",
        errno.ENXIO: "that is a device or a pipe, not a file. Choose a file on disk.",
        errno.ENODEV: "that is a device, not a file. Choose a file on disk.",
    }
    if not isinstance(error, OSError):
        return "that is no usable file name."
    return remedies.get(error.errno or 0, f"{error.strerror or 'it failed'}.")

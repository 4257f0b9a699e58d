"""Vehicle files: loading, and saving with the version before kept as a backup."""

from pathlib import Path

from mild_badger.core.errors import DocumentError
from mild_badger.core.layout.old_part_keys import with_part_ids
from mild_badger.core.vehicle.codec import decode, encode
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.files.reader import FileStamp, read_file, shown
from mild_badger.files.writer import check_unchanged, write_file

__all__ = ["SUFFIX", "load", "open_vehicle", "save", "save_unchanged"]

SUFFIX = ".badger.json"


def load(path: Path) -> Vehicle:
    """Read a vehicle file; see :func:`open_vehicle`."""
    return open_vehicle(path)[0]


def open_vehicle(path: Path) -> tuple[Vehicle, FileStamp]:
    """Read a vehicle file, and note what it was.

    Raises
    ------
    FileAccessError
        The file is not there or may not be read.
    DocumentError
        Its content cannot be used.
    """
    data = read_file(path)
    try:
        return with_part_ids(decode(data)), FileStamp.of(data)
    except DocumentError as error:
        raise DocumentError(f"{shown(Path(path.name))}: {error}") from error


def save(vehicle: Vehicle, path: Path) -> FileStamp:
    """Write a vehicle file; the version before it stays beside it as ``*.bak``.

    Raises
    ------
    FileAccessError
        The file could not be written; what was there before is untouched.
    """
    return write_file(path, encode(vehicle).encode(), backup=True)


def save_unchanged(vehicle: Vehicle, path: Path, before: FileStamp | None) -> FileStamp:
    """Write a vehicle file as :func:`save` does, unless somebody else wrote it meanwhile.

    Raises
    ------
    FileChangedError
        The file is no longer what was read (``before``).
    FileAccessError
        The file could not be written; what was there before is untouched.
    """
    check_unchanged(path, before)
    return save(vehicle, path)

"""Kit files of the builder's own."""

from pathlib import Path

from mild_badger.core.kit.catalogue import KIT_SUFFIX, read_kit, shipped_kit, shipped_kits
from mild_badger.core.vehicle.kit import Kit
from mild_badger.files.reader import read_file, shown

__all__ = ["kits_in", "load_kit"]


def kits_in(folder: Path) -> tuple[Path, ...]:
    """List the kit files of a folder, by name; none where there is no such folder."""
    if not folder.is_dir():
        return ()
    return tuple(sorted(folder.glob(f"*{KIT_SUFFIX}")))


def load_kit(name_or_path: str) -> Kit:
    """Load a shipped kit by name, or a kit file by its path.

    Raises
    ------
    KitError
        No such kit, or a file whose content cannot be used.
    FileAccessError
        The file cannot be read.
    """
    path = Path(name_or_path)
    plain = "/" not in name_or_path and not name_or_path.endswith(".json")
    if name_or_path in shipped_kits() or (plain and not path.exists()):
        return shipped_kit(name_or_path)
    return read_kit(read_file(path), source=shown(Path(path.name)))

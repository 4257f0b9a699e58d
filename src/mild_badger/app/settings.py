"""What the program remembers between runs: recent files and the sheet; kept as a small JSON."""

import contextlib
import json
from pathlib import Path
from typing import Any

import platformdirs
from pydantic import ValidationError

from mild_badger.core.errors import BadgerError
from mild_badger.core.json_text import parse_json
from mild_badger.core.vehicle.units import UnitSettings
from mild_badger.files.reader import read_file
from mild_badger.files.writer import write_file

__all__ = ["Settings", "own_kits_folder", "recovery_folder"]

MOST_RECENT = 8


def recovery_folder() -> Path:
    """Where recovery copies are kept."""
    return platformdirs.user_state_path("mild-badger") / "recovery"


def own_kits_folder() -> Path:
    """Where the builder's own kits are kept."""
    return platformdirs.user_data_path("mild-badger") / "kits"


class Settings:
    """Settings that are read leniently and never stand in the way of starting."""

    def __init__(self, file: Path | None = None) -> None:
        self._file = file or platformdirs.user_config_path("mild-badger") / "settings.json"
        self._data: dict[str, Any] = {}
        with contextlib.suppress(BadgerError):
            loaded = parse_json(read_file(self._file))
            if isinstance(loaded, dict):
                self._data = loaded

    @property
    def dark(self) -> bool:
        """Whether the dark sheet is laid out."""
        return self._data.get("dark") is True

    @dark.setter
    def dark(self, value: bool) -> None:
        self._put("dark", value)

    @property
    def units(self) -> UnitSettings | None:
        """The units chosen last, which new vehicles begin with; None while none were."""
        try:
            return UnitSettings.model_validate(self._data.get("units"))
        except ValidationError:
            return None

    @units.setter
    def units(self, value: UnitSettings) -> None:
        self._put("units", value.model_dump())

    @property
    def recent(self) -> list[Path]:
        """Files opened or saved last, newest first."""
        names = self._data.get("recent")
        return (
            [Path(item) for item in names if isinstance(item, str)]
            if isinstance(names, list)
            else []
        )

    def opened(self, path: Path) -> None:
        """Put a file first among the recent ones."""
        others = [str(p) for p in self.recent if p != path]
        self._put("recent", [str(path), *others][:MOST_RECENT])

    def _put(self, key: str, value: object) -> None:
        self._data[key] = value
        with contextlib.suppress(OSError):
            self._file.parent.mkdir(parents=True, exist_ok=True)
            write_file(self._file, json.dumps(self._data, indent=1).encode())

"""The one undo command: an edit with the vehicle before and after it."""

from typing import Protocol

from PyQt6.QtGui import QUndoCommand

from mild_badger.app.shown import shown
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["EditCommand"]


class Shows(Protocol):
    """What puts a vehicle on all screens."""

    def show(self, vehicle: Vehicle) -> None:
        """Put it there."""


class EditCommand(QUndoCommand):
    """Goes from one vehicle to the next and back."""

    def __init__(
        self, session: Shows, label: str, before: Vehicle, after: Vehicle, merge: str = ""
    ) -> None:
        super().__init__(shown(label))
        self._session, self._before, self._after, self._merge = session, before, after, merge

    def redo(self) -> None:
        self._session.show(self._after)

    def undo(self) -> None:
        self._session.show(self._before)

    def id(self) -> int:
        return hash(self._merge) & 0x3FFFFFFF if self._merge else -1

    def mergeWith(self, other: QUndoCommand | None) -> bool:
        if not isinstance(other, EditCommand) or other._merge != self._merge:
            return False
        self._after = other._after
        return True

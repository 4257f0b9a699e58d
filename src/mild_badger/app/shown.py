"""The last step before the eye: every text on screen passes here, in the units that are chosen.

Here the made-up language of ``text.pseudo`` is put on, too.

One program shows one vehicle, so what units are in force is known to the whole of it, as its style
is; core and text are given them.
"""

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QLabel, QPushButton

from mild_badger.core.figures import METRIC, UnitChoice, write
from mild_badger.text.pseudo import in_pseudo, pseudo

__all__ = ["Button", "Label", "Painter", "shown", "units_in_force", "use_units"]

_force = [METRIC]
_PSEUDO = in_pseudo()


def use_units(choice: UnitChoice) -> bool:
    """Write figures in these units from now on; tell whether they are others than before."""
    if choice == _force[0]:
        return False
    _force[0] = choice
    return True


def units_in_force() -> UnitChoice:
    """Give the units that figures are written in."""
    return _force[0]


def shown(text: str) -> str:
    """Write a text as it is seen."""
    written = write(text, _force[0])
    return pseudo(written) if _PSEUDO else written


class Label(QLabel):
    """A label whose figures stand in the units in force."""

    def __init__(self, text: str = "") -> None:
        super().__init__(shown(text))

    def setText(self, text: str | None) -> None:
        super().setText(shown(text or ""))


class Button(QPushButton):
    """A push button whose words pass the last step too."""

    def __init__(self, text: str) -> None:
        super().__init__(shown(text))

    def setText(self, text: str | None) -> None:
        super().setText(shown(text or ""))


class Painter(QPainter):
    """A painter that writes figures in the units in force."""

    def drawText(self, *args: object) -> QRectF | None:  # type: ignore[override]
        """Draw a text, which stands last or is the only one, as Qt's own."""
        written = [shown(arg) if isinstance(arg, str) else arg for arg in args]
        drawn: QRectF | None = super().drawText(*written)  # type: ignore[call-overload]
        return drawn

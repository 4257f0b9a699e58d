"""The last step before the eye: every text on screen passes here, in the units that are chosen.

Here the made-up language of ``text.pseudo`` is put on, too.

One program shows one vehicle, so what units are in force is known to the whole of it, as its style
is; core and text are given them.
"""

from math import inf

from PyQt6.QtCore import QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QFontMetrics, QPainter
from PyQt6.QtWidgets import QLabel, QPushButton, QWidget

from mild_badger.core.figures import METRIC, UnitChoice, write
from mild_badger.text.pseudo import in_pseudo, pseudo

__all__ = ["Button", "Label", "Painter", "shown", "units_in_force", "use_units"]

LEAST_PX = 8
"""Words are not made smaller than this to fit."""
EDGE_PX, SLACK_PX = 2.0, 1.0
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
    """A painter that writes figures in the units in force, and no words past their room."""

    def drawText(self, *args: object) -> QRectF | None:  # type: ignore[override]
        """Draw a text, which stands last or is the only one, as Qt's own.

        Words that are wider than their rectangle, or run past the right edge of what is painted
        on, are moved to the left, written smaller, and at the last cut off with an ellipsis.
        """
        written = [shown(arg) if isinstance(arg, str) else arg for arg in args]
        font = self.font()
        drawn: QRectF | None = super().drawText(*self._fitted(written))  # type: ignore[call-overload]
        self.setFont(font)
        return drawn

    def _fitted(self, args: list[object]) -> list[object]:
        text = str(args[-1])
        wide = _width(self.fontMetrics(), text)
        room = self._room(args, wide)
        if wide <= room + SLACK_PX:
            return args
        font = self.font()
        size = font.pixelSize() if font.pixelSize() > 0 else self.fontInfo().pixelSize()
        font.setPixelSize(max(int(size * room / wide), min(LEAST_PX, size)))
        self.setFont(font)
        metrics = self.fontMetrics()
        if _width(metrics, text) > room + SLACK_PX:
            cut = Qt.TextElideMode.ElideRight
            text = "\n".join(metrics.elidedText(line, cut, int(room)) for line in text.split("\n"))
        return [*args[:-1], text]

    def _room(self, args: list[object], wide: float) -> float:
        """Tell how wide a text may be; one that starts at a point is moved to the left for it."""
        first, device, turned = args[0], self.device(), self.transform()
        if isinstance(first, QRectF | QRect):
            flags = next((arg for arg in args[1:] if isinstance(arg, int)), 0)
            return inf if flags & Qt.TextFlag.TextWordWrap else float(first.width())
        if turned.m12() or turned.m11() <= 0 or not isinstance(device, QWidget):
            return inf
        if isinstance(first, QPointF):
            point = QPointF(first)
            edge = (device.width() - EDGE_PX - turned.dx()) / turned.m11()
            start = (EDGE_PX - turned.dx()) / turned.m11()
            if point.x() + wide > edge:
                left = max(min(point.x(), edge - wide), min(start, point.x()))
                args[0] = point = QPointF(left, point.y())
            return edge - point.x()
        return inf


def _width(metrics: QFontMetrics, text: str) -> int:
    return max(metrics.horizontalAdvance(line) for line in text.split("\n"))

"""A button and a slider that turn a picture by hand or by themselves."""

from collections.abc import Callable

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QSlider, QWidget

from mild_badger.app.drawing.widgets import button
from mild_badger.app.shown import shown
from mild_badger.core.message import say

__all__ = ["TurnBar"]

FRAME_MS = 16
SLOWEST_SHOWN, FASTEST_SHOWN = 4.0, 40.0
"""Turns a minute between which the picture turns, however fast the shaft is."""


class TurnBar(QWidget):
    """Turns over ``top`` degrees; ``rpm`` gives a shaft's speed with its sense, None at rest.

    Signals
    -------
    turned : the angle in degrees
    """

    turned = pyqtSignal(float)

    def __init__(self, top: int, words: str, rpm: Callable[[], float | None]) -> None:
        super().__init__()
        self._top, self._rpm, self.angle = top, rpm, 0.0
        self._timer = QTimer(self)
        self._timer.setInterval(FRAME_MS)
        self._timer.timeout.connect(self._tick)
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        self.run = button(say("tab-machine.turn"), self._run)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, top - 1)
        self.slider.setAccessibleName(shown(words))
        self.slider.valueChanged.connect(self._go)
        line.addWidget(self.run)
        line.addWidget(self.slider, 1)

    def _go(self, angle: float) -> None:
        self.angle = float(angle)
        self.turned.emit(self.angle)

    def _run(self) -> None:
        if self._timer.isActive():
            self._timer.stop()
        else:
            self._timer.start()
        self.run.setText(
            say("tab-machine.stop") if self._timer.isActive() else say("tab-machine.turn")
        )

    def _tick(self) -> None:
        """Turn on a little; the picture keeps the shaft's sense and its speed within sight."""
        if not self.isVisible():
            self._run()
            return
        rpm = self._rpm()
        if not rpm:
            return
        shown = min(max(abs(rpm) / 20, SLOWEST_SHOWN), FASTEST_SHOWN)
        step = shown * 6 * FRAME_MS / 1000 * (1 if rpm > 0 else -1)
        self._go((self.angle + step) % self._top)
        self.slider.blockSignals(True)
        self.slider.setValue(int(self.angle))
        self.slider.blockSignals(False)

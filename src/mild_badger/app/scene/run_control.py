"""A button and a slider that run a picture in space, from a crawl to the motor's own speed."""

from PyQt6.QtCore import QObject, Qt
from PyQt6.QtWidgets import QSlider, QWidget

from mild_badger.app.drawing.widgets import button, caption
from mild_badger.app.scene.space_view import SpaceView
from mild_badger.app.shown import shown
from mild_badger.core.message import say

__all__ = ["STEPS", "RunControl", "short_slider"]

SLOWEST, STEPS, SLIDER_PX = 0.002, 100, 84
"""The slowest share of the motor's own speed; the slider's steps and width."""


def short_slider(name: str, value: int, low: int = 0) -> QSlider:
    """Make a short slider with a name to read."""
    made = QSlider(Qt.Orientation.Horizontal)
    made.setRange(low, STEPS)
    made.setValue(value)
    made.setFixedWidth(SLIDER_PX)
    made.setAccessibleName(shown(name))
    made.setToolTip(shown(name))
    return made


class RunControl(QObject):
    """Runs a picture; ``working_rpm`` is the motor's own speed."""

    def __init__(self, view: SpaceView) -> None:
        super().__init__(view)
        self.view, self.working_rpm = view, 0.0
        self.run = button(say("scene.run"), self._run, "main")
        self.speed = short_slider(say("scene.speed-of-the-motor"), STEPS // 3)
        self.speed.valueChanged.connect(lambda _n: self._keep_running())
        view.bound.connect(self.stopped)
        view.left.connect(self.stopped)

    @property
    def widgets(self) -> tuple[QWidget, ...]:
        """All of it, in a row."""
        return (
            self.run,
            caption(say("scene.slow")),
            self.speed,
            caption(say("scene.true-speed")),
        )

    def enable(self, on: bool) -> None:
        """Let it be used, or not."""
        self.run.setEnabled(on)
        self.speed.setEnabled(on)

    def stopped(self) -> None:
        """Take note that the picture stands."""
        self.run.setText(shown(say("scene.run")))

    def _rpm(self) -> float:
        """Give the motor's speed as the slider has it, from a crawl to its own."""
        share = SLOWEST ** (1.0 - self.speed.value() / STEPS)
        return float(self.working_rpm * share)

    def _run(self) -> None:
        running = bool(self.view.rpm)
        self.view.run(0.0 if running else self._rpm())
        self.run.setText(shown(say("scene.run") if running else say("scene.stop")))

    def _keep_running(self) -> None:
        if self.view.rpm:
            self.view.run(self._rpm())

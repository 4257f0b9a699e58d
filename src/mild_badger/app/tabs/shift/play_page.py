"""The played run of shifts: start, stop, step through it, faster and slower."""

from PyQt6.QtCore import QElapsedTimer, Qt, QTimer
from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QSlider, QVBoxLayout, QWidget

from mild_badger.app.drawing.widgets import button, caption
from mild_badger.app.shown import shown
from mild_badger.app.tabs.shift.play_view import PlayView
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say
from mild_badger.core.shift.sequence import ShiftFrame, frame_at, play, usual_run
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import listed

__all__ = ["PlayPage"]

TICK_MS = 33
STEPS_A_SECOND = 100
"""Resolution of the slider."""


class PlayPage(QWidget):
    """One run, N 1 … n … 1 N, played at its own pace."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._frames: tuple[ShiftFrame, ...] = ()
        self._of: Vehicle | None = None
        self._clock = QElapsedTimer()
        self._timer = QTimer(self)
        self._timer.setInterval(TICK_MS)
        self._timer.timeout.connect(self._tick)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.view = PlayView(theme)
        column.addWidget(self.view, 1)
        row = QHBoxLayout()
        row.setSpacing(8)
        self.start = button(say("tab-shift.play"), self.toggle, "main")
        row.addWidget(self.start)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName(say("tab-shift.time-in-the-run"))
        self.slider.valueChanged.connect(self._moved)
        row.addWidget(self.slider, 1)
        self.pace = QComboBox()
        self.pace.setAccessibleName(say("tab-shift.pace"))
        for words, share in (
            (say("tab-shift.quarter-pace"), 0.25),
            (say("tab-shift.half-pace"), 0.5),
            (say("tab-shift.true-pace"), 1.0),
        ):
            self.pace.addItem(shown(words), share)
        self.pace.setCurrentIndex(1)
        row.addWidget(self.pace)
        column.addLayout(row)
        self.words = caption("", wrap=True)
        self.words.setAccessibleName(say("tab-shift.what-is-moving"))
        column.addWidget(self.words)

    @property
    def playing(self) -> bool:
        """Whether the run goes on by itself."""
        return self._timer.isActive()

    def toggle(self) -> None:
        """Start or stop; at the end it starts anew."""
        if self.playing:
            self.stop()
        elif self._frames:
            if self.slider.value() >= self.slider.maximum():
                self.slider.setValue(0)
            self._clock.start()
            self._timer.start()
            self.start.setText(say("tab-shift.stop"))

    def stop(self) -> None:
        """Stop where it is."""
        self._timer.stop()
        self.start.setText(say("tab-shift.play"))

    def hideEvent(self, event: QHideEvent | None) -> None:
        self.stop()
        super().hideEvent(event)

    def refresh(self, evaluation: Evaluation) -> None:
        """Take a vehicle's run; one that is on goes on where only the engaged gear changed."""
        self.view.show_evaluation(evaluation)
        if evaluation.vehicle != self._of:
            self.stop()
            self._of = evaluation.vehicle
            self._frames = play(evaluation.vehicle, usual_run(evaluation.vehicle))
            end = self._frames[-1].time_s if self._frames else 0.0
            self.slider.setRange(0, round(end * STEPS_A_SECOND))
            self.slider.setValue(0)
        self._moved()

    def _tick(self) -> None:
        passed = self._clock.restart() / 1000 * float(self.pace.currentData())
        self.slider.setValue(self.slider.value() + max(round(passed * STEPS_A_SECOND), 1))
        if self.slider.value() >= self.slider.maximum():
            self.stop()

    def _moved(self) -> None:
        vehicle = self._of
        if vehicle is None or not self._frames:
            self.view.show_frame(None)
            self.words.setText("")
            return
        frame = frame_at(self._frames, self.slider.value() / STEPS_A_SECOND)
        self.view.show_frame(frame)
        end = self._frames[-1].time_s
        inside = listed([vehicle.gear_name(gear) for gear in frame.gears])
        state = say("tab-shift.in", inside=inside) if inside else say("tab-shift.nothing-in")
        self.words.setText(
            say("tab-shift.s-of-s", time_s=frame.time_s, end=end, words=frame.words, state=state)
        )

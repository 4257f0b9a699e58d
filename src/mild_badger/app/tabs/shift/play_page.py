"""The played run of shifts in space: start, stop, step through it, faster and slower."""

from dataclasses import replace

from PyQt6.QtCore import QElapsedTimer, Qt, QTimer
from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QSlider, QVBoxLayout, QWidget

from mild_badger.app.drawing.widgets import button, caption
from mild_badger.app.scene.parts_canvas import WALLS
from mild_badger.app.scene.space_view import SpaceView
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.shift.hand_view import HandView
from mild_badger.app.tabs.shift.trace_view import TraceView
from mild_badger.app.theme.style import Theme
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.layout.reason import why_no_place
from mild_badger.core.message import say
from mild_badger.core.performance.power import body_torques
from mild_badger.core.scene.motion import roles_of, turns_of
from mild_badger.core.scene.run import output_spans, shift_at
from mild_badger.core.scene.stage import Stage, stage_of
from mild_badger.core.shift.sequence import PlayedRun, play, usual_run
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import listed

__all__ = ["PlayPage"]

TICK_MS = 33
STEPS_A_SECOND = 100
"""Resolution of the slider."""


class PlayPage(QWidget):
    """One run, N 1 … n … 1 N, played at its own pace: the hand, the box in space, the trace."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self._run: PlayedRun | None = None
        self._of: Vehicle | None = None
        self._stage: Stage | None = None
        self._stages: dict[str, Stage] = {}
        self._rpm = 0.0
        self._time = 0.0
        self._clock = QElapsedTimer()
        self._timer = QTimer(self)
        self._timer.setInterval(TICK_MS)
        self._timer.timeout.connect(self._tick)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        pictures = QHBoxLayout()
        pictures.setSpacing(6)
        self.view = HandView(theme)
        pictures.addWidget(self.view, 2)
        self.space = SpaceView(theme)
        self.space.by_page = True
        self.space.setMinimumSize(280, 140)
        self.space.hidden = WALLS
        self.space.chosen.connect(session.choose)
        self.space.choose(session.part)
        session.part_chosen.connect(self.space.choose)
        pictures.addWidget(self.space, 5)
        column.addLayout(pictures, 1)
        self.trace = TraceView(theme)
        self.trace.sought.connect(self.go_to)
        column.addWidget(self.trace)
        row = QHBoxLayout()
        row.setSpacing(8)
        self.start = button(say("tab-shift.play"), self.toggle, "main")
        row.addWidget(self.start)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName(say("tab-shift.time-in-the-run"))
        self.slider.valueChanged.connect(lambda value: self._moved(value / STEPS_A_SECOND))
        row.addWidget(self.slider, 1)
        self.pace = QComboBox()
        self.pace.setAccessibleName(say("tab-shift.pace"))
        for words, share in (
            (say("tab-shift.a-tenth-of-the-pace"), 0.1),
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

    @property
    def seconds(self) -> float:
        """How long the run takes."""
        return self._run.seconds if self._run is not None else 0.0

    def toggle(self) -> None:
        """Start or stop; at the end it starts anew."""
        if self.playing:
            self.stop()
        elif self._run is not None and self._run.frames:
            if self._time >= self.seconds:
                self.go_to(0.0)
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
        vehicle, rpm = evaluation.vehicle, evaluation.motor_rpm
        self.view.show_evaluation(evaluation)
        if vehicle != self._of or rpm != self._rpm:
            self.stop()
            self._of, self._rpm = vehicle, rpm
            self._run = play(vehicle, usual_run(vehicle))
            self.trace.show_run(evaluation, self._run, output_spans(vehicle, self._run, rpm))
            self._set_stage(evaluation)
            self.slider.setRange(0, round(self.seconds * STEPS_A_SECOND))
            self.go_to(0.0)
        self._show(0.0)

    def _set_stage(self, evaluation: Evaluation) -> None:
        """Put the box in neutral on the stage, where it has its place."""
        vehicle = evaluation.vehicle
        self.space.empty = why_no_place(vehicle)
        self._stages.clear()
        try:
            self._stage = stage_of(vehicle, None, self._rpm)
        except InputError as error:
            self._stage, self.space.empty = None, str(error)
        self.space.show_stage(evaluation, self._stage)

    def _stage_in(self, gear: str) -> Stage | None:
        """Give the box with a gear in, worked out when it is first in."""
        if self._stage is None or self._of is None:
            return None
        if gear not in self._stages:
            parts = self._stage.parts
            carrying = body_torques(self._of, gear, self._rpm)
            self._stages[gear] = replace(
                self._stage,
                turns=turns_of(self._of, parts, gear),
                roles=tuple(roles_of(self._of, parts, gear, carrying)),
            )
        return self._stages[gear]

    def go_to(self, time_s: float) -> None:
        """Stand at a time of the run."""
        before = self._time
        self._time = min(max(time_s, 0.0), self.seconds)
        self.slider.blockSignals(True)
        self.slider.setValue(round(self._time * STEPS_A_SECOND))
        self.slider.blockSignals(False)
        self._show(self._time - before)

    def _tick(self) -> None:
        passed = self._clock.restart() / 1000 * float(self.pace.currentData())
        self.go_to(self._time + passed)
        if self._time >= self.seconds:
            self.stop()

    def _moved(self, time_s: float) -> None:
        self.go_to(time_s)

    def _show(self, passed_s: float) -> None:
        """Show the instant, ``passed_s`` after what was shown before."""
        vehicle, run = self._of, self._run
        if vehicle is None or run is None or not run.frames:
            self.view.show_frame(None)
            self.words.setText("")
            return
        frame = run.at(self._time)
        self.view.show_frame(frame)
        self.trace.show_time(self._time)
        if self._stage is not None:
            driving = self._driving(frame.gears)
            self.space.stand(
                shift_at(vehicle, frame, self._stage.levers),
                None if driving is None else self._stage_in(driving),
                abs(passed_s),
                passed_s * self._rpm / 60.0,
            )
        inside = listed([vehicle.gear_name(gear) for gear in frame.gears])
        state = say("tab-shift.in", inside=inside) if inside else say("tab-shift.nothing-in")
        self.words.setText(
            say(
                "tab-shift.s-of-s",
                time_s=frame.time_s,
                end=self.seconds,
                words=frame.words,
                state=state,
            )
        )

    def _driving(self, gears: tuple[str, ...]) -> str | None:
        """Of the gears that are in, that which drives: with one-way dogs the faster."""
        speeds = {
            span.gears[0]: abs(span.rpm or 0.0)
            for span in self.trace.speeds
            if len(span.gears) == 1
        }
        return max(gears, key=lambda gear: speeds.get(gear, 0.0), default=None)

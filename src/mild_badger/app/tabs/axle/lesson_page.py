"""Lessons: a mechanism in space to be turned, held and tried, figures that follow, a question."""

from dataclasses import replace
from typing import Any

from PyQt6.QtCore import QElapsedTimer, Qt
from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from mild_badger.app.drawing.flow import Flow
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button, caption, fill
from mild_badger.app.scene.lesson_view import LessonView
from mild_badger.app.shown import shown
from mild_badger.app.tabs.axle.tyre_view import TyreView
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.lesson.catalogue import COURSES
from mild_badger.core.lesson.course import Course, Slider, Step
from mild_badger.core.lesson.state import Act, Doing, Setting
from mild_badger.core.lesson.tyres import tyre_lines
from mild_badger.core.message import say

__all__ = ["LessonPage"]

FIGURES_MS = 120
"""How often figures are written anew while something moves."""
ACTS: dict[Act, str] = {
    "turn": say("lesson.turn"),
    "hold left": say("lesson.hold-left"),
    "hold right": say("lesson.hold-right"),
    "corner": say("lesson.drive-a-corner"),
    "lift": say("lesson.lift-the-left-wheel"),
    "lock": say("lesson.close-the-lock"),
    "load": say("lesson.load-the-output"),
}
TYRES_PX = 196


class LessonPage(QWidget):
    """Steps above, the mechanism large, what to do below, figures and tyre lines beside."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._evaluation: Evaluation | None = None
        self._number = 0
        self._tried: set[str] = set()
        self.sliders: dict[str, QSlider] = {}
        self._knob_words: dict[str, tuple[Slider, QLabel]] = {}
        self._written = QElapsedTimer()
        self._written.start()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(6)
        head = Flow()
        self.course_choice = QComboBox()
        self.course_choice.setAccessibleName(shown(say("lesson.lesson")))
        fill(self.course_choice, [(course.title, course.key) for course in COURSES])
        self.course_choice.activated.connect(lambda _n: self._take_course())
        head.addWidget(self.course_choice)
        self.steps = QButtonGroup(self)
        self._step_row = QWidget()
        self._step_line = QHBoxLayout(self._step_row)
        self._step_line.setContentsMargins(0, 0, 0, 0)
        self._step_line.setSpacing(2)
        head.addWidget(self._step_row)
        self.before = button(say("lesson.step-before"), lambda: self.show_step(self._number - 1))
        self.after = button(
            say("lesson.next-step"), lambda: self.show_step(self._number + 1), "main"
        )
        head.addWidget(self.before)
        head.addWidget(self.after)
        outer.addLayout(head)
        self.title = caption("", "head")
        self.text = caption("", wrap=True)
        outer.addWidget(self.title)
        outer.addWidget(self.text)
        row = QHBoxLayout()
        row.setSpacing(10)
        middle = QVBoxLayout()
        middle.setSpacing(6)
        self.view = LessonView(theme)
        self.view.moved.connect(self._moved)
        self.view.setToolTip(shown(say("lesson.press-turn-and-try")))
        middle.addWidget(self.view, 1)
        self.acts: dict[Act, QPushButton] = {}
        acts = Flow()
        for act, words in ACTS.items():
            made = QPushButton(shown(words))
            made.setCheckable(True)
            made.toggled.connect(lambda _on, act=act: self._act(act))
            self.acts[act] = made
            acts.addWidget(made)
        self.back = button(say("lesson.set-back"), self._set_back)
        acts.addWidget(self.back)
        middle.addLayout(acts)
        self._knobs = QWidget()
        self._knob_line = Flow()
        self._knobs.setLayout(self._knob_line)
        middle.addWidget(self._knobs)
        self.verdict = caption("", "strong", wrap=True)
        self.verdict.setAccessibleName(shown(say("lesson.what-the-mechanism-does")))
        middle.addWidget(self.verdict)
        row.addLayout(middle, 1)
        side = QVBoxLayout()
        side.setSpacing(6)
        self.tyres = TyreView(theme)
        self.tyres.setFixedSize(TYRES_PX + 24, round(0.72 * TYRES_PX))
        side.addWidget(self.tyres)
        self.figures = Table(("", ""), say("lesson.figures-of-this-step"))
        self.figures.stretch(0)
        header = self.figures.horizontalHeader()
        if header is not None:
            header.hide()
        self.figures.setFixedWidth(TYRES_PX + 24)
        side.addWidget(self.figures)
        self.question = caption("", "strong", wrap=True)
        self.answer = caption("", wrap=True)
        for label in (self.question, self.answer):
            label.setFixedWidth(TYRES_PX + 24)
            label.setAlignment(Qt.AlignmentFlag.AlignTop)
            side.addWidget(label)
        side.addStretch(1)
        row.addLayout(side)
        outer.addLayout(row, 1)
        self._list_steps()

    @property
    def course(self) -> Course:
        """The lesson that is chosen."""
        return COURSES[max(self.course_choice.currentIndex(), 0)]

    @property
    def step(self) -> Step:
        """The step in view."""
        return self.course.steps[self._number]

    def choose_course(self, key: str) -> None:
        """Go to the beginning of a lesson by its key."""
        self.course_choice.setCurrentIndex(self.course_choice.findData(key))
        self._take_course()

    def choose_thing(self, where: tuple[str, ...]) -> None:
        """Go to a lesson where one is named."""
        for key in where:
            if any(course.key == key for course in COURSES):
                self.choose_course(key)

    def _take_course(self) -> None:
        self._number = 0
        self._list_steps()
        self.show_step(0)

    def _list_steps(self) -> None:
        for made in self.steps.buttons():
            self.steps.removeButton(made)
            self._step_line.removeWidget(made)
            made.deleteLater()
        for number, step in enumerate(self.course.steps):
            one = QPushButton(str(number + 1))
            one.setCheckable(True)
            one.setStyleSheet("padding: 2px 0px;")
            one.setFixedWidth(28)
            one.setToolTip(shown(step.title))
            one.setAccessibleName(shown(step.title))
            one.clicked.connect(lambda _on, number=number: self.show_step(number))
            self.steps.addButton(one, number)
            self._step_line.addWidget(one)

    def show_step(self, number: int) -> None:
        """Go to a step by its number, from 0."""
        self._number = min(max(number, 0), len(self.course.steps) - 1)
        step = self.step
        chosen = self.steps.button(self._number)
        if chosen is not None:
            chosen.setChecked(True)
        self.before.setEnabled(self._number > 0)
        self.after.setEnabled(self._number + 1 < len(self.course.steps))
        self.title.setText(shown(f"{self._number + 1}. {step.title}"))
        self.text.setText(shown(step.text))
        self.question.setText(shown(step.question))
        for act, made in self.acts.items():
            made.blockSignals(True)
            made.setChecked(False)
            made.blockSignals(False)
            made.setVisible(act in step.acts)
        self.acts["hold left"].setText(shown(step.holds[0]))
        self.acts["hold right"].setText(shown(step.holds[1]))
        self.tyres.setVisible(step.drive is not None)
        self._make_knobs(step)
        if self._evaluation is not None:
            self.view.show_step(self._evaluation, step, step.starts)
        self._write()

    def _make_knobs(self, step: Step) -> None:
        while (item := self._knob_line.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.deleteLater()
        self.sliders.clear()
        self._knob_words.clear()
        for slider in step.sliders:
            made = QSlider(Qt.Orientation.Horizontal)
            made.setRange(0, round((slider.high - slider.low) / slider.step))
            made.setValue(round((getattr(step.starts, slider.knob) - slider.low) / slider.step))
            made.setFixedWidth(150)
            made.setAccessibleName(shown(slider.words))
            made.valueChanged.connect(lambda _n: self._slid())
            words = caption("", wrap=False)
            self._knob_line.addWidget(words)
            self._knob_line.addWidget(made)
            self.sliders[slider.knob] = made
            self._knob_words[slider.knob] = slider, words
        self._knobs.setVisible(bool(step.sliders))
        self._name_knobs()

    def _setting(self) -> Setting:
        values: dict[str, Any] = {
            knob: slider.low + self.sliders[knob].value() * slider.step
            for knob, (slider, _) in self._knob_words.items()
        }
        whole = ("arms", "planets", "choice", "gear")
        return replace(
            self.step.starts, **{k: int(v) if k in whole else v for k, v in values.items()}
        )

    def _name_knobs(self) -> None:
        setting = self._setting()
        for knob, (slider, words) in self._knob_words.items():
            value = getattr(setting, knob)
            told = slider.named[int(value)] if slider.named else ""
            words.setText(
                shown(say("lesson.knob-named", words=slider.words, value=told))
                if told
                else shown(say("lesson.knob", words=slider.words, value=value))
            )

    def _slid(self) -> None:
        self._name_knobs()
        setting = self._setting()
        if setting.radius_mm == self.view.setting.radius_mm:
            self.view.set_back()  # another shape begins anew
        self.view.set_to(setting)
        self.view.do(self._doing())
        self._write()

    def _doing(self) -> Doing:
        def on(act: Act) -> bool:
            return self.acts[act].isChecked() and act in self.step.acts

        return Doing(
            on("turn"),
            "left" if on("hold left") else "right" if on("hold right") else "",
            on("corner"),
            on("lift"),
            on("lock"),
            on("load"),
        )

    def _act(self, act: Act) -> None:
        """Take what is pressed: one wheel is held at a time, a corner begins its own line."""
        other: dict[Act, Act] = {"hold left": "hold right", "hold right": "hold left"}
        if act in other and self.acts[act].isChecked():
            self.acts[other[act]].setChecked(False)
        if act in ("corner", "lift"):
            self.view.motion = replace(self.view.motion, way_mm=0.0)
        self.acts["turn"].setText(
            shown(say("lesson.stop") if self._doing().turning else ACTS["turn"])
        )
        self.view.do(self._doing())

    def _set_back(self) -> None:
        self.view.set_back()
        if self._doing().turning:
            self.view.go()

    def _moved(self) -> None:
        if self._written.elapsed() >= FIGURES_MS or not self.view.moving:
            self._write()

    def _write(self) -> None:
        """Write figures, verdict and answer, and draw the tyres' lines."""
        if self._evaluation is None:
            return
        self._written.restart()
        view, step = self.view, self.step
        state = view.motion, view.doing, view.setting
        rows = step.figures(*state)
        self.figures.show_cells([(Cell(a, tip=a), Cell(b, right=True)) for a, b in rows])
        self.figures.setFixedHeight(8 + 26 * max(len(rows), 1))
        self.verdict.setText(shown(step.verdict(*state)))
        if step.tried(*state):
            self._tried.add(f"{self.course.key} {step.key}")
        answered = f"{self.course.key} {step.key}" in self._tried
        self.answer.setText(shown(step.answer if answered else say("lesson.try-it")))
        if step.drive is not None:
            lines = tyre_lines(step.drive, view.motion.way_mm, view.doing, view.setting)
            self.tyres.show_lines(self._evaluation, lines, view.setting, corner=view.doing.corner)

    def hideEvent(self, event: QHideEvent | None) -> None:
        self.acts["turn"].setChecked(False)
        super().hideEvent(event)

    def refresh(self, evaluation: Evaluation) -> None:
        """Begin the lesson when it is first looked at."""
        first = self._evaluation is None
        self._evaluation = evaluation
        if first:
            self.show_step(self._number)

    def facts(self) -> str:
        """Say nothing above the picture: the step itself is told there."""
        return ""

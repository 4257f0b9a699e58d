"""The trial list, readings by hand, and what they say: which fault, and what to read next."""

from collections.abc import Callable
from fractions import Fraction

from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from mild_badger.app.drawing.flow import Flow
from mild_badger.app.drawing.records import Column, RecordTable
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button, caption, fill, row_of, scrolled
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.trial.deviation_view import DeviationView
from mild_badger.app.tabs.trial.way_box import way_box
from mild_badger.app.theme.style import Theme
from mild_badger.core.errors import BadgerError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.mechanisms.steps import TrialStep
from mild_badger.core.message import say
from mild_badger.core.performance.losses import calibrate_readings
from mild_badger.core.targets.schools import format_ratio
from mild_badger.core.trial.diagnosis import Diagnosis, diagnose
from mild_badger.core.trial.expected import (
    Step,
    describe_way,
    further_rows,
    places,
    positions,
    trial_steps,
)
from mild_badger.core.trial.readings import (
    USUAL_PERCENT,
    forget_all,
    forget_reading,
    note_reading,
    tick,
    typed_reading,
)
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.trial import NEUTRAL, Reading
from mild_badger.core.words import signed

__all__ = ["ListPage"]


class ListPage(QWidget):
    """The list and the readings left, noting and diagnosis right."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self._steps: tuple[Step, ...] = ()
        self._keys: tuple[str, ...] = ()
        self._engaged = NEUTRAL
        self.diagnosis: Diagnosis | None = None
        outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(12)
        left = QVBoxLayout()
        left.setSpacing(6)
        self.table = RecordTable(session, self._columns(), say("tab-trial.trial-list"))
        self.table.header_right(2, 3, 4)
        self.table.stretch(1)
        self.table.currentCellChanged.connect(lambda row, *_: self._engage(row))
        left.addWidget(self.table, 5)
        self.view = DeviationView(theme)
        left.addWidget(self.view, 4)
        outer.addLayout(left, 1)
        side = QWidget()
        right = QVBoxLayout(side)
        right.setContentsMargins(0, 0, 8, 0)
        right.setSpacing(6)
        right.addLayout(self._entry())
        self.verdict = caption("", wrap=True)
        right.addWidget(self.verdict)
        self.suspects = Table(
            ("%", say("tab-trial.what-explains-it")), say("tab-trial.what-explains-the-readings")
        )
        self.suspects.header_right(0)
        self.suspects.stretch(1)
        self.suspects.setWordWrap(True)
        self.suspects.setMinimumHeight(96)
        right.addWidget(self.suspects, 1)
        self.look = caption("", "soft", wrap=True)
        right.addWidget(self.look)
        self.suspects.currentCellChanged.connect(lambda row, *_: self._say_look(row))
        self.next = caption("", wrap=True)
        right.addWidget(self.next)
        self.go = button(say("tab-trial.show-position"), self._go_there)
        self.fit = button(say("tab-trial.fit-losses"), self._fit)
        self.fit.setToolTip(say("tab-trial.fit-the-drag-to-the-inputs-measured-speeds"))
        self.forget = button(say("tab-trial.delete-reading"), self._forget)
        right.addStretch(0)  # where nothing is suspected the words stay on top
        right.addLayout(row_of(self.go, self.fit, self.forget))
        outer.addWidget(scrolled(side, 312))

    def _entry(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(4)
        self.position, self.place = QComboBox(), QComboBox()
        self.way = way_box(say("tab-trial.which-way"))
        self.turned_in, self.turned_out, self.percent = QLineEdit(), QLineEdit(), QLineEdit()
        self.percent.setPlaceholderText(shown(signed(USUAL_PERCENT, "g")))
        self.jams = QCheckBox(shown(say("tab-trial.the-input-will-not-turn")))
        self.note = button(say("tab-trial.save-reading"), self._note, "main")
        for line in (self.turned_in, self.turned_out, self.percent):
            line.setFixedWidth(64)
            line.returnPressed.connect(self._note)
        self.position.activated.connect(lambda _n: self._choose_position())
        rows: tuple[tuple[str, QWidget, str], ...] = (
            (say("tab-trial.in-position"), self.position, ""),
            (say("tab-trial.looking-at"), self.place, ""),
            (say("tab-trial.the-input-turned"), self.turned_in, say("tab-trial.turns-or-rpm")),
            (
                say("tab-trial.the-part-looked-at-turned"),
                self.turned_out,
                say("tab-trial.turns-or-rpm"),
            ),
            (say("tab-trial.sure-within"), self.percent, "%"),
            (say("tab-trial.which-way-2"), self.way, ""),
        )
        for number, (words, widget, unit) in enumerate(rows):
            widget.setAccessibleName(shown(words.capitalize()))
            if isinstance(widget, QComboBox):
                row = Flow()
                row.addWidget(caption(words))
                row.addWidget(widget, 1)
                grid.addLayout(row, number, 0, 1, 3)
                continue
            grid.addWidget(caption(words, wrap=True), number, 0)
            grid.addWidget(widget, number, 1, 1, 1 if unit else 2)
            if unit:
                grid.addWidget(caption(unit, "soft"), number, 2)
        self.place.setSizeAdjustPolicy(
            QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        )
        row = Flow()
        row.addWidget(self.jams)
        row.addWidget(self.note)
        grid.addLayout(row, len(rows), 0, 1, 3)
        grid.setColumnStretch(0, 1)
        return grid

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the list, the readings and what they say."""
        vehicle = evaluation.vehicle
        self._steps = trial_steps(vehicle)
        engaged = evaluation.situation.gear or NEUTRAL
        more = further_rows(vehicle)
        self._keys = (*(step.position for step in self._steps), *(step.key for step in more))
        self._engaged = engaged
        self.table.show_records([*self._steps, *more])
        self.table.clearSpans()
        for row in range(len(self._steps), len(self._keys)):
            self.table.setSpan(row, 1, 1, 5)
        self.view.show_readings(evaluation)
        fill(self.position, [(vehicle.gear_name(p), p) for p in positions(vehicle)])
        self.position.setCurrentIndex(self.position.findData(engaged))
        fill(self.place, [(place.name, place.body) for place in places(vehicle)])
        self.forget.setEnabled(bool(vehicle.trial.readings))
        self.fit.setEnabled(any(r.input_rpm for r in vehicle.trial.readings))
        self._judge()

    def facts(self) -> str:
        """Say how a reading is taken, and what not to do."""
        return say("tab-trial.engage-run-look-which-way-and-how-fast-it")

    def heading(self) -> str:
        """Say how far the trial is."""
        ticks, count = len(self.session.vehicle.trial.ticks), len(self._keys)
        readings = len(self.session.vehicle.trial.readings)
        return say(
            "tab-trial.trial-of-positions-ticked-readings",
            ticks=ticks,
            count=count,
            readings=readings,
        )

    def _columns(self) -> tuple[Column[Step | TrialStep], ...]:
        def name(step: Step | TrialStep) -> Cell:
            key = step.position if isinstance(step, Step) else step.key
            done = key in self.session.vehicle.trial.ticks
            named = self.session.vehicle.gear_name
            shown = named(step.position) if isinstance(step, Step) else step.name
            return Cell(shown, checked=done, bold=key == self._engaged, tip=step.words)

        def ticked(vehicle: Vehicle, row: int, on: bool) -> Edit:
            return tick(vehicle, self._keys[row], on)

        def sleeves(step: Step | TrialStep) -> Cell:
            return Cell(step.sleeves if isinstance(step, Step) else step.words, tip=step.words)

        def ratio(turns: Fraction, _step: Step) -> str:
            return format_ratio(1 / turns, self.session.school)

        return (
            Column("", name, ticked=ticked),
            Column(say("tab-trial.sleeves"), sleeves),
            _figure(say("tab-trial.ratio"), ratio),
            _figure(say("tab-trial.out-per-in"), lambda turns, _step: signed(float(turns), ".4g")),
            _figure(
                say("tab-trial.output"),
                lambda turns, step: say(
                    "tab-trial.rpm", value="+" if turns > 0 else "−", output_rpm=step.output_rpm
                ),
            ),
            Column(say("tab-trial.wheels"), _wheels),
        )

    def _engage(self, row: int) -> None:
        if 0 <= row < len(self._steps):
            position = self._steps[row].position
            gear = None if position == NEUTRAL else position
            if gear != self.session.situation.gear:
                self.session.engage(gear)

    def _choose_position(self) -> None:
        position = self.position.currentData()
        self.session.engage(None if position == NEUTRAL else position)

    def _judge(self) -> None:
        diagnosis = self.diagnosis = diagnose(self.session.vehicle)
        self.verdict.setText(diagnosis.words)
        rows = [
            [Cell(signed(100 * c.share, ".0f"), right=True), Cell(c.words, tip=c.words)]
            for c in diagnosis.candidates[:12]
        ]
        if not rows:
            rows = [[Cell(""), Cell(words, tip=words)] for words in diagnosis.nearest]
        self.suspects.show_cells(rows)
        self.suspects.resizeRowsToContents()
        self.suspects.setVisible(bool(rows))
        self._say_look(0)
        self.next.setText(diagnosis.next_reading.words if diagnosis.next_reading else "")
        self.next.setVisible(diagnosis.next_reading is not None)
        self.go.setVisible(diagnosis.next_reading is not None)

    def _say_look(self, row: int) -> None:
        diagnosis = self.diagnosis
        self.look.setVisible(bool(diagnosis and diagnosis.candidates))
        if diagnosis is None or not 0 <= row < len(diagnosis.candidates):
            return
        chosen = diagnosis.candidates[row]
        words: str = say("tab-trial.look", look=chosen.look)
        if chosen.alike:
            words += say("tab-trial.no-reading-tells-it-from", listed="; ".join(chosen.alike[:3]))
        self.look.setText(words)

    def _go_there(self) -> None:
        ask = self.diagnosis.next_reading if self.diagnosis else None
        if ask is not None:
            self.session.engage(None if ask.position == NEUTRAL else ask.position)
            self.place.setCurrentIndex(self.place.findData(ask.body))
            self.turned_in.setFocus()

    def _note(self) -> None:
        place = (str(self.position.currentData()), str(self.place.currentData()))
        try:
            if self.jams.isChecked():
                reading = Reading(position=place[0], body=place[1], jams=True)
            else:
                reading = typed_reading(
                    place,
                    turned_in=self.turned_in.text(),
                    turned_out=self.turned_out.text(),
                    percent=self.percent.text(),
                    way=self.way.currentData(),
                )
        except BadgerError as error:
            self.session.refused.emit(str(error))
            return
        if self.session.do(note_reading(self.session.vehicle, reading)):
            self.turned_in.clear()
            self.turned_out.clear()
            self.jams.setChecked(False)
            self.way.setCurrentIndex(0)
            self.turned_in.setFocus()

    def _forget(self) -> None:
        """Take away the reading of the chosen position and place, else begin anew."""
        vehicle = self.session.vehicle
        here = (self.position.currentData(), self.place.currentData())
        reading = next((r for r in vehicle.trial.readings if (r.position, r.body) == here), None)
        if reading is not None:
            self.session.do(forget_reading(vehicle, reading))
        else:
            self.session.refused.emit(
                say(
                    "tab-trial.nothing-was-read-in-at-choose-position-and",
                    currenttext=self.position.currentText(),
                    currenttext_2=self.place.currentText(),
                )
            )

    def begin_anew(self) -> None:
        """Forget all readings and ticks; one step back undoes it."""
        self.session.do(forget_all(self.session.vehicle))

    def _fit(self) -> None:
        try:
            edit, words = calibrate_readings(self.session.vehicle)
        except BadgerError as error:
            self.session.refused.emit(str(error))
            return
        if self.session.do(edit):
            self.verdict.setText(words)


def _figure(title: str, words: Callable[[Fraction, Step], str]) -> Column[Step | TrialStep]:
    """Make a column of figures of what turns; a dash where nothing does."""

    def cell(step: Step | TrialStep) -> Cell:
        if not isinstance(step, Step):
            return Cell("")
        turning = bool(step.turns) and step.output_rpm is not None
        shown = words(step.turns, step) if turning and step.turns is not None else "–"
        return Cell(shown, right=True, tip=step.words)

    return Column(title, cell)


def _wheels(step: Step | TrialStep) -> Cell:
    if not isinstance(step, Step):
        return Cell("")
    if not step.wheel_turns or step.wheel_rpm is None:
        return Cell("–", tip=step.words)
    way = describe_way(step.wheel_turns, wheel=True)
    return Cell(say("tab-trial.rpm-2", wheel_rpm=step.wheel_rpm, way=way), tip=step.words)

"""The tachometer: a device, a file or the stand-in rig; live speeds, the ratio, a reading of it."""

from pathlib import Path

from PyQt6.QtCore import QTimer, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from mild_badger.app.drawing.fields import DocumentCheckBox, field_of
from mild_badger.app.drawing.flow import Flow
from mild_badger.app.drawing.widgets import button, caption, fill, row_of, scrolled
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.trial.pulse_view import PulseView
from mild_badger.app.tabs.trial.way_box import way_box
from mild_badger.app.theme.style import Theme
from mild_badger.core.errors import BadgerError, InputError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say
from mild_badger.core.targets.schools import parse_number
from mild_badger.core.trial.expected import (
    describe_turns,
    describe_way,
    expected,
    places,
    positions,
)
from mild_badger.core.trial.pulses import PulseReader
from mild_badger.core.trial.readings import note_reading
from mild_badger.core.trial.record_reading import Measurement
from mild_badger.core.trial.rig import RigFault, RigRun, SlotDisc, faults_of, pulses
from mild_badger.core.trial.stream import FileStream, RigStream, Stream
from mild_badger.core.vehicle.trial import NEUTRAL, Reading

__all__ = ["TachoPage"]

POLL_MS = 100
ESTIMATE_EVERY = 3
RIG, FILE = "rig", "file"
AS_PLANNED = say("tab-trial.as-planned-no-fault")
FAULT_NAMES = {
    "swapped gear": say("tab-trial.a-gear-of-another-size"),
    "swapped pair": say("tab-trial.a-pair-changed-over"),
    "missing idler": say("tab-trial.an-idler-left-out"),
    "wrong sleeve": say("tab-trial.a-wrong-sleeve"),
    "glued gear": say("tab-trial.a-free-gear-glued"),
    "slipping dog": say("tab-trial.slipping-dogs"),
    "skipping tooth": say("tab-trial.a-skipping-tooth"),
}


class TachoPage(QWidget):
    """Where pulses come from on the left, what they come to on the right.

    Signals
    -------
    pulses_wanted : a file or a device is to be chosen
    """

    pulses_wanted = pyqtSignal()

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self.reader = PulseReader()
        self.taken: Measurement | None = None
        self.stream: Stream | None = None
        self.path: Path | None = None
        self._asked = ("", "")
        self._polls = 0
        self._faults: tuple[RigFault, ...] = ()
        self._timer = QTimer(self)
        self._timer.setInterval(POLL_MS)
        self._timer.timeout.connect(self.poll)
        outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(16)
        side = QWidget()
        side.setFixedWidth(320)
        left = QVBoxLayout(side)
        left.setContentsMargins(0, 0, 0, 0)
        left.setSpacing(8)
        left.addLayout(self._source())
        left.addStretch(1)
        outer.addWidget(scrolled(side, 334))
        right = QVBoxLayout()
        right.setSpacing(8)
        self.view = PulseView(theme)
        right.addWidget(self.view, 1)
        self.ratio = caption("", "head", wrap=True)
        self.beside = caption("", wrap=True)
        self.counts = caption("", "soft", wrap=True)
        for words in (self.ratio, self.beside, self.counts):
            right.addWidget(words)
        self.way = way_box(say("tab-trial.which-way-it-turned"))
        self.note = button(say("tab-trial.save-this-reading"), self._note, "main")
        self.jammed = button(say("tab-trial.save-as-jammed"), self._jams)
        right.addLayout(row_of(say("tab-trial.it-turned"), self.way, self.note, self.jammed))
        outer.addLayout(right, 1)

    def _source(self) -> QGridLayout:
        session = self.session
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(5)
        self.position, self.place, self.kind = QComboBox(), QComboBox(), QComboBox()
        self.kind.addItem(shown(say("tab-trial.the-stand-in-rig")), RIG)
        self.kind.addItem(shown(say("tab-trial.a-file-or-a-serial-device")), FILE)
        self.kind.activated.connect(lambda _n: self._show_kind())
        self.slots_in = field_of(
            session, ("trial", "slots_in"), say("tab-trial.slots-of-the-input-disc"), width=60
        )
        self.discs = DocumentCheckBox(
            session, ("frame", "sensor_discs"), say("tab-trial.the-discs-stand-in-the-box")
        )
        self.slots_out = field_of(
            session, ("trial", "slots_out"), say("tab-trial.slots-of-the-output-disc"), width=60
        )
        self.fault_kind, self.fault = QComboBox(), QComboBox()
        self.fault_kind.activated.connect(lambda _n: self._fill_findings())
        self.rpm, self.seconds = QLineEdit("300"), QLineEdit("20")
        self.bent, self.missed, self.noise = QLineEdit("0"), QLineEdit("0"), QLineEdit("20")
        self.start = button(say("tab-trial.start"), self.begin, "main")
        self.stop = button(say("tab-trial.stop"), self.end)
        self.hurry = button(say("tab-trial.all-at-once"), self.all_at_once)
        self.hurry.setToolTip(say("tab-trial.do-not-wait-for-the-rigs-own-time"))
        self.choose = button(say("tab-trial.choose"), self.pulses_wanted.emit)
        self.path_words = caption(say("tab-trial.no-file-chosen"), "soft", wrap=True)
        rows: tuple[tuple[str, QWidget, str], ...] = (
            (say("tab-trial.pulses-come-from"), self.kind, ""),
            (say("tab-trial.position"), self.position, ""),
            (say("tab-trial.second-disc-on"), self.place, ""),
            (say("tab-trial.slots-of-the-input-disc"), self.slots_in, ""),
            (say("tab-trial.slots-of-the-output-disc"), self.slots_out, ""),
        )
        rig: tuple[tuple[str, QWidget, str], ...] = (
            (say("tab-trial.the-rig-is-built-with"), self.fault_kind, ""),
            (say("tab-trial.namely"), self.fault, ""),
            (say("tab-trial.input-turns-at"), self.rpm, "rpm"),
            (say("tab-trial.for"), self.seconds, "s"),
            (say("tab-trial.a-slot-of-the-disc-is-bent-by"), self.bent, "%"),
            (say("tab-trial.pulses-missed"), self.missed, "%"),
            (say("tab-trial.noise-of-the-stamps"), self.noise, "µs"),
        )
        self._rig_widgets: list[QWidget] = [self.hurry]
        for number, (words, widget, unit) in enumerate((*rows, *rig)):
            choice = isinstance(widget, QComboBox)
            label = caption(words, wrap=not choice)
            widget.setAccessibleName(shown(words))
            if isinstance(widget, QComboBox):
                widget.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
                line = Flow()
                line.addWidget(label)
                line.addWidget(widget, 1)
                grid.addLayout(line, number, 0, 1, 3)
            else:
                widget.setFixedWidth(60)
                grid.addWidget(label, number, 0)
                grid.addWidget(widget, number, 1, 1, 1 if unit else 2)
            behind = caption(unit, "soft")
            if unit:
                grid.addWidget(behind, number, 2)
            if number >= len(rows):
                self._rig_widgets += [label, widget, behind]
        row = len(rows) + len(rig)
        self._file_widgets: list[QWidget] = [self.choose, self.path_words]
        grid.addWidget(self.discs, row + 2, 0, 1, 3)
        grid.addWidget(self.choose, row, 0)
        grid.addWidget(self.path_words, row, 1, 1, 2)
        grid.addLayout(row_of(self.start, self.hurry, self.stop), row + 1, 0, 1, 3)
        grid.setColumnStretch(0, 1)
        self.position.activated.connect(lambda _n: self._choose_position())
        return grid

    def refresh(self, evaluation: Evaluation) -> None:
        """Show a vehicle's positions, places and faults."""
        vehicle = evaluation.vehicle
        self.slots_in.show_value(str(vehicle.trial.slots_in))
        self.slots_out.show_value(str(vehicle.trial.slots_out))
        self.discs.show_value(vehicle.frame.sensor_discs)
        fill(self.position, [(vehicle.gear_name(p), p) for p in positions(vehicle)])
        self.position.setCurrentIndex(self.position.findData(evaluation.situation.gear or NEUTRAL))
        fill(self.place, [(place.name, place.body) for place in places(vehicle)])
        self._faults = faults_of(vehicle)
        kinds = dict.fromkeys(fault.kind for fault in self._faults)
        fill(self.fault_kind, [(AS_PLANNED, ""), *((FAULT_NAMES[k], k) for k in kinds)])
        self._fill_findings()
        self._show_kind()
        self.view.show_evaluation(evaluation)
        self._show()

    def facts(self) -> str:
        """Say what the page does."""
        return say("tab-trial.a-light-gate-on-a-slotted-disc-sends-a-line")

    def use_file(self, path: Path) -> None:
        """Take a file or a device."""
        self.path = path
        self.path_words.setText(path.name)
        self.path_words.setToolTip(shown(str(path)))
        self.kind.setCurrentIndex(self.kind.findData(FILE))
        self._show_kind()

    def begin(self) -> None:
        """Start a run; what was read before is forgotten."""
        stream = self._stream(pace=1.0)
        if stream is not None:
            self._read_from(stream)
            self._timer.start()
            self._show()

    def all_at_once(self) -> None:
        """Take the whole run of the rig without waiting."""
        stream = self._stream(pace=1e9)
        if stream is not None:
            self._read_from(stream)
            while self.stream is not None:
                self.poll()

    def end(self) -> None:
        """Stop; what was read stays."""
        self._timer.stop()
        if self.stream is not None:
            self.stream.close()
            self.stream = None
            self.reader.close()
        self._estimate()
        self._show()

    def poll(self) -> None:
        """Take what has come, and end where no more can come."""
        if self.stream is None:
            self._timer.stop()
            return
        try:
            self.reader.feed(self.stream.read())
        except BadgerError as error:
            self.session.refused.emit(str(error))
            self.stream = None
            self._timer.stop()
            self._show()
            return
        if self.stream.ended:
            self.end()
            return
        self._polls += 1
        if self._polls % ESTIMATE_EVERY == 0 and self._timer.isActive():
            self._estimate()
        self._show()

    def _read_from(self, stream: Stream) -> None:
        self.end()
        self.reader, self.taken, self.stream = PulseReader(), None, stream
        self._asked = (str(self.position.currentData()), str(self.place.currentData()))
        self._polls = 0

    def _stream(self, *, pace: float) -> Stream | None:
        vehicle = self.session.vehicle
        try:
            if self.kind.currentData() == FILE:
                if self.path is None:
                    self.session.refused.emit(
                        say("tab-trial.choose-a-file-or-a-serial-device-first")
                    )
                    return None
                return FileStream(self.path)
            lines = pulses(vehicle, self._run())
            return RigStream(iter(list(lines)), pace=pace)
        except BadgerError as error:
            self.session.refused.emit(str(error))
            return None

    def _run(self) -> RigRun:
        numbers = {}
        for name, line, least, most in (
            ("Input speed", self.rpm, 1, 20_000),
            ("Length of the run", self.seconds, 1, 600),
            ("Bent slot", self.bent, 0, 35),
            ("Missed pulses", self.missed, 0, 50),
            ("Noise", self.noise, 0, 5000),
        ):
            value = parse_number(line.text(), what=name)
            if not least <= value <= most:
                raise InputError(
                    say("tab-trial.is-outside-to", name=name, value=value, least=least, most=most)
                )
            numbers[name] = value
        trial = self.session.vehicle.trial
        disc = SlotDisc(
            trial.slots_out,
            numbers["Bent slot"] / 100,
            numbers["Missed pulses"] / 100,
            numbers["Noise"],
        )
        index = self.fault.currentData()
        return RigRun(
            position=str(self.position.currentData()),
            body=str(self.place.currentData()),
            fault=None if index is None or index < 0 else self._faults[index],
            rpm=numbers["Input speed"],
            seconds=numbers["Length of the run"],
            source=SlotDisc(slots=trial.slots_in, noise_us=numbers["Noise"]),
            output=disc,
            seed=1 + len(self.session.vehicle.trial.readings),
        )

    def _estimate(self) -> None:
        trial = self.session.vehicle.trial
        self.taken = Measurement(self.reader, slots_in=trial.slots_in, slots_out=trial.slots_out)

    def _show(self) -> None:
        times = self.reader.times_us
        speeds = self.taken.live if self.taken is not None else ("", "")
        self.view.show_pulses((times[1], times[2]), speeds)
        self.ratio.setText(self.taken.summary if self.taken is not None else "")
        self.counts.setText(self.reader.summary if self.reader.lines else "")
        running = self.stream is not None
        self.start.setEnabled(not running)
        self.hurry.setEnabled(not running)
        self.stop.setEnabled(running)
        ready = self.taken is not None and self.taken.reading(*self._asked, 0) is not None
        self.note.setEnabled(ready)
        self.beside.setText(self._beside())

    def _beside(self) -> str:
        position, body = self._asked
        place = next((p for p in places(self.session.vehicle) if p.body == body), None)
        if place is None or position not in positions(self.session.vehicle):
            return ""
        planned = expected(self.session.vehicle, position, body)
        sentence = (
            say("tab-trial.it-hangs-free")
            if planned is None
            else f"{describe_turns(planned)} {describe_way(planned, wheel=place.wheel)}"
            if planned
            else say("tab-trial.it-stands")
        )
        return say(
            "tab-trial.planned-in-for-one-turn-of-the-input",
            position=position,
            lower=place.name.lower(),
            sentence=sentence,
        )

    def _note(self) -> None:
        if self.taken is not None:
            reading = self.taken.reading(*self._asked, self.way.currentData())
            if reading is not None:
                self.session.do(note_reading(self.session.vehicle, reading))
                self.counts.setText(
                    say("tab-trial.noted-turns", position=reading.position, turns=reading.turns)
                )

    def _jams(self) -> None:
        position, body = str(self.position.currentData()), str(self.place.currentData())
        self.session.do(
            note_reading(self.session.vehicle, Reading(position=position, body=body, jams=True))
        )

    def _choose_position(self) -> None:
        position = self.position.currentData()
        self.session.engage(None if position == NEUTRAL else position)

    def _fill_findings(self) -> None:
        kind = self.fault_kind.currentData()
        fill(
            self.fault,
            [
                (fault.describe(self.session.vehicle), number)
                for number, fault in enumerate(self._faults)
                if fault.kind == kind
            ],
        )
        self.fault.setEnabled(bool(kind) and self.kind.currentData() == RIG)

    def _show_kind(self) -> None:
        rig = self.kind.currentData() == RIG
        for widget in self._rig_widgets:
            widget.setVisible(rig)
        for widget in self._file_widgets:
            widget.setVisible(not rig)

    def heading(self) -> str:
        """Say what the page shows."""
        return say("tab-trial.tachometer")

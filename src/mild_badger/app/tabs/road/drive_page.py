"""Test drive: a course, a run in time with live charts, keys to shift, replay and CSV."""

from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QPainter, QPolygonF
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QSlider, QVBoxLayout, QWidget

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.fields import number_cell
from mild_badger.app.drawing.marks import pen
from mild_badger.app.drawing.records import Column, RecordTable
from mild_badger.app.drawing.tables import Cell
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown, units_in_force
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import M_S, METRE, in_m, in_m_s, in_units
from mild_badger.core.message import say
from mild_badger.core.performance.drive import USUAL_COURSE, Drive, DriveRow, drive_csv
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.road import Segment
from mild_badger.core.words import capitalized, signed, word
from mild_badger.text.fields import parse_field

__all__ = ["TestDrivePage"]

TICK_MS, STEPS_A_TICK = 40, 4
TRACES = (
    ("speed", M_S, "speed_m_s"),
    ("motor", "rpm", "motor_rpm"),
    ("current", "A", "current_a"),
    (say("tab-road.wheel-slip"), "%", "slip_percent"),
)
UNITS = {"flat": "", "hill": "%", "turn": "m", "rough": "×"}


class TraceView(Canvas):
    """Speed, motor speed, current and slip over the time, one below the other."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-road.charts-of-the-drive"))
        self.setMinimumSize(280, 240)
        self.rows: list[DriveRow] = []
        self.mark = -1

    def words(self) -> str:
        if not self.rows:
            return say("tab-road.not-driven-yet")
        row = self.rows[self.mark]
        return say(
            "tab-road.s-gear-rpm-a-slip",
            time_s=row.time_s,
            distance_m=in_m(row.distance_m, 2),
            speed_m_s=in_m_s(row.speed_m_s, 2),
            gear=row.gear,
            motor_rpm=row.motor_rpm,
            current_a=row.current_a,
            slip_percent=row.slip_percent,
        )

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        tokens = self.theme.tokens
        painter.setFont(text_font("small"))
        if not self.rows:
            painter.setPen(tokens.soft)
            painter.setFont(text_font("lead"))
            painter.drawText(
                self.rect(),
                int(Qt.AlignmentFlag.AlignCenter),
                say("tab-road.press-drive-to-set-off"),
            )
            return
        # as many points as the paper has pixels are enough
        pace = max(len(self.rows) // max(self.width(), 1), 1)
        shown = self.rows[::pace]
        end = max(self.rows[-1].time_s, 1.0)
        high = (self.height() - 12) / len(TRACES)
        for number, (name, unit, attribute) in enumerate(TRACES):
            box = QRectF(58, 8 + number * high, self.width() - 70, high - 14)
            values = [getattr(row, attribute) for row in shown]
            top = max(*values, 0.01) * 1.05
            painter.setPen(pen(tokens.hair, 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
            points = [
                QPointF(
                    box.left() + row.time_s / end * box.width(),
                    box.bottom() - value / top * box.height(),
                )
                for row, value in zip(shown, values, strict=True)
            ]
            painter.setPen(pen(tokens.run if number == 0 else tokens.ink, 1.6))
            painter.drawPolyline(QPolygonF(points))
            painter.setPen(tokens.soft)
            right = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop)
            most = in_units(top, "m/s", units_in_force()) if unit == M_S else top
            scale = signed(most, ".0f") if most >= 100 else signed(most, ".3g")
            painter.drawText(QRectF(0, box.top() - 2, 54, 16), right, scale)
            painter.drawText(QRectF(0, box.center().y() - 8, 54, 16), right, unit)
            painter.drawText(box.adjusted(6, 2, 0, 0), int(Qt.AlignmentFlag.AlignLeft), name)
            if number == 0:
                self._gears(painter, box, end)
        row = self.rows[self.mark]
        x = 58 + row.time_s / end * (self.width() - 70)
        painter.setPen(pen(tokens.run, 1.2, dashed=True))
        painter.drawLine(QPointF(x, 8), QPointF(x, self.height() - 8))

    def _gears(self, painter: QPainter, box: QRectF, end: float) -> None:
        """Write the gear where it comes in."""
        painter.setPen(self.theme.tokens.ink)
        before = ""
        for row in self.rows:
            if row.gear not in (before, "–"):
                x = box.left() + row.time_s / end * box.width()
                painter.drawText(QPointF(x + 2, box.bottom() - 4), row.gear)
            before = row.gear if row.gear != "–" else before


class TestDrivePage(QWidget):
    """Charts left, the course right, keys below.

    Signals
    -------
    save_wanted : a name and the text of a CSV file
    """

    save_wanted = pyqtSignal(str, str)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        self._drive: Drive | None = None
        self._vehicle: Vehicle | None = None
        self._engaged: str | None = None
        self._timer = QTimer(self)
        self._timer.setInterval(TICK_MS)
        self._timer.timeout.connect(self._tick)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(12)
        left = QVBoxLayout()
        left.setSpacing(6)
        self.view = TraceView(theme)
        left.addWidget(self.view, 1)
        self.replay = QSlider(Qt.Orientation.Horizontal)
        self.replay.setAccessibleName(say("tab-road.replay"))
        self.replay.setRange(0, 0)
        self.replay.valueChanged.connect(self._look)
        left.addWidget(self.replay)
        self.now = caption("", "strong")
        self.now.setAccessibleName(say("tab-road.the-moment-that-is-looked-at"))
        left.addWidget(self.now)
        self.start = button(say("tab-road.drive"), self._start, "main")
        self.whole = button(say("tab-road.all-at-once"), self.all_at_once)
        self.down = button(say("tab-road.down"), lambda: self._shift(-1))
        self.up = button(say("tab-road.up"), lambda: self._shift(1))
        self.by_rpm = QCheckBox(shown(say("tab-road.shifts-by-rpm")))
        self.by_rpm.setChecked(True)
        self.save = button(say("tab-road.csv"), self._save)
        left.addLayout(row_of(self.start, self.whole, self.down, self.up, self.by_rpm, self.save))
        row.addLayout(left, 1)
        side = QVBoxLayout()
        side.addWidget(caption(say("tab-road.course"), "head"))
        self.course = RecordTable(session, COURSE, say("tab-road.course"))
        self.course.header_right(1, 2)
        self.course.stretch(3)
        self.course.setFixedWidth(200)
        self.course.setToolTip(say("tab-road.hill-grade-in-turn-radius-in-m-rough-times"))
        side.addWidget(self.course, 1)
        self.add = button(say("tab-road.add"), self._add)
        self.remove = button(say("tab-road.remove"), self._remove)
        side.addLayout(row_of(self.add, self.remove))
        row.addLayout(side)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the course; a drive of another vehicle ends."""
        vehicle = evaluation.vehicle
        if vehicle != self._vehicle:
            self._vehicle = vehicle
            self.stop()
            self._drive = None
            self.view.rows = []
            self.replay.setRange(0, 0)
        gear = evaluation.situation.gear
        if gear != self._engaged and gear is not None and self._timer.isActive() and self._drive:
            self.by_rpm.setChecked(False)  # the keys that engage a gear shift the drive as well
            self._drive.shift(gear)
        self._engaged = gear
        self.course.show_records(vehicle.course or USUAL_COURSE)
        self.view.show_evaluation(evaluation)
        self._tell()

    def facts(self) -> str:
        """Say what the run is."""
        return say("tab-road.the-motors-line-through-the-engaged-gear")

    def stop(self) -> None:
        """Halt a drive that runs."""
        self._timer.stop()
        self.start.setText(say("tab-road.drive"))

    def hideEvent(self, event: object) -> None:
        self.stop()
        super().hideEvent(event)  # type: ignore[arg-type]

    def _new(self) -> Drive:
        evaluation = self.session.evaluation
        return Drive(evaluation.vehicle, evaluation.gears, shift_by_rpm=self.by_rpm.isChecked())

    def _start(self) -> None:
        if self._timer.isActive():
            self.stop()
            return
        if self._drive is None or self._drive.done:
            self._drive = self._new()
        if self._drive.done:
            self.session.refused.emit(say("tab-road.no-forward-gear-drives-yet-find-the-set"))
            return
        self.start.setText(say("tab-road.pause"))
        self._timer.start()

    def _tick(self) -> None:
        drive = self._drive
        if drive is None:
            return
        drive.shift_by_rpm = self.by_rpm.isChecked()
        for _ in range(STEPS_A_TICK):
            if not drive.done:
                drive.step()
        if drive.done:
            self.stop()
        self._show_rows(drive)

    def all_at_once(self) -> None:
        """Drive the rest of the course without waiting for it."""
        self.stop()
        drive = self._drive if self._drive is not None and not self._drive.done else self._new()
        self._drive = drive
        drive.shift_by_rpm = True
        drive.finish()
        self._show_rows(drive)

    def _shift(self, way: int) -> None:
        drive = self._drive
        if drive is not None:
            self.by_rpm.setChecked(False)
            drive.shift_by(way)

    def _show_rows(self, drive: Drive) -> None:
        self.view.rows = drive.rows
        self.replay.blockSignals(True)
        self.replay.setRange(0, max(len(drive.rows) - 1, 0))
        self.replay.setValue(len(drive.rows) - 1)
        self.replay.blockSignals(False)
        self._look(len(drive.rows) - 1)

    def _look(self, place: int) -> None:
        self.view.mark = place
        self.view.show_evaluation(self.session.evaluation)
        self._tell()

    def _tell(self) -> None:
        self.now.setText(capitalized(self.view.words()))

    def _save(self) -> None:
        if not self.view.rows:
            self.session.refused.emit(say("tab-road.drive-first-then-there-is-something-to-write"))
            return
        self.save_wanted.emit(
            "drive.csv", drive_csv(tuple(self.view.rows), self.session.vehicle.shown_in)
        )

    def _stretches(self) -> list[dict[str, object]]:
        course = self.session.vehicle.course or USUAL_COURSE
        return [stretch.model_dump() for stretch in course]

    def _add(self) -> None:
        made = [*self._stretches(), {"kind": "flat", "length_m": 2.0, "value": 0.0}]
        self.session.do(Edit.one(say("tab-road.add-a-stretch"), ("course",), made))

    def _remove(self) -> None:
        row, course = self.course.currentRow(), self._stretches()
        if 0 <= row < len(course) and len(course) > 1:
            del course[row]
            self.session.do(Edit.one(say("tab-road.remove-a-stretch"), ("course",), course))


def _typed(field: str, vehicle: Vehicle, row: int, text: str) -> Edit:
    course = [stretch.model_dump() for stretch in vehicle.course or USUAL_COURSE]
    stretch = course[row]
    what = {
        "length_m": say("tab-road.length-of-the-stretch"),
        "value": say("tab-road.value-of-the-stretch"),
    }.get(field, "")
    stretch[field] = text
    if field != "kind":
        stretch[field] = parse_field(
            text, field, what=what, kit=vehicle.kit, choice=vehicle.shown_in
        )
    if text == "turn" and not stretch["value"]:
        stretch["value"] = 1.0
    return Edit.one(say("tab-road.change-the-course"), ("course",), course)


COURSE: tuple[Column[Segment], ...] = (
    Column(say("tab-road.stretch"), lambda s: Cell(word(s.kind)), partial(_typed, "kind")),
    Column(
        say("tab-road.length", metre=METRE),
        lambda s: number_cell(s.length_m, "length_m"),
        partial(_typed, "length_m"),
    ),
    Column(
        say("tab-road.value"),
        lambda s: Cell("" if s.kind == "flat" else signed(s.value, "g"), right=True),
        partial(_typed, "value"),
    ),
    Column("", lambda s: Cell(UNITS[s.kind])),
)

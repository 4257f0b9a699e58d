"""The lever drive to scale, its fulcrum to be dragged, and below it what the wheel does."""

from math import cos, pi, sin

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPolygonF

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import pen
from mild_badger.app.tabs.machine.chart import Chart, draw_chart
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.drivetrain.lever_motion import (
    LeverMotion,
    arms_mm,
    describe_motion,
    jam_at,
    mechanism,
    motion_of,
    range_of,
)
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import bare, in_mm
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.mechanisms.lever.reach import lever_seen
from mild_badger.core.message import say
from mild_badger.core.words import signed

__all__ = ["LeverView"]

EMPTY = say("tab-machine.this-model-has-no-lever-drive-press-add")
GRIP_PX = 16.0
MARGIN_PX = 26.0


class LeverView(Canvas):
    """The mechanism follows the mouse; the document is edited when the button comes up.

    Signals
    -------
    slid : where the fulcrum was let go, mm from the input pin
    """

    slid = pyqtSignal(float)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-machine.lever-drive"))
        self.setMinimumSize(320, 300)
        self.setMouseTracking(True)
        self.angle = 0.0
        self.held_mm: float | None = None
        self._zero, self._scale = QPointF(), 1.0

    def show_drive(self, evaluation: Evaluation) -> None:
        """Show a vehicle's drive where its fulcrum stands."""
        self.held_mm = None
        self.show_evaluation(evaluation)

    def turn_to(self, angle: float) -> None:
        """Turn the throws."""
        self.angle = angle % 360.0
        self.update()

    def drive(self) -> LeverDrive | None:
        """Give the drive as it is seen: with the fulcrum where the mouse holds it."""
        if self.evaluation is None:
            return None
        motion = lever_seen(self.evaluation.vehicle, self.evaluation.situation.gear)
        if motion is None or self.held_mm is None:
            return motion
        return motion.model_copy(update={"fulcrum_mm": self.held_mm})

    def words(self) -> str:
        drive = self.drive()
        return EMPTY if drive is None else describe_motion(drive, motion_of(drive))

    def fulcrum_at(self) -> QPointF:
        """Give where the fulcrum is on the screen."""
        drive = self.drive()
        return self._at((drive.fulcrum_mm if drive is not None else 0.0, 0.0))

    def _at(self, place: tuple[float, float]) -> QPointF:
        return QPointF(
            self._zero.x() + place[0] * self._scale, self._zero.y() - place[1] * self._scale
        )

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        drive = self.drive()
        if drive is None:
            self.say_instead(painter, EMPTY)
            return
        charts = min(190.0, self.height() * 0.4)
        self._mechanism(painter, drive, QRectF(0, 0, self.width(), self.height() - charts))
        motion = motion_of(drive, quick=self.held_mm is not None)
        y, half = self.height() - charts, self.width() / 2
        many = len(motion.speeds)
        trace = [(360.0 * n / many, speed) for n, speed in enumerate(motion.speeds)]
        over_a_turn = Chart(
            say("tab-machine.wheels-speed-over-a-turn-of-the-throws"),
            "°",
            trace,
            self.angle,
            self._levels(motion),
        )
        curve = [(mm, swept.mean) for mm, swept in range_of(drive)]
        from_stop_to_stop = Chart(
            say("tab-machine.mean-speed-from-stop-to-stop"),
            "mm",
            curve,
            drive.fulcrum_mm,
            [(motion.mean, signed(motion.mean, ".3f"))],
        )
        tokens = self.theme.tokens
        draw_chart(painter, tokens, QRectF(0, y, half, charts), over_a_turn)
        draw_chart(painter, tokens, QRectF(half, y, half, charts), from_stop_to_stop)
        jams = jam_at(drive, drive.fulcrum_mm)
        if jams:
            painter.setFont(text_font("small"))
            painter.setPen(self.theme.tokens.bad)
            painter.drawText(
                QRectF(16, 8, self.width() - 32, 32),
                int(Qt.TextFlag.TextWordWrap),
                say("tab-machine.jams-2", jams=jams),
            )

    def _levels(self, motion: LeverMotion) -> list[tuple[float, str]]:
        if motion.peak <= 0:
            return []
        levels: list[tuple[float, str]] = [
            (motion.peak, say("tab-machine.peak", peak=motion.peak)),
            (motion.mean, say("tab-machine.mean", mean=motion.mean)),
        ]
        if motion.mean - motion.trough > 0.15 * motion.peak:
            levels.append((motion.trough, say("tab-machine.least", trough=motion.trough)))
        return levels

    def _mechanism(self, painter: QPainter, drive: LeverDrive, room: QRectF) -> None:
        tokens = self.theme.tokens
        made = mechanism(drive, self.angle)
        left, low, right, high = made.bounds
        self._scale = min(
            (room.width() - 2 * MARGIN_PX) / (right - left),
            (room.height() - 2 * MARGIN_PX) / (high - low),
        )
        self._zero = QPointF(
            room.center().x() - self._scale * (left + right) / 2,
            room.center().y() + self._scale * (low + high) / 2,
        )
        centre, throw = self._at(made.centre), drive.throw_mm * self._scale
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen(tokens.hair, 1.2))
        painter.drawEllipse(centre, throw, throw)
        painter.drawLine(self._at((drive.stop_low_mm, 0)), self._at((drive.stop_high_mm, 0)))
        for mm in (drive.stop_low_mm, drive.stop_high_mm):
            painter.setPen(pen(tokens.soft, 2))
            painter.drawLine(self._at((mm, 0)) + QPointF(0, -9), self._at((mm, 0)) + QPointF(0, 9))
        self._wheel(painter, drive, made.wheel)
        for pose in made.poses[:0:-1]:
            painter.setPen(pen(tokens.hair, 2))
            painter.drawLine(self._at(pose.input), self._at(pose.output))
        first = made.poses[0]
        pin = self._at((made.centre[0] + first.pin[0], made.centre[1] + first.pin[1]))
        painter.setPen(pen(tokens.ink, 2.4))
        painter.drawLine(centre, pin)
        if drive.motion == "yoke":
            across = QPointF(throw + 8, 0)
            middle = QPointF(centre.x(), pin.y())
            painter.drawLine(middle - across, middle + across)
            painter.drawLine(middle, self._at(first.input))
        else:
            painter.drawLine(pin, self._at(first.input))
        painter.setPen(pen(tokens.ink, 3.2))
        painter.drawLine(self._at(first.input), self._at(first.output))
        painter.setPen(pen(tokens.ink, 2.4))
        painter.drawLine(self._at(first.output), self._at(made.nose))
        painter.setPen(pen(tokens.ink, 1.4))
        painter.setBrush(tokens.paper)
        for at in (centre, pin, self._at(first.input), self._at(first.output)):
            painter.drawEllipse(at, 4, 4)
        self._fulcrum(painter, drive)
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        at = centre + QPointF(-60, throw + 3)
        painter.drawText(
            QRectF(at.x(), at.y(), 120, 15),
            int(Qt.AlignmentFlag.AlignCenter),
            say("tab-machine.throw"),
        )
        at = self._at((made.nose[0], made.wheel[1] - drive.wheel_mm)) + QPointF(8, 3)
        painter.drawText(QRectF(at.x(), at.y(), 120, 15), 0, say("tab-machine.ratchet-wheel"))

    def _wheel(self, painter: QPainter, drive: LeverDrive, middle: tuple[float, float]) -> None:
        """Draw the ratchet wheel; teeth too fine for the screen are left a circle."""
        painter.setPen(pen(self.theme.tokens.ink, 1.2))
        painter.setBrush(self.theme.tokens.panel)
        centre, rim = self._at(middle), drive.wheel_mm * self._scale
        pitch = 2 * pi * rim / drive.teeth
        if pitch < 2.5:
            painter.drawEllipse(centre, rim, rim)
        else:
            points = []
            for n in range(drive.teeth):
                angle = pi - 2 * pi * n / drive.teeth
                for radius in (rim - 0.6 * pitch, rim):
                    points.append(centre + QPointF(cos(angle), -sin(angle)) * radius)
            painter.drawPolygon(QPolygonF(points))
        painter.setBrush(self.theme.tokens.paper)
        painter.drawEllipse(centre, 5, 5)

    def _fulcrum(self, painter: QPainter, drive: LeverDrive) -> None:
        tokens, at = self.theme.tokens, self._at((drive.fulcrum_mm, 0.0))
        painter.setPen(pen(tokens.run, 1.4))
        painter.setBrush(tokens.run)
        painter.drawPolygon(QPolygonF([at, at + QPointF(-11, 19), at + QPointF(11, 19)]))
        painter.setBrush(tokens.paper)
        painter.drawEllipse(at, 5, 5)
        painter.setFont(figure_font("tab"))
        painter.drawText(
            QRectF(at.x() - 90, at.y() + 22, 180, 16),
            int(Qt.AlignmentFlag.AlignCenter),
            f"{bare(in_mm(drive.fulcrum_mm, 1))} : {in_mm(arms_mm(drive)[1], 1)}",
        )

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        drive = self.drive()
        if event is None or drive is None or event.button() != Qt.MouseButton.LeftButton:
            return
        if self._over(event.position()):
            self.held_mm = drive.fulcrum_mm
            self.setCursor(Qt.CursorShape.ClosedHandCursor)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.evaluation is None:
            return
        drive = self.evaluation.vehicle.stepless
        if drive is None:
            return
        if self.held_mm is None:
            over = self._over(event.position())
            self.setCursor(Qt.CursorShape.OpenHandCursor if over else Qt.CursorShape.ArrowCursor)
            return
        mm = (event.position().x() - self._zero.x()) / self._scale
        self.held_mm = min(max(round(mm, 1), drive.stop_low_mm), drive.stop_high_mm)
        self.update()

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        held, self.held_mm = self.held_mm, None
        if held is not None:
            self.unsetCursor()
            self.slid.emit(held)
            self.update()

    def _over(self, at: QPointF) -> bool:
        off = at - self.fulcrum_at()
        return abs(off.x()) <= GRIP_PX and -GRIP_PX <= off.y() <= 2 * GRIP_PX

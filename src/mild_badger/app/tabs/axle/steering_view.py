"""The steering seen from above, and its error over the travel; arms and rack can be dragged."""

from collections.abc import Iterator

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPolygonF

from mild_badger.app.drawing.handles import HandlePaper
from mild_badger.app.drawing.marks import pen
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.axle.running import running_of
from mild_badger.core.axle.steering import SteeringResult, SteerState, arm_to, tyre_corners
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say
from mild_badger.core.words import signed

__all__ = ["SteeringView"]

CHART = 110.0


class SteeringView(HandlePaper):
    """Ahead is up. Drag a ball joint: the arm's end, or the rack's.

    Signals
    -------
    arm_moved : length in mm and angle in degrees of an arm
    rack_moved : distance between the rack's joints and its offset, in mm
    """

    arm_moved = pyqtSignal(float, float)
    rack_moved = pyqtSignal(float, float)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-axle.steering-seen-from-above"))
        self.setMinimumSize(300, 240)
        self.result: SteeringResult | None = None
        self.state: SteerState | None = None
        self._scale, self._origin = 1.0, QPointF()

    def show_state(
        self, evaluation: Evaluation, result: SteeringResult, state: SteerState | None
    ) -> None:
        """Show the steering at one place of its rack."""
        self.result, self.state = result, state
        self.show_evaluation(evaluation)

    def words(self) -> str:
        if self.state is None or self.result is None:
            return self.result.problem if self.result is not None else ""
        state = self.state
        return say(
            "tab-axle.left-right-rack",
            left_deg=state.left_deg,
            right_deg=state.right_deg,
            rack_mm=state.rack_mm,
        )

    def joint(self, name: str) -> QPointF:
        """Where the right-hand arm's end or rack joint is drawn, in the widget's pixels."""
        if self.state is None:
            return QPointF()
        end, rack = self.state.joints[1]
        return self._at(*(end if name == "arm" else rack))

    def _at(self, x: float, y: float) -> QPointF:
        return QPointF(x, -y) * self._scale + self._origin

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        tokens, vehicle = self.theme.tokens, evaluation.vehicle
        running = running_of(vehicle)
        half = vehicle.axle.track_mm / 2
        wheel, width = vehicle.wheels.diameter_mm, running.chassis.tyre_width_mm
        room = QRectF(self.rect()).adjusted(12, 12, -12, -CHART - 12)
        self._scale = min(room.width() / (2 * half + 2 * width), room.height() / (wheel * 1.35))
        self._origin = room.center()
        kingpin = half - running.steering.kingpin_mm
        painter.setPen(pen(tokens.hair, 1))
        painter.drawLine(self._at(-half, 0), self._at(half, 0))
        side = running.chassis.half_width_mm
        painter.setPen(pen(tokens.soft, 1.2))
        for x in (-side, side):
            painter.drawLine(self._at(x, wheel * 0.62), self._at(x, -wheel * 0.62))
        if self.state is None or self.result is None:
            painter.setPen(tokens.bad)
            painter.setFont(text_font("lead"))
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(self.rect().adjusted(24, 8, -24, -8), int(flags), self.words())
            return
        for sign, turned in ((-1, self.state.left_deg), (1, self.state.right_deg)):
            corners = [
                self._at(sign * kingpin + x, y)
                for x, y in tyre_corners(vehicle, running.steering, sign, turned)
            ]
            painter.setPen(pen(tokens.ink, 1.6))
            painter.setBrush(tokens.panel)
            painter.drawPolygon(QPolygonF(corners))
        for sign, (end, rack) in zip((-1, 1), self.state.joints, strict=True):
            painter.setPen(pen(tokens.ink, 3))
            painter.drawLine(self._at(sign * kingpin, 0), self._at(*end))
            painter.setPen(pen(tokens.run, 2.2))
            painter.drawLine(self._at(*end), self._at(*rack))
            painter.setBrush(tokens.paper)
            for spot in (self._at(sign * kingpin, 0), self._at(*end), self._at(*rack)):
                painter.drawEllipse(spot, 4, 4)
        left, right = (joints[1] for joints in self.state.joints)
        painter.setPen(pen(tokens.ink, 3))
        painter.drawLine(self._at(*left), self._at(*right))
        painter.setBrush(tokens.ink)
        pinion = running.steering.pinion_teeth * vehicle.kit.module_mm / 2 * self._scale
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen(tokens.ink, 1.2))
        painter.drawEllipse(self._at(0, running.steering.rack_offset_mm), pinion, pinion)
        painter.setFont(figure_font("tab"))
        painter.setPen(tokens.ink)
        for sign, turned in ((-1, self.state.left_deg), (1, self.state.right_deg)):
            at = self._at(sign * half, wheel * 0.62)
            words = f"{signed(turned, '+.1f')}°"
            box = QRectF(at.x() - 40, max(at.y() - 8, 4), 80, 18)
            painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), words)
        self._chart(painter, self.result, self.state)
        self.draw_held(painter)

    def _chart(self, painter: QPainter, result: SteeringResult, state: SteerState) -> None:
        """Draw the outer wheel's error against the rack's place."""
        tokens = self.theme.tokens
        box = QRectF(44, self.height() - CHART, self.width() - 60, CHART - 30)
        most = max(abs(result.worst_error_deg), 1.0)
        travel = max(result.rack_travel_mm, 1e-6)

        def at(rack: float, error: float) -> QPointF:
            return QPointF(
                box.center().x() + rack / travel * box.width() / 2,
                box.center().y() - error / most * box.height() / 2,
            )

        painter.setPen(pen(tokens.hair, 1))
        painter.drawRect(box)
        painter.drawLine(at(-travel, 0), at(travel, 0))
        painter.setPen(pen(tokens.run, 2.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF([at(s.rack_mm, s.error_deg) for s in result.states]))
        painter.drawEllipse(at(state.rack_mm, state.error_deg), 4, 4)
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        right = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        for value in (most, -most):
            where = at(-travel, value)
            painter.drawText(QRectF(0, where.y() - 8, 40, 16), right, f"{signed(value, '+.1f')}°")
        painter.drawText(
            QPointF(box.left(), self.height() - 10),
            say("tab-axle.outer-wheels-angle-beyond-the-ideal-one-from"),
        )

    def handles(self) -> Iterator[tuple[str, QPointF]]:
        """Give the right-hand arm's end and the rack's joint."""
        if self.state is not None:
            for name in ("arm", "rack"):
                yield name, self.joint(name)

    def dropped(self, name: str, here: QPointF) -> None:
        """Send the arm or the rack that a joint's new place makes."""
        if self.evaluation is None:
            return
        apart = here - self._origin
        x, y = apart.x() / self._scale, -apart.y() / self._scale
        if name == "rack":
            self.rack_moved.emit(round(2 * abs(x), 1), round(y, 1))
            return
        vehicle = self.evaluation.vehicle
        length, lean = arm_to(vehicle, running_of(vehicle).steering, (x, y))
        self.arm_moved.emit(round(length, 1), round(lean, 1))

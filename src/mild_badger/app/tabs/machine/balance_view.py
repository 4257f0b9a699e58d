"""The machine from above, its boom to be dragged round; beside it what may hang at each reach."""

from math import atan2, cos, degrees, hypot, inf, radians, sin, sqrt

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPolygonF

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import elided, pen
from mild_badger.app.tabs.machine.chart import Chart, draw_chart
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import KG, in_kg, in_mm, in_n
from mild_badger.core.mechanisms.balance.describe import describe_balance
from mild_badger.core.mechanisms.balance.figures import BalanceFigures, balance_figures, with_boom
from mild_badger.core.mechanisms.balance.model import Balance
from mild_badger.core.mechanisms.balance.statics import Stability, behind_mm, spots
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["BalanceView"]

EMPTY = say("tab-machine.no-balance-is-planned-press-add-balance-plan")
GRIP_PX = 18.0
MARGIN_PX = 34.0
SAYS_PX, SIDE_PX, NARROW_PX = 84.0, 210.0, 450
CENTRE = int(Qt.AlignmentFlag.AlignCenter)


class BalanceView(Canvas):
    """The carriage follows the mouse; the document is edited when the button comes up.

    Signals
    -------
    moved : slew in degrees and reach in mm where the carriage was let go
    """

    moved = pyqtSignal(float, float)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-machine.balance"))
        self.setMinimumSize(330, 180)
        self.setMouseTracking(True)
        self.held: tuple[float, float] | None = None
        self._zero, self._scale, self._side = QPointF(), 1.0, SIDE_PX

    def show_evaluation(self, evaluation: Evaluation) -> None:
        """Show a vehicle's balance where its boom stands."""
        self.held = None
        super().show_evaluation(evaluation)

    def vehicle(self) -> Vehicle | None:
        """Give the vehicle as it is seen: with the boom where the mouse holds it."""
        if self.evaluation is None or self.evaluation.vehicle.balance is None:
            return None
        vehicle = self.evaluation.vehicle
        return vehicle if self.held is None else with_boom(vehicle, *self.held)

    def words(self) -> str:
        vehicle = self.vehicle()
        return EMPTY if vehicle is None else describe_balance(vehicle)

    def _at(self, x: float, y: float) -> QPointF:
        """Place a point of the ground: ahead is right, left is up."""
        return QPointF(self._zero.x() + x * self._scale, self._zero.y() - y * self._scale)

    def carriage_at(self) -> QPointF:
        """Give where the carriage is on the screen."""
        vehicle = self.vehicle()
        balance = vehicle.balance if vehicle is not None else None
        if balance is None:
            return QPointF()
        turn = radians(balance.slew_deg)
        return self._at(balance.reach_mm * cos(turn), balance.reach_mm * sin(turn))

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        vehicle = self.vehicle()
        figures = balance_figures(vehicle) if vehicle is not None else None
        if vehicle is None or figures is None or vehicle.balance is None:
            self.say_instead(painter, EMPTY)
            return
        balance = vehicle.balance
        self._side = SIDE_PX if self.width() >= NARROW_PX else SIDE_PX * 0.82
        room = QRectF(0, 0, self.width() - self._side, self.height())
        reach = max(
            balance.reach_high_mm,
            hypot(figures.ground.front, figures.ground.half),
            hypot(figures.ground.rear, figures.ground.half),
        )
        self._scale = (min(room.width(), room.height()) - 2 * MARGIN_PX) / (2 * reach)
        self._zero = room.center()
        self._stand(painter, balance, figures)
        self._boom(painter, balance, figures)
        self._centres(painter, figures)
        self._feet(painter, figures)
        self._says(painter, balance, figures)
        allowed, tips = figures.charted(balance.load_kg)
        kilograms = [(in_kg(kg, 2), kg) for kg in (figures.chart.allowed_kg[-1],) if kg < inf]
        side = QRectF(room.right(), SAYS_PX, self._side, self.height() - SAYS_PX)
        chart = Chart(
            say("tab-machine.load-allowed-all-round", kg=KG),
            "mm",
            allowed,
            balance.reach_mm,
            [(kg, words) for words, kg in kilograms],
            tips,
            balance.load_kg,
        )
        draw_chart(painter, self.theme.tokens, side, chart)

    def _stand(self, painter: QPainter, balance: Balance, figures: BalanceFigures) -> None:
        tokens, ground = self.theme.tokens, figures.ground
        painter.setBrush(tokens.panel)
        painter.setPen(pen(tokens.ink, 1.6))
        front_left, front_right, rear_left, rear_right = (self._at(*c) for c in ground.corners)
        painter.drawPolygon(QPolygonF([front_left, front_right, rear_right, rear_left]))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen(tokens.hair, 1.2, dashed=True))
        for mm in (balance.reach_low_mm, balance.reach_high_mm):
            painter.drawEllipse(self._zero, mm * self._scale, mm * self._scale)

    def _boom(self, painter: QPainter, balance: Balance, figures: BalanceFigures) -> None:
        tokens, turn = self.theme.tokens, radians(balance.slew_deg)

        def along(mm: float) -> QPointF:
            return self._at(mm * cos(turn), mm * sin(turn))

        behind = behind_mm(balance, figures.share)
        painter.setPen(pen(tokens.ink, 3.2))
        painter.drawLine(along(-max(behind, 0.0)), along(balance.reach_high_mm))
        painter.setPen(pen(tokens.ink, 1.2))
        painter.setBrush(tokens.paper)
        painter.drawEllipse(self._zero, 7, 7)
        *masses, load = spots(balance, figures.share)
        heaviest = max(spot.mass_kg for spot in (*masses, load)) or 1.0
        for spot in masses:
            if not spot.mass_kg:
                continue
            at, size = self._at(spot.x, spot.y), 3 + 9 * sqrt(spot.mass_kg / heaviest)
            painter.setBrush(tokens.soft)
            painter.setPen(pen(tokens.paper, 1.0))
            painter.drawRect(QRectF(at.x() - size / 2, at.y() - size / 2, size, size))
        at = self.carriage_at()
        painter.setPen(pen(tokens.run, 1.6))
        painter.setBrush(tokens.run)
        painter.drawEllipse(at, 8, 8)
        painter.setFont(text_font("small"))
        painter.drawText(QRectF(at.x() - 60, at.y() + 10, 120, 16), CENTRE, in_kg(balance.load_kg))

    def _centres(self, painter: QPainter, figures: BalanceFigures) -> None:
        """Mark where the weight falls, loaded and empty, and the way from there to the edge."""
        tokens = self.theme.tokens
        for stand, filled in ((figures.here_empty, False), (figures.here, True)):
            color = tokens.good if stand.margin_mm >= 0 else tokens.bad
            at = self._at(*stand.centre)
            painter.setPen(pen(color, 1.8))
            painter.setBrush(color if filled else Qt.BrushStyle.NoBrush)
            painter.drawEllipse(at, 6, 6)
            for across in (QPointF(11, 0), QPointF(0, 11)):
                painter.drawLine(at - across, at + across)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        foot = self._edge_point(figures, figures.here)
        painter.setPen(
            pen(tokens.good if figures.here.margin_mm >= 0 else tokens.bad, 1.4, dashed=True)
        )
        painter.drawLine(self._at(*figures.here.centre), foot)

    def _edge_point(self, figures: BalanceFigures, stand: Stability) -> QPointF:
        x, y, ground = *stand.centre, figures.ground
        return {
            "front": self._at(ground.front, y),
            "rear": self._at(ground.rear, y),
            "left": self._at(x, ground.half),
            "right": self._at(x, -ground.half),
        }.get(stand.edge, self._at(x, y))

    def _feet(self, painter: QPainter, figures: BalanceFigures) -> None:
        tokens = self.theme.tokens
        painter.setFont(figure_font("text"))
        for (x, y), force in zip(figures.ground.corners, figures.here.feet_n, strict=True):
            at = self._at(x, y)
            painter.setPen(pen(tokens.ink, 1.4))
            painter.setBrush(tokens.paper if force > 0 else tokens.bad)
            painter.drawRect(QRectF(at.x() - 6, at.y() - 6, 12, 12))
            painter.setPen(tokens.ink if force > 0 else tokens.bad)
            high = at.y() - 26 if y > 0 else at.y() + 9
            painter.drawText(
                QRectF(at.x() - 50, high, 100, 16),
                CENTRE,
                in_n(force, 1) if force > 0 else say("tab-machine.lifts"),
            )
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _says(self, painter: QPainter, balance: Balance, figures: BalanceFigures) -> None:
        tokens, here = self.theme.tokens, figures.here
        tips = here.margin_mm < 0
        painter.setFont(figure_font("tab"))
        painter.setPen(tokens.bad if tips else tokens.ink)
        stands = (
            "tips"
            if tips
            else (
                say("tab-machine.nothing-tips-it")
                if here.factor == inf
                else say("tab-machine.what-tips-it", factor=here.factor)
            )
        )
        left, wide = self.width() - self._side + 14, self._side - 18
        painter.drawText(QRectF(left, 8, wide, 20), 0, elided(stands, painter.font(), wide))
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        lines = (
            say("tab-machine.to-its-edge", margin_mm=in_mm(here.margin_mm, 0), edge=here.edge),
            say(
                "tab-machine.boom-at-reach",
                slew_deg=balance.slew_deg,
                reach_mm=in_mm(balance.reach_mm, 0),
            ),
            say("tab-machine.front-is-right-open-cross-no-load"),
        )
        for number, words in enumerate(lines):
            short = elided(words, painter.font(), wide)
            painter.drawText(QRectF(left, 30 + 16 * number, wide, 16), 0, short)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        vehicle = self.vehicle()
        if event is None or vehicle is None or event.button() != Qt.MouseButton.LeftButton:
            return
        balance = vehicle.balance
        if balance is not None and self._over(event.position()):
            self.held = (balance.slew_deg, balance.reach_mm)
            self.setCursor(Qt.CursorShape.ClosedHandCursor)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.evaluation is None or self.evaluation.vehicle.balance is None:
            return
        if self.held is None:
            over = self._over(event.position())
            self.setCursor(Qt.CursorShape.OpenHandCursor if over else Qt.CursorShape.ArrowCursor)
            return
        off = event.position() - self._zero
        self.held = (
            degrees(atan2(-off.y(), off.x())) % 360.0,
            hypot(off.x(), off.y()) / self._scale,
        )
        self.update()

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        held, self.held = self.held, None
        if held is not None:
            self.unsetCursor()
            self.moved.emit(*held)
            self.update()

    def _over(self, at: QPointF) -> bool:
        off = at - self.carriage_at()
        return hypot(off.x(), off.y()) <= GRIP_PX

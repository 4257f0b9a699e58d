"""The driven axle in plan: wheels, differential, tyre paths, to scale."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import elided, pen, square_grid
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.axle.road_state import HeldWheel, LiftedWheel, Turn, wheel_path
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say
from mild_badger.core.vehicle.shifting import Side
from mild_badger.core.words import signed

__all__ = ["AxlePlan"]


class AxlePlan(Canvas):
    """Seen from above, driving up the sheet."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setMinimumSize(300, 220)

    def words(self) -> str:
        return self.evaluation.axle.summary if self.evaluation else ""

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        tokens = self.theme.tokens
        vehicle = evaluation.vehicle
        track, wheel = vehicle.axle.track_mm, vehicle.wheels.diameter_mm
        scale = min(self.width() / (track * 2.9), (self.height() - 40) / (track * 2.1 + wheel))
        middle = QPointF(self.width() / 2, self.height() - 30 - wheel / 2 * scale)

        def at(x: float, y: float) -> QPointF:
            return middle + QPointF(x * scale, -y * scale)

        painter.save()
        painter.setClipRect(self.rect().adjusted(1, 1, -1, -1))
        unit = vehicle.kit.grid_unit_mm * scale
        square = 1 if unit >= 14 else 5
        square_grid(painter, self.theme.tokens, QRectF(self.rect()), middle, unit * square)
        sides: tuple[Side, Side] = ("left", "right")
        for side in sides:
            points = wheel_path(vehicle, evaluation.situation.road, side)
            self._path(painter, [at(*point) for point in points])
        self._mechanism(painter, evaluation, scale, middle)
        painter.restore()
        for side, sign in zip(sides, (-1, 1), strict=True):
            self._figures(painter, evaluation, side, at(sign * track / 2, 0))
        painter.setPen(tokens.soft)
        painter.setFont(text_font("small"))
        painter.drawText(
            QPointF(12, self.height() - 10),
            say("tab-axle.to-scale-1-square-u-seen-from-above-ahead-is", square=square),
        )
        self._describe_turn(painter, evaluation)

    def _path(self, painter: QPainter, points: list[QPointF]) -> None:
        painter.setPen(pen(self.theme.tokens.soft, 1.6, dashed=True))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF(points))

    def _mechanism(
        self, painter: QPainter, evaluation: Evaluation, scale: float, middle: QPointF
    ) -> None:
        tokens, vehicle = self.theme.tokens, evaluation.vehicle
        track, wheel = vehicle.axle.track_mm, vehicle.wheels.diameter_mm
        final, module = vehicle.final_drive, vehicle.kit.module_mm
        crown = final.crown * module / 2 * scale
        pinion = final.pinion * module / 2 * scale
        half = track / 2 * scale
        driven = evaluation.axle.housing_rpm is not None
        accent = tokens.run if driven else tokens.ink
        painter.setPen(pen(accent, 2.2 if driven else 1.6))
        painter.drawLine(middle - QPointF(half, 0), middle + QPointF(half, 0))
        # propeller shaft from ahead, pinion, and the crown wheel on its side
        painter.drawLine(middle - QPointF(0, crown + 70), middle - QPointF(0, crown))
        painter.setBrush(tokens.paper)
        side = -1 if final.crown_side == "left" else 1
        painter.drawPolygon(
            QPolygonF(
                [
                    middle + QPointF(-pinion, -crown - 7),
                    middle + QPointF(pinion, -crown - 7),
                    middle + QPointF(pinion * 0.7, -crown + 5),
                    middle + QPointF(-pinion * 0.7, -crown + 5),
                ]
            )
        )
        painter.drawRect(
            QRectF(
                min(side * (pinion + 1), side * (pinion + 11)) + middle.x(),
                middle.y() - crown,
                10,
                2 * crown,
            )
        )
        cage = max(pinion * 0.9, 12.0)
        painter.drawRect(QRectF(middle.x() - cage, middle.y() - cage, 2 * cage, 2 * cage))
        if evaluation.vehicle.differential.kind == "open":
            for sign in (-1, 1):
                painter.drawLine(
                    middle + QPointF(-cage * sign, -cage), middle + QPointF(cage * sign, cage)
                )
        if evaluation.situation.locked:
            painter.fillRect(QRectF(middle.x() - 5, middle.y() - 5, 10, 10), tokens.run)
        road = evaluation.situation.road
        for name, sign in (("left", -1), ("right", 1)):
            tyre = QRectF(0, 0, max(wheel * 0.34 * scale, 8), wheel * scale)
            tyre.moveCenter(middle + QPointF(sign * half, 0))
            held = isinstance(road, HeldWheel) and road.side == name
            lifted = isinstance(road, LiftedWheel) and road.side == name
            painter.setPen(pen(tokens.ink, 1.6, dashed=lifted))
            painter.setBrush(tokens.hair if held else tokens.panel)
            painter.drawRoundedRect(tyre, 4, 4)
            if held:
                painter.drawLine(tyre.topLeft(), tyre.bottomRight())
                painter.drawLine(tyre.topRight(), tyre.bottomLeft())

    def _figures(
        self, painter: QPainter, evaluation: Evaluation, side: Side, centre: QPointF
    ) -> None:
        tokens, axle = self.theme.tokens, evaluation.axle
        sign = -1 if side == "left" else 1
        share = axle.left_share if side == "left" else axle.right_share
        rpm = axle.left_rpm if side == "left" else axle.right_rpm
        words = (
            "stalls"
            if axle.stalls
            else say("tab-axle.free")
            if share is None
            else f"× {signed(float(share), '.3f')}"
        )
        x = centre.x() + sign * 26 - (86 if sign < 0 else 0)
        x = min(max(x, 8.0), self.width() - 94.0)
        y = centre.y() - 14
        box = QRectF(x, y - 6, 86, 44)
        painter.setPen(pen(tokens.ink, 1))
        painter.setBrush(tokens.paper)
        painter.drawRoundedRect(box, 2, 2)
        painter.setFont(figure_font("tab"))
        flags = int(Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop)
        painter.drawText(box.adjusted(2, 4, -2, 0), flags, words)
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        under = (
            say("tab-axle.wheel", side=side)
            if rpm is None
            else say("tab-axle.rpm", rpm=signed(rpm, ".0f"))
        )
        painter.drawText(box.adjusted(2, 25, -2, 0), flags, under)

    def _describe_turn(self, painter: QPainter, evaluation: Evaluation) -> None:
        road = evaluation.situation.road
        painter.setPen(self.theme.tokens.ink)
        painter.setFont(figure_font("tab"))
        words = evaluation.axle.summary
        if isinstance(road, Turn):
            arrow = "←" if road.towards == "left" else "→"
            words = f"{arrow} {words}"
        painter.drawText(QPointF(14, 24), elided(words, painter.font(), self.width() - 28.0))

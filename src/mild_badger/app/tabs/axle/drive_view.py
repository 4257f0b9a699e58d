"""All driven axles in plan: shafts, pinions, crown wheels on their sides, which way wheels go."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import pen
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Differential

__all__ = ["DriveView"]


class DriveView(Canvas):
    """Seen from above, ahead is up."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-axle.driven-axles-from-above"))
        self.setMinimumSize(150, 200)

    def words(self) -> str:
        if self.evaluation is None:
            return ""
        rows = self.evaluation.axle.rows
        return "; ".join(f"{row.name}: {_way(row.left_rpm)}" for row in rows)

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        vehicle = evaluation.vehicle
        final = vehicle.final_drive
        axles = [(0.0, final.pinion, final.crown, final.crown_side, "front", vehicle.differential)]
        axles += [
            (a.ahead_mm, a.pinion, a.crown, a.crown_side, a.pinion_from, a.differential)
            for a in vehicle.additional_axles
        ]
        places = [axle[0] for axle in axles]
        wheel, track = vehicle.wheels.diameter_mm, vehicle.axle.track_mm
        low, high = min(places) - 1.4 * wheel, max(*places, vehicle.axle.wheelbase_mm) + wheel
        scale = min((self.width() - 40) / (track * 1.4), (self.height() - 30) / (high - low))
        middle = QPointF(self.width() / 2, self.height() - 16 + low * scale)
        rows = evaluation.axle.rows
        for (ahead, pinion, crown, side, from_, kind), row in zip(axles, rows, strict=True):
            at = middle - QPointF(0, ahead * scale)
            self._axle(painter, at, track * scale / 2, kind)
            self._gears(painter, at, (pinion, crown), side, from_ == "front")
            for sign, rpm in ((-1, row.left_rpm), (1, row.right_rpm)):
                spot = at + QPointF(sign * track * scale / 2, 0)
                self._wheel(painter, spot, wheel * scale, rpm)
            painter.setFont(text_font("small"))
            painter.setPen(self.theme.tokens.soft)
            name = QRectF(4, at.y() + wheel * scale / 2 + 2, self.width() - 8, 16)
            painter.drawText(name, int(Qt.AlignmentFlag.AlignHCenter), row.name)

    def _axle(self, painter: QPainter, at: QPointF, half: float, kind: Differential) -> None:
        tokens = self.theme.tokens
        painter.setPen(pen(tokens.ink, 1.6))
        left = half if kind.kind != "none" or kind.driven_side == "left" else 0
        right = half if kind.kind != "none" or kind.driven_side == "right" else 0
        painter.drawLine(at - QPointF(left, 0), at + QPointF(right, 0))
        painter.setBrush(tokens.paper)
        box = QRectF(at.x() - 9, at.y() - 9, 18, 18)
        painter.drawRect(box)
        if kind.kind == "open":
            painter.drawLine(box.topLeft(), box.bottomRight())
            painter.drawLine(box.topRight(), box.bottomLeft())
        elif kind.kind == "planetary":
            painter.drawEllipse(at, 6, 6)

    def _gears(
        self, painter: QPainter, at: QPointF, teeth: tuple[int, int], side: str, ahead: bool
    ) -> None:
        """Draw pinion and crown wheel; the pinion stands ahead of the axle or behind it."""
        tokens = self.theme.tokens
        way = -1 if ahead else 1
        sign = -1 if side == "left" else 1
        rim = 16.0
        small = rim * teeth[0] / teeth[1]
        painter.setPen(pen(tokens.run, 2.2))
        painter.setBrush(tokens.paper)
        painter.drawRect(QRectF(at.x() + sign * (small + 4) - 2.5, at.y() - rim, 5, 2 * rim))
        near, far = at.y() + way * (rim - 5), at.y() + way * (rim + 5)
        painter.drawPolygon(
            QPolygonF(
                [
                    QPointF(at.x() - small, far),
                    QPointF(at.x() + small, far),
                    QPointF(at.x() + small * 0.7, near),
                    QPointF(at.x() - small * 0.7, near),
                ]
            )
        )
        painter.drawLine(QPointF(at.x(), far), QPointF(at.x(), far + way * 22))

    def _wheel(self, painter: QPainter, at: QPointF, size: float, rpm: float | None) -> None:
        tokens = self.theme.tokens
        tyre = QRectF(at.x() - size * 0.17, at.y() - size / 2, size * 0.34, size)
        painter.setPen(pen(tokens.ink, 1.6))
        painter.setBrush(tokens.panel)
        painter.drawRoundedRect(tyre, 4, 4)
        if not rpm:
            return
        way = -1 if rpm > 0 else 1
        color = tokens.run if rpm > 0 else tokens.back
        painter.setPen(pen(color, 2.2))
        tip = at + QPointF(0, way * size * 0.32)
        painter.drawLine(at - QPointF(0, way * size * 0.3), tip)
        for aside in (-4, 4):
            painter.drawLine(tip, tip + QPointF(aside, -way * 6))


def _way(rpm: float | None) -> str:
    if not rpm:
        return say("tab-axle.stands-or-is-free")
    return say("tab-axle.forwards") if rpm > 0 else say("tab-axle.backwards")

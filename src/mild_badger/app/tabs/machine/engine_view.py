"""The display engine: cylinders side by side, the throws end on, two turns of firing."""

from math import cos, radians, sin

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import pen
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.mechanisms.display.engine import PistonPose, poses
from mild_badger.core.mechanisms.display.result import DisplayResult
from mild_badger.core.message import say
from mild_badger.core.words import signed

__all__ = ["EngineView"]

EMPTY = say("tab-machine.this-model-has-no-display-engine-press-add")


class EngineView(Canvas):
    """Drawn to one scale; what was glued wrong is dashed over what was meant."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-machine.display-engine"))
        self.setMinimumSize(320, 260)
        self.result: DisplayResult | None = None
        self.angle = 0.0

    def show_engine(self, evaluation: Evaluation, result: DisplayResult | None) -> None:
        """Show an engine in a gear."""
        self.result = result
        self.show_evaluation(evaluation)

    def turn_to(self, angle: float) -> None:
        """Turn the crank."""
        self.angle = angle % 720.0
        self.update()

    def words(self) -> str:
        if self.result is None:
            return EMPTY
        return " ".join((self.result.summary, *(wrong.words for wrong in self.result.wrong)))

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        result = self.result
        if result is None:
            self.say_instead(painter, EMPTY)
            return
        try:
            pistons = poses(result.engine, self.angle)
        except ValueError as error:
            self.say_instead(painter, f"{error}.")
            return
        foot = 84.0
        star = min(210.0, self.width() * 0.32)
        rows = QRectF(14, 14, self.width() - star - 34, self.height() - foot - 20)
        self._cylinders(painter, pistons, rows)
        self._star(painter, QRectF(self.width() - star - 10, 14, star, self.height() - foot - 20))
        self._dial(painter, QRectF(24, self.height() - foot + 8, self.width() - 48, foot - 22))

    def _cylinders(self, painter: QPainter, pistons: tuple[PistonPose, ...], room: QRectF) -> None:
        """Draw the cylinders in a row, each with its piston as high as it stands."""
        tokens, result = self.theme.tokens, self.result
        if result is None:
            return
        engine = result.engine
        step = room.width() / len(pistons)
        reach = 2 * engine.throw_mm
        scale = min(room.height() * 0.34 / reach, step * 0.62 / engine.bore_mm)
        base = room.bottom() - 44
        firing = result.firing.fires_at(self.angle)
        for number, pose in enumerate(pistons):
            x = room.left() + (number + 0.5) * step
            wide, high = engine.bore_mm * scale, reach * scale
            rod = engine.rod_mm * scale * 0.55
            top = base - rod - high - wide * 0.4
            piston = top + pose.share * high
            pin = (
                base
                - engine.throw_mm
                * scale
                * cos(radians(self.angle + engine.throws_deg[number] - pose.bank_deg))
                * 0.5
            )
            painter.setPen(pen(tokens.soft, 1.4))
            for side in (-1, 1):
                painter.drawLine(
                    QPointF(x + side * (wide / 2 + 2), top - 8),
                    QPointF(x + side * (wide / 2 + 2), top + high + wide * 0.5),
                )
            painter.drawLine(QPointF(x - wide / 2 - 2, top - 8), QPointF(x + wide / 2 + 2, top - 8))
            painter.setPen(pen(tokens.ink, 2.2))
            painter.drawLine(QPointF(x, piston + wide * 0.3), QPointF(x, pin))
            lit = pose.cylinder == firing
            painter.setPen(pen(tokens.run if lit else tokens.ink, 1.2))
            painter.setBrush(tokens.run if lit else tokens.panel)
            painter.drawRect(QRectF(x - wide / 2, piston, wide, wide * 0.6))
            painter.setBrush(tokens.paper)
            painter.drawEllipse(QPointF(x, pin), 4, 4)
            painter.setFont(figure_font("tab"))
            painter.setPen(tokens.run if lit else tokens.ink)
            words = str(pose.cylinder)
            painter.drawText(
                QRectF(x - 30, base + 24, 60, 18), int(Qt.AlignmentFlag.AlignCenter), words
            )
            if pose.bank_deg:
                painter.setFont(text_font("small"))
                painter.setPen(tokens.soft)
                lean = f"{signed(pose.bank_deg, '+g')}°"
                painter.drawText(
                    QRectF(x - 30, top - 26, 60, 14), int(Qt.AlignmentFlag.AlignCenter), lean
                )
        painter.setPen(pen(tokens.hair, 3))
        painter.drawLine(QPointF(room.left(), base), QPointF(room.right(), base))

    def _star(self, painter: QPainter, room: QRectF) -> None:
        """Draw the throws as seen along the crank, and dashed what was glued."""
        tokens, result = self.theme.tokens, self.result
        if result is None:
            return
        engine = result.engine
        centre = room.center()
        radius = min(room.width(), room.height()) / 2 - 40
        painter.setPen(pen(tokens.hair, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(centre, radius, radius)
        names: dict[float, list[int]] = {}
        for number, throw in enumerate(engine.throws_deg, start=1):
            names.setdefault(throw % 360.0, []).append(number)
        for throw, numbers in names.items():
            turn = radians(self.angle + throw)
            way = QPointF(sin(turn), -cos(turn))
            painter.setPen(pen(tokens.ink, 2.2))
            painter.drawLine(centre, centre + way * radius)
            painter.setBrush(tokens.paper)
            painter.drawEllipse(centre + way * radius, 5, 5)
            painter.setFont(figure_font("tab"))
            painter.setPen(tokens.ink)
            at = centre + way * (radius + 16 + 12 * abs(way.x()))
            painter.drawText(
                QRectF(at.x() - 30, at.y() - 9, 60, 18),
                int(Qt.AlignmentFlag.AlignCenter),
                ", ".join(map(str, numbers)),
            )
        for wrong in result.wrong:
            turn = radians(self.angle + wrong.made_deg)
            painter.setPen(pen(tokens.bad, 2.2, dashed=True))
            painter.drawLine(centre, centre + QPointF(sin(turn), -cos(turn)) * radius)
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        words = (
            say("tab-machine.throws-dashed-as-glued")
            if result.wrong
            else say("tab-machine.throws-seen-along-it")
        )
        painter.drawText(
            QRectF(room.left(), room.bottom() - 14, room.width(), 14),
            int(Qt.AlignmentFlag.AlignCenter),
            words,
        )

    def _dial(self, painter: QPainter, room: QRectF) -> None:
        """Draw two turns of the crank as a line, with a mark where each cylinder fires."""
        tokens, result = self.theme.tokens, self.result
        if result is None:
            return
        fires = result.firing
        y = room.top() + 22
        painter.setPen(pen(tokens.hair, 2))
        painter.drawLine(QPointF(room.left(), y), QPointF(room.right(), y))
        for degrees in range(0, 721, 90):
            x = room.left() + room.width() * degrees / 720
            painter.setPen(pen(tokens.hair, 1))
            painter.drawLine(QPointF(x, y - 4), QPointF(x, y + 4))
            painter.setFont(text_font("small"))
            painter.setPen(tokens.soft)
            painter.drawText(
                QRectF(x - 24, y + 8, 48, 14), int(Qt.AlignmentFlag.AlignCenter), f"{degrees}°"
            )
        for cylinder, at in zip(fires.order, fires.angles_deg, strict=True):
            x = room.left() + room.width() * (at % 720) / 720
            painter.setPen(pen(tokens.run if fires.possible else tokens.bad, 2.2))
            painter.drawLine(QPointF(x, y - 8), QPointF(x, y + 5))
            painter.setFont(figure_font("tab"))
            painter.drawText(
                QRectF(x - 12, y - 28, 24, 18), int(Qt.AlignmentFlag.AlignCenter), str(cylinder)
            )
        x = room.left() + room.width() * ((self.angle - fires.start_deg) % 720) / 720
        painter.setPen(pen(tokens.ink, 1.4))
        painter.drawLine(QPointF(x, y - 14), QPointF(x, y + 14))

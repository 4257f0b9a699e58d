"""The saw-tooth: engine speed on the way up through the gears, real vehicle and model."""

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import elided, nice_step, pen
from mild_badger.app.shown import shown, units_in_force
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import KM_H, in_km_h, in_units
from mild_badger.core.message import say
from mild_badger.core.performance.chart import SawLeg
from mild_badger.core.words import signed

__all__ = ["SawTooth"]


class SawTooth(Canvas):
    """Engine speed in per cent of the shift speed against road speed at full size."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setMinimumHeight(150)
        self.setAccessibleName(say("tab-vehicle.saw-tooth-through-the-gears"))

    def show_evaluation(self, evaluation: Evaluation) -> None:
        """Show an evaluation's way up."""
        super().show_evaluation(evaluation)
        self.setToolTip(shown(self.words()))

    def words(self) -> str:
        if self.evaluation is None:
            return ""
        model = {leg.gear: leg for leg in self.evaluation.model_saw}
        lines = []
        for leg in self.evaluation.real_saw:
            mine = model.get(leg.gear)
            got = say("tab-vehicle.not-driven")
            if mine is not None:
                got = say(
                    "tab-vehicle.from-to",
                    from_percent=mine.from_percent,
                    to_km_h=in_km_h(mine.to_km_h, 1),
                )
            lines.append(
                say(
                    "tab-vehicle.gear-real-from-to-model",
                    gear_name=self.evaluation.vehicle.gear_name(leg.gear),
                    from_percent=leg.from_percent,
                    to_km_h=in_km_h(leg.to_km_h, 1),
                    got=got,
                )
            )
        return "\n".join(lines)

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        tokens = self.theme.tokens
        legs = (*evaluation.real_saw, *evaluation.model_saw)
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        real = evaluation.vehicle.real
        motor = evaluation.vehicle.motor
        for line, words in enumerate(
            (
                say(
                    "tab-vehicle.thin-the-real-vehicle-shifted-at-rpm-100",
                    shifts_at_rpm=real.shifts_at_rpm,
                ),
                say(
                    "tab-vehicle.heavy-the-model-at-full-size-shifted-at-rpm",
                    working_rpm=motor.working_rpm,
                ),
            )
        ):
            short = elided(words, painter.font(), self.width() - 20.0)
            painter.drawText(QPointF(12, 16 + 15 * line), short)
        if not legs:
            return
        top = max(leg.to_km_h for leg in legs) * 1.02
        high = max(110.0, *(leg.from_percent for leg in legs))
        plot = QRectF(46, 40, self.width() - 66.0, self.height() - 62.0)

        def at(speed: float, percent: float) -> QPointF:
            return QPointF(
                plot.left() + plot.width() * speed / top,
                plot.bottom() - plot.height() * percent / high,
            )

        unit = in_units(1.0, "km/h", units_in_force())
        step, value = nice_step(top * unit) / unit, 0.0
        while value <= top:
            painter.setPen(pen(tokens.hair, 0.8))
            painter.drawLine(at(value, 0), at(value, high))
            painter.setPen(tokens.soft)
            figure = signed(value * unit, ".3g") + (f" {KM_H}" if value == 0 else "")
            painter.drawText(at(value, 0) + QPointF(-4, 14), figure)
            value += step
        for percent in (50.0, 100.0):
            painter.setPen(pen(tokens.hair, 0.8, dashed=percent == 100))
            painter.drawLine(at(0, percent), at(top, percent))
            painter.setPen(tokens.soft)
            right = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            where = at(0, percent)
            painter.drawText(QRectF(0, where.y() - 7, 40, 14), right, f"{signed(percent, '.0f')} %")
        for saw, heavy in ((evaluation.real_saw, False), (evaluation.model_saw, True)):
            self._saw(painter, saw, evaluation, heavy=heavy, at=at)

    def _saw(
        self,
        painter: QPainter,
        saw: tuple[SawLeg, ...],
        evaluation: Evaluation,
        *,
        heavy: bool,
        at: Callable[[float, float], QPointF],
    ) -> None:
        tokens = self.theme.tokens
        last: QPointF | None = None
        for leg in saw:
            chosen = leg.gear == evaluation.situation.gear
            start, end = at(leg.from_km_h, leg.from_percent), at(leg.to_km_h, 100.0)
            color = tokens.run if heavy and chosen else tokens.ink if heavy else tokens.soft
            if last is not None:
                painter.setPen(pen(color, 1, dashed=True))
                painter.drawLine(last, start)
            painter.setPen(pen(color, (2.6 if chosen else 1.8) if heavy else 1))
            painter.drawLine(start, end)
            if heavy:
                painter.setFont(text_font("small", bold=chosen))
                painter.drawText(end + QPointF(-4, -5), evaluation.vehicle.gear_name(leg.gear)[:4])
            last = end

"""The speed ladder: how fast each gear is, the real vehicle's and the model's at full size."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import elided, nice_step, pen
from mild_badger.app.shown import shown, units_in_force
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import KM_H, bare, in_km_h, in_units
from mild_badger.core.message import say
from mild_badger.core.units import km_per_hour
from mild_badger.core.words import signed

__all__ = ["SpeedLadder"]


TICK_PX = 52
"""Least distance in px of figures along the axis."""


class SpeedLadder(Canvas):
    """One bar a gear, from rest to its speed; the mark is the real vehicle's at its limit."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setMinimumHeight(150)

    def show_evaluation(self, evaluation: Evaluation) -> None:
        """Show an evaluation's speeds."""
        super().show_evaluation(evaluation)
        self.setToolTip(shown(self.words()))

    def words(self) -> str:
        words: list[str] = []
        for gear in self.evaluation.gears if self.evaluation else ():
            got: str = say("tab-vehicle.not-driven")
            if gear.full_size_mm_s is not None:
                got = in_km_h(abs(km_per_hour(gear.full_size_mm_s)), 1)
            real = km_per_hour(gear.real_limit_mm_s)
            words.append(
                say(
                    "tab-vehicle.gear-model-real-vehicle",
                    name=gear.name,
                    got=got,
                    real=in_km_h(real, 1),
                )
            )
        return "\n".join(words)

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        tokens = self.theme.tokens
        gears = evaluation.gears
        speeds = [
            (
                None if g.full_size_mm_s is None else abs(km_per_hour(g.full_size_mm_s)),
                km_per_hour(g.real_limit_mm_s),
            )
            for g in gears
        ]
        top = max(max(real, got or 0.0) for got, real in speeds)
        painter.setFont(text_font("small"))
        labels = [
            shown(f"{'–' if got is None else bare(in_km_h(got, 0))} / {bare(in_km_h(real, 0))}")
            for got, real in speeds
        ]
        wide = max(painter.fontMetrics().horizontalAdvance(label) for label in labels)
        left, right, head, foot = 46.0, self.width() - wide - 16.0, 40.0, self.height() - 20.0
        painter.setPen(tokens.soft)
        scale = evaluation.vehicle.scale
        rpm = evaluation.vehicle.motor.working_rpm
        limit = evaluation.vehicle.real.limit_rpm
        for line, words in enumerate(
            (
                say(
                    "tab-vehicle.bar-the-model-at-rpm-as-full-size",
                    rpm=rpm,
                    speed_school=scale.speed_school,
                ),
                say("tab-vehicle.mark-the-real-vehicle-at-its-limit-rpm", limit=limit),
            )
        ):
            short = elided(words, painter.font(), self.width() - 20.0)
            painter.drawText(QPointF(12, 16 + 15 * line), short)
        unit = in_units(1.0, "km/h", units_in_force())
        step = nice_step(top * unit) / unit
        if step * (right - left) / top < TICK_PX:
            step *= 2
        value = 0.0
        while value <= top:
            x = left + (right - left) * value / top
            painter.setPen(pen(tokens.hair, 0.8))
            painter.drawLine(QPointF(x, head), QPointF(x, foot))
            painter.setPen(tokens.soft)
            figure = signed(value * unit, ".3g") + (f" {KM_H}" if value == 0 else "")
            painter.drawText(QPointF(x - (4 if value == 0 else 8), foot + 14), figure)
            value += step
        tall = (foot - head) / len(gears)
        for number, (gear, (got, real)) in enumerate(zip(gears, speeds, strict=True)):
            middle = head + (number + 0.5) * tall
            color = tokens.back if gear.reverse else tokens.run
            chosen = gear.id == evaluation.situation.gear
            painter.setPen(color if chosen or gear.reverse else tokens.ink)
            painter.setFont(figure_font("tab" if tall > 15 else "small"))
            painter.drawText(
                QRectF(6, middle - tall, 34, 2 * tall),
                int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter),
                elided(gear.name, painter.font(), 34),
            )
            end = left
            if got is not None:
                end = left + (right - left) * got / top
                thick = max(min(tall * 0.42, 9.0), 2.0)
                bar = QRectF(left, middle - thick / 2, end - left, thick)
                painter.fillRect(bar, color if chosen else tokens.soft)
            mark = left + (right - left) * real / top
            painter.setPen(pen(tokens.ink, 2))
            painter.drawLine(
                QPointF(mark, middle - tall * 0.36), QPointF(mark, middle + tall * 0.36)
            )
            painter.setPen(tokens.ink)
            painter.setFont(text_font("small"))
            painter.drawText(QPointF(max(end, mark) + 8, middle + 4), labels[number])

"""The power in the engaged gear: a stair of what is left, and every mesh with its torques."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import pen
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import caption
from mild_badger.app.theme.plain_tips import show_tip
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import N_MM, bare, in_n_mm
from mild_badger.core.message import say
from mild_badger.core.performance.power import PowerLine, PowerTable, power_table
from mild_badger.core.words import listed, signed, word

__all__ = ["PowerPage"]

HEADERS = (
    say("tab-shift.at-2"),
    say("tab-shift.from"),
    say("tab-shift.to-2"),
    "rpm",
    say("tab-shift.in-2", n_mm=N_MM),
    say("tab-shift.out", n_mm=N_MM),
    "W",
    say("tab-shift.w-lost"),
)
NOTHING = say("tab-shift.engage-a-gear-that-drives-to-follow-the")


class PowerView(Canvas):
    """A stair: each block as high as the power that enters there, the loss hatched off its top."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-shift.power-left-on-the-way"))
        self.setMinimumHeight(120)
        self.setMouseTracking(True)
        self.table: PowerTable | None = None
        self._spots: list[tuple[QRectF, str]] = []

    def words(self) -> str:
        return self.table.summary if self.table else NOTHING

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        tokens, table = self.theme.tokens, self.table
        self._spots = []
        if table is None or not table.lines:
            painter.setFont(text_font("lead"))
            painter.setPen(tokens.soft)
            painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter, NOTHING)
            return
        engaged = evaluation.engaged
        accent = tokens.back if engaged is not None and engaged.reverse else tokens.run
        left, right, low, high = 56.0, self.width() - 64.0, self.height() - 24.0, 26.0
        step = (right - left) / len(table.lines)
        scale = (low - high) / table.in_w
        painter.setFont(text_font("small"))
        for number, line in enumerate(table.lines):
            box = QRectF(
                left + number * step, low - line.power_w * scale, step, line.power_w * scale
            )
            painter.fillRect(box, tokens.run_wash)
            if line.lost_w > 0:
                lost = QRectF(box.left(), box.top(), step, max(line.lost_w * scale, 2.0))
                painter.fillRect(lost, accent)
            painter.setPen(pen(tokens.ink, 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
            painter.setPen(tokens.ink)
            if step > 44:
                painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), word(line.kind))
            self._spots.append((box, _words(line)))
        painter.setPen(tokens.ink)
        painter.drawText(QPointF(8, high + 10), f"{signed(table.in_w, '.1f')} W")
        painter.drawText(
            QPointF(right + 8, low - table.out_w * scale + 10), f"{signed(table.out_w, '.1f')} W"
        )
        painter.setPen(tokens.soft)
        painter.drawText(QPointF(8, low + 16), say("tab-shift.motor-2"))
        painter.drawText(QPointF(right + 8, low + 16), say("tab-shift.wheels"))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for box, words in self._spots:
            if box.left() <= event.position().x() < box.right():
                show_tip(event.globalPosition().toPoint(), words, self)
                return


class PowerPage(QWidget):
    """The stair above, the meshes below."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.view = PowerView(theme)
        column.addWidget(self.view, 2)
        self.table = Table(HEADERS, say("tab-shift.torque-and-power-at-each-mesh"))
        self.table.header_right(3, 4, 5, 6, 7)
        self.table.stretch(2)
        column.addWidget(self.table, 3)
        self.words = caption("", wrap=True)
        self.words.setAccessibleName(say("tab-shift.where-the-power-goes"))
        column.addWidget(self.words)

    def refresh(self, evaluation: Evaluation) -> None:
        """Follow the power in the engaged gear."""
        gear = evaluation.engaged
        table = None
        if gear is not None:
            table = power_table(evaluation.vehicle, gear.id, gear.motor_rpm)
        self.view.table = table
        self.view.show_evaluation(evaluation)
        self.words.setText(table.summary if table else NOTHING)
        rows = []
        for line in table.lines if table else ():
            figures = (
                f"{signed(line.rpm_in, '.0f')} → {signed(line.rpm_out, '.0f')}",
                bare(in_n_mm(line.torque_in_n_mm, 1)),
                bare(in_n_mm(line.torque_out_n_mm, 1)),
                signed(line.power_w, ".2f"),
                signed(line.lost_w, ".2f") if line.lost_w > 0 else "–",
            )
            rows.append(
                [
                    Cell(word(line.kind)),
                    Cell(line.giver),
                    Cell(listed(line.takers)),
                    *(Cell(figure, right=True) for figure in figures),
                ]
            )
        self.table.show_cells(rows)


def _words(line: PowerLine) -> str:
    return say(
        "tab-shift.to-w-in-w-lost",
        kind=word(line.kind),
        giver=line.giver,
        listed=listed(line.takers),
        torque_in_n_mm=bare(in_n_mm(line.torque_in_n_mm, 1)),
        torque_out_n_mm=in_n_mm(line.torque_out_n_mm, 1),
        power_w=line.power_w,
        lost_w=line.lost_w,
    )

"""Every output of a crane as a line: what drives it, its gears to scale, its end, its pace."""

from math import cos, pi, sin

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QMouseEvent, QPainter

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import elided, finding_mark, pen
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.findings.finding import worst_severity
from mild_badger.core.ids import OutputId
from mild_badger.core.mechanisms.crane.describe import (
    called,
    describe_end,
    describe_line,
    pace_line,
    step_line,
)
from mild_badger.core.mechanisms.crane.ends import rope_layers
from mild_badger.core.mechanisms.crane.figures import OutputFigures, crane_figures
from mild_badger.core.mechanisms.crane.model import (
    BOX_OUTPUT,
    MOTOR_SHAFT,
    OWN_INPUT,
    Rack,
    Ring,
    Screw,
    Spool,
)
from mild_badger.core.mechanisms.crane.outputs import drawn_mm, in_order
from mild_badger.core.message import say

__all__ = ["CraneView"]

EMPTY = say("tab-machine.this-model-drives-nothing-besides-its-wheels")
ROW_PX, INDENT_PX, HEAD_PX = 82.0, 14.0, 22.0
END_PX, PACE_PX = 92.0, 176.0
ROOMY_VIEW_PX = 440
"""A narrower view leaves the picture of the end away, its words stay."""
WORM_PX, COUPLING_PX = 30.0, 16.0
ROOMY_PX = 11.0
"""A gear of at least this radius takes its tooth count inside."""
LEFT = int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
CENTRE = int(Qt.AlignmentFlag.AlignCenter)
INPUT_WORDS = {
    MOTOR_SHAFT: say("tab-machine.motor"),
    BOX_OUTPUT: say("tab-machine.box-output"),
    OWN_INPUT: say("tab-machine.own-input"),
}


class CraneView(Canvas):
    """Filled hubs are glued to their shaft, open ones run loose on another's.

    Signals
    -------
    chosen : the name of the output that was pressed
    """

    chosen = pyqtSignal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-machine.outputs"))
        self.setMouseTracking(True)
        self.selected = OutputId("")
        self._rows: list[tuple[QRectF, OutputFigures]] = []
        self._end_px = END_PX

    def show_outputs(self, evaluation: Evaluation, selected: OutputId) -> None:
        """Show a vehicle's outputs, one of them chosen."""
        self.selected = selected
        crane = evaluation.vehicle.crane
        count = len(crane.outputs) if crane is not None else 0
        self.setMinimumHeight(int(max(count * ROW_PX + 26, 160)))
        self.show_evaluation(evaluation)

    def figures(self) -> tuple[OutputFigures, ...]:
        """Give the figures of every output in the engaged gear."""
        if self.evaluation is None:
            return ()
        shown = self.evaluation
        return in_order(crane_figures(shown.vehicle, shown.gear_driven, shown.motor_rpm))

    def words(self) -> str:
        return "; ".join(describe_line(row) for row in self.figures()) or EMPTY

    def row_at(self, output: OutputId) -> QPointF:
        """Give where an output's line is."""
        return next(box.center() for box, row in self._rows if row.output.id == output)

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        figures = self.figures()
        self._rows = []
        if not figures:
            self.say_instead(painter, EMPTY)
            return
        self._end_px = END_PX if self.width() >= ROOMY_VIEW_PX else 0.0
        room = self.width() - self._end_px - PACE_PX - 64
        module = evaluation.vehicle.kit.module_mm
        wide = max(drawn_mm(row.output, module)[0] for row in figures)
        high = max(drawn_mm(row.output, module)[1] for row in figures)
        fixed = max(self._extras(row) for row in figures)
        scale = min((room - fixed) / max(wide, 1.0), (ROW_PX - HEAD_PX - 16) / max(high, 1.0), 1.6)
        y = 6.0
        for row in figures:
            box = QRectF(6, y, self.width() - 12, ROW_PX)
            self._rows.append((box, row))
            self._line(painter, evaluation, row, box, scale * module)
            y += ROW_PX
        painter.setFont(text_font("small"))
        painter.setPen(self.theme.tokens.soft)
        painter.drawText(
            QRectF(14, y, self.width() - 20, 18),
            LEFT,
            say("tab-machine.gears-to-scale-filled-hub-glued-to-its-shaft"),
        )

    def _extras(self, row: OutputFigures) -> float:
        return (WORM_PX if row.output.worm else 0.0) + (COUPLING_PX if row.output.keys else 0.0)

    def _line(
        self,
        painter: QPainter,
        evaluation: Evaluation,
        row: OutputFigures,
        box: QRectF,
        tooth: float,
    ) -> None:
        tokens, output = self.theme.tokens, row.output
        if output.id == self.selected:
            painter.fillRect(box, tokens.run_wash)
            painter.fillRect(QRectF(box.left(), box.top(), 3, box.height()), tokens.run)
        painter.setPen(pen(tokens.hair))
        painter.drawLine(box.bottomLeft(), box.bottomRight())
        crane = evaluation.vehicle.crane
        depth = len(crane.way_to(output.id)) - 1 if crane is not None else 0
        x = box.left() + 12 + INDENT_PX * depth
        width = box.right() - PACE_PX - x
        painter.setPen(tokens.ink)
        bold, small = text_font(bold=True), text_font("small")
        painter.setFont(bold)
        name = elided(output.name, bold, width / 2)
        painter.drawText(QRectF(x, box.top() + 3, width, 18), LEFT, name)
        gone = QFontMetricsF(bold).horizontalAdvance(name) + 8
        painter.setFont(small)
        painter.setPen(tokens.soft)
        source = INPUT_WORDS.get(output.source) or called(self.figures(), output.source)
        words = elided(f"{source} → {describe_end(output)}", small, width - gone - 4)
        painter.drawText(QRectF(x + gone, box.top() + 3, width - gone, 18), LEFT, words)
        y = box.top() + HEAD_PX + (box.height() - HEAD_PX) / 2
        x = self._gears(painter, row, QPointF(x, y), tooth)
        end = QRectF(
            box.right() - PACE_PX - self._end_px,
            box.top() + HEAD_PX,
            END_PX - 10,
            box.height() - HEAD_PX,
        )
        painter.setPen(pen(self._color(row), 1.6))
        painter.drawLine(QPointF(x, y), QPointF(end.left() - (0 if self._end_px else 12), y))
        if self._end_px:
            self._end(painter, row, end)
        self._pace(
            painter,
            evaluation,
            row,
            QRectF(box.right() - PACE_PX, box.top() + 6, PACE_PX - 6, box.height() - 12),
        )

    def _color(self, row: OutputFigures) -> QColor:
        tokens = self.theme.tokens
        if row.turns is None:
            return tokens.soft
        return tokens.run if row.turns > 0 else tokens.back

    def _gears(self, painter: QPainter, row: OutputFigures, at: QPointF, tooth: float) -> float:
        """Draw coupling, pairs and worm from left to right; give where the last shaft is."""
        tokens, output = self.theme.tokens, row.output
        x, y = at.x(), at.y()
        for number, pair in enumerate(output.pairs):
            sizes = (pair.driver, *pair.idlers, pair.driven)
            joint = output.keys and output.coupled_after == number
            if joint:
                x += output.pairs[number - 1].driven * tooth / 2 if number else 0.0
                x = self._coupling(painter, output.keys, x, y)
            if joint or number == 0:
                x += sizes[0] * tooth / 2
            for place, teeth in enumerate(sizes):
                radius = teeth * tooth / 2
                if place:
                    x += sizes[place - 1] * tooth / 2 + radius
                last = place == len(sizes) - 1
                inner = (place == 0 and number > 0) or (last and number < len(output.pairs) - 1)
                self._gear(
                    painter,
                    QPointF(x, y),
                    radius,
                    teeth,
                    loose=inner and output.loose_on is not None,
                )
        if output.keys and output.coupled_after >= len(output.pairs):
            edge = output.pairs[-1].driven * tooth / 2 if output.pairs else 0.0
            x = self._coupling(painter, output.keys, x + edge, y)
        elif output.pairs:
            x += output.pairs[-1].driven * tooth / 2
        if output.worm is not None:
            x = self._worm(painter, output.worm.starts, output.worm.teeth, x, y)
        painter.setPen(tokens.ink)
        return x

    def _gear(
        self, painter: QPainter, at: QPointF, radius: float, teeth: int, *, loose: bool
    ) -> None:
        tokens = self.theme.tokens
        painter.setPen(pen(tokens.ink, 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(at, radius, radius)
        hub = QPointF(at.x(), at.y() + min(radius * 0.45, 9.0))
        painter.setBrush(Qt.BrushStyle.NoBrush if loose else tokens.ink)
        painter.setPen(pen(tokens.ink, 1.2))
        painter.drawEllipse(hub, 2.6, 2.6)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setFont(text_font("small"))
        high = at.y() - 13 if radius >= ROOMY_PX else at.y() - radius - 13
        painter.drawText(QRectF(at.x() - 16, high, 32, 13), CENTRE, str(teeth))

    def _coupling(self, painter: QPainter, keys: int, x: float, y: float) -> float:
        """Draw the dogs of a joint that comes apart, its keys above it."""
        tokens = self.theme.tokens
        painter.setPen(pen(tokens.ink, 1.6))
        painter.drawLine(QPointF(x, y), QPointF(x + 5, y))
        for side, way in ((x + 5, 1), (x + 11, -1)):
            painter.drawLine(QPointF(side, y - 10), QPointF(side, y + 10))
            for up in (-10, 10):
                painter.drawLine(QPointF(side, y + up), QPointF(side + 3 * way, y + up))
        painter.drawLine(QPointF(x + 11, y), QPointF(x + COUPLING_PX, y))
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        painter.drawText(QRectF(x - 6, y - 27, 28, 14), CENTRE, str(keys))
        return x + COUPLING_PX

    def _worm(self, painter: QPainter, starts: int, teeth: int, x: float, y: float) -> float:
        tokens = self.theme.tokens
        painter.setPen(pen(tokens.ink, 1.4))
        painter.drawRect(QRectF(x + 2, y - 7, 26, 14))
        for number in range(4):
            left = x + 4 + number * 6
            painter.drawLine(QPointF(left, y + 7), QPointF(left + 4, y - 7))
        painter.setFont(text_font("small"))
        painter.drawText(QRectF(x - 10, y + 9, 50, 14), CENTRE, f"{starts}:{teeth}")
        return x + WORM_PX

    def _end(self, painter: QPainter, row: OutputFigures, box: QRectF) -> None:
        """Draw what the output moves; not to the gears' scale."""
        end, y = row.output.end, box.center().y()
        painter.setPen(pen(self._color(row), 1.8))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        match end:
            case Ring():
                radius = box.height() / 2 - 4
                centre = QPointF(box.left() + radius + 14, y)
                if end.internal:
                    centre = QPointF(box.left() + radius, y)
                painter.drawEllipse(centre, radius, radius)
                painter.drawEllipse(centre, radius - 4, radius - 4)
                painter.drawEllipse(QPointF(box.left() + 7, y), 6, 6)
                painter.drawLine(centre, QPointF(centre.x() + radius + 12, centre.y() - 10))
            case Screw():
                painter.drawLine(QPointF(box.left(), y), QPointF(box.right() - 4, y))
                for number in range(10):
                    left = box.left() + 6 + number * 7
                    painter.drawLine(QPointF(left, y + 5), QPointF(left + 4, y - 5))
                painter.drawRect(QRectF(box.left() + 30, y - 11, 16, 22))
            case Spool():
                layers = min(len(rope_layers(end)), 6)
                for side in (box.left() + 8, box.left() + 52):
                    painter.drawLine(QPointF(side, y - 22), QPointF(side, y + 22))
                painter.setPen(pen(self._color(row), 1.0))
                for number in range(layers + 1):
                    for way in (-1, 1):
                        at = y + way * (9 + number * 2.4)
                        painter.drawLine(QPointF(box.left() + 8, at), QPointF(box.left() + 52, at))
                painter.setPen(pen(self._color(row), 1.8))
                for rope in range(end.ropes):
                    right = box.left() + 56 + rope * 7
                    painter.drawLine(QPointF(right, y - 9), QPointF(right, y + 26))
            case Rack():
                painter.drawEllipse(QPointF(box.left() + 16, y - 6), 12, 12)
                painter.drawLine(QPointF(box.left(), y + 8), QPointF(box.right() - 8, y + 8))
                for number in range(9):
                    left = box.left() + 4 + number * 8
                    painter.drawLine(QPointF(left, y + 8), QPointF(left + 4, y + 14))
            case _:
                painter.drawLine(QPointF(box.left(), y), QPointF(box.left() + 40, y))
                for turn in range(6):
                    angle = turn * pi / 3
                    painter.drawLine(
                        QPointF(box.left() + 40, y),
                        QPointF(box.left() + 40 + 9 * cos(angle), y + 9 * sin(angle)),
                    )

    def _pace(
        self, painter: QPainter, evaluation: Evaluation, row: OutputFigures, box: QRectF
    ) -> None:
        tokens = self.theme.tokens
        worst = worst_severity(
            tuple(f for f in evaluation.findings if f.where == ("crane", row.output.id))
        )
        mark: float = 0.0
        if worst is not None:
            finding_mark(painter, tokens, worst, QPointF(box.right() - 10, box.top() + 11))
            mark = 22.0
        bold, small = text_font(bold=True), text_font("small")
        painter.setFont(bold)
        painter.setPen(self._color(row))
        painter.drawText(
            QRectF(box.left(), box.top() + 1, box.width() - mark, 18),
            LEFT,
            elided(pace_line(row), bold, box.width() - mark),
        )
        painter.setFont(small)
        painter.setPen(tokens.soft)
        for number, words in enumerate(step_line(row, self.figures())):
            painter.drawText(
                QRectF(box.left(), box.top() + 21 + 16 * number, box.width(), 16),
                LEFT,
                elided(words, small, box.width()),
            )

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for box, row in self._rows:
            if box.contains(event.position()):
                self.chosen.emit(row.output.id)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.evaluation is None:
            return
        over = next((f for box, f in self._rows if box.contains(event.position())), None)
        self.setToolTip(shown("" if over is None else describe_line(over)))

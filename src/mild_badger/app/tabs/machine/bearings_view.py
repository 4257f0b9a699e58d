"""Every shaft on its bearings: what bears on each, and which kinds of bearing serve there."""

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import elided, pen
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import in_mm_s, in_n, in_n_mm
from mild_badger.core.mechanisms.bearings.loads import BEARING_KINDS, BearingVerdict
from mild_badger.core.mechanisms.bearings.rows import BearingRow, bearing_rows
from mild_badger.core.mechanisms.crane.model import BearingKind
from mild_badger.core.message import say
from mild_badger.core.words import word

__all__ = ["BearingsView"]

EMPTY = say("tab-machine.nothing-turns-in-a-bearing-yet")
ROW_PX, HEAD_PX = 34.0, 30.0
NAME_PX, BAR_PX, LOAD_PX = 210.0, 58.0, 190.0
LEFT = int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)


class BearingsView(Canvas):
    """Bars are loads to one scale; a kind that serves has a ring, one that does not a cross.

    Signals
    -------
    taken : the row's number and the kind that was pressed
    """

    taken = pyqtSignal(int, str)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-machine.bearings"))
        self.setMouseTracking(True)
        self.rows: tuple[BearingRow, ...] = ()

    def show_evaluation(self, evaluation: Evaluation) -> None:
        """Show a vehicle's bearings."""
        self.rows = bearing_rows(evaluation.vehicle)
        self.setMinimumHeight(int(max(HEAD_PX + ROW_PX * len(self.rows) + 8, 160)))
        super().show_evaluation(evaluation)

    def words(self) -> str:
        return "; ".join(f"{row.name}: {row.summary}" for row in self.rows) or EMPTY

    def place_of(self, number: int, kind: BearingKind) -> QPointF:
        """Give where a kind stands in a row, to be pressed."""
        return self._cell(number, list(BEARING_KINDS).index(kind)).center()

    def _cell(self, row: int, column: int) -> QRectF:
        start = NAME_PX + LOAD_PX
        width = (self.width() - start - 8) / len(BEARING_KINDS)
        return QRectF(start + column * width, HEAD_PX + row * ROW_PX, width, ROW_PX)

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        if not self.rows:
            self.say_instead(painter, EMPTY)
            return
        tokens, small = self.theme.tokens, text_font("small")
        painter.setFont(small)
        painter.setPen(tokens.soft)
        painter.drawText(QRectF(12, 6, NAME_PX, 18), LEFT, say("tab-machine.bearing"))
        painter.drawText(QRectF(NAME_PX, 6, LOAD_PX, 18), LEFT, say("tab-machine.what-bears-on-it"))
        for column, (kind, limit) in enumerate(BEARING_KINDS.items()):
            cell = self._cell(0, column)
            painter.drawText(
                QRectF(cell.left() + 4, 6, cell.width() - 8, 18),
                LEFT,
                elided(f"{word(kind)}: {limit.words}", small, cell.width() - 8),
            )
        most = max(row.load.load_n for row in self.rows) or 1.0
        for number, row in enumerate(self.rows):
            self._row(painter, number, row, most)

    def _row(self, painter: QPainter, number: int, row: BearingRow, most: float) -> None:
        tokens, text, small = self.theme.tokens, text_font(), text_font("small")
        y = HEAD_PX + number * ROW_PX
        painter.setPen(pen(tokens.hair))
        painter.drawLine(QPointF(8, y), QPointF(self.width() - 8, y))
        painter.setFont(text)
        painter.setPen(tokens.ink)
        painter.drawText(
            QRectF(12, y, NAME_PX - 18, ROW_PX), LEFT, elided(row.name, text, NAME_PX - 20)
        )
        bar = QRectF(NAME_PX, y + ROW_PX / 2 - 5, BAR_PX * row.load.load_n / most, 10)
        painter.fillRect(bar, tokens.run)
        painter.setFont(small)
        painter.drawText(
            QRectF(NAME_PX + BAR_PX + 6, y, LOAD_PX - BAR_PX - 10, ROW_PX),
            LEFT,
            say("tab-machine.rpm", load_n=in_n(row.load.load_n, 1), rpm=row.load.rpm),
        )
        for column, judged in enumerate(row.judged):
            self._judged(
                painter, self._cell(number, column), judged, planned=judged.kind == row.planned
            )

    def _judged(
        self, painter: QPainter, cell: QRectF, judged: BearingVerdict, *, planned: bool
    ) -> None:
        tokens, small = self.theme.tokens, text_font("small")
        color = tokens.good if judged.serves else tokens.bad
        if planned:
            painter.fillRect(cell.adjusted(0, 2, -2, -2), tokens.run_wash)
        at = QPointF(cell.left() + 12, cell.center().y())
        painter.setPen(pen(color, 1.8))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if judged.serves:
            painter.drawEllipse(at, 5, 5)
        else:
            for up in (-5, 5):
                painter.drawLine(at + QPointF(-5, up), at + QPointF(5, -up))
        painter.setFont(small)
        painter.setPen(tokens.ink if judged.serves else tokens.bad)
        words = in_n_mm(judged.friction_n_mm, 2) if judged.serves else judged.brief
        painter.drawText(
            QRectF(cell.left() + 22, cell.top(), cell.width() - 26, cell.height()),
            LEFT,
            elided(words, small, cell.width() - 28),
        )

    def _over(self, at: QPointF) -> tuple[int, BearingKind] | None:
        for number in range(len(self.rows)):
            for column, kind in enumerate(BEARING_KINDS):
                if self._cell(number, column).contains(at):
                    return number, kind
        return None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        over = self._over(event.position()) if event is not None else None
        if over is not None:
            self.taken.emit(*over)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        over = self._over(event.position()) if event is not None else None
        if over is None:
            self.setToolTip("")
            return
        row, kind = self.rows[over[0]], over[1]
        judged = row.of(kind)
        sentence = "serves" if judged.serves else judged.why
        self.setToolTip(
            shown(
                say(
                    "tab-machine.in-n-mm-rubs-at-takes-of-the-torque",
                    name=row.name,
                    kind=kind,
                    sentence=sentence,
                    pressure=row.load.pressure,
                    rubbing=in_mm_s(row.load.rubbing, 0),
                    share_percent=judged.share_percent,
                )
            )
        )

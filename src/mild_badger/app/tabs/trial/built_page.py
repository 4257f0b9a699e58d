"""As built: what was measured from wall to wall, and which spacer that asks to trim."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import elided, pen
from mild_badger.app.drawing.records import Column, RecordTable
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import caption
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM, bare, in_mm
from mild_badger.core.layout.reason import why_no_place
from mild_badger.core.message import say
from mild_badger.core.structure.names import shaft_label
from mild_badger.core.trial.built import Bay, BayPart, bays, measure
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized, signed
from mild_badger.text.fields import typed_length

__all__ = ["BuiltPage"]


class BayView(Canvas):
    """One shaft between two walls, to scale: what stands there, what is to be trimmed, the play."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-trial.from-wall-to-wall"))
        self.setMinimumSize(320, 136)
        self.bay: Bay | None = None

    def show_bay(self, evaluation: Evaluation, bay: Bay | None) -> None:
        """Show a bay."""
        self.bay = bay
        self.show_evaluation(evaluation)

    def words(self) -> str:
        if self.evaluation is None:
            return ""
        if self.bay is None:
            return why_no_place(self.evaluation.vehicle)
        return f"{shaft_label(self.evaluation.vehicle, self.bay.shaft)}: {self.bay.words}"

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        bay = self.bay
        if bay is None:
            self.say_instead(painter, why_no_place(evaluation.vehicle))
            return
        tokens = self.theme.tokens
        whole = max(bay.gap.mm, sum(part.mm for part in bay.parts))
        left, right = 40.0, self.width() - 40.0
        scale = (right - left) / max(whole, 1e-6)
        middle = self.height() / 2 + 4
        painter.setPen(pen(tokens.soft, 1, dashed=True))
        painter.drawLine(QPointF(left - 24, middle), QPointF(right + 24, middle))
        x = left
        for part in bay.parts:
            self._part(painter, part, QRectF(x, middle, part.mm * scale, 0), bay)
            x += part.mm * scale
        end = left + bay.gap.mm * scale
        for edge, side in ((left, -1), (end, 1)):
            box = QRectF(min(edge, edge + 10 * side), middle - 44, 10, 88)
            painter.fillRect(box, tokens.hair)
            painter.setPen(pen(tokens.ink, 1))
            painter.drawRect(box)
        painter.setFont(text_font("small"))
        painter.setPen(tokens.ink if bay.trim is None else tokens.bad)
        words = say(
            "tab-trial.end-play-wanted", play_mm=in_mm(bay.play_mm, 2), wanted_mm=bay.wanted_mm
        )
        painter.drawText(QRectF(left, 6, right - left, 18), int(Qt.AlignmentFlag.AlignRight), words)
        painter.setPen(tokens.soft)
        painter.drawText(
            QPointF(left, 19), f"{shaft_label(evaluation.vehicle, bay.shaft)}, {bay.gap.words}"
        )

    def _part(self, painter: QPainter, part: BayPart, at: QRectF, bay: Bay) -> None:
        tokens = self.theme.tokens
        half = {"gear": 34.0, "free gear": 34.0, "sleeve": 20.0}.get(part.kind, 10.0)
        box = QRectF(at.left(), at.top() - half, at.width(), 2 * half)
        trimmed = bay.trim is not None and bay.trim[0] == part.key
        painter.setBrush(tokens.panel if part.kind != "spacer" else tokens.paper)
        painter.setPen(pen(tokens.run if trimmed else tokens.ink, 2.2 if trimmed else 1))
        painter.drawRect(box)
        painter.setFont(figure_font("small"))
        painter.setPen(tokens.run if trimmed or part.measured else tokens.soft)
        words = signed(part.mm, ".2f").rstrip("0").rstrip(".")
        if painter.fontMetrics().horizontalAdvance(words) <= box.width() + 6:
            painter.drawText(QPointF(box.center().x() - 10, at.top() + 58), words)
        if part.kind.endswith("gear") and box.width() > 20:
            painter.setPen(tokens.ink)
            label = elided(part.words, painter.font(), box.width())
            painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), label)


class BuiltPage(QWidget):
    """Bays above, the picture of the chosen one, its parts to type measured lengths into."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        self._bays: tuple[Bay, ...] = ()
        self._rows: tuple[BayPart, ...] = ()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.table = Table(
            (
                say("tab-trial.shaft"),
                say("tab-trial.from"),
                say("tab-trial.to"),
                say("tab-trial.end-play"),
                say("tab-trial.what-to-do"),
            ),
            say("tab-trial.from-wall-to-wall"),
        )
        self.table.header_right(3)
        self.table.stretch(4)
        self.table.currentCellChanged.connect(lambda *_: self._show_bay())
        column.addWidget(self.table, 3)
        self.view = BayView(theme)
        column.addWidget(self.view, 2)
        self.advice = caption("", wrap=True)
        column.addWidget(self.advice)
        self.parts = RecordTable(session, self._columns(), say("tab-trial.lengths-as-built"))
        self.parts.header_right(1, 2)
        self.parts.stretch(0)
        column.addWidget(self.parts, 3)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the bays of a vehicle."""
        self._bays = bays(evaluation.vehicle)
        self.table.show_cells(
            [
                [
                    Cell(shaft_label(evaluation.vehicle, bay.shaft)),
                    *map(Cell, bay.walls),
                    Cell(
                        signed(bay.play_mm, ".2f"),
                        right=True,
                        bold=bay.trim is not None,
                    ),
                    Cell(bay.words, tip=bay.words),
                ]
                for bay in self._bays
            ]
        )
        self._show_bay()

    def facts(self) -> str:
        """Say what the page is for."""
        return say("tab-trial.type-what-you-measured-with-the-calliper-gap")

    @property
    def bay(self) -> Bay | None:
        """The bay that is chosen."""
        row = max(self.table.currentRow(), 0)
        return self._bays[row] if row < len(self._bays) else None

    def _show_bay(self) -> None:
        bay = self.bay
        self.view.show_bay(self.session.evaluation, bay)
        self.advice.setText("" if bay is None else f"{capitalized(bay.words)}.")
        self._rows = () if bay is None else (bay.gap, bay.rod, *bay.parts)
        self.parts.show_records(self._rows)

    def _columns(self) -> tuple[Column[BayPart], ...]:
        def name(part: BayPart) -> Cell:
            return Cell(
                say("tab-trial.teeth", kind=part.kind, words=part.words)
                if part.kind == "gear"
                else part.words
            )

        def typed(vehicle: Vehicle, row: int, text: str) -> Edit:
            part = self._rows[row]
            return measure(
                vehicle,
                part.key,
                typed_length(text, part.words, vehicle) if text else None,
            )

        return (
            Column(say("tab-trial.part"), name),
            Column(
                say("tab-trial.planned", mm=MM),
                lambda part: Cell(bare(in_mm(part.planned_mm, 2)), right=True),
            ),
            Column(
                say("tab-trial.measured", mm=MM),
                lambda part: Cell(bare(in_mm(part.mm, 2)) if part.measured else "", right=True),
                typed,
                may_be_empty=True,
            ),
        )

    def heading(self) -> str:
        """Say what the page shows."""
        return say("tab-trial.as-built")

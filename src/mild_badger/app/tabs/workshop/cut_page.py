"""The cut list: every rod drawn with the pieces that are sawn from it, and what is left."""

from dataclasses import replace

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QComboBox, QVBoxLayout, QWidget

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.fields import field_of
from mild_badger.app.drawing.flow import Flow
from mild_badger.app.drawing.marks import elided, pen
from mild_badger.app.drawing.widgets import button, caption, fill, row_of
from mild_badger.app.files import TEMPLATE
from mild_badger.app.session import Session
from mild_badger.app.tabs.workshop.template_view import TemplateView
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM, in_mm
from mild_badger.core.message import say
from mild_badger.core.publish.tiles import tiling
from mild_badger.core.words import signed
from mild_badger.core.workshop.boards import BoardPlan, board_drawing, board_key, board_plans
from mild_badger.core.workshop.cutlist import CutPlan, CutStock, cut_plans
from mild_badger.text.quantities import number_text

__all__ = ["CutPage"]

EMPTY = say("tab-workshop.nothing-is-cut-to-length-here-the-kit-sells")
BAR_PX, HEAD_PX, STEP_PX = 26.0, 30.0, 40.0


class CutView(Canvas):
    """Rods below one another, all to one scale."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-workshop.rods-and-their-pieces"))
        self.setMinimumSize(300, 200)
        self.plans: tuple[CutPlan, ...] = ()

    def show_plans(self, evaluation: Evaluation, plans: tuple[CutPlan, ...]) -> None:
        """Show the rods of all materials."""
        self.plans = plans
        self.show_evaluation(evaluation)

    def words(self) -> str:
        sentences = []
        for plan in self.plans:
            rods = "; ".join(
                " + ".join(f"{p.words} {signed(p.length_mm, 'g')}" for p in rod.pieces)
                + say("tab-workshop.left", offcut_mm=rod.offcut_mm)
                for rod in plan.rods
            )
            sentences.append(f"{plan.summary} {rods}")
        return " ".join(sentences) or EMPTY

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        tokens = self.theme.tokens
        if not self.plans:
            self.say_instead(painter, EMPTY)
            return
        rows = sum(len(plan.rods) for plan in self.plans)
        room = self.height() - 16 - HEAD_PX * len(self.plans)
        step = min(STEP_PX, room / max(rows, 1))
        scale = (self.width() - 32) / max(plan.stock_mm for plan in self.plans)
        y = 12.0
        for plan in self.plans:
            painter.setFont(figure_font("lead"))
            painter.setPen(tokens.bad if plan.too_long else tokens.ink)
            words = elided(plan.summary, painter.font(), self.width() - 32)
            painter.drawText(QPointF(16, y + 16), words)
            y += HEAD_PX
            for rod in plan.rods:
                self._rod(
                    painter, plan, rod, QRectF(16, y, plan.stock_mm * scale, min(BAR_PX, step - 4))
                )
                y += step

    def _rod(self, painter: QPainter, plan: CutPlan, rod: CutStock, box: QRectF) -> None:
        tokens = self.theme.tokens
        scale = box.width() / plan.stock_mm
        painter.setPen(pen(tokens.hair, 1, dashed=True))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)
        painter.setFont(text_font("small"))
        x = box.left()
        for piece in rod.pieces:
            part = QRectF(x, box.top(), piece.length_mm * scale, box.height())
            painter.setPen(pen(tokens.ink, 1))
            painter.setBrush(tokens.panel)
            painter.drawRect(part)
            words = f"{piece.words} · {signed(piece.length_mm, 'g')}"
            if painter.fontMetrics().horizontalAdvance(words) > part.width() - 6:
                words = signed(piece.length_mm, "g")
            if painter.fontMetrics().horizontalAdvance(words) <= part.width() - 4:
                painter.drawText(part, int(Qt.AlignmentFlag.AlignCenter), words)
            x += (piece.length_mm + plan.saw_mm) * scale
        left = QRectF(x, box.top(), box.right() - x, box.height())
        words = say("tab-workshop.left-2", offcut_mm=rod.offcut_mm)
        if painter.fontMetrics().horizontalAdvance(words) <= left.width() - 4:
            painter.setPen(tokens.soft)
            painter.drawText(left, int(Qt.AlignmentFlag.AlignCenter), words)


class CutPage(QWidget):
    """What is shown and the sizes above; rods, or a board with its parts, below."""

    export_wanted = pyqtSignal(str)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        self._boards: tuple[tuple[BoardPlan, int], ...] = ()
        self._lost = ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.shown = QComboBox()
        self.shown.setAccessibleName(say("tab-workshop.what-is-sawn-or-cut"))
        self.shown.activated.connect(lambda _n: self._show())
        self.fields = {
            name: field_of(session, ("making", name), words, width=64)
            for name, words in (
                ("rod_mm", say("tab-workshop.length-of-a-rod")),
                ("saw_mm", say("tab-workshop.saw-kerf")),
                ("board_mm", say("tab-workshop.width-of-a-board")),
                ("board_high_mm", say("tab-workshop.height-of-a-board")),
                ("gap_mm", say("tab-workshop.gap-between-parts")),
            )
        }
        fields = self.fields
        self.save = button(say("tab-workshop.save-this-board"), self._save)
        self._rod_row, self._board_row = QWidget(), QWidget()
        self._rod_row.setLayout(
            row_of(
                say("tab-workshop.rods-come"),
                fields["rod_mm"],
                caption(say("tab-workshop.long-the-saw-takes", mm=MM), "soft"),
                fields["saw_mm"],
                caption(MM, "soft"),
            )
        )
        self._board_row.setLayout(
            row_of(
                say("tab-workshop.boards"),
                fields["board_mm"],
                "×",
                fields["board_high_mm"],
                caption(say("tab-workshop.between-parts", mm=MM), "soft"),
                fields["gap_mm"],
                caption(MM, "soft"),
                self.save,
            )
        )
        for row in (self._rod_row, self._board_row):
            layout = row.layout()
            if layout is not None:
                layout.setContentsMargins(0, 0, 0, 0)
        head = Flow()
        head.addWidget(self.shown)
        head.addWidget(self._rod_row)
        head.addWidget(self._board_row)
        head.addStretch(1)
        column.addLayout(head)
        self.words = caption("", wrap=True)
        column.addWidget(self.words)
        self.view = CutView(theme)
        self.board = TemplateView(theme)
        column.addWidget(self.view, 1)
        column.addWidget(self.board, 1)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the cut list of a vehicle."""
        vehicle = evaluation.vehicle
        for name, field in self.fields.items():
            field.show_value(number_text(getattr(vehicle.making, name)))
        plans = board_plans(vehicle)
        self._boards = tuple((plan, n) for plan in plans for n in range(len(plan.boards)))
        self._lost = " ".join(plan.summary for plan in plans if plan.too_large)
        chosen = self.shown.currentIndex()
        fill(
            self.shown,
            [
                (say("tab-workshop.rods-posts-and-tubes"), -1),
                *(
                    (say("tab-workshop.board-of", n=n + 1, thick_mm=in_mm(plan.thick_mm)), number)
                    for number, (plan, n) in enumerate(self._boards)
                ),
            ],
        )
        self.shown.setCurrentIndex(min(max(chosen, 0), self.shown.count() - 1))
        self.view.show_plans(evaluation, cut_plans(vehicle))
        self._show()

    def _show(self) -> None:
        number = self.shown.currentIndex() - 1
        boards = 0 <= number < len(self._boards)
        for widget, on in (
            (self.view, not boards),
            (self._rod_row, not boards),
            (self.board, boards),
            (self._board_row, boards),
        ):
            widget.setVisible(on)
        self.words.setText(self._lost)
        self.words.setVisible(bool(boards or self._lost))
        if boards:
            evaluation = self.session.evaluation
            plan, which = self._boards[number]
            self.words.setText(" ".join((plan.summary, *plan.refused)))
            drawing = board_drawing(evaluation.vehicle, plan, which)
            making = evaluation.vehicle.making
            laid = tiling(drawing, making.paper, making.overlap_mm)
            self.board.show_drawing(evaluation, drawing, replace(laid, across=1, up=1), "")

    def _save(self) -> None:
        number = self.shown.currentIndex() - 1
        if 0 <= number < len(self._boards):
            plan, which = self._boards[number]
            self.export_wanted.emit(TEMPLATE + board_key(plan, which))

    def heading(self) -> str:
        """Say what the page shows."""
        return say("tab-workshop.rods-to-saw-boards-to-cut")

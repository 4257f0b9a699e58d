"""The cut list: every rod drawn with the pieces that are sawn from it, and what is left."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from mild_badger.app.drawing.marks import elided, pen
from mild_badger.app.drawing.paper import Paper
from mild_badger.app.drawing.widgets import caption, field_of, row_of
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.workshop.cutlist import CutPlan, Sawn, cut_plans

__all__ = ["CutPage"]

EMPTY = (
    "Nothing is cut to length here: the kit sells its shafts in lengths, or the box has no place "
    "in space yet. Place it on the bench Layout."
)
BAR_PX, HEAD_PX, STEP_PX = 26.0, 30.0, 40.0


class CutView(Paper):
    """Rods below one another, all to one scale."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName("Rods and their pieces")
        self.setMinimumSize(300, 200)
        self.plans: tuple[CutPlan, ...] = ()

    def show_plans(self, evaluation: Evaluation, plans: tuple[CutPlan, ...]) -> None:
        """Show the rods of all materials."""
        self.plans = plans
        self.show_evaluation(evaluation)

    def words(self) -> str:
        said = []
        for plan in self.plans:
            rods = "; ".join(
                " + ".join(f"{p.words} {p.length_mm:g}" for p in rod.pieces)
                + f", {rod.offcut_mm:.0f} left"
                for rod in plan.rods
            )
            said.append(f"{plan.words} {rods}")
        return " ".join(said) or EMPTY

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
            words = elided(plan.words, painter.font(), self.width() - 32)
            painter.drawText(QPointF(16, y + 16), words)
            y += HEAD_PX
            for rod in plan.rods:
                self._rod(painter, plan, rod, QRectF(16, y, plan.stock_mm * scale,
                                                     min(BAR_PX, step - 4)))  # fmt: skip
                y += step

    def _rod(self, painter: QPainter, plan: CutPlan, rod: Sawn, box: QRectF) -> None:
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
            words = f"{piece.words} · {piece.length_mm:g}"
            if painter.fontMetrics().horizontalAdvance(words) > part.width() - 6:
                words = f"{piece.length_mm:g}"
            if painter.fontMetrics().horizontalAdvance(words) <= part.width() - 4:
                painter.drawText(part, int(Qt.AlignmentFlag.AlignCenter), words)
            x += (piece.length_mm + plan.saw_mm) * scale
        left = QRectF(x, box.top(), box.right() - x, box.height())
        words = f"{rod.offcut_mm:.0f} left"
        if painter.fontMetrics().horizontalAdvance(words) <= left.width() - 4:
            painter.setPen(tokens.soft)
            painter.drawText(left, int(Qt.AlignmentFlag.AlignCenter), words)


class CutPage(QWidget):
    """The length of rods and the saw above, the rods below."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.fields = {
            name: field_of(session, ("making", name), words, width=64)
            for name, words in (("rod_mm", "Length of a rod"), ("saw_mm", "Width of the saw's cut"))
        }
        column.addLayout(
            row_of("Rods come", self.fields["rod_mm"], caption("mm long, the saw takes", "soft"),
                   self.fields["saw_mm"], caption("mm", "soft"))
        )  # fmt: skip
        self.view = CutView(theme)
        column.addWidget(self.view, 1)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the cut list of a vehicle."""
        for name, field in self.fields.items():
            field.show_value(f"{getattr(evaluation.vehicle.making, name):g}")
        self.view.show_plans(evaluation, cut_plans(evaluation.vehicle))

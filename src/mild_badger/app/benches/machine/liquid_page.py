"""The liquid line's page: sizes right, its cylinders to scale left."""

from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.benches.machine.liquid_view import LiquidView
from mild_badger.app.drawing.fields import Ask, FieldColumn
from mild_badger.app.drawing.widgets import button, caption, row_of, scrolled
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.display.liquid_result import drop_line, liquid_words, start_line
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.workshop.cautions import caution_of

__all__ = ["LiquidPage"]

LINE = ("liquid",)
ASKS = (
    Ask((*LINE, "works"), "It works", "", choices=(("brake", "brakes"), ("clutch", "the clutch"))),
    Ask((*LINE, "master_mm"), "Master's bore"),
    Ask((*LINE, "slave_mm"), "Slaves' bore"),
    Ask((*LINE, "slaves"), "Slaves", ""),
    Ask((*LINE, "hand_n"), "Force at the pedal", "N"),
    Ask((*LINE, "pedal_ratio"), "Pedal's ratio", ": 1"),
    Ask((*LINE, "pedal_mm"), "Pedal's travel"),
    Ask((*LINE, "lost_mm3"), "Lost in air, tubes", "mm³"),
    Ask((*LINE, "floating"), "Calipers", "", choices=(("true", "float"), ("false", "one side"))),
    Ask((*LINE, "gap_mm"), "Gap of a pad"),
    Ask((*LINE, "radius_mm"), "Pads bite at a radius"),
    Ask((*LINE, "pad_mu"), "Pads' μ", ""),
    Ask((*LINE, "weight_share"), "Weight on those wheels", "of 1"),
)  # fmt: skip


class LiquidPage(QWidget):
    """Nothing is computed here: the figures come from core."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(12)
        left = QVBoxLayout()
        left.setSpacing(6)
        self.view = LiquidView(theme)
        left.addWidget(self.view, 1)
        self.words = caption("", wrap=True)
        left.addWidget(self.words)
        left.addWidget(caption(caution_of("liquid"), "soft", wrap=True))
        outer.addLayout(left, 1)
        side = QWidget()
        right = QVBoxLayout(side)
        right.setContentsMargins(0, 0, 6, 0)
        right.setSpacing(6)
        self.plan = button("Plan one", lambda: session.do(start_line()), "main")
        self.drop = button("Take it away", lambda: session.do(drop_line()))
        right.addLayout(row_of(self.plan, self.drop))
        self.fields = FieldColumn(session, ASKS, lambda: False)
        right.addWidget(self.fields)
        right.addStretch(1)
        outer.addWidget(scrolled(side, 300))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show a vehicle's liquid line."""
        vehicle = evaluation.vehicle
        planned = vehicle.liquid is not None
        self.fields.setEnabled(planned)
        self.plan.setVisible(not planned)
        self.drop.setVisible(planned)
        self.view.show_evaluation(evaluation)
        self.words.setText(liquid_words(vehicle))
        if planned:
            self.fields.show_values(vehicle)

    def facts(self) -> str:
        """Say what the page does."""
        return (
            "From a pedal through a master to its slaves: a wider slave pushes harder and moves "
            "less, and two slaves move half as far as one."
        )

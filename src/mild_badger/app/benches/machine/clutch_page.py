"""The clutch's page: sizes right, its section and what it holds left."""

from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.benches.machine.clutch_view import ClutchView
from mild_badger.app.drawing.fields import Ask, FieldColumn
from mild_badger.app.drawing.widgets import button, caption, row_of, scrolled
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.display.clutch_result import (
    LINING_WEAR,
    clutch_words,
    drop_clutch,
    start_clutch,
)
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.linkage.clutch import LININGS
from mild_badger.core.trial.log import watch_wear

__all__ = ["ClutchPage"]

CLUTCH = ("clutch",)
LINING_WORDS = tuple((name, f"{name}, {mu:g}") for name, mu in LININGS.items())
ASKS = (
    Ask((*CLUTCH, "outer_mm"), "Lining, outside"),
    Ask((*CLUTCH, "inner_mm"), "Lining, inside"),
    Ask((*CLUTCH, "faces"), "Faces that rub", ""),
    Ask((*CLUTCH, "lining"), "Lining and its μ", "", choices=(*LINING_WORDS, ("own", "my own"))),
    Ask((*CLUTCH, "own_mu"), "My own μ", ""),
    Ask((*CLUTCH, "spring_n"), "Spring, lining new", "N"),
    Ask((*CLUTCH, "spring_n_per_mm"), "Less for each mm", "N/mm"),
    Ask((*CLUTCH, "wear_mm"), "May wear off"),
    Ask((*CLUTCH, "gap_mm"), "Gap of a face, released"),
    Ask((*CLUTCH, "lever_ratio"), "Lever's ratio", ": 1"),
    Ask((*CLUTCH, "pedal_mm"), "Lever's travel"),
    Ask((*CLUTCH, "free_mm"), "Of it play"),
)  # fmt: skip


class ClutchPage(QWidget):
    """Nothing is computed here: the figures come from core."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(12)
        left = QVBoxLayout()
        left.setSpacing(6)
        self.view = ClutchView(theme)
        left.addWidget(self.view, 1)
        self.words = caption("", wrap=True)
        left.addWidget(self.words)
        outer.addLayout(left, 1)
        side = QWidget()
        right = QVBoxLayout(side)
        right.setContentsMargins(0, 0, 6, 0)
        right.setSpacing(6)
        self.plan = button("Plan one", lambda: session.do(start_clutch(session.vehicle)), "main")
        self.drop = button("Take it away", lambda: session.do(drop_clutch()))
        self.watch = button("Remind me in the log", self._watch)
        right.addLayout(row_of(self.plan, self.drop))
        self.fields = FieldColumn(session, ASKS, lambda: False)
        right.addWidget(self.fields)
        right.addLayout(row_of(self.watch))
        right.addStretch(1)
        outer.addWidget(scrolled(side, 300))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show a vehicle's clutch."""
        vehicle = evaluation.vehicle
        clutch = vehicle.clutch
        for thing in (self.fields, self.drop, self.watch):
            thing.setEnabled(clutch is not None)
        self.plan.setVisible(clutch is None)
        self.drop.setVisible(clutch is not None)
        self.view.show_evaluation(evaluation)
        self.words.setText(clutch_words(vehicle))
        if clutch is not None:
            self.fields.show_values(vehicle)

    def facts(self) -> str:
        """Say what the page does."""
        return (
            "A friction clutch between motor and box. A lining that is run in holds less than a "
            "new and stiff one: plan by the lower bar, and leave some for wear."
        )

    def _watch(self) -> None:
        self.session.do(watch_wear(self.session.vehicle, LINING_WEAR))

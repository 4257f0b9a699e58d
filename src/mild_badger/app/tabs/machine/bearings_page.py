"""The bearings' page: what bears on each, and which kinds serve; a press takes one."""

from PyQt6.QtWidgets import QFrame, QScrollArea, QVBoxLayout, QWidget

from mild_badger.app.drawing.widgets import caption
from mild_badger.app.session import Session
from mild_badger.app.tabs.machine.bearings_view import BearingsView
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import in_mm_s
from mild_badger.core.mechanisms.bearings.edits import apply_bearing
from mild_badger.core.mechanisms.bearings.loads import BEARING_KINDS
from mild_badger.core.message import say
from mild_badger.core.words import word

__all__ = ["BearingsPage"]


class BearingsPage(QWidget):
    """Nothing is computed here: loads and judgements come from core."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        self.view = BearingsView(theme)
        self.view.taken.connect(self._take)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setWidget(self.view)
        outer.addWidget(area, 1)
        limits = "; ".join(
            say(
                "tab-machine.up-to-n-mm-and",
                kind=word(kind),
                mu=limit.mu,
                pressure=limit.pressure,
                rubbing=in_mm_s(limit.rubbing),
            )
            for kind, limit in BEARING_KINDS.items()
        )
        outer.addWidget(
            caption(
                say("tab-machine.estimates-press-a-kind-to-take-it", limits=limits),
                "soft",
                wrap=True,
            )
        )

    def refresh(self, evaluation: Evaluation) -> None:
        """Show a vehicle's bearings."""
        self.view.show_evaluation(evaluation)

    def facts(self) -> str:
        """Say what the page does."""
        return say("tab-machine.what-bears-on-every-bearing-of-outputs-box")

    def _take(self, number: int, kind: str) -> None:
        row = self.view.rows[number]
        for known in BEARING_KINDS:
            edit = apply_bearing(self.session.vehicle, row, known) if known == kind else None
            if edit is not None:
                self.session.do(edit)

"""What every bench is: a screen that shows evaluations and asks for edits."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from mild_badger.app.drawing.widgets import caption
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation

__all__ = ["Bench"]


class Bench(QWidget):
    """A bench; it is refreshed only while it is in view, and when it comes into view again.

    Signals
    -------
    save_wanted : the name and the text of a file to be written
    """

    title = ""
    save_wanted = pyqtSignal(str, str)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self._shown: object = None
        self.heading = caption("", "title")
        self.facts = caption("", "soft", wrap=True)

    def headed(self) -> QVBoxLayout:
        """Lay out the heading and the facts, and return what goes on below them."""
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(6)
        outer.addWidget(self.heading)
        outer.addWidget(self.facts)
        return outer

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation; each bench fills this in."""
        raise NotImplementedError

    def bring_up_to_date(self, *, again: bool = False) -> None:
        """Refresh unless this very evaluation is on screen already."""
        mark = (id(self.session.evaluation), self.session.school)
        if again or mark != self._shown:
            self._shown = mark
            self.refresh(self.session.evaluation)

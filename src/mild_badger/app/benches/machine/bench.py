"""The Machine bench: what a model has besides box and axle."""

from mild_badger.app.benches.bench import PagedBench
from mild_badger.app.benches.machine.engine_page import EnginePage
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation

__all__ = ["MachineBench"]

PAGES = ("Display engine",)


class MachineBench(PagedBench):
    """A page for each mechanism."""

    title = "Machine"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, PAGES)
        self.engine_page = EnginePage(session, theme)
        self.pictures.addWidget(self.engine_page)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation on the page in view."""
        self.turn_to_page()
        self.engine_page.refresh(evaluation)
        self.heading.setText("Display engine")
        self.facts.setText(self.engine_page.facts())

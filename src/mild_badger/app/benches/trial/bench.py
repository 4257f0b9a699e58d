"""The Trial bench: the list and its readings, the tachometer, what was built, the log."""

from PyQt6.QtCore import pyqtSignal

from mild_badger.app.benches.bench import PagedBench
from mild_badger.app.benches.trial.built_page import BuiltPage
from mild_badger.app.benches.trial.list_page import ListPage
from mild_badger.app.benches.trial.log_page import LogPage
from mild_badger.app.benches.trial.tacho_page import TachoPage
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation

__all__ = ["TrialBench"]

PAGES = ("Readings", "Tachometer", "As built", "Log")


class TrialBench(PagedBench):
    """A page for each step on the bench; only the one in view is refreshed.

    Signals
    -------
    file_wanted : a file or device to read pulses from is to be chosen
    """

    title = "Trial"
    file_wanted = pyqtSignal()

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, PAGES)
        self.list_page = ListPage(session, theme)
        self.tacho_page = TachoPage(session, theme)
        self.built_page = BuiltPage(session, theme)
        self.log_page = LogPage(session, theme)
        self.tacho_page.file_wanted.connect(self.file_wanted)
        self.log_page.save_wanted.connect(self.save_wanted)
        for page in (self.list_page, self.tacho_page, self.built_page, self.log_page):
            self.pictures.addWidget(page)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation on the page in view."""
        number = self.turn_to_page()
        if number == 0:
            self.list_page.refresh(evaluation)
            self.heading.setText(self.list_page.heading())
            self.facts.setText(
                "Engage, run, look which way and how fast it turns. Never shift by hand inside a "
                "running box, and keep fingers out of running gears."
            )
        elif number == 1:
            self.tacho_page.refresh(evaluation)
            self.heading.setText("Tachometer")
            self.facts.setText(self.tacho_page.facts())
        elif number == 2:
            self.built_page.refresh(evaluation)
            self.heading.setText("As built")
            self.facts.setText(self.built_page.facts())
        else:
            self.log_page.refresh(evaluation)
            self.heading.setText(self.log_page.heading())
            self.facts.setText("What was changed, why and what was seen; kept with the vehicle.")

"""The Machine bench: what a model has besides box and axle."""

from mild_badger.app.benches.bench import PagedBench
from mild_badger.app.benches.machine.balance_page import BalancePage
from mild_badger.app.benches.machine.bearings_page import BearingsPage
from mild_badger.app.benches.machine.cables_page import CablesPage
from mild_badger.app.benches.machine.clutch_page import ClutchPage
from mild_badger.app.benches.machine.crane_page import CranePage
from mild_badger.app.benches.machine.engine_page import EnginePage
from mild_badger.app.benches.machine.lever_page import LeverPage
from mild_badger.app.benches.machine.liquid_page import LiquidPage
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["MachineBench"]

PAGES = (
    "Display engine", "Lever drive", "Clutch", "Liquid lines", "Cables", "Outputs", "Balance",
    "Bearings",
)  # fmt: skip


class MachineBench(PagedBench):
    """A page for each mechanism."""

    title = "Machine"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, PAGES)
        self.engine_page = EnginePage(session, theme)
        self.lever_page = LeverPage(session, theme)
        self.clutch_page = ClutchPage(session, theme)
        self.liquid_page = LiquidPage(session, theme)
        self.cables_page = CablesPage(session, theme)
        self.crane_page = CranePage(session, theme)
        self.balance_page = BalancePage(session, theme)
        self.bearings_page = BearingsPage(session, theme)
        self.own_pages = (
            self.engine_page, self.lever_page, self.clutch_page, self.liquid_page,
            self.cables_page, self.crane_page, self.balance_page, self.bearings_page,
        )  # fmt: skip
        for page in self.own_pages:
            self.pictures.addWidget(page)
        self._first = True

    def _planned_first(self, vehicle: Vehicle) -> None:
        """Open where something is planned; once, then the builder's own choice stands."""
        if not self._first:
            return
        self._first = False
        planned = (vehicle.display, vehicle.stepless, vehicle.clutch, vehicle.liquids or None,
                   vehicle.cables, vehicle.crane, vehicle.balance)  # fmt: skip
        number = next((n for n, thing in enumerate(planned) if thing is not None), 0)
        if self.pages.currentIndex() == 0 and number:
            self.pages.blockSignals(True)
            self.pages.setCurrentIndex(number)
            self.pages.blockSignals(False)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation on the page in view."""
        self._planned_first(evaluation.vehicle)
        number = self.turn_to_page()
        page = self.own_pages[number]
        page.refresh(evaluation)
        self.heading.setText(PAGES[number])
        self.facts.setText(page.facts())

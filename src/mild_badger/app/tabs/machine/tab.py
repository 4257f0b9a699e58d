"""The tab Machine: what a model has besides box and axle."""

from functools import cached_property

from mild_badger.app.session import Session
from mild_badger.app.tabs.machine.balance_page import BalancePage
from mild_badger.app.tabs.machine.bearings_page import BearingsPage
from mild_badger.app.tabs.machine.cables_page import CablesPage
from mild_badger.app.tabs.machine.clutch_page import ClutchPage
from mild_badger.app.tabs.machine.crane_page import CranePage
from mild_badger.app.tabs.machine.engine_page import EnginePage
from mild_badger.app.tabs.machine.lever_page import LeverPage
from mild_badger.app.tabs.machine.liquid_page import LiquidPage
from mild_badger.app.tabs.tab import PagedTab
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.text.pages import PAGES as TAB_PAGES

__all__ = ["MachineTab"]

PAGES = TAB_PAGES["Machine"]


class MachineTab(PagedTab):
    """A page for each mechanism."""

    title = "Machine"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, PAGES)
        self._first = True

    @cached_property
    def engine_page(self) -> EnginePage:
        return self.added(EnginePage(self.session, self.theme))

    @cached_property
    def lever_page(self) -> LeverPage:
        return self.added(LeverPage(self.session, self.theme))

    @cached_property
    def clutch_page(self) -> ClutchPage:
        return self.added(ClutchPage(self.session, self.theme))

    @cached_property
    def liquid_page(self) -> LiquidPage:
        return self.added(LiquidPage(self.session, self.theme))

    @cached_property
    def cables_page(self) -> CablesPage:
        return self.added(CablesPage(self.session, self.theme))

    @cached_property
    def crane_page(self) -> CranePage:
        return self.added(CranePage(self.session, self.theme))

    @cached_property
    def balance_page(self) -> BalancePage:
        return self.added(BalancePage(self.session, self.theme))

    @cached_property
    def bearings_page(self) -> BearingsPage:
        return self.added(BearingsPage(self.session, self.theme))

    def _planned_first(self, vehicle: Vehicle) -> None:
        """Open where something is planned; once, then the builder's own choice stands."""
        if not self._first:
            return
        self._first = False
        planned = (
            vehicle.display_engine,
            vehicle.stepless,
            vehicle.clutch,
            vehicle.hydraulic_lines or None,
            vehicle.cables,
            vehicle.crane,
            vehicle.balance,
        )
        number = next((n for n, thing in enumerate(planned) if thing is not None), 0)
        if number and self.key == "engine":
            self.pages.blockSignals(True)
            self.pages.setCurrentIndex(number)
            self.pages.blockSignals(False)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation on the page in view."""
        self._planned_first(evaluation.vehicle)
        key = self.turn_to_page()
        page = self.page_in_view
        page.refresh(evaluation)
        self.heading.setText(PAGES[key])
        self.facts.setText(page.facts())

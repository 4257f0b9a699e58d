"""The tab Machine: what a model has besides box and axle."""

from typing import Any

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
from mild_badger.core.mechanisms.registry import mechanism_on
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.text.pages import PAGES as TAB_PAGES

__all__ = ["MachineTab"]

PAGES = TAB_PAGES["Machine"]
PAGE_CLASSES: dict[str, type[Any]] = {
    "engine": EnginePage,
    "lever": LeverPage,
    "clutch": ClutchPage,
    "liquid": LiquidPage,
    "cables": CablesPage,
    "crane": CranePage,
    "balance": BalancePage,
    "bearings": BearingsPage,
}


class MachineTab(PagedTab):
    """A page for each mechanism."""

    title = "Machine"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, PAGES)
        self._first = True
        self._made: dict[str, Any] = {}

    def page(self, key: str) -> Any:
        """Give a mechanism's page, made when it is first wanted."""
        if key not in self._made:
            self._made[key] = self.added(PAGE_CLASSES[key](self.session, self.theme))
        return self._made[key]

    @property
    def page_in_view(self) -> Any:
        """The page in view, made if need be."""
        return self.page(self.key)

    def _planned_first(self, vehicle: Vehicle) -> None:
        """Open where something is planned; once, then the builder's own choice stands."""
        if not self._first:
            return
        self._first = False
        planned = (n for n, key in enumerate(self.keys) if mechanism_on(key).planned(vehicle))
        number = next(planned, 0)
        if number and self.key == self.keys[0]:
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

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


MAKERS = (
    EnginePage, LeverPage, ClutchPage, LiquidPage, CablesPage, CranePage, BalancePage, BearingsPage,
)  # fmt: skip


class MachineBench(PagedBench):
    """A page for each mechanism."""

    title = "Machine"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, PAGES, MAKERS)
        self._first = True

    @property
    def engine_page(self) -> EnginePage:
        return self.page_of(EnginePage)

    @property
    def lever_page(self) -> LeverPage:
        return self.page_of(LeverPage)

    @property
    def clutch_page(self) -> ClutchPage:
        return self.page_of(ClutchPage)

    @property
    def liquid_page(self) -> LiquidPage:
        return self.page_of(LiquidPage)

    @property
    def cables_page(self) -> CablesPage:
        return self.page_of(CablesPage)

    @property
    def crane_page(self) -> CranePage:
        return self.page_of(CranePage)

    @property
    def balance_page(self) -> BalancePage:
        return self.page_of(BalancePage)

    @property
    def bearings_page(self) -> BearingsPage:
        return self.page_of(BearingsPage)

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
        page = self.page(number)
        assert isinstance(page, MAKERS)
        page.refresh(evaluation)
        self.heading.setText(PAGES[number])
        self.facts.setText(page.facts())

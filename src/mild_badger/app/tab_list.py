"""The tabs of the window, in the order of the work; each is made when it is first wanted."""

from collections.abc import Callable

from mild_badger.app.session import Session
from mild_badger.app.tabs.axle.tab import AxleTab
from mild_badger.app.tabs.layout.tab import LayoutTab
from mild_badger.app.tabs.machine.tab import MachineTab
from mild_badger.app.tabs.ratios.tab import RatiosTab
from mild_badger.app.tabs.shift.tab import ShiftTab
from mild_badger.app.tabs.tab import Tab
from mild_badger.app.tabs.trial.tab import TrialTab
from mild_badger.app.tabs.vehicle.tab import VehicleTab
from mild_badger.app.tabs.workshop.tab import WorkshopTab
from mild_badger.app.theme.style import Theme

__all__ = ["TABS"]


def _road_tab(session: Session, theme: Theme) -> Tab:
    # Loading the chart library takes as long as all the rest of the window: only when wanted.
    from mild_badger.app.tabs.road.tab import RoadTab  # noqa: PLC0415

    return RoadTab(session, theme)


TABS: dict[str, tuple[Callable[[Session, Theme], Tab], int]] = {
    "Vehicle": (VehicleTab, 1),
    "Ratios": (RatiosTab, 2),
    "Shift": (ShiftTab, 3),
    "Layout": (LayoutTab, 4),
    "Axle": (AxleTab, 5),
    "Road": (_road_tab, 6),
    "Trial": (TrialTab, 7),
    "Workshop": (WorkshopTab, 8),
    "Machine": (MachineTab, 9),
}
"""The tabs in the order of the work, each with the digit of its key."""

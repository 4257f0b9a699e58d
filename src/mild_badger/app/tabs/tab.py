"""What every tab is: a screen that shows evaluations and asks for edits."""

from collections.abc import Mapping
from typing import Any, TypeVar

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.widgets import PageStack, caption, page_bar
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation

__all__ = ["PagedTab", "Tab"]


P = TypeVar("P", bound=QWidget)


class Tab(QWidget):
    """A tab; it is refreshed only while it is in view, and when it comes into view again.

    Signals
    -------
    save_wanted : the name and the text of a file to be written
    bytes_wanted : the name and the bytes of a file to be written
    files_wanted : files to be written into one folder
    pictures_wanted : the pictures of a placed box are to be written
    export_wanted : an export is to be written, by its key
    search_wanted : a job to do in the background, what shows its result, and what it is called
    prepare_wanted : a quiet job, after which the tab is brought up to date
    targets_wanted : a file with targets is to be chosen and read
    pulses_wanted : a file or device to read pulses from is to be chosen, for what takes its path
    """

    title = ""
    save_wanted = pyqtSignal(str, str)
    bytes_wanted = pyqtSignal(str, bytes)
    files_wanted = pyqtSignal(object)
    pictures_wanted = pyqtSignal(object)
    export_wanted = pyqtSignal(str)
    search_wanted = pyqtSignal(object, object, str)
    prepare_wanted = pyqtSignal(object, object)
    targets_wanted = pyqtSignal()
    pulses_wanted = pyqtSignal(object)

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

    def stopped(self) -> None:
        """Say that background work was cancelled or failed, where the tab says it runs."""

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation; each tab fills this in."""
        raise NotImplementedError

    @property
    def page_key(self) -> str:
        """Key of the page in view; "" for a tab of one page."""
        return ""

    def show_thing(self, page: str, where: tuple[str, ...]) -> None:
        """Go to a page by its key, and choose what a finding concerns, where there is a choice."""

    def printed(self) -> tuple[str, bytes] | None:
        """Give what the page in view prints, its title and a PDF; None for the plan book.

        Raises
        ------
        InputError
            It cannot be drawn to its figures.
        """
        return None

    def bring_up_to_date(self, *, again: bool = False) -> None:
        """Refresh unless this very evaluation is on screen already."""
        mark = (id(self.session.evaluation), self.session.school)
        if again or mark != self._shown:
            self._shown = mark
            self.refresh(self.session.evaluation)


class PagedTab(Tab):
    """A tab of several pages, turned by tabs beside its heading; one of them is in view.

    ``titles`` are the pages' titles by key, in their order. The page ``turn`` is the tab's
    property ``turn_page``, made when it is first wanted.
    """

    def __init__(self, session: Session, theme: Theme, titles: Mapping[str, str]) -> None:
        super().__init__(session, theme)
        self.keys = tuple(titles)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(6)
        head = QHBoxLayout()
        head.addWidget(self.heading, 1)
        self.pages = page_bar(tuple(titles.values()))
        self.pages.currentChanged.connect(lambda _n: self.bring_up_to_date(again=True))
        head.addWidget(self.pages)
        outer.addLayout(head)
        outer.addWidget(self.facts)
        self.pictures = PageStack()
        outer.addWidget(self.pictures, 1)
        self.below = outer

    @property
    def page_in_view(self) -> Any:
        """The page in view, made if need be."""
        return getattr(self, f"{self.key}_page")

    @property
    def key(self) -> str:
        """Key of the page in view."""
        return self.keys[self.pages.currentIndex()]

    @property
    def page_key(self) -> str:
        return self.key

    def show_page(self, key: str) -> None:
        """Go to a page by its key."""
        self.pages.setCurrentIndex(self.keys.index(key))

    def show_thing(self, page: str, where: tuple[str, ...]) -> None:
        """Go to a page by its key, and choose what a finding concerns, where there is a choice."""
        if page in self.keys:
            self.show_page(page)
            choose = getattr(self.page_in_view, "choose_thing", None)
            if choose is not None:
                choose(where)

    def printed(self) -> tuple[str, bytes] | None:
        own = getattr(self.page_in_view, "printed", None)
        return None if own is None else own()

    def turn_to_page(self) -> str:
        """Bring the chosen page into view; give its key."""
        self.pictures.setCurrentWidget(self.page_in_view)
        return self.key

    def added(self, page: P) -> P:
        """Take a page in when it is made."""
        self.pictures.addWidget(page)
        return page

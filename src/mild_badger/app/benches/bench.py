"""What every bench is: a screen that shows evaluations and asks for edits."""

from collections.abc import Callable, Sequence
from typing import TypeVar

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.widgets import PageStack, caption, page_bar
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation

__all__ = ["Bench", "PagedBench"]


P = TypeVar("P", bound=QWidget)


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

    def stopped(self) -> None:
        """Say that background work was cancelled or failed, where the bench says it runs."""

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation; each bench fills this in."""
        raise NotImplementedError

    def bring_up_to_date(self, *, again: bool = False) -> None:
        """Refresh unless this very evaluation is on screen already."""
        mark = (id(self.session.evaluation), self.session.school)
        if again or mark != self._shown:
            self._shown = mark
            self.refresh(self.session.evaluation)


class PagedBench(Bench):
    """A bench of several pages, turned by tabs beside its heading; one of them is in view."""

    def __init__(
        self,
        session: Session,
        theme: Theme,
        titles: Sequence[str],
        makers: Sequence[Callable[[Session, Theme], QWidget]] = (),
    ) -> None:
        """Make a bench; pages with ``makers`` are made when they are first wanted."""
        super().__init__(session, theme)
        self._makers, self._made = tuple(makers), dict[int, QWidget]()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(6)
        head = QHBoxLayout()
        head.addWidget(self.heading, 1)
        self.pages = page_bar(titles)
        self.pages.currentChanged.connect(lambda _n: self.bring_up_to_date(again=True))
        head.addWidget(self.pages)
        outer.addLayout(head)
        outer.addWidget(self.facts)
        self.pictures = PageStack()
        outer.addWidget(self.pictures, 1)
        self.below = outer

    def show_page(self, number: int) -> None:
        """Go to a page by its number."""
        self.pages.setCurrentIndex(number)

    def turn_to_page(self) -> int:
        """Bring the chosen page into view; give its number."""
        page = self.pages.currentIndex()
        if self._makers:
            self.pictures.setCurrentWidget(self.page(page))
        else:
            self.pictures.setCurrentIndex(page)
        return page

    def page(self, number: int) -> QWidget:
        """Give a page by its number."""
        if number not in self._made:
            self._made[number] = self._makers[number](self.session, self.theme)
            self.pictures.addWidget(self._made[number])
        return self._made[number]

    def page_of(self, kind: type[P]) -> P:
        """Give a page by its class."""
        page = self.page(self._makers.index(kind))
        assert isinstance(page, kind)
        return page

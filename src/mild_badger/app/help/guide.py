"""Help for a window: the handbook at the page in view, what a finding means, the search."""

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QMainWindow

from mild_badger.app.help.browser import HandbookWindow
from mild_badger.app.help.index import entries_of
from mild_badger.app.help.search import SearchDialog
from mild_badger.app.session import Session
from mild_badger.core.findings.catalogue import CATALOGUE
from mild_badger.core.findings.finding import Finding
from mild_badger.core.message import say
from mild_badger.text.handbook import place_of

__all__ = ["Guide"]


class Guide:
    """``where`` gives tab and page in view, ``show`` goes to one, ``complain`` says what failed.

    ``teach`` goes to a lesson by its key.
    """

    def __init__(
        self,
        window: QMainWindow,
        session: Session,
        *,
        where: Callable[[], tuple[str, str]],
        show: Callable[[str, str], object],
        complain: Callable[[str], object],
        teach: Callable[[str], object],
    ) -> None:
        self._window, self._session = window, session
        self._where, self._show, self._complain = where, show, complain
        self._teach = teach
        self.handbook: HandbookWindow | None = None

    def open_handbook(self) -> None:
        """Open the handbook at the page in view."""
        self.read(*place_of(*self._where()))

    def explain(self, finding: Finding) -> None:
        """Open the handbook at the section that explains a finding."""
        kind = CATALOGUE.get(finding.code)
        self.read(*(place_of(kind.tab, kind.page) if kind is not None else ("trouble", "")))

    def read(self, chapter: str, heading: str = "") -> None:
        """Open the handbook at a section."""
        try:
            if self.handbook is None:
                self.handbook = HandbookWindow()
                self.handbook.lesson_wanted.connect(self._teach)
            self.handbook.open_at(chapter, heading)
        except OSError as error:
            self._complain(
                say("help.the-handbook-cannot-be-read-install-the", strerror=error.strerror)
            )

    def search(self) -> None:
        """Find gears, pages, commands, fields and terms by their words."""
        dialog = SearchDialog(
            self._window,
            entries_of(
                self._session.vehicle,
                self._window.findChildren(QAction),
                engage=self._session.engage,
                show=self._show,
                read=self.read,
            ),
        )
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.open()

    def close(self) -> None:
        """Close the handbook with the window."""
        if self.handbook is not None:
            self.handbook.close()

"""Searches off the main thread: results come back with the revision they started from."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QCoreApplication, QObject, QRunnable, QThreadPool, pyqtSignal

from mild_badger.core.errors import BadgerError

__all__ = ["Worker"]


class _Signals(QObject):
    done = pyqtSignal(int, object)
    failed = pyqtSignal(int, str)


class _Task(QRunnable):
    def __init__(self, ticket: int, work: Callable[[], Any], signals: _Signals) -> None:
        super().__init__()
        self._ticket, self._work, self._signals = ticket, work, signals

    def run(self) -> None:
        try:
            result = self._work()
        except BadgerError as error:
            self._signals.failed.emit(self._ticket, str(error))
        except Exception as error:  # noqa: BLE001 - a thread must not die unheard
            self._signals.failed.emit(self._ticket, f"The search failed: {error!r}.")
        else:
            self._signals.done.emit(self._ticket, result)


class Worker(QObject):
    """Runs one kind of search at a time; a newer request, or cancel, makes older ones stale.

    Signals
    -------
    busy : whether a search is running
    failed : a sentence
    """

    busy = pyqtSignal(bool)
    failed = pyqtSignal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._ticket = 0
        self._then: Callable[[Any], None] | None = None
        self._signals = _Signals(self)
        self._signals.done.connect(self._done)
        self._signals.failed.connect(self._failed)

    def start(self, work: Callable[[], Any], then: Callable[[Any], None]) -> None:
        """Run ``work`` in the background, then ``then`` with its result on the main thread."""
        self._ticket += 1
        self._then = then
        self.busy.emit(True)
        self._pool.start(_Task(self._ticket, work, self._signals))

    def cancel(self) -> None:
        """Drop the running search's result."""
        self._ticket += 1
        self._then = None
        self.busy.emit(False)

    def wait(self) -> None:
        """Let the running search end and its result arrive."""
        self._pool.waitForDone()
        QCoreApplication.processEvents()

    def finish(self) -> None:
        """Wait for the thread, as before closing."""
        self.cancel()
        self._pool.clear()
        self._pool.waitForDone()

    def _done(self, ticket: int, result: object) -> None:
        if ticket != self._ticket or self._then is None:
            return
        then, self._then = self._then, None
        self.busy.emit(False)
        then(result)

    def _failed(self, ticket: int, message: str) -> None:
        if ticket != self._ticket:
            return
        self._then = None
        self.busy.emit(False)
        self.failed.emit(message)

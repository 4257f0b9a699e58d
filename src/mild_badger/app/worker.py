"""Searches off the main thread: results come back with the revision they started from."""

import time
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QCoreApplication, QObject, QRunnable, QThreadPool, pyqtSignal

from mild_badger.core.errors import BadgerError
from mild_badger.core.watch import SearchStopped, Watch

__all__ = ["Work", "Worker"]


Work = Callable[[Watch], Any]

REPORT_EVERY_S = 0.1


class _Signals(QObject):
    done = pyqtSignal(int, object)
    failed = pyqtSignal(int, str)
    told = pyqtSignal(int, float, object)


class _Task(QRunnable):
    def __init__(
        self, ticket: int, work: Work, signals: _Signals, stop: Callable[[int], bool]
    ) -> None:
        super().__init__()
        self._ticket, self._work, self._signals, self._stop = ticket, work, signals, stop
        self._told = 0.0

    def run(self) -> None:
        watch = Watch(stop=lambda: self._stop(self._ticket), report=self._report)
        try:
            result = self._work(watch)
        except SearchStopped:
            return
        except BadgerError as error:
            self._signals.failed.emit(self._ticket, str(error))
        except Exception as error:  # noqa: BLE001 - a thread must not die unheard
            self._signals.failed.emit(self._ticket, f"The search failed: {error!r}.")
        else:
            self._signals.done.emit(self._ticket, result)

    def _report(self, share: float, best: object) -> None:
        now = time.monotonic()
        if now - self._told > REPORT_EVERY_S:
            self._told = now
            self._signals.told.emit(self._ticket, share, best)


class Worker(QObject):
    """Runs one kind of search at a time; a newer request, or cancel, makes older ones stale.

    Signals
    -------
    busy : whether a search is running
    told : the share done, 0 to 1, and the best found so far, None while there is none
    failed : a sentence
    """

    busy = pyqtSignal(bool)
    told = pyqtSignal(float, object)
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
        self._signals.told.connect(self._told)

    def start(self, work: Work, then: Callable[[Any], None]) -> None:
        """Run ``work`` in the background, then ``then`` with its result on the main thread.

        ``work`` is given what it is watched by: it reports there, and is stopped there.
        """
        self._ticket += 1
        self._then = then
        self.busy.emit(True)
        self._pool.start(_Task(self._ticket, work, self._signals, self._is_stale))

    def cancel(self) -> None:
        """Stop the running search and drop its result."""
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

    def _is_stale(self, ticket: int) -> bool:
        return ticket != self._ticket

    def _told(self, ticket: int, share: float, best: object) -> None:
        if ticket == self._ticket:
            self.told.emit(share, best)

    def _failed(self, ticket: int, message: str) -> None:
        if ticket != self._ticket:
            return
        self._then = None
        self.busy.emit(False)
        self.failed.emit(message)

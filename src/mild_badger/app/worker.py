"""Searches off the main thread: results come back only if nothing newer was asked since.

Long ones run in a process of their own, since two threads of one interpreter slow one another and
a window that types must not wait.
"""

import contextlib
import pickle
import subprocess
import sys
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QCoreApplication, QObject, QRunnable, QThreadPool, pyqtSignal

from mild_badger.core.errors import BadgerError

__all__ = ["Job", "Worker"]


@dataclass(frozen=True)
class Job:
    """A function of core and its arguments; a search also takes ``watch``, to report there."""

    work: Callable[..., Any]
    arguments: tuple[Any, ...]


class _Signals(QObject):
    done = pyqtSignal(int, object)
    failed = pyqtSignal(int, str)
    told = pyqtSignal(int, float, object)


class _Quiet(QRunnable):
    """Runs a short job on a thread of this process."""

    def __init__(self, ticket: int, job: Job, signals: _Signals) -> None:
        super().__init__()
        self._ticket, self._job, self._signals = ticket, job, signals

    def run(self) -> None:
        try:
            result = self._job.work(*self._job.arguments)
        except BadgerError as error:
            self._signals.failed.emit(self._ticket, str(error))
        except Exception as error:  # noqa: BLE001 - a thread must not die unheard
            self._signals.failed.emit(self._ticket, f"The work failed: {error!r}.")
        else:
            self._signals.done.emit(self._ticket, result)


class _Search(QRunnable):
    """Hands a job to the search process and passes on what it says."""

    def __init__(self, ticket: int, job: Job, signals: _Signals, process: "_Process") -> None:
        super().__init__()
        self._ticket, self._job, self._signals = ticket, job, signals
        self._process = process

    def run(self) -> None:
        try:
            self._process.send(self._job)
            while True:
                kind, *rest = self._process.receive()
                if kind == "told":
                    self._signals.told.emit(self._ticket, *rest)
                    continue
                signal = self._signals.done if kind == "done" else self._signals.failed
                signal.emit(self._ticket, rest[0])
                return
        except (EOFError, OSError, pickle.UnpicklingError) as error:
            # stopped on purpose, and then nobody listens; or it died
            sentence = f"The search ended before its time ({error!r}). Try it again."
            self._signals.failed.emit(self._ticket, sentence)


class _Process:
    """The search process, started when it is first wanted."""

    def __init__(self) -> None:
        self._running: subprocess.Popen[bytes] | None = None

    def send(self, job: Job) -> None:
        """Start the process if it is not running, and send it a job."""
        if self._running is None or self._running.poll() is not None:
            self._running = subprocess.Popen(
                [sys.executable, "-m", "mild_badger.search_process"],
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
            )
        if self._running.stdin is not None:
            pickle.dump((job.work, job.arguments), self._running.stdin)
            self._running.stdin.flush()

    def receive(self) -> tuple[Any, ...]:
        """Wait for the next thing the process says."""
        if self._running is None or self._running.stdout is None:
            raise EOFError
        answer: tuple[Any, ...] = pickle.load(self._running.stdout)
        return answer

    def stop(self) -> None:
        """End the process, whatever it is doing; who waits for its answer gets none."""
        if self._running is not None:
            self._running.kill()
            self._running.wait()

    def close(self) -> None:
        """End it and let go of its pipes; nobody may be waiting for an answer any more."""
        self.stop()
        running, self._running = self._running, None
        for pipe in (running.stdin, running.stdout) if running is not None else ():
            if pipe is not None:
                with contextlib.suppress(OSError):  # what it was sent last may still be held back
                    pipe.close()


class Worker(QObject):
    """Runs one job at a time; a newer request, or cancel, ends older ones and makes them stale.

    Signals
    -------
    busy : whether a job is running
    told : the share done, 0 to 1, and the best found so far, None while there is none
    failed : a sentence
    """

    busy = pyqtSignal(bool)
    told = pyqtSignal(float, object)
    failed = pyqtSignal(str)

    def __init__(self, parent: QObject | None = None, *, apart: bool = True) -> None:
        """Make a worker; ``apart`` runs searches in a process of their own."""
        super().__init__(parent)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._ticket = 0
        self._running = False
        self._then: Callable[[Any], None] | None = None
        self._process = _Process() if apart else None
        self._signals = _Signals(self)
        self._signals.done.connect(self._done)
        self._signals.failed.connect(self._failed)
        self._signals.told.connect(self._told)

    def start(self, job: Job, then: Callable[[Any], None]) -> None:
        """Run a job in the background, then ``then`` with its result on the main thread."""
        self._end()
        self._ticket += 1
        self._then, self._running = then, True
        self.busy.emit(True)
        if self._process is None:
            self._pool.start(_Quiet(self._ticket, job, self._signals))
        else:
            self._pool.start(_Search(self._ticket, job, self._signals, self._process))

    def cancel(self) -> None:
        """Stop the running job and drop its result."""
        self._end()
        self._ticket += 1
        self._then = None
        self.busy.emit(False)

    def wait(self) -> None:
        """Let the running job end and its result arrive."""
        self._pool.waitForDone()
        QCoreApplication.processEvents()

    def finish(self) -> None:
        """End everything, as before closing."""
        self.cancel()
        self._pool.clear()
        self._pool.waitForDone()
        if self._process is not None:
            self._process.close()

    def _end(self) -> None:
        if self._running and self._process is not None:
            self._process.stop()
            self._pool.waitForDone()  # its thread is at the end of a pipe: this takes no time
            self._process.close()
        self._running = False

    def _told(self, ticket: int, share: float, best: object) -> None:
        if ticket == self._ticket:
            self.told.emit(share, best)

    def _done(self, ticket: int, result: object) -> None:
        if ticket != self._ticket or self._then is None:
            return
        then, self._then = self._then, None
        self._running = False
        self.busy.emit(False)
        then(result)

    def _failed(self, ticket: int, message: str) -> None:
        if ticket != self._ticket:
            return
        self._then, self._running = None, False
        self.busy.emit(False)
        self.failed.emit(message)

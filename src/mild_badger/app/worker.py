"""Long work off the main thread: answers come back only if nothing newer was asked since.

It runs in a process of its own, since two threads of one interpreter slow one another and a window
that types must not wait.
"""

import contextlib
import subprocess
import threading
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QCoreApplication, QObject, QRunnable, QThreadPool, pyqtSignal

from mild_badger.core.errors import DocumentError
from mild_badger.core.message import say
from mild_badger.jobs.codec import read_message, write_message
from mild_badger.jobs.process import command
from mild_badger.jobs.registry import Job

__all__ = ["ENDED_FROM_OUTSIDE", "Job", "Worker"]

ENDED_FROM_OUTSIDE = say("window.the-background-work-was-ended-from-outside")
BROKEN = say("window.the-background-work-failed-inside-the")


class _Signals(QObject):
    done = pyqtSignal(int, object)
    failed = pyqtSignal(int, str)
    told = pyqtSignal(int, float, object)


class _SearchThread(QRunnable):
    """Hands a job to the search process and passes on what it says."""

    def __init__(
        self,
        ticket: int,
        job: Job,
        signals: _Signals,
        process: "_Process",
        dropped: threading.Event,
    ) -> None:
        super().__init__()
        self._ticket, self._job, self._signals = ticket, job, signals
        self._process, self._dropped = process, dropped

    def run(self) -> None:
        failed = self._signals.failed
        try:
            self._process.send(self._job, self._dropped)
            while True:
                kind, *rest = self._process.receive()
                if kind == "told":
                    self._signals.told.emit(self._ticket, *rest)
                    continue
                if kind == "done":
                    self._signals.done.emit(self._ticket, rest[0])
                else:
                    sentence = BROKEN.format(rest[0]) if kind == "broken" else rest[0]
                    failed.emit(self._ticket, sentence)
                return
        except (EOFError, OSError, ValueError):
            # ended on purpose, and then nobody listens; or killed, or out of memory
            self._process.reap()
            failed.emit(self._ticket, ENDED_FROM_OUTSIDE)
        except (DocumentError, TypeError) as error:
            failed.emit(self._ticket, BROKEN.format(str(error)))


class _Process:
    """The search process, started when it is first wanted."""

    def __init__(self) -> None:
        self._running: subprocess.Popen[bytes] | None = None
        self._job = ""
        self._starting = threading.Lock()

    @property
    def pid(self) -> int | None:
        """Number of the process, while there is one."""
        return None if self._running is None else self._running.pid

    def send(self, job: Job, dropped: threading.Event) -> None:
        """Start the process if it is not running, and send it a job unless that was dropped."""
        with self._starting:
            if dropped.is_set():
                raise EOFError
            if self._running is None or self._running.poll() is not None:
                self._let_go()  # of the pipes of one that has died
                self._running = subprocess.Popen(
                    command(),
                    stdin=subprocess.PIPE,
                    stdout=subprocess.PIPE,
                    cwd="/",
                    start_new_session=True,  # Ctrl+C in the terminal is for the window
                )
        self._job = job.name
        if self._running.stdin is not None:
            write_message(self._running.stdin, job.name, job.arguments)

    def receive(self) -> list[Any]:
        """Wait for the next thing the process says."""
        if self._running is None or self._running.stdout is None:
            raise EOFError
        return read_message(self._running.stdout, self._job)

    def reap(self) -> None:
        """Take note of a process that has died, so that none is left behind as a zombie."""
        with self._starting:
            self._kill()

    def close(self) -> None:
        """End it and let go of its pipes; nobody may be waiting for an answer any more."""
        with self._starting:
            self._let_go()

    def _kill(self) -> None:
        if self._running is not None:
            self._running.kill()
            self._running.wait()

    def _let_go(self) -> None:
        self._kill()
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

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._ticket = 0
        self._running = False
        self._job: Job | None = None
        self._then: Callable[[Any], None] | None = None
        self._process = _Process()
        self._dropped = threading.Event()
        self._signals = _Signals(self)
        self._signals.done.connect(self._done)
        self._signals.failed.connect(self._failed)
        self._signals.told.connect(self._told)

    def start(self, job: Job, then: Callable[[Any], None]) -> None:
        """Run a job in the background, then ``then`` with its result on the main thread."""
        self._end()
        self._ticket += 1
        self._job, self._then, self._running = job, then, True
        self.busy.emit(True)
        self._dropped = threading.Event()
        self._pool.start(
            _SearchThread(self._ticket, job, self._signals, self._process, self._dropped)
        )

    def asks(self, job: Job) -> bool:
        """Whether this very job is under way."""
        return self._running and self._job == job

    @property
    def running(self) -> bool:
        """Whether a job is under way."""
        return self._running

    @property
    def pid(self) -> int | None:
        """Number of the process that works; None while there is none."""
        return self._process.pid

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
        self._process.close()

    def _end(self) -> None:
        if self._running:
            self._dropped.set()  # its thread may not have come as far as starting the process
            self._process.reap()
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

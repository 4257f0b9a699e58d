"""A process of its own for long work, so that the window keeps the interpreter to itself.

It is started by :func:`command`, isolated from the folder it is started in; it reads jobs from
standard input and writes what they come to on standard output (:mod:`mild_badger.jobs.codec`). It
ends with its input.
"""

import contextlib
import os
import sys
import threading
import time
from pathlib import Path
from typing import IO

from mild_badger.core.errors import BadgerError
from mild_badger.core.watch import Watch
from mild_badger.jobs.codec import read_job, write_message
from mild_badger.jobs.registry import work_of

__all__ = ["command", "main", "serve"]

REPORT_EVERY_S = 0.1
_NICENESS = 10
"""So that the window comes first where processors are few."""


def command() -> list[str]:
    """Give the command that starts the process: no file lying about can get in between.

    ``-I`` leaves out the current folder, PYTHONPATH and user packages; the program itself comes
    from where this very module lies.
    """
    root = str(Path(__file__).resolve().parents[2])
    start = "import sys; sys.path.insert(0, sys.argv[1]); import mild_badger.jobs.process as p; p."
    return [sys.executable, "-I", "-c", f"{start}main()", root]


def serve(jobs: IO[bytes], answers: IO[bytes]) -> None:
    """Do jobs until there are no more.

    Answers are messages: ("told", share, best) on the way, then ("done", result), ("failed",
    sentence) for what cannot be done, or ("broken", sentence) for a fault of the program.
    """
    told = 0.0

    def report(share: float, best: object) -> None:
        nonlocal told
        now = time.monotonic()
        if now - told > REPORT_EVERY_S:
            told = now
            write_message(answers, "told", share, best)

    while True:
        try:
            name, arguments = read_job(jobs)
            result = work_of(name)(*arguments, watch=Watch(report=report))
            write_message(answers, "done", result)
        except BadgerError as error:
            write_message(answers, "failed", str(error))
        except EOFError:
            return
        except BrokenPipeError:
            raise
        except Exception as error:  # noqa: BLE001 - the window must hear of it
            write_message(answers, "broken", repr(error)[:200])


def _end_with(parent: int) -> None:
    """End this process when the one that started it is gone, even in the middle of a job."""
    while os.getppid() == parent:
        time.sleep(1.0)
    os._exit(0)


def main() -> None:
    """Serve the window that started this process."""
    os.nice(_NICENESS)
    threading.Thread(target=_end_with, args=(os.getppid(),), daemon=True).start()
    out = sys.stdout.buffer
    sys.stdout = sys.stderr  # nothing that is printed may get among the answers
    with contextlib.suppress(BrokenPipeError, KeyboardInterrupt):
        serve(sys.stdin.buffer, out)
    # a pipe that is closed has nothing more to flush
    os._exit(0)

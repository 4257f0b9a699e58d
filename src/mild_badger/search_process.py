"""A process of its own for long searches, so that the window keeps the interpreter to itself.

Run as ``python -m mild_badger.search_process``: it reads jobs from standard input and writes what
they come to on standard output, both pickled; the window that started it is the only one it talks
to. A job is a function of core and its arguments; it is given a Watch besides. It ends with its
input.
"""

import contextlib
import os
import pickle
import sys
import time
from typing import BinaryIO

from mild_badger.core.errors import BadgerError
from mild_badger.core.watch import Watch

__all__ = ["serve"]

REPORT_EVERY_S = 0.1
_NICENESS = 10
"""So that the window comes first where processors are few."""


def serve(jobs: BinaryIO, answers: BinaryIO) -> None:
    """Do jobs until there are no more.

    Answers are tuples: ("told", share, best) on the way, then ("done", result) or
    ("failed", sentence).
    """

    def send(answer: tuple[object, ...]) -> None:
        pickle.dump(answer, answers)
        answers.flush()

    told = 0.0

    def report(share: float, best: object) -> None:
        nonlocal told
        now = time.monotonic()
        if now - told > REPORT_EVERY_S:
            told = now
            send(("told", share, best))

    while True:
        try:
            work, arguments = pickle.load(jobs)
        except EOFError:
            return
        try:
            result = work(*arguments, watch=Watch(report=report))
        except BadgerError as error:
            send(("failed", str(error)))
        except Exception as error:  # noqa: BLE001 - the window must hear of it
            send(("failed", f"The search failed: {error!r}."))
        else:
            send(("done", result))


if __name__ == "__main__":
    os.nice(_NICENESS)
    out = sys.stdout.buffer
    sys.stdout = sys.stderr  # nothing that is printed may get among the answers
    with contextlib.suppress(BrokenPipeError, KeyboardInterrupt):
        serve(sys.stdin.buffer, out)

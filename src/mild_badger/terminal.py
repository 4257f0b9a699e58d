"""What may go wrong between a command and the terminal: each is a sentence and an exit code."""

import json
import os
import signal
import sys
import threading
from collections.abc import Callable
from difflib import get_close_matches
from typing import Any

from mild_badger.core.errors import BadgerError
from mild_badger.core.figures import METRIC, UnitChoice, plain, write
from mild_badger.core.message import say
from mild_badger.core.message_json import with_codes

__all__ = [
    "BAD_INPUT",
    "INTERRUPTED",
    "guarded",
    "interruptible",
    "show",
    "show_json",
    "unknown_command",
]

BAD_INPUT = 2
INTERRUPTED = 130
"""128 and the number of SIGINT, as shells have it."""
SWALLOWED_S = 1.0
"""So long after Ctrl+C a command that still runs has had it swallowed."""


def guarded(run: Callable[[], int]) -> int:
    """Run a command; say in a sentence what stopped it, without a traceback."""
    for stream in (sys.stdout, sys.stderr):
        if hasattr(stream, "reconfigure"):  # a sign the terminal lacks is replaced, not fatal
            stream.reconfigure(errors="replace")
    try:
        code = run()
        if sys.stdout is not None:
            sys.stdout.flush()
    except BadgerError as error:
        return _say(str(error))
    except KeyboardInterrupt:
        signal.signal(signal.SIGINT, signal.SIG_IGN)  # the hand may press twice
        _silence()
        return INTERRUPTED
    except BrokenPipeError:
        _silence()
        return _say(say("command-line.standard-output-was-closed-before-everything"))
    except OSError as error:
        _silence()
        return _say(
            say("command-line.standard-output-cannot-be-written", strerror=error.strerror or error)
        )
    return code


def interruptible(run: Callable[[], int]) -> int:
    """Run a command that Ctrl+C ends, even where a library swallows the interruption.

    Files are replaced whole or not at all, so that leaving at once spoils none.
    """
    if threading.current_thread() is not threading.main_thread():
        return run()

    def stop(_signal: int, _frame: object) -> None:
        signal.signal(signal.SIGALRM, lambda *_: os._exit(INTERRUPTED))
        signal.setitimer(signal.ITIMER_REAL, SWALLOWED_S)
        raise KeyboardInterrupt

    before = signal.signal(signal.SIGINT, stop)
    try:
        return run()
    finally:
        signal.setitimer(signal.ITIMER_REAL, 0)
        signal.signal(signal.SIGINT, before)


def show(text: str, units: UnitChoice = METRIC) -> None:
    """Print a text, its figures in the units that are chosen."""
    print(write(text, units))


def show_json(data: Any) -> None:
    """Print data as JSON, code and values beside each message.

    Figures in its sentences stand in the format's own units.
    """
    print(plain(json.dumps(with_codes(data), indent=2, ensure_ascii=False)))


def unknown_command(word: str, commands: tuple[str, ...]) -> str:
    """Say that there is no such command or file, and what may have been meant."""
    near = get_close_matches(word, commands, n=1, cutoff=0.5)
    meant = say("command-line.did-you-mean", near=near[0]) if near else ""
    return say(
        "command-line.there-is-no-command-and-no-file-called-the",
        word=word[:40],
        meant=meant,
        listed=", ".join(commands),
    )


def _say(sentence: str) -> int:
    if sys.stderr is not None:
        print(f"mild-badger: {plain(sentence)}", file=sys.stderr)
    return BAD_INPUT


def _silence() -> None:
    """Keep the interpreter from writing what is still held back to a stream that is gone."""
    try:
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, sys.stdout.fileno())
        os.close(nowhere)
    except (OSError, ValueError, AttributeError):
        return

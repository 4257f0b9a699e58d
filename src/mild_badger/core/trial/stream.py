"""Where the tachometer's text comes from: a file, a device, a pipe, or the stand-in rig.

A stream is asked now and then for what has come; it never waits.
"""

import os
import stat
import termios
import tty
from collections.abc import Callable, Iterator
from pathlib import Path
from time import monotonic
from typing import Protocol

from mild_badger.core.errors import FileAccessError
from mild_badger.core.message import say

__all__ = ["FileStream", "RigStream", "Stream"]

CHUNK = 65_536


class Stream(Protocol):
    """Text that comes in pieces; ``ended`` when no more can come."""

    ended: bool

    def read(self) -> str:
        """Give what has come since the last time, without waiting."""

    def close(self) -> None:
        """Let go of it."""


class FileStream:
    """A file, a pipe or a serial device, read as it comes.

    A device is put into raw mode and keeps its own speed (``stty -F DEVICE 115200`` sets it).

    Raises
    ------
    FileAccessError
        It cannot be opened, or is a folder.
    """

    def __init__(self, path: Path) -> None:
        self.ended = False
        self._path = path
        try:
            self._file = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_NOCTTY)
        except OSError as error:
            raise FileAccessError(
                say("trial.cannot-be-read", path=path, strerror=error.strerror)
            ) from error
        self._whole = stat.S_ISREG(os.fstat(self._file).st_mode)
        if stat.S_ISDIR(os.fstat(self._file).st_mode):
            os.close(self._file)
            raise FileAccessError(say("trial.is-a-folder-choose-a-file-or-a-device", path=path))
        self._line = os.isatty(self._file)
        if self._line:
            try:
                tty.setraw(self._file)
            except termios.error as error:
                os.close(self._file)
                raise FileAccessError(
                    say("trial.cannot-be-set-up-as-a-serial-line", path=path)
                ) from error

    def read(self) -> str:
        """Give what has come.

        Raises
        ------
        FileAccessError
            The device is gone.
        """
        if self.ended:
            return ""
        try:
            data = os.read(self._file, CHUNK)
        except BlockingIOError:
            return ""
        except OSError as error:
            self.close()
            raise FileAccessError(
                say(
                    "trial.can-no-longer-be-read-is-the-plug-in",
                    path=self._path,
                    strerror=error.strerror,
                )
            ) from error
        if not data and self._line:  # a serial line that is there says nothing by an error
            self.close()
            raise FileAccessError(
                say("trial.can-no-longer-be-read-is-the-plug-in-2", path=self._path)
            )
        if not data and self._whole:
            self.close()
        return data.decode("ascii", errors="replace")

    def close(self) -> None:
        """Close it."""
        if not self.ended:
            self.ended = True
            os.close(self._file)


class RigStream:
    """The rig's pulses, each as its time comes; ``pace`` times as fast as they are stamped."""

    def __init__(
        self, lines: Iterator[str], *, pace: float = 1.0, clock: Callable[[], float] = monotonic
    ) -> None:
        self.ended = False
        self._lines, self._pace, self._clock = lines, pace, clock
        self._begun = clock()
        self._waiting: str | None = None

    def read(self) -> str:
        """Give the lines whose time has come."""
        now_us = (self._clock() - self._begun) * self._pace * 1e6
        edges = []
        while not self.ended:
            line = self._waiting if self._waiting is not None else next(self._lines, None)
            self._waiting = None
            if line is None:
                self.ended = True
            elif line[:1].isdigit() and int(line.partition(",")[0]) > now_us:
                self._waiting = line
                break
            else:
                edges.append(f"{line}\n")
        return "".join(edges)

    def close(self) -> None:
        """Stop the rig."""
        self.ended = True

"""Starting the window."""

import logging
import os
import signal
import sys
import traceback
from pathlib import Path
from types import TracebackType

import platformdirs
from PyQt6.QtCore import QEvent, QMessageLogContext, QTimer, QtMsgType, qInstallMessageHandler
from PyQt6.QtWidgets import QApplication

from mild_badger.app.files import new_vehicle
from mild_badger.app.preload import preload
from mild_badger.app.session import Session
from mild_badger.app.settings import Settings
from mild_badger.app.shots import take_shots
from mild_badger.app.theme.style import Theme
from mild_badger.app.window import Window
from mild_badger.core.errors import BadgerError
from mild_badger.core.message import say
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.files.vehicle_file import open_vehicle

__all__ = ["no_display", "start"]

PRELOAD_AFTER_MS = 400


def no_display() -> bool:
    """Tell whether there is nothing to show a window on."""
    return not any(os.environ.get(n) for n in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"))


def start(*, file: Path | None, demo: bool, shots: Path | None) -> int:
    """Open the window on a file, the demo or an empty vehicle, and run until it is closed.

    Raises
    ------
    BadgerError
        The file cannot be used.
    """
    vehicle, stamp = None, None
    if file is not None:
        vehicle, stamp = open_vehicle(file)
    elif demo:
        vehicle = demo_vehicle()
    qInstallMessageHandler(_no_screen)
    app = QApplication(["mild-badger"])
    qInstallMessageHandler(None)
    app.setApplicationName("mild-badger")
    app.setApplicationDisplayName("Mild Badger")
    app.setDesktopFileName("mild-badger")
    settings = Settings()
    theme = Theme(app, dark=settings.dark and shots is None)
    session = Session(vehicle or new_vehicle("brick-grid", settings))
    session.path, session.stamp = file, stamp
    window = Window(session, theme, settings)
    if shots is not None:
        for path in take_shots(app, window, shots):
            sys.stdout.write(f"{path}\n")
        window.worker.finish()
        _delete(window, app)
        return 0
    if file is not None:
        settings.opened(file.resolve())
    signal.signal(signal.SIGINT, signal.SIG_DFL)  # Ctrl+C in a terminal; a recovery copy is kept
    _catch_everything(window)
    window.show()
    QTimer.singleShot(0, window.offer_recovery)
    QTimer.singleShot(PRELOAD_AFTER_MS, preload)
    code = app.exec()
    _delete(window, app)
    return code


def _delete(window: Window, app: QApplication) -> None:
    """Take the window down before the interpreter ends, which would do it in any order."""
    window.deleteLater()
    app.sendPostedEvents(None, int(QEvent.Type.DeferredDelete.value))


def _no_screen(kind: QtMsgType, _where: QMessageLogContext, message: str | None) -> None:
    """Say in a sentence that no screen can be had; Qt would end the program by a signal."""
    if kind is QtMsgType.QtFatalMsg:
        display = os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY") or "none"
        platform = os.environ.get("QT_QPA_PLATFORM") or say("window.left-to-qt")
        sys.stderr.write(
            say(
                "window.mild-badger-no-window-can-be-shown-display",
                display=display[:40],
                platform=platform[:40],
            )
        )
        sys.stderr.flush()
        os._exit(2)
    if kind is QtMsgType.QtCriticalMsg:
        sys.stderr.write(f"{message}\n")


def _catch_everything(window: Window) -> None:
    """Keep a fault inside the program from ending it: save a copy, log it, say so."""
    log = platformdirs.user_state_path("mild-badger") / "faults.log"

    def caught(
        kind: type[BaseException], fault: BaseException, trace: TracebackType | None
    ) -> None:
        if issubclass(kind, KeyboardInterrupt):
            QApplication.quit()
            return
        try:
            log.parent.mkdir(parents=True, exist_ok=True)
            with log.open("a", encoding="utf-8") as stream:
                traceback.print_exception(kind, fault, trace, file=stream)
        except OSError:
            logging.getLogger(__name__).warning("fault log cannot be written")
        window.files.keep_copy()
        reason = str(fault) if isinstance(fault, BadgerError) else kind.__name__
        window.complain(
            say("window.something-went-wrong-inside-the-program-your", reason=reason, log=log)
        )

    sys.excepthook = caught

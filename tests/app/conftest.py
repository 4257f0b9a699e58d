"""A real window for each test, with a home of its own and nothing left running behind it."""

from collections.abc import Callable, Iterator
from pathlib import Path

import platformdirs
import pytest
from PyQt6.QtCore import QEvent, Qt, QThreadPool
from PyQt6.QtWidgets import QApplication, QMessageBox
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from mild_badger.app.session import Session
from mild_badger.app.settings import Settings
from mild_badger.app.theme.style import Theme
from mild_badger.app.window import Window
from mild_badger.core.vehicle.model import Vehicle

OpenWindow = Callable[..., Window]


@pytest.fixture(autouse=True)
def own_home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """Keep settings and recovery copies of the tests apart from the builder's."""
    for name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME"):
        monkeypatch.setenv(name, str(tmp_path / name.lower()))
    monkeypatch.setenv("HOME", str(tmp_path))
    assert str(platformdirs.user_state_path("x")).startswith(str(tmp_path))
    return tmp_path


@pytest.fixture(scope="session")
def one_theme(qapp: QApplication) -> Theme:
    """The sheet of the whole program: a new one for each test would style every window anew."""
    return Theme(qapp)


@pytest.fixture
def open_window(qtbot: QtBot, qapp: QApplication, one_theme: Theme) -> Iterator[OpenWindow]:
    """Open windows on vehicles; each is closed at the end without asking."""
    made: list[Window] = []

    def make(vehicle: Vehicle | None = None) -> Window:
        settings = Settings()
        window = Window(Session(vehicle or example_vehicle()), one_theme, settings)
        window.show()
        qtbot.waitExposed(window)
        made.append(window)
        return window

    yield make
    for window in made:
        window.session.undo_stack.setClean()
        window.close()
        window.deleteLater()
    qapp.processEvents()
    # gone for good, or every later window would restyle the earlier ones too
    qapp.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    pool = QThreadPool.globalInstance()
    assert pool is None or pool.activeThreadCount() == 0
    if one_theme.dark:
        one_theme.use(dark=False)


@pytest.fixture
def window(open_window: OpenWindow) -> Window:
    """The window with the demo vehicle."""
    return open_window()


@pytest.fixture
def press(qtbot: QtBot) -> Callable[..., None]:
    """Press a key in a window, as a builder would."""

    def do(
        window: Window,
        key: Qt.Key,
        modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier,
    ) -> None:
        central = window.centralWidget()
        assert central is not None
        central.setFocus()
        qtbot.keyClick(central, key, modifier)

    return do


@pytest.fixture
def answer(monkeypatch: pytest.MonkeyPatch) -> Callable[[QMessageBox.StandardButton], None]:
    """Answer the next questions with one button."""

    def choose(button: QMessageBox.StandardButton) -> None:
        monkeypatch.setattr(QMessageBox, "exec", lambda _box: button.value)

    return choose

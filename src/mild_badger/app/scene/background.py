"""A picture drawn beside the window: it comes back with the number of what was asked for."""

from collections.abc import Callable

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from mild_badger.core.scene.picture import Drawn

__all__ = ["Pictures"]


class Pictures(QObject):
    """Draws pictures in a thread of the pool, the newest asked for only.

    Signals
    -------
    made : the number that was asked with, and the picture
    """

    made = pyqtSignal(int, object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._number = 0

    def ask(self, number: int, draw: Callable[[], Drawn]) -> None:
        """Draw a picture; one that was asked for earlier and has not begun is dropped."""
        self._number = number
        pool = QThreadPool.globalInstance()
        if pool is not None:
            pool.start(_Drawing(self, number, draw))

    def wanted(self, number: int) -> bool:
        """Whether a picture is still the newest that was asked for."""
        return number == self._number


class _Drawing(QRunnable):
    def __init__(self, pictures: Pictures, number: int, draw: Callable[[], Drawn]) -> None:
        super().__init__()
        self.pictures, self.number, self.draw = pictures, number, draw

    def run(self) -> None:
        try:
            if self.pictures.wanted(self.number):
                self.pictures.made.emit(self.number, self.draw())
        except RuntimeError:
            return  # the window went meanwhile: nobody waits for the picture

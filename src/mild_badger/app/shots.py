"""Pictures of the main views, made from the demo data (also docs/screenshots)."""

from pathlib import Path

from PyQt6.QtWidgets import QApplication

from mild_badger.app.benches.workshop.bench import WorkshopBench
from mild_badger.app.theme.style import Theme
from mild_badger.app.window import BENCHES, Window
from mild_badger.core.axle.road_state import Straight, Turn
from mild_badger.core.errors import FileAccessError

__all__ = ["take_shots"]


def take_shots(app: QApplication, window: Window, theme: Theme, folder: Path) -> list[Path]:
    """Draw each bench at 1280 × 800 as a PNG, and one on the dark sheet.

    Raises
    ------
    FileAccessError
        A picture could not be written.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileAccessError(f"Cannot make the folder {folder}: {error.strerror}.") from error
    window.resize(1280, 800)
    window.show()
    window.session.engage("3")
    made = []

    def take(name: str) -> None:
        for _ in range(4):
            app.processEvents()
        path = folder / f"{name}.png"
        if not window.grab().toImage().save(str(path)):
            raise FileAccessError(f"Cannot write {path}; check the folder and the space left.")
        made.append(path)

    for title in BENCHES:
        window.show_bench(title)
        if title == "Ratios":
            window.find_set()
            window.worker.wait()
        window.session.drive(Turn(450.0, "left") if title == "Axle" else Straight())
        bench = window.bench
        if isinstance(bench, WorkshopBench):
            bench.draw_sheet()
        take(title.lower())
    theme.use(dark=True)
    window.show_bench("Ratios")
    window.bench.bring_up_to_date(again=True)
    take("ratios-dark")
    theme.use(dark=False)
    return made

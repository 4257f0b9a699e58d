"""Dragging on the Machine bench: how long a frame takes, against 60 of them a second.

Run by hand: ``QT_QPA_PLATFORM=offscreen .venv/bin/python -m benchmarks.dragging``.
"""

import os
import statistics
import time

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

FRAME_S = 1 / 60
MOVES = 60


def main() -> None:
    from PyQt6.QtCore import QPoint, Qt  # noqa: PLC0415 - after the platform is set
    from PyQt6.QtTest import QTest  # noqa: PLC0415
    from PyQt6.QtWidgets import QApplication, QWidget  # noqa: PLC0415

    from mild_badger.app.session import Session  # noqa: PLC0415
    from mild_badger.app.settings import Settings  # noqa: PLC0415
    from mild_badger.app.theme.style import Theme  # noqa: PLC0415
    from mild_badger.app.window import Window  # noqa: PLC0415
    from mild_badger.core.vehicle.demo import demo_vehicle  # noqa: PLC0415
    from mild_badger.core.vehicle.edit.change import Edit  # noqa: PLC0415

    app = QApplication([])
    theme = Theme(app)

    def drag(name: str, page: str, view: str, grip: str, changes: dict[str, object]) -> None:
        window = Window(Session(demo_vehicle(name)), theme, Settings())
        window.resize(1280, 800)
        window.show()
        for field, value in changes.items():
            window.session.do(Edit.one("Try", ("box", "drive", field), value))
        window.show_tab("Machine")
        window.tab.show_page(page)  # type: ignore[attr-defined]
        app.processEvents()
        drawn: QWidget = getattr(window.tab, view).view
        at: QPoint = getattr(drawn, grip)().toPoint() + QPoint(0, 8)
        QTest.mousePress(drawn, Qt.MouseButton.LeftButton, pos=at)  # type: ignore[call-overload]
        times, still = [], []
        for step in range(MOVES):
            start = time.perf_counter()
            QTest.mouseMove(drawn, at + QPoint(2 * step - MOVES, step // 2))  # type: ignore[call-overload]
            app.processEvents()
            times.append(time.perf_counter() - start)
            start = time.perf_counter()
            drawn.repaint()
            app.processEvents()
            still.append(time.perf_counter() - start)
        middle, worst = statistics.median(times), max(times)
        print(
            f"{name}, {view}{' ' + str(changes) if changes else ''}: frame / a sixtieth of a "
            f"second = {middle / FRAME_S:.2f}, worst {worst / FRAME_S:.2f} (limit 1); "
            f"moved / only painted again = {middle / statistics.median(still):.1f}"
        )
        window.session.undo_stack.setClean()
        window.close()

    lever = ("larkholm-sawmill-trolley", "lever", "lever_page", "fulcrum_at")
    drag(*lever, {})
    drag(*lever, {"two_sided": True, "ratchets": 6})
    drag("larkholm-crane-truck", "balance", "balance_page", "carriage_at", {})


if __name__ == "__main__":
    main()

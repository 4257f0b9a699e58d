"""How long a frame of the whole box takes to paint while it is panned and zoomed.

Run by hand: ``QT_QPA_PLATFORM=offscreen .venv/bin/python benchmarks/paint.py``. An eight-speed box
is placed, then every layer is painted at several zooms as while it moves (gears as circles), side
by side with a plain fill of the same sheet; 60 frames a second leave 16.7 ms. Once it has come to
rest the teeth are drawn, which is timed too.
"""

import os
import runpy
import statistics
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QImage, QPainter
from PyQt6.QtWidgets import QApplication

from mild_badger.app.tabs.layout.end_view import EndView
from mild_badger.app.tabs.layout.section_view import SectionView
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import evaluate
from mild_badger.core.layout.apply_layout import apply_layout
from mild_badger.core.situation import Situation
from mild_badger.core.structure.slot_box import stack_of
from mild_badger.core.vehicle.edit.apply import apply_edit

FRAME_MS = 1000 / 60


def main() -> None:
    app = QApplication([])
    theme = Theme(app)
    # the benchmark beside this one makes the box
    place = runpy.run_path(str(Path(__file__).with_name("place.py")))
    vehicle = next(v for seed in range(20) if (v := place["box_of"](8, seed)) is not None)
    _, placed = place["placed_in"](vehicle)
    vehicle = apply_edit(vehicle, apply_layout(vehicle, placed))
    if vehicle.layout is None:
        raise SystemExit("nothing was placed")
    evaluation = evaluate(vehicle, Situation(gear="3"))
    stack = stack_of(vehicle, vehicle.layout)
    for kind in (EndView, SectionView):
        view = kind(theme)
        view.resize(900, 700)
        image = QImage(view.size(), QImage.Format.Format_RGB32)
        times, plain, still = [], [], []
        for slab in dict.fromkeys(stack.slabs[d.slab] for d in stack.discs):
            view.show_box(evaluation, vehicle, slab)
            start = time.perf_counter()
            view.render(image)
            still.append(1000 * (time.perf_counter() - start))
            for zoom in (0.8, 1.0, 1.6, 3.0):
                if isinstance(view, EndView):
                    view.look(zoom, QPointF(3 * zoom, 2.0))
                start = time.perf_counter()
                view.render(image)
                times.append(1000 * (time.perf_counter() - start))
                start = time.perf_counter()
                painter = QPainter(image)
                painter.fillRect(image.rect(), QColor("white"))
                painter.end()
                plain.append(1000 * (time.perf_counter() - start))
        worst, median = max(times), statistics.median(times)
        print(
            f"{kind.__name__}: median {median:.1f} ms, worst {worst:.1f} ms a frame "
            f"(limit {FRAME_MS:.1f}); {median / statistics.median(plain):.0f} plain fills; at rest "
            f"{statistics.median(still):.1f} ms"
        )


if __name__ == "__main__":
    main()

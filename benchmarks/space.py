"""How long a picture in space takes, against Qt filling the same visible faces and nothing else.

``python -m benchmarks.space [DEMO]`` runs the box at 900 × 600 without a screen, both in one run:
while it moves, and standing still in all its fineness.
"""

import os
import sys
import time
from dataclasses import replace
from statistics import median

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QGuiApplication, QImage, QPainter, QPolygonF

from mild_badger.core.scene.camera import Camera
from mild_badger.core.scene.mesh import placed_corners, scene_of
from mild_badger.core.scene.motion import alongs_of, shifted
from mild_badger.core.scene.picture import Paints, picture_of
from mild_badger.core.scene.stage import stage_of
from mild_badger.core.vehicle.demo import demo_vehicle

SIZE, FRAMES, COARSE, FINE = (900, 600), 25, 2, 2
PAINTS = Paints(*((200, 200, 200),) * 7)


def filled(seen: np.ndarray, faces: np.ndarray) -> float:
    """Seconds that Qt takes to fill faces."""
    polygons = [QPolygonF([QPointF(x, y) for x, y in seen[face, :2]]) for face in faces]
    image = QImage(*SIZE, QImage.Format.Format_RGB32)
    start = time.perf_counter()
    painter = QPainter(image)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor("grey"))
    for polygon in polygons:
        painter.drawPolygon(polygon)
    painter.end()
    return time.perf_counter() - start


def main() -> None:
    """Measure one demo."""
    app = QGuiApplication([])
    demo = sys.argv[1] if len(sys.argv) > 1 else "larkholm-mail-bus"
    vehicle = demo_vehicle(demo)
    stage = stage_of(vehicle, vehicle.real.gears[0].id)
    if stage is None:
        raise SystemExit("no place in space")
    start = time.perf_counter()
    scene = scene_of(stage.parts)
    made = time.perf_counter() - start
    parts = shifted(stage.parts, stage.shift, stage.levers)
    alongs = alongs_of(stage.parts, stage.shift)
    roles = list(stage.roles)
    eye = Camera().fitted(placed_corners(scene, parts, stage.turns * 0, alongs), SIZE)
    small = (SIZE[0] // COARSE, SIZE[1] // COARSE)
    moving, still, fills = [], [], []
    rough = scene_of(stage.parts, rough=True)
    for number in range(FRAMES):
        start = time.perf_counter()
        corners = placed_corners(rough, parts, stage.turns * (0.01 * number), alongs)
        coarse = replace(eye, scale=eye.scale / COARSE)
        picture_of(rough, corners, coarse, small, paints=PAINTS, roles=roles)
        moving.append(time.perf_counter() - start)
        corners = placed_corners(scene, parts, stage.turns * (0.01 * number), alongs)
        if number % 5 == 0:
            start = time.perf_counter()
            picture_of(scene, corners, eye, SIZE, paints=PAINTS, roles=roles, fine=FINE)
            still.append(time.perf_counter() - start)
        seen = eye.seen(corners, SIZE)
        a, b, c = (seen[scene.faces[:, n]] for n in range(3))
        area = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (c[:, 0] - a[:, 0]) * (b[:, 1] - a[:, 1])
        fills.append(filled(seen, scene.faces[area < 0]))
    frame, fill = median(moving), median(fills)
    print(f"{demo}: {len(scene.faces)} faces of {len(stage.parts)} parts, shapes {made:.2f} s")
    ratio = f"{frame / fill:.2f} × Qt's fill ({1000 * fill:.0f} ms)"
    print(f"moving: median {1000 * frame:.0f} ms, {ratio}")
    print(f"still, fine: median {1000 * median(still):.0f} ms")
    app.quit()


if __name__ == "__main__":
    main()

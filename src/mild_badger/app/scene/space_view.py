"""The box in space: looked at from anywhere, run by the motor or turned by hand, shifted, cut open.

Drag a part that turns to turn it, the paper to go round; the wheel magnifies. Nothing is worked out
while nothing moves: a picture is kept until something changes, and drawn finer once it stands, a
strip at a time, so that the window never waits.
"""

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from math import atan2, pi

import numpy as np
from PyQt6.QtCore import QElapsedTimer, QPoint, QPointF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QHideEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QResizeEvent,
    QWheelEvent,
)

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.shown import shown
from mild_badger.app.theme.plain_tips import show_tip
from mild_badger.app.theme.style import Theme
from mild_badger.core.components.component import Component
from mild_badger.core.components.describe import describe_component
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import in_n_mm
from mild_badger.core.message import say
from mild_badger.core.scene.camera import VIEWS, Camera, ViewName
from mild_badger.core.scene.mesh import Floats, Scene, mesh_of, placed_corners, scene_of
from mild_badger.core.scene.motion import Shift, alongs_of, between, drum_turns, shifted
from mild_badger.core.scene.picture import Drawn, Paints, Section, picture_of
from mild_badger.core.scene.stage import Stage

__all__ = ["SpaceView"]

FRAME_MS, REFINE_MS, SHIFT_S = 30, 180, 0.6
"""Between two pictures while something moves, until a still one is drawn finely, for one shift."""
FINE, COARSE, STRIPS, SLICE_MS, SOFT = 2, 2, 8, 60, 0.5
ROUND_DEG, STEP_DEG, ZOOM = 0.4, 8.0, 1.15
"""A pixel's turn of the eye, a key's, and a step of the wheel."""
CLICK_PX, STILL = 4.0, 1e-9


class SpaceView(Canvas):
    """A stage of parts in space.

    Signals
    -------
    chosen : the key of the part that was pressed, "" for none
    """

    chosen = pyqtSignal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("scene.the-box-in-space"))
        self.setMinimumSize(320, 240)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.camera = Camera()
        self.cut: tuple[int, int, float] | None = None  # axis, sign, share left out
        self._reach: tuple[tuple[float, float], ...] = ()
        self.spread = 0.0
        self.hidden: frozenset[str] = frozenset()
        self.rpm = 0.0
        self.turned = 0.0
        self.empty: str = ""
        self.marked = ""
        self._stage: Stage | None = None
        self._scene: Scene | None = None
        self._drawn: Drawn | None = None
        self._image: QImage | None = None
        self._fine = False
        self._shift: Shift | None = None
        self._from: Shift | None = None
        self._share = 1.0
        self._pressed: tuple[QPointF, QPointF, int] | None = None
        self._timer = QTimer(self)
        self._timer.setInterval(FRAME_MS)
        self._timer.timeout.connect(self._tick)
        self._still = QTimer(self)
        self._still.setSingleShot(True)
        self._still.setInterval(REFINE_MS)
        self._still.timeout.connect(self._refine)
        self._strips: list[Drawn] = []
        self._finer = QTimer(self)
        self._finer.timeout.connect(self._next_strip)
        self._made = 0
        self._gathering = QTimer(self)
        self._gathering.timeout.connect(self._gather)
        self._clock = QElapsedTimer()
        theme.changed.connect(self.redraw)

    @property
    def moving(self) -> bool:
        """Whether something moves now."""
        return self._timer.isActive()

    @property
    def drawn_finely(self) -> bool:
        """Whether the picture stands, in all its fineness."""
        return self._fine and self._image is not None

    def turns_of(self, part: Component) -> float:
        """Give by how much a part turns for one turn of the motor, rad."""
        stage = self._stage
        return 0.0 if stage is None else float(stage.turns[stage.parts.index(part)])

    def turning(self, part: Component) -> bool:
        """Whether a part turns with the motor."""
        return abs(self.turns_of(part)) > STILL

    def gone_mm(self, sleeve: str) -> float:
        """Give how far a sleeve stands from neutral now."""
        return self._now().travel.get(sleeve, 0.0)

    def place_of(self, part: Component) -> QPointF:
        """Give where the middle of a part is seen."""
        along = -(part.from_mm + part.to_mm) / 2
        place = np.array(((part.x_mm, part.y_mm, along),))
        x, y, _ = self.camera.seen(place, self._size())[0]
        return QPointF(float(x), float(y))

    def show_stage(self, evaluation: Evaluation, stage: Stage | None) -> None:
        """Show parts as they stand in a gear; from another gear of the same box it is shifted."""
        known = self._stage
        self._stage = stage
        if stage is None:
            self._scene, self._drawn = None, None
        elif known is None or known.parts is not stage.parts:
            self._scene, self._drawn = None, None
            self._shift, self._share = stage.shift, 1.0
            self._made = 0
            self._gathering.start()
        elif stage.shift != known.shift:
            self._from, self._share = self._now(), 0.0
            self._shift = stage.shift
            self._go()
        self.show_evaluation(evaluation)
        self.redraw()

    def _gather(self) -> None:
        """Make the parts' shapes, a few at a time, so that the window never waits for them."""
        stage, clock = self._stage, QElapsedTimer()
        clock.start()
        while stage is not None and self._made < len(stage.parts) and clock.elapsed() < SLICE_MS:
            mesh_of(stage.parts[self._made])
            self._made += 1
        if stage is None or self._made >= len(stage.parts):
            self._gathering.stop()
            if stage is not None:
                self._scene = scene_of(stage.parts)
                corners = self._corners()
                if corners is not None and len(corners):
                    ends = zip(corners.min(axis=0), corners.max(axis=0), strict=True)
                    self._reach = tuple((float(low), float(high)) for low, high in ends)
                self.fit()
        self.update()

    def words(self) -> str:
        if self._stage is None:
            return self.empty
        return say("scene.parts-in-space", count_of_parts=len(self._stage.parts))

    def redraw(self) -> None:
        """Draw anew, finely once nothing has changed for a while."""
        self._image, self._fine = None, False
        self._finer.stop()
        self._still.start()
        self.update()

    def fit(self) -> None:
        """Look at all of it."""
        corners = self._corners()
        if corners is not None:
            self.camera = self.camera.fitted(corners, self._size())
        self.redraw()

    def look_from(self, view: ViewName) -> None:
        """Look from a side that has a name."""
        turn, up = VIEWS[view]
        self.camera = Camera(turn, up, self.camera.scale, self.camera.middle)
        self.fit()

    def _section(self) -> Section | None:
        """Give the plane that cuts the box as far in as it is asked for."""
        if self.cut is None or not self._reach:
            return None
        axis, sign, share = self.cut
        low, high = self._reach[axis]
        return Section(axis, high - share * (high - low), sign)

    def run(self, rpm: float) -> None:
        """Let the motor turn at so many turns a minute; 0 stops it."""
        self.rpm = rpm
        if rpm:
            self._go()

    def part_at(self, place: QPointF) -> Component | None:
        """Give the part seen at a place of the picture."""
        number = self._number_at(place)
        return None if number < 0 or self._stage is None else self._stage.parts[number]

    def _number_at(self, place: QPointF) -> int:
        drawn = self._drawn
        if drawn is None:
            return -1
        high, wide = drawn.part.shape
        ratio = wide / max(self.width(), 1)
        x, y = int(place.x() * ratio), int(place.y() * ratio)
        return int(drawn.part[y, x]) if 0 <= x < wide and 0 <= y < high else -1

    def _size(self) -> tuple[int, int]:
        return max(self.width(), 2), max(self.height(), 2)

    def _now(self) -> Shift:
        """Say where the shifter stands now, on its way or arrived."""
        there = self._shift or Shift({}, {})
        if self._share >= 1.0 or self._from is None:
            return there
        return between(self._from, there, self._share)

    def _corners(self) -> Floats | None:
        stage, scene = self._stage, self._scene
        if stage is None or scene is None:
            return None
        now = self._now()
        parts = shifted(stage.parts, now, stage.levers)
        alongs = alongs_of(stage.parts, now)
        if self.spread:
            alongs = alongs + self.spread * stage.middles
        turned = stage.turns * self.turned + drum_turns(stage.parts, now)
        return placed_corners(scene, parts, turned, alongs)

    def _paints(self, *, soft: bool = False) -> Paints:
        """Take the theme's colours; ``soft`` inks are half as strong, for lines twice as wide."""
        tokens = self.theme.tokens
        light = SOFT if soft else 0.0

        def rgb(color: QColor) -> tuple[int, int, int]:
            return color.red(), color.green(), color.blue()

        def mixed(one: QColor, other: QColor, share: float) -> tuple[int, int, int]:
            red, green, blue = (
                round(a * (1 - share) + b * share)
                for a, b in zip(rgb(one), rgb(other), strict=True)
            )
            return red, green, blue

        return Paints(
            paper=rgb(tokens.paper),
            tint=mixed(tokens.paper, tokens.hair, 0.55),
            ink=mixed(tokens.ink, tokens.paper, light),
            run_tint=mixed(tokens.paper, tokens.run, 0.3),
            run_ink=mixed(tokens.run, tokens.paper, light),
            back_tint=mixed(tokens.paper, tokens.back, 0.3),
            back_ink=mixed(tokens.back, tokens.paper, light),
        )

    def _roles(self, stage: Stage) -> list[str]:
        return [
            "hidden" if part.kind in self.hidden else "marked" if part.key == self.marked else role
            for part, role in zip(stage.parts, stage.roles, strict=True)
        ]

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        stage, scene = self._stage, self._scene
        if stage is None or scene is None:
            making = say("scene.making-the-picture")
            self.say_instead(painter, self.empty if stage is None else making)
            return
        if self._image is None:
            order = self._order(1, COARSE if self.moving or self._pressed is not None else 1)
            if order is None:
                return
            self._show_drawn(order())
        if self._image is None:
            return
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(self.rect(), self._image)

    def _order(
        self, fine: int, coarse: int, strip: tuple[int, int] | None = None
    ) -> Callable[[], Drawn] | None:
        """Gather what a picture is drawn of, as it is now; coarse ones have fewer pixels.

        Of a ``strip``, from a row on so many, only that.
        """
        stage, scene, corners = self._stage, self._scene, self._corners()
        if stage is None or scene is None or corners is None:
            return None
        wide, high = self._size()
        eye = self.camera
        if strip is not None:
            eye = eye.moved(0.0, high / 2 - strip[0] - strip[1] / 2)
            high = strip[1]
        return partial(
            picture_of,
            scene,
            corners,
            replace(eye, scale=eye.scale / coarse),
            (-(-wide // coarse), -(-high // coarse)),
            paints=self._paints(soft=coarse > 1),
            roles=self._roles(stage),
            section=self._section(),
            fine=fine,
        )

    def _show_drawn(self, drawn: Drawn) -> None:
        self._drawn = drawn
        high, wide, _ = drawn.pixels.shape
        data = drawn.pixels.tobytes()
        self._image = QImage(data, wide, high, 4 * wide, QImage.Format.Format_RGBX8888).copy()

    def _go(self) -> None:
        if not self._timer.isActive():
            self._clock.start()
            self._timer.start()

    def _tick(self) -> None:
        """Move on by the time that has passed; stop where nothing moves any more."""
        seconds = min(self._clock.restart() / 1000.0, 0.25)
        self.turned += self.rpm / 60.0 * seconds
        self._share = min(self._share + seconds / SHIFT_S, 1.0)
        if not self.rpm and self._share >= 1.0:
            self._timer.stop()
        self.redraw()

    def _refine(self) -> None:
        """Begin to draw the standing picture finely, a strip at a time."""
        if not self.moving and self._scene is not None:
            self._strips = []
            self._finer.start()

    def _next_strip(self) -> None:
        """Draw one strip of the fine picture; show it once all are there."""
        high = self._size()[1]
        each = -(-high // STRIPS)
        top = each * len(self._strips)
        if top < high:
            rows = min(each, high - top)
            order = self._order(FINE, 1, (top, rows + 1))  # a row more, for the ink between two
            if order is None:
                self._finer.stop()
                return
            drawn = order()
            self._strips.append(Drawn(drawn.pixels[:rows], drawn.part[:rows]))
        if each * len(self._strips) < high:
            return
        self._finer.stop()
        pixels = np.concatenate([strip.pixels for strip in self._strips])
        part = np.concatenate([strip.part for strip in self._strips])
        self._show_drawn(Drawn(pixels, part))
        self._strips, self._fine = [], True
        self.update()

    def hideEvent(self, event: QHideEvent | None) -> None:
        self._timer.stop()
        self.rpm, self._share = 0.0, 1.0  # it stands, and what was on its way has arrived
        super().hideEvent(event)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if event is not None and event.oldSize() == QSize(-1, -1):
            self.fit()
        self.redraw()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self.setFocus()
        place = event.position()
        self._pressed = place, place, self._number_at(place)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        place = event.position()
        if self._pressed is None:
            self._tell(place)
            return
        first, before, number = self._pressed
        self._pressed = first, place, number
        by = place - before
        buttons, keys = event.buttons(), event.modifiers()
        if buttons & Qt.MouseButton.LeftButton and not keys & Qt.KeyboardModifier.ShiftModifier:
            if self._turns(number):
                self._turn_by_hand(number, before, place)
            else:
                self.camera = self.camera.turned(-ROUND_DEG * by.x(), ROUND_DEG * by.y())
        else:
            self.camera = self.camera.moved(by.x(), by.y())
        self.redraw()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        pressed, self._pressed = self._pressed, None
        if event is None or pressed is None or self._stage is None:
            return
        way = event.position() - pressed[0]
        if way.manhattanLength() < CLICK_PX:
            part = self.part_at(event.position())
            key = "" if part is None else part.key
            self.marked = "" if key == self.marked else key
            self.chosen.emit(self.marked)
            self.redraw()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is None:
            return
        steps = event.angleDelta().y() / 120.0
        at = event.position()
        self.camera = self.camera.nearer(ZOOM**steps, (at.x(), at.y()), self._size())
        self.redraw()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        moves: dict[int, Callable[[], Camera]] = {
            Qt.Key.Key_Left: lambda: self.camera.turned(-STEP_DEG, 0.0),
            Qt.Key.Key_Right: lambda: self.camera.turned(STEP_DEG, 0.0),
            Qt.Key.Key_Up: lambda: self.camera.turned(0.0, STEP_DEG),
            Qt.Key.Key_Down: lambda: self.camera.turned(0.0, -STEP_DEG),
            Qt.Key.Key_PageUp: lambda: self._nearer(ZOOM),
            Qt.Key.Key_PageDown: lambda: self._nearer(1 / ZOOM),
        }
        move = moves.get(event.key())
        if move is not None:
            self.camera = move()
            self.redraw()
        elif event.key() == Qt.Key.Key_Home:
            self.fit()
        else:
            super().keyPressEvent(event)

    def _nearer(self, times: float) -> Camera:
        wide, high = self._size()
        return self.camera.nearer(times, (wide / 2, high / 2), (wide, high))

    def _turns(self, number: int) -> bool:
        stage = self._stage
        return stage is not None and number >= 0 and bool(abs(stage.turns[number]) > STILL)

    def _turn_by_hand(self, number: int, before: QPointF, now: QPointF) -> None:
        """Turn all by what is dragged: the angle about its axis as it is seen."""
        stage = self._stage
        if stage is None:
            return
        middle = self.place_of(stage.parts[number])
        angles = [atan2(middle.y() - p.y(), p.x() - middle.x()) for p in (before, now)]
        by = (angles[1] - angles[0] + pi) % (2 * pi) - pi
        if self.camera.axes[2][2] < 0:  # seen from behind it turns the other way
            by = -by
        self.turned += by / float(stage.turns[number])

    def _tell(self, place: QPointF) -> None:
        part = self.part_at(place)
        stage, evaluation = self._stage, self.evaluation
        if part is None or stage is None or evaluation is None:
            show_tip(QPoint(), "", self)
            return
        words: str = describe_component(evaluation.vehicle, part)
        rpm = stage.rpm_of(part)
        torque = stage.torque_of(part)
        if rpm is not None and torque is not None:
            words = say("scene.turns-at-with", part=words, rpm=rpm, torque=in_n_mm(torque, 0))
        elif rpm is not None:
            words = say("scene.turns-at", part=words, rpm=rpm)
        show_tip(self.mapToGlobal(place.toPoint()), shown(words), self)

"""Paper with solids in space: looked at from anywhere, moved by time, hand or page, cut open.

Nothing is worked out while nothing moves: a picture is kept until something changes, and drawn
finer once it stands, a strip at a time, so that the window never waits. What is shown, and how it
stands, each kind of picture says itself.
"""

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import partial

import numpy as np
from PyQt6.QtCore import QElapsedTimer, QPointF, QSize, Qt, QTimer
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
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.scene.camera import VIEWS, Camera, ViewName
from mild_badger.core.scene.mesh import Floats, Scene
from mild_badger.core.scene.picture import Drawn, Paints, Section, picture_of

__all__ = ["SpaceCanvas"]

FRAME_MS, REFINE_MS = 30, 180
"""Between two pictures while something moves; until a still one is drawn finely."""
FINE, COARSE, STRIPS, SOFT = 2, 2, 8, 0.5
QUICK_MS, SLOW_MS = 40.0, 55.0
"""What moves is drawn finer if a picture then takes less than the one, coarser above the other."""
ROUND_DEG, STEP_DEG, ZOOM = 0.4, 8.0, 1.15
"""A pixel's turn of the eye, a key's, and a step of the wheel."""
CLICK_PX, LONGEST_S, GLIDE_S = 4.0, 0.25, 0.5


class SpaceCanvas(Canvas):
    """Solids in space; what they are, a kind of picture fills in."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setMinimumSize(320, 240)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.camera = Camera()
        self.cut: tuple[int, int, float] | None = None  # axis, sign, share left out
        self.empty: str = ""
        self._reach: tuple[tuple[float, float], ...] = ()
        self._drawn: Drawn | None = None
        self._image: QImage | None = None
        self._fine = False
        self._coarse = COARSE
        self.roughly = False
        """Whether simpler shapes will do, for a picture that moves."""
        self._gliding: tuple[Camera, Camera, float] | None = None
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
        self._clock = QElapsedTimer()
        theme.changed.connect(self.redraw)

    # what each kind of picture says

    def shapes(self) -> Scene | None:
        """Give the shapes; None where there is nothing to show."""
        return None

    def corners(self) -> Floats | None:
        """Give where all corners stand now, mm."""
        return None

    def roles(self) -> Sequence[str]:
        """Say how each shape is drawn."""
        return ()

    def advance(self, seconds: float) -> bool:
        """Move on by a time; say whether anything still moves."""
        return False

    def can_turn(self, number: int) -> bool:
        """Whether a shape can be turned by hand."""
        return False

    def turn_by_hand(self, number: int, from_px: QPointF, to_px: QPointF) -> None:
        """Turn a shape, and what turns with it, by what is dragged."""

    def pressed_on(self, number: int, place: QPointF) -> None:
        """Take a press on a shape, −1 for the paper."""

    def tell(self, number: int, place: QPointF) -> None:
        """Say in a tip what a shape is."""

    # looked at

    @property
    def moving(self) -> bool:
        """Whether something moves now."""
        return self._timer.isActive()

    @property
    def drawn_finely(self) -> bool:
        """Whether the picture stands, in all its fineness."""
        return self._fine and self._image is not None

    def redraw(self) -> None:
        """Draw anew, finely once nothing has changed for a while."""
        self._image, self._fine = None, False
        self._finer.stop()
        self._still.start()
        self.update()

    def fit(self) -> None:
        """Look at all of it."""
        corners = self.corners()
        if corners is not None and len(corners):
            ends = zip(corners.min(axis=0), corners.max(axis=0), strict=True)
            self._reach = tuple((float(low), float(high)) for low, high in ends)
            self.camera = self.camera.fitted(corners, self._size())
        self.redraw()

    def glide(self, goal: Camera) -> None:
        """Go to another look in a moment, the short way round."""
        self._gliding = self.camera, goal, 0.0
        self.go()

    def _glided(self, seconds: float) -> bool:
        """Go on to the other look; say whether there is still some way."""
        if self._gliding is None:
            return False
        start, goal, gone = self._gliding
        gone = min(gone + seconds / GLIDE_S, 1.0)
        self.camera = start.on_the_way(goal, gone)
        self._gliding = (start, goal, gone) if gone < 1.0 else None
        return self._gliding is not None

    def look_from(self, view: ViewName) -> None:
        """Look from a side that has a name."""
        self.look_at(*VIEWS[view])

    def look_at(self, round_deg: float, up_deg: float) -> None:
        """Look from so far round and so high up, at all of it."""
        self._gliding = None
        self.camera = replace(self.camera, round_deg=round_deg % 360.0, up_deg=up_deg)
        self.fit()

    def section(self) -> Section | None:
        """Give the plane that cuts the picture as far in as it is asked for."""
        if self.cut is None or not self._reach:
            return None
        axis, sign, share = self.cut
        low, high = self._reach[axis]
        return Section(axis, high - share * (high - low), sign)

    def number_at(self, place: QPointF) -> int:
        """Give the number of the shape seen at a place, −1 for none."""
        drawn = self._drawn
        if drawn is None:
            return -1
        high, wide = drawn.part.shape
        ratio = wide / max(self.width(), 1)
        x, y = int(place.x() * ratio), int(place.y() * ratio)
        return int(drawn.part[y, x]) if 0 <= x < wide and 0 <= y < high else -1

    def frame(self, size: tuple[int, int]) -> Drawn | None:
        """Draw it as it stands, as a picture of another size."""
        shapes, corners = self.shapes(), self.corners()
        if shapes is None or corners is None:
            return None
        own = self._size()
        eye = replace(
            self.camera, scale=self.camera.scale * min(size[0] / own[0], size[1] / own[1])
        )
        return picture_of(
            shapes,
            corners,
            eye,
            size,
            paints=self._paints(),
            roles=self.roles(),
            section=self.section(),
        )

    def _size(self) -> tuple[int, int]:
        return max(self.width(), 2), max(self.height(), 2)

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
            fight_tint=mixed(tokens.paper, tokens.bad, 0.45),
            fight_ink=mixed(tokens.bad, tokens.paper, light),
        )

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        if self.shapes() is None:
            self.say_instead(painter, self.empty)
            return
        if self._image is None:
            busy = self.moving or self._pressed is not None
            order = self._order(1, self._coarse if busy else 1)
            if order is None:
                return
            clock = QElapsedTimer()
            clock.start()
            self._show_drawn(order())
            if busy:
                self._keep_pace(clock.elapsed())
        if self._image is None:
            return
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(self.rect(), self._image)

    def _keep_pace(self, took_ms: float) -> None:
        """Draw what moves as finely as this machine keeps up with."""
        if self._coarse > 1 and took_ms * COARSE**2 < QUICK_MS:
            self._coarse = 1
        elif took_ms > SLOW_MS:
            self._coarse = COARSE

    def _order(
        self, fine: int, coarse: int, strip: tuple[int, int] | None = None
    ) -> Callable[[], Drawn] | None:
        """Gather what a picture is drawn of, as it is now; coarse ones have fewer pixels.

        Of a ``strip``, from a row on so many, only that.
        """
        self.roughly = coarse > 1
        shapes, corners = self.shapes(), self.corners()
        self.roughly = False
        if shapes is None or corners is None:
            return None
        wide, high = self._size()
        eye = self.camera
        if strip is not None:
            eye = eye.moved(0.0, high / 2 - strip[0] - strip[1] / 2)
            high = strip[1]
        return partial(
            picture_of,
            shapes,
            corners,
            replace(eye, scale=eye.scale / coarse),
            (-(-wide // coarse), -(-high // coarse)),
            paints=self._paints(soft=coarse > 1),
            roles=self.roles(),
            section=self.section(),
            fine=fine,
        )

    def _show_drawn(self, drawn: Drawn) -> None:
        self._drawn = drawn
        high, wide, _ = drawn.pixels.shape
        data = drawn.pixels.tobytes()
        self._image = QImage(data, wide, high, 4 * wide, QImage.Format.Format_RGBX8888).copy()

    def forget(self) -> None:
        """Let go of what was drawn: other shapes are shown."""
        self._drawn = None
        self.redraw()

    # moved on

    def go(self) -> None:
        """Move on with time, until nothing moves any more."""
        if not self._timer.isActive():
            self._clock.start()
            self._timer.start()

    def halt(self) -> None:
        """Stand still."""
        self._timer.stop()

    def _tick(self) -> None:
        """Move on by the time that has passed; stop where nothing moves any more."""
        seconds = min(self._clock.restart() / 1000.0, LONGEST_S)
        moving = [self.advance(seconds), self._glided(seconds)]
        if not any(moving):
            self._timer.stop()
        self.redraw()

    def _refine(self) -> None:
        """Begin to draw the standing picture finely, a strip at a time."""
        if not self.moving and self.shapes() is not None:
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
        self.halt()
        super().hideEvent(event)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if event is not None:
            old, new = event.oldSize(), event.size()
            if old == QSize(-1, -1):
                self.fit()
            else:  # what was seen is still seen
                share = min(new.width() / old.width(), new.height() / old.height())
                self.camera = replace(self.camera, scale=self.camera.scale * share)
        self.redraw()

    # by hand

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self.setFocus()
        place = event.position()
        self._pressed = place, place, self.number_at(place)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        place = event.position()
        if self._pressed is None:
            self.tell(self.number_at(place), place)
            return
        first, before, number = self._pressed
        self._pressed = first, place, number
        by = place - before
        buttons, keys = event.buttons(), event.modifiers()
        if buttons & Qt.MouseButton.LeftButton and not keys & Qt.KeyboardModifier.ShiftModifier:
            if number >= 0 and self.can_turn(number):
                self.turn_by_hand(number, before, place)
            else:
                self.camera = self.camera.turned(-ROUND_DEG * by.x(), ROUND_DEG * by.y())
        else:
            self.camera = self.camera.moved(by.x(), by.y())
        self.redraw()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        pressed, self._pressed = self._pressed, None
        if event is None or pressed is None or self.shapes() is None:
            return
        left = event.button() == Qt.MouseButton.LeftButton
        if left and (event.position() - pressed[0]).manhattanLength() < CLICK_PX:
            self.pressed_on(self.number_at(event.position()), event.position())
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

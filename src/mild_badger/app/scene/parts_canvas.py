"""Components in space: made into shapes a few at a time, pressed, named, asked about."""

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QElapsedTimer, QPoint, QPointF, QTimer, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QPainter

from mild_badger.app.scene.space_canvas import SpaceCanvas
from mild_badger.app.shown import shown
from mild_badger.app.theme.plain_tips import show_tip
from mild_badger.app.theme.style import Theme
from mild_badger.core.components.component import Component
from mild_badger.core.components.describe import describe_component
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say
from mild_badger.core.scene.mesh import Floats, Scene, mesh_of, scene_of

__all__ = ["WALLS", "PartsCanvas", "middle_of"]

SLICE_MS = 60
"""For shapes made in a row."""
WALLS = frozenset({"wall", "tie rod", "tie beam"})
"""What hides the rest."""


class PartsCanvas(SpaceCanvas):
    """Parts in space; how they stand, a kind of picture fills in.

    Signals
    -------
    chosen : the key of the part that was pressed, "" for none
    asked : the part on which a menu is asked for, and where on the screen
    """

    chosen = pyqtSignal(str)
    asked = pyqtSignal(object, QPoint)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.marked = ""
        self.hidden: frozenset[str] = frozenset()
        self.taken_off: frozenset[str] = frozenset()
        """Kinds, and keys of parts, that are left out."""
        self.bendable = False
        """Whether shafts are made so that they can be drawn bent."""
        self._parts: tuple[Component, ...] = ()
        self._scene: Scene | None = None
        self._rough: Scene | None = None
        self._made = 0
        self._gathering = QTimer(self)
        self._gathering.timeout.connect(self._gather)

    @property
    def parts(self) -> tuple[Component, ...]:
        """The parts that are shown."""
        return self._parts

    def take_parts(self, parts: Sequence[Component]) -> None:
        """Show other parts; none says what is empty."""
        self._parts = tuple(parts)
        self._scene, self._rough, self._made = None, None, 0
        self.forget()
        if self._parts:
            self._gathering.start()
        else:
            self._gathering.stop()

    def _gather(self) -> None:
        """Make the parts' shapes, a few at a time, so that the window never waits for them."""
        clock = QElapsedTimer()
        clock.start()
        count = len(self._parts)
        rough = self._scene is not None  # what moves is made simpler, once the rest is there
        while self._made < count and clock.elapsed() < SLICE_MS:
            mesh_of(self._parts[self._made], rough=rough)
            self._made += 1
        if self._made >= count:
            self._made = 0
            if rough or not self._parts:
                self._gathering.stop()
                self._rough = scene_of(self._parts, rough=True) if self._parts else None
                return
            self._scene = scene_of(self._parts, bendable=self.bendable)
            if self.bendable:
                self._gathering.stop()
            self.gathered()
        self.update()

    def gathered(self) -> None:
        """Take note that all shapes are there."""
        self.fit()

    def words(self) -> str:
        if not self._parts:
            return self.empty
        return say("scene.parts-in-space", count_of_parts=len(self._parts))

    def shapes(self) -> Scene | None:
        return self._rough if self.roughly and self._rough is not None else self._scene

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        if self._parts and self._scene is None:
            self.say_instead(painter, say("scene.making-the-picture"))
            return
        super().draw(painter, evaluation)

    def part(self, number: int) -> Component | None:
        """Give a part by its number; None for −1."""
        return self._parts[number] if 0 <= number < len(self._parts) else None

    def part_at(self, place: QPointF) -> Component | None:
        """Give the part seen at a place of the picture."""
        return self.part(self.number_at(place))

    def place_of(self, part: Component) -> QPointF:
        """Give where the middle of a part is seen."""
        x, y, _ = self.camera.seen(middle_of(part)[None, :], self._size())[0]
        return QPointF(float(x), float(y))

    def choose(self, key: str) -> None:
        """Mark a part; "" for none."""
        if key != self.marked:
            self.marked = key
            self.redraw()

    def pressed_on(self, number: int, place: QPointF) -> None:
        part = self.part(number)
        key = "" if part is None else part.key
        self.choose("" if key == self.marked else key)
        self.chosen.emit(self.marked)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        if event is None:
            return
        part = self.part_at(QPointF(event.pos()))
        if part is not None:
            self.choose(part.key)
            self.chosen.emit(part.key)
            self.asked.emit(part, event.globalPos())

    def tip_of(self, part: Component, evaluation: Evaluation) -> str:
        """Say what a part is."""
        return describe_component(evaluation.vehicle, part)

    def tell(self, number: int, place: QPointF) -> None:
        part, evaluation = self.part(number), self.evaluation
        if part is None or evaluation is None:
            show_tip(QPoint(), "", self)
            return
        words = shown(self.tip_of(part, evaluation))
        show_tip(self.mapToGlobal(place.toPoint()), words, self)


def middle_of(part: Component) -> Floats:
    """Give the middle of a part as it is drawn, in the frame, mm."""
    return np.array((part.x_mm, part.y_mm, -(part.from_mm + part.to_mm) / 2))

"""A lesson's mechanism in space: turned by time or by hand, its parts named."""

from dataclasses import replace

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter

from mild_badger.app.drawing.marks import pen
from mild_badger.app.scene.space_canvas import SpaceCanvas
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.lesson.course import RATE_RAD_S, Step
from mild_badger.core.lesson.state import Doing, Mechanism, Motion, Setting
from mild_badger.core.message import say
from mild_badger.core.scene.camera import Camera
from mild_badger.core.scene.mesh import Floats, Scene, gathered, placed

__all__ = ["LessonView"]

AXIS = np.array((1.0, 0.0, 0.0))
LABEL_PX = 4.0


class LessonView(SpaceCanvas):
    """One step of a lesson.

    Signals
    -------
    moved : the mechanism has moved on
    """

    moved = pyqtSignal()

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("lesson.the-mechanism-of-this-step"))
        self.setMinimumSize(280, 160)
        self.step: Step | None = None
        self.setting = Setting()
        self.doing = Doing()
        self.motion = Motion()
        self._mechanism: Mechanism | None = None
        self._scene: Scene | None = None

    def show_step(self, evaluation: Evaluation, step: Step, setting: Setting) -> None:
        """Show a step as it is when it begins."""
        self.step, self.setting = step, setting
        self.doing, self.motion = Doing(), Motion()
        self._build()
        self.camera = Camera(step.look[0] % 360.0, step.look[1])
        self.halt()
        self.show_evaluation(evaluation)
        self.fit()

    def set_to(self, setting: Setting) -> None:
        """Take what sliders say; another shape is seen from where the last one was."""
        step, before = self.step, self.setting
        self.setting = setting
        if step is None or replace(setting, radius_mm=before.radius_mm) == before:
            return  # the corner is the tyres' affair
        if step.build(setting) is not self._mechanism:
            self._build()
            self.fit()
        self.redraw()

    def do(self, doing: Doing) -> None:
        """Do what the learner does."""
        if doing != self.doing:
            self.redraw()
        self.doing = doing
        if doing.turning:
            self.go()
        self.moved.emit()

    def set_back(self) -> None:
        """Stand as at the beginning."""
        self.motion = Motion()
        self.redraw()
        self.moved.emit()

    def _build(self) -> None:
        step = self.step
        if step is None:
            return
        self._mechanism = step.build(self.setting)
        self._scene = gathered([body.mesh for body in self._mechanism.bodies])
        self.forget()

    def words(self) -> str:
        return "" if self.step is None else shown(self.step.title)

    def shapes(self) -> Scene | None:
        return self._scene

    def corners(self) -> Floats | None:
        if self.step is None or self._scene is None:
            return None
        return placed(self._scene, *self.step.pose(self.motion, self.doing, self.setting))

    def roles(self) -> list[str]:
        return [] if self._mechanism is None else [body.role for body in self._mechanism.bodies]

    def advance(self, seconds: float) -> bool:
        if self.step is None or not self.doing.turning:
            return False
        before = self.motion
        self.motion = self.step.move(self.motion, self.doing, self.setting, seconds)
        self.moved.emit()
        return self.motion != before or self.motion.carrier != before.carrier

    def can_turn(self, number: int) -> bool:
        return self._mechanism is not None and self._mechanism.bodies[number].driven

    def turn_by_hand(self, number: int, from_px: QPointF, to_px: QPointF) -> None:
        """Turn the driven part by what is dragged; forwards is a turn about x by minus it."""
        if self.step is None:
            return
        drag = (from_px.x(), from_px.y()), (to_px.x(), to_px.y())
        by = -self.camera.dragged_rad((np.zeros(3), AXIS), 34.0, drag, self._size())
        doing = replace(self.doing, turning=True)
        self.motion = self.step.move(self.motion, doing, self.setting, by / RATE_RAD_S)
        self.moved.emit()

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        super().draw(painter, evaluation)
        if self._mechanism is None:
            return
        font = text_font("small")
        painter.setFont(font)
        tokens = self.theme.tokens
        taken: list[QRectF] = []
        for label in self._mechanism.labels:
            x, y, _ = self.camera.seen(np.array((label.at,)), self._size())[0]
            words = shown(label.words)
            wide = painter.fontMetrics().horizontalAdvance(words) + 2 * LABEL_PX
            high = painter.fontMetrics().height()
            box = QRectF(float(x) - wide / 2, float(y) - high / 2, wide, high)
            box.moveLeft(min(max(box.left(), 2.0), self.width() - wide - 2.0))
            box.moveTop(min(max(box.top(), 2.0), self.height() - high - 2.0))
            while any(box.intersects(other) for other in taken):
                box.translate(0.0, high + 1.0)
            taken.append(box)
            painter.fillRect(box, tokens.paper)
            painter.setPen(pen(tokens.soft))
            painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), words)

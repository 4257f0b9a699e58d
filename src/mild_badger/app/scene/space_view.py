"""A vehicle's parts in space: run by the motor or turned by hand, shifted, drawn apart.

Drag a part that turns to turn it, the paper to go round; the wheel magnifies.
"""

from dataclasses import replace

import numpy as np
from PyQt6.QtCore import QElapsedTimer, QPoint, QPointF, QTimer, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QHideEvent, QPainter

from mild_badger.app.scene.space_canvas import SpaceCanvas
from mild_badger.app.shown import shown
from mild_badger.app.theme.plain_tips import show_tip
from mild_badger.app.theme.style import Theme
from mild_badger.core.components.component import Component
from mild_badger.core.components.describe import describe_component
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import in_n_mm
from mild_badger.core.message import say
from mild_badger.core.scene.mesh import Floats, Scene, mesh_of, placed_corners, scene_of
from mild_badger.core.scene.motion import Shift, alongs_of, between, drum_turns, shifted
from mild_badger.core.scene.settle import settled
from mild_badger.core.scene.stage import Stage

__all__ = ["WALLS", "SpaceView"]

SHIFT_S, SETTLE_S, SLICE_MS = 0.6, 0.2, 60
"""For one shift, for dogs to fall in; for shapes made in a row."""
STILL = 1e-9
WALLS = frozenset({"wall", "tie rod", "tie beam"})
"""What hides the rest."""


class SpaceView(SpaceCanvas):
    """A stage of parts in space.

    Signals
    -------
    chosen : the key of the part that was pressed, "" for none
    asked : the part on which a menu is asked for, and where on the screen
    """

    chosen = pyqtSignal(str)
    asked = pyqtSignal(object, QPoint)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("scene.the-box-in-space"))
        self.spread = 0.0
        self.hidden: frozenset[str] = frozenset()
        self.taken_off: frozenset[str] = frozenset()
        """Kinds, and keys of parts, that are left out."""
        self.rpm = 0.0
        self.turned = 0.0
        self.marked = ""
        self.by_page = False
        """Whether the page moves it, not its own time."""
        self._stage: Stage | None = None
        self._scene: Scene | None = None
        self._shift: Shift | None = None
        self._from: Shift | None = None
        self._share = 1.0
        self._turns: Floats = np.zeros(0)
        self._ahead: tuple[Floats, Floats] = (self._turns, self._turns)
        self._settled = 1.0
        self._made = 0
        self._gathering = QTimer(self)
        self._gathering.timeout.connect(self._gather)

    @property
    def stage_parts(self) -> tuple[Component, ...]:
        """The parts that are shown."""
        return () if self._stage is None else self._stage.parts

    def turns_of(self, part: Component) -> float:
        """Give by how much a part turns for one turn of the motor, rad."""
        stage = self._stage
        return 0.0 if stage is None else float(self._turns[stage.parts.index(part)])

    def turning(self, part: Component) -> bool:
        """Whether a part turns with the motor."""
        return abs(self.turns_of(part)) > STILL

    def gone_mm(self, sleeve: str) -> float:
        """Give how far a sleeve stands from neutral now."""
        return self._now().travel.get(sleeve, 0.0)

    def place_of(self, part: Component) -> QPointF:
        """Give where the middle of a part is seen."""
        x, y, _ = self.camera.seen(_middle(part)[None, :], self._size())[0]
        return QPointF(float(x), float(y))

    def show_stage(self, evaluation: Evaluation, stage: Stage | None) -> None:
        """Show parts as they stand in a gear; from another gear of the same box it is shifted."""
        known = self._stage
        self._stage = stage
        if stage is None:
            self._scene = None
            self.forget()
        elif known is None or known.parts is not stage.parts:
            self._scene = None
            self.forget()
            self._shift, self._share = stage.shift, 1.0
            self._turns, self._settled = stage.turns, 1.0
            self._ahead = np.zeros(len(stage.parts)), np.zeros(len(stage.parts))
            self._made = 0
            self._gathering.start()
        elif stage.shift != known.shift and not self.by_page:
            self._from, self._share = self._now(), 0.0
            self._shift = stage.shift
            self.go()
        elif not self.by_page:
            self._turns = stage.turns
        self.show_evaluation(evaluation)
        self.redraw()

    def stand(self, shift: Shift, stage: Stage | None, seconds: float, motor_turns: float) -> None:
        """Stand as a page says: where the shifter is, in which gear, what has passed since.

        Without a ``stage`` nothing is in: what the last gear drove coasts on.
        """
        self._shift, self._share = shift, 1.0
        if stage is not None and self._stage is not None:
            self._stage = replace(self._stage, roles=stage.roles)
            self._engage(stage.turns, shift)
        elif self._stage is not None:
            self._stage = replace(self._stage, roles=("idle",) * len(self._stage.parts))
        self._settled = min(self._settled + seconds / SETTLE_S, 1.0)
        self.turned += motor_turns
        self.redraw()

    def _engage(self, turns: Floats, shift: Shift) -> None:
        """Turn on as another gear has it: nothing jumps, and dogs fall into gaps."""
        stage, evaluation = self._stage, self.evaluation
        if stage is None or evaluation is None or np.array_equal(turns, self._turns):
            return
        ahead = self._angles() - turns * self.turned
        dogs = evaluation.vehicle.making.dog_count
        self._ahead = ahead, settled(stage.parts, ahead, turns, shift.travel, dogs)
        self._turns, self._settled = turns, 0.0

    def _angles(self) -> Floats:
        """Give by how much each part has turned from how it is drawn, rad."""
        start, end = self._ahead
        angles: Floats = self._turns * self.turned + start + (end - start) * self._settled
        return angles

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
                self.fit()
        self.update()

    def words(self) -> str:
        if self._stage is None:
            return self.empty
        return say("scene.parts-in-space", count_of_parts=len(self._stage.parts))

    def run(self, rpm: float) -> None:
        """Let the motor turn at so many turns a minute; 0 stops it."""
        self.rpm = rpm
        if rpm:
            self.go()

    def part_at(self, place: QPointF) -> Component | None:
        """Give the part seen at a place of the picture."""
        return self._part(self.number_at(place))

    def _part(self, number: int) -> Component | None:
        return None if number < 0 or self._stage is None else self._stage.parts[number]

    def _now(self) -> Shift:
        """Say where the shifter stands now, on its way or arrived."""
        there = self._shift or Shift({}, {})
        if self._share >= 1.0 or self._from is None:
            return there
        return between(self._from, there, self._share)

    def shapes(self) -> Scene | None:
        return self._scene

    def corners(self) -> Floats | None:
        stage, scene = self._stage, self._scene
        if stage is None or scene is None:
            return None
        now = self._now()
        parts = shifted(stage.parts, now, stage.levers)
        alongs = alongs_of(stage.parts, now)
        if self.spread:
            alongs = alongs + self.spread * stage.middles
        turned = self._angles() + drum_turns(stage.parts, now)
        return placed_corners(scene, parts, turned, alongs)

    def roles(self) -> list[str]:
        stage = self._stage
        if stage is None:
            return []
        return [
            "hidden"
            if part.kind in self.hidden or part.key in self.taken_off
            else "marked"
            if part.key == self.marked
            else role
            for part, role in zip(stage.parts, stage.roles, strict=True)
        ]

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        if self._stage is not None and self._scene is None:
            self.say_instead(painter, say("scene.making-the-picture"))
            return
        super().draw(painter, evaluation)

    def advance(self, seconds: float) -> bool:
        self.turned += self.rpm / 60.0 * seconds
        self._share = min(self._share + seconds / SHIFT_S, 1.0)
        self._settled = min(self._settled + seconds / SETTLE_S, 1.0)
        if self._share >= 1.0 and self._stage is not None:
            self._engage(self._stage.turns, self._now())
        return bool(self.rpm) or min(self._share, self._settled) < 1.0

    def hideEvent(self, event: QHideEvent | None) -> None:
        self.rpm, self._share = 0.0, 1.0  # it stands, and what was on its way has arrived
        if self._stage is not None and not self.by_page:
            self._engage(self._stage.turns, self._now())
        self._settled = 1.0
        super().hideEvent(event)

    def can_turn(self, number: int) -> bool:
        stage = self._stage
        return stage is not None and bool(abs(self._turns[number]) > STILL)

    def turn_by_hand(self, number: int, from_px: QPointF, to_px: QPointF) -> None:
        stage, part = self._stage, self._part(number)
        if stage is None or part is None:
            return
        axis = np.array((1.0, 0.0, 0.0) if part.across else (0.0, 0.0, 1.0))
        by = self.camera.dragged_rad(
            (_middle(part), axis),
            part.radius_mm,
            ((from_px.x(), from_px.y()), (to_px.x(), to_px.y())),
            self._size(),
        )
        self.turned += by / float(self._turns[number])

    def choose(self, key: str) -> None:
        """Mark a part; "" for none."""
        if key != self.marked:
            self.marked = key
            self.redraw()

    def pressed_on(self, number: int, place: QPointF) -> None:
        part = self._part(number)
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

    def tell(self, number: int, place: QPointF) -> None:
        part = self._part(number)
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


def _middle(part: Component) -> Floats:
    return np.array((part.x_mm, part.y_mm, -(part.from_mm + part.to_mm) / 2))

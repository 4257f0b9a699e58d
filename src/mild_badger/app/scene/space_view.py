"""A vehicle's parts in space: run by the motor or turned by hand, shifted, drawn apart.

Drag a part that turns to turn it, the paper to go round; the wheel magnifies.
"""

from dataclasses import replace

import numpy as np
from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QHideEvent, QPainter

from mild_badger.app.drawing.marks import pen
from mild_badger.app.scene.parts_canvas import PartsCanvas, middle_of
from mild_badger.app.theme.style import Theme
from mild_badger.core.components.component import Component, along_to_z
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import in_n_mm
from mild_badger.core.message import say
from mild_badger.core.scene.bend import Bending, bent_corners
from mild_badger.core.scene.camera import Camera
from mild_badger.core.scene.flow import FlowLine
from mild_badger.core.scene.mesh import Floats, placed_corners, pose_of
from mild_badger.core.scene.motion import Shift, alongs_of, between, drum_turns, shifted
from mild_badger.core.scene.settle import settled
from mild_badger.core.scene.stage import Stage

__all__ = ["SpaceView"]

LEAST_FLOW_PX, MOST_FLOW_PX, FLOW_ALPHA = 2.0, 16.0, 150
SHIFT_S, SETTLE_S = 0.6, 0.2
"""For one shift, for dogs to fall in."""
STILL = 1e-9


class SpaceView(PartsCanvas):
    """A stage of parts in space.

    Signals
    -------
    bound : a locked train has been turned as far as its play goes, a slide as far as it can
    left : it is hidden, and stands
    """

    bound = pyqtSignal()
    left = pyqtSignal()

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("scene.the-box-in-space"))
        self.apart: Floats | None = None
        """How far each part is drawn off its place (n, 3), mm."""
        self.rpm = 0.0
        self.turned = 0.0
        self.flow: tuple[FlowLine, ...] = ()
        """The torque's way, drawn as wide as it is large; none where it is not asked for."""
        self.bending: Bending | None = None
        """How shafts bend, where that is to be seen."""
        self.binds: tuple[float, float] | None = None
        """Between which turns of the motor a locked train has play, or a slide its travel."""
        self.by_page = False
        """Whether the page moves it, not its own time."""
        self._stage: Stage | None = None
        self._shift: Shift | None = None
        self._from: Shift | None = None
        self._share = 1.0
        self._turns: Floats = np.zeros(0)
        self._kept: Camera | None = None
        self._ahead: tuple[Floats, Floats] = (self._turns, self._turns)
        self._settled = 1.0

    @property
    def stage(self) -> Stage | None:
        """What is shown, and how it stands."""
        return self._stage

    def show_bent(self, bending: Bending | None) -> None:
        """Draw shafts bent, or straight for None."""
        self.bending = bending
        if (bending is not None) != self.bendable:  # shapes of other corners
            self.bendable = bending is not None
            eye = self.camera
            self.take_parts(self.parts)
            self._kept = eye
        self.redraw()

    def gathered(self) -> None:
        super().gathered()
        if self._kept is not None:
            self.camera, self._kept = self._kept, None
            self.redraw()

    def turn_on(self, motor_turns: float) -> None:
        """Turn the motor on by so much."""
        self._turn_to(self.turned + motor_turns)
        self.redraw()

    def try_shift(self, sleeve: str, by_mm: float) -> None:
        """Let a sleeve go as far as the interlock lets it, and back again."""
        there = self._now()
        gone = {**there.travel, sleeve: there.travel.get(sleeve, 0.0) + by_mm}
        self._from, self._shift, self._share = replace(there, travel=gone), there, 0.0
        self.go()

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

    def _turn_to(self, turned: float) -> bool:
        """Turn the motor as far as it goes; say whether it binds."""
        self.turned = turned
        if self.binds is None:
            return False
        low, high = self.binds
        self.turned = min(max(turned, low), high)
        return self.turned != turned

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        super().draw(painter, evaluation)
        if not self.flow or self.shapes() is None:
            return
        most = max(line.torque_n_mm for line in self.flow) or 1.0
        color = QColor(self.theme.tokens.run)
        color.setAlpha(FLOW_ALPHA)
        for line in self.flow:
            ends = self.camera.seen(np.array((line.start, line.end)), self._size())
            wide = pen(color, LEAST_FLOW_PX + MOST_FLOW_PX * line.torque_n_mm / most)
            wide.setCapStyle(Qt.PenCapStyle.RoundCap)
            painter.setPen(wide)
            (x, y, _), (right, low, _) = ends
            painter.drawLine(QPointF(float(x), float(y)), QPointF(float(right), float(low)))

    def show_stage(self, evaluation: Evaluation, stage: Stage | None) -> None:
        """Show parts as they stand in a gear; from another gear of the same box it is shifted."""
        known = self._stage
        self._stage = stage
        self.show_evaluation(evaluation)
        if stage is None:
            self.take_parts(())
        elif known is None or known.parts is not stage.parts:
            self.apart = None
            self.take_parts(stage.parts)
            self._shift, self._share = stage.shift, 1.0
            self._turns, self._settled = stage.turns, 1.0
            self._ahead = np.zeros(len(stage.parts)), np.zeros(len(stage.parts))
        elif stage.shift != known.shift and not self.by_page:
            self._from, self._share = self._now(), 0.0
            self._shift = stage.shift
            self.go()
        elif not self.by_page:  # another road: nothing jumps
            self._engage(stage.turns, self._now())
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
        turned: Floats | float = self.turned
        if self._stage is not None and self._stage.ratchets is not None:
            turned = self._stage.ratchets.turned(self.turned)
        angles: Floats = self._turns * turned + start + (end - start) * self._settled
        return angles

    def run(self, rpm: float) -> None:
        """Let the motor turn at so many turns a minute; 0 stops it."""
        self.rpm = rpm
        if rpm:
            self.go()

    def _now(self) -> Shift:
        """Say where the shifter stands now, on its way or arrived."""
        there = self._shift or Shift({}, {})
        if self._share >= 1.0 or self._from is None:
            return there
        return between(self._from, there, self._share)

    def corners(self) -> Floats | None:
        stage, scene = self._stage, self.shapes()
        if stage is None or scene is None:
            return None
        now = self._now()
        parts = stage.parts if stage.steered is None else stage.steered.shown(stage.parts)
        parts = shifted(parts, now, stage.levers)
        if stage.ratchets is not None:
            parts = stage.ratchets.shown(parts, self.turned)
        moves = alongs_of(stage.parts, now)
        if self.apart is not None:
            moves = self.apart + moves[:, None] * np.array((0.0, 0.0, along_to_z(1.0)))
        turned = self._angles() + drum_turns(stage.parts, now)
        if stage.steered is not None:
            parts, turned = stage.steered.turned(parts, turned)
        if stage.mechanisms is not None:
            parts = stage.mechanisms.shown(parts, turned)
        corners = placed_corners(scene, parts, turned, moves)
        if self.bending is None:
            return corners
        return bent_corners(corners, scene, parts, self.bending)

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

    def advance(self, seconds: float) -> bool:
        if self._turn_to(self.turned + self.rpm / 60.0 * seconds):
            self.rpm = 0.0
            self.bound.emit()
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
        self.left.emit()
        super().hideEvent(event)

    def can_turn(self, number: int) -> bool:
        stage = self._stage
        return stage is not None and bool(abs(self._turns[number]) > STILL)

    def turn_by_hand(self, number: int, from_px: QPointF, to_px: QPointF) -> None:
        stage, part = self._stage, self.part(number)
        if stage is None or part is None:
            return
        if stage.steered is not None:
            part = stage.steered.posed.get(number, part)
        by = self.camera.dragged_rad(
            (middle_of(part), pose_of(part)[:, 2]),
            part.radius_mm,
            ((from_px.x(), from_px.y()), (to_px.x(), to_px.y())),
            self._size(),
        )
        if self._turn_to(self.turned + by / float(self._turns[number])):
            self.bound.emit()

    def tip_of(self, part: Component, evaluation: Evaluation) -> str:
        words, stage = super().tip_of(part, evaluation), self._stage
        if stage is None:
            return words
        rpm, torque = stage.rpm_of(part), stage.torque_of(part)
        if rpm is not None and torque is not None:
            return say("scene.turns-at-with", part=words, rpm=rpm, torque=in_n_mm(torque, 0))
        if rpm is not None:
            return say("scene.turns-at", part=words, rpm=rpm)
        return words

"""The vehicle from the front and from the side, to scale: what is low, and the three angles.

Drag a wheel to change track or wheelbase, the belly's line to lift or lower the chassis.
"""

from collections.abc import Iterator
from itertools import pairwise
from math import cos, radians, sin

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter

from mild_badger.app.drawing.handles import HandlePaper
from mild_badger.app.drawing.marks import pen
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.axle.clearance import Clearance, hub_rise_mm
from mild_badger.core.axle.running import running_of
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import in_mm
from mild_badger.core.message import say
from mild_badger.core.words import signed

__all__ = ["RoomView"]


class RoomView(HandlePaper):
    """Left the driven axle from behind, right the vehicle from its left side.

    Signals
    -------
    dragged : what was moved (track, wheelbase or belly) and its new length in mm
    """

    dragged = pyqtSignal(str, float)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-axle.vehicle-from-behind-and-from-the-side"))
        self.setMinimumSize(320, 180)
        self.found: Clearance | None = None
        self._scale, self._ground = 1.0, 0.0
        self._axle_x, self._rear_x = 0.0, 0.0

    def show_room(self, evaluation: Evaluation, room: Clearance) -> None:
        """Show clearances that were worked out."""
        self.found = room
        self.show_evaluation(evaluation)

    def words(self) -> str:
        room = self.found
        if room is None:
            return ""
        return say(
            "tab-axle.ground-clearance-approach-departure",
            ground_mm=in_mm(room.ground_mm, 1),
            limited_by=room.limited_by,
            approach_deg=room.approach_deg,
            departure_deg=room.departure_deg,
            breakover_deg=room.breakover_deg,
        )

    def handles(self) -> Iterator[tuple[str, QPointF]]:
        """Give what can be dragged, and where it is drawn."""
        if self.evaluation is None:
            return
        vehicle = self.evaluation.vehicle
        radius = vehicle.wheels.diameter_mm / 2
        yield "track_mm", self._at(self._axle_x, vehicle.axle.track_mm / 2, radius)
        yield "wheelbase_mm", self._at(self._rear_x, vehicle.axle.wheelbase_mm, radius)
        belly = running_of(vehicle).chassis.belly_mm
        yield "belly_mm", self._at(self._rear_x, vehicle.axle.wheelbase_mm / 2, belly)

    def _at(self, left: float, x: float, y: float) -> QPointF:
        return QPointF(left + x * self._scale, self._ground - y * self._scale)

    def _fit(self, evaluation: Evaluation) -> None:
        vehicle = evaluation.vehicle
        chassis = running_of(vehicle).chassis
        across = vehicle.axle.track_mm + 2 * chassis.tyre_width_mm
        along = (
            vehicle.axle.wheelbase_mm
            + chassis.front_overhang_mm
            + chassis.rear_overhang_mm
            + vehicle.wheels.diameter_mm * 0.3
        )
        tall = max(vehicle.wheels.diameter_mm, chassis.belly_mm) * 1.9
        self._scale = min((self.width() - 70) / (across + along), (self.height() - 70) / tall)
        self._ground = self.height() - 44.0
        self._axle_x = 20 + across * self._scale / 2
        self._rear_x = 50 + (across + chassis.rear_overhang_mm) * self._scale

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        if self.found is None:
            return
        self._fit(evaluation)
        tokens = self.theme.tokens
        painter.setPen(pen(tokens.ink, 1.6))
        painter.drawLine(QLineF(8, self._ground, self.width() - 8, self._ground))
        self._behind(painter, evaluation, self.found)
        self._side(painter, evaluation, self.found)
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        painter.drawText(QPointF(14, self.height() - 10), say("tab-axle.driven-axle-from-behind"))
        painter.drawText(
            QPointF(self._rear_x, self.height() - 10),
            say("tab-axle.from-the-left-side-ahead-is-right"),
        )
        painter.setPen(pen(tokens.run, 1.6))
        painter.setBrush(tokens.paper)
        for _, spot in self.handles():
            painter.drawEllipse(spot, 4, 4)
        self.draw_held(painter)

    def _behind(self, painter: QPainter, evaluation: Evaluation, room: Clearance) -> None:
        tokens, vehicle, scale = self.theme.tokens, evaluation.vehicle, self._scale
        running = running_of(vehicle)
        half, width = vehicle.axle.track_mm / 2, running.chassis.tyre_width_mm
        wheel = vehicle.wheels.diameter_mm

        def box(x: float, low: float, wide: float, high: float) -> QRectF:
            corner = self._at(self._axle_x, x - wide / 2, low + high)
            return QRectF(corner.x(), corner.y(), wide * scale, high * scale)

        painter.setPen(pen(tokens.ink, 1.6))
        painter.setBrush(tokens.panel)
        for side in (-1, 1):
            painter.drawRoundedRect(box(side * half, 0, width, wheel), 4, 4)
        arm = running.shape.arm_mm
        painter.setBrush(tokens.paper)
        painter.drawRect(box(0, room.axle_mm - arm / 2, 2 * half - width, arm))
        r = room.housing_radius_mm * scale
        painter.drawEllipse(self._at(self._axle_x, 0, room.axle_mm), r, r)
        rise = hub_rise_mm(vehicle)
        if rise:
            for side in (-1, 1):
                x = side * (half - width * 0.7)
                painter.drawRect(box(x, wheel / 2 - arm / 2, 6, rise + arm))
        low = room.lows[0]
        spot = self._at(self._axle_x, 0, low.height_mm)
        painter.setPen(pen(tokens.run, 2.2))
        painter.drawLine(spot, QPointF(spot.x(), self._ground))
        painter.setFont(text_font("small", bold=True))
        painter.drawText(spot + QPointF(6, 14), signed(room.ground_mm, ".1f"))

    def _side(self, painter: QPainter, evaluation: Evaluation, room: Clearance) -> None:
        tokens, vehicle, scale = self.theme.tokens, evaluation.vehicle, self._scale
        chassis = running_of(vehicle).chassis
        wheel, base = vehicle.wheels.diameter_mm, vehicle.axle.wheelbase_mm

        def at(x: float, y: float) -> QPointF:
            return self._at(self._rear_x, x, y)

        top = wheel * 1.25
        painter.setPen(pen(tokens.ink, 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        outline = (
            (-chassis.rear_overhang_mm, top),
            (-chassis.rear_overhang_mm, chassis.rear_low_mm),
            (0.0, chassis.belly_mm),
            (base, chassis.belly_mm),
            (base + chassis.front_overhang_mm, chassis.front_low_mm),
            (base + chassis.front_overhang_mm, top),
            (-chassis.rear_overhang_mm, top),
        )
        for one, other in pairwise(outline):
            painter.drawLine(at(*one), at(*other))
        painter.setBrush(tokens.panel)
        for x in (0.0, base):
            painter.drawEllipse(at(x, wheel / 2), wheel / 2 * scale, wheel / 2 * scale)
        painter.setFont(text_font("small", bold=True))
        painter.setPen(pen(tokens.run, 1.6, dashed=True))
        for x, y, angle, way in (
            (base + chassis.front_overhang_mm, chassis.front_low_mm, room.approach_deg, 1),
            (-chassis.rear_overhang_mm, chassis.rear_low_mm, room.departure_deg, -1),
        ):
            a, reach = radians(angle), wheel * 0.9
            here, back = at(x, y), at(x - way * 1.4 * reach * cos(a), y - 1.4 * reach * sin(a))
            painter.drawLine(back, at(x + way * 0.3 * reach * cos(a), y + 0.3 * reach * sin(a)))
            painter.drawText(here + QPointF(-14 if way > 0 else -4, -8), f"{signed(angle, '.0f')}°")
        crest, a = at(base / 2, chassis.belly_mm), radians(room.breakover_deg / 2)
        for way in (-1, 1):
            reach = base / 2
            painter.drawLine(
                crest, at(base / 2 + way * reach * cos(a), chassis.belly_mm - reach * sin(a))
            )
        painter.drawText(crest + QPointF(-10, -8), f"{signed(room.breakover_deg, '.0f')}°")

    def dropped(self, name: str, here: QPointF) -> None:
        """Send the new length of what was dragged."""
        lengths = {
            "track_mm": 2 * (here.x() - self._axle_x) / self._scale,
            "wheelbase_mm": (here.x() - self._rear_x) / self._scale,
            "belly_mm": (self._ground - here.y()) / self._scale,
        }
        self.dragged.emit(name, round(lengths[name], 1))

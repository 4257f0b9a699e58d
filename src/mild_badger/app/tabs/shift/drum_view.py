"""The drum unrolled at true scale: the tracks of its forks, its positions, where both are in."""

from itertools import pairwise

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPen, QPolygonF

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import pen
from mild_badger.app.shown import units_in_force
from mild_badger.app.theme.plain_tips import show_tip
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import in_mm, ruler_mm
from mild_badger.core.message import say
from mild_badger.core.shift.drum import DrumLayout, Track, drum_layout
from mild_badger.core.vehicle.sleeves import describe_sleeve
from mild_badger.core.words import signed

__all__ = ["DrumView"]

LEFT, RIGHT, TOP, LOW = 96.0, 24.0, 44.0, 34.0
GAP = 30.0


class DrumView(Canvas):
    """Press near a position to engage its gear; hover a track for its travel."""

    engage = pyqtSignal(object)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-shift.drum-unrolled"))
        self.setMinimumHeight(200)
        self.setMouseTracking(True)
        self.angle_deg: float | None = None
        """Where a played drum stands; the engaged gear's position where none is played."""
        self._layout: DrumLayout | None = None
        self._scale, self._left = 1.0, LEFT
        self._base: dict[int, float] = {}

    def words(self) -> str:
        if self.evaluation is None:
            return ""
        vehicle = self.evaluation.vehicle
        return ", ".join(
            say("tab-shift.at", gear_name=vehicle.gear_name(p.gear or "N"), angle_deg=p.angle_deg)
            for p in drum_layout(vehicle).positions
        )

    def place_of(self, gear: str | None) -> QPointF:
        """Where a position is drawn, in the widget's pixels."""
        layout = self._layout
        if layout is None:
            return QPointF()
        position = next(p for p in layout.positions if p.gear == gear)
        return QPointF(self._x(position.angle_deg), self.height() / 2)

    def _x(self, angle_deg: float) -> float:
        layout = self._layout
        return self._left + (layout.along_mm(angle_deg) if layout else 0.0) * self._scale

    def _fit(self, evaluation: Evaluation) -> DrumLayout:
        layout = drum_layout(evaluation.vehicle)
        drums = max(len(layout.lengths_mm), 1)
        room = self.height() - TOP - LOW - GAP * (drums - 1)
        self._scale = min(
            (self.width() - LEFT - RIGHT) / layout.around_mm, room / max(sum(layout.lengths_mm), 1)
        )
        self._left = max((self.width() - layout.around_mm * self._scale + LEFT - RIGHT) / 2, LEFT)
        self._layout = layout
        return layout

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        tokens = self.theme.tokens
        layout = self._fit(evaluation)
        if not layout.tracks:
            painter.setFont(text_font("text"))
            painter.setPen(tokens.soft)
            words = say("tab-shift.no-gear-has-a-train-yet-choose-one-on-the")
            painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter, words)
            return
        top = TOP
        self._base = {}
        numbers = sorted({track.drum for track in layout.tracks})
        for number, length in zip(numbers, layout.lengths_mm, strict=True):
            self._base[number] = top + length * self._scale
            self._sheet(painter, evaluation, layout, number, top)
            top += length * self._scale + GAP
        self._ruler(painter, layout)

    def _sheet(
        self,
        painter: QPainter,
        evaluation: Evaluation,
        layout: DrumLayout,
        number: int,
        top: float,
    ) -> None:
        tokens = self.theme.tokens
        low, right = self._base[number], self._x(360)
        for change in layout.changes:
            if change.overlap_deg is not None and change.overlap_deg > 0:
                band = QRectF(
                    QPointF(self._x(change.enters_deg), top),
                    QPointF(self._x(change.leaves_deg), low),
                )
                painter.fillRect(band, tokens.run_wash)
        painter.setPen(pen(tokens.soft, 1.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(QRectF(QPointF(self._left, top), QPointF(right, low)))
        engaged = evaluation.situation.gear
        angles = [position.angle_deg for position in layout.positions]
        roomy = all(self._x(b) - self._x(a) > 30 for a, b in pairwise(angles))
        for position in layout.positions:
            x = self._x(position.angle_deg)
            active = self.angle_deg is None and position.gear == engaged
            gear = evaluation.vehicle.gear(position.gear) if position.gear else None
            accent = tokens.back if gear is not None and gear.reverse else tokens.run
            painter.setPen(pen(accent if active else tokens.hair, 2.2 if active else 1))
            painter.drawLine(QLineF(x, top, x, low))
            if number == min(self._base):
                painter.setPen(accent if active else tokens.ink)
                painter.setFont(figure_font("tab"))
                box = QRectF(x - 40, top - 38, 80, 20)
                name = evaluation.vehicle.gear_name(position.gear or "N")
                painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), name)
                if roomy or active:
                    painter.setPen(tokens.soft)
                    painter.setFont(text_font("small"))
                    box = QRectF(x - 40, top - 19, 80, 15)
                    sentence = f"{signed(position.angle_deg, '.0f')}°"
                    painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), sentence)
        for track in layout.tracks:
            if track.drum == number:
                self._track(painter, evaluation, track, low)
        if self.angle_deg is not None:
            painter.setPen(pen(tokens.run, 2.2))
            x = self._x(self.angle_deg)
            painter.drawLine(QLineF(x, top - 4, x, low + 4))
        if len(self._base) > 1 or len(layout.lengths_mm) > 1:
            painter.setFont(text_font("small", bold=True))
            painter.setPen(tokens.ink)
            name = (say("tab-shift.odd-drum"), "even drum")[number]
            painter.drawText(QPointF(self._left - 84, top + 12), name)

    def _track(self, painter: QPainter, evaluation: Evaluation, track: Track, low: float) -> None:
        tokens, vehicle = self.theme.tokens, evaluation.vehicle
        drum, travel = vehicle.shifting.drum, vehicle.lever.fork_travel_mm
        points = [
            QPointF(self._x(a), low - (track.axial_mm + y) * self._scale) for a, y in track.points
        ]
        groove = QPen(tokens.hair, drum.follower_mm * self._scale)
        groove.setCapStyle(Qt.PenCapStyle.RoundCap)
        groove.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
        painter.setPen(groove)
        painter.drawPolyline(QPolygonF(points))
        painter.setPen(pen(tokens.ink, 1.4))
        painter.drawPolyline(QPolygonF(points))
        limit = travel - min(drum.dog_depth_mm, travel)
        painter.setPen(pen(tokens.run, 2.6))
        for (a, x), (b, y) in pairwise(track.points):
            for start, end in _beyond(x, y, limit):
                painter.drawLine(
                    QLineF(
                        self._x(a + (b - a) * start),
                        low - (track.axial_mm + x + (y - x) * start) * self._scale,
                        self._x(a + (b - a) * end),
                        low - (track.axial_mm + x + (y - x) * end) * self._scale,
                    )
                )
        painter.setPen(tokens.soft)
        painter.setFont(text_font("small"))
        y = low - track.axial_mm * self._scale
        words = describe_sleeve(track.sleeve)
        right = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        painter.drawText(QRectF(self._left - 96, y - 8, 84, 16), right, words)

    def _ruler(self, painter: QPainter, layout: DrumLayout) -> None:
        tokens = self.theme.tokens
        y = self.height() - 14.0
        painter.setPen(pen(tokens.ink, 1.4))
        left = 16.0
        length = ruler_mm(25.5, units_in_force())
        painter.drawLine(QLineF(left, y, left + length * self._scale, y))
        for x in (left, left + length * self._scale):
            painter.drawLine(QLineF(x, y - 4, x, y + 4))
        painter.setFont(text_font("small"))
        shaded = any((c.overlap_deg or 0) > 0 for c in layout.changes)
        words = (
            say("tab-shift.dogs-in-where-heavy", length=in_mm(length))
            + say("tab-shift.two-sleeves-where-shaded") * shaded
        )
        painter.drawText(QPointF(left + length * self._scale + 10, y + 4), words)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        layout = self._layout
        if event is None or layout is None or not layout.tracks or self._scale <= 0:
            return
        here = event.position()
        angle = (here.x() - self._left) / (layout.around_mm * self._scale) * 360
        for track in layout.tracks:
            y = self._base.get(track.drum, 0.0)
            place = track.axial_mm + track.travel_at(angle)
            if 0 <= angle <= 360 and abs(y - place * self._scale - here.y()) < 8:
                travel = track.travel_at(angle)
                way = (
                    say("tab-shift.neutral")
                    if not travel
                    else say("tab-shift.to-the-front")
                    if travel < 0
                    else say("tab-shift.to-the-back")
                )
                sentence = f"{in_mm(abs(travel), 1)} {way}" if travel else way
                words = say(
                    "tab-shift.at-its-steepest-ramp-rises-by",
                    sleeve=describe_sleeve(track.sleeve),
                    angle=angle,
                    sentence=sentence,
                    steepest_deg=track.steepest_deg,
                )
                show_tip(event.globalPosition().toPoint(), words, self)
                return

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        layout = self._layout
        if event is None or layout is None or not layout.positions:
            return
        x = event.position().x()
        nearest = min(layout.positions, key=lambda p: abs(self._x(p.angle_deg) - x))
        self.engage.emit(nearest.gear)


def _beyond(x: float, y: float, limit: float) -> list[tuple[float, float]]:
    """Shares of a straight piece from x to y that lie beyond ±limit."""
    clashes = []
    for side in (1, -1):
        a, b = side * x - limit, side * y - limit
        if a > 0 and b > 0:
            clashes.append((0.0, 1.0))
        elif a > 0 > b:
            clashes.append((0.0, a / (a - b)))
        elif a < 0 < b:
            clashes.append((-a / (b - a), 1.0))
        elif a > 0 or b > 0:
            clashes.append((0.0, 1.0))
    return clashes

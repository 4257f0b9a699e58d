"""Where the hand, the catch or the drum stands while a run of shifts is played."""

from dataclasses import dataclass

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import elided, pen
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say
from mild_badger.core.shift.catch import catch_sleeves
from mild_badger.core.shift.drum import SIDES, drum_layout
from mild_badger.core.shift.gate import GatePlace, gates
from mild_badger.core.shift.sequence import ShiftFrame
from mild_badger.core.vehicle.sleeves import rail_of
from mild_badger.core.words import listed

__all__ = ["HandView"]


@dataclass(frozen=True)
class _Column:
    """One sleeve with the gears of either side."""

    sleeve: str
    front: tuple[str, ...]
    back: tuple[str, ...]


class HandView(Canvas):
    """The knob in its pattern, the catch on its rail, or the drum unrolled."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-shift.played-shifts"))
        self.setMinimumSize(220, 140)
        self.frame: ShiftFrame | None = None

    def show_frame(self, frame: ShiftFrame | None) -> None:
        """Show an instant."""
        self.frame = frame
        self.update()

    def words(self) -> str:
        frame, evaluation = self.frame, self.evaluation
        if frame is None or evaluation is None:
            return ""
        names = [evaluation.vehicle.gear_name(gear) for gear in frame.gears]
        gears = listed(names) or say("tab-shift.neutral")
        return f"{frame.words}: {gears}"

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        frame = self.frame
        if frame is None or not frame.sleeves:
            painter.setFont(text_font("text"))
            painter.setPen(self.theme.tokens.soft)
            words = say("tab-shift.no-gear-has-a-train-yet-choose-one-on-the")
            painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter, words)
            return
        room = QRectF(self.rect())
        match evaluation.vehicle.shifting.actuation:
            case "drum":
                self._drum(painter, evaluation, frame, room)
            case "catch":
                self._catch(painter, evaluation, frame, room)
            case _:
                self._gate(painter, evaluation, frame, room)

    def _gate(
        self, painter: QPainter, evaluation: Evaluation, frame: ShiftFrame, room: QRectF
    ) -> None:
        tokens = self.theme.tokens
        shown = gates(evaluation.vehicle)
        for number, (gate, cell) in enumerate(zip(shown, _cells(room, len(shown)), strict=True)):
            kind = rail_of(gate.places[0].sleeve)
            rail, throw = frame.hands.get(kind, (0.0, 0.0))
            xs = [abs(p.x_mm) for p in gate.places] + [abs(x) for x, _ in gate.neutral]
            ys = [abs(p.y_mm) for p in gate.places] + [abs(y) for _, y in gate.neutral]
            aside = max(cell.width() / 2 - 60, 20.0)
            scale = min(aside / max(*xs, 1.0), (cell.height() / 2 - 44) / max(*ys, 1.0))
            centre = cell.center() + QPointF(0, 10)
            neutral = [centre + QPointF(scale * x, -scale * y) for x, y in gate.neutral]
            painter.setPen(pen(tokens.hair, 7))
            painter.drawLine(neutral[0], neutral[-1])
            painter.setFont(figure_font("tab"))
            for place in gate.places:
                spot = centre + QPointF(scale * place.x_mm, -scale * place.y_mm)
                painter.setPen(pen(tokens.hair, 7))
                painter.drawLine(neutral[place.rail], spot)
            for place in gate.places:
                spot = centre + QPointF(scale * place.x_mm, -scale * place.y_mm)
                active = any(g in frame.gears for g in place.gears)
                color = tokens.back if place.reverse else tokens.run if active else tokens.ink
                painter.setPen(color)
                out = spot - neutral[place.rail]
                length = max(abs(out.x()), abs(out.y()), 1.0)
                beside = spot + out / length * 16
                box = QRectF(beside.x() - 30, beside.y() - 12, 60, 24)
                painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), place.label)
            low = min(int(rail), len(neutral) - 1)
            high = min(low + 1, len(neutral) - 1)
            stand = neutral[low] + (neutral[high] - neutral[low]) * (rail - low)
            ahead = {place.rail: place for place in gate.places if self._side(place) * throw > 0}
            knob = stand
            if (goal := ahead.get(round(rail))) is not None:
                spot = centre + QPointF(scale * goal.x_mm, -scale * goal.y_mm)
                knob = stand + (spot - neutral[goal.rail]) * abs(throw)
            painter.setPen(pen(tokens.ink, 2.2))
            painter.setBrush(tokens.run_wash)
            painter.drawEllipse(knob, 10, 10)
            self._title(
                painter,
                cell,
                say("tab-shift.the-knob", name=gate.name) if number == 0 else gate.name,
            )

    def _side(self, place: GatePlace) -> int:
        """Say to which side a place's sleeve goes, −1 front, +1 back."""
        if self.evaluation is None:
            return 0
        engaged = self.evaluation.vehicle.box.engaged(place.gears[0])
        return SIDES[engaged[place.sleeve]]

    def _title(self, painter: QPainter, room: QRectF, words: str) -> None:
        painter.setFont(text_font("small"))
        painter.setPen(self.theme.tokens.soft)
        painter.drawText(QPointF(room.left() + 12, room.top() + 18), words)

    def _catch(
        self, painter: QPainter, evaluation: Evaluation, frame: ShiftFrame, room: QRectF
    ) -> None:
        tokens = self.theme.tokens
        rows = catch_sleeves(evaluation.vehicle)
        self._title(painter, room, say("tab-shift.catch-on-its-rail-front-above"))
        for (kind, row), cell in zip(rows.items(), _cells(room, len(rows)), strict=True):
            place, tilt = frame.hands.get(kind, (0.0, 0.0))
            step = min((cell.width() - 90) / len(row), 150.0)
            left = cell.center().x() - step * (len(row) - 1) / 2
            y, reach = cell.center().y() + 4, cell.height() / 2 - 34
            painter.setPen(pen(tokens.hair, 6))
            painter.drawLine(QLineF(left - 30, y, left + step * (len(row) - 1) + 30, y))
            for n, sleeve in enumerate(row):
                x = left + n * step
                painter.setPen(pen(tokens.hair, 2))
                painter.drawLine(QLineF(x, y - reach, x, y + reach))
                column = _column(evaluation, sleeve)
                for names, side in ((column.front, -1), (column.back, 1)):
                    self._name(painter, evaluation, frame, names, QPointF(x, y + side * reach))
            x = left + place * step
            painter.setPen(pen(tokens.ink, 2.2))
            painter.setBrush(tokens.run_wash)
            painter.drawRoundedRect(QRectF(x - 12, y - 9, 24, 18), 4, 4)
            painter.setPen(pen(tokens.run, 4))
            painter.drawLine(QLineF(x, y, x, y + tilt * (reach - 16)))

    def _drum(
        self, painter: QPainter, evaluation: Evaluation, frame: ShiftFrame, room: QRectF
    ) -> None:
        tokens, layout = self.theme.tokens, drum_layout(evaluation.vehicle)
        self._title(painter, room, say("tab-shift.drum-unrolled-followers-stand-on-the-line"))
        length = max(sum(layout.lengths_mm), 1.0)
        tall = room.height() - 56
        scale = tall / length
        margin = min(60.0, room.width() / 12)
        across = (room.width() - 2 * margin) / layout.around_mm  # the drum's page is to scale
        left = room.left() + margin
        crowded = (room.width() - 2 * margin) / len(layout.positions) < 24
        font = text_font("small") if crowded else figure_font("tab")
        low = room.bottom() - 12
        angle = frame.hands.get("drum", (0.0, 0.0))[0]

        def x_of(degrees: float) -> float:
            return left + layout.along_mm(degrees) * across

        painter.setPen(pen(tokens.hair, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(
            QRectF(left, low - length * scale, layout.around_mm * across, length * scale)
        )
        for position in layout.positions:
            x = x_of(position.angle_deg)
            active = bool(position.gear) and position.gear in frame.gears
            painter.setPen(tokens.run if active else tokens.ink)
            painter.setFont(font)
            box = QRectF(x - 30, low - length * scale - 22, 60, 20)
            painter.drawText(
                box,
                int(Qt.AlignmentFlag.AlignCenter),
                evaluation.vehicle.gear_name(position.gear or "N"),
            )
        shift = layout.lengths_mm[0] if len(layout.lengths_mm) > 1 else 0.0
        for track in layout.tracks:
            base = low - (track.drum * shift + track.axial_mm) * scale
            points = [QPointF(x_of(a), base - y * scale) for a, y in track.points]
            painter.setPen(pen(tokens.soft, 1.6))
            painter.drawPolyline(QPolygonF(points))
            painter.setPen(pen(tokens.ink, 1.6))
            painter.setBrush(tokens.run_wash)
            painter.drawEllipse(QPointF(x_of(angle), base - track.travel_at(angle) * scale), 5, 5)
        painter.setPen(pen(tokens.run, 1.6))
        painter.drawLine(QLineF(x_of(angle), low - length * scale, x_of(angle), low))

    def _name(
        self,
        painter: QPainter,
        evaluation: Evaluation,
        frame: ShiftFrame,
        names: tuple[str, ...],
        at: QPointF,
    ) -> None:
        if not names:
            return
        tokens = self.theme.tokens
        inside = any(g in frame.gears for g in names)
        gear = evaluation.vehicle.gear(names[0])
        reverse = gear is not None and gear.reverse
        painter.setPen(tokens.back if reverse else tokens.run if inside else tokens.ink)
        font = figure_font("tab")
        painter.setFont(font)
        words = elided(evaluation.vehicle.gear_names(names), font, 70)
        box = QRectF(at.x() - 36, at.y() - 11, 72, 22)
        painter.fillRect(box.adjusted(20, 0, -20, 0), tokens.paper)
        painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), words)


def _cells(room: QRectF, count: int) -> list[QRectF]:
    """Share a room among hands, along its longer side."""
    if room.width() > room.height():
        wide = room.width() / max(count, 1)
        return [
            QRectF(room.left() + n * wide, room.top(), wide, room.height()) for n in range(count)
        ]
    tall = room.height() / max(count, 1)
    return [QRectF(room.left(), room.top() + n * tall, room.width(), tall) for n in range(count)]


def _column(evaluation: Evaluation, sleeve: str) -> _Column:
    vehicle = evaluation.vehicle
    sides: dict[int, list[str]] = {-1: [], 1: []}
    for gear in vehicle.real.gears:
        if vehicle.box.ready(gear.id):
            face = vehicle.box.engaged(gear.id).get(sleeve)
            if face is not None:
                sides[SIDES[face]].append(gear.id)
    return _Column(sleeve, tuple(sides[-1]), tuple(sides[1]))

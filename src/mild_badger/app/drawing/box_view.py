"""A gearbox as a line diagram: shafts as lines, gears as strokes to relative size, sleeves."""

from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import elided, pen
from mild_badger.app.theme.plain_tips import show_tip
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.architectures.scheme import Crossing, Scheme, SchemeSleeve
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say
from mild_badger.core.ratios.train import train_text
from mild_badger.core.words import word

__all__ = ["BoxView"]


@dataclass(frozen=True)
class _Spot:
    """Something to hover or press: its words, and the gear that a press engages.

    ``place`` is the sleeve's column and side where gears may change places.
    """

    box: QRectF
    words: str
    gear: str | None
    place: tuple[int, str] | None = None


class BoxView(Canvas):
    """Press a pair or a sleeve's side to engage its gear; hover it for its figures.

    Drag a gear to another sleeve's side to change places.
    """

    engage = pyqtSignal(object)
    move_gear = pyqtSignal(str, int, str)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self._spots: list[_Spot] = []
        self._pressed: _Spot | None = None
        self._drag: QPointF | None = None
        self.setMouseTracking(True)
        self.setMinimumHeight(150)
        self.setAccessibleName(say("drawing.line-diagram-of-the-box"))

    def words(self) -> str:
        scheme = self.evaluation.scheme if self.evaluation else None
        if scheme is None:
            return say("drawing.a-slot-box-is-drawn-on-the-tab-shift")
        return "; ".join(self._describe_crossing(c) for c in scheme.crossings)

    def _describe_crossing(self, crossing: Crossing) -> str:
        vehicle = self.evaluation.vehicle if self.evaluation else None
        if vehicle is None:
            return ""
        gears = ", ".join(map(vehicle.gear_name, crossing.gears)) or say("drawing.no-gear")
        return say(
            "drawing.serves",
            train_title=vehicle.train_title(crossing.key),
            value=train_text((crossing.pair,)),
            gears=gears,
        )

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        tokens, scheme = self.theme.tokens, evaluation.scheme
        self._spots = []
        if scheme is None or not scheme.crossings:
            painter.setPen(tokens.soft)
            painter.setFont(text_font("lead"))
            hint = (
                say("drawing.the-slot-box-is-drawn-on-the-tab-shift")
                if scheme is None
                else say("drawing.no-pairs-yet-type-the-counted-teeth-below-or")
            )
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(self.rect().adjusted(24, 8, -24, -8), int(flags), hint)
            return
        self._lines(painter, scheme)
        for crossing in scheme.crossings:
            self._crossing(painter, scheme, crossing)
        for coupling in scheme.couplings:
            self._coupling(painter, scheme, coupling, evaluation)
        if self._drag is not None and self._pressed is not None:
            painter.setFont(figure_font("figure"))
            painter.setPen(tokens.run)
            name = evaluation.vehicle.gear_name(self._pressed.gear or "")
            painter.drawText(self._drag + QPointF(10, 6), name)

    def _x(self, scheme: Scheme, place: float) -> float:
        left, right = 64.0, self.width() - 30.0
        return left + (right - left) * (place + 0.5) / (scheme.places + 1.0)

    def _y(self, scheme: Scheme, level: float) -> float:
        """Where a shaft lies: as far apart as leaves room for the gears that reach beyond."""
        above, below = 0.15, 0.15
        for crossing in scheme.crossings:
            pair = crossing.pair
            for at, teeth in ((crossing.from_level, pair.driver), (crossing.to_level, pair.driven)):
                share = teeth / (pair.driver + pair.driven) / (1.3 if pair.idlers else 1.0)
                if at == 0:
                    above = max(above, share)
                if at == scheme.levels - 1:
                    below = max(below, share)
        top, bottom = 26.0, self.height() - 26.0
        apart = (bottom - top) / (scheme.levels - 1 + above + below)
        return top + apart * (above + level)

    def _lines(self, painter: QPainter, scheme: Scheme) -> None:
        tokens = self.theme.tokens
        for line in scheme.lines:
            y = self._y(scheme, line.level)
            painter.setPen(pen(tokens.ink, 2.2))
            start, end = self._x(scheme, line.start), self._x(scheme, line.end)
            painter.drawLine(QPointF(start, y), QPointF(end, y))
            painter.setFont(text_font("small"))
            painter.setPen(tokens.soft)
            if line.name == "output":
                painter.drawText(QPointF(end - 34, y - 6), word(line.name))
            else:
                painter.drawText(QPointF(8, y + (16 if line.level else -6)), word(line.name))

    def _crossing(self, painter: QPainter, scheme: Scheme, crossing: Crossing) -> None:
        tokens, pair = self.theme.tokens, crossing.pair
        x = self._x(scheme, crossing.place)
        upper, lower = self._y(scheme, crossing.from_level), self._y(scheme, crossing.to_level)
        way = 1.0 if lower > upper else -1.0
        apart = abs(lower - upper)
        row = (pair.driver, *pair.idlers, pair.driven)
        across = pair.driver / 2 + sum(pair.idlers) + pair.driven / 2
        scale = apart / across if not pair.idlers else apart / (pair.driver + pair.driven) / 1.3
        reverse = bool(pair.idlers)
        color: QColor = tokens.soft
        width = 1.4
        if crossing.active:
            color, width = (tokens.back if reverse else tokens.run), 2.6
        painter.setPen(pen(color, width))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for teeth, y in ((pair.driver, upper), (pair.driven, lower)):
            half = teeth / 2 * scale
            painter.drawLine(QPointF(x, y - half), QPointF(x, y + half))
            for end in (y - half, y + half):
                painter.drawLine(QPointF(x - 4, end), QPointF(x + 4, end))
        if reverse:
            middle = (upper + lower) / 2
            half = min(row[1] / 2 * scale, apart / 4)
            painter.drawLine(QPointF(x + 9, middle - half), QPointF(x + 9, middle + half))
            painter.drawEllipse(QPointF(x + 9, middle), 2.5, 2.5)
        painter.setFont(text_font("small", bold=crossing.active))
        painter.setPen(color if crossing.active else tokens.ink)
        reach = pair.driver / 2 * scale
        painter.drawText(
            QRectF(x - 26, upper - way * (reach + 8) - 7, 52, 14),
            int(Qt.AlignmentFlag.AlignCenter),
            str(pair.driver),
        )
        reach = pair.driven / 2 * scale
        painter.drawText(
            QRectF(x - 26, lower + way * (reach + 8) - 7, 52, 14),
            int(Qt.AlignmentFlag.AlignCenter),
            str(pair.driven),
        )
        gear = crossing.gears[0] if len(crossing.gears) == 1 else None
        box = QRectF(x - 12, min(upper, lower) - reach - 10, 24, apart + 2 * reach + 20)
        self._spots.append(_Spot(box, self._describe_crossing(crossing), gear))

    def _coupling(
        self, painter: QPainter, scheme: Scheme, coupling: SchemeSleeve, evaluation: Evaluation
    ) -> None:
        tokens = self.theme.tokens
        x, y = self._x(scheme, coupling.place), self._y(scheme, coupling.level)
        step = self._x(scheme, 1.0) - self._x(scheme, 0.0)
        moved = {"front": -1, "back": 1, None: 0}[coupling.position] * min(step * 0.3, 12)
        closed = coupling.position is not None
        painter.setPen(pen(tokens.run if closed else tokens.ink, 2.2 if closed else 1.4))
        painter.setBrush(tokens.run_wash if closed else tokens.panel)
        box = QRectF(x - 9 + moved, y - 8, 18, 16)
        painter.drawRoundedRect(box, 3, 3)
        painter.drawLine(QPointF(x + moved, y - 5), QPointF(x + moved, y + 5))
        painter.setFont(figure_font("tab"))
        above = y - 30 if coupling.level == 0 else y + 14
        for gears, direct, shift, side in (
            (coupling.front, coupling.front_direct, -1, "front"),
            (coupling.back, coupling.back_direct, 1, "back"),
        ):
            place = (coupling.column, side) if coupling.column else None
            hot = QRectF(x + min(shift, 0) * step * 0.6, y - 34, step * 0.6, 68)
            if not gears:
                if place is not None:
                    free = say("drawing.sleeve-free", column=coupling.column, side=side)
                    self._spots.append(_Spot(hot, free, None, place))
                continue
            chosen = coupling.position == side
            target = evaluation.vehicle.gear(gears[0])
            reverse = target is not None and target.reverse
            color = tokens.back if reverse else tokens.run if chosen else tokens.ink
            painter.setPen(color)
            room = QRectF(x + shift * step * 0.36 - step * 0.34, above, step * 0.68, 18)
            names = [evaluation.vehicle.gear_name(gear) for gear in gears]
            words = "/".join(names) if len(names) < 3 else f"{names[0]}…{names[-1]}"
            painter.drawText(
                room,
                int(Qt.AlignmentFlag.AlignCenter),
                elided(words, painter.font(), room.width()),
            )
            sentence = say("drawing.gear", listed=", ".join(names)) + (
                say("drawing.direct-input-coupled-to-output") * direct
            )
            self._spots.append(_Spot(hot, sentence, gears[0] if len(gears) == 1 else None, place))

    def spot_of(self, gear: str) -> QPointF:
        """Where a press engages a gear, in the widget's pixels."""
        return next(spot.box.center() for spot in self._spots if spot.gear == gear)

    def _at(self, here: QPointF) -> _Spot | None:
        return next((spot for spot in reversed(self._spots) if spot.box.contains(here)), None)

    def spot_at(self, column: int, side: str) -> QPointF:
        """Where a sleeve's side is, in the widget's pixels."""
        return next(spot.box.center() for spot in self._spots if spot.place == (column, side))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        spot = self._at(event.position())
        if self._pressed is not None and self._pressed.place is not None:
            self._drag = event.position()
            self.update()
        elif spot is not None:
            show_tip(event.globalPosition().toPoint(), spot.words, self)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        spot = self._at(event.position()) if event is not None else None
        self._pressed = spot if spot is not None and spot.gear is not None else None

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        pressed, self._pressed, self._drag = self._pressed, None, None
        self.update()
        if event is None or pressed is None or pressed.gear is None:
            return
        target = self._at(event.position())
        if target is not None and target.gear == pressed.gear:
            self.engage.emit(pressed.gear)
        elif target is not None and target.place is not None and pressed.place is not None:
            self.move_gear.emit(pressed.gear, *target.place)

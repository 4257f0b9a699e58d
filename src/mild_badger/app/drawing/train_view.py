"""A placed train, to scale: gears with their teeth, the grid, seats, directions."""

from dataclasses import dataclass
from fractions import Fraction
from math import hypot, radians

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFontMetricsF,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPixmap,
    QPolygonF,
)
from PyQt6.QtWidgets import QWidget

from mild_badger.app.drawing.marks import arc_arrow, elided, pen, square_grid
from mild_badger.app.shown import Painter, shown
from mild_badger.app.theme.plain_tips import show_tip
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.figures import in_mm
from mild_badger.core.mesh.outline import gear_outline
from mild_badger.core.message import say
from mild_badger.core.structure.train import Placement
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.words import signed, word

__all__ = ["TrainPicture", "TrainView"]

IN_LINE_U = 1e-3
"""Two shafts nearer together than this stand in one line."""


@dataclass(frozen=True)
class TrainPicture:
    """What the view shows: a placement, its kit, and each gear's turns per turn of the motor."""

    kit: Kit
    placement: Placement
    turns: tuple[Fraction | None, ...]
    reverse: bool
    hint: str = ""


class TrainView(QWidget):
    """Draws a train seen from the input end; hover a gear or a seat for its figures.

    Signals
    -------
    pressed : the number of a gear in the placement, and where on the screen it was pressed
    """

    pressed = pyqtSignal(int, QPoint)

    def __init__(self, theme: Theme, *, detailed: bool = False) -> None:
        super().__init__()
        self._theme, self._detailed = theme, detailed
        self._picture: TrainPicture | None = None
        self._scale, self._origin = 1.0, QPointF()
        self._taken: list[QRectF] = []
        self._drawn: tuple[object, QPixmap] | None = None
        self.setMouseTracking(True)
        self.setMinimumSize(240, 160)
        theme.changed.connect(self.update)

    def show_picture(self, picture: TrainPicture | None) -> None:
        """Show a train, or the empty sheet."""
        if picture == self._picture:
            return
        self._picture, self._drawn = picture, None
        self.setAccessibleDescription(shown(self.words()))
        self.update()

    def words(self) -> str:
        """Say in words what is drawn, for those who cannot see it and for tests."""
        picture = self._picture
        if picture is None or not picture.placement.gears:
            return picture.hint if picture else ""
        return "; ".join(self._describe_gear(n) for n in range(len(picture.placement.gears)))

    def _describe_gear(self, number: int) -> str:
        if self._picture is None:
            return ""
        gear = self._picture.placement.gears[number]
        x, y = self._picture.placement.shafts_u[gear.shaft]
        turns = self._picture.turns[number]
        words = say("drawing.free") if turns is None else signed(float(turns), "+.3f")
        return say(
            "drawing.teeth-shaft-at-u-layer-turns-per-turn-of-the",
            teeth=gear.teeth,
            role=gear.role,
            shaft=gear.shaft + 1,
            x=x,
            y=y,
            layer=gear.layer + 1,
            words=words,
        )

    def _describe_mesh(self, number: int) -> str:
        if self._picture is None:
            return ""
        mesh = self._picture.placement.meshes[number]
        gears = self._picture.placement.gears
        engagement = mesh.seat.engagement
        where = f"{signed(mesh.seat.dx_u, 'g')} × {signed(mesh.seat.dy_u, 'g')} u"
        if self._picture.kit.any_seat:
            where = say("drawing.apart", centre_distance_mm=in_mm(engagement.centre_distance_mm, 2))
        return say(
            "drawing.with-seat-contact-ratio-play",
            teeth=gears[mesh.first].teeth,
            teeth_2=gears[mesh.second].teeth,
            where=where,
            seat_error_mm=in_mm(engagement.seat_error_mm, 2, sign=True),
            contact_ratio=engagement.contact_ratio,
            play_mm=in_mm(mesh.seat.play_mm, 2),
            value=word(mesh.seat.verdict.value),
        )

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        ratio = self.devicePixelRatioF()
        key = (self.size(), ratio, self._theme.dark)
        if self._drawn is None or self._drawn[0] != key:
            image = QPixmap(self.size() * ratio)
            image.setDevicePixelRatio(ratio)
            self._draw(image)
            self._drawn = (key, image)
        Painter(self).drawPixmap(0, 0, self._drawn[1])

    def _draw(self, image: QPixmap) -> None:
        """Draw all of it; teeth take a while, so the picture is kept until something changes."""
        tokens = self._theme.tokens
        painter = Painter(image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), tokens.paper)
        picture = self._picture
        if picture is None or not picture.placement.gears:
            self._frame(painter)
            painter.setPen(tokens.soft)
            painter.setFont(text_font("lead"))
            inner = self.rect().adjusted(24, 24, -24, -24)
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(inner, int(flags), picture.hint if picture else "")
            return
        self._taken = []
        self._fit(picture)
        self._grid(painter, picture)
        self._gears(painter, picture)
        self._seats(painter, picture)
        self._frame(painter)
        painter.setPen(tokens.soft)
        painter.setFont(text_font("small"))
        kit = picture.kit
        square = in_mm(kit.grid_unit_mm) if kit.any_seat else "1 u"
        words: str = say("drawing.to-scale-1-square-seen-from-the-input", square=square)
        if not self._detailed:
            words += say("drawing.press-a-gear-for-other-sizes")
        short = elided(words, painter.font(), self.width() - 24.0)
        painter.drawText(QPointF(12, self.height() - 10), short)

    def _frame(self, painter: QPainter) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen(self._theme.tokens.hair))
        painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))

    def _fit(self, picture: TrainPicture) -> None:
        """Choose scale and origin so that all gears and their arrows are in view."""
        unit = picture.kit.grid_unit_mm
        boxes = []
        for gear in picture.placement.gears:
            x, y = picture.placement.shafts_u[gear.shaft]
            radius = (gear.teeth / 2 + 4) * picture.kit.module_mm
            boxes.append(QRectF(x * unit - radius, -y * unit - radius, 2 * radius, 2 * radius))
        whole = boxes[0]
        for box in boxes[1:]:
            whole = whole.united(box)
        room = QRectF(self.rect()).adjusted(20, 18, -20, -30)
        self._scale = min(room.width() / whole.width(), room.height() / whole.height(), 7.0)
        middle = whole.center() * self._scale
        self._origin = room.center() - middle

    def _at(self, x_u: float, y_u: float) -> QPointF:
        unit = self._picture.kit.grid_unit_mm if self._picture else 1.0
        return QPointF(x_u * unit, -y_u * unit) * self._scale + self._origin

    def _grid(self, painter: QPainter, picture: TrainPicture) -> None:
        step = picture.kit.grid_unit_mm * self._scale
        square_grid(painter, self._theme.tokens, QRectF(self.rect()), self._origin, step)

    def _gears(self, painter: QPainter, picture: TrainPicture) -> None:
        tokens = self._theme.tokens
        color = tokens.back if picture.reverse else tokens.run
        kit = picture.kit
        gears = picture.placement.gears
        order = sorted(range(len(gears)), key=lambda n: -gears[n].teeth)
        see_through = QColor(tokens.panel if picture.reverse else tokens.run_wash)
        see_through.setAlpha(150)
        for number in order:
            gear = gears[number]
            size = kit.size(gear.teeth)
            if size is None:
                continue
            centre = self._at(*picture.placement.shafts_u[gear.shaft])
            outline = gear_outline(
                gear.teeth,
                kit.module_mm,
                size.tip_diameter_mm,
                radians(kit.pressure_angle_deg),
            )
            painter.setPen(pen(color, 1.6 if gear.role == "idler" else 2.0))
            painter.setBrush(see_through)
            painter.drawPolygon(
                QPolygonF([centre + QPointF(x, -y) * self._scale for x, y in outline])
            )
        for shaft, place in enumerate(picture.placement.shafts_u):
            self._shaft(painter, picture, shaft, self._at(*place))

    def _shaft(self, painter: QPainter, picture: TrainPicture, shaft: int, centre: QPointF) -> None:
        tokens = self._theme.tokens
        color = tokens.back if picture.reverse else tokens.run
        own = [n for n, gear in enumerate(picture.placement.gears) if gear.shaft == shaft]
        painter.setPen(pen(tokens.ink, 1.4))
        reach = max(picture.kit.shaft_diameter_mm / 2 * self._scale, 5)
        painter.setBrush(tokens.paper)
        painter.drawEllipse(centre, reach, reach)
        painter.drawLine(centre - QPointF(reach, 0), centre + QPointF(reach, 0))
        painter.drawLine(centre - QPointF(0, reach), centre + QPointF(0, reach))
        biggest = max(picture.placement.gears[n].teeth for n in own)
        radius = biggest / 2 * picture.kit.module_mm * self._scale
        painter.setPen(pen(color, 1.8))
        turns = picture.turns[own[0]] or Fraction(0)
        if turns:
            arc_arrow(painter, centre, radius + 9, clockwise=turns > 0, middle_deg=90)
        painter.setFont(figure_font("tab" if self._detailed else "lead"))
        teeth = " + ".join(str(picture.placement.gears[n].teeth) for n in own)
        last = len(picture.placement.shafts_u) - 1
        places = picture.placement.shafts_u
        if (
            shaft == last
            and shaft
            and hypot(places[0][0] - places[last][0], places[0][1] - places[last][1]) < IN_LINE_U
        ):  # input and output in one line: both are named
            first = next(g.teeth for g in picture.placement.gears if g.shaft == 0)
            teeth = f"{first} | {teeth}"
        self._label(painter, QPointF(centre.x(), centre.y() + reach + 11), teeth)
        painter.setFont(text_font("small"))
        words = signed(float(turns), "+.2f")
        if shaft == 0:
            words = say("drawing.in", words=words)
        elif shaft == len(picture.placement.shafts_u) - 1:
            words = say("drawing.out", words=words)
        self._label(painter, QPointF(centre.x(), centre.y() - radius - 16), words)

    def _label(self, painter: QPainter, centre: QPointF, words: str) -> None:
        """Write centred on a patch of paper, so that teeth and grid do not run through it."""
        metrics = QFontMetricsF(painter.font())
        box = metrics.boundingRect(words)
        patch = QRectF(0, 0, box.width() + 6, metrics.ascent() + 1)
        patch.moveCenter(centre)
        patch.moveTop(max(patch.top(), 2))
        painter.save()
        paper = self._theme.tokens.paper
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(paper)
        painter.drawRoundedRect(patch, 2, 2)
        painter.restore()
        self._taken.append(patch)
        painter.drawText(patch, int(Qt.AlignmentFlag.AlignCenter), words)

    def _seats(self, painter: QPainter, picture: TrainPicture) -> None:
        if not self._detailed:
            return
        painter.setFont(text_font("small"))
        for number in range(len(picture.placement.meshes)):
            seat = picture.placement.meshes[number].seat
            error = seat.engagement.seat_error_mm
            words = f"{word(seat.verdict.value)} {signed(error, '+.2f')}"
            metrics = QFontMetricsF(painter.font())
            box = QRectF(0, 0, metrics.horizontalAdvance(words) + 10, 17)
            spot = self._mesh_spot(picture, number)
            for further in range(0, 90, 9):
                aside = self._badge_spot(picture, number, further)
                box.moveCenter(aside)
                if not any(box.intersects(taken) for taken in self._taken):
                    break
            self._taken.append(QRectF(box))
            painter.setPen(pen(self._theme.tokens.ink, 1.0))
            painter.drawLine(spot, aside)
            painter.setBrush(self._theme.tokens.ink)
            painter.drawEllipse(spot, 2.5, 2.5)
            painter.setBrush(self._theme.tokens.paper)
            painter.drawRoundedRect(box, 2, 2)
            painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), words)

    def _mesh_spot(self, picture: TrainPicture, number: int) -> QPointF:
        mesh = picture.placement.meshes[number]
        one, other = (picture.placement.gears[n] for n in (mesh.first, mesh.second))
        a = self._at(*picture.placement.shafts_u[one.shaft])
        b = self._at(*picture.placement.shafts_u[other.shaft])
        return a + (b - a) * (one.teeth / (one.teeth + other.teeth))

    def _badge_spot(self, picture: TrainPicture, number: int, further: float) -> QPointF:
        """Beside the mesh, on the side away from the rest of the train."""
        mesh = picture.placement.meshes[number]
        one, other = (picture.placement.gears[n] for n in (mesh.first, mesh.second))
        a = self._at(*picture.placement.shafts_u[one.shaft])
        b = self._at(*picture.placement.shafts_u[other.shaft])
        apart = b - a
        length = hypot(apart.x(), apart.y()) or 1.0
        across = QPointF(-apart.y(), apart.x()) / length
        spot = self._mesh_spot(picture, number)
        middle = QPointF(0, 0)
        for place in picture.placement.shafts_u:
            middle += self._at(*place) / len(picture.placement.shafts_u)
        outwards = spot - middle
        side = 1 if outwards.x() * across.x() + outwards.y() * across.y() >= 0 else -1
        smaller = min(one.teeth, other.teeth) / 2 * picture.kit.module_mm * self._scale
        aside = spot + across * side * (smaller + 22 + further)
        return QPointF(
            min(max(aside.x(), 44.0), self.width() - 44.0),
            min(max(aside.y(), 12.0), self.height() - 30.0),
        )

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        picture = self._picture
        if event is None or picture is None or not picture.placement.gears:
            return
        here = event.position()
        show_tip(event.globalPosition().toPoint(), self.words_at(here), self)

    def words_at(self, here: QPointF) -> str:
        """Figures of the mesh or the gears at a point of the widget."""
        picture = self._picture
        if picture is None:
            return ""
        for number in range(len(picture.placement.meshes)):
            apart = self._mesh_spot(picture, number) - here
            if hypot(apart.x(), apart.y()) < 10:
                return self._describe_mesh(number)
        return "\n".join(self._describe_gear(number) for number in self.gears_at(here))

    def gears_at(self, here: QPointF) -> list[int]:
        """Numbers of the gears at a point of the widget, the smallest gear first."""
        picture = self._picture
        if picture is None:
            return []
        hits = []
        for number, gear in enumerate(picture.placement.gears):
            apart = self._at(*picture.placement.shafts_u[gear.shaft]) - here
            if hypot(apart.x(), apart.y()) < gear.teeth / 2 * picture.kit.module_mm * self._scale:
                hits.append((gear.teeth, number))
        return [number for _, number in sorted(hits)]

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        hits = self.gears_at(event.position())
        if hits:
            self.pressed.emit(hits[0], event.globalPosition().toPoint())

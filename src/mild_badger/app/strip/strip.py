"""The driveline strip: from motor to wheels, always in view."""

from math import pi

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QAbstractButton, QFrame, QHBoxLayout, QSizePolicy

from mild_badger.app.drawing.marks import elided, finding_mark, pen, regular_polygon
from mild_badger.app.shown import Painter, shown
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import in_n_mm
from mild_badger.core.message import say
from mild_badger.core.results import Station
from mild_badger.core.words import word

__all__ = ["Strip"]

TAB_OF = {
    "motor": "Vehicle",
    "clutch": "Machine",
    "box": "Ratios",
    "final drive": "Vehicle",
    "differential": "Axle",
    "wheels": "Road",
}


class StationButton(QAbstractButton):
    """One station; pressing it goes to its tab."""

    def __init__(self, theme: Theme, key: str) -> None:
        super().__init__()
        self._theme, self._key = theme, key
        self.station: Station | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFixedHeight(112)

    def sizeHint(self) -> QSize:
        return QSize(200, 112)

    def show_station(self, station: Station) -> None:
        """Show a station's figures."""
        if station == self.station:
            return
        self.station = station
        words = [station.name, station.figure, *filter(None, station.details)]
        if station.torque_n_mm is not None:
            words.append(
                say("strip.torque-drag-left-out", torque_n_mm=in_n_mm(station.torque_n_mm, 0))
            )
        if station.ratio_so_far is not None:
            words.append(
                say("strip.motor-turns-per-turn-here", ratio_so_far=abs(station.ratio_so_far))
            )
        if station.mark:
            words.append(say("strip.has-a-finding", value=word(station.mark.value)))
        self.setAccessibleName(shown(", ".join(words)))
        self.setToolTip(shown("\n".join(words)))
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        if self.station is None:
            return
        tokens = self._theme.tokens
        painter = Painter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        station, wide = self.station, float(self.width())
        if station.engaged:
            painter.fillRect(self.rect(), tokens.panel)
        if self.hasFocus():
            painter.setPen(pen(tokens.run, 1, dashed=True))
            painter.drawRect(QRectF(2.5, 2.5, wide - 5, self.height() - 5.0))
        turning = station.direction != 0
        line = tokens.back if station.direction < 0 and self._key != "motor" else tokens.run
        if self._key == "motor":
            line = tokens.run
        painter.setPen(QPen(line if turning else tokens.hair, 4 if turning else 2))
        start = 40.0 if self._key == "motor" else 0.0
        end = 40.0 if self._key == "wheels" else wide
        painter.drawLine(QPointF(start, 39), QPointF(end, 39))
        painter.setPen(pen(tokens.ink, 1.6))
        painter.setBrush(tokens.paper)
        GLYPHS[self._key](painter, QPointF(38, 39))
        room = wide - 76
        painter.setPen(tokens.ink)
        painter.setFont(figure_font("tab"))
        painter.drawText(
            QPointF(74, 25),
            elided(station.name, painter.font(), room - (26 if station.mark is not None else 2)),
        )
        painter.setFont(text_font("lead", bold=True))
        painter.drawText(QPointF(74, 62), elided(station.figure, painter.font(), room))
        painter.setFont(text_font("text"))
        painter.setPen(tokens.soft)
        for number, words in enumerate(station.details):
            short = elided(words, painter.font(), wide - 24)
            painter.drawText(QPointF(14, 84 + 18 * number), short)
        if station.mark is not None:
            finding_mark(painter, tokens, station.mark, QPointF(wide - 16, 20), 7)


def _motor(painter: QPainter, centre: QPointF) -> None:
    box = QRectF(centre.x() - 24, centre.y() - 17, 48, 34)
    painter.drawRect(box)
    for offset in (9, 15, 21):
        painter.drawLine(
            QPointF(box.left() + offset, box.top()), QPointF(box.left() + offset, box.bottom())
        )


def _clutch(painter: QPainter, centre: QPointF) -> None:
    for x in (-4, 4):
        painter.drawLine(centre + QPointF(x, -20), centre + QPointF(x, 20))
    for way in (-1, 1):
        painter.drawLine(centre + QPointF(4 * way, 0), centre + QPointF(22 * way, 0))
        painter.drawLine(centre + QPointF(12, 9 * way), centre + QPointF(20, 15 * way))


def _toothed(painter: QPainter, centre: QPointF, radius: float, teeth: int) -> None:
    tips = regular_polygon(centre, radius, teeth * 2)
    roots = regular_polygon(centre, radius * 0.82, teeth * 2, pi / teeth / 2)
    points = []
    for number in range(teeth * 2):
        points.append(tips[number] if number % 2 else roots[number])
        points.append(roots[number] if number % 2 else tips[number])
    painter.drawPolygon(QPolygonF(points))
    painter.drawEllipse(centre, 2, 2)


def _box(painter: QPainter, centre: QPointF) -> None:
    _toothed(painter, centre + QPointF(-9, -5), 17, 12)
    _toothed(painter, centre + QPointF(15, 12), 12, 9)


def _final(painter: QPainter, centre: QPointF) -> None:
    _toothed(painter, centre + QPointF(-18, 0), 9, 8)
    _toothed(painter, centre + QPointF(8, 0), 19, 16)


def _differential(painter: QPainter, centre: QPointF) -> None:
    painter.drawEllipse(centre, 20, 20)
    painter.drawRect(QRectF(centre.x() - 9, centre.y() - 9, 18, 18))
    for x in (-9, 9):
        painter.drawLine(centre + QPointF(x, -9), centre + QPointF(-x, 9))


def _wheels(painter: QPainter, centre: QPointF) -> None:
    painter.drawEllipse(centre, 22, 22)
    painter.drawEllipse(centre, 14, 14)
    painter.drawEllipse(centre, 3, 3)


GLYPHS = {
    "motor": _motor,
    "clutch": _clutch,
    "box": _box,
    "final drive": _final,
    "differential": _differential,
    "wheels": _wheels,
}


class Strip(QFrame):
    """The row of stations."""

    chosen = pyqtSignal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("strip")
        layout = QHBoxLayout(self)
        layout.setContentsMargins(8, 0, 8, 0)
        layout.setSpacing(0)
        self.stations: dict[str, StationButton] = {}
        for key, tab in TAB_OF.items():
            made = StationButton(theme, key)
            made.clicked.connect(lambda _checked=False, name=tab: self.chosen.emit(name))
            layout.addWidget(made)
            self.stations[key] = made
        theme.changed.connect(self.update)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation."""
        there = {station.key: station for station in evaluation.stations}
        for key, made in self.stations.items():
            made.setVisible(key in there)
            if key in there:
                made.show_station(there[key])

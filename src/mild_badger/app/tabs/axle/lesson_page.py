"""How a differential works: eight small mechanisms, turned, held and driven round corners."""

from dataclasses import replace
from math import ceil

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF
from PyQt6.QtWidgets import (
    QCheckBox,
    QGridLayout,
    QHBoxLayout,
    QListWidget,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import pen
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import caption
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.axle.lesson import STEPS, Lesson, LessonLine, LessonState, show_step
from mild_badger.core.axle.road_state import Turn
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say

__all__ = ["LessonPage"]

SLIDERS = (
    ("turn_deg", say("tab-axle.turn-it"), -360, 360, 1.0),
    ("differ_deg", say("tab-axle.wheels-differ"), -180, 180, 1.0),
    ("bar_mm", say("tab-axle.bars-length"), 20, 60, 0.5),
    ("arms", say("tab-axle.spokes-arms"), 2, 12, 1.0),
    ("planets", say("tab-axle.planets"), 1, 4, 1.0),
)


class LessonView(Canvas):
    """Left the mechanism along the axle, right the bar from above."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-axle.the-mechanism-of-this-step"))
        self.setMinimumSize(220, 180)
        self.state: LessonState | None = None

    def show_step(self, evaluation: Evaluation, state: LessonState) -> None:
        """Show a step."""
        self.state = state
        self.show_evaluation(evaluation)

    def words(self) -> str:
        return "" if self.state is None else f"{self.state.title}: {self.state.verdict}"

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        if self.state is None:
            return
        tokens = self.theme.tokens
        half = self.width() / 2
        for left, lines, words in (
            (0.0, self.state.along, say("tab-axle.along-the-axle")),
            (half, self.state.across, say("tab-axle.from-above")),
        ):
            room = QRectF(left, 0, half, self.height() - 24)
            own = lines if left == 0 else tuple(one for one in lines if one.kind in ("bar", "axle"))
            reach = max((max(abs(x), abs(y)) for line in own for x, y in line.points), default=1.0)
            self._lines(painter, room, lines, reach)
            painter.setPen(tokens.soft)
            painter.setFont(text_font("small"))
            painter.drawText(QPointF(left + 12, self.height() - 9), words)
        painter.setPen(pen(tokens.hair, 1))
        painter.drawLine(QPointF(half, 8), QPointF(half, self.height() - 8))

    def _lines(
        self, painter: QPainter, room: QRectF, lines: tuple[LessonLine, ...], reach: float
    ) -> None:
        tokens = self.theme.tokens
        scale = min(room.width(), room.height()) / 2.2 / max(ceil(reach / 5) * 5, 1)
        looks = {
            "left": (tokens.run, 2.2),
            "right": (tokens.back, 2.2),
            "bar": (tokens.ink, 3.0),
            "carrier": (tokens.soft, 1.6),
            "axle": (tokens.ink, 2.2),
        }
        painter.save()
        painter.setClipRect(room)
        for line in lines:
            color, width = looks[line.kind]
            dashed = line.kind == "right"
            painter.setPen(pen(color, width, dashed=dashed))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            points = QPolygonF([room.center() + QPointF(x, -y) * scale for x, y in line.points])
            if line.closed:
                painter.drawPolygon(points)
            else:
                painter.drawPolyline(points)
        painter.restore()


class LessonPage(QWidget):
    """Steps left, the mechanism in the middle, its figures right, its sliders below."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.lesson = Lesson()
        self._evaluation: Evaluation | None = None
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(10)
        self.steps = QListWidget()
        self.steps.setAccessibleName(say("tab-axle.steps-of-the-lesson"))
        self.steps.addItems([shown(f"{n}  {title}") for n, title in enumerate(STEPS, start=1)])
        self.steps.setFixedWidth(164)
        self.steps.setCurrentRow(0)
        self.steps.currentRowChanged.connect(lambda _n: self._show())
        row.addWidget(self.steps)
        middle = QVBoxLayout()
        middle.setSpacing(6)
        self.text = caption("", wrap=True)
        middle.addWidget(self.text)
        self.view = LessonView(theme)
        middle.addWidget(self.view, 1)
        self.verdict = caption("", "strong", wrap=True)
        self.verdict.setAccessibleName(say("tab-axle.what-the-mechanism-does"))
        middle.addWidget(self.verdict)
        grid = QGridLayout()
        self.sliders: dict[str, QSlider] = {}
        for number, (name, words, low, high, unit) in enumerate(SLIDERS):
            slider = QSlider(Qt.Orientation.Horizontal)
            slider.setAccessibleName(shown(words))
            slider.setRange(low, high)
            slider.setValue(round(getattr(self.lesson, name) / unit))
            slider.valueChanged.connect(lambda _n: self._set())
            self.sliders[name] = slider
            line, place = divmod(number, 2)
            grid.addWidget(caption(words, wrap=True), line, 2 * place)
            grid.addWidget(slider, line, 2 * place + 1)
        self.held = QCheckBox(shown(say("tab-axle.hold-the-left-wheel")))
        self.held.toggled.connect(lambda _on: self._set())
        grid.addWidget(self.held, (len(SLIDERS) + 1) // 2, 0, 1, 4)
        middle.addLayout(grid)
        row.addLayout(middle, 1)
        self.figures = Table(("", ""), say("tab-axle.figures-of-this-step"))
        self.figures.stretch(0)
        header = self.figures.horizontalHeader()
        if header is not None:
            header.hide()
        self.figures.setFixedWidth(232)
        row.addWidget(self.figures)

    def refresh(self, evaluation: Evaluation) -> None:
        """Take the turn and the track from what is tried out."""
        self._evaluation = evaluation
        road = evaluation.situation.road
        radius = road.radius_mm if isinstance(road, Turn) else None
        self.lesson = replace(
            self.lesson, radius_mm=radius, track_mm=evaluation.vehicle.axle.track_mm
        )
        self._show()

    def _set(self) -> None:
        """Take what the sliders say."""
        values = {name: self.sliders[name].value() * unit for name, _, _, _, unit in SLIDERS}
        self.lesson = replace(
            self.lesson,
            held=self.held.isChecked(),
            turn_deg=values["turn_deg"],
            differ_deg=values["differ_deg"],
            bar_mm=values["bar_mm"],
            arms=int(values["arms"]),
            planets=int(values["planets"]),
        )
        self._show()

    def _show(self) -> None:
        if self._evaluation is None:
            return
        state = show_step(max(self.steps.currentRow(), 0), self.lesson)
        self.text.setText(state.text)
        self.verdict.setText(state.verdict)
        self.view.show_step(self._evaluation, state)
        self.figures.show_cells([(Cell(a), Cell(b, right=True)) for a, b in state.figures])

    def facts(self) -> str:
        """Say how to read the picture."""
        return say("tab-axle.red-is-the-left-half-axle-dashed-blue-the")

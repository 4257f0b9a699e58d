"""What every gear pulls: speeds, force, the steepest hill and what limits it."""

from math import log10

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.fields import FieldForm, FieldSpec
from mild_badger.app.drawing.marks import pen
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.axle.running import plan_running, running_of
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import KM_H, M_S, NEWTON, bare, in_km_h, in_m_s, in_n, in_n_mm
from mild_badger.core.message import say
from mild_badger.core.performance.pull import HillLimit, Pull, pulls
from mild_badger.core.words import signed

__all__ = ["PullPage"]

GROUND, CHASSIS = ("ground",), ("running", "chassis")
FIELDS = (
    FieldSpec((*GROUND, "rolling")),
    FieldSpec((*GROUND, "grip")),
    FieldSpec((*CHASSIS, "mass_kg")),
    FieldSpec((*CHASSIS, "driven_share")),
)
HEADS = (
    say("tab-road.gear-2"),
    say("tab-road.total-ratio"),
    say("tab-road.free", m_s=M_S),
    say("tab-road.road", m_s=M_S),
    f"{KM_H} ×n",
    f"{KM_H} ×√n",
    say("tab-road.real", km_h=KM_H),
    say("tab-road.pull", newton=NEWTON),
    say("tab-road.hill"),
    say("tab-road.limited-by"),
)


KINDS: dict[HillLimit, tuple[str, Qt.BrushStyle]] = {
    "motor": (say("tab-road.the-motor-would-allow"), Qt.BrushStyle.SolidPattern),
    "grip": (say("tab-road.the-grip-would-allow"), Qt.BrushStyle.BDiagPattern),
    "skips": (say("tab-road.the-teeth-would-allow"), Qt.BrushStyle.DiagCrossPattern),
}
SOLID = Qt.BrushStyle.SolidPattern
FLOOR_N = 0.5
"""What the scale begins at."""


class LimitsView(Canvas):
    """Of every gear what each limit alone would allow, side by side; the least is the pull."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-road.what-each-limit-would-allow"))
        self.setMinimumSize(240, 160)
        self.pulls: tuple[Pull, ...] = ()

    def show_pulls(self, evaluation: Evaluation, rows: tuple[Pull, ...]) -> None:
        """Show what every gear pulls."""
        self.pulls = rows
        self.show_evaluation(evaluation)

    def words(self) -> str:
        if self.evaluation is None:
            return ""
        named = self.evaluation.vehicle.gear_name
        return "; ".join(
            say(
                "tab-road.usable-pull",
                named=named(p.gear),
                force=in_n(p.usable.force_n, 1),
                limit=p.usable.words,
            )
            for p in self.pulls
        )

    def high_of(self, force_n: float) -> float:
        """Give how high a force is drawn, pixels over the ground: equal steps are equal factors."""
        most = max((a.force_n for p in self.pulls for a in p.allowed), default=1.0)
        share = log10(max(force_n, FLOOR_N) / FLOOR_N) / log10(max(most / FLOOR_N, 10.0))
        return max(share, 0.0) * (self.height() - 78.0)

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        tokens = self.theme.tokens
        if not self.pulls:
            self.say_instead(painter, say("tab-road.no-gear-drives-yet"))
            return
        ground, left = self.height() - 24.0, 52.0
        painter.setFont(text_font("small"))
        for power in range(6):
            force = 10.0**power
            y = ground - self.high_of(force)
            if y < 40.0:
                break
            painter.setPen(pen(tokens.hair, 1))
            painter.drawLine(QLineF(left, y, self.width() - 10.0, y))
            painter.setPen(tokens.soft)
            box = QRectF(2, y - 8, left - 6, 16)
            flags = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            painter.drawText(box, flags, shown(in_n(force, 0)))
        self._legend(painter, left)
        step = (self.width() - left - 14.0) / len(self.pulls)
        for number, pull in enumerate(self.pulls):
            chosen = pull.gear == evaluation.situation.gear
            self._group(painter, pull, (left + number * step, step, ground), chosen=chosen)
            name = QRectF(left + number * step, ground + 3, step, 18)
            painter.setFont(text_font("text", bold=chosen))
            painter.setPen(tokens.run if chosen else tokens.ink)
            middle = int(Qt.AlignmentFlag.AlignCenter)
            painter.drawText(name, middle, evaluation.vehicle.gear_name(pull.gear))
        painter.setPen(pen(tokens.ink, 1.2))
        painter.drawLine(QLineF(left, ground, self.width() - 10.0, ground))

    def _legend(self, painter: QPainter, left: float) -> None:
        tokens, x = self.theme.tokens, left
        painter.setFont(text_font("small"))
        for words, pattern in KINDS.values():
            box = QRectF(x, 8, 14, 12)
            painter.setPen(pen(tokens.ink, 1))
            painter.setBrush(QBrush(tokens.hair if pattern == SOLID else tokens.soft, pattern))
            painter.drawRect(box)
            text = shown(words)
            painter.setPen(tokens.ink)
            painter.drawText(QPointF(x + 19, 18), text)
            x += 34 + painter.fontMetrics().horizontalAdvance(text)

    def _group(
        self, painter: QPainter, pull: Pull, where: tuple[float, float, float], *, chosen: bool
    ) -> None:
        """Draw a gear's limits beside one another; the least, the usable pull, in the accent."""
        tokens = self.theme.tokens
        left, step, ground = where
        wide = min(step * 0.84 / len(pull.allowed), 46.0)
        start = left + (step - wide * len(pull.allowed)) / 2
        painter.setFont(text_font("small", bold=chosen))
        for number, one in enumerate(pull.allowed):
            high = self.high_of(one.force_n)
            box = QRectF(start + number * wide + 1, ground - high, wide - 2, high)
            least = one == pull.usable
            pattern = KINDS[one.kind][1]
            painter.setPen(pen(tokens.run if least else tokens.ink, 2.2 if least else 1.0))
            ground_color = tokens.run_wash if least else tokens.paper
            painter.fillRect(box, ground_color)
            if not (least and pattern == SOLID):
                painter.setBrush(QBrush(tokens.hair if pattern == SOLID else tokens.soft, pattern))
            else:
                painter.setBrush(tokens.run_wash)
            painter.drawRect(box)
            text = shown(bare(in_n(one.force_n, 1 if one.force_n < 10 else 0)))
            if painter.fontMetrics().horizontalAdvance(text) <= wide + 4 or least:
                painter.setPen(tokens.run if least else tokens.soft)
                place = QRectF(box.left() - 10, box.top() - 17, box.width() + 20, 16)
                painter.drawText(place, int(Qt.AlignmentFlag.AlignCenter), text)


class PullPage(QWidget):
    """Bars and fields above, the table below."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.setSpacing(12)
        self.view = LimitsView(theme)
        row.addWidget(self.view, 1)
        side = QVBoxLayout()
        self.plan = button(say("tab-road.plan-axle-and-steering"), self._plan, "main")
        side.addWidget(self.plan)
        self.fields = FieldForm(session, FIELDS)
        self.fields.setFixedWidth(260)
        side.addWidget(self.fields, 1)
        row.addLayout(side)
        outer.addLayout(row, 3)
        self.table = Table(HEADS, say("tab-road.what-every-gear-pulls"))
        self.table.header_right(*range(1, 9))
        self.table.stretch(9)
        outer.addWidget(self.table, 2)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show what a vehicle pulls."""
        vehicle = evaluation.vehicle
        planned = vehicle.running is not None
        self.plan.setVisible(not planned)
        for name in ("mass_kg", "driven_share"):
            self.fields.entries[name].setEnabled(planned)
        data = {**vehicle.ground.model_dump(), **running_of(vehicle).chassis.model_dump()}
        self.fields.show_values(vehicle, data)
        pulled = pulls(vehicle, evaluation.gears)
        self.view.show_pulls(evaluation, pulled)
        rows = []
        for p in pulled:
            figures = (
                signed(p.overall, ".2f"),
                bare(in_m_s(p.free_m_s, 2)),
                bare(in_m_s(p.road_m_s, 2)),
                bare(in_km_h(p.geometric_km_h, 0)),
                bare(in_km_h(p.froude_km_h, 0)),
                bare(in_km_h(p.real_km_h, 0)),
                bare(in_n(p.usable.force_n, 1)),
                signed(p.hill_percent, ".0f") if p.hill_percent < 999 else "any",
            )
            bold = p.gear == evaluation.situation.gear
            tip = say(
                "tab-road.at-the-wheels-drag-at-the-motor",
                torque_n_mm=in_n_mm(p.torque_n_mm, 0),
                drag_n_mm=in_n_mm(p.drag_n_mm, 1),
            )
            rows.append(
                [
                    Cell(vehicle.gear_name(p.gear), bold=bold, tip=tip),
                    *(Cell(text, right=True, bold=bold, tip=tip) for text in figures),
                    Cell(p.limit),
                ]
            )
        self.table.show_cells(rows)

    def facts(self) -> str:
        """Say what is shown."""
        return say("tab-road.speeds-with-the-wheels-in-the-air-and-on")

    def _plan(self) -> None:
        self.session.do(plan_running(self.session.vehicle))

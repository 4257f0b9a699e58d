"""What every gear pulls: speeds, force, the steepest hill and what limits it."""

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.fields import FieldForm, FieldSpec
from mild_badger.app.drawing.marks import pen
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.axle.running import plan_running, running_of
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import KM_H, M_S, NEWTON, bare, in_km_h, in_m_s, in_n, in_n_mm
from mild_badger.core.message import say
from mild_badger.core.performance.pull import Pull, pulls
from mild_badger.core.words import signed, word

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


class HillView(Canvas):
    """The steepest hill of every gear as a bar."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-road.steepest-hill-of-every-gear"))
        self.setMinimumSize(240, 120)
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
            say("tab-road.gear", named=named(p.gear), hill_percent=p.hill_percent, limit=p.limit)
            for p in self.pulls
        )

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        tokens = self.theme.tokens
        if not self.pulls:
            painter.setPen(tokens.soft)
            painter.setFont(text_font("lead"))
            painter.drawText(
                self.rect(), int(Qt.AlignmentFlag.AlignCenter), say("tab-road.no-gear-drives-yet")
            )
            return
        top = max(min(max(p.hill_percent for p in self.pulls), 150.0), 1.0)
        step = (self.width() - 40) / len(self.pulls)
        ground = self.height() - 40.0
        painter.setFont(text_font("small"))
        for number, pull in enumerate(self.pulls):
            high = min(pull.hill_percent / top, 1.0) * (ground - 26)
            chosen = pull.gear == evaluation.situation.gear
            box = QRectF(20 + number * step + step * 0.2, ground - high, step * 0.6, high)
            painter.setPen(pen(tokens.run if chosen else tokens.ink, 2.2 if chosen else 1.2))
            painter.setBrush(tokens.run_wash if chosen else tokens.panel)
            painter.drawRect(box)
            painter.setPen(tokens.ink)
            middle = int(Qt.AlignmentFlag.AlignHCenter)
            words = f"{signed(pull.hill_percent, '.0f')} %" if pull.hill_percent < 999 else "any"
            place = QRectF(box.left() - 20, box.top() - 18, box.width() + 40, 16)
            painter.drawText(place, middle, words)
            name = QRectF(box.left() - 20, ground + 3, box.width() + 40, 16)
            painter.drawText(name, middle, evaluation.vehicle.gear_name(pull.gear))
            painter.setPen(tokens.soft)
            short = word(pull.limit_kind)
            painter.drawText(name.translated(0, 16), middle, short)
        painter.setPen(pen(tokens.ink, 1.2))
        painter.drawLine(12, int(ground), self.width() - 12, int(ground))


class PullPage(QWidget):
    """Bars and fields above, the table below."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.setSpacing(12)
        self.view = HillView(theme)
        row.addWidget(self.view, 1)
        side = QVBoxLayout()
        self.plan = button(say("tab-road.plan-axle-and-steering"), self._plan, "main")
        side.addWidget(self.plan)
        self.fields = FieldForm(session, FIELDS)
        self.fields.setFixedWidth(260)
        side.addWidget(self.fields, 1)
        row.addLayout(side)
        outer.addLayout(row, 1)
        self.table = Table(HEADS, say("tab-road.what-every-gear-pulls"))
        self.table.header_right(*range(1, 9))
        self.table.stretch(9)
        outer.addWidget(self.table, 1)

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
                bare(in_n(p.force_n, 1)),
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

"""Where the power goes: a waterfall, the estimates behind it, and their calibration."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.fields import FieldForm, FieldSpec
from mild_badger.app.drawing.marks import elided, pen
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.errors import BadgerError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import N_MM, bare, in_n_mm
from mild_badger.core.message import say
from mild_badger.core.performance.losses import calibrate_wheels, drag_lines, estimated_losses
from mild_badger.core.performance.power_budget import LossStep, power_budget
from mild_badger.core.targets.schools import parse_number
from mild_badger.core.words import signed, word

__all__ = ["LossesPage"]

LOSSES = ("losses",)
FIELDS = (
    FieldSpec(("kit", "mesh_loss")),
    FieldSpec((*LOSSES, "idle_mesh_n_mm")),
    FieldSpec((*LOSSES, "bearing_n_mm")),
    FieldSpec((*LOSSES, "drag_factor")),
)
KINDS = ("dry", "waxed", "oiled")


class FallView(Canvas):
    """The motor's power, step by step down to the wheels."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-road.where-the-power-goes"))
        self.setMinimumSize(280, 200)
        self.falls: tuple[LossStep, ...] = ()

    def show_falls(self, evaluation: Evaluation, falls: tuple[LossStep, ...]) -> None:
        """Show a waterfall."""
        self.falls = falls
        self.show_evaluation(evaluation)

    def words(self) -> str:
        return "; ".join(
            f"{fall.name}: {signed(fall.lost_percent, '.1f')} %" for fall in self.falls
        )

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        tokens = self.theme.tokens
        if not self.falls:
            self.say_instead(painter, say("tab-road.engage-a-gear-that-drives"))
            return
        rows = [
            (say("tab-road.motor-2"), 0.0, 100.0),
            *((f.name, f.lost_percent, f.left_percent) for f in self.falls),
        ]
        rows.append((say("tab-road.at-the-wheels"), 0.0, self.falls[-1].left_percent))
        step = (self.height() - 16) / len(rows)
        left, right = 190.0, self.width() - 60.0
        painter.setFont(text_font("small"))
        for number, (name, lost, rest) in enumerate(rows):
            y = 8 + number * step
            box = QRectF(left, y + 2, (right - left) * rest / 100, step - 4)
            painter.setPen(pen(tokens.ink, 1))
            painter.setBrush(tokens.panel)
            painter.drawRect(box)
            if lost > 0:
                gone = QRectF(box.right(), box.top(), (right - left) * lost / 100, box.height())
                painter.setBrush(tokens.run)
                painter.setPen(pen(tokens.run, 1))
                painter.drawRect(gone)
            painter.setPen(tokens.ink)
            aligned = int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight)
            shown = elided(name, painter.font(), left - 16)
            painter.drawText(QRectF(4, y, left - 12, step), aligned, shown)
            words = f"−{signed(lost, '.1f')}" if lost else f"{signed(rest, '.1f')} %"
            painter.drawText(QPointF(right + 8, y + step / 2 + 4), words)


class LossesPage(QWidget):
    """Waterfall left; estimates, calibration and what drags right."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(12)
        self.view = FallView(theme)
        row.addWidget(self.view, 1)
        side = QVBoxLayout()
        side.setSpacing(6)
        self.fields = FieldForm(session, FIELDS)
        self.fields.setFixedWidth(300)
        side.addWidget(self.fields)
        self.kind = QComboBox()
        self.kind.setAccessibleName(say("tab-road.lubrication"))
        self.kind.addItems([shown(word(kind)) for kind in KINDS])
        self.estimate = button(say("tab-road.estimate"), self._estimate)
        side.addLayout(row_of(say("tab-road.lubrication"), self.kind, self.estimate))
        self.measured = QLineEdit()
        self.measured.setAccessibleName(say("tab-road.measured-speed-of-the-wheels"))
        self.measured.setFixedWidth(60)
        self.fit = button(say("tab-road.fit"), self._fit)
        side.addLayout(
            row_of(
                say("tab-road.wheels-in-the-air-turn"),
                self.measured,
                caption("rpm", "soft"),
                self.fit,
            )
        )
        self.lines = Table(
            (say("tab-road.what-drags"), say("tab-road.at-motor", n_mm=N_MM)),
            say("tab-road.what-drags-2"),
        )
        self.lines.header_right(1)
        self.lines.stretch(0)
        self.lines.setFixedWidth(300)
        side.addWidget(self.lines, 1)
        row.addLayout(side)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the engaged gear's losses."""
        vehicle, gear = evaluation.vehicle, evaluation.engaged
        data = {**vehicle.losses.model_dump(), "mesh_loss": vehicle.kit.mesh_loss}
        self.fields.show_values(vehicle, data)
        self.kind.setCurrentText(vehicle.losses.lubrication)
        falls: tuple[LossStep, ...] = ()
        rows = []
        if gear is not None:
            falls = power_budget(vehicle, gear.id, gear.motor_rpm)
            rows = [
                [Cell(d.name), Cell(bare(in_n_mm(d.at_motor_n_mm, 2)), right=True)]
                for d in drag_lines(vehicle, gear.id)
            ]
        self.view.show_falls(evaluation, falls)
        self.lines.show_cells(rows)

    def facts(self) -> str:
        """Say what is shown."""
        return say("tab-road.idle-trains-and-bearings-take-their-share-of")

    def _estimate(self) -> None:
        kind = KINDS[self.kind.currentIndex()]
        self.session.do(estimated_losses(self.session.vehicle, kind))  # type: ignore[arg-type]

    def _fit(self) -> None:
        gear = self.session.evaluation.engaged
        try:
            if gear is None:
                self.session.refused.emit(say("tab-road.engage-the-gear-in-which-the-speed-was"))
                return
            rpm = parse_number(
                self.measured.text(), what=say("tab-road.measured-speed-of-the-wheels")
            )
            self.session.do(calibrate_wheels(self.session.vehicle, gear, rpm))
        except BadgerError as error:
            self.session.refused.emit(str(error))

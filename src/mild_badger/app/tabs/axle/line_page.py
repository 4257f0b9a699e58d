"""The shaft line in section: propeller shaft, floor and tunnel, seat and roof, and the choices."""

from collections.abc import Iterator
from itertools import pairwise

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.fields import FieldForm, FieldSpec
from mild_badger.app.drawing.handles import HandlePaper
from mild_badger.app.drawing.marks import pen
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button, row_of, scrolled
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.axle.clearance import clearance
from mild_badger.core.axle.running import plan_running, running_of
from mild_badger.core.axle.shaft_line import Choice, LineResult, line_choices, shaft_line
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM, bare, in_mm
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.words import signed

__all__ = ["LinePage"]

LINE = ("running", "line")
FIELDS = (
    FieldSpec((*LINE, "offset_mm")),
    FieldSpec((*LINE, "offset_limit")),
    FieldSpec((*LINE, "drop_driver"), optional=True),
    FieldSpec((*LINE, "drop_driven"), optional=True),
    FieldSpec((*LINE, "room_mm")),
    FieldSpec((*LINE, "floor_thick_mm")),
    FieldSpec((*LINE, "floor_mm"), optional=True, empty=say("tab-axle.flat")),
    FieldSpec((*LINE, "seat_mm")),
    FieldSpec((*LINE, "head_mm")),
)


class LineView(HandlePaper):
    """A section across the vehicle at the axle; drag the pinion up and down.

    Signals
    -------
    pinion_moved : how far the pinion lies below the crown wheel's middle, in mm
    """

    pinion_moved = pyqtSignal(float)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-axle.section-at-the-driven-axle"))
        self.setMinimumSize(240, 220)
        self.found: LineResult | None = None
        self._scale, self._ground = 1.0, 0.0

    def show_line(self, evaluation: Evaluation, line: LineResult) -> None:
        """Show a shaft line."""
        self.found = line
        self.show_evaluation(evaluation)

    def words(self) -> str:
        line = self.found
        if line is None:
            return ""
        return say(
            "tab-axle.shaft-up-floor-tunnel-seat-roof",
            shaft_mm=in_mm(line.shaft_mm, 1),
            floor_mm=line.floor_mm,
            tunnel_mm=line.tunnel_mm,
            seat_mm=line.seat_mm,
            roof_mm=line.roof_mm,
        )

    def pinion(self) -> QPointF:
        """Where the pinion is drawn."""
        height = self.found.pinion_mm if self.found is not None else 0.0
        return QPointF(self.width() / 2, self._ground - height * self._scale)

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        line, vehicle, tokens = self.found, evaluation.vehicle, self.theme.tokens
        if line is None:
            return
        room, running = clearance(vehicle), running_of(vehicle)
        track, width = vehicle.axle.track_mm, running.chassis.tyre_width_mm
        tall = max(line.roof_mm, vehicle.wheels.diameter_mm) * 1.08
        self._scale = min((self.width() - 150) / (track + width), (self.height() - 40) / tall)
        self._ground = self.height() - 24.0
        middle, scale = self.width() / 2, self._scale

        def y(height: float) -> float:
            return self._ground - height * scale

        painter.setPen(pen(tokens.ink, 1.6))
        painter.drawLine(QLineF(8, self._ground, self.width() - 8, self._ground))
        wheel = vehicle.wheels.diameter_mm
        painter.setBrush(tokens.panel)
        for side in (-1, 1):
            x = middle + (side * track / 2 - width / 2) * scale
            painter.drawRoundedRect(QRectF(x, y(wheel), width * scale, wheel * scale), 4, 4)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen(tokens.ink, 1.2))
        half = vehicle.axle.track_mm / 2
        painter.drawLine(
            QLineF(middle - half * scale, y(room.axle_mm), middle + half * scale, y(room.axle_mm))
        )
        crown = vehicle.final_drive.crown * vehicle.kit.module_mm / 2 * scale
        painter.drawEllipse(QPointF(middle, y(room.axle_mm)), crown, crown)
        r = vehicle.final_drive.pinion * vehicle.kit.module_mm / 2 * scale
        painter.setPen(pen(tokens.run, 2.2))
        painter.drawEllipse(self.pinion(), r, r)
        painter.setBrush(tokens.run)
        shaft = vehicle.kit.shaft_diameter_mm / 2 * scale
        painter.drawEllipse(QPointF(middle, y(line.shaft_mm)), shaft, shaft)
        self._body(painter, evaluation, line, middle)
        self.draw_held(painter)

    def _body(
        self, painter: QPainter, evaluation: Evaluation, line: LineResult, middle: float
    ) -> None:
        """Draw floor, tunnel, seat and roof with their heights."""
        tokens, scale = self.theme.tokens, self._scale
        vehicle = evaluation.vehicle
        half = (vehicle.axle.track_mm / 2 - running_of(vehicle).chassis.tyre_width_mm) * scale
        tunnel = (vehicle.kit.shaft_diameter_mm / 2 + 6) * scale

        def y(height: float) -> float:
            return self._ground - height * scale

        painter.setPen(pen(tokens.ink, 2.2))
        floor = y(line.floor_mm)
        if line.tunnel_mm > 0:
            top = y(line.floor_mm + line.tunnel_mm)
            points = [
                (-half, floor),
                (-tunnel, floor),
                (-tunnel, top),
                (tunnel, top),
                (tunnel, floor),
                (half, floor),
            ]
            for (a, b), (c, d) in pairwise(points):
                painter.drawLine(QLineF(middle + a, b, middle + c, d))
        else:
            painter.drawLine(QLineF(middle - half, floor, middle + half, floor))
        painter.setFont(text_font("small"))
        for name, height in (
            (say("tab-axle.floor"), line.floor_mm),
            (say("tab-axle.seat"), line.seat_mm),
            (say("tab-axle.roof"), line.roof_mm),
            (say("tab-axle.shaft-2"), line.shaft_mm),
        ):
            painter.setPen(pen(tokens.hair, 1))
            painter.drawLine(QLineF(middle, y(height), self.width() - 74.0, y(height)))
            painter.setPen(tokens.ink)
            words = f"{name} {signed(height, '.1f')}"
            if name == "shaft":  # floor and shaft often lie close together
                painter.drawText(QPointF(12, y(height) + 4), words)
            else:
                painter.drawText(QPointF(self.width() - 70.0, y(height) + 4), words)

    def handles(self) -> Iterator[tuple[str, QPointF]]:
        """Give the pinion."""
        yield "pinion", self.pinion()

    def dropped(self, name: str, here: QPointF) -> None:
        """Send how far below the crown wheel's middle the pinion was dropped."""
        if self.evaluation is not None:
            height = (self._ground - here.y()) / self._scale
            self.pinion_moved.emit(round(clearance(self.evaluation.vehicle).axle_mm - height, 1))


LOW_PX = 204
"""How high what stands below the picture may be: the picture is the page."""


class LinePage(QWidget):
    """The section large; what each choice comes to and fields below it."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        self._choices: tuple[Choice, ...] = ()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(6)
        self.view = LineView(theme)
        self.view.pinion_moved.connect(self._moved)
        outer.addWidget(self.view, 3)
        low = QWidget()
        low.setMaximumHeight(LOW_PX)
        row = QHBoxLayout(low)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        self.choices = Table(
            (
                say("tab-axle.what-each-choice-would-do"),
                say("tab-axle.shaft", mm=MM),
                say("tab-axle.flat-floor", mm=MM),
                say("tab-axle.tunnel", mm=MM),
                say("tab-axle.clearance", mm=MM),
                say("tab-axle.set-by"),
            ),
            say("tab-axle.choices-of-the-shaft-line"),
        )
        self.choices.header_right(1, 2, 3, 4)
        self.choices.stretch(0)
        listed = QVBoxLayout()
        listed.addWidget(self.choices, 1)
        self.take = button(say("tab-axle.use-this-choice"), self._take)
        listed.addLayout(row_of(self.take))
        row.addLayout(listed, 1)
        side = QVBoxLayout()
        self.plan = button(say("tab-axle.plan-axle-and-steering"), self._plan, "main")
        side.addWidget(self.plan)
        self.fields = FieldForm(session, FIELDS)
        side.addWidget(scrolled(self.fields, 290), 1)
        row.addLayout(side)
        outer.addWidget(low, 2)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the shaft line of a vehicle."""
        vehicle = evaluation.vehicle
        planned = vehicle.running is not None
        self.plan.setVisible(not planned)
        self.fields.setEnabled(planned)
        self.take.setEnabled(planned)
        self.fields.show_values(vehicle, running_of(vehicle).line.model_dump())
        self.view.show_line(evaluation, shaft_line(vehicle))
        self._choices = line_choices(vehicle)
        self.choices.show_cells(
            [
                [
                    Cell(choice.words),
                    *(
                        Cell(bare(in_mm(value, 1)), right=True)
                        for value in (
                            choice.result.shaft_mm,
                            choice.result.flat_floor_mm,
                            choice.result.tunnel_mm,
                            choice.result.ground_mm,
                        )
                    ),
                    Cell(choice.result.limited_by),
                ]
                for choice in self._choices
            ]
        )

    def facts(self) -> str:
        """Say what the shaft line comes to."""
        line = self.view.found
        if line is None:
            return ""
        tunnel = (
            say("tab-axle.a-tunnel-high", tunnel_mm=in_mm(line.tunnel_mm, 1))
            if line.tunnel_mm
            else say("tab-axle.no-tunnel")
        )
        return say(
            "tab-axle.the-shaft-lies-up-the-floor-at-takes-the",
            shaft_mm=in_mm(line.shaft_mm, 1),
            floor_mm=in_mm(line.floor_mm, 1),
            tunnel=tunnel,
            offset_share=100 * line.offset_share,
        )

    def _plan(self) -> None:
        self.session.do(plan_running(self.session.vehicle))

    def _moved(self, offset: float) -> None:
        if self.session.vehicle.running is None:
            self._plan()
        self.session.do(Edit.one(say("tab-axle.move-the-pinion"), (*LINE, "offset_mm"), offset))

    def _take(self) -> None:
        row = self.choices.currentRow()
        if 0 <= row < len(self._choices) and self._choices[row].edit.changes:
            self.session.do(self._choices[row].edit)

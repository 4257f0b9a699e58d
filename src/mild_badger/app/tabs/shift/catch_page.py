"""The catch on its rail: the order of columns, where it stands, what a run takes."""

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.fields import DocumentCheckBox, DocumentLineEdit, field_of
from mild_badger.app.drawing.marks import elided, pen
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM
from mild_badger.core.message import say
from mild_badger.core.shift.catch import best_catch_order, catch_sleeves
from mild_badger.core.shift.positions import columns_text, describe_catch, parse_columns
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.sleeves import describe_sleeve, rail_title
from mild_badger.text.quantities import number_text

__all__ = ["CatchPage"]

UP = {"front": -1, "back": 1}
ORDER = ("shifting", "catch", "order")


class CatchView(Canvas):
    """Columns along the rail, a gear in front and one behind; press a gear to engage it."""

    engage = pyqtSignal(object)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-shift.catch-on-its-rail"))
        self.setMinimumHeight(190)
        self._spots: list[tuple[str, QRectF]] = []

    def words(self) -> str:
        if self.evaluation is None:
            return ""
        vehicle = self.evaluation.vehicle
        return "; ".join(
            f"{rail_title(kind, 'rail')}: "
            + ", ".join(f"{describe_sleeve(s)} {_gears(self.evaluation, s)}" for s in row)
            for kind, row in catch_sleeves(vehicle).items()
        )

    def place_of(self, gear: str) -> QPointF:
        """Where a gear is drawn, in the widget's pixels."""
        return next(box.center() for name, box in self._spots if name == gear)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            for gear, box in self._spots:
                if box.contains(event.position()):
                    self.engage.emit(gear)
                    return

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        self._spots = []
        rows = catch_sleeves(evaluation.vehicle)
        if not rows:
            painter.setFont(text_font("text"))
            painter.setPen(self.theme.tokens.soft)
            words = say("tab-shift.no-gear-has-a-train-yet-choose-one-on-the")
            painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter, words)
            return
        tall = self.height() / len(rows)
        for number, (kind, row) in enumerate(rows.items()):
            self._rail(painter, evaluation, kind, row, QRectF(0, number * tall, self.width(), tall))

    def _rail(
        self,
        painter: QPainter,
        evaluation: Evaluation,
        kind: str,
        row: tuple[str, ...],
        room: QRectF,
    ) -> None:
        tokens, vehicle = self.theme.tokens, evaluation.vehicle
        gear = evaluation.situation.gear
        held = vehicle.box.engaged(gear) if gear else {}
        step = min((room.width() - 120) / len(row), 170.0)
        left = room.left() + 60 + step / 2
        middle = room.center().y() + 6
        reach = min(room.height() / 2 - 44, 74.0)
        painter.setPen(pen(tokens.soft, 5))
        painter.drawLine(
            QPointF(left - step / 2, middle), QPointF(left + step * (len(row) - 0.5), middle)
        )
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        name = rail_title(kind, "catch")
        painter.drawText(
            QPointF(room.left() + 12, room.top() + 20), say("tab-shift.front-above", name=name)
        )
        catch_at, tilt = left, 0
        for place, sleeve in enumerate(row):
            x = left + place * step
            if sleeve in held:
                catch_at, tilt = x, UP[held[sleeve]]
            for face, side in UP.items():
                names = [
                    g.id
                    for g in vehicle.real.gears
                    if vehicle.box.ready(g.id) and vehicle.box.engaged(g.id).get(sleeve) == face
                ]
                painter.setPen(pen(tokens.hair, 2))
                spot = QPointF(x, middle + side * reach)
                painter.drawLine(QPointF(x, middle), spot)
                if names:
                    self._gear(painter, evaluation, names, spot, step)
            painter.setFont(text_font("small"))
            painter.setPen(tokens.soft)
            label = QRectF(x + 8, middle + 4, step - 12, 16)
            painter.drawText(label, int(Qt.AlignmentFlag.AlignLeft), describe_sleeve(sleeve))
        painter.setPen(pen(tokens.ink, 2.2))
        painter.setBrush(tokens.panel)
        painter.drawRoundedRect(QRectF(catch_at - 11, middle - 8, 22, 16), 4, 4)
        if tilt:
            painter.setPen(pen(tokens.run, 4))
            tip = QPointF(catch_at, middle + tilt * (reach - 22))
            painter.drawLine(QPointF(catch_at, middle + 8 * tilt), tip)

    def _gear(
        self,
        painter: QPainter,
        evaluation: Evaluation,
        names: list[str],
        spot: QPointF,
        step: float,
    ) -> None:
        tokens = self.theme.tokens
        active = evaluation.situation.gear in names
        gear = evaluation.vehicle.gear(names[0])
        reverse = gear is not None and gear.reverse
        color = tokens.back if reverse else tokens.run if active else tokens.ink
        painter.setPen(pen(color, 2.2 if active else 1.6))
        painter.setBrush(tokens.panel if active else tokens.paper)
        words = evaluation.vehicle.gear_names(names)
        font = figure_font("tab")
        half = min(max(18.0, 5.0 * len(words) + 10), step / 2 - 4)
        box = QRectF(spot.x() - half, spot.y() - 16, 2 * half, 32)
        painter.drawRoundedRect(box, 16, 16)
        painter.setFont(font)
        painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), elided(words, font, 2 * half - 8))
        self._spots.append((names[0], box))


class CatchPage(QWidget):
    """The catch with its measures below."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.view = CatchView(theme)
        self.view.engage.connect(session.engage)
        column.addWidget(self.view, 1)
        self.order = DocumentLineEdit(
            session, self._reorder, say("tab-shift.columns-along-the-rail")
        )
        self.order.setMinimumWidth(140)
        self.best = button(say("tab-shift.fewest-slides"), self._take_best)
        self.best.setToolTip(say("tab-shift.the-order-of-columns-that-takes-the-fewest"))
        self.fields = {
            name: field_of(session, ("shifting", "catch", name), words, width=46)
            for name, words in (
                ("column_pitch_mm", say("tab-shift.column-to-column")),
                ("slide_s", say("tab-shift.seconds-a-column")),
                ("tilt_s", say("tab-shift.seconds-a-tilt")),
            )
        }
        self.past = DocumentCheckBox(
            session,
            ("shifting", "catch", "past_neutral"),
            say("tab-shift.slides-on-in-neutral-only"),
        )
        fields = self.fields
        column.addLayout(
            row_of(say("tab-shift.columns-along-the-rail"), self.order, self.best, self.past)
        )
        column.addLayout(
            row_of(
                say("tab-shift.column-spacing"),
                fields["column_pitch_mm"],
                caption(MM, "soft"),
                say("tab-shift.time-per-column"),
                fields["slide_s"],
                say("tab-shift.time-per-tilt"),
                fields["tilt_s"],
                caption("s", "soft"),
            )
        )
        self.words = caption("", wrap=True)
        self.words.setAccessibleName(say("tab-shift.what-a-run-of-shifts-takes"))
        column.addWidget(self.words)

    def _reorder(self, text: str) -> bool:
        order = parse_columns(self.session.vehicle, text)
        return self.session.do(Edit.one(say("tab-shift.order-the-columns"), ORDER, order))

    def _take_best(self) -> None:
        order = best_catch_order(self.session.vehicle)
        self.session.do(
            Edit.one(say("tab-shift.order-the-columns-for-the-fewest-slides"), ORDER, order)
        )

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the catch of a vehicle."""
        vehicle = evaluation.vehicle
        self.view.show_evaluation(evaluation)
        one = "sleeve" in catch_sleeves(vehicle)
        self.order.setEnabled(one)
        self.best.setEnabled(one)
        self.order.show_value(columns_text(vehicle))
        self.past.show_value(vehicle.shifting.catch.past_neutral)
        for name, field in self.fields.items():
            field.show_value(number_text(getattr(vehicle.shifting.catch, name)))
        self.words.setText(describe_catch(vehicle))


def _gears(evaluation: Evaluation, sleeve: str) -> str:
    box = evaluation.vehicle.box
    return "/".join(
        g.name
        for g in evaluation.vehicle.real.gears
        if box.ready(g.id) and sleeve in box.engaged(g.id)
    )

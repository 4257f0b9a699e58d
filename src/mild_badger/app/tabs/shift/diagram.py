"""The slot diagram: input shafts below, selector shafts above, a sleeve a column."""

from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import arc_arrow, elided, pen
from mild_badger.app.theme.plain_tips import show_tip
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.architectures.places import Columns
from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.layout.turning import shaft_turns
from mild_badger.core.message import say, say_count
from mild_badger.core.ratios.train import train_text
from mild_badger.core.shift.slots import SlotColumn, SlotView
from mild_badger.core.structure.names import shaft_letter
from mild_badger.core.targets.schools import RatioConvention, format_ratio
from mild_badger.core.vehicle.bodies import input_shaft, selector_shaft
from mild_badger.core.words import word

__all__ = ["SlotDiagram"]

Face = Literal["front", "back"]


@dataclass(frozen=True)
class _Place:
    column: int
    face: Face
    box: QRectF
    view: SlotView | None


class SlotDiagram(Canvas):
    """Click a slot to engage its gear, drag it to another place to change places.

    Keys: arrows choose a place, Enter engages, Alt with arrows moves the gear.
    """

    engage = pyqtSignal(object)
    move_gear = pyqtSignal(str, int, str)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self._school = RatioConvention.TURNS_IN
        self._places: list[_Place] = []
        self._turns: dict[str, Fraction | None] = {}
        self._cursor: tuple[int, Face] = (1, "front")
        self._pressed: _Place | None = None
        self._drag: QPointF | None = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(say("tab-shift.slot-box"))
        self.setMinimumHeight(280)

    def write_in(self, school: RatioConvention) -> None:
        """Write ratios in a school."""
        self._school = school

    def words(self) -> str:
        self._lay_out()
        return "; ".join(self.words_of(place) for place in self._places)

    def place_of(self, column: int, face: Face) -> QRectF:
        """Where a place is drawn, in the widget's pixels."""
        return next(p.box for p in self._places if (p.column, p.face) == (column, face))

    def _name(self, view: SlotView) -> str:
        gear = view.slot.gear
        return gear if self.evaluation is None else self.evaluation.vehicle.gear_name(gear)

    def words_of(self, place: _Place) -> str:
        """Say in words what a place holds."""
        where = say("tab-shift.column", column=place.column, face=word(place.face))
        if place.view is None:
            return say("tab-shift.free", where=where)
        view = place.view
        way = {1: "output +", -1: "output −", 0: say("tab-shift.direction-unknown")}[view.direction]
        train = train_text(view.slot.train) or say("tab-shift.no-train-yet")
        return say(
            "tab-shift.gear-meshes",
            where=where,
            name=self._name(view),
            train=train,
            meshes=view.meshes,
            way=way,
        )

    def resizeEvent(self, _event: QEvent | None) -> None:
        self._lay_out()

    def _lay_out(self) -> None:
        self._places = []
        if self.evaluation is None:
            return
        columns = [*self.evaluation.columns]
        count = len(columns) + 1  # one empty column to move a gear into
        wide = min((self.width() - 150.0) / count, 190.0)
        tall = (self.height() - 150.0) / 2 - 26
        for number in range(1, count + 1):
            column = columns[number - 1] if number <= len(columns) else None
            left = 110 + (number - 1) * wide
            top = 64.0
            self._places += [
                _Place(
                    number,
                    "front",
                    QRectF(left + 8, top, wide - 16, tall),
                    column.front if column else None,
                ),
                _Place(
                    number,
                    "back",
                    QRectF(left + 8, top + tall + 52, wide - 16, tall),
                    column.back if column else None,
                ),
            ]

    def show_evaluation(self, evaluation: Evaluation) -> None:
        self._turns = shaft_turns(evaluation.vehicle, evaluation.situation.gear)
        super().show_evaluation(evaluation)

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        self._rows(painter, evaluation)
        for column in evaluation.columns:
            self._column(painter, evaluation, column)
        for place in self._places:
            self._slot(painter, evaluation, place)
        if self._drag is not None and self._pressed is not None and self._pressed.view is not None:
            painter.setFont(figure_font("figure"))
            painter.setPen(self.theme.tokens.run)
            painter.drawText(self._drag + QPointF(10, 6), self._name(self._pressed.view))

    def _box(self, column: int, face: Face) -> QRectF:
        return self.place_of(column, face)

    def _rows(self, painter: QPainter, evaluation: Evaluation) -> None:
        """Name the rows: selector tie, fronts, sleeves, backs, input."""
        tokens = self.theme.tokens
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        front, back = self._box(1, "front"), self._box(1, "back")
        places = architecture_of(evaluation.vehicle.box).places(evaluation.vehicle.box)
        if not isinstance(places, Columns):
            return
        input_words = (
            say("tab-shift.drive-row-teeth-each", row_teeth=places.row_teeth)
            if places.by_row
            else say("tab-shift.one-input-shaft")
        )
        flags = int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft)
        for words, middle in (
            (say("tab-shift.selector-shafts-tied-by-teeth", tie_teeth=places.tie_teeth), 32.0),
            (say("tab-shift.front"), front.center().y()),
            (say("tab-shift.sleeve"), (front.bottom() + back.top()) / 2),
            (say("tab-shift.back"), back.center().y()),
            (input_words, back.bottom() + 46),
        ):
            painter.drawText(QRectF(12, middle - 18, 100, 36), flags, words)
        last = self._box(len(evaluation.columns), "back").center().x()
        painter.setPen(pen(tokens.soft, 1.6))
        painter.drawLine(QPointF(front.center().x(), 32), QPointF(last, 32))
        painter.drawLine(
            QPointF(front.center().x(), back.bottom() + 46), QPointF(last, back.bottom() + 46)
        )

    def _column(self, painter: QPainter, evaluation: Evaluation, column: SlotColumn) -> None:
        tokens = self.theme.tokens
        front, back = self._box(column.number, "front"), self._box(column.number, "back")
        x = front.center().x()
        painter.setFont(text_font("small", bold=True))
        vehicle = evaluation.vehicle
        places = architecture_of(vehicle.box).places(vehicle.box)
        by_row = isinstance(places, Columns) and places.by_row
        selector, feed = selector_shaft(column.number), input_shaft(column.number if by_row else 1)
        for y, shaft, usual in (
            (32.0, selector, column.selector_sign),
            (back.bottom() + 46, feed, column.input_sign),
        ):
            # as it turns in the engaged gear; in neutral as it would while the box drives plus
            turns = self._turns.get(shaft)
            sign = (1 if turns > 0 else -1) if turns else usual
            painter.setPen(pen(tokens.ink, 1.4))
            painter.setBrush(tokens.paper)
            painter.drawEllipse(QPointF(x, y), 15, 15)
            arc_arrow(painter, QPointF(x, y), 21, clockwise=sign > 0, middle_deg=90)
            letter = shaft_letter(vehicle, shaft)
            painter.drawText(
                QRectF(x - 15, y - 10, 30, 20),
                int(Qt.AlignmentFlag.AlignCenter),
                f"{letter} {'+' if sign > 0 else '−'}".strip(),
            )
        gear = evaluation.situation.gear
        position = 0
        if column.front is not None and column.front.slot.gear == gear:
            position = -1
        elif column.back is not None and column.back.slot.gear == gear:
            position = 1
        middle = (front.bottom() + back.top()) / 2 + 14 * position
        sleeve = QRectF(x - 30, middle - 9, 60, 18)
        painter.setPen(pen(tokens.run if position else tokens.ink, 2.2 if position else 1.4))
        painter.setBrush(tokens.run_wash if position else tokens.panel)
        painter.drawRoundedRect(sleeve, 3, 3)
        for share in (0.25, 0.5, 0.75):
            line = sleeve.left() + share * sleeve.width()
            painter.drawLine(QPointF(line, sleeve.top() + 4), QPointF(line, sleeve.bottom() - 4))

    def _slot(self, painter: QPainter, evaluation: Evaluation, place: _Place) -> None:
        tokens, view, box = self.theme.tokens, place.view, place.box
        chosen = view is not None and view.slot.gear == evaluation.situation.gear
        if view is None:
            painter.setPen(pen(tokens.soft, 1, dashed=True))
            painter.setBrush(Qt.BrushStyle.NoBrush)
        else:
            accent = tokens.back if view.reverse else tokens.run
            painter.setPen(pen(accent if chosen else tokens.ink, 2.2 if chosen else 1.2))
            painter.setBrush(tokens.run_wash if chosen and not view.reverse else tokens.panel)
        painter.drawRoundedRect(box, 3, 3)
        if self.hasFocus() and (place.column, place.face) == self._cursor:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(pen(tokens.run, 1, dashed=True))
            painter.drawRoundedRect(box.adjusted(-4, -4, 4, 4), 4, 4)
        painter.setPen(tokens.soft)
        if view is None:
            painter.setFont(text_font("small"))
            painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), say("tab-shift.free-2"))
            return
        painter.setPen(tokens.back if view.reverse else tokens.run if chosen else tokens.ink)
        painter.setFont(figure_font("figure" if len(self._name(view)) < 4 else "tab"))
        inner = box.adjusted(10, 6, -10, -6)
        shown = ""
        gear = evaluation.gear(view.slot.gear)
        if gear is not None and gear.ratio is not None:
            shown = format_ratio(gear.ratio, self._school)
        bold = text_font("text", bold=True)
        taken = QFontMetricsF(bold).horizontalAdvance(shown)
        top = int(Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft)
        name = elided(self._name(view), painter.font(), max(inner.width() - taken - 6, 24))
        painter.drawText(inner, top, name)
        painter.setPen(tokens.ink)
        painter.setFont(bold)
        right = int(Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignRight)
        painter.drawText(inner.adjusted(0, 8, 0, 0), right, shown)
        way = (
            say("tab-shift.out-way", way="+" if view.direction > 0 else "−")
            if view.direction
            else ""
        )
        meshes = say_count("count.mesh", view.meshes) if view.meshes else ""
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        last = ", ".join(filter(None, (way, meshes)))
        trains = (
            train_text(view.slot.train).split(" · ")
            if view.slot.train
            else [say("tab-shift.no-train-yet")]
        )
        room = max(int((box.bottom() - inner.top() - 42) // 15), 1)
        # what turns the right way matters more than the third pair of a long train
        lines = trains if not last else [*trains[: max(room - 1, 0)], last]
        for number, words in enumerate(lines[:room]):
            painter.drawText(
                QPointF(inner.left(), inner.top() + 48 + 15 * number),
                elided(words, painter.font(), inner.width()),
            )

    def _at(self, here: QPointF) -> _Place | None:
        return next((place for place in self._places if place.box.contains(here)), None)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() is not Qt.MouseButton.LeftButton:
            return
        self._pressed = self._at(event.position())
        if self._pressed is not None:
            self._cursor = (self._pressed.column, self._pressed.face)
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        place = self._at(event.position())
        if self._pressed is not None and self._pressed.view is not None:
            if place is not self._pressed or self._drag is not None:
                self._drag = event.position()
                self.update()
        elif place is not None:
            show_tip(event.globalPosition().toPoint(), self.words_of(place), self)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        pressed, self._pressed, self._drag = self._pressed, None, None
        self.update()
        if event is None or pressed is None or pressed.view is None:
            return
        target = self._at(event.position())
        if target is pressed:
            self.engage.emit(pressed.view.slot.gear)
        elif target is not None:
            self.move_gear.emit(pressed.view.slot.gear, target.column, target.face)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        steps: dict[Qt.Key, tuple[int, Face | None]] = {
            Qt.Key.Key_Left: (-1, None),
            Qt.Key.Key_Right: (1, None),
            Qt.Key.Key_Up: (0, "front"),
            Qt.Key.Key_Down: (0, "back"),
        }
        here = next((p for p in self._places if (p.column, p.face) == self._cursor), None)
        gear = here.view.slot.gear if here is not None and here.view is not None else None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and gear:
            self.engage.emit(gear)
        elif Qt.Key(event.key()) in steps:
            across, face = steps[Qt.Key(event.key())]
            last = self._places[-1].column if self._places else 1
            column = min(max(self._cursor[0] + across, 1), last)
            there: tuple[int, Face] = (column, self._cursor[1])
            if face is not None:
                there = (column, face)
            self._cursor = there
            if event.modifiers() & Qt.KeyboardModifier.AltModifier and gear:
                self.move_gear.emit(gear, *there)
            self.update()
        else:
            super().keyPressEvent(event)

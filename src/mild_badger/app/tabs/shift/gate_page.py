"""The gate: the pattern of the lever, the lever's arms, the detents."""

import itertools

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QMouseEvent, QPainter
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.fields import (
    DocumentCheckBox,
    DocumentChoice,
    DocumentLineEdit,
    field_of,
)
from mild_badger.app.drawing.marks import pen
from mild_badger.app.drawing.widgets import button, caption
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM, NEWTON
from mild_badger.core.message import say
from mild_badger.core.shift.gate import Gate, GatePlace, describe_gate, gates
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.workshop.detent_strip import Notch, graded_notches
from mild_badger.text.quantities import number_text

__all__ = ["GatePage"]

SEEN = {
    "seat": say("tab-shift.from-the-drivers-seat"),
    "left": say("tab-shift.from-the-left-side"),
    "right": say("tab-shift.from-the-right"),
}
FORWARD = {"seat": (0, -1), "left": (-1, 0), "right": (1, 0)}
KNOB = {"forward": say("tab-shift.forwards"), "rear": say("tab-shift.to-the-rear")}
MEASURES = (
    (
        (
            "arm_above_mm",
            say("tab-shift.lever-above-pivot", mm=MM),
            say("tab-shift.arm-above-the-pivot"),
        ),
        ("arm_below_mm", say("tab-shift.below-pivot", mm=MM), say("tab-shift.arm-below-the-pivot")),
    ),
    (
        ("fork_travel_mm", say("tab-shift.fork-travel-2", mm=MM), say("tab-shift.fork-travel")),
        ("rail_pitch_mm", say("tab-shift.rail-spacing", mm=MM), say("tab-shift.rail-to-rail")),
    ),
    (
        ("detent_flank_deg", say("tab-shift.detent-angle"), say("tab-shift.detent-flank")),
        ("detent_depth_mm", say("tab-shift.detent-depth", mm=MM), say("tab-shift.detent-depth-2")),
    ),
    (
        ("detent_spring_n", say("tab-shift.detent-spring", newton=NEWTON), say("tab-shift.spring")),
        ("detent_friction", say("tab-shift.friction-2"), say("tab-shift.friction")),
    ),
    (("step_s", say("tab-shift.time-per-move-s"), say("tab-shift.seconds-a-move")),),
)
ARROW_ROOM = 124.0
"""Width kept for the arrow that points forwards, and the lever."""
RADIUS = 20.0


class GateView(Canvas):
    """The slots in which the lever moves; press a gear to engage it."""

    engage = pyqtSignal(object)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-shift.gate"))
        self.setMinimumHeight(160)
        self._places: list[tuple[GatePlace, QRectF]] = []

    def words(self) -> str:
        if self.evaluation is None:
            return ""
        seen = SEEN[self.evaluation.vehicle.lever.seen_from]
        lines = [
            f"{gate.name}: "
            + ", ".join(
                say("tab-shift.knob", label=p.label, knob=KNOB[p.knob]) for p in gate.places
            )
            for gate in gates(self.evaluation.vehicle)
        ]
        return f"{seen}; " + "; ".join(lines)

    def place_of(self, gear: str) -> QPointF:
        """Where a gear is drawn, in the widget's pixels."""
        return next(box.center() for place, box in self._places if gear in place.gears)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.evaluation is None:
            return
        for place, box in self._places:
            if box.contains(event.position()):
                now = self.evaluation.situation.gear
                other = next((gear for gear in place.gears if gear != now), place.gears[0])
                self.engage.emit(other)

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        self._places = []
        shown = gates(evaluation.vehicle)
        if not shown:
            painter.setFont(text_font("text"))
            painter.setPen(self.theme.tokens.soft)
            middle = QRectF(self.rect())
            words = say("tab-shift.no-gear-has-a-train-yet-choose-one-on-the")
            painter.drawText(middle, Qt.AlignmentFlag.AlignCenter, words)
            return
        wide = (self.width() - ARROW_ROOM) / len(shown)
        for number, gate in enumerate(shown):
            self._gate(painter, evaluation, gate, QRectF(number * wide, 0, wide, self.height()))
        self._forward(painter, evaluation.vehicle.lever.seen_from)
        self._lever(painter, evaluation, shown)

    def _gate(self, painter: QPainter, evaluation: Evaluation, gate: Gate, room: QRectF) -> None:
        tokens = self.theme.tokens
        xs = [abs(x) for x, _ in gate.neutral] + [abs(p.x_mm) for p in gate.places]
        ys = [abs(y) for _, y in gate.neutral] + [abs(p.y_mm) for p in gate.places]
        scale = min(
            (room.width() / 2 - 60) / max(*xs, 1.0), (room.height() / 2 - 70) / max(*ys, 1.0)
        )
        centre = room.center() + QPointF(0, 8)

        def at(x: float, y: float) -> QPointF:
            return centre + QPointF(scale * x, -scale * y)

        painter.setPen(pen(tokens.soft, 7))
        rails = [at(*place) for place in gate.neutral]
        painter.drawLine(rails[0], rails[-1])
        for place in gate.places:
            painter.drawLine(rails[place.rail], at(place.x_mm, place.y_mm))
        if evaluation.vehicle.lever.plungers:
            painter.setBrush(tokens.paper)
            painter.setPen(pen(tokens.ink, 1.2))
            for one, other in itertools.pairwise(rails):
                painter.drawEllipse((one + other) / 2, 4, 4)
        knob = centre
        engaged = evaluation.situation.gear
        for place in gate.places:
            spot = at(place.x_mm, place.y_mm)
            active = engaged is not None and engaged in place.gears
            knob = spot if active else knob
            color = tokens.back if place.reverse else tokens.run if active else tokens.ink
            painter.setBrush(tokens.panel if active else tokens.paper)
            painter.setPen(pen(color, 2.2 if active else 1.6))
            font = figure_font("figure" if len(place.label) <= 2 else "tab")
            painter.setFont(font)
            half = max(RADIUS, QFontMetricsF(font).horizontalAdvance(place.label) / 2 + 10)
            box = QRectF(spot.x() - half, spot.y() - RADIUS, 2 * half, 2 * RADIUS)
            painter.drawRoundedRect(box, RADIUS, RADIUS)
            self._places.append((place, box))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, place.label)
        painter.setBrush(tokens.ink)
        painter.setPen(pen(tokens.ink))
        if knob == centre:
            painter.drawEllipse(centre, 6, 6)
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        seen = SEEN[evaluation.vehicle.lever.seen_from]
        painter.drawText(QPointF(room.left() + 12, 20), f"{gate.name}, {seen}")

    def _lever(self, painter: QPainter, evaluation: Evaluation, shown: tuple[Gate, ...]) -> None:
        """Draw the lever from the side, arms to scale, with its pivot where it is."""
        tokens, lever = self.theme.tokens, evaluation.vehicle.lever
        room = QRectF(self.width() - 112.0, 92.0, 96.0, min(self.height() - 110.0, 190.0))
        if room.height() < 70:
            return
        engaged = evaluation.situation.gear
        knob = next((p.knob for g in shown for p in g.places if engaged in p.gears), None)
        below = lever.pivot == "below"  # then knob and finger are on one side of it
        length = (
            max(lever.arm_above_mm, lever.arm_below_mm)
            if below
            else (lever.arm_above_mm + lever.arm_below_mm)
        )
        scale = (room.height() - 40) / length
        foot = length if below else lever.arm_above_mm
        pivot = QPointF(room.center().x(), room.top() + 16 + foot * scale)
        way = 1 if below else -1
        lean = {"forward": -1, "rear": 1, None: 0}[knob]  # drawn with the front on the left
        throw = lever.fork_travel_mm * scale
        gain = lever.arm_above_mm / lever.arm_below_mm
        top = QPointF(pivot.x() + lean * throw * gain, pivot.y() - lever.arm_above_mm * scale)
        tip = QPointF(pivot.x() + way * lean * throw, pivot.y() - way * lever.arm_below_mm * scale)
        painter.setPen(pen(tokens.soft, 5))
        painter.drawLine(QLineF(room.left() + 8, tip.y() + 4, room.right() - 8, tip.y() + 4))
        painter.setPen(pen(tokens.ink, 2.2))
        painter.drawLine(top, pivot)
        painter.drawLine(pivot, tip)
        painter.setBrush(tokens.run_wash if knob else tokens.panel)
        painter.drawEllipse(top, 7, 7)
        painter.setBrush(tokens.ink)
        painter.drawEllipse(pivot, 3, 3)
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        painter.drawText(QPointF(room.left(), room.top() + 4), say("tab-shift.from-the-left-side"))
        painter.drawText(QPointF(pivot.x() + 10, pivot.y() + 4), say("tab-shift.pivot"))
        foot_y = pivot.y() + 22 if below else tip.y() + 20
        painter.drawText(QPointF(room.left() + 8, foot_y), say("tab-shift.rail-and-fork"))

    def _forward(self, painter: QPainter, seen_from: str) -> None:
        tokens = self.theme.tokens
        across, down = FORWARD[seen_from]
        foot = QPointF(self.width() - 44.0, 40.0)
        tip = foot + QPointF(18.0 * across, 18.0 * down)
        painter.setPen(pen(tokens.ink, 1.6))
        painter.drawLine(foot - QPointF(10.0 * across, 10.0 * down), tip)
        for turn in (1, -1):
            side = QPointF(-6.0 * across + 4.0 * turn * down, -6.0 * down + 4.0 * turn * across)
            painter.drawLine(tip, tip + side)
        painter.setFont(text_font("small"))
        painter.drawText(QPointF(self.width() - 70.0, 72.0), say("tab-shift.forwards"))


class GatePage(QWidget):
    """The gate with the lever's measures below, and the test strip that finds the detents."""

    export_wanted = pyqtSignal(str)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        self._notches: tuple[Notch, ...] = ()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.view = GateView(theme)
        self.view.engage.connect(session.engage)
        across = QHBoxLayout()
        across.setSpacing(12)
        across.addWidget(self.view, 1)
        across.addLayout(self._panel())
        column.addLayout(across, 1)
        self.words = caption("", wrap=True)
        self.words.setAccessibleName(say("tab-shift.travels-and-forces-of-the-lever"))
        column.addWidget(self.words)

    def _panel(self) -> QGridLayout:
        """Lay the lever's measures out beside the gate, two in a row."""
        session = self.session
        self.seen = DocumentChoice(session, ("lever", "seen_from"), say("tab-shift.seen"), SEEN)
        self.first = DocumentChoice(
            session,
            ("lever", "first_rail"),
            say("tab-shift.first-rail"),
            {
                "left": say("tab-shift.first-rail-on-the-left"),
                "right": say("tab-shift.first-rail-on-the-right"),
            },
        )
        self.pivot = DocumentChoice(
            session,
            ("lever", "pivot"),
            say("tab-shift.levers-pivot"),
            {
                "below": say("tab-shift.pivot-below-the-rails"),
                "between": say("tab-shift.pivot-between-knob-and-rails"),
            },
        )
        self.guard = DocumentChoice(
            session,
            ("lever", "reverse_guard"),
            say("tab-shift.reverse-guard"),
            {
                "none": say("tab-shift.reverse-not-guarded"),
                "lift": say("tab-shift.reverse-behind-a-lift"),
                "side spring": say("tab-shift.reverse-behind-a-side-spring"),
            },
        )
        self.plungers = DocumentCheckBox(
            session, ("lever", "plungers"), say("tab-shift.interlock-plungers")
        )
        grid = QGridLayout()
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(5)
        for row, widget in enumerate(
            (self.seen, self.first, self.pivot, self.guard, self.plungers)
        ):
            grid.addWidget(widget, row, 0, 1, 4)
        self.fields: dict[str, DocumentLineEdit] = {}
        for row, pair in enumerate(MEASURES, start=5):
            for place, (name, words, sentence) in enumerate(pair):
                field = field_of(session, ("lever", name), sentence, width=44)
                self.fields[name] = field
                grid.addWidget(caption(words), row, 2 * place)
                grid.addWidget(field, row, 2 * place + 1)
        save = button(say("tab-shift.test-strip"), lambda: self.export_wanted.emit("strip"))
        save.setToolTip(say("tab-shift.a-strip-of-graded-notches-to-cut-or-print"))
        grid.addWidget(save, 9, 2, 1, 2)
        self.strip = QComboBox()
        self.strip.setAccessibleName(say("tab-shift.best-notch-of-the-test-strip"))
        self.strip.setMinimumContentsLength(12)
        self.strip.setSizeAdjustPolicy(
            QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        )
        self.strip.activated.connect(self._choose)
        grid.addWidget(self.strip, 10, 0, 1, 4)
        grid.setRowStretch(11, 1)
        return grid

    def _choose(self, place: int) -> None:
        if 0 < place <= len(self._notches):
            notch = self._notches[place - 1]
            label = say("tab-shift.use-notch-of-the-strip", number=notch.number)
            self.session.do(Edit.one(label, ("lever", "detent_flank_deg"), notch.flank_deg))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the gate of a vehicle."""
        lever = evaluation.vehicle.lever
        self.view.show_evaluation(evaluation)
        self.seen.show_value(lever.seen_from)
        self.first.show_value(lever.first_rail)
        self.pivot.show_value(lever.pivot)
        self.guard.show_value(lever.reverse_guard)
        self.plungers.show_value(lever.plungers)
        for name, field in self.fields.items():
            field.show_value(number_text(getattr(lever, name)))
        self._notches = graded_notches(lever)
        self.strip.clear()
        self.strip.addItem(shown(say("tab-shift.best-notch-not-tried-yet")))
        for notch in self._notches:
            self.strip.addItem(shown(notch.summary))
        flanks = [notch.flank_deg for notch in self._notches]
        if lever.detent_flank_deg in flanks:
            self.strip.setCurrentIndex(flanks.index(lever.detent_flank_deg) + 1)
        self.words.setText(describe_gate(evaluation.vehicle))

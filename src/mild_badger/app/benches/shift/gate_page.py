"""The gate: the pattern of the lever, the lever's arms, the detents."""

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QMouseEvent, QPainter
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.marks import pen
from mild_badger.app.drawing.paper import Paper
from mild_badger.app.drawing.widgets import caption, field_of
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.changes import Edit
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.shift.gate import Gate, GatePlace, gate_words, gates

__all__ = ["GatePage"]

SEEN = {"seat": "from the driver's seat", "left": "from the left side", "right": "from the right"}
FORWARD = {"seat": (0, -1), "left": (-1, 0), "right": (1, 0)}
KNOB = {"forward": "forwards", "rear": "to the rear"}
ARROW_ROOM = 84.0
"""Width kept for the arrow that points forwards."""
RADIUS = 20.0


class GateView(Paper):
    """The slots in which the lever moves; press a gear to engage it."""

    engage = pyqtSignal(object)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName("Gate")
        self.setMinimumHeight(160)
        self._places: list[tuple[GatePlace, QRectF]] = []

    def words(self) -> str:
        if self.evaluation is None:
            return ""
        seen = SEEN[self.evaluation.vehicle.lever.seen_from]
        found = [
            f"{gate.name}: " + ", ".join(f"{p.gear} knob {KNOB[p.knob]}" for p in gate.places)
            for gate in gates(self.evaluation.vehicle)
        ]
        return f"{seen}; " + "; ".join(found)

    def place_of(self, gear: str) -> QPointF:
        """Where a gear is drawn, in the widget's pixels."""
        return next(box.center() for place, box in self._places if gear in place.gear.split("/"))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.evaluation is None:
            return
        for place, box in self._places:
            if box.contains(event.position()):
                now = self.evaluation.situation.gear
                names = place.gear.split("/")
                self.engage.emit(next((n for n in names if n != now), names[0]))

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        self._places = []
        found = gates(evaluation.vehicle)
        if not found:
            painter.setFont(text_font("text"))
            painter.setPen(self.theme.tokens.soft)
            middle = QRectF(self.rect())
            words = "No gear has a train yet: choose one on the Ratios bench."
            painter.drawText(middle, Qt.AlignmentFlag.AlignCenter, words)
            return
        wide = (self.width() - ARROW_ROOM) / len(found)
        for number, gate in enumerate(found):
            self._gate(painter, evaluation, gate, QRectF(number * wide, 0, wide, self.height()))
        self._forward(painter, evaluation.vehicle.lever.seen_from)

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
        knob = centre
        engaged = evaluation.situation.gear
        for place in gate.places:
            spot = at(place.x_mm, place.y_mm)
            active = engaged is not None and engaged in place.gear.split("/")
            knob = spot if active else knob
            color = tokens.back if place.reverse else tokens.run if active else tokens.ink
            painter.setBrush(tokens.panel if active else tokens.paper)
            painter.setPen(pen(color, 2.2 if active else 1.6))
            font = figure_font("figure" if len(place.gear) <= 2 else "tab")
            painter.setFont(font)
            half = max(RADIUS, QFontMetricsF(font).horizontalAdvance(place.gear) / 2 + 10)
            box = QRectF(spot.x() - half, spot.y() - RADIUS, 2 * half, 2 * RADIUS)
            painter.drawRoundedRect(box, RADIUS, RADIUS)
            self._places.append((place, box))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, place.gear)
        painter.setBrush(tokens.ink)
        painter.setPen(pen(tokens.ink))
        if knob == centre:
            painter.drawEllipse(centre, 6, 6)
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        seen = SEEN[evaluation.vehicle.lever.seen_from]
        painter.drawText(QPointF(room.left() + 12, 20), f"{gate.name}, {seen}")

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
        painter.drawText(QPointF(self.width() - 70.0, 72.0), "forwards")


class GatePage(QWidget):
    """The gate with the lever's measures below."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.view = GateView(theme)
        self.view.engage.connect(session.engage)
        column.addWidget(self.view, 1)
        self.seen = self._choice("seen_from", "Seen", SEEN)
        self.first = self._choice(
            "first_rail", "First rail", {"left": "on the left", "right": "on the right"}
        )
        self.guard = self._choice(
            "reverse_guard",
            "Reverse guard",
            {"none": "no guard", "lift": "a lift", "side spring": "a side spring"},
        )
        row = self._row(column)
        for words, widget in (
            ("Seen", self.seen), ("first sleeve's rail", self.first),
            ("reverse behind", self.guard),
        ):  # fmt: skip
            row.addWidget(caption(words))
            row.addWidget(widget)
        row.addStretch(1)
        self.fields = {}
        for line in (
            (("arm_above_mm", "arm above the pivot"), ("arm_below_mm", "below"),
             ("fork_travel_mm", "fork travel"), ("rail_pitch_mm", "rail to rail")),
            (("detent_flank_deg", "detent flank °"), ("detent_spring_n", "spring N"),
             ("detent_friction", "friction")),
        ):  # fmt: skip
            row = self._row(column)
            for name, words in line:
                row.addWidget(caption(words))
                field = field_of(session, ("lever", name), words.capitalize(), width=52)
                self.fields[name] = field
                row.addWidget(field)
            if len(line) == 4:
                row.addWidget(caption("mm", "soft"))
            row.addStretch(1)
        self.words = caption("", wrap=True)
        self.words.setAccessibleName("Travels and forces of the lever")
        column.addWidget(self.words)

    @staticmethod
    def _row(column: QVBoxLayout) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(8)
        column.addLayout(row)
        return row

    def _choice(self, field: str, name: str, entries: dict[str, str]) -> QComboBox:
        made = QComboBox()
        made.setAccessibleName(name)
        for key, words in entries.items():
            made.addItem(words, key)
        made.activated.connect(
            lambda _i: self.session.do(
                Edit.one(f"Set {name.lower()}", ("lever", field), made.currentData())
            )
        )
        return made

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the gate of a vehicle."""
        lever = evaluation.vehicle.lever
        self.view.show_evaluation(evaluation)
        for made, value in (
            (self.seen, lever.seen_from), (self.first, lever.first_rail),
            (self.guard, lever.reverse_guard),
        ):  # fmt: skip
            made.setCurrentIndex(made.findData(value))
        for name, field in self.fields.items():
            field.show_value(f"{getattr(lever, name):g}")
        self.words.setText(gate_words(evaluation.vehicle))

"""The stack of a placed box along its shafts: one row a shaft, all that sits on it to scale."""

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import elided, pen
from mild_badger.app.theme.plain_tips import show_tip
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import in_mm
from mild_badger.core.layout.turning import engaged_bodies
from mild_badger.core.message import say
from mild_badger.core.structure.forks import Fork, forks_of
from mild_badger.core.structure.names import describe_body, gear_of_body, shaft_label
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.shaft_lengths import ShaftCut, StackPart, shaft_cuts
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.box import gear_key
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import describe_sleeve
from mild_badger.core.words import word

__all__ = ["SideView"]

NAMES = 104.0


class SideView(Canvas):
    """Press a slab to look at it from the end; press a gear to engage it."""

    engage = pyqtSignal(object)
    slab_wanted = pyqtSignal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-layout.stack-along-the-shafts"))
        self.setMinimumHeight(120)
        self.setMouseTracking(True)
        self.vehicle: Vehicle | None = None
        self.stack: Stack | None = None
        self.slab = ""
        self._engaged: frozenset[str] = frozenset()
        self._cuts: tuple[ShaftCut, ...] = ()
        self._forks: tuple[Fork, ...] = ()
        self._spots: list[tuple[QRectF, str, str, str | None]] = []

    def show_box(self, evaluation: Evaluation, vehicle: Vehicle, slab: str) -> None:
        """Show a vehicle's layout along its shafts, with the chosen slab marked."""
        engaged = engaged_bodies(vehicle, evaluation.situation.gear)
        self.show_stack(evaluation, vehicle, stack_for(vehicle), slab, engaged)

    def show_stack(
        self,
        evaluation: Evaluation,
        vehicle: Vehicle,
        stack: Stack | None,
        slab: str,
        engaged: frozenset[str],
    ) -> None:
        """Show a box along its shafts, the gears that carry power heavier; None for no box."""
        self.vehicle, self.slab, self.stack, self._engaged = vehicle, slab, stack, engaged
        if self.stack is not None:
            self._cuts = shaft_cuts(vehicle, self.stack)
            self._forks = forks_of(vehicle, self.stack)
        self.show_evaluation(evaluation)

    def words(self) -> str:
        if self.stack is None:
            return ""
        vehicle = self.vehicle
        if vehicle is None:
            return ""
        named = [vehicle.train_title(slab) for slab in self.stack.slabs]
        rows = [
            say(
                "tab-layout.to",
                shaft_label=shaft_label(vehicle, rod.name),
                named=named[rod.first],
                named_2=named[rod.last],
            )
            for rod in self.stack.rods.values()
        ]
        rows += [
            say(
                "tab-layout.fork-of",
                sleeve=describe_sleeve(fork.rail.name),
                sleeve_2=describe_sleeve(fork.column),
            )
            for fork in self._forks
        ]
        return "; ".join(rows)

    def _x(self, stack: Stack, at_mm: float) -> float:
        """Where a place along the box is drawn."""
        return NAMES + at_mm * (self.width() - NAMES - 16) / stack.length_mm

    def _edges(self, stack: Stack) -> list[float]:
        return [self._x(stack, edge) for edge in stack.edges_mm]

    def place_of(self, slab: str) -> QPointF:
        """Where a slab's heading is drawn, in the widget's pixels."""
        if self.stack is None:
            return QPointF()
        edges = self._edges(self.stack)
        number = self.stack.slabs.index(slab)
        return QPointF((edges[number] + edges[number + 1]) / 2, 12)

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        tokens, stack, vehicle = self.theme.tokens, self.stack, self.vehicle
        self._spots = []
        if stack is None or vehicle is None or not stack.rods:
            return
        edges = self._edges(stack)
        top, bottom = 24.0, self.height() - 6.0
        painter.setFont(text_font("small"))
        for number, name in enumerate(stack.slabs):
            box = QRectF(edges[number], 0, edges[number + 1] - edges[number], self.height())
            if number in stack.walls:
                painter.fillRect(box.adjusted(0, top, 0, -6), tokens.panel)
            if name == self.slab:
                painter.fillRect(box, tokens.run_wash)
            head = QRectF(box.left() - 8, 2, box.width() + 16, 18)
            plain = stack.kinds[number] in UNNAMED or (
                stack.own is not None and stack.kinds[number] == "gears"
            )
            short = "" if plain else _slab(vehicle, name, stack.kinds[number])
            if painter.fontMetrics().horizontalAdvance(short) > box.width() + 6:
                short = short[:1].upper()
            painter.setPen(tokens.run if name == self.slab else tokens.soft)
            painter.drawText(head, int(Qt.AlignmentFlag.AlignCenter), short)
            self._spots.append((QRectF(box.left(), 0, box.width(), top), name, "", None))
        reverse = evaluation.engaged is not None and evaluation.engaged.reverse
        reverse = reverse and stack.own is None
        accent = tokens.back if reverse else tokens.run
        step = (bottom - top) / (len(self._cuts) + len(self._forks))
        high = min(step * 0.8, 16.0)
        rows = {cut.name: top + (row + 0.5) * step for row, cut in enumerate(self._cuts)}
        for row, fork in enumerate(self._forks, start=len(self._cuts)):
            y = top + (row + 0.5) * step
            self._fork(painter, fork, y, rows[fork.shaft])
            if step > 8:
                self._name(painter, describe_sleeve(fork.rail.name), y, None)
        for cut in self._cuts:
            heavy = any(d.shaft == cut.name and d.body in self._engaged for d in stack.discs)
            self._shaft(painter, cut, rows[cut.name], accent=accent if heavy else None)
            if step > 8:
                self._name(
                    painter,
                    shaft_label(vehicle, cut.name),
                    rows[cut.name],
                    accent if heavy else None,
                )
            for part in cut.parts:
                self._part(painter, cut.name, part, (rows[cut.name], high), accent)

    def _name(self, painter: QPainter, words: str, y: float, accent: QColor | None) -> None:
        painter.setPen(accent or self.theme.tokens.soft)
        label = elided(words, painter.font(), NAMES - 12)
        box = QRectF(8, y - 8, NAMES - 14, 16)
        painter.drawText(box, int(Qt.AlignmentFlag.AlignVCenter), label)

    def _shaft(self, painter: QPainter, cut: ShaftCut, y: float, *, accent: QColor | None) -> None:
        """Draw a shaft as far as it must reach, and dashed what stands out of its length."""
        if self.stack is None:
            return
        least = NAMES - 8.0  # a long stub does not run over the names
        start, end = (self._x(self.stack, cut.from_mm + d) for d in (0.0, cut.needed_mm))
        start = max(start, least)
        painter.setPen(pen(accent or self.theme.tokens.ink, 2.2 if accent else 1.2))
        painter.drawLine(QLineF(start, y, end, y))
        if cut.overhang_mm > 0:
            painter.setPen(pen(self.theme.tokens.soft, 1.2, dashed=True))
            if cut.out_first:
                painter.drawLine(QLineF(max(self._x(self.stack, cut.start_mm), least), y, start, y))
                return
            out = self._x(self.stack, cut.from_mm + cut.needed_mm + cut.overhang_mm)
            painter.drawLine(QLineF(end, y, min(out, self.width() - 4.0), y))

    def _part(
        self,
        painter: QPainter,
        shaft: str,
        part: StackPart,
        row: tuple[float, float],
        accent: QColor,
    ) -> None:
        """Draw one part of a shaft; ``row`` is where the shaft lies and how high its parts are."""
        tokens, stack, vehicle = self.theme.tokens, self.stack, self.vehicle
        if stack is None or vehicle is None:
            return
        gear: str | None = None
        y, high = row
        left, right = self._x(stack, part.from_mm), self._x(stack, part.to_mm)
        middle = (part.from_mm + part.to_mm) / 2
        slab = next((n for n, e in enumerate(stack.edges_mm[1:]) if middle <= e), 0)
        disc = next((d for d in stack.discs if d.shaft == shaft and d.slab == slab), None)
        box = QRectF(left, y - high / 2, max(right - left, 1.5), high)
        words: str = say(
            "tab-layout.from",
            words=part.words,
            length_mm=in_mm(part.length_mm, significant=4),
            from_mm=in_mm(part.from_mm, significant=4),
        )
        if part.kind in ("gear", "free gear", "sleeve", "hub", "clutch") and disc is not None:
            mine = disc.body in self._engaged
            if part.kind == "sleeve":  # dashed where it travels, whole where it stands
                painter.setPen(pen(tokens.soft, 1, dashed=True))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(box.adjusted(1, high * 0.2, -1, -high * 0.2))
                inset = box.width() / 3
                box = box.adjusted(inset, 0, -inset, 0)
            painter.setPen(pen(accent if mine else tokens.ink, 2.2 if mine else 1))
            painter.setBrush(tokens.run_wash if mine else tokens.paper)
            painter.drawRoundedRect(box, 2, 2)
            text = str(disc.teeth) if disc.teeth else self._toothless(part.kind, box.width())
            if high > 11 and painter.fontMetrics().horizontalAdvance(text) < box.width():
                painter.setPen(accent if mine else tokens.ink)
                painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), text)
            body = describe_body(vehicle, disc.body)
            body = say("tab-layout.teeth-3", body=body, teeth=disc.teeth) if disc.teeth else body
            gear = gear_of_body(vehicle, disc.body)
            words = f"{body}; {words}"
        elif part.kind in ("spacer", "post"):
            painter.setPen(pen(tokens.soft, 1))
            painter.setBrush(tokens.panel)
            painter.drawRect(box.adjusted(0, high * 0.3, 0, -high * 0.3))
        elif part.kind == "wall" and part.bearing:  # a bearing: a cross in a square
            side = min(box.width(), high) * 0.8
            box = QRectF(box.center().x() - side / 2, y - side / 2, side, side)
            painter.setPen(pen(tokens.ink, 1))
            painter.setBrush(tokens.paper)
            painter.drawRect(box)
            painter.drawLine(QLineF(box.topLeft(), box.bottomRight()))
            painter.drawLine(QLineF(box.topRight(), box.bottomLeft()))
        self._spots.insert(0, (box, stack.slabs[slab], words, gear))

    @staticmethod
    def _toothless(kind: str, wide: float) -> str:
        """Letter a hub, a one-way clutch or a sleeve, a narrow sleeve by S alone."""
        if kind == "hub":
            return word(kind) if wide > WIDE_SLEEVE_PX else "H"
        if kind == "clutch":
            return say("layout.one-way-clutch") if wide > WIDE_SLEEVE_PX else ""
        return say("tab-layout.sleeve") if wide > WIDE_SLEEVE_PX else "S"

    def _fork(self, painter: QPainter, fork: Fork, y: float, sleeve_y: float) -> None:
        """Draw a fork's rail in a row of its own, and its arm to the sleeve's row."""
        stack, tokens = self.stack, self.theme.tokens
        if stack is None:
            return
        left = self._x(stack, stack.edges_mm[fork.rail.first])
        right = self._x(stack, stack.edges_mm[fork.rail.last + 1])
        x = self._x(stack, stack.middle_mm(fork.slab))
        painter.setPen(pen(tokens.ink, 1.2))
        painter.drawLine(QLineF(left, y, right, y))
        painter.setPen(pen(tokens.soft, 1, dashed=True))
        painter.drawLine(QLineF(x, y, x, sleeve_y))
        painter.setPen(pen(tokens.ink, 1.2))
        painter.setBrush(tokens.paper)
        box = QRectF(x - 3, y - 5, 6, 10)
        painter.drawRect(box)
        words = say("tab-layout.fork-of-on-its-rail", sleeve=describe_sleeve(fork.column))
        self._spots.insert(0, (box.adjusted(-4, 0, 4, 0), stack.slabs[fork.slab], words, None))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for box, slab, _, gear in self._spots:
            if box.contains(event.position()):
                self.slab_wanted.emit(slab)
                if gear is not None:
                    self.engage.emit(gear)
                return

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for box, slab, words, _ in self._spots:
            if box.contains(event.position()):
                name = slab if self.vehicle is None else self.vehicle.train_title(slab)
                show_tip(event.globalPosition().toPoint(), words or name, self)
                return


WIDE_SLEEVE_PX = 44
UNNAMED = ("wall", "slider", "way", "post", "clutch")
"""Kinds of slabs that need no name above them: what stands in them says it."""


def _slab(vehicle: Vehicle, name: str, kind: str) -> str:
    """Name a slab in few letters."""
    if kind in ("sleeve", "hub"):
        return "S" if kind == "sleeve" else "H"
    for gear in vehicle.real.gears:
        if name == gear_key(gear.id):
            return gear.name
    return word(name.replace("front ", "F").replace("back ", "B"))

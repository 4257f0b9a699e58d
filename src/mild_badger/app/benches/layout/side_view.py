"""The stack of a placed box along its shafts: walls, layers, gears, sleeves, one row a shaft."""

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter
from PyQt6.QtWidgets import QToolTip

from mild_badger.app.drawing.marks import elided, pen
from mild_badger.app.drawing.paper import Paper
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.layout.frame import slab_edges
from mild_badger.core.layout.shaft_box import stack_for
from mild_badger.core.layout.turning import engaged_bodies
from mild_badger.core.layout.verify import Stack
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["SideView"]

NAMES = 104.0


class SideView(Paper):
    """Press a slab to look at it from the end; press a gear to engage it."""

    engage = pyqtSignal(object)
    slab_wanted = pyqtSignal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName("Stack along the shafts")
        self.setMinimumHeight(120)
        self.setMouseTracking(True)
        self.vehicle: Vehicle | None = None
        self.stack: Stack | None = None
        self.slab = ""
        self._engaged: frozenset[str] = frozenset()
        self._spots: list[tuple[QRectF, str, str]] = []

    def show_box(self, evaluation: Evaluation, vehicle: Vehicle, slab: str) -> None:
        """Show a vehicle's layout along its shafts, with the chosen slab marked."""
        self.vehicle, self.slab = vehicle, slab
        self.stack = stack_for(vehicle)
        self._engaged = engaged_bodies(vehicle, evaluation.situation.gear)
        self.show_evaluation(evaluation)

    def words(self) -> str:
        if self.stack is None:
            return ""
        return "; ".join(
            f"{rod.name}: {self.stack.slabs[rod.first]} to {self.stack.slabs[rod.last]}"
            for rod in self.stack.rods.values()
        )

    def _edges(self, stack: Stack) -> list[float]:
        edges = slab_edges(stack)
        unit = (self.width() - NAMES - 16) / edges[-1]
        return [NAMES + edge * unit for edge in edges]

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
            short = "" if number in stack.walls else _slab(name)
            if painter.fontMetrics().horizontalAdvance(short) > box.width() + 6:
                short = short[:1].upper()
            painter.setPen(tokens.run if name == self.slab else tokens.soft)
            painter.drawText(head, int(Qt.AlignmentFlag.AlignCenter), short)
            self._spots.append((QRectF(box.left(), 0, box.width(), top), name, ""))
        reverse = evaluation.engaged is not None and evaluation.engaged.reverse
        accent = tokens.back if reverse else tokens.run
        rods = list(stack.rods.values())
        step = (bottom - top) / len(rods)
        high = min(step * 0.8, 16.0)
        for row, rod in enumerate(rods):
            y = top + (row + 0.5) * step
            discs = [d for d in stack.discs if d.shaft == rod.name]
            heavy = any(d.body in self._engaged for d in discs)
            painter.setPen(pen(accent if heavy else tokens.ink, 2.2 if heavy else 1.2))
            painter.drawLine(QLineF(edges[rod.first], y, edges[rod.last + 1], y))
            if step > 8:
                painter.setPen(accent if heavy else tokens.soft)
                label = elided(_short(rod.name), painter.font(), NAMES - 12)
                box = QRectF(8, y - 8, NAMES - 14, 16)
                painter.drawText(box, int(Qt.AlignmentFlag.AlignVCenter), label)
            for disc in discs:
                mine = disc.body in self._engaged
                left, right = edges[disc.slab], edges[disc.slab + 1]
                inset = (right - left) * (0.3 if not disc.teeth else 0.1)
                box = QRectF(left + inset, y - high / 2, right - left - 2 * inset, high)
                painter.setPen(pen(accent if mine else tokens.ink, 2.2 if mine else 1))
                painter.setBrush(tokens.run_wash if mine else tokens.paper)
                painter.drawRoundedRect(box, 2, 2)
                if high > 11:
                    text = str(disc.teeth) if disc.teeth else "sleeve" if box.width() > 44 else "S"
                    painter.setPen(accent if mine else tokens.ink)
                    painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), text)
                words = f"{disc.body}, {disc.teeth} teeth" if disc.teeth else disc.body
                self._spots.insert(0, (box, stack.slabs[disc.slab], words))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for box, slab, words in self._spots:
            if box.contains(event.position()):
                self.slab_wanted.emit(slab)
                if words.startswith("gear "):
                    self.engage.emit(words.split("/")[0].removeprefix("gear "))
                return

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for box, slab, words in self._spots:
            if box.contains(event.position()):
                QToolTip.showText(event.globalPosition().toPoint(), words or slab, self)
                return


def _short(shaft: str) -> str:
    """Name a shaft in few words: input 1, selector 1, 3, idler 1."""
    if "/" not in shaft:
        return shaft.replace(".", " ")
    gear, _, rest = shaft.partition("/")
    if rest.startswith("idler shaft "):
        rest = "idler " + rest.removeprefix("idler shaft ")
    return f"{gear.removeprefix('gear ')}: {rest}"


def _slab(name: str) -> str:
    """Name a slab in few letters."""
    if name.startswith("sleeve "):
        return "S"
    return name.removeprefix("gear ").replace("front ", "F").replace("back ", "B")

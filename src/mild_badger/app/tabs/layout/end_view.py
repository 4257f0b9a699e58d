"""A placed box seen from the input end, one slab at a time, neighbours as ghosts."""

from collections.abc import Mapping
from fractions import Fraction
from math import ceil, degrees, hypot, radians

from PyQt6.QtCore import QLineF, QPointF, QRectF, QSizeF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPolygonF, QWheelEvent

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import arc_arrow, pen, square_grid
from mild_badger.app.shown import shown
from mild_badger.app.theme.plain_tips import show_tip
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.labels import Box, LabelAsk, place_labels
from mild_badger.core.layout.manual_edit import meshes_of_shaft
from mild_badger.core.layout.turning import SeenBox, meshes_in, phases_in, seen_box
from mild_badger.core.mesh.outline import gear_outline
from mild_badger.core.mesh.seats import Seat
from mild_badger.core.message import say
from mild_badger.core.structure.forks import Fork, forks_of
from mild_badger.core.structure.names import describe_body, gear_of_body, shaft_letter
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.shaft_lengths import shaft_cuts
from mild_badger.core.structure.stack import Disc, Rod, Stack
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import signed

__all__ = ["EndView"]

HOLD_PX = 9.0
SETTLE_MS = 150
"""How long after panning and zooming teeth are drawn again; meanwhile circles keep up."""


class EndView(Canvas):
    """Hover for figures, press a gear to engage it, drag a shaft to move it; the wheel zooms.

    Signals
    -------
    engage : name of the gear whose train was pressed
    part_chosen : key of the part that was pressed
    slab_wanted : the layer that was pressed where all stand side by side
    moved : a shaft's name and where it was dropped, mm
    outlined : the corners of a hull that was drawn, mm
    """

    engage = pyqtSignal(object)
    part_chosen = pyqtSignal(str)
    slab_wanted = pyqtSignal(str)
    moved = pyqtSignal(str, float, float)
    outlined = pyqtSignal(object)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-layout.box-seen-from-the-input"))
        self.setMinimumHeight(180)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.slab = ""
        self.empty: str = say("tab-layout.no-layout-yet-press-place-the-box-and-the")
        self.vehicle: Vehicle | None = None
        self.stack: Stack | None = None
        self._zoom, self._pan = 1.0, QPointF()
        self._scale, self._origin = 1.0, QPointF()
        self._drag: tuple[str, QPointF] | None = None
        self._panning: QPointF | None = None
        self._settle = QTimer(self)
        self._settle.setSingleShot(True)
        self._settle.setInterval(SETTLE_MS)
        self._settle.timeout.connect(self.update)
        self._corners: list[tuple[float, float]] | None = None
        self._forks: tuple[Fork, ...] = ()
        self._rpm: Mapping[str, float] = {}
        self._polygons: dict[int, QPolygonF] = {}
        self._phases: dict[str, float] = {}
        self._turns: Mapping[str, Fraction | None] = {}
        self._engaged: frozenset[str] = frozenset()
        self._meshes: tuple[tuple[str, str, Seat], ...] = ()
        self._keys: dict[str, str] = {}
        self.marked = ""
        self.all_layers = False
        """Whether all layers stand side by side, not one of them alone."""
        self.label_boxes: list[QRectF] = []
        self._asks: list[tuple[LabelAsk, tuple[str, ...], QColor, QColor | None]] = []
        self._cells: list[tuple[QRectF, str]] = []

    def choose(self, part: str) -> None:
        """Mark a part by its key; "" for none."""
        self.marked = part
        self.update()

    def show_layers(self, every: bool) -> None:
        """Show all layers side by side, or one of them."""
        self.all_layers = every
        self._zoom, self._pan = 1.0, QPointF()
        self.update()

    def show_box(self, evaluation: Evaluation, vehicle: Vehicle, slab: str) -> None:
        """Show one slab of a vehicle's layout: the document's own, or one that is proposed."""
        stack, situation = stack_for(vehicle), evaluation.situation
        seen = (
            None if stack is None else seen_box(vehicle, stack, situation.gear, situation.motor_rpm)
        )
        self.show_seen(evaluation, vehicle, seen, slab)

    def show_seen(
        self, evaluation: Evaluation, vehicle: Vehicle, seen: SeenBox | None, slab: str
    ) -> None:
        """Show one slab of a box as it runs; None for no box."""
        self.vehicle, self.slab = vehicle, slab
        self.stack = None if seen is None else seen.stack
        self._polygons = {}
        if self.stack is not None and seen is not None:  # once for all frames: panning only paints
            number = self.stack.slabs.index(slab) if slab in self.stack.slabs else 0
            self._turns, self._rpm, self._engaged = seen.turns, seen.rpm, seen.engaged
            self._keys = {
                part.body: part.key
                for cut in shaft_cuts(vehicle, self.stack)
                for part in cut.parts
                if part.body
            }
            self._look_into(vehicle, self.stack, number)
        self.show_evaluation(evaluation)

    def _look_into(self, vehicle: Vehicle, stack: Stack, number: int) -> None:
        """Gather what stands in one layer."""
        forks = forks_of(vehicle, stack)
        self._forks = tuple(fork for fork in forks if fork.slab == number)
        self._meshes = meshes_in(vehicle, stack, number)
        self._phases = phases_in(stack, number, self._meshes)

    def words(self) -> str:
        stack, vehicle = self.stack, self.vehicle
        if stack is None or vehicle is None or self.slab not in stack.slabs:
            return ""
        number = stack.slabs.index(self.slab)
        discs = [d for d in stack.discs if d.slab == number]
        return f"{vehicle.train_title(self.slab)}: " + ", ".join(
            self._describe_disc(d) for d in discs
        )

    def place_of(self, shaft: str) -> QPointF:
        """Where a shaft is drawn, in the widget's pixels."""
        if self.stack is None:
            return QPointF()
        self._fit(self.stack, QRectF(self.rect()))
        return self._at(self.stack.rods[shaft])

    def _fit(self, stack: Stack, whole: QRectF) -> None:
        reach = dict.fromkeys(stack.rods, 4.0)
        for disc in stack.discs:
            reach[disc.shaft] = max(reach[disc.shaft], disc.radius_mm)
        rods = stack.rods.values()
        left = min(r.x_mm - reach[r.name] for r in rods)
        right = max(r.x_mm + reach[r.name] for r in rods)
        low = min(r.y_mm - reach[r.name] for r in rods)
        high = max(r.y_mm + reach[r.name] for r in rods)
        room = whole.adjusted(16, 14, -16, -26)
        base = min(room.width() / (right - left), room.height() / (high - low))
        self._scale = base * self._zoom
        middle = QPointF((left + right) / 2, -(low + high) / 2) * self._scale
        self._origin = room.center() - middle + self._pan

    def _at(self, rod: Rod) -> QPointF:
        return QPointF(rod.x_mm, -rod.y_mm) * self._scale + self._origin

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        tokens, stack, vehicle = self.theme.tokens, self.stack, self.vehicle
        if stack is None or vehicle is None or not stack.rods:
            self.say_instead(painter, self.empty)
            return
        number = stack.slabs.index(self.slab) if self.slab in stack.slabs else 0
        reverse = evaluation.engaged is not None and evaluation.engaged.reverse
        reverse = reverse and stack.own is None
        accent = tokens.back if reverse else tokens.run
        self.label_boxes, self._cells = [], []
        if self.all_layers:
            self._every_layer(painter, vehicle, stack, accent)
            self._look_into(vehicle, stack, number)
            return
        whole = QRectF(self.rect())
        self._layer(painter, (vehicle, stack, number), whole, accent)
        words = say(
            "tab-layout.seen-from-the-input-to-scale-rings-the",
            train_title=vehicle.train_title(self.slab),
        )
        self._titled(painter, whole, words)
        if self._drag is not None:
            self._dragged(painter, vehicle)

    def _titled(self, painter: QPainter, room: QRectF, words: str) -> None:
        painter.setPen(self.theme.tokens.soft)
        painter.setFont(text_font("small"))
        painter.drawText(QPointF(room.left() + 12, room.bottom() - 9), shown(words))

    def _every_layer(
        self, painter: QPainter, vehicle: Vehicle, stack: Stack, accent: QColor
    ) -> None:
        """Draw all layers that hold gears side by side, in the order of the stack."""
        numbers = sorted({disc.slab for disc in stack.discs})
        columns = max(ceil((len(numbers) * self.width() / max(self.height(), 1)) ** 0.5), 1)
        columns = min(columns, len(numbers))
        lines = ceil(len(numbers) / max(columns, 1))
        wide, high = self.width() / max(columns, 1), self.height() / max(lines, 1)
        for place, number in enumerate(numbers):
            line, column = divmod(place, columns)
            room = QRectF(column * wide, line * high, wide, high)
            painter.save()
            painter.setClipRect(room)
            self._look_into(vehicle, stack, number)
            self._layer(painter, (vehicle, stack, number), room, accent)
            name = stack.slabs[number]
            self._titled(painter, room, vehicle.train_title(name))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            chosen = name == self.slab
            painter.setPen(pen(self.theme.tokens.run if chosen else self.theme.tokens.hair, 1.2))
            painter.drawRect(room.adjusted(1, 1, -1, -1))
            painter.restore()
            self._cells.append((room, name))

    def _layer(
        self,
        painter: QPainter,
        what: tuple[Vehicle, Stack, int],
        room: QRectF,
        accent: QColor,
    ) -> None:
        """Draw one layer into a room of the picture, neighbours as rings."""
        vehicle, stack, number = what
        tokens = self.theme.tokens
        self._fit(stack, room)
        if not self.all_layers:
            self._grid(painter, vehicle, room)
        self._hull(painter, vehicle)
        for disc in stack.discs:
            if abs(disc.slab - number) == 1:
                painter.setPen(pen(tokens.hair, 1))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                r = disc.radius_mm * self._scale
                painter.drawEllipse(self._at(stack.rods[disc.shaft]), r, r)
        own = sorted((d for d in stack.discs if d.slab == number), key=lambda d: -d.radius_mm)
        self._asks = []
        for disc in own:
            self._disc(painter, vehicle, disc, accent if disc.body in self._engaged else None)
        for fork in self._forks:
            self._fork(painter, fork)
        if not self.all_layers:
            self._badges(painter, stack, number)
        by_shaft = {disc.shaft: disc for disc in own}
        for rod in (*stack.rods.values(), *(fork.rail for fork in self._forks)):
            passes = rod.first <= number <= rod.last
            self._rod(painter, rod, passes=passes, accent=accent, disc=by_shaft.get(rod.name))
        self._write_labels(painter, room)

    def _write_labels(self, painter: QPainter, room: QRectF) -> None:
        """Write a layer's labels, each clear of the others, with a line where one stands off."""
        tokens = self.theme.tokens
        inside = Box(room.left() + 2, room.top() + 2, room.right() - 2, room.bottom() - 22)
        placed = place_labels([ask for ask, _, _, _ in self._asks], inside)
        for (ask, lines, color, frame), label in zip(self._asks, placed, strict=True):
            if label is None:
                continue
            if label.led:
                painter.setPen(pen(tokens.soft, 1))
                painter.drawLine(QLineF(*ask.anchor, *label.box.middle))
            box = QRectF(QPointF(label.box.left, label.box.top), QSizeF(*ask.size))
            ground = QColor(tokens.paper)
            ground.setAlpha(220)
            painter.setPen(Qt.PenStyle.NoPen if frame is None else pen(frame, 1.2))
            painter.setBrush(ground)
            painter.drawRoundedRect(box, 2, 2)
            painter.setPen(color)
            high = box.height() / len(lines)
            for number, words in enumerate(lines):
                painter.setFont(text_font("small", bold=number == 0 and frame is None))
                line = QRectF(box.left(), box.top() + number * high, box.width(), high)
                painter.drawText(line, int(Qt.AlignmentFlag.AlignCenter), words)
            self.label_boxes.append(box)

    def _ask(
        self,
        painter: QPainter,
        lines: tuple[str, ...],
        ask: tuple[QPointF, float, QPointF | None],
        color: QColor,
        frame: QColor | None = None,
    ) -> None:
        """Ask for a label's place: its anchor, how near it may stand, where it would stand."""
        painter.setFont(text_font("small", bold=True))
        metrics = painter.fontMetrics()
        wide = max(metrics.horizontalAdvance(words) for words in lines) + 5.0
        anchor, near, first = ask
        size = wide, (metrics.height() - 1.0) * len(lines)
        would = None if first is None else (first.x(), first.y())
        label = LabelAsk((anchor.x(), anchor.y()), size, near, would)
        self._asks.append((label, lines, color, frame))

    def _grid(self, painter: QPainter, vehicle: Vehicle, room: QRectF) -> None:
        step = vehicle.kit.grid_unit_mm * self._scale
        square_grid(painter, self.theme.tokens, room, self._origin, step)

    def _disc(self, painter: QPainter, vehicle: Vehicle, disc: Disc, accent: QColor | None) -> None:
        tokens = self.theme.tokens
        if self.stack is None:
            return
        centre = self._at(self.stack.rods[disc.shaft])
        fill = QColor(tokens.run_wash if accent is not None else tokens.panel)
        fill.setAlpha(190)
        painter.setBrush(fill)
        marked = bool(self.marked) and self._keys.get(disc.body) == self.marked
        painter.setPen(pen(accent or tokens.ink, 3.2 if marked else 2.2 if accent else 1.2))
        size = vehicle.kit.size(disc.teeth) if disc.teeth else None
        if size is None or self._settle.isActive():
            r = disc.radius_mm * self._scale
            painter.drawEllipse(centre, r, r)
        else:
            if disc.teeth not in self._polygons:
                outline = gear_outline(
                    disc.teeth,
                    vehicle.kit.module_mm,
                    size.tip_diameter_mm,
                    radians(vehicle.kit.pressure_angle_deg),
                )
                self._polygons[disc.teeth] = QPolygonF([QPointF(x, -y) for x, y in outline])
            painter.save()
            painter.translate(centre)
            painter.scale(self._scale, self._scale)
            painter.rotate(-degrees(self._phases.get(disc.body, 0.0)))  # y runs down here
            painter.drawPolygon(self._polygons[disc.teeth])
            painter.restore()

    def _toothless(self, disc: Disc) -> str:
        clutch = self.stack is not None and self.stack.kinds[disc.slab] == "clutch"
        return say("layout.one-way-clutch") if clutch else say("tab-layout.sleeve")

    def _rod(
        self, painter: QPainter, rod: Rod, *, passes: bool, accent: QColor, disc: Disc | None
    ) -> None:
        """Draw a shaft, and ask for its label: letter and teeth, sign and speed."""
        tokens = self.theme.tokens
        centre = self._at(rod)
        painter.setPen(pen(tokens.ink if passes else tokens.hair, 1.4))
        painter.setBrush(tokens.ink if passes else Qt.BrushStyle.NoBrush)
        radius = max(2.4 * self._scale * 0.8, 3.0) if passes else 2.5
        painter.drawEllipse(centre, radius, radius)
        letter = "" if self.vehicle is None else shaft_letter(self.vehicle, rod.name)
        turns = self._turns.get(rod.name)
        turning = passes and bool(turns)
        if turning and turns:
            painter.setPen(pen(accent, 1.4))
            arc_arrow(painter, centre, radius + 6, clockwise=turns > 0)
        lines = [letter] if letter else []
        color = tokens.ink if passes else tokens.soft
        first: QPointF | None = None
        if disc is not None:
            teeth = str(disc.teeth) if disc.teeth else self._toothless(disc)
            lines = [" · ".join([*lines, teeth])]
            if disc.body in self._engaged:
                color = accent
            if turning and not self.all_layers:
                lines.append(signed(self._rpm.get(rod.name, 0), "+.0f"))
            # inside the gear where that has room below its shaft
            if disc.radius_mm * self._scale > radius + 30.0:
                first = centre + QPointF(0.0, radius + 8.0 + 7.0 * len(lines))
        if lines and (disc is not None or not self.all_layers):
            near = radius + (9.0 if turning else 3.0)
            self._ask(painter, tuple(lines), (centre, near, first), color)

    def _hull(self, painter: QPainter, vehicle: Vehicle) -> None:
        """Draw the hull's outline, and the one that is being drawn."""
        tokens = self.theme.tokens

        def at(corner: tuple[float, float]) -> QPointF:
            return QPointF(corner[0], -corner[1]) * self._scale + self._origin

        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen(tokens.soft, 1.6, dashed=True))
        painter.drawPolygon(QPolygonF([at(corner) for corner in vehicle.placing.outline_mm]))
        if self._corners is not None:
            painter.setPen(pen(tokens.run, 1.6))
            painter.drawPolyline(QPolygonF([at(corner) for corner in self._corners]))
            for corner in self._corners:
                painter.drawEllipse(at(corner), 3, 3)

    def _fork(self, painter: QPainter, fork: Fork) -> None:
        tokens = self.theme.tokens
        painter.setPen(pen(tokens.ink, 1.2))
        fill = QColor(tokens.panel)
        fill.setAlpha(140)
        painter.setBrush(fill)
        points = [QPointF(x, -y) * self._scale + self._origin for x, y in fork.outline]
        painter.drawPolygon(QPolygonF(points))

    def _badges(self, painter: QPainter, stack: Stack, number: int) -> None:
        tokens = self.theme.tokens
        discs = {d.body: d for d in stack.discs if d.slab == number}
        painter.setFont(text_font("small"))
        for one, other, seat in self._meshes:
            a, b = (self._at(stack.rods[discs[body].shaft]) for body in (one, other))
            share = discs[one].teeth / (discs[one].teeth + discs[other].teeth)
            spot = a + (b - a) * share
            error = seat.engagement.seat_error_mm
            if abs(error) < 0.005 and seat.verdict.runs:
                continue
            color = tokens.good if seat.verdict.runs else tokens.bad
            self._ask(painter, (signed(error, "+.2f"),), (spot, 2.0, spot), color, color)

    def _dragged(self, painter: QPainter, vehicle: Vehicle) -> None:
        if self._drag is None:
            return
        tokens = self.theme.tokens
        name, here = self._drag
        unit = vehicle.kit.grid_unit_mm
        x, y = (c / unit for c in self._place_mm(here))
        painter.setPen(pen(tokens.run, 2.2))
        painter.setBrush(tokens.paper)
        painter.drawEllipse(here, 6, 6)
        painter.setFont(text_font("small", bold=True))
        step = 2 if vehicle.placing.half_units else 1
        snapped = (round(x * step) / step, round(y * step) / step)
        lines = [f"({signed(snapped[0], 'g')}, {signed(snapped[1], 'g')}) u"]
        at = (snapped[0] * unit, snapped[1] * unit)
        lines += [mesh.summary for mesh in meshes_of_shaft(vehicle, name, *at)]
        box = QRectF(here.x() + 12, here.y() - 8, 190, 16 * len(lines) + 6)
        painter.drawRoundedRect(box, 3, 3)
        painter.setPen(tokens.ink)
        for number, words in enumerate(lines):
            painter.drawText(QPointF(box.left() + 6, box.top() + 14 + 16 * number), words)

    def _place_mm(self, here: QPointF) -> tuple[float, float]:
        place = (here - self._origin) / self._scale
        return place.x(), -place.y()

    def _describe_disc(self, disc: Disc) -> str:
        if self.vehicle is None:
            return ""
        words = describe_body(self.vehicle, disc.body)
        return say("tab-layout.teeth", teeth=disc.teeth, words=words) if disc.teeth else words

    def _rod_near(self, here: QPointF) -> str | None:
        if self.stack is None:
            return None
        for rod in self.stack.rods.values():
            apart = self._at(rod) - here
            if hypot(apart.x(), apart.y()) < HOLD_PX:
                return rod.name
        return None

    def _disc_near(self, here: QPointF) -> Disc | None:
        if self.stack is None or self.slab not in self.stack.slabs:
            return None
        number = self.stack.slabs.index(self.slab)
        hits = []
        for disc in self.stack.discs:
            apart = self._at(self.stack.rods[disc.shaft]) - here
            if disc.slab == number and hypot(apart.x(), apart.y()) < disc.radius_mm * self._scale:
                hits.append(disc)
        return min(hits, key=lambda d: d.radius_mm, default=None)

    def outline_hull(self) -> None:
        """Let the builder draw the hull corner by corner; Enter closes it, Escape gives up."""
        self._corners = []
        self.setFocus()
        self.update()

    @property
    def outlining(self) -> bool:
        """Whether the hull is being drawn."""
        return self._corners is not None

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or self._corners is None:
            super().keyPressEvent(event)
            return
        if event.key() == Qt.Key.Key_Escape:
            self._corners = None
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            corners, self._corners = self._corners, None
            self.outlined.emit(tuple(corners))
        elif event.key() == Qt.Key.Key_Backspace:
            self._corners = self._corners[:-1]
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        here = event.position()
        if self._corners is not None and event.button() is Qt.MouseButton.LeftButton:
            half = (self.vehicle.kit.grid_unit_mm if self.vehicle else 8.0) / 2
            x, y = (round(c / half) * half for c in self._place_mm(here))
            self._corners = [*self._corners, (x, y)]
            self.update()
            return
        cell = next((name for room, name in self._cells if room.contains(here)), None)
        if cell is not None:
            self.slab_wanted.emit(cell)
            return
        rod = self._rod_near(here)
        if event.button() is not Qt.MouseButton.LeftButton:
            self._panning = here
        elif rod is not None:
            self._drag = (rod, here)
        else:
            disc = self._disc_near(here)
            if disc is not None and self.vehicle is not None:
                self.part_chosen.emit(self._keys.get(disc.body, ""))
                gear = gear_of_body(self.vehicle, disc.body)
                if gear is not None:
                    self.engage.emit(gear)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        here = event.position()
        if self._panning is not None:
            pan = self._pan + here - self._panning
            self._panning = here
            self.look(self._zoom, pan)
        elif self._drag is not None:
            self._drag = (self._drag[0], here)
            self.update()
        else:
            rod, disc = self._rod_near(here), self._disc_near(here)
            words = rod or (self._describe_disc(disc) if disc is not None else "")
            if words:
                show_tip(event.globalPosition().toPoint(), words, self)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._panning = None
        drag, self._drag = self._drag, None
        self.update()
        if event is None or drag is None or self.stack is None:
            return
        apart = event.position() - self._at(self.stack.rods[drag[0]])
        if hypot(apart.x(), apart.y()) > HOLD_PX:
            self.moved.emit(drag[0], *self._place_mm(event.position()))

    def mouseDoubleClickEvent(self, _event: QMouseEvent | None) -> None:
        self._zoom, self._pan = 1.0, QPointF()
        self.update()

    def look(self, zoom: float, pan: QPointF) -> None:
        """Look at a part: so many times larger, moved by so many pixels."""
        self._zoom, self._pan = zoom, pan
        self._settle.start()
        self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None and event.angleDelta().y():
            factor = 1.15 if event.angleDelta().y() > 0 else 1 / 1.15
            self.look(min(max(self._zoom * factor, 0.5), 8.0), self._pan)

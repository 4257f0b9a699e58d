"""The stack as a developed section to scale: shafts in the order of the power, cut lengthwise.

The wheel magnifies, a drag moves, a double press shows all. Press the head of a layer to look at it
from the end, a gear to engage it.
"""

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QKeyEvent, QMouseEvent, QPainter, QResizeEvent, QWheelEvent

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import pen
from mild_badger.app.shown import shown
from mild_badger.app.theme.plain_tips import show_tip
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import bare, in_mm
from mild_badger.core.layout.turning import power_bodies
from mild_badger.core.message import say
from mild_badger.core.structure.developed import (
    DevelopedSection,
    SectionFork,
    SectionPart,
    SectionShaft,
    developed_section,
)
from mild_badger.core.structure.names import (
    describe_body,
    gear_of_body,
    shaft_label,
    shaft_letter,
)
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.box import gear_key
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import describe_sleeve
from mild_badger.core.words import word

__all__ = ["SectionView"]

HEAD, LEFT, RIGHT, LOW = 22.0, 46.0, 34.0, 30.0
"""Room for layers' names above, letters left, distances right, lengths below."""
ZOOM, MOST_ZOOM, CLICK_PX = 1.2, 40.0, 4.0
UNNAMED = ("wall", "slider", "way", "post", "clutch")
"""Kinds of slabs that need no name above them: what stands in them says it."""


class SectionView(Canvas):
    """A box along its shafts.

    Signals
    -------
    engage : the gear whose gear was pressed
    slab_wanted : the layer that was pressed
    part_chosen : the key of the part that was pressed
    """

    engage = pyqtSignal(object)
    slab_wanted = pyqtSignal(str)
    part_chosen = pyqtSignal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-layout.stack-along-the-shafts"))
        self.setMinimumHeight(120)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.vehicle: Vehicle | None = None
        self.stack: Stack | None = None
        self.slab = ""
        self.whole = False
        """Whether every shaft is drawn, not those of the power alone."""
        self.marked = ""
        self.section: DevelopedSection | None = None
        self._path: tuple[str, ...] = ()
        self._zoom = 1.0
        self._off = QPointF()
        self._pressed: tuple[QPointF, QPointF] | None = None
        self._spots: list[tuple[QRectF, str, str, str | None, str]] = []

    def show_box(self, evaluation: Evaluation, vehicle: Vehicle, slab: str) -> None:
        """Show a vehicle's layout along its shafts, with the chosen slab marked."""
        path = power_bodies(vehicle, evaluation.situation.gear)
        self.show_stack(evaluation, vehicle, stack_for(vehicle), slab, path)

    def show_stack(
        self,
        evaluation: Evaluation,
        vehicle: Vehicle,
        stack: Stack | None,
        slab: str,
        path: tuple[str, ...],
    ) -> None:
        """Show a box along its shafts, what carries power heavier; None for no box."""
        self.vehicle, self.slab, self.stack, self._path = vehicle, slab, stack, path
        self.section = None
        if stack is not None and stack.rods:
            self.section = developed_section(vehicle, stack, path, whole=self.whole)
        self.show_evaluation(evaluation)

    def choose(self, part: str) -> None:
        """Mark a part by its key; "" for none."""
        self.marked = part
        self.update()

    def show_whole(self, whole: bool) -> None:
        """Draw every shaft, or those of the power alone."""
        self.whole = whole
        if self.evaluation is not None and self.vehicle is not None:
            self.show_stack(self.evaluation, self.vehicle, self.stack, self.slab, self._path)
        self.fit()

    def fit(self) -> None:
        """Show all of it."""
        self._zoom, self._off = 1.0, QPointF()
        self.update()

    def words(self) -> str:
        section, vehicle = self.section, self.vehicle
        if section is None or vehicle is None:
            return ""
        rows = [
            say(
                "tab-layout.shaft-carries",
                shaft=shaft_label(vehicle, shaft.name),
                parts=", ".join(
                    str(part.teeth)
                    for part in section.parts
                    if part.shaft == shaft.name and part.teeth
                )
                or say("tab-layout.no-gears"),
            )
            for shaft in section.shafts
        ]
        rows += [
            say(
                "tab-layout.fork-of",
                sleeve=describe_sleeve(fork.rail),
                sleeve_2=describe_sleeve(fork.sleeve),
            )
            for fork in section.forks
        ]
        return "; ".join(rows)

    # where things are drawn

    def _scale(self, section: DevelopedSection) -> float:
        long = max(section.end_mm - section.start_mm, 1.0)
        high = max(section.low_mm - section.top_mm, 1.0)
        fits = min((self.width() - LEFT - RIGHT) / long, (self.height() - HEAD - LOW) / high)
        return max(fits, 0.05) * self._zoom

    def _at(self, section: DevelopedSection, along: float, across: float) -> QPointF:
        scale = self._scale(section)
        middle = QPointF(
            LEFT + (self.width() - LEFT - RIGHT) / 2, HEAD + (self.height() - HEAD - LOW) / 2
        )
        x = along - (section.start_mm + section.end_mm) / 2
        y = across - (section.top_mm + section.low_mm) / 2
        return middle + self._off + QPointF(x * scale, y * scale)

    def _box(
        self, section: DevelopedSection, along: tuple[float, float], across: tuple[float, float]
    ) -> QRectF:
        start = self._at(section, along[0], across[0])
        end = self._at(section, along[1], across[1])
        return QRectF(start, end).normalized()

    def place_of(self, slab: str) -> QPointF:
        """Where a slab's heading is drawn, in the widget's pixels."""
        if self.stack is None or self.section is None:
            return QPointF()
        number = self.stack.slabs.index(slab)
        middle = (self.section.edges_mm[number] + self.section.edges_mm[number + 1]) / 2
        return QPointF(self._at(self.section, middle, 0.0).x(), HEAD / 2)

    def place_of_part(self, key: str) -> QPointF:
        """Where the middle of a part is drawn above its shaft."""
        section = self.section
        part = next((p for p in section.parts if p.key == key), None) if section else None
        if section is None or part is None:
            return QPointF()
        middle = (part.from_mm + part.to_mm) / 2
        return self._at(section, middle, part.across_mm - (part.inner_mm + part.outer_mm) / 2)

    # the drawing

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        section, stack, vehicle = self.section, self.stack, self.vehicle
        self._spots = []
        if section is None or stack is None or vehicle is None:
            return
        reverse = evaluation.engaged is not None and evaluation.engaged.reverse
        accent = self.theme.tokens.back if reverse and stack.own is None else self.theme.tokens.run
        painter.setClipRect(QRectF(self.rect()))
        self._slabs(painter, section, stack, vehicle)
        for fork in section.forks:
            self._fork(painter, section, fork)
        for shaft in section.shafts:
            self._shaft(painter, section, shaft, accent)
        for part in section.parts:
            self._part(painter, section, part, accent)
        self._lengths(painter, section)
        self._distances(painter, section)
        self._letters(painter, section, vehicle, accent)

    def _slabs(
        self, painter: QPainter, section: DevelopedSection, stack: Stack, vehicle: Vehicle
    ) -> None:
        """Draw walls hatched from top to bottom, the chosen layer washed, and layers' names."""
        tokens = self.theme.tokens
        top, low = HEAD, self.height() - LOW
        painter.setFont(text_font("small"))
        told = 0.0  # up to where names are written
        for number, name in enumerate(stack.slabs):
            left = self._at(section, stack.edges_mm[number], 0.0).x()
            right = self._at(section, stack.edges_mm[number + 1], 0.0).x()
            box = QRectF(left, top, right - left, low - top)
            if number in stack.walls:
                wall = self._box(
                    section,
                    (stack.edges_mm[number], stack.edges_mm[number + 1]),
                    (section.top_mm, section.low_mm),
                )
                painter.setPen(pen(tokens.soft, 1))
                painter.setBrush(QBrush(tokens.hair, Qt.BrushStyle.BDiagPattern))
                painter.drawRect(wall)
            if name == self.slab:
                painter.fillRect(box, tokens.run_wash)
            plain = stack.kinds[number] in UNNAMED or (
                stack.own is not None and stack.kinds[number] == "gears"
            )
            short = "" if plain else _slab_name(vehicle, name, stack.kinds[number])
            if painter.fontMetrics().horizontalAdvance(short) > box.width() + 6:
                short = short[:1].upper()
            painter.setPen(tokens.run if name == self.slab else tokens.soft)
            head = QRectF(left - 8, 2, right - left + 16, HEAD - 4)
            wide = painter.fontMetrics().horizontalAdvance(short)
            if (left + right - wide) / 2 >= told or name == self.slab:
                painter.drawText(head, int(Qt.AlignmentFlag.AlignCenter), short)
                told = (left + right + wide) / 2 + 3.0
            self._spots.append((QRectF(left, 0, right - left, HEAD), name, "", None, ""))

    def _shaft(
        self, painter: QPainter, section: DevelopedSection, shaft: SectionShaft, accent: QColor
    ) -> None:
        """Draw a shaft: not hatched, as is usual for what is cut along its length."""
        tokens, y = self.theme.tokens, shaft.across_mm
        box = self._box(
            section, (shaft.from_mm, shaft.to_mm), (y - shaft.radius_mm, y + shaft.radius_mm)
        )
        painter.setPen(pen(accent if shaft.live else tokens.ink, 2.0 if shaft.live else 1.2))
        painter.setBrush(tokens.run_wash if shaft.live else tokens.paper)
        painter.drawRect(box)
        line = pen(tokens.soft, 1)
        line.setStyle(Qt.PenStyle.DashDotLine)
        painter.setPen(line)
        start, end = self._at(section, shaft.from_mm, y), self._at(section, shaft.to_mm, y)
        painter.drawLine(QLineF(start.x() - 6, y := start.y(), end.x() + 6, y))

    def _part(
        self, painter: QPainter, section: DevelopedSection, part: SectionPart, accent: QColor
    ) -> None:
        tokens, vehicle, stack = self.theme.tokens, self.vehicle, self.stack
        if vehicle is None or stack is None:
            return
        if part.travel_mm:  # dashed where it goes, whole where it stands
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(pen(tokens.soft, 1, dashed=True))
            for by in (-part.travel_mm, part.travel_mm):
                for box in self._halves(section, part, by):
                    painter.drawRect(box)
        ink = accent if part.live else tokens.ink
        width = 2.0 if part.live or part.key == self.marked else 1.2
        for sign, box in zip((-1, 1), self._halves(section, part, 0.0), strict=True):
            painter.setPen(pen(ink, width))
            if part.kind == "wall":  # a bearing: a cross in a square
                painter.setBrush(tokens.paper)
                painter.drawRect(box)
                painter.drawLine(QLineF(box.topLeft(), box.bottomRight()))
                painter.drawLine(QLineF(box.topRight(), box.bottomLeft()))
                continue
            painter.setBrush(tokens.run_wash if part.live else tokens.paper)
            if part.key == self.marked:
                painter.setBrush(tokens.run_wash)
            painter.drawRect(box)
            web = part.root_mm if part.teeth else part.outer_mm
            hatched = self._box(
                section,
                (part.from_mm, part.to_mm),
                (part.across_mm + sign * part.inner_mm, part.across_mm + sign * web),
            )
            style = (
                Qt.BrushStyle.FDiagPattern
                if part.kind in ("gear", "free gear")
                else Qt.BrushStyle.BDiagPattern
            )
            painter.setBrush(QBrush(tokens.soft, style))
            painter.drawRect(hatched)
            if part.kind == "free gear":  # it does not touch its shaft
                painter.setPen(pen(tokens.paper, 2))
                edge = self._at(section, 0.0, part.across_mm + sign * part.inner_mm).y()
                painter.drawLine(QLineF(hatched.left(), edge, hatched.right(), edge))
                painter.setPen(pen(ink, 1))
                painter.drawLine(
                    QLineF(hatched.left(), edge + sign * 2, hatched.right(), edge + sign * 2)
                )
            if part.teeth:
                line = pen(tokens.soft, 1)
                line.setStyle(Qt.PenStyle.DashDotLine)
                painter.setPen(line)
                pitch = self._at(section, 0.0, part.across_mm + sign * part.pitch_mm).y()
                painter.drawLine(QLineF(box.left() - 3, pitch, box.right() + 3, pitch))
        self._tell_part(painter, section, part, ink)

    def _halves(
        self, section: DevelopedSection, part: SectionPart, by: float
    ) -> tuple[QRectF, QRectF]:
        along = part.from_mm + by, part.to_mm + by
        y = part.across_mm
        return (
            self._box(section, along, (y - part.outer_mm, y - part.inner_mm)),
            self._box(section, along, (y + part.inner_mm, y + part.outer_mm)),
        )

    def _tell_part(
        self, painter: QPainter, section: DevelopedSection, part: SectionPart, ink: QColor
    ) -> None:
        """Write a gear's teeth over it where there is room, and keep what the tip says."""
        vehicle, stack = self.vehicle, self.stack
        if vehicle is None or stack is None:
            return
        words: str = say(
            "tab-layout.from",
            words=part.words,
            length_mm=in_mm(part.to_mm - part.from_mm, significant=4),
            from_mm=in_mm(part.from_mm, significant=4),
        )
        gear: str | None = None
        if part.body:
            body = describe_body(vehicle, part.body)
            body = say("tab-layout.teeth-3", body=body, teeth=part.teeth) if part.teeth else body
            gear = gear_of_body(vehicle, part.body)
            words = f"{body}; {words}"
        upper, lower = self._halves(section, part, 0.0)
        if part.teeth:
            painter.setFont(text_font("small"))
            text = str(part.teeth)
            wide = painter.fontMetrics().horizontalAdvance(text)
            high = painter.fontMetrics().height()
            if wide <= upper.width() + 2 and high < upper.height():
                spot = QRectF(0, 0, wide + 2, high - 3)
                spot.moveCenter(upper.center())
                painter.fillRect(spot, self.theme.tokens.paper)
                painter.setPen(ink)
                painter.drawText(spot, int(Qt.AlignmentFlag.AlignCenter), text)
        for box in (upper, lower):
            self._spots.insert(0, (box, stack.slabs[part.slab], words, gear, part.key))

    def _fork(self, painter: QPainter, section: DevelopedSection, fork: SectionFork) -> None:
        """Draw a fork from its groove to its rail, which runs along above the shaft."""
        tokens, stack = self.theme.tokens, self.stack
        if stack is None:
            return
        y = fork.across_mm
        box = self._box(section, (fork.from_mm, fork.to_mm), (y - fork.rail_mm, y - fork.inner_mm))
        painter.setPen(pen(tokens.soft, 1.2))
        painter.setBrush(QBrush(tokens.soft, Qt.BrushStyle.Dense6Pattern))
        painter.drawRect(box)
        rail = self._at(section, fork.from_mm, y - fork.rail_mm)
        painter.setBrush(tokens.paper)
        painter.drawEllipse(QPointF(box.center().x(), rail.y()), 4.0, 4.0)
        words = say("tab-layout.fork-of-on-its-rail", sleeve=describe_sleeve(fork.sleeve))
        self._spots.insert(0, (box.adjusted(-3, -4, 3, 0), stack.slabs[fork.slab], words, None, ""))

    def _lengths(self, painter: QPainter, section: DevelopedSection) -> None:
        """Dimension the room between walls in a chain, and the whole over them."""
        tokens = self.theme.tokens
        painter.setFont(figure_font("small"))
        y = self.height() - LOW + 9.0
        inside = [
            (one[2], other[1]) for one, other in zip(section.walls, section.walls[1:], strict=False)
        ]
        whole = (section.edges_mm[0], section.edges_mm[-1])
        for row, spans in enumerate((inside, [whole])):
            for start, end in spans:
                self._dimension(painter, section, (start, end), y + 11.0 * row)
        painter.setPen(tokens.soft)

    def _dimension(
        self, painter: QPainter, section: DevelopedSection, span: tuple[float, float], y: float
    ) -> None:
        left, right = (self._at(section, along, 0.0).x() for along in span)
        painter.setPen(pen(self.theme.tokens.soft, 1))
        painter.drawLine(QLineF(left, y, right, y))
        for x in (left, right):
            painter.drawLine(QLineF(x, y - 3, x, y + 3))
        text = shown(bare(in_mm(span[1] - span[0], significant=4)))
        wide = painter.fontMetrics().horizontalAdvance(text)
        if wide + 6 < right - left:
            spot = QRectF((left + right - wide) / 2 - 2, y - 6, wide + 4, 12)
            painter.fillRect(spot, self.theme.tokens.paper)
            painter.setPen(self.theme.tokens.ink)
            painter.drawText(spot, int(Qt.AlignmentFlag.AlignCenter), text)

    def _distances(self, painter: QPainter, section: DevelopedSection) -> None:
        """Dimension centre distances of shafts in mesh, one below the other at the right."""
        tokens = self.theme.tokens
        painter.setFont(figure_font("small"))
        ends: list[float] = []  # of each column of dimensions, how far down it is taken
        for row in sorted(section.distances, key=lambda row: row.from_mm):
            top = self._at(section, 0.0, row.from_mm).y()
            low = self._at(section, 0.0, row.to_mm).y()
            column = next((n for n, end in enumerate(ends) if top >= end - 1.0), len(ends))
            ends[column : column + 1] = [low]
            x = self.width() - RIGHT + 8.0 - 22.0 * column
            painter.setPen(pen(tokens.soft, 1))
            painter.drawLine(QLineF(x, top, x, low))
            for y in (top, low):
                painter.drawLine(QLineF(x - 3, y, x + 3, y))
            text = shown(bare(in_mm(row.to_mm - row.from_mm, significant=4)))
            wide = painter.fontMetrics().horizontalAdvance(text)
            if wide + 4 < low - top:
                painter.save()
                painter.translate(x + 11.0, (top + low) / 2)
                painter.rotate(-90.0)
                painter.setPen(tokens.ink)
                box = QRectF(-wide / 2 - 2, -7, wide + 4, 14)
                painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), text)
                painter.restore()

    def _letters(
        self, painter: QPainter, section: DevelopedSection, vehicle: Vehicle, accent: QColor
    ) -> None:
        """Write each shaft's letter in a ring at the left; those on one line side by side."""
        tokens, taken = self.theme.tokens, list[QRectF]()
        painter.setFont(figure_font("small"))
        for shaft in section.shafts:
            letter = shaft_letter(vehicle, shaft.name)
            if not letter:
                continue
            y = self._at(section, 0.0, shaft.across_mm).y()
            ring = QRectF(6, y - 9, 18, 18)
            while any(ring.intersects(other) for other in taken):
                ring.translate(19.0, 0.0)
            taken.append(ring)
            painter.setPen(pen(accent if shaft.live else tokens.ink, 1.6 if shaft.live else 1.0))
            painter.setBrush(tokens.paper)
            painter.drawEllipse(ring)
            painter.setPen(accent if shaft.live else tokens.ink)
            painter.drawText(ring, int(Qt.AlignmentFlag.AlignCenter), letter)
            self._spots.insert(0, (ring, "", shaft_label(vehicle, shaft.name), None, ""))

    # by hand

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._off = QPointF()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            self._magnify(ZOOM ** (event.angleDelta().y() / 120.0), event.position())

    def _magnify(self, times: float, at: QPointF) -> None:
        """Magnify about a place, which stays where it is."""
        zoom = min(max(self._zoom * times, 0.5), MOST_ZOOM)
        middle = QPointF(
            LEFT + (self.width() - LEFT - RIGHT) / 2, HEAD + (self.height() - HEAD - LOW) / 2
        )
        self._off = (at - middle) - (at - middle - self._off) * (zoom / self._zoom)
        self._zoom = zoom
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        middle = QPointF(self.rect().center())
        steps = {
            Qt.Key.Key_Left: QPointF(40, 0),
            Qt.Key.Key_Right: QPointF(-40, 0),
            Qt.Key.Key_Up: QPointF(0, 40),
            Qt.Key.Key_Down: QPointF(0, -40),
        }
        if event.key() == Qt.Key.Key_PageUp:
            self._magnify(ZOOM, middle)
        elif event.key() == Qt.Key.Key_PageDown:
            self._magnify(1 / ZOOM, middle)
        elif event.key() == Qt.Key.Key_Home:
            self.fit()
        elif (step := steps.get(Qt.Key(event.key()))) is not None:
            self._off += step
            self.update()
        else:
            super().keyPressEvent(event)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and not self._spot(event.position()):
            self.fit()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self.setFocus()
            self._pressed = event.position(), self._off

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        pressed, self._pressed = self._pressed, None
        if event is None or pressed is None:
            return
        if (event.position() - pressed[0]).manhattanLength() >= CLICK_PX:
            return
        spot = self._spot(event.position())
        if spot is not None:
            _, slab, _, gear, part = spot
            if slab:
                self.slab_wanted.emit(slab)
            if part:
                self.part_chosen.emit(part)
            if gear is not None:
                self.engage.emit(gear)

    def _spot(self, place: QPointF) -> tuple[QRectF, str, str, str | None, str] | None:
        return next((spot for spot in self._spots if spot[0].contains(place)), None)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self._pressed is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self._off = self._pressed[1] + event.position() - self._pressed[0]
            self.update()
            return
        spot = self._spot(event.position())
        if spot is not None:
            _, slab, words, _, _ = spot
            name = slab if self.vehicle is None else self.vehicle.train_title(slab)
            show_tip(event.globalPosition().toPoint(), shown(words or name), self)


def _slab_name(vehicle: Vehicle, name: str, kind: str) -> str:
    """Name a slab in few letters."""
    if kind in ("sleeve", "hub"):
        return "S" if kind == "sleeve" else "H"
    for gear in vehicle.real.gears:
        if name == gear_key(gear.id):
            return gear.name
    return word(name.replace("front ", "F").replace("back ", "B"))

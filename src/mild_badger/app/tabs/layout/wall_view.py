"""One wall of a placed box: beams with their holes, or a plate with bores, posts, access holes."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import elided, pen
from mild_badger.app.theme.plain_tips import show_tip
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import bare, in_mm
from mild_badger.core.message import say
from mild_badger.core.structure.names import describe_shaft
from mild_badger.core.structure.plates import Hole, Plate
from mild_badger.core.structure.stack import Rod
from mild_badger.core.structure.walls import Beam, Wall
from mild_badger.core.words import signed, word

__all__ = ["WallView"]

EMPTY = say("tab-layout.no-walls-yet-place-the-box-on-the-page-whole")


class WallView(Canvas):
    """A wall to scale, seen from the input end; hover over a hole for what goes through it."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-layout.wall-seen-from-the-input"))
        self.setMinimumSize(240, 200)
        self.setMouseTracking(True)
        self.wall: Wall | None = None
        self.plate: Plate | None = None
        self.rods: tuple[Rod, ...] = ()
        self.unit_mm = 8.0
        self._spots: list[tuple[QPointF, float, str]] = []

    def show_wall(
        self, evaluation: Evaluation, rods: tuple[Rod, ...], wall: Wall | None, plate: Plate | None
    ) -> None:
        """Show a wall of beams with the shafts that stand in it, or a plate."""
        self.rods, self.wall, self.plate = rods, wall, plate
        self.unit_mm = evaluation.vehicle.kit.grid_unit_mm
        self.show_evaluation(evaluation)

    def words(self) -> str:
        if self.plate is not None:
            wide, high = self.plate.size_mm
            holes = "; ".join(self._describe_hole(hole) for hole in self.plate.holes)
            size = f"{signed(wide, '.1f')} × {bare(in_mm(high, 1))} × {in_mm(self.plate.thick_mm)}"
            return f"{word(self.plate.name)}, {size}: {holes}"
        if self.wall is not None:
            return f"{word(self.wall.name)}: " + "; ".join(
                _describe_beam(b) for b in self.wall.beams
            )
        return ""

    def _shaft(self, name: str) -> str:
        return name if self.evaluation is None else describe_shaft(self.evaluation.vehicle, name)

    def _describe_hole(self, hole: Hole) -> str:
        kinds = {
            "bore": say("tab-layout.bore-for"),
            "rail": say("tab-layout.bore-for"),
            "post": say("tab-layout.hole-for"),
            "access": say("tab-layout.access-to"),
        }
        return say(
            "tab-layout.at-2",
            kinds=kinds[hole.kind],
            shaft=self._shaft(hole.name),
            diameter_mm=in_mm(hole.diameter_mm),
            x_mm=hole.x_mm,
            y_mm=hole.y_mm,
        )

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        self._spots = []
        if self.plate is not None:
            self._plate(painter, self.plate)
        elif self.wall is not None:
            self._beams(painter, self.wall)
        else:
            self.say_instead(painter, EMPTY)

    def _fit(self, left: float, low: float, right: float, high: float) -> tuple[float, QPointF]:
        """Give pixels a mm, and where the point 0, 0 lies."""
        room = QRectF(self.rect()).adjusted(20, 16, -20, -44)
        scale = min(room.width() / (right - left), room.height() / (high - low))
        middle = QPointF((left + right) / 2, -(low + high) / 2) * scale
        return scale, room.center() - middle

    def _plate(self, painter: QPainter, plate: Plate) -> None:
        tokens = self.theme.tokens
        left, low, right, high = plate.outline_mm
        scale, origin = self._fit(left, low, right, high)
        painter.setPen(pen(tokens.ink, 1.6))
        painter.setBrush(tokens.panel)
        corner = QPointF(left, -high) * scale + origin
        painter.drawRect(QRectF(corner, corner + QPointF(right - left, high - low) * scale))
        painter.setFont(text_font("small"))
        for hole in plate.holes:
            at = QPointF(hole.x_mm, -hole.y_mm) * scale + origin
            radius = hole.diameter_mm * scale / 2
            light = hole.kind in ("post", "access")
            painter.setPen(
                pen(tokens.soft if light else tokens.ink, 1.4, dashed=hole.kind == "access")
            )
            painter.setBrush(tokens.paper)
            painter.drawEllipse(at, radius, radius)
            if not light:
                painter.drawLine(at - QPointF(radius + 4, 0), at + QPointF(radius + 4, 0))
                painter.drawLine(at - QPointF(0, radius + 4), at + QPointF(0, radius + 4))
            self._spots.append((at, max(radius, 6.0), self._describe_hole(hole)))
            painter.setPen(tokens.soft if light else tokens.ink)
            words = word(hole.kind) if light else f"⌀ {bare(in_mm(hole.diameter_mm))}"
            long = painter.fontMetrics().horizontalAdvance(words)
            inside = at.x() + radius + 4 + long < corner.x() + (right - left) * scale - 2
            aside = radius + 4 if inside else -radius - 4 - long
            painter.drawText(at + QPointF(aside, -4), words)
        wide, tall = plate.size_mm
        self._under(
            painter,
            say(
                "tab-layout.thick-2",
                name=plate.name,
                wide=bare(in_mm(wide, 1)),
                tall=in_mm(tall, 1),
                thick_mm=in_mm(plate.thick_mm),
            ),
        )

    def _under(self, painter: QPainter, words: str) -> None:
        """Write what is drawn under it."""
        painter.setFont(figure_font("lead"))
        painter.setPen(self.theme.tokens.ink)
        shown = elided(words, painter.font(), self.width() - 28)
        painter.drawText(QPointF(14, self.height() - 12), shown)

    def _beams(self, painter: QPainter, wall: Wall) -> None:
        tokens, unit, rods = self.theme.tokens, self.unit_mm, self.rods
        if not rods:
            return
        ends = [b.start_u + (b.length_u or 0) for b in wall.beams if not b.upright]
        right = max((*ends, *(r.x_mm / unit for r in rods))) + 1
        tops = [b.start_u + (b.length_u or 0) for b in wall.beams if b.upright]
        high = max((*tops, *(r.y_mm / unit for r in rods))) + 1
        left, low = (min(getattr(r, key) for r in rods) / unit - 1 for key in ("x_mm", "y_mm"))
        scale, origin = self._fit(left, low, right, high)

        def at(x: float, y: float) -> QPointF:
            return QPointF(x, -y) * scale + origin

        for beam in sorted(wall.beams, key=lambda b: -b.face):  # what lies behind first
            needed = beam.end_u - beam.start_u + 1
            length = beam.length_u or needed
            first = (
                at(beam.along_u, beam.start_u) if beam.upright else at(beam.start_u, beam.along_u)
            )
            half = scale * 0.45
            along = QPointF(0, -scale) if beam.upright else QPointF(scale, 0)
            last = first + along * (length - 1)
            box = QRectF(first, last).normalized().adjusted(-half, -half, half, half)
            painter.setPen(
                pen(tokens.soft if beam.upright else tokens.ink, 1.4, dashed=beam.length_u is None)
            )
            painter.setBrush(tokens.paper if beam.upright else tokens.panel)
            painter.drawRoundedRect(box, half, half)
            for hole in range(round(length)):
                spot = first + along * hole
                painter.setPen(pen(tokens.hair if hole >= needed else tokens.soft, 1))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(spot, half * 0.55, half * 0.55)
            self._spots.append((first, half, _describe_beam(beam)))
        painter.setFont(text_font("small"))
        for rod in rods:
            spot = at(rod.x_mm / unit, rod.y_mm / unit)
            between = rod.name in wall.between
            painter.setPen(pen(tokens.bad if between else tokens.ink, 1.4))
            painter.setBrush(tokens.bad if between else tokens.ink)
            painter.drawEllipse(spot, scale * 0.2, scale * 0.2)
            self._spots.insert(0, (spot, scale * 0.45, self._shaft(rod.name)))
        over = sum(b.overhang_u for b in wall.beams)
        self._under(
            painter,
            say(
                "tab-layout.beams-holes-over",
                name=word(wall.name),
                count_of_beams=len(wall.beams),
                over=over,
            ),
        )

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for spot, radius, words in self._spots:
            apart = event.position() - spot
            if apart.x() ** 2 + apart.y() ** 2 <= radius**2:
                show_tip(event.globalPosition().toPoint(), words, self)
                return


def _describe_beam(beam: Beam) -> str:
    way = "upright" if beam.upright else "splice" if beam.splices else "row"
    needed = beam.end_u - beam.start_u + 1
    if beam.length_u is None:
        return say("tab-layout.of-u-joined-of-several", way=way, needed=needed)
    return say(
        "tab-layout.of-holes-on-a-beam-of-u-over",
        way=way,
        needed=needed,
        length_u=beam.length_u,
        overhang_u=beam.overhang_u,
    )

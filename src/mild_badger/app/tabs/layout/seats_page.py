"""Seats: where each two sizes of the kit sit on the grid, as a table with a drawing."""

from math import atan2, degrees, radians

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF
from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.fields import field_of
from mild_badger.app.drawing.marks import pen, square_grid
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM, bare, in_mm
from mild_badger.core.mesh.outline import gear_outline, meshing_turn
from mild_badger.core.mesh.seat_table import SeatRow, seat_table
from mild_badger.core.message import say
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.words import signed, word
from mild_badger.text.quantities import number_text

__all__ = ["SeatsPage"]

HEADERS = (
    say("tab-layout.pair"),
    say("tab-layout.offset-u"),
    say("tab-layout.apart", mm=MM),
    say("tab-layout.seat", mm=MM),
    say("tab-layout.contact"),
    say("tab-layout.play", mm=MM),
    say("tab-layout.sits"),
)


class SeatView(Canvas):
    """Two gears at the chosen offset, to scale on the grid."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-layout.the-chosen-seat"))
        self.setMinimumSize(200, 180)
        self.row: SeatRow | None = None

    def words(self) -> str:
        row = self.row
        if row is None:
            return ""
        return say(
            "tab-layout.with-at-u",
            first=row.first,
            second=row.second,
            dx_u=row.seat.dx_u,
            dy_u=row.seat.dy_u,
        )

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        tokens, row, kit = self.theme.tokens, self.row, evaluation.vehicle.kit
        if row is None:
            return
        unit = kit.grid_unit_mm
        place = QPointF(row.seat.dx_u * unit, -row.seat.dy_u * unit)
        sizes = [kit.size(row.first), kit.size(row.second)]
        tips = [s.tip_diameter_mm / 2 if s else 10.0 for s in sizes]
        left, right = min(-tips[0], place.x() - tips[1]), max(tips[0], place.x() + tips[1])
        top, low = min(-tips[0], place.y() - tips[1]), max(tips[0], place.y() + tips[1])
        room = QRectF(self.rect()).adjusted(14, 14, -14, -14)
        scale = min(room.width() / (right - left), room.height() / (low - top), 9.0)
        origin = room.center() - QPointF((left + right) / 2, (top + low) / 2) * scale
        square_grid(painter, tokens, QRectF(self.rect()), origin, unit * scale)
        runs = row.seat.verdict.runs
        towards = atan2(row.seat.dy_u, row.seat.dx_u)
        meshing = meshing_turn((row.first, row.second), 0.0, towards)
        for teeth, size, centre, turn in (
            (row.first, sizes[0], QPointF(0, 0), 0.0),
            (row.second, sizes[1], place, meshing),
        ):
            if size is None:
                continue
            outline = gear_outline(
                teeth, kit.module_mm, size.tip_diameter_mm, radians(kit.pressure_angle_deg)
            )
            painter.setBrush(tokens.run_wash if runs else tokens.panel)
            painter.setPen(pen(tokens.run if runs else tokens.bad, 1.6))
            painter.setOpacity(0.85)
            painter.save()
            painter.translate(origin + centre * scale)
            painter.scale(scale, scale)
            painter.rotate(-degrees(turn))  # y runs down here
            painter.drawPolygon(QPolygonF([QPointF(x, -y) for x, y in outline]))
            painter.restore()
            painter.setOpacity(1.0)
            painter.setFont(figure_font("tab"))
            painter.setPen(tokens.ink)
            at = origin + centre * scale
            box = QRectF(at.x() - 20, at.y() - 10, 40, 20)
            painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), str(teeth))
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        painter.drawText(
            QPointF(12, self.height() - 8), f"{self.words()}: {word(row.seat.verdict)}"
        )


MANY = 20
"""Sizes up to which the pairs of all of them are listed at first."""


class SeatsPage(QWidget):
    """The table, narrowed to a size, and the chosen seat drawn."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self._evaluation: Evaluation | None = None
        self._rows: list[SeatRow] = []
        self._of: tuple[Kit, object, bool] | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.sizes = QComboBox()
        self.sizes.setAccessibleName(say("tab-layout.size"))
        self.sizes.activated.connect(lambda _n: self._fill())
        self.half = QCheckBox(shown(say("tab-layout.half-units")))
        self.half.clicked.connect(lambda _on: self._fill())
        column.addLayout(row_of(say("tab-layout.pairs-of"), self.sizes, self.half))
        across = QHBoxLayout()
        across.setSpacing(12)
        self.table = Table(HEADERS, say("tab-layout.seats"))
        self.table.header_right(2, 3, 4, 5)
        self.table.stretch(6)
        self.table.currentCellChanged.connect(lambda *_at: self._choose())
        across.addWidget(self.table, 3)
        self.view = SeatView(theme)
        across.addWidget(self.view, 2)
        column.addLayout(across, 1)
        self.limits = {
            name: field_of(session, ("kit", name), words, width=48)
            for name, words in (
                ("smooth_contact", say("tab-layout.contact-ratio-of-a-good-seat")),
                ("least_contact", say("tab-layout.contact-ratio-below-which-it-skips")),
                ("least_play_mm", say("tab-layout.play-below-which-it-binds")),
            )
        }
        limits = self.limits
        column.addLayout(
            row_of(
                say("tab-layout.good-from-a-contact-ratio-of"),
                limits["smooth_contact"],
                say("tab-layout.loose-down-to"),
                limits["least_contact"],
                say("tab-layout.binds-below-a-play-of"),
                limits["least_play_mm"],
                caption(MM, "soft"),
            )
        )

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the seats of a vehicle's kit."""
        self._evaluation = evaluation
        kit = evaluation.vehicle.kit
        for name, field in self.limits.items():
            field.show_value(number_text(getattr(kit, name)))
        sizes = (
            [say("tab-layout.all-sizes"), *(say("tab-layout.teeth-2", z=z) for z in kit.sizes)]
            if not kit.any_seat
            else []
        )
        if list(map(shown, sizes)) != [self.sizes.itemText(n) for n in range(self.sizes.count())]:
            self.sizes.clear()
            self.sizes.addItems(list(map(shown, sizes)))
            # of many sizes the pairs of one are enough to look through
            self.sizes.setCurrentIndex(int(len(kit.sizes) > MANY))
        self._fill()

    def _fill(self) -> None:
        if self._evaluation is None:
            return
        kit = self._evaluation.vehicle.kit
        chosen = self.sizes.currentIndex()
        first = kit.sizes[chosen - 1] if chosen > 0 else None
        key = (kit, first, self.half.isChecked())
        if key != self._of:
            self._of = key
            self._rows = seat_table(kit, first, half_units=self.half.isChecked())
            tokens = self.theme.tokens
            self.table.show_cells([self._cells(row, tokens.bad) for row in self._rows])
        self._choose()

    @staticmethod
    def _cells(row: SeatRow, bad: object) -> list[Cell]:
        engagement = row.seat.engagement
        play = (
            say("tab-layout.none")
            if row.seat.play_mm == float("-inf")
            else bare(in_mm(row.seat.play_mm, 2))
        )
        texts = (
            f"{row.first} : {row.second}",
            f"{signed(row.seat.dx_u, 'g')} × {signed(row.seat.dy_u, 'g')}",
            bare(in_mm(engagement.centre_distance_mm, 2)),
            bare(in_mm(engagement.seat_error_mm, 2, sign=True)),
            signed(engagement.contact_ratio, ".2f"),
            play,
            word(row.seat.verdict.value),
        )
        color = None if row.seat.verdict.runs else bad
        return [
            Cell(text, right=n in (2, 3, 4, 5), color=color)  # type: ignore[arg-type]
            for n, text in enumerate(texts)
        ]

    def _choose(self) -> None:
        row = self.table.currentRow()
        self.view.row = self._rows[row] if 0 <= row < len(self._rows) else None
        if self.view.row is None and self._rows:
            self.view.row = self._rows[0]
        if self._evaluation is not None:
            self.view.show_evaluation(self._evaluation)

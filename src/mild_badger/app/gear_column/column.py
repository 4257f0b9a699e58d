"""The gear column: every gear with its ratio, what is wanted, and which one is in."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QAbstractButton,
    QButtonGroup,
    QFrame,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from mild_badger.app.drawing.marks import elided, finding_mark, pen
from mild_badger.app.drawing.widgets import caption
from mild_badger.app.shown import Painter, shown
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.findings.finding import Severity, worst_severity
from mild_badger.core.message import say
from mild_badger.core.results import GearResult, GearState
from mild_badger.core.targets.schools import RatioConvention, format_ratio
from mild_badger.core.words import signed, word

__all__ = ["GearColumn"]

WIDTH = 188
KEYS_SHIFT = say("gear_column.keys-engage-1-9-0-r-and-shift-up-and-down")
KEYS_TYPE = say("gear_column.keys-type-into-the-page-esc-gives-them-back")
FULL_BAR_PERCENT = 5.0


class GearButton(QAbstractButton):
    """One gear; pressing it engages it. ``gear`` None is neutral."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._school = RatioConvention.TURNS_IN
        self._limit = 3.0
        self._shown: object = None
        self.gear: GearResult | None = None
        self.mark: Severity | None = None
        self.setCheckable(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.setMinimumHeight(46)
        self.setMaximumHeight(60)

    def sizeHint(self) -> QSize:
        return QSize(WIDTH, 60)

    def show_gear(
        self, gear: GearResult | None, school: RatioConvention, mark: Severity | None, limit: float
    ) -> None:
        """Show a gear's figures, or neutral."""
        if self._shown == (gear, school, mark, limit):
            return
        self._shown = (gear, school, mark, limit)
        self.gear, self._school, self.mark, self._limit = gear, school, mark, limit
        self.setAccessibleName(shown(self.words()))
        self.setToolTip(shown(self.words()))
        self.update()

    def words(self) -> str:
        """Say in words what the row shows."""
        gear = self.gear
        if gear is None:
            return say("gear_column.neutral-not-driven")
        got: str = say("gear_column.no-train-yet")
        if gear.ratio is not None:
            got = format_ratio(gear.ratio, self._school)
        elif gear.state is GearState.LOCKED:
            got = "locks"
        error = (
            ""
            if gear.error_percent is None
            else say(
                "gear_column.error",
                error_percent=signed(self._school.error_percent(gear.error_percent), "+.1f"),
            )
        )
        wanted = say("gear_column.no-box")
        if gear.geared:
            wanted = say("gear_column.wants", format_ratio=format_ratio(gear.wanted, self._school))
        mark = f", {word(self.mark.value)}" if self.mark else ""
        return say(
            "gear_column.gear", name=gear.name, got=got, wanted=wanted, error=error, mark=mark
        )

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        tokens = self._theme.tokens
        painter = Painter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        wide, tall = float(self.width()), float(self.height())
        gear = self.gear
        accent = tokens.back if gear is not None and gear.reverse else tokens.run
        if self.isChecked():
            painter.fillRect(self.rect(), tokens.paper)
            painter.fillRect(QRectF(0, 0, 5, tall), accent)
        if self.hasFocus():
            painter.setPen(pen(tokens.run, 1, dashed=True))
            painter.drawRect(QRectF(7.5, 2.5, wide - 10, tall - 5))
        painter.setPen(pen(tokens.hair))
        painter.drawLine(QPointF(0, tall - 0.5), QPointF(wide, tall - 0.5))
        name = "N" if gear is None else gear.name
        chosen = accent if self.isChecked() or (gear and gear.reverse) else tokens.ink
        painter.setPen(chosen)
        painter.setFont(figure_font("figure" if len(name) < 4 else "tab"))
        painter.drawText(
            QRectF(14, 0, 64, tall),
            int(Qt.AlignmentFlag.AlignVCenter),
            elided(name, painter.font(), 64),
        )
        if gear is None:
            painter.setFont(text_font("text"))
            painter.setPen(tokens.soft)
            where = QRectF(46, 0, wide - 60, tall)
            painter.drawText(
                where, int(Qt.AlignmentFlag.AlignVCenter), say("gear_column.not-driven")
            )
            return
        self._figures(painter, gear, wide, tall)

    def _figures(self, painter: QPainter, gear: GearResult, wide: float, tall: float) -> None:
        tokens = self._theme.tokens
        right = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        painter.setPen(tokens.ink)
        painter.setFont(text_font("lead", bold=True))
        got = "–"
        if gear.ratio is not None:
            got = format_ratio(gear.ratio, self._school)
        elif gear.state is GearState.LOCKED:
            got = "locks"
        top = tall * 0.1
        painter.drawText(QRectF(70, top, wide - 84, 17), right, got)
        painter.setPen(tokens.soft)
        painter.setFont(text_font("small"))
        wants = (
            say("gear_column.wants", format_ratio=format_ratio(gear.wanted, self._school))
            if gear.geared
            else say("gear_column.no-box")
        )
        painter.drawText(QRectF(70, top + 17, wide - 84, 15), right, wants)
        if self.mark is not None and self.mark is not Severity.NOTE:
            finding_mark(painter, tokens, self.mark, QPointF(84, top + 9), 6)
        if gear.error_percent is None:
            return
        level, middle, half = top + 38, wide - 74, 60.0
        painter.setPen(pen(tokens.hair, 1))
        painter.drawLine(QPointF(middle - half, level), QPointF(middle + half, level))
        shown = self._school.error_percent(gear.error_percent)
        share = max(-1.0, min(1.0, shown / FULL_BAR_PERCENT))
        inside = abs(gear.error_percent) <= self._limit
        painter.fillRect(
            QRectF(middle, level - 2.5, share * half, 5).normalized(),
            tokens.good if inside else tokens.warn,
        )
        painter.setPen(pen(tokens.soft, 1))
        painter.drawLine(QPointF(middle, level - 5), QPointF(middle, level + 5))


class GearColumn(QFrame):
    """R, N, then the forward gears in their order."""

    engage = pyqtSignal(object)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setFixedWidth(WIDTH)
        self._theme = theme
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 10, 0, 6)
        outer.setSpacing(4)
        head = caption(say("gear_column.engaged"), "head")
        head.setContentsMargins(14, 0, 0, 0)
        outer.addWidget(head)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inner = QWidget()
        self._rows = QVBoxLayout(inner)
        self._rows.setContentsMargins(0, 0, 0, 0)
        self._rows.setSpacing(0)
        self._rows.addStretch(1)
        area.setWidget(inner)
        outer.addWidget(area, 1)
        self.hint = caption("", "soft", wrap=True)
        self.hint.setContentsMargins(14, 0, 6, 0)
        outer.addWidget(self.hint)
        self.show_keys(act=True)
        self.buttons: list[GearButton] = []
        self._group = QButtonGroup(self)
        theme.changed.connect(self.update)

    def show_keys(self, *, act: bool) -> None:
        """Say whether keys engage gears, or type into what has the keyboard."""
        self.keys_act = act
        self.hint.setText(KEYS_SHIFT if act else KEYS_TYPE)

    def refresh(self, evaluation: Evaluation, school: RatioConvention) -> None:
        """Show an evaluation."""
        backwards = [gear for gear in evaluation.gears if gear.reverse]
        forwards = [gear for gear in evaluation.gears if not gear.reverse]
        rows: list[GearResult | None] = [*backwards, None, *forwards]
        while len(self.buttons) < len(rows):
            self._add_row()
        while len(self.buttons) > len(rows):
            gone = self.buttons.pop()
            self._group.removeButton(gone)
            self._rows.removeWidget(gone)
            gone.hide()
            gone.deleteLater()
        limit = evaluation.vehicle.search.tolerance_percent
        for row, gear in zip(self.buttons, rows, strict=True):
            mark = worst_severity(evaluation.findings_at(gear.id)) if gear else None
            row.show_gear(gear, school, mark, limit)
            row.setChecked((gear.id if gear else None) == evaluation.situation.gear)

    def button_of(self, gear: str | None) -> GearButton:
        """Find a gear's row; None is neutral."""
        for row in self.buttons:
            if (row.gear.id if row.gear else None) == gear:
                return row
        raise KeyError(gear)

    def _add_row(self) -> None:
        row = GearButton(self._theme)
        row.clicked.connect(
            lambda _checked=False: self.engage.emit(row.gear.id if row.gear else None)
        )
        self._group.addButton(row)
        self._rows.insertWidget(len(self.buttons), row)
        self.buttons.append(row)

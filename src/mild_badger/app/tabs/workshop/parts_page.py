"""Parts against stock, the sheet, and what can be written out."""

from dataclasses import replace
from functools import partial

from PyQt6.QtCore import (
    QBuffer,
    QByteArray,
    QIODevice,
    QRectF,
    QSize,
    QSizeF,
    Qt,
    QTimer,
    pyqtSignal,
)
from PyQt6.QtGui import QColor, QIcon, QImage, QPainter, QPaintEvent
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from mild_badger.app.drawing.figure_view import figure_icon
from mild_badger.app.drawing.marks import pen
from mild_badger.app.drawing.records import Column, RecordTable
from mild_badger.app.drawing.tables import Cell
from mild_badger.app.drawing.widgets import Paragraph, button, caption, fill
from mild_badger.app.session import Session
from mild_badger.app.shown import Painter
from mild_badger.app.theme.style import Theme
from mild_badger.core.components.component import Component
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.kit.cautions import cautions_for
from mild_badger.core.message import say, say_count
from mild_badger.core.targets.schools import parse_number
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized, signed, word
from mild_badger.core.workshop.part_figure import part_figure
from mild_badger.core.workshop.parts import (
    PartLine,
    describe_cost,
    set_pack,
    set_price,
    stock_path,
)
from mild_badger.core.workshop.shopping import ShopLine, group_of, shopping
from mild_badger.core.workshop.states import (
    Progress,
    describe_progress,
    progress_of,
)
from mild_badger.core.workshop.substitutes import Substitute, substitutes

__all__ = ["PartsPage"]

PREVIEW_DELAY_MS = 120
ICON = QSize(34, 18)
LONGEST, MOST_LETTERS = 25, 16
"""So much of a part's name and of its shafts' letters is shown; the rest stands in its tip."""


def _cut(words: str, most: int) -> str:
    return words if len(words) <= most else f"{words[: most - 1]}…"


class SheetPreview(QWidget):
    """The first page of a PDF, drawn by the PDF library itself."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._document = QPdfDocument(self)
        self._buffer: QBuffer | None = None
        self._image: QImage | None = None
        self.setMinimumWidth(190)
        self.setAccessibleName(say("tab-workshop.preview-of-the-sheet"))
        theme.changed.connect(self.update)

    def show_pdf(self, data: bytes) -> None:
        """Show a PDF."""
        self._document.close()
        buffer = QBuffer(self)
        buffer.setData(QByteArray(data))
        buffer.open(QIODevice.OpenModeFlag.ReadOnly)
        self._document.load(buffer)
        if self._buffer is not None:
            self._buffer.deleteLater()
        self._buffer = buffer
        self._image = None
        self.update()

    def page_text(self) -> str:
        """Text of the page, as one would select it."""
        return self._document.getAllText(0).text()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        if self._document.pageCount() < 1:
            return
        page = self._document.pagePointSize(0)
        scale = min(self.width() / page.width(), self.height() / page.height())
        size = QSizeF(page.width() * scale, page.height() * scale)
        ratio = self.devicePixelRatioF() * 2
        wanted = (size * ratio).toSize()
        if self._image is None or self._image.size() != wanted:
            self._image = self._document.render(0, wanted)
        painter = Painter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        box = QRectF((self.width() - size.width()) / 2, 0, size.width(), size.height())
        painter.fillRect(box, Qt.GlobalColor.white)
        painter.drawImage(box, self._image)
        painter.setPen(pen(self._theme.tokens.hair))
        painter.drawRect(box.adjusted(0.5, 0.5, -0.5, -0.5))


class PartsPage(QWidget):
    """Parts on the left, the sheet on the right."""

    export_wanted = pyqtSignal(str)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self._rows: tuple[PartLine, ...] = ()
        self._lines: dict[tuple[str, int], ShopLine] = {}
        self._first: dict[str, tuple[str, int]] = {}
        self._others: tuple[Substitute, ...] = ()
        self._progress: dict[tuple[str, int], Progress] = {}
        self._icons: dict[tuple[str, int], tuple[Component, QIcon]] = {}
        self._redraw = QTimer(self)
        self._redraw.setSingleShot(True)
        self._redraw.setInterval(PREVIEW_DELAY_MS)
        self._redraw.timeout.connect(self.draw_sheet)
        theme.changed.connect(self._repainted)
        outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(16)
        left = QVBoxLayout()
        left.setSpacing(6)
        left.addWidget(
            caption(
                say("tab-workshop.type-what-you-own-and-what-one-costs-both"),
                "soft",
                wrap=True,
            )
        )
        self.table = RecordTable(session, self._columns(), say("tab-workshop.parts-against-stock"))
        self.table.header_right(1, 2, 3, 4)
        self.table.stretch(7)
        self.table.setIconSize(ICON)
        left.addWidget(self.table, 1)
        self.cost = caption("", wrap=True)
        left.addWidget(self.cost)
        self.other = QComboBox()
        self.other.setAccessibleName(say("tab-workshop.substitutes-for-the-missing-part"))
        self.other.setSizeAdjustPolicy(
            QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        )
        self.take = button(say("tab-workshop.use-this-part"), self._take)
        line = QHBoxLayout()
        line.addWidget(self.other, 1)
        line.addWidget(self.take)
        left.addLayout(line)
        line.addWidget(self._export(say("tab-workshop.gears-csv"), "gears"))
        line.addWidget(self._export(say("tab-workshop.parts-csv"), "parts"))
        self.table.currentCellChanged.connect(lambda *_: self._show_substitutes())
        self.cautions = caption("", "soft", wrap=True)
        self.cautions.setAccessibleName(say("tab-workshop.cautions"))
        left.addWidget(Paragraph(self.cautions, most=146))
        outer.addLayout(left, 5)
        right = QVBoxLayout()
        right.setSpacing(6)
        head = QHBoxLayout()
        head.addWidget(caption(say("tab-workshop.the-sheet"), "head"))
        head.addStretch(1)
        head.addWidget(self._export(say("tab-workshop.save-pdf"), "pdf"))
        right.addLayout(head)
        self.preview = SheetPreview(theme)
        right.addWidget(self.preview, 1)
        outer.addLayout(right, 1)

    def _export(self, name: str, kind: str) -> QPushButton:
        return button(name, partial(self.export_wanted.emit, kind))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation."""
        self.cautions.setText("\n".join(cautions_for(evaluation.vehicle.kit)))
        lines = shopping(evaluation.vehicle)
        self._lines = {line.part.key: line for line in lines}
        vehicle = evaluation.vehicle
        self._progress = {line.part.key: progress_of(vehicle, line.keys) for line in lines}
        self._first = {line.group: line.part.key for line in reversed(lines)}
        # shafts are listed by length, and counted in stock all together
        stocked = [p for p in evaluation.parts if p.key == ("shaft", 0) and p.stock is not None]
        listed = [line.part for line in lines]
        rest = [part for part in stocked if part.key not in self._lines]
        self._rows = (*listed, *rest, *evaluation.spare_parts)
        self.table.show_records(self._rows)
        self.cost.setText(describe_cost(tuple(line.part for line in lines)))
        self._show_substitutes()
        self._redraw.start()

    def _icon(self, part: PartLine) -> QIcon | None:
        """Give the small picture of a part; drawn once for as long as it stays as it is."""
        line = self._lines.get(part.key)
        sample = line.sample if line is not None else None
        if sample is None:
            return None
        held = self._icons.get(part.key)
        if held is None or held[0] is not sample:
            ratio = self.devicePixelRatioF()
            held = sample, figure_icon(part_figure(sample), self.theme.tokens, ICON, ratio)
            self._icons[part.key] = held
        return held[1]

    def _repainted(self) -> None:
        """Draw the small pictures anew, in other colours."""
        self._icons.clear()
        self.refresh(self.session.evaluation)

    def _show_substitutes(self) -> None:
        """List what could be taken for the chosen part where it is short."""
        row = self.table.currentRow()
        part = self._rows[row] if 0 <= row < len(self._rows) else None
        self._others = substitutes(self.session.vehicle, part) if part is not None else ()
        fill(self.other, [(other.words, n) for n, other in enumerate(self._others)])
        for thing in (self.other, self.take):
            thing.setVisible(bool(self._others))

    def _take(self) -> None:
        number = self.other.currentIndex()
        if 0 <= number < len(self._others):
            self.session.do(self._others[number].edit)

    def draw_sheet(self) -> None:
        """Draw the preview now; while typing goes on it waits."""
        # The PDF library is loaded when the first sheet is drawn, not at every start.
        from mild_badger.core.publish.sheet import sheet_pdf  # noqa: PLC0415

        self._redraw.stop()
        evaluation = self.session.evaluation
        self.preview.show_pdf(sheet_pdf(evaluation, school=self.session.school))

    def _columns(self) -> tuple[Column[PartLine], ...]:
        def color(part: PartLine) -> QColor | None:
            return self.theme.tokens.warn if part.short else None

        def name(part: PartLine) -> Cell:
            full = (
                part.name
                if not part.short
                else say("tab-workshop.short", name=part.name, short=part.short)
            )
            cut = _cut(full, LONGEST)
            group = word(group_of(part.key[0]))
            if self._first.get(group_of(part.key[0])) == part.key:
                cut = say("tab-workshop.first-of-a-group", group=capitalized(group), name=cut)
            tip = say("tab-workshop.part-of-a-group", name=full, group=group)
            return Cell(cut, color=color(part), tip=tip, icon=self._icon(part))

        def stock(part: PartLine) -> Cell:
            known = part.there and not part.made
            shown = str(part.stock) if known else say("tab-workshop.made") if part.made else "–"
            tip = "" if part.there else say("tab-workshop.the-kit-does-not-have-this-part")
            return Cell(shown, right=True, color=color(part), tip=tip)

        def typed_stock(vehicle: Vehicle, row: int, text: str) -> Edit:
            what = say("tab-workshop.stock-of-the", name=self._rows[row].name)
            path = stock_path(vehicle, self._rows[row])
            if path is None:
                raise InputError(
                    say("tab-workshop.the-kit-does-not-have-this-part-add-it-to", what=what)
                )
            return Edit.one(
                say("tab-workshop.set-the-stock-of-the", name=self._rows[row].name),
                path,
                parse_number(text, what=what),
            )

        def price(part: PartLine) -> Cell:
            shown = "" if part.price is None else signed(part.price, ".2f")
            return Cell(
                shown, right=True, tip=say("tab-workshop.what-one-costs-leave-it-empty-if-unknown")
            )

        def typed_price(vehicle: Vehicle, row: int, text: str) -> Edit:
            part = self._rows[row]
            value = (
                parse_number(text, what=say("tab-workshop.price-of-the", name=part.name))
                if text
                else None
            )
            return set_price(vehicle, part, value)

        def letters(part: PartLine) -> Cell:
            line = self._lines.get(part.key)
            words = ", ".join(line.letters) if line is not None else ""
            return Cell(_cut(words, MOST_LETTERS), tip=words)

        def pack(part: PartLine) -> Cell:
            tip = say("tab-workshop.packs-to-buy", packs=part.packs) if part.packs else ""
            return Cell(str(part.pack), right=True, tip=tip)

        def typed_pack(vehicle: Vehicle, row: int, text: str) -> Edit:
            part = self._rows[row]
            number = parse_number(text, what=say("tab-workshop.pack-of-the", name=part.name))
            if number < 1 or number != int(number):
                raise InputError(say("tab-workshop.a-pack-has-whole-parts", name=part.name))
            return set_pack(vehicle, part, int(number))

        def state(part: PartLine) -> Cell:
            progress = self._progress.get(part.key, Progress())
            words = describe_progress(replace(progress, revisions=()))
            warn = self.theme.tokens.warn if progress.remake else None
            return Cell(words, color=warn, tip=describe_progress(progress))

        def used(part: PartLine) -> Cell:
            words = ", ".join(word(user) for user in part.used_by)
            return Cell(words or say("tab-workshop.not-needed"), tip=words)

        return (
            Column(say("tab-workshop.part"), name),
            Column(
                say("tab-workshop.needs"), lambda p: Cell(str(p.needed), right=True, color=color(p))
            ),
            Column(
                say("tab-workshop.stock"), stock, typed_stock, open=lambda p: p.there and not p.made
            ),
            Column(say("tab-workshop.price"), price, typed_price, may_be_empty=True),
            Column(say("tab-workshop.pack"), pack, typed_pack),
            Column(say("tab-workshop.on-shafts"), letters),
            Column(say("publish.how-far-it-is"), state, tip=say("tab-workshop.state-of-parts-tip")),
            Column(say("tab-workshop.used-by"), used),
        )

    def printed(self) -> tuple[str, bytes] | None:
        """Give the sheet."""
        from mild_badger.core.publish.sheet import sheet_pdf  # noqa: PLC0415

        data = sheet_pdf(self.session.evaluation, school=self.session.school)
        return say("tab-workshop.the-sheet"), data

    def heading(self) -> str:
        """Say how many parts there are, and what is missing."""
        short, total = self.session.evaluation.kinds_short, self.session.evaluation.part_count
        missing = (
            say("tab-workshop.short-2", kind=say_count("count.kind", short))
            if short
            else say("tab-workshop.all-in-stock")
        )
        return say("tab-workshop.parts", total=total, missing=missing)

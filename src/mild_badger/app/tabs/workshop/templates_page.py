"""Templates: what is to be made, each drawn as it will be cut, and how everything is made."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.fields import FieldForm, FieldSpec
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import Paragraph, button, caption, scrolled
from mild_badger.app.files import TEMPLATE
from mild_badger.app.session import Session
from mild_badger.app.shown import shown, units_in_force
from mild_badger.app.tabs.workshop.template_view import TemplateView
from mild_badger.app.theme.style import Theme
from mild_badger.core.errors import BadgerError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import in_mm
from mild_badger.core.kit.cautions import cautions_for
from mild_badger.core.message import say, say_count
from mild_badger.core.publish.tiles import Tiling, tiling
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.making import FITS
from mild_badger.core.words import word
from mild_badger.core.workshop.templates import drawn, templates_of
from mild_badger.jobs.registry import Job
from mild_badger.text.fields import field_text

__all__ = ["TemplatesPage"]

FIT_CHOICES = tuple((fit, word(fit)) for fit in FITS)
WAYS = (
    FieldSpec(
        ("making", "material"),
        choices=(
            ("", say("tab-workshop.the-kits")),
            ("plywood", say("tab-workshop.plywood")),
            ("hardwood", say("tab-workshop.hardwood")),
            ("acrylic", say("tab-workshop.acrylic")),
            ("print", say("tab-workshop.printed")),
        ),
    ),
    FieldSpec(("making", "kerf_mm")),
    *(
        FieldSpec(("making", f"{fit}_mm"), optional=True, empty=say("tab-workshop.usual"))
        for fit in FITS
    ),
)
BODIES = (
    FieldSpec(("making", "fixed_fit"), choices=FIT_CHOICES),
    FieldSpec(
        ("making", "bore"),
        choices=(
            ("round", say("tab-workshop.round")),
            ("square", say("tab-workshop.square")),
            ("keyed", say("tab-workshop.keyed")),
        ),
    ),
    FieldSpec(("making", "key_mm")),
    FieldSpec(
        ("making", "web"),
        choices=(
            ("solid", say("tab-workshop.solid")),
            ("holes", say("tab-workshop.holes")),
            ("spokes", say("tab-workshop.spokes")),
        ),
    ),
    FieldSpec(("making", "web_count")),
    FieldSpec(("making", "rim_mm")),
    FieldSpec(("making", "dowels")),
    FieldSpec(("making", "dowel_mm")),
    FieldSpec(("making", "dog_count")),
    FieldSpec(("making", "dog_play_deg")),
    FieldSpec(("making", "dog_mm")),
    FieldSpec(
        ("making", "paper"),
        choices=(("A4", "A4"), ("A3", "A3"), ("Letter", say("tab-workshop.letter"))),
    ),
    FieldSpec(("making", "overlap_mm")),
)
OWN = (
    FieldSpec(
        ("making", "own", "kind"),
        choices=(
            ("gear", say("tab-workshop.gear")),
            ("ring", say("tab-workshop.ring-inside")),
            ("rack", say("tab-workshop.rack")),
        ),
    ),
    FieldSpec(("making", "own", "teeth")),
    FieldSpec(("making", "own", "module_mm")),
    FieldSpec(("making", "own", "pressure_angle_deg")),
    FieldSpec(("making", "own", "shift")),
    FieldSpec(("making", "own", "thinning_mm")),
    FieldSpec(("making", "own", "bore_mm")),
    FieldSpec(("making", "own", "segments")),
)


class TemplatesPage(QWidget):
    """Left what is to be made, in the middle the template, right how it is made."""

    export_wanted = pyqtSignal(str)
    search_wanted = pyqtSignal(object, object, str)
    files_wanted = pyqtSignal(object)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        self._list: tuple[Template, ...] = ()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(12)
        left = QVBoxLayout()
        left.setSpacing(6)
        self.table = Table(
            (say("tab-workshop.template-2"), say("tab-workshop.make"), say("tab-workshop.thick")),
            say("tab-workshop.templates"),
        )
        self.table.setFixedWidth(244)
        self.table.header_right(1, 2)
        self.table.stretch(0)
        self.table.currentCellChanged.connect(lambda *_at: self._show())
        left.addWidget(self.table, 1)
        self.save = button(say("tab-workshop.save-this-template"), self._save)
        left.addWidget(self.save)
        self.save_all = button(say("tab-workshop.save-all"), self._save_all)
        self.save_all.setToolTip(say("tab-workshop.every-template-and-board-as-svg-dxf-pdf-and"))
        left.addWidget(self.save_all)
        row.addLayout(left)
        self.view = TemplateView(theme)
        self.words = caption("", "soft", wrap=True)
        self.words.setAccessibleName(say("tab-workshop.how-the-template-comes-out"))
        middle = QVBoxLayout()
        middle.setSpacing(6)
        middle.addWidget(self.view, 1)
        middle.addWidget(Paragraph(self.words, most=132))
        row.addLayout(middle, 1)

        self.ways = FieldForm(session, WAYS)
        self.bodies = FieldForm(session, BODIES)
        self.own = FieldForm(session, OWN)
        self.own_head = caption(say("tab-workshop.a-gear-of-your-own"), "head")
        column = QVBoxLayout()
        column.setContentsMargins(0, 0, 8, 0)
        column.setSpacing(6)
        for widget in (
            self.own_head,
            self.own,
            caption(say("tab-workshop.cut-and-fits"), "head"),
            self.ways,
            caption(say("tab-workshop.bodies-and-paper"), "head"),
            self.bodies,
        ):
            column.addWidget(widget)
        column.addStretch(1)
        inside = QWidget()
        inside.setLayout(column)
        inside.setMaximumWidth(238)
        row.addWidget(scrolled(inside, 248))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the templates of a vehicle."""
        vehicle = evaluation.vehicle
        key = self.key()
        self._list = templates_of(vehicle)
        self.table.show_cells(
            [
                (
                    Cell(t.words),
                    Cell(str(t.count), right=True),
                    Cell(in_mm(t.thick_mm), right=True),
                )
                for t in self._list
            ]
        )
        keys = [t.key for t in self._list]
        self.table.blockSignals(True)
        self.table.selectRow(keys.index(key) if key in keys else 0)
        self.table.blockSignals(False)
        for column in (self.ways, self.bodies, self.own):
            column.show_values(vehicle)
        for fit in FITS:  # an empty field shows what counts instead
            field = self.ways.entries[f"{fit}_mm"]
            usual = vehicle.making.allowance_mm(fit, vehicle.kit.kind)
            if hasattr(field, "setPlaceholderText"):
                field.setPlaceholderText(shown(field_text(usual, f"{fit}_mm", units_in_force())))
        self._show()

    def choose(self, key: str) -> None:
        """Bring a template into view by its key."""
        keys = [t.key for t in self._list]
        if key in keys:
            self.table.selectRow(keys.index(key))

    def key(self) -> str:
        """Give the key of the template in view."""
        template = self._chosen()
        return "" if template is None else template.key

    def _chosen(self) -> Template | None:
        row = self.table.currentRow()
        return self._list[row] if 0 <= row < len(self._list) else None

    def _show(self) -> None:
        evaluation = self.session.evaluation
        making = evaluation.vehicle.making
        drawing: Drawing | None = None
        laid: Tiling | None = None
        trouble = ""
        template = self._chosen()
        try:
            drawing = None if template is None else drawn(evaluation.vehicle, template)
            laid = None if drawing is None else tiling(drawing, making.paper, making.overlap_mm)
        except BadgerError as error:
            trouble = str(error)
        own = template is not None and template.kind == "own gear"
        self.own.setVisible(own)
        self.own_head.setVisible(own)
        self.save.setEnabled(drawing is not None)
        self.view.show_drawing(evaluation, drawing, laid, trouble)
        words = ""
        if template is not None and template.note is not None and drawing is not None:
            words = f"{template.note(evaluation.vehicle)} "
        if laid is not None:
            sheets = say(
                "tab-workshop.of", sheet=say_count("count.sheet", laid.sheets), paper=making.paper
            )
            cut = (
                say(
                    "tab-workshop.svg-and-dxf-lines-stand-off-by-for-the-cut",
                    kerf_mm=in_mm(making.kerf_mm / 2),
                )
                if making.kerf_mm
                else say("tab-workshop.no-kerf-is-allowed-for")
            )
            bought = (
                ""
                if evaluation.vehicle.kit.any_seat
                else say("tab-workshop.gears-and-beams-of-this-kit-come-ready")
            )
            kit = evaluation.vehicle.kit
            care = f" {cautions_for(kit)[0]}" if kit.any_seat else ""
            words += say(
                "tab-workshop.on-paper-with-a-ruler-to-check",
                words=self.view.words(),
                sheets=sheets,
                cut=cut,
                bought=bought,
            )
            words += care
        self.words.setText(words)

    def _save(self) -> None:
        self.export_wanted.emit(TEMPLATE + self.key())

    def _save_all(self) -> None:
        """Make every template in the background, then ask for a folder."""
        self.search_wanted.emit(
            Job("templates", (self.session.vehicle,)),
            self._made,
            say("tab-workshop.drawing-every-template"),
        )

    def _made(self, made: tuple[dict[str, bytes], tuple[str, ...]]) -> None:
        files, refused = made
        self.files_wanted.emit(files)
        if refused:
            self.session.refused.emit(say("tab-workshop.not-drawn", listed=" ".join(refused)))

    def printed(self) -> tuple[str, bytes] | None:
        """Give the template in view at true scale."""
        # The PDF library is loaded when the first template is printed, not at every start.
        from mild_badger.core.publish.drawings import template_data  # noqa: PLC0415

        template = self._chosen()
        if template is None:
            return None
        return template.words, template_data(self.session.vehicle, template.key, "pdf")

    def heading(self) -> str:
        """Say what the page shows."""
        return say("tab-workshop.templates-at-true-scale")

"""The stack in figures: shafts with what sits on them, lengths, sleeves, meshes pushed apart."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox, QVBoxLayout, QWidget

from mild_badger.app.drawing.fields import DocumentChoice, field_of
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import PageStack, button, caption, fill, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.layout.section_view import SectionView
from mild_badger.app.theme.style import Theme
from mild_badger.core.components.hardware import describe_frame
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM, NEWTON, bare, in_mm, in_n
from mild_badger.core.kit.part_sizes import sleeve_radius_mm
from mild_badger.core.layout.shaft_deflection import Separation, separations
from mild_badger.core.message import say
from mild_badger.core.structure.names import shaft_label
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.shaft_lengths import ShaftCut, describe_stack, shaft_cuts, stub_mm
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import signed
from mild_badger.text.fields import field_text
from mild_badger.text.quantities import number_text

__all__ = ["StackPage"]

SHAFTS = (
    say("tab-layout.shaft"),
    say("tab-layout.reaches"),
    say("tab-layout.take"),
    say("tab-layout.over"),
    say("tab-layout.what-sits-on-it-and-where-its-middle-is"),
)
MESHES = (
    say("tab-layout.gear-2"),
    say("tab-layout.mesh"),
    say("tab-layout.where"),
    NEWTON,
    say("tab-layout.apart", mm=MM),
    say("tab-layout.contact-left"),
    say("tab-layout.support-beside", mm=MM),
    say("tab-layout.to-support", mm=MM),
)
NOTHING = say("tab-layout.place-the-box-first-on-the-page-whole-box")


BELOW = (
    (say("tab-layout.shafts"), "shafts"),
    (say("tab-layout.meshes-pushed-apart"), "meshes"),
    (say("tab-layout.lengths-and-gaps"), "lengths"),
)
LIST_PX = 168


class StackPage(QWidget):
    """The section large, one of three lists below it; all of it follows from the layout.

    Signals
    -------
    pictures_wanted : the section to be saved, by name
    """

    pictures_wanted = pyqtSignal(object)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.fields = {
            name: field_of(session, ("frame", name), words, width=48, optional=optional)
            for name, words, optional in (
                ("end_play_mm", say("tab-layout.end-play"), False),
                ("grooved_mm", say("tab-layout.length-of-a-sleeve"), False),
                ("thin_mm", say("tab-layout.length-of-a-thin-sleeve"), False),
                ("recess_mm", say("tab-layout.reach-of-gears-over-a-sleeve"), False),
                ("gap_mm", say("tab-layout.gap-beside-gears"), False),
                ("stub_mm", say("tab-layout.length-of-the-shaft-stubs"), True),
                ("sleeve_radius_mm", say("tab-layout.outer-radius-of-a-sleeve"), True),
                ("equal_within_mm", say("tab-layout.shafts-equal-within"), False),
                ("max_stack_mm", say("tab-layout.greatest-length-of-the-stack"), True),
                ("far_mm", say("tab-layout.farthest-from-a-support"), False),
            )
        }
        fields = self.fields
        self.sleeve = DocumentChoice(
            session,
            ("frame", "sleeve"),
            say("tab-layout.kind-of-sleeves"),
            {
                "grooved": say("tab-layout.fork-groove-outside"),
                "thin": say("tab-layout.thin-dogs-let-in"),
            },
        )
        self.recessed = caption(say("tab-layout.gears-over-a-sleeve"), "soft")
        self.view = SectionView(theme)
        self.view.setMinimumHeight(200)
        self.view.engage.connect(session.engage)
        self.view.part_chosen.connect(session.choose)
        session.part_chosen.connect(self.view.choose)
        self.view.choose(session.part)
        self.whole = QCheckBox(shown(say("tab-layout.every-shaft")))
        self.whole.toggled.connect(self.view.show_whole)
        self.below = QComboBox()
        self.below.setAccessibleName(shown(say("tab-layout.what-is-listed-below")))
        fill(self.below, BELOW)
        self.below.activated.connect(self._show_list)
        save = button(
            say("tab-layout.save-section"),
            lambda: self.pictures_wanted.emit({"section": self.view}),
        )
        column.addLayout(
            row_of(
                self.whole,
                button(say("tab-layout.show-all"), self.view.fit),
                save,
                say("tab-layout.below"),
                self.below,
            )
        )
        column.addWidget(self.view, 3)
        self.lists = PageStack()
        self.lists.setMaximumHeight(LIST_PX)
        lengths, lengths_column = self._list()
        lengths_column.addLayout(
            row_of(
                say("tab-layout.sleeves"),
                self.sleeve,
                fields["grooved_mm"],
                fields["thin_mm"],
                caption(say("tab-layout.long", mm=MM), "soft"),
                self.recessed,
                fields["recess_mm"],
                say("tab-layout.radius"),
                fields["sleeve_radius_mm"],
                caption(MM, "soft"),
            )
        )
        lengths_column.addLayout(
            row_of(
                say("tab-layout.end-play"),
                fields["end_play_mm"],
                say("tab-layout.gap-beside-gears-2"),
                fields["gap_mm"],
                say("tab-layout.stubs"),
                fields["stub_mm"],
                say("tab-layout.shafts-equal-within-2"),
                fields["equal_within_mm"],
                say("tab-layout.stack-at-most"),
                fields["max_stack_mm"],
                caption(MM, "soft"),
            )
        )
        self.shafts = Table(SHAFTS, say("tab-layout.shafts-of-the-layout"))
        self.shafts.header_right(1, 2, 3)
        self.shafts.stretch(4)
        shafts, shafts_column = self._list()
        shafts_column.addWidget(self.shafts, 1)
        meshes, meshes_column = self._list()
        self.stiffness = field_of(
            session,
            ("kit", "shaft_modulus_mpa"),
            say("tab-layout.stiffness-of-the-shafts"),
            width=64,
        )
        self.stiffness.setToolTip(say("tab-layout.youngs-modulus-an-estimate-weakest-meshes"))
        meshes_column.addLayout(
            row_of(
                say("tab-layout.at-the-motors-stall-shafts-of"),
                self.stiffness,
                caption(say("tab-layout.n-mm"), "soft"),
                say("tab-layout.a-gear-at-most"),
                fields["far_mm"],
                caption(say("tab-layout.from-a-support", mm=MM), "soft"),
            )
        )
        self.meshes = Table(MESHES, say("tab-layout.meshes-pushed-apart"))
        self.meshes.header_right(3, 4, 5, 6, 7)
        self.meshes.stretch(2)
        meshes_column.addWidget(self.meshes, 1)
        lengths_column.addStretch(1)
        for page in (shafts, meshes, lengths):
            self.lists.addWidget(page)
        column.addWidget(self.lists, 2)
        self.words = caption("", wrap=True)
        self.words.setAccessibleName(say("tab-layout.shafts-and-beams-to-take"))
        column.addWidget(self.words)

    def _show_list(self, number: int) -> None:
        self.lists.setCurrentIndex(number)

    @staticmethod
    def _list() -> tuple[QWidget, QVBoxLayout]:
        """Make one of the lists below the section."""
        made = QWidget()
        column = QVBoxLayout(made)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        return made, column

    def refresh(self, evaluation: Evaluation) -> None:
        """Show what a layout takes and how it holds."""
        vehicle = evaluation.vehicle
        self.view.show_box(evaluation, vehicle, "")
        frame, kit = vehicle.frame, vehicle.kit
        self.stiffness.show_value(number_text(kit.shaft_modulus_mpa))
        for name, field in self.fields.items():
            value = getattr(frame, name)
            field.show_value("" if value is None else number_text(value))
        usual = field_text(stub_mm(vehicle), "stub_mm", vehicle.shown_in)
        self.fields["stub_mm"].setPlaceholderText(usual)
        needed = field_text(sleeve_radius_mm(vehicle), "sleeve_radius_mm", vehicle.shown_in)
        self.fields["sleeve_radius_mm"].setPlaceholderText(needed)
        self.sleeve.show_value(frame.sleeve)
        thin = frame.sleeve == "thin"
        for widget in (self.fields["thin_mm"], self.fields["recess_mm"], self.recessed):
            widget.setVisible(thin)
        self.fields["grooved_mm"].setVisible(not thin)
        stack = stack_for(vehicle)
        if stack is None:
            self.shafts.show_cells([])
            self.meshes.show_cells([])
            self.words.setText(NOTHING)
            return
        self.shafts.show_cells([self._shaft(vehicle, cut) for cut in shaft_cuts(vehicle, stack)])
        rows = sorted(separations(vehicle, stack), key=lambda row: row.contact)
        self.meshes.show_cells([self._mesh(vehicle, row) for row in rows])
        self.words.setText(f"{describe_stack(vehicle, stack)} {describe_frame(vehicle)}")

    def _shaft(self, vehicle: Vehicle, cut: ShaftCut) -> list[Cell]:
        kit = vehicle.kit
        unit = 1.0 if kit.any_seat else kit.grid_unit_mm

        def length(mm: float) -> str:
            return in_mm(mm, significant=4) if kit.any_seat else f"{signed(mm / unit, '.4g')} u"

        bad = self.theme.tokens.bad if cut.length_mm is None else None
        parts = "; ".join(
            say("tab-layout.at", words=p.words, length=length(p.middle_mm)) for p in cut.parts
        )
        return [
            Cell(shaft_label(vehicle, cut.name)),
            Cell(length(cut.needed_mm), right=True),
            Cell(
                say("tab-layout.none") if cut.length_mm is None else length(cut.length_mm),
                right=True,
                color=bad,
            ),
            Cell(length(cut.overhang_mm), right=True),
            Cell(parts, tip=parts.replace("; ", "\n")),
        ]

    def _mesh(self, vehicle: Vehicle, row: Separation) -> list[Cell]:
        bad = self.theme.tokens.bad if row.skips else None
        figures = (
            bare(in_n(row.force_n, 0)),
            bare(in_mm(row.apart_mm, 2, sign=True)),
            signed(row.contact, ".2f") if row.contact > 0 else say("tab-layout.none"),
            "" if row.supported_mm is None else bare(in_mm(row.supported_mm, 2)),
        )
        far = self.theme.tokens.warn if row.far_mm > vehicle.frame.far_mm else None
        return [
            Cell(vehicle.gear_name(row.gear)),
            Cell(f"{row.teeth[0]} : {row.teeth[1]}"),
            Cell(vehicle.train_title(row.slab)),
            *(Cell(text, right=True, color=bad) for text in figures),
            Cell(bare(in_mm(row.far_mm, 0)), right=True, color=far),
        ]

"""The stack in figures: shafts with what sits on them, the walls' beams, meshes pushed apart."""

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from mild_badger.app.drawing.widgets import Cell, Table, caption, field_of, row_of
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.layout.faults import frame_words
from mild_badger.core.layout.frame import separations, shaft_cuts
from mild_badger.core.layout.verify import stack_of

__all__ = ["StackPage"]

SHAFTS = ("shaft", "reaches u", "take u", "over u", "what sits on it, and where its middle is")
MESHES = ("gear", "mesh", "where", "N", "apart mm", "contact left", "with a beam beside mm")
NOTHING = "Place the box first, on the page Whole box."


class StackPage(QWidget):
    """Two tables and a sentence; all of it follows from the layout."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.shafts = Table(SHAFTS, "Shafts of the layout")
        self.shafts.header_right(1, 2, 3)
        self.shafts.stretch(4)
        column.addWidget(self.shafts, 1)
        self.stiffness = field_of(
            session, ("kit", "shaft_modulus_mpa"), "Stiffness of the shafts", width=64
        )
        column.addLayout(
            row_of("At the motor's stall, shafts of", self.stiffness,
                   caption("N/mm², an estimate; weakest meshes first", "soft"))
        )  # fmt: skip
        self.meshes = Table(MESHES, "Meshes pushed apart")
        self.meshes.header_right(3, 4, 5, 6)
        self.meshes.stretch(2)
        column.addWidget(self.meshes, 1)
        self.words = caption("", wrap=True)
        self.words.setAccessibleName("Shafts and beams to take")
        column.addWidget(self.words)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show what a layout takes and how it holds."""
        vehicle = evaluation.vehicle
        self.stiffness.show_value(f"{vehicle.kit.shaft_modulus_mpa:g}")
        if vehicle.layout is None:
            self.shafts.show_cells([])
            self.meshes.show_cells([])
            self.words.setText(NOTHING)
            return
        stack = stack_of(vehicle, vehicle.layout)
        bad = self.theme.tokens.bad
        self.shafts.show_cells(
            [
                [
                    Cell(cut.name),
                    Cell(f"{cut.needed_u:g}", right=True),
                    Cell("none" if cut.length_u is None else f"{cut.length_u:g}", right=True,
                         color=bad if cut.length_u is None else None),
                    Cell(f"{cut.overhang_u:g}", right=True),
                    Cell("; ".join(f"{words} at {at:g}" for at, words in cut.parts)),
                ]
                for cut in shaft_cuts(vehicle, stack)
            ]
        )  # fmt: skip
        rows = sorted(separations(vehicle, stack), key=lambda row: row.contact)
        self.meshes.show_cells(
            [
                [
                    Cell(row.gear),
                    Cell(f"{row.teeth[0]} : {row.teeth[1]}"),
                    Cell(row.slab),
                    *(
                        Cell(text, right=True, color=bad if row.skips else None)
                        for text in (
                            f"{row.force_n:.0f}", f"{row.apart_mm:.2f}",
                            f"{row.contact:.2f}" if row.contact > 0 else "none",
                            f"{row.supported_mm:.2f}",
                        )
                    ),
                ]
                for row in rows
            ]
        )  # fmt: skip
        self.words.setText(frame_words(vehicle))

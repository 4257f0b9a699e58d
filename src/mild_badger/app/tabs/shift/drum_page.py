"""The drum: its positions and tracks, with its measures below."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.fields import DocumentChoice, DocumentLineEdit, field_of
from mild_badger.app.drawing.widgets import button, caption
from mild_badger.app.session import Session
from mild_badger.app.tabs.shift.drum_view import DrumView
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM
from mild_badger.core.shift.positions import (
    angles_text,
    describe_drum,
    order_text,
    parse_angles,
    parse_order,
)
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.text.quantities import number_text

__all__ = ["DrumPage"]

DRUM = ("shifting", "drum")


class DrumPage(QWidget):
    """The unrolled drum; positions and angles are typed, the tracks follow."""

    export_wanted = pyqtSignal(str)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.view = DrumView(theme)
        self.view.engage.connect(session.engage)
        across = QHBoxLayout()
        across.setSpacing(12)
        across.addWidget(self.view, 1)
        across.addLayout(self._panel())
        column.addLayout(across, 1)
        self.words = caption("", wrap=True)
        self.words.setAccessibleName("Slopes, times and overlap of the drum")
        column.addWidget(self.words)

    def _panel(self) -> QGridLayout:
        """Lay the drum's measures out beside it, two in a row."""
        session = self.session
        self.drums = DocumentChoice(
            session,
            (*DRUM, "drums"),
            "Drums",
            {"one": "one drum", "odd and even": "an odd and an even drum"},
        )
        self.dogs = DocumentChoice(
            session, (*DRUM, "dogs"), "Dogs", {"plain": "plain dogs", "one-way": "one-way dogs"}
        )
        self.order = DocumentLineEdit(session, self._reorder, "Positions in order")
        self.angles = DocumentLineEdit(session, self._turn, "Angle of each position")
        grid = QGridLayout()
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(5)
        grid.addWidget(self.drums, 0, 0, 1, 4)
        for row, (words, entry) in enumerate(
            (("positions", self.order), ("at °", self.angles)), start=1
        ):
            grid.addWidget(caption(words), row, 0)
            grid.addWidget(entry, row, 1, 1, 3)
        self.fields: dict[str, DocumentLineEdit] = {}
        measures = (
            (
                ("diameter_mm", f"diameter {MM}", "Drum diameter"),
                ("track_pitch_mm", f"track spacing {MM}", "Track spacing"),
            ),
            (("follower_mm", f"follower {MM}", "Follower"), None),
            (("dwell_deg", "dwell °", "Dwell"), ("overlap_deg", "overlap °", "Overlap")),
            (
                ("steepest_deg", "steepest °", "Steepest ramp"),
                ("rpm", "drum speed rpm", "Drum speed"),
            ),
        )
        self.travel = field_of(session, ("lever", "fork_travel_mm"), "Fork travel", width=44)
        for row, pair in enumerate(measures, start=3):
            for place, measure in enumerate(pair):
                if measure is None:
                    grid.addWidget(caption(f"travel {MM}"), row, 2)
                    grid.addWidget(self.travel, row, 3)
                    continue
                name, words, sentence = measure
                self.fields[name] = field_of(session, (*DRUM, name), sentence, width=44)
                grid.addWidget(caption(words), row, 2 * place)
                grid.addWidget(self.fields[name], row, 2 * place + 1)
        depth = field_of(session, (*DRUM, "dog_depth_mm"), "Dog depth", width=44)
        self.fields["dog_depth_mm"] = depth
        grid.addWidget(self.dogs, 7, 0, 1, 2)
        grid.addWidget(caption(f"dog depth {MM}"), 7, 2)
        grid.addWidget(depth, 7, 3)
        self.save = button("Drum template …", lambda: self.export_wanted.emit("drum"))
        self.save.setToolTip("The tracks at true scale, as SVG or DXF, to cut or to glue round")
        self.save_even = button(
            "Even drum template …", lambda: self.export_wanted.emit("even drum")
        )
        grid.addWidget(self.save, 8, 0, 1, 2)
        grid.addWidget(self.save_even, 8, 2, 1, 2)
        grid.setRowStretch(9, 1)
        return grid

    def _reorder(self, text: str) -> bool:
        order = parse_order(self.session.vehicle, text)
        drum = self.session.vehicle.shifting.drum
        changes = [Change((*DRUM, "order"), order)]
        if drum.angles_deg and len(order) != len(drum.angles_deg):
            changes.append(Change((*DRUM, "angles_deg"), ()))
        return self.session.do(Edit("Order the drum's positions", tuple(changes)))

    def _turn(self, text: str) -> bool:
        angles = parse_angles(self.session.vehicle, text)
        return self.session.do(Edit.one("Set the drum's angles", (*DRUM, "angles_deg"), angles))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the drum of a vehicle."""
        vehicle = evaluation.vehicle
        drum = vehicle.shifting.drum
        self.view.show_evaluation(evaluation)
        self.drums.show_value(drum.drums)
        self.dogs.show_value(drum.dogs)
        self.order.show_value(order_text(vehicle))
        self.angles.show_value(angles_text(vehicle))
        for name, field in self.fields.items():
            field.show_value(number_text(getattr(drum, name)))
        self.travel.show_value(number_text(vehicle.lever.fork_travel_mm))
        self.save.setText("Drum template …" if drum.drums == "one" else "Odd drum template …")
        self.save_even.setVisible(drum.drums != "one")
        self.words.setText(describe_drum(vehicle))

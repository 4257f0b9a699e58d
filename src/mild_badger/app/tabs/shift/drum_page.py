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
from mild_badger.core.message import say
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
        self.words.setAccessibleName(say("tab-shift.slopes-times-and-overlap-of-the-drum"))
        column.addWidget(self.words)

    def _panel(self) -> QGridLayout:
        """Lay the drum's measures out beside it, two in a row."""
        session = self.session
        self.drums = DocumentChoice(
            session,
            (*DRUM, "drums"),
            say("tab-shift.drums"),
            {
                "one": say("tab-shift.one-drum"),
                "odd and even": say("tab-shift.an-odd-and-an-even-drum"),
            },
        )
        self.dogs = DocumentChoice(
            session,
            (*DRUM, "dogs"),
            say("tab-shift.dogs"),
            {"plain": say("tab-shift.plain-dogs"), "one-way": say("tab-shift.one-way-dogs")},
        )
        self.order = DocumentLineEdit(session, self._reorder, say("tab-shift.positions-in-order"))
        self.angles = DocumentLineEdit(session, self._turn, say("tab-shift.angle-of-each-position"))
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
                ("diameter_mm", say("tab-shift.diameter", mm=MM), say("tab-shift.drum-diameter")),
                (
                    "track_pitch_mm",
                    say("tab-shift.track-spacing", mm=MM),
                    say("tab-shift.track-spacing-2"),
                ),
            ),
            (("follower_mm", say("tab-shift.follower", mm=MM), "Follower"), None),
            (("dwell_deg", "dwell °", "Dwell"), ("overlap_deg", "overlap °", "Overlap")),
            (
                ("steepest_deg", "steepest °", say("tab-shift.steepest-ramp")),
                ("rpm", say("tab-shift.drum-speed-rpm"), say("tab-shift.drum-speed")),
            ),
        )
        self.travel = field_of(
            session, ("lever", "fork_travel_mm"), say("tab-shift.fork-travel"), width=44
        )
        for row, pair in enumerate(measures, start=3):
            for place, measure in enumerate(pair):
                if measure is None:
                    grid.addWidget(caption(say("tab-shift.travel", mm=MM)), row, 2)
                    grid.addWidget(self.travel, row, 3)
                    continue
                name, words, sentence = measure
                self.fields[name] = field_of(session, (*DRUM, name), sentence, width=44)
                grid.addWidget(caption(words), row, 2 * place)
                grid.addWidget(self.fields[name], row, 2 * place + 1)
        depth = field_of(session, (*DRUM, "dog_depth_mm"), say("tab-shift.dog-depth"), width=44)
        self.fields["dog_depth_mm"] = depth
        grid.addWidget(self.dogs, 7, 0, 1, 2)
        grid.addWidget(caption(say("tab-shift.dog-depth-2", mm=MM)), 7, 2)
        grid.addWidget(depth, 7, 3)
        self.save = button(say("tab-shift.drum-template"), lambda: self.export_wanted.emit("drum"))
        self.save.setToolTip(say("tab-shift.the-tracks-at-true-scale-as-svg-or-dxf-to"))
        self.save_even = button(
            say("tab-shift.even-drum-template"), lambda: self.export_wanted.emit("even drum")
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
        return self.session.do(Edit(say("tab-shift.order-the-drums-positions"), tuple(changes)))

    def _turn(self, text: str) -> bool:
        angles = parse_angles(self.session.vehicle, text)
        return self.session.do(
            Edit.one(say("tab-shift.set-the-drums-angles"), (*DRUM, "angles_deg"), angles)
        )

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
        self.save.setText(
            say("tab-shift.drum-template")
            if drum.drums == "one"
            else say("tab-shift.odd-drum-template")
        )
        self.save_even.setVisible(drum.drums != "one")
        self.words.setText(describe_drum(vehicle))

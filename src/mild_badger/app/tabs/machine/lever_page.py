"""The lever drive's page: sizes right, the mechanism to scale with its traces left."""

from functools import partial

from PyQt6.QtWidgets import QGridLayout

from mild_badger.app.drawing.fields import DocumentLineEdit, FieldSpec
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown, units_in_force
from mild_badger.app.tabs.machine.lever_view import LeverView
from mild_badger.app.tabs.machine.mechanism_page import MechanismPage
from mild_badger.app.tabs.machine.turning import TurnBar
from mild_badger.app.theme.style import Theme
from mild_badger.core.drivetrain.lever_motion import describe_count, describe_motion, motion_of
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM
from mild_badger.core.mechanisms.display.result import parse_angles
from mild_badger.core.mechanisms.lever.edits import (
    move_fulcrum,
    place_gears,
)
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.mechanisms.lever.reach import lever_rpm, lever_seen
from mild_badger.core.mechanisms.registry import mechanism_on
from mild_badger.core.message import say
from mild_badger.core.ratios.train import parse_train, train_text
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.text.fields import field_text, typed_length
from mild_badger.text.quantities import number_text

__all__ = ["LeverPage"]

FIELDS = (
    FieldSpec(
        ("motion",),
        choices=(("yoke", say("tab-machine.scotch-yoke")), ("crank", say("tab-machine.crank"))),
        owner=LeverDrive,
    ),
    FieldSpec(("throw_mm",), owner=LeverDrive),
    FieldSpec(("rod_mm",), owner=LeverDrive),
    FieldSpec(("lever_mm",), owner=LeverDrive),
    FieldSpec(("stop_low_mm",), owner=LeverDrive),
    FieldSpec(("stop_high_mm",), owner=LeverDrive),
    FieldSpec(("ratchets",), owner=LeverDrive),
    FieldSpec(
        ("two_sided",),
        choices=(
            ("false", say("tab-machine.one-way")),
            ("true", say("tab-machine.both-ways")),
        ),
        owner=LeverDrive,
    ),
    FieldSpec(("turns",), choices=(("1", "+"), ("-1", "−")), owner=LeverDrive),
    FieldSpec(("wheel_mm",), owner=LeverDrive),
    FieldSpec(("teeth",), owner=LeverDrive),
    FieldSpec(("pin_mm",), owner=LeverDrive),
    FieldSpec(("pin_lost_mm",), owner=LeverDrive),
    FieldSpec(("pawl_lost_mm",), owner=LeverDrive),
    FieldSpec(("loss",), owner=LeverDrive),
)


class LeverPage(MechanismPage):
    """Sizes, phases and gears; the fulcrum is dragged in the picture."""

    def __init__(self, session: Session, theme: Theme) -> None:
        self.view = LeverView(theme)
        super().__init__(
            session,
            mechanism_on("lever"),
            self.view,
            FIELDS,
            root=lambda: session.vehicle.stepless_path,
        )
        self.place = button(say("tab-machine.place-fulcrums-for-the-targets"), self._place)
        self.view.slid.connect(self._slid)
        self.turning = TurnBar(360, say("tab-machine.angle-of-the-throws"), self._rpm)
        self.turning.turned.connect(self.view.turn_to)
        self.left.insertWidget(1, self.turning)
        self.phases = DocumentLineEdit(session, self._phases, say("tab-machine.phases"))
        self.phases.setPlaceholderText(say("tab-machine.evenly-spaced"))
        self.pairs = DocumentLineEdit(session, self._pairs, say("tab-machine.gears-to-the-throws"))
        self.pairs.setPlaceholderText(say("tab-machine.none-or-8-24-12-20"))
        grid = QGridLayout()
        grid.setVerticalSpacing(4)
        self.fulcrum = DocumentLineEdit(
            session, self._fulcrum, shown(say("tab-machine.fulcrum", mm=MM))
        )
        self.fulcrum.measure = partial(field_text, field="fulcrum_mm", choice=units_in_force())
        for row, entry in enumerate((self.fulcrum, self.phases, self.pairs)):
            grid.addWidget(caption(entry.accessibleName()), row, 0)
            grid.addWidget(entry, row, 1)
        self.right.addLayout(grid)
        self.right.addLayout(row_of(self.place))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show a vehicle's lever drive."""
        drive = lever_seen(evaluation.vehicle, evaluation.situation.gear)
        self.place.setVisible(evaluation.vehicle.box.lever is not None)
        words = ""
        if drive is None:
            for entry in (self.fulcrum, self.phases, self.pairs):
                entry.show_value("")
        if drive is not None:
            words = f"{describe_motion(drive, motion_of(drive))} {describe_count(drive)}".strip()
            self.fulcrum.show_value(number_text(drive.fulcrum_mm))
            self.phases.show_value(", ".join(number_text(phase) for phase in drive.phases_deg))
            self.pairs.show_value(train_text(drive.pairs))
        self.show_planned(evaluation, words, planned=drive is not None)
        for thing in (self.fulcrum, self.phases, self.pairs, self.turning):
            thing.setEnabled(drive is not None)
        self.view.show_drive(evaluation)

    def facts(self) -> str:
        """Say what the page does."""
        return say("tab-machine.a-drive-without-steps-the-throws-rock-a")

    def _slid(self, mm: float) -> None:
        vehicle, gear = self.session.vehicle, self.session.situation.gear
        if vehicle.stepless is not None:
            self.session.do(move_fulcrum(vehicle, mm, gear))

    def _fulcrum(self, text: str) -> bool:
        mm = typed_length(text, say("tab-machine.fulcrum-2"), self.session.vehicle)
        gear = self.session.situation.gear
        return self.session.do(move_fulcrum(self.session.vehicle, mm, gear))

    def _place(self) -> None:
        edit = place_gears(self.session.vehicle)
        if edit is None:
            self.session.refused.emit(say("tab-machine.no-target-lies-between-the-stops-gear-the"))
        else:
            self.session.do(edit)

    def _rpm(self) -> float | None:
        now = self.session.evaluation
        return lever_rpm(now.vehicle, now.situation.gear, now.motor_rpm)

    def _phases(self, text: str) -> bool:
        angles = parse_angles(text, what=say("tab-machine.phases-2")) if text.strip() else ()
        return self.session.do(
            Edit.one(
                say("tab-machine.set-the-phases"),
                (*self.session.vehicle.stepless_path, "phases_deg"),
                angles,
            )
        )

    def _pairs(self, text: str) -> bool:
        pairs = parse_train(text) if text.strip() else ()
        return self.session.do(
            Edit.one(
                say("tab-machine.gear-the-throws"),
                (*self.session.vehicle.stepless_path, "pairs"),
                pairs,
            )
        )

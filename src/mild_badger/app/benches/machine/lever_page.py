"""The lever drive's page: sizes right, the mechanism to scale with its traces left."""

from PyQt6.QtWidgets import QGridLayout

from mild_badger.app.benches.machine.lever_view import LeverView
from mild_badger.app.benches.machine.mechanism_page import MechanismPage
from mild_badger.app.benches.machine.turning import TurnBar
from mild_badger.app.drawing.fields import Ask
from mild_badger.app.drawing.widgets import Entry, caption
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.changes import Edit
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.linkage.lever import count_words, motion_of, motion_words
from mild_badger.core.machine.lever_result import drop_lever, lever_rpm, move_fulcrum, start_lever
from mild_badger.core.machine.result import parse_angles
from mild_badger.core.ratios.train import parse_train, train_text

__all__ = ["LeverPage"]

LEVER = ("lever_drive",)
ASKS = (
    Ask((*LEVER, "motion"), "Moved by", "", choices=(("yoke", "a yoke"), ("crank", "a crank"))),
    Ask((*LEVER, "throw_mm"), "Throw"),
    Ask((*LEVER, "rod_mm"), "Crank's rod"),
    Ask((*LEVER, "lever_mm"), "Lever, pin to pin"),
    Ask((*LEVER, "stop_low_mm"), "Stop, from the input"),
    Ask((*LEVER, "stop_high_mm"), "Other stop"),
    Ask((*LEVER, "fulcrum_mm"), "Fulcrum"),
    Ask((*LEVER, "ratchets"), "Ratchets", ""),
    Ask((*LEVER, "two_sided"), "They drive", "", choices=(
        ("false", "one way"), ("true", "both ways"),
    )),
    Ask((*LEVER, "wheel_mm"), "Ratchet wheel, radius"),
    Ask((*LEVER, "teeth"), "Its teeth", ""),
    Ask((*LEVER, "pin_mm"), "Pins"),
    Ask((*LEVER, "pin_lost_mm"), "Play at the throw"),
    Ask((*LEVER, "pawl_lost_mm"), "Play at the pawl"),
    Ask((*LEVER, "loss"), "Lost in each joint", "of 1"),
)  # fmt: skip


class LeverPage(MechanismPage):
    """Sizes, phases and gears; the fulcrum is dragged in the picture."""

    def __init__(self, session: Session, theme: Theme) -> None:
        self.view = LeverView(theme)
        super().__init__(session, self.view, ASKS, plan=start_lever, drop=drop_lever)
        self.view.slid.connect(self._slid)
        self.turning = TurnBar(360, "Angle of the throws", self._rpm)
        self.turning.turned.connect(self.view.turn_to)
        self.left.insertWidget(1, self.turning)
        self.phases = Entry(self._phases, session.refused.emit, "Phases, °")
        self.phases.setPlaceholderText("evenly spaced")
        self.pairs = Entry(self._pairs, session.refused.emit, "Gears to the throws")
        self.pairs.setPlaceholderText("none, or 8:24 · 12:20")
        grid = QGridLayout()
        grid.setVerticalSpacing(4)
        for row, entry in enumerate((self.phases, self.pairs)):
            grid.addWidget(caption(entry.accessibleName()), row, 0)
            grid.addWidget(entry, row, 1)
        self.right.addLayout(grid)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show a vehicle's lever drive."""
        drive = evaluation.vehicle.lever_drive
        words = ""
        if drive is not None:
            words = f"{motion_words(drive, motion_of(drive))} {count_words(drive)}".strip()
            self.phases.show_value(", ".join(f"{phase:g}" for phase in drive.phases_deg))
            self.pairs.show_value(train_text(drive.pairs))
        self.show_planned(evaluation, words, planned=drive is not None)
        for thing in (self.phases, self.pairs, self.turning):
            thing.setEnabled(drive is not None)
        self.view.show_drive(evaluation)

    def facts(self) -> str:
        """Say what the page does."""
        return (
            "A drive without steps: the throws rock a lever, ratchets turn its strokes into "
            "turning. Drag the fulcrum and see how fast and how evenly the wheel turns."
        )

    def _slid(self, mm: float) -> None:
        drive = self.session.vehicle.lever_drive
        if drive is not None:
            self.session.do(move_fulcrum(drive, mm))

    def _rpm(self) -> float | None:
        situation, vehicle = self.session.evaluation.situation, self.session.vehicle
        return lever_rpm(vehicle, situation.gear, situation.motor_rpm or vehicle.motor.working_rpm)

    def _phases(self, text: str) -> bool:
        found = parse_angles(text, what="Phases") if text.strip() else ()
        return self.session.do(Edit.one("Set the phases", (*LEVER, "phases_deg"), found))

    def _pairs(self, text: str) -> bool:
        pairs = parse_train(text) if text.strip() else ()
        return self.session.do(Edit.one("Gear the throws", (*LEVER, "pairs"), pairs))

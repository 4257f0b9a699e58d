"""The dialog that fills ratios in between two ends."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QGridLayout, QLineEdit, QSpinBox, QWidget

from mild_badger.app.drawing.widgets import caption
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.core.errors import BadgerError
from mild_badger.core.message import say
from mild_badger.core.targets.fill import fill_ratios
from mild_badger.core.targets.schools import format_ratio, parse_number, parse_ratio
from mild_badger.core.vehicle.box import MAX_GEARS
from mild_badger.core.vehicle.edit.gears import set_gears
from mild_badger.core.vehicle.model import GearTarget

__all__ = ["FillDialog"]


class FillDialog(QDialog):
    """First and last ratio, number of gears, and how much the steps shrink towards the top."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self._session = session
        self.setWindowTitle(say("tab-vehicle.fill-in-the-forward-gears"))
        forward = [gear.ratio for gear in session.vehicle.real.gears if not gear.reverse] or [1.0]
        self.first = QLineEdit(format_ratio(forward[0], session.school))
        self.last = QLineEdit(format_ratio(forward[-1], session.school))
        self.count = QSpinBox()
        self.count.setRange(2, MAX_GEARS)
        self.count.setValue(max(len(forward), 2))
        self.progression = QLineEdit("1.00")
        self.preview = caption("", wrap=True)
        self.preview.setMinimumWidth(320)
        grid = QGridLayout(self)
        rows: tuple[tuple[str, QWidget, str], ...] = (
            (say("tab-vehicle.first-ratio"), self.first, session.school.value),
            (say("tab-vehicle.last-ratio"), self.last, ""),
            (say("tab-vehicle.gears"), self.count, ""),
            (
                "Progression",
                self.progression,
                say("tab-vehicle.1-all-steps-alike-1-1-each-a-tenth-greater"),
            ),
        )
        for row, (name, widget, note) in enumerate(rows):
            widget.setAccessibleName(shown(name))
            grid.addWidget(caption(name), row, 0)
            grid.addWidget(widget, row, 1)
            grid.addWidget(caption(note, "soft"), row, 2)
        grid.addWidget(self.preview, len(rows), 0, 1, 3)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        self.ok = buttons.button(QDialogButtonBox.StandardButton.Ok)
        buttons.accepted.connect(self.take)
        buttons.rejected.connect(self.reject)
        grid.addWidget(buttons, len(rows) + 1, 0, 1, 3)
        for entry in (self.first, self.last, self.progression):
            entry.textChanged.connect(self._show)
        self.count.valueChanged.connect(self._show)
        self._show()

    def ratios(self) -> tuple[float, ...]:
        """Work the ratios out of what stands in the fields."""
        school = self._session.school
        return fill_ratios(
            parse_ratio(self.first.text(), school, what=say("tab-vehicle.first-ratio")),
            parse_ratio(self.last.text(), school, what=say("tab-vehicle.last-ratio")),
            self.count.value(),
            progression=parse_number(self.progression.text(), what=say("tab-vehicle.progression")),
        )

    def take(self) -> None:
        """Replace the forward gears; reverse gears stay."""
        try:
            ratios = self.ratios()
        except BadgerError:
            return
        gears = [GearTarget(name=str(n), ratio=r) for n, r in enumerate(ratios, start=1)]
        gears += [gear for gear in self._session.vehicle.real.gears if gear.reverse]
        if self._session.do(set_gears(self._session.vehicle, gears)):
            self.accept()

    def _show(self) -> None:
        try:
            words = ", ".join(format_ratio(r, self._session.school) for r in self.ratios())
        except BadgerError as error:
            words = str(error)
        if self.ok is not None:
            self.ok.setEnabled(words[:1].isdigit())
        self.preview.setText(words)

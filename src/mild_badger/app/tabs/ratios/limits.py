"""The dialog of the search's limits: each says what it binds, and how to lift it."""

from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QDialog, QDialogButtonBox, QGridLayout, QWidget

from mild_badger.app.drawing.fields import DocumentLineEdit
from mild_badger.app.drawing.widgets import caption
from mild_badger.app.session import Session
from mild_badger.app.shown import shown, units_in_force
from mild_badger.core.errors import InputError
from mild_badger.core.figures import MM
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.text.fields import field_text, parse_field
from mild_badger.text.quantities import number_text

__all__ = ["LimitsDialog"]

NUMBERS = (
    (
        say("tab-ratios.most-gears-in-a-train"),
        "max_gears",
        say("tab-ratios.idlers-among-them-empty-no-limit"),
    ),
    (
        say("tab-ratios.greatest-centre-distance", mm=MM),
        "max_centre_mm",
        say("tab-ratios.of-any-pair-empty-no-limit"),
    ),
    (
        say("tab-ratios.room-inside-the-body", mm=MM),
        "hull_mm",
        say("tab-ratios.for-the-largest-gears-tips-empty-not-checked"),
    ),
    (
        say("tab-ratios.steps-may-be-uneven-by"),
        "step_unevenness_percent",
        say("tab-ratios.neighbouring-steps-more-is-noted"),
    ),
)
CHECKS = (
    (
        say("tab-ratios.keep-within-the-stock"),
        "within_stock",
        True,
        False,
        say("tab-ratios.no-size-more-often-than-you-own-it-drive-row"),
    ),
    (
        say("tab-ratios.every-mesh-sits-on-the-grid"),
        "seated",
        True,
        False,
        say("tab-ratios.brick-kits-whole-units-over-idlers-where"),
    ),
    (
        say("tab-ratios.tooth-sums-one-off-by-profile-shift"),
        "profile_shift",
        True,
        False,
        say("tab-ratios.made-gears-between-shafts-that-others-share"),
    ),
    (
        say("tab-ratios.factor-only-as-far-as-final-drives-go"),
        "factor_bound",
        say("tab-ratios.final-drive"),
        "range",
        say("tab-ratios.spacing-fit-what-the-kits-bevels-and-spur"),
    ),
)


class LimitsDialog(QDialog):
    """Changes take effect at once, each a step to undo."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self._session = session
        self.setWindowTitle(say("tab-ratios.limits-of-the-search"))
        self.numbers: dict[str, DocumentLineEdit] = {}
        self.checks: dict[str, QCheckBox] = {}
        grid = QGridLayout(self)
        grid.setHorizontalSpacing(12)
        row = 0
        for name, field, note in NUMBERS:
            entry = DocumentLineEdit(session, partial(self._number, field), name)
            entry.setFixedWidth(72)
            entry.measure = partial(field_text, field=field, choice=units_in_force())
            self.numbers[field] = entry
            grid.addWidget(caption(name), row, 0)
            grid.addWidget(entry, row, 1)
            grid.addWidget(caption(note, "soft"), row, 2)
            row += 1
        for name, field, on, off, note in CHECKS:
            box = QCheckBox(shown(name))
            box.clicked.connect(
                lambda checked, field=field, on=on, off=off: self._set(
                    field, on if checked else off
                )
            )
            self.checks[field] = box
            grid.addWidget(box, row, 0, 1, 2)
            grid.addWidget(caption(note, "soft"), row, 2)
            row += 1
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        close = buttons.button(QDialogButtonBox.StandardButton.Close)
        if close is not None:
            close.setAutoDefault(False)
        buttons.rejected.connect(self.reject)
        grid.addWidget(buttons, row, 0, 1, 3)
        session.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the document's limits."""
        search = self._session.vehicle.search
        for field, entry in self.numbers.items():
            value = getattr(search, field)
            entry.show_value("" if value is None else number_text(value))
        for _, field, on, _, _ in CHECKS:
            self.checks[field].setChecked(getattr(search, field) == on)

    def _number(self, field: str, text: str) -> bool:
        if not text.strip():
            if field == "step_unevenness_percent":
                raise InputError(say("tab-ratios.steps-may-be-uneven-by-type-a-percentage"))
            return self._set(field, None)
        vehicle = self._session.vehicle
        value = parse_field(
            text, field, what=_name(field), kit=vehicle.kit, choice=vehicle.shown_in
        )
        return self._set(field, value)

    def _set(self, field: str, value: object) -> bool:
        return self._session.do(
            Edit.one(say("tab-ratios.change-a-limit"), ("search", field), value)
        )


def _name(field: str) -> str:
    return next(name for name, known, _ in NUMBERS if known == field)

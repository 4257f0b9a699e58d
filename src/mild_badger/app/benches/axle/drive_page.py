"""Differentials and driven axles: kinds, planets and what they bear, crown wheel sides."""

from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QTableWidgetItem, QVBoxLayout, QWidget

from mild_badger.app.benches.axle.drive_view import DriveView
from mild_badger.app.drawing.fields import Ask, FieldColumn
from mild_badger.app.drawing.widgets import Cell, Table, button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.axle.running import add_axle
from mild_badger.core.axle.strength import planet_limit_n, planet_loads, strength_words
from mild_badger.core.changes import Edit
from mild_badger.core.errors import BadgerError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.targets.schools import parse_number

__all__ = ["DrivePage"]

DIFF = ("differential",)
KINDS = (("open", "bevel"), ("planetary", "planetary"), ("locked", "solid axle"),
         ("none", "one wheel"))  # fmt: skip
ASKS = (
    Ask((*DIFF, "kind"), "Between the wheels", "", choices=KINDS),
    Ask((*DIFF, "planets"), "Planets", ""),
    Ask((*DIFF, "side_teeth"), "Side gears", "teeth"),
    Ask((*DIFF, "planet_teeth"), "Planets of", "teeth"),
    Ask((*DIFF, "sun_teeth"), "Planetary: sun, left", "teeth"),
    Ask((*DIFF, "ring_teeth"), "ring, right", "teeth"),
    Ask((*DIFF, "driven_side"), "One wheel: which", "",
        choices=(("left", "left"), ("right", "right"))),
    Ask((*DIFF, "tooth_limit_n"), "A tooth bears (or estimate)", "N", optional=True),
    Ask(("kit", "tooth_strength_mpa"), "Strength for the estimate", "N/mm²"),
)  # fmt: skip
AXLES = ("name", "ahead mm", "pinion", "crown", "crown on", "pinion from", "kind", "centre")
FIELDS = ("name", "ahead_mm", "pinion", "crown", "crown_side", "pinion_from", "kind", "centre")
NUMBERS = ("ahead_mm", "pinion", "crown")


class DrivePage(QWidget):
    """Plan left, fields and loads right, further axles below."""

    def __init__(self, session: Session, theme: Theme, in_units: QCheckBox) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(6)
        row = QHBoxLayout()
        row.setSpacing(12)
        self.view = DriveView(theme)
        row.addWidget(self.view, 1)
        self.fields = FieldColumn(session, ASKS, in_units.isChecked)
        self.fields.setFixedWidth(264)
        row.addWidget(self.fields)
        self.loads = Table(("gear", "N·mm at stall", "N a tooth", "limit"), "Planet loads")
        self.loads.header_right(1, 2, 3)
        self.loads.stretch(3)
        self.loads.setMinimumWidth(230)
        row.addWidget(self.loads, 1)
        outer.addLayout(row, 3)
        self.words = caption("", wrap=True)
        self.words.setAccessibleName("How strong the differential is")
        outer.addWidget(self.words)
        outer.addWidget(caption("Further driven axles", "head"))
        self.axles = Table(AXLES, "Further driven axles")
        self.axles.header_right(1, 2, 3)
        self.axles.stretch(0)
        self.axles.itemChanged.connect(self._edited)
        outer.addWidget(self.axles, 1)
        self.add = button("Add an axle", self._add)
        self.remove = button("Remove it", self._remove)
        outer.addLayout(row_of(self.add, self.remove))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the axles of a vehicle and what their planets carry."""
        vehicle = evaluation.vehicle
        self.view.show_evaluation(evaluation)
        data = {**vehicle.differential.model_dump(), **vehicle.kit.model_dump(
            include={"tooth_strength_mpa"})}  # fmt: skip
        self.fields.show_values(vehicle, data)
        overall = evaluation.housing_ratios
        limit, _ = planet_limit_n(vehicle)
        bad = self.theme.tokens.bad
        self.loads.show_cells(
            [
                [
                    Cell(load.gear),
                    Cell(f"{load.torque_n_mm:.0f}", right=True),
                    Cell(f"{load.force_n:.0f}", right=True, color=bad if load.clicks else None),
                    Cell("" if limit is None else f"{load.share_percent(limit):.0f} %", right=True,
                         color=bad if load.clicks else None),
                ]
                for load in planet_loads(vehicle, overall)
            ]
        )  # fmt: skip
        self.words.setText(strength_words(vehicle, overall))
        self.axles.show_cells(
            [
                [
                    Cell(text, right=number, editable=True)
                    for text, number in (
                        (axle.name, False), (f"{axle.ahead_mm:g}", True), (str(axle.pinion), True),
                        (str(axle.crown), True), (axle.crown_side, False),
                        (axle.pinion_from, False), (axle.differential.kind, False),
                        (axle.centre, False),
                    )
                ]
                for axle in vehicle.more_axles
            ]
        )  # fmt: skip

    def facts(self) -> str:
        """Say which way every axle drives."""
        return (
            f"{self.view.words()[:1].upper()}{self.view.words()[1:]}. Arrows show which way the "
            "wheels go in the engaged gear; the crown wheel is drawn on its side of the pinion."
        )

    def _edited(self, item: QTableWidgetItem) -> None:
        field = FIELDS[item.column()]
        text = item.text().strip()
        where = ("differential", "kind") if field == "kind" else (field,)
        try:
            value: object = parse_number(text, what=field) if field in NUMBERS else text
            self.session.do(
                Edit.one("Change a driven axle", ("more_axles", item.row(), *where), value)
            )
        except BadgerError as error:
            self.session.refused.emit(str(error))
        self.refresh(self.session.evaluation)

    def _add(self) -> None:
        self.session.do(add_axle(self.session.vehicle))

    def _remove(self) -> None:
        row, axles = self.axles.currentRow(), list(self.session.vehicle.more_axles)
        if 0 <= row < len(axles):
            del axles[row]
            self.session.do(Edit.one("Remove a driven axle", ("more_axles",), axles))

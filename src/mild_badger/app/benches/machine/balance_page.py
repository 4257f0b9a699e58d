"""The balance's page: the machine from above left, its masses below, stand and ground right."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QGridLayout, QTableWidgetItem

from mild_badger.app.benches.machine.balance_view import BalanceView
from mild_badger.app.benches.machine.mechanism_page import MechanismPage
from mild_badger.app.drawing.fields import Ask
from mild_badger.app.drawing.widgets import Cell, Table, button, caption, fill, row_of
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.changes import Edit
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.machine.balance_result import (
    MASS_FIELDS,
    add_mass,
    drop_balance,
    drop_mass,
    move_boom,
    start_balance,
    type_mass,
    worst_words,
)
from mild_badger.core.vehicle.balance import Balance
from mild_badger.core.workshop.cautions import caution_of

__all__ = ["BalancePage"]

BALANCE = ("balance",)
ASKS = (
    Ask((*BALANCE, "stands"), "It stands on", "",
        choices=(("feet", "feet"), ("wheels", "wheels"))),
    Ask((*BALANCE, "feet_ahead_mm"), "Feet ahead of the axis"),
    Ask((*BALANCE, "feet_behind_mm"), "Feet behind it"),
    Ask((*BALANCE, "feet_apart_mm"), "Feet apart"),
    Ask((*BALANCE, "foot_travel_mm"), "A foot lets down"),
    Ask((*BALANCE, "axis_ahead_mm"), "Axis ahead of rear axle"),
    Ask((*BALANCE, "slope_along_deg"), "Ground, nose up", "°"),
    Ask((*BALANCE, "slope_across_deg"), "Ground, left up", "°"),
    Ask((*BALANCE, "load_kg"), "Load", "kg"),
    Ask((*BALANCE, "boom_mm"), "Hangs from a height"),
    Ask((*BALANCE, "reach_low_mm"), "Least reach"),
    Ask((*BALANCE, "reach_high_mm"), "Most reach"),
    Ask((*BALANCE, "reach_mm"), "Reach now"),
    Ask((*BALANCE, "slew_deg"), "Boom turned, left +", "°"),
    Ask((*BALANCE, "weight_at_mm"), "Counterweight behind"),
    Ask((*BALANCE, "weight_share"), "… its share", ""),
    Ask((*BALANCE, "least_factor"), "Shall hold", "times"),
)  # fmt: skip
HEADS = ("mass", "kg", "on", "ahead, mm", "left, mm", "high, mm", "taken off")


class BalancePage(MechanismPage):
    """Masses are typed in the table, the boom is dragged in the picture."""

    def __init__(self, session: Session, theme: Theme) -> None:
        self.view = BalanceView(theme)
        super().__init__(
            session, self.view, ASKS, plan=lambda: start_balance(session.vehicle), drop=drop_balance
        )
        self.view.moved.connect(self._moved)
        self.table = Table(HEADS, "Masses")
        self.table.header_right(1, 3, 4, 5)
        self.table.stretch(0)
        self.table.setMinimumHeight(84)
        self.table.setMaximumHeight(132)
        self.table.itemChanged.connect(self._edited)
        self.left.insertWidget(1, self.table)
        self.more = button("Add a mass", self._add)
        self.less = button("Take the marked away", self._less)
        grid = QGridLayout()
        grid.setVerticalSpacing(4)
        self.outputs: dict[str, QComboBox] = {}
        for row, (field, words) in enumerate(
            (("carriage", "Carriage is"), ("counterweight", "Counterweight is"))
        ):
            made = QComboBox()
            made.setAccessibleName(words)
            made.setMinimumContentsLength(8)
            made.activated.connect(
                lambda _n, field=field, made=made: session.do(
                    Edit.one(f"Name the {field}", (*BALANCE, field), made.currentData() or None)
                )
            )
            self.outputs[field] = made
            grid.addWidget(caption(words), row, 0)
            grid.addWidget(made, row, 1)
        self.right.addLayout(grid)
        self.right.addLayout(row_of(self.more, self.less))
        self.right.addWidget(caption(caution_of("lifting"), "soft", wrap=True))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show a vehicle's balance."""
        vehicle, balance = evaluation.vehicle, evaluation.vehicle.balance
        self.show_planned(evaluation, worst_words(vehicle), planned=balance is not None)
        names = [o.name for o in vehicle.crane.outputs] if vehicle.crane is not None else []
        for field, box in self.outputs.items():
            named = getattr(balance, field) if balance is not None else None
            known = names if named is None or named in names else [*names, named]
            fill(box, [("as typed", ""), *((name, name) for name in known)])
            box.setCurrentIndex(box.findData(named or ""))
            box.setEnabled(balance is not None)
        named = balance is not None and bool(balance.carriage and balance.counterweight)
        self.fields.entries["weight_share"].setEnabled(not named)  # it is the outputs' then
        for thing in (self.table, self.more, self.less):
            thing.setVisible(balance is not None)
        self.table.show_cells([] if balance is None else [
            (
                Cell(m.name, editable=True), Cell(f"{m.mass_kg:g}", right=True, editable=True),
                Cell(m.on, editable=True), Cell(f"{m.x_mm:g}", right=True, editable=True),
                Cell(f"{m.y_mm:g}", right=True, editable=True),
                Cell(f"{m.z_mm:g}", right=True, editable=True), Cell("", checked=m.removable),
            )
            for m in balance.masses
        ])  # fmt: skip
        self.view.show_evaluation(evaluation)

    def facts(self) -> str:
        """Say what the page does."""
        return (
            "Drag the load round: the cross is where the weight falls, corners show what they bear."
        )

    def _balance(self) -> Balance:
        return self.session.vehicle.balance or Balance()

    def _moved(self, slew: float, reach: float) -> None:
        self.session.do(move_boom(self._balance(), slew, reach))

    def _add(self) -> None:
        self.session.do(add_mass(self._balance()))

    def _less(self) -> None:
        row = self.table.currentRow()
        if 0 <= row < len(self._balance().masses):
            self.session.do(drop_mass(self._balance(), row))

    def _edited(self, item: QTableWidgetItem) -> None:
        balance, row, column = self._balance(), item.row(), item.column()
        try:
            if column < len(MASS_FIELDS):
                edit = type_mass(balance, row, MASS_FIELDS[column], item.text())
            else:
                on = item.checkState() is Qt.CheckState.Checked
                edit = Edit.one(f"Take {balance.masses[row].name} off on the road",
                                (*BALANCE, "masses", row, "removable"), on)  # fmt: skip
            done = self.session.do(edit)
        except InputError as error:
            self.session.refused.emit(str(error))
            done = False
        if not done:
            self.refresh(self.session.evaluation)

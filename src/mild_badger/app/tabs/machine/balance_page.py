"""The balance's page: the machine from above left, its masses below, stand and ground right."""

from functools import partial

from PyQt6.QtWidgets import QComboBox, QGridLayout

from mild_badger.app.drawing.fields import FieldSpec, number_cell, tip_of
from mild_badger.app.drawing.flow import Flow
from mild_badger.app.drawing.records import Column, RecordTable
from mild_badger.app.drawing.tables import Cell
from mild_badger.app.drawing.widgets import button, caption, fill, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.machine.balance_view import BalanceView
from mild_badger.app.tabs.machine.mechanism_page import MechanismPage
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import KG, MM
from mild_badger.core.kit.cautions import caution_of
from mild_badger.core.mechanisms.balance.describe import describe_worst
from mild_badger.core.mechanisms.balance.edits import (
    add_mass,
    move_boom,
    remove_mass,
    type_mass,
)
from mild_badger.core.mechanisms.balance.figures import MASS_FIELDS
from mild_badger.core.mechanisms.balance.model import Balance, Mass
from mild_badger.core.mechanisms.registry import mechanism_on
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["BalancePage"]

BALANCE = ("balance",)
FIELDS = (
    FieldSpec(
        (*BALANCE, "stands"),
        choices=(("feet", say("tab-machine.feet")), ("wheels", say("tab-machine.wheels"))),
    ),
    FieldSpec((*BALANCE, "feet_ahead_mm")),
    FieldSpec((*BALANCE, "feet_behind_mm")),
    FieldSpec((*BALANCE, "feet_apart_mm")),
    FieldSpec((*BALANCE, "foot_travel_mm")),
    FieldSpec((*BALANCE, "axis_ahead_mm")),
    FieldSpec((*BALANCE, "slope_along_deg")),
    FieldSpec((*BALANCE, "slope_across_deg")),
    FieldSpec((*BALANCE, "load_kg")),
    FieldSpec((*BALANCE, "boom_mm")),
    FieldSpec((*BALANCE, "reach_low_mm")),
    FieldSpec((*BALANCE, "reach_high_mm")),
    FieldSpec((*BALANCE, "reach_mm")),
    FieldSpec((*BALANCE, "slew_deg")),
    FieldSpec((*BALANCE, "weight_at_mm")),
    FieldSpec((*BALANCE, "weight_share")),
    FieldSpec((*BALANCE, "least_factor")),
)


def _typed(field: str, vehicle: Vehicle, row: int, text: str) -> Edit:
    return type_mass(vehicle.balance or Balance(), row, field, text)


def _ticked(vehicle: Vehicle, row: int, on: bool) -> Edit:
    name = (vehicle.balance or Balance()).masses[row].name
    return Edit.one(
        say("tab-machine.take-off-on-the-road", name=name),
        (*BALANCE, "masses", row, "removable"),
        on,
    )


def _added(vehicle: Vehicle) -> tuple[Edit, int]:
    balance = vehicle.balance or Balance()
    return add_mass(vehicle), len(balance.masses)


def _column(title: str, field: str) -> Column[Mass]:
    def cell(mass: Mass) -> Cell:
        value = getattr(mass, field)
        number = not isinstance(value, str)
        return number_cell(value, field) if number else Cell(value)

    return Column(title, cell, partial(_typed, field), tip=tip_of(Mass, field))


COLUMNS: tuple[Column[Mass], ...] = (
    *(
        _column(title, field)
        for title, field in zip(
            (
                say("tab-machine.mass"),
                KG,
                say("tab-machine.on"),
                say("tab-machine.ahead", mm=MM),
                say("tab-machine.left", mm=MM),
                say("tab-machine.high", mm=MM),
            ),
            MASS_FIELDS,
            strict=True,
        )
    ),
    Column(
        say("tab-machine.taken-off"), lambda mass: Cell("", checked=mass.removable), ticked=_ticked
    ),
)


class BalancePage(MechanismPage):
    """Masses are typed in the table, the boom is dragged in the picture."""

    def __init__(self, session: Session, theme: Theme) -> None:
        self.view = BalanceView(theme)
        super().__init__(
            session,
            mechanism_on("balance"),
            self.view,
            FIELDS,
        )
        self.view.moved.connect(self._moved)
        self.table = RecordTable(session, COLUMNS, say("tab-machine.masses"), add=_added)
        self.table.header_right(1, 3, 4, 5)
        self.table.stretch(0)
        self.table.setMinimumHeight(84)
        self.table.setMaximumHeight(132)
        self.left.insertWidget(1, self.table)
        self.more = button(say("tab-machine.add-a-mass"), self._add)
        self.less = button(say("tab-machine.remove-selected"), self._less)
        grid = QGridLayout()
        grid.setVerticalSpacing(4)
        self.outputs: dict[str, QComboBox] = {}
        for row, (field, words) in enumerate(
            (
                ("carriage", say("tab-machine.carriage-is")),
                ("counterweight", say("tab-machine.counterweight-is")),
            )
        ):
            made = QComboBox()
            made.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
            made.setAccessibleName(shown(words))
            made.activated.connect(
                lambda _n, field=field, made=made: session.do(
                    Edit.one(
                        say("tab-machine.name-the", field=field),
                        (*BALANCE, field),
                        made.currentData() or None,
                    )
                )
            )
            self.outputs[field] = made
            line = Flow()
            line.addWidget(caption(words))
            line.addWidget(made, 1)
            grid.addLayout(line, row, 0, 1, 2)
        self.right.addLayout(grid)
        self.right.addLayout(row_of(self.more, self.less))
        self.right.addWidget(caption(caution_of("lifting"), "soft", wrap=True))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show a vehicle's balance."""
        vehicle, balance = evaluation.vehicle, evaluation.vehicle.balance
        self.show_planned(evaluation, describe_worst(vehicle), planned=balance is not None)
        outputs = vehicle.crane.outputs if vehicle.crane is not None else ()
        names = [(output.name, str(output.id)) for output in outputs]
        for field, box in self.outputs.items():
            named = getattr(balance, field) if balance is not None else None
            there = named is None or any(one == named for _, one in names)
            known = names if there else [*names, (str(named), str(named))]
            fill(box, [(say("tab-machine.as-typed"), ""), *known])
            box.setCurrentIndex(box.findData(named or ""))
            box.setEnabled(balance is not None)
        named = balance is not None and bool(balance.carriage and balance.counterweight)
        self.fields.entries["weight_share"].setEnabled(not named)  # it is the outputs' then
        for thing in (self.table, self.more, self.less):
            thing.setVisible(balance is not None)
        self.table.show_records(() if balance is None else balance.masses)
        self.view.show_evaluation(evaluation)

    def facts(self) -> str:
        """Say what the page does."""
        return say("tab-machine.drag-the-load-around-cross-centre-of-gravity")

    def _balance(self) -> Balance:
        return self.session.vehicle.balance or Balance()

    def _moved(self, slew: float, reach: float) -> None:
        self.session.do(move_boom(self._balance(), slew, reach))

    def _add(self) -> None:
        self.session.do(add_mass(self.session.vehicle))

    def _less(self) -> None:
        row = self.table.chosen()
        if row is not None:
            self.session.do(remove_mass(self._balance(), row))

"""The liquid line's page: sizes right, its cylinders to scale left."""

from PyQt6.QtWidgets import QComboBox, QHBoxLayout

from mild_badger.app.drawing.fields import DocumentLineEdit, FieldSpec
from mild_badger.app.drawing.widgets import button, caption, fill
from mild_badger.app.session import Session
from mild_badger.app.tabs.machine.liquid_view import LiquidView
from mild_badger.app.tabs.machine.mechanism_page import MechanismPage
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.kit.cautions import caution_of
from mild_badger.core.mechanisms.liquid.edits import add_line
from mild_badger.core.mechanisms.liquid.model import MAX_LINES, LiquidLine
from mild_badger.core.mechanisms.registry import mechanism_on
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit

__all__ = ["LiquidPage"]

FIELDS = (
    FieldSpec(
        ("works",),
        choices=(("brake", say("tab-machine.brakes")), ("clutch", say("tab-machine.clutch-2"))),
        owner=LiquidLine,
    ),
    FieldSpec(("master_mm",), owner=LiquidLine),
    FieldSpec(("slave_mm",), owner=LiquidLine),
    FieldSpec(("slaves",), owner=LiquidLine),
    FieldSpec(("hand_n",), owner=LiquidLine),
    FieldSpec(("pedal_ratio",), unit=": 1", owner=LiquidLine),
    FieldSpec(("pedal_mm",), owner=LiquidLine),
    FieldSpec(("lost_mm3",), owner=LiquidLine),
    FieldSpec(
        ("floating",),
        choices=(("true", say("tab-machine.floating")), ("false", say("tab-machine.fixed"))),
        owner=LiquidLine,
    ),
    FieldSpec(("gap_mm",), owner=LiquidLine),
    FieldSpec(("radius_mm",), owner=LiquidLine),
    FieldSpec(("pad_mu",), owner=LiquidLine),
    FieldSpec(("weight_share",), owner=LiquidLine),
)


class LiquidPage(MechanismPage):
    """A line is chosen at the top; its sizes, and the caution that goes with liquid in them."""

    def __init__(self, session: Session, theme: Theme) -> None:
        self.view = LiquidView(theme)
        self.selected = 0
        super().__init__(
            session,
            mechanism_on("liquid"),
            self.view,
            FIELDS,
            number=lambda: self.selected,
            root=lambda: ("hydraulic_lines", self.selected),
        )
        self.lines = QComboBox()
        self.lines.setAccessibleName(say("tab-machine.liquid-line-in-view"))
        self.lines.activated.connect(self._choose)
        self.more = button(say("tab-machine.add-a-line"), self._add)
        self.name = DocumentLineEdit(session, self._rename, say("tab-machine.line-name"))
        row = QHBoxLayout()
        row.addWidget(self.lines, 1)
        row.addWidget(self.more)
        self.top.addLayout(row)
        named = QHBoxLayout()
        named.addWidget(caption(say("tab-machine.line-name")))
        named.addWidget(self.name, 1)
        self.top.addLayout(named)
        self.left.addWidget(caption(caution_of("liquid"), "soft", wrap=True))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show a vehicle's liquid lines."""
        lines = evaluation.vehicle.hydraulic_lines
        self.selected = min(self.selected, max(len(lines) - 1, 0))
        fill(self.lines, [(line.name, line.name) for line in lines])
        self.lines.setCurrentIndex(self.selected if lines else -1)
        for thing in (self.lines, self.more, self.name):
            thing.setEnabled(bool(lines))
        self.view.show_line(evaluation, self.selected)
        line = self.view.line()
        words = "" if line is None else self.view.words()
        self.name.show_value(line.name if line is not None else "")
        self.show_planned(evaluation, words, planned=line is not None)

    def choose_thing(self, where: tuple[str, ...]) -> None:
        """Choose the line that a finding concerns."""
        for number, line in enumerate(self.session.vehicle.hydraulic_lines):
            if line.id in where:
                self.lines.setCurrentIndex(number)
                self._choose(number)

    def _choose(self, number: int) -> None:
        self.selected = number
        self.refresh(self.session.evaluation)

    def _add(self) -> None:
        edit = add_line(self.session.vehicle)
        if edit is None:
            self.session.refused.emit(
                say("tab-machine.a-vehicle-has-at-most-liquid-lines", max_lines=MAX_LINES)
            )
        elif self.session.do(edit):
            self._choose(len(self.session.vehicle.hydraulic_lines) - 1)

    def _rename(self, text: str) -> bool:
        return self.session.do(
            Edit.one(
                say("tab-machine.name-the-liquid-line"),
                ("hydraulic_lines", self.selected, "name"),
                text.strip(),
            )
        )

    def facts(self) -> str:
        """Say what the page does."""
        return say("tab-machine.from-a-pedal-through-a-master-to-its-slaves")

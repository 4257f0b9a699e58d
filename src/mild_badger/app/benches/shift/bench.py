"""The Shift bench: slots, columns, directions."""

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from mild_badger.app.benches.bench import Bench
from mild_badger.app.benches.shift.diagram import SlotDiagram
from mild_badger.app.benches.shift.gate_page import GatePage
from mild_badger.app.benches.shift.table_page import TablePage
from mild_badger.app.drawing.box_view import BoxView
from mild_badger.app.drawing.widgets import caption, field_of, page_bar
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.changes import Edit
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.vehicle.box import SlotBox
from mild_badger.core.vehicle.edits import move_slot

__all__ = ["ShiftBench"]

PAGES = ("Sleeves", "Gate", "Shift table")
FACTS = {
    "layshaft": "The input pair turns the layshaft in every gear; a sleeve couples one pair's "
    "driven gear to the output, or input and output directly. Two at once lock the box.",
    "two-shaft": "All pairs stand between input and output; one mesh turns the output against the "
    "input, and the final drive's crown wheel makes up for it.",
    "twin-layshaft": "Odd columns sit on the first layshaft, even ones on the second; both drive "
    "the one output wheel.",
    "range-splitter": "One splitter pair and one range pair are in at a time; their ratios "
    "multiply.",
}


class ShiftBench(Bench):
    """Pages: the sleeves with how the columns are fed and tied, the gate, the shift table."""

    title = "Shift"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(6)
        head = QHBoxLayout()
        head.addWidget(self.heading, 1)
        self.pages = page_bar(PAGES)
        self.pages.currentChanged.connect(lambda _n: self.bring_up_to_date(again=True))
        head.addWidget(self.pages)
        outer.addLayout(head)
        outer.addWidget(self.facts)
        self.diagram = SlotDiagram(theme)
        self.diagram.engage.connect(session.engage)
        self.diagram.move_gear.connect(
            lambda gear, column, face: session.do(move_slot(session.vehicle, gear, column, face))
        )
        self.lines = BoxView(theme)
        self.lines.engage.connect(session.engage)
        self.pictures = QStackedWidget()
        self.pictures.addWidget(self.diagram)
        self.pictures.addWidget(self.lines)
        self.gate_page = GatePage(session, theme)
        self.table_page = TablePage()
        self.pictures.addWidget(self.gate_page)
        self.pictures.addWidget(self.table_page)
        outer.addWidget(self.pictures, 1)
        self.feeding = QWidget()
        row = QHBoxLayout(self.feeding)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(caption("Columns are fed by"))
        self.feed = QComboBox()
        self.feed.setAccessibleName("Columns are fed by")
        self.feed.addItem("a drive rail", "rail")
        self.feed.addItem("one input shaft", "shaft")
        self.feed.activated.connect(
            lambda _i: session.do(
                Edit.one("Change the feed", ("box", "feed"), self.feed.currentData())
            )
        )
        row.addWidget(self.feed)
        row.addSpacing(16)
        self.rail_words = caption("rail gears")
        row.addWidget(self.rail_words)
        self.rail = field_of(session, ("box", "rail_teeth"), "Rail gears", width=48)
        row.addWidget(self.rail)
        row.addWidget(caption("tie gears"))
        self.tie = field_of(session, ("box", "tie_teeth"), "Tie gears", width=48)
        row.addWidget(self.tie)
        row.addStretch(1)
        outer.addWidget(self.feeding)
        self.proof = caption("", wrap=True)
        self.proof.setAccessibleName("Proof that nothing locks")
        outer.addWidget(self.proof)
        self.hint = caption("", "soft", wrap=True)
        outer.addWidget(self.hint)

    def show_page(self, number: int) -> None:
        """Go to a page: the sleeves, the gate, the shift table."""
        self.pages.setCurrentIndex(number)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation."""
        box = evaluation.vehicle.box
        gear = evaluation.engaged
        count = evaluation.sleeves
        what = "slider" if getattr(box, "engagement", "dog") == "slide" else "sleeve"
        self.heading.setText(
            f"{len(box.slots)} speeds on {count} {what}{'s' * (count != 1)}"
            + (f", gear {gear.name} in" if gear else ", neutral")
        )
        self.proof.setText(evaluation.proof.words)
        slot = isinstance(box, SlotBox)
        page = self.pages.currentIndex()
        self.pictures.setCurrentIndex(page + 1 if page else 0 if slot else 1)
        self.feeding.setVisible(slot and not page)
        self.hint.setVisible(not page)
        if page == 1:
            self.facts.setText(
                "A lever on a pivot: its finger pushes one rail at a time, the other way than the "
                "knob goes. Press a gear to engage it."
            )
            self.gate_page.refresh(evaluation)
            return
        if page == 2:
            self.facts.setText(
                "How many moves take you from every gear to every gear; | is one pull through "
                "neutral. All sleeves that leave go before any enters."
            )
            self.table_page.refresh(evaluation)
            return
        self.hint.setText(
            "Click a slot to engage it; drag a gear, or press Alt with an arrow key, to give it "
            "another place."
            if slot
            else "Click a pair or a sleeve's side to engage its gear. Places are typed on the "
            "Ratios bench, page Whole box."
        )
        if not isinstance(box, SlotBox):
            self.facts.setText(FACTS[box.architecture])
            self.lines.show_evaluation(evaluation)
            return
        self.facts.setText(
            "Tied selector shafts turn opposite ways side by side. "
            + (
                "The rail does the same below, so every forward train takes an even number of "
                "meshes and reverse one more or less."
                if box.feed == "rail"
                else "One input shaft does not, so forward trains take an even number of meshes in "
                "odd columns and an odd number in even ones."
            )
        )
        self.feed.setCurrentIndex(self.feed.findData(box.feed))
        self.rail.show_value(str(box.rail_teeth))
        self.tie.show_value(str(box.tie_teeth))
        self.rail.setVisible(box.feed == "rail")
        self.rail_words.setVisible(box.feed == "rail")
        self.diagram.write_in(self.session.school)
        self.diagram.show_evaluation(evaluation)

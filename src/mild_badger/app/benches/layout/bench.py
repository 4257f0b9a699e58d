"""The Layout bench: where the shafts of the engaged gear's train sit."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.benches.bench import Bench
from mild_badger.app.benches.layout.seats_page import SeatsPage
from mild_badger.app.benches.layout.stack_page import StackPage
from mild_badger.app.benches.layout.whole_page import WholePage
from mild_badger.app.drawing.pictures import offset_words, place_words, train_picture
from mild_badger.app.drawing.train_view import TrainView
from mild_badger.app.drawing.widgets import Cell, Pages, Table, caption, page_bar
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.layout.train import Placement
from mild_badger.core.results import GearResult

__all__ = ["LayoutBench"]


PAGES = ("Engaged train", "Whole box", "Stack", "Seats")
TRAIN, WHOLE, STACK, SEATS = range(4)


class LayoutBench(Bench):
    """Pages: the engaged train with every mesh in figures; the whole box placed; seats."""

    title = "Layout"
    search_wanted = pyqtSignal(object, object, str)

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
        self.pictures = Pages()
        self.train_page = self._train_page()
        self.whole_page = WholePage(session, theme)
        self.whole_page.search_wanted.connect(self.search_wanted)
        self.stack_page = StackPage(session, theme)
        self.seats_page = SeatsPage(session, theme)
        for page in (self.train_page, self.whole_page, self.stack_page, self.seats_page):
            self.pictures.addWidget(page)
        outer.addWidget(self.pictures, 1)

    def _train_page(self) -> QWidget:
        """Lay out the end view of the engaged train, its meshes and its shafts."""
        made = QWidget()
        row = QHBoxLayout(made)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(16)
        self.view = TrainView(self.theme, detailed=True)
        row.addWidget(self.view, 1)
        column = QVBoxLayout()
        column.setSpacing(6)
        column.addWidget(caption("Meshes", "head"))
        self.meshes = Table(("pair", "apart", "seat mm", "contact", "sits"), "Meshes")
        self.meshes.setFixedWidth(324)
        self.meshes.header_right(2, 3)
        self.meshes.stretch(4)
        column.addWidget(self.meshes, 3)
        column.addWidget(caption("Shafts", "head"))
        self.shafts = Table(("shaft", "at", "gears", "turns"), "Shafts")
        self.shafts.setFixedWidth(324)
        self.shafts.header_right(3)
        self.shafts.stretch(2)
        column.addWidget(self.shafts, 3)
        note = caption(
            "Seat is how far apart the shafts are beyond the nominal distance. Contact is the "
            "contact ratio at the real distance: below 1 the teeth let go.",
            "soft",
            wrap=True,
        )
        note.setFixedWidth(324)
        column.addWidget(note)
        row.addLayout(column)
        return made

    def show_page(self, number: int) -> None:
        """Go to a page: the engaged train, the whole box, the seats."""
        self.pages.setCurrentIndex(number)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation."""
        page = self.pages.currentIndex()
        self.pictures.setCurrentIndex(page)
        if page == WHOLE:
            self.heading.setText("The whole box on the grid")
            self.facts.setText(
                "Press a gear to engage it, a slab of the stack to look at it; drag a shaft to "
                "move it; the wheel zooms."
            )
            self.whole_page.refresh(evaluation)
            return
        if page == STACK:
            self.heading.setText("The stack along the shafts")
            self.facts.setText(
                "Lengths from face to face of the walls; the next longer shaft of the kit is taken."
            )
            self.stack_page.refresh(evaluation)
            return
        if page == SEATS:
            self.heading.setText(f"Seats of {evaluation.vehicle.kit.name}")
            self.facts.setText(
                "In wood and print every pair sits at its own distance."
                if evaluation.vehicle.kit.any_seat
                else "Where each two sizes sit, and how well; offsets across and up."
            )
            self.seats_page.refresh(evaluation)
            return
        gear = evaluation.engaged
        self.view.show_picture(train_picture(evaluation, gear))
        if gear is None:
            self.heading.setText("Neutral")
            self.facts.setText("Engage a gear with 1–9 or R to see where its shafts sit.")
        else:
            self._head(gear)
        self._fill_meshes(gear)
        self._fill_shafts(gear)

    def _head(self, gear: GearResult) -> None:
        placed = gear.placement
        kit = self.session.vehicle.kit
        where = "to scale" if kit.any_seat else "on whole units"
        self.heading.setText(f"Gear {gear.name} {where}")
        if gear.direct:
            self.facts.setText("Direct drive: a sleeve couples input and output shaft.")
            return
        if placed.problem or not placed.gears:
            self.facts.setText(placed.problem or "No train yet; choose one on the Ratios bench.")
            return
        through = (
            "The shafts of input and output can pass through."
            if placed.through
            else "The input's or the output's shaft must end at its own gear."
        )
        size = f"{placed.width_u:g} × {placed.height_u:g} u"
        if kit.any_seat:
            unit = kit.grid_unit_mm
            size = f"{placed.width_u * unit:.0f} × {placed.height_u * unit:.0f} mm"
        self.facts.setText(
            f"{len(placed.shafts_u)} shafts in {len(gear.train)} "
            f"layer{'s' * (len(gear.train) != 1)}, {size} between centres. "
            f"{through}"
        )

    def _fill_meshes(self, gear: GearResult | None) -> None:
        placed = gear.placement if gear is not None else Placement((), (), ())
        kit = self.session.vehicle.kit
        rows = []
        for mesh in placed.meshes:
            one, other = placed.gears[mesh.first], placed.gears[mesh.second]
            found = mesh.seat.engagement
            rows.append(
                (
                    Cell(f"{one.teeth} : {other.teeth}"),
                    Cell(offset_words(kit, mesh.seat)),
                    Cell(f"{found.seat_error_mm:+.2f}".replace("-", "−"), right=True),
                    Cell(f"{found.contact_ratio:.2f}", right=True),
                    Cell(mesh.seat.verdict.value),
                )
            )
        self.meshes.show_cells(rows)

    def _fill_shafts(self, gear: GearResult | None) -> None:
        kit = self.session.vehicle.kit
        rows = []
        if gear is not None:
            last = len(gear.placement.shafts_u) - 1
            for number, (x, y) in enumerate(gear.placement.shafts_u):
                own = [n for n, g in enumerate(gear.placement.gears) if g.shaft == number]
                turns = gear.turns[own[0]]
                name = {0: "input", last: "output"}.get(number, str(number + 1))
                speed = "free" if turns is None else f"{float(turns):+.3f}".replace("-", "−")
                rows.append(
                    (
                        Cell(name),
                        Cell(place_words(kit, (x, y))),
                        Cell(" + ".join(str(gear.placement.gears[n].teeth) for n in own)),
                        Cell(speed, right=True),
                    )
                )
        self.shafts.show_cells(rows)

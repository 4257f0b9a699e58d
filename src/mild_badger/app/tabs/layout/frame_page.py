"""The frame: every wall drawn, and the bearing in each seat of it."""

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.fields import DocumentCheckBox, field_of
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.layout.wall_view import WallView
from mild_badger.app.theme.style import Theme
from mild_badger.core.errors import BadgerError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM, bare, in_mm
from mild_badger.core.layout.bearings import (
    SeatChoice,
    choose_bearing,
    choose_cheapest,
    describe_bearing,
    seat_choices,
)
from mild_badger.core.layout.diameters import DiameterChoice, diameter_choices
from mild_badger.core.message import say
from mild_badger.core.structure.forks import forks_of
from mild_badger.core.structure.names import shaft_label
from mild_badger.core.structure.plates import plates_of
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.stack import Rod
from mild_badger.core.structure.walls import walls_of
from mild_badger.core.words import signed, word
from mild_badger.text.quantities import number_text

__all__ = ["FramePage"]

SEATS = (
    say("tab-layout.shaft"),
    say("tab-layout.wall-2"),
    say("tab-layout.bearing"),
    say("tab-layout.carries"),
    say("tab-layout.price"),
)
PLAIN = say("tab-layout.plain-hole")


class FramePage(QWidget):
    """Left the wall, right its seats; a bearing is chosen for the seat that is selected."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self._seats: tuple[SeatChoice, ...] = ()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.walls = QComboBox()
        self.walls.setAccessibleName(say("tab-layout.wall"))
        self.walls.setMinimumWidth(140)
        self.walls.activated.connect(lambda _n: self.refresh(session.evaluation))
        self.fields = {
            name: field_of(session, ("frame", name), words, width=48)
            for name, words in (
                ("wall_mm", say("tab-layout.thickness-of-walls")),
                ("edge_mm", say("tab-layout.material-beside-a-hole")),
                ("post_mm", say("tab-layout.diameter-of-posts")),
            )
        }
        self.access = DocumentCheckBox(
            session, ("frame", "access_holes"), say("tab-layout.access-holes")
        )
        self.made = QWidget()
        asked = row_of(
            say("tab-layout.walls"),
            self.fields["wall_mm"],
            caption(say("tab-layout.thick", mm=MM), "soft"),
            self.fields["edge_mm"],
            caption(say("tab-layout.left-beside-a-hole", mm=MM), "soft"),
            say("tab-layout.posts"),
            self.fields["post_mm"],
            caption(MM, "soft"),
            self.access,
        )
        asked.setContentsMargins(0, 0, 0, 0)
        self.made.setLayout(asked)
        column.addWidget(self.made)
        self.view = WallView(theme)
        views = QHBoxLayout()
        views.setSpacing(10)
        pictures = QVBoxLayout()
        pictures.setSpacing(6)
        pictures.addLayout(row_of(caption(say("tab-layout.wall")), self.walls))
        pictures.addWidget(self.view, 1)
        views.addLayout(pictures, 1)
        side = QVBoxLayout()
        side.setSpacing(6)
        side.addWidget(caption(say("tab-layout.bearing-seats"), "head"))
        self.seats = Table(SEATS, say("tab-layout.bearing-seats"))
        self.seats.setFixedWidth(350)
        self.seats.header_right(4)
        self.seats.stretch(2)
        self.seats.currentCellChanged.connect(lambda *_at: self._offer())
        side.addWidget(self.seats, 1)
        self.choice = QComboBox()
        self.choice.setAccessibleName(say("tab-layout.bearing-for-the-seat"))
        self.choice.activated.connect(lambda _n: self._choose())
        self.choice.setMinimumWidth(180)
        self.cheapest = button(say("tab-layout.choose-the-cheapest"), self._cheapest)
        side.addLayout(row_of(self.choice, self.cheapest))
        side.addWidget(caption(say("tab-layout.shafts-of-other-diameters"), "head"))
        self.diameters = Table(
            (
                say("tab-layout.shaft-diameter", mm=MM),
                say("tab-layout.apart-at-stall", mm=MM),
                say("tab-layout.holds"),
                say("tab-layout.bearings-cost"),
            ),
            say("tab-layout.shafts-of-other-diameters"),
        )
        self.diameters.setFixedWidth(350)
        self.diameters.setMaximumHeight(116)
        self.diameters.header_right(0, 1, 2, 3)
        self.diameters.stretch(3)
        self.diameters.setToolTip(shown(say("tab-layout.in-the-same-places-at-the-motors-stall")))
        side.addWidget(self.diameters)
        views.addLayout(side)
        column.addLayout(views, 1)
        self.words = caption("", wrap=True)
        self.words.setAccessibleName(say("tab-layout.what-the-bearings-come-to"))
        column.addWidget(self.words)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the walls of a vehicle's box and what sits in them."""
        vehicle = evaluation.vehicle
        for name, field in self.fields.items():
            field.show_value(number_text(getattr(vehicle.frame, name)))
        self.access.show_value(vehicle.frame.access_holes)
        self.made.setVisible(vehicle.kit.any_seat)
        stack = stack_for(vehicle)
        names = [word(stack.slabs[wall]) for wall in stack.walls] if stack is not None else []
        if list(map(shown, names)) != [self.walls.itemText(n) for n in range(self.walls.count())]:
            self.walls.clear()
            self.walls.addItems(list(map(shown, names)))
        here = max(self.walls.currentIndex(), 0)
        wall = plate = None
        rods: tuple[Rod, ...] = ()
        self._seats = ()
        if stack is not None:
            self._seats = seat_choices(vehicle, stack)
            forks = forks_of(vehicle, stack)
            every = (*stack.rods.values(), *(fork.rail for fork in forks))
            rods = tuple(rod for rod in every if stack.walls[here] in rod.walls)
            if vehicle.kit.any_seat:
                plates = plates_of(vehicle, stack, forks)
                plate = plates[here] if here < len(plates) else None
            else:
                wall = walls_of(vehicle, stack, forks)[here]
        self.view.show_wall(evaluation, rods, wall, plate)
        self.seats.show_cells([self._cells(seat) for seat in self._seats])
        choices = diameter_choices(vehicle, stack) if stack is not None else ()
        self.diameters.show_cells([self._diameter(choice) for choice in choices])
        self.words.setText(
            describe_bearing(vehicle, stack)
            if stack is not None
            else say("tab-layout.every-shaft-is-to-stand-in-two-walls-place")
        )
        self._offer()

    def _cells(self, seat: SeatChoice) -> list[Cell]:
        bearing, bad = seat.chosen, self.theme.tokens.bad
        price = "" if bearing is None or bearing.price is None else signed(bearing.price, ".2f")
        carries = ""
        if bearing is not None:
            carries = (
                say("tab-layout.all-loads") if bearing.takes_thrust else say("tab-layout.no-thrust")
            )
        return [
            Cell(shaft_label(self.session.vehicle, seat.shaft)),
            Cell(word(seat.wall.removesuffix(" wall"))),
            Cell(
                PLAIN if bearing is None else bearing.name,
                tip=seat.problem,
                color=bad if seat.problem else None,
            ),
            Cell(carries),
            Cell(price, right=True),
        ]

    def _diameter(self, choice: DiameterChoice) -> list[Cell]:
        bad = self.theme.tokens.bad
        share = min(choice.held, 9.99)
        return [
            Cell(bare(in_mm(choice.diameter_mm)), right=True, bold=choice.taken),
            Cell(bare(in_mm(choice.apart_mm, 2)), right=True),
            Cell(
                say("tab-layout.of-stall", percent=100 * share),
                right=True,
                color=bad if share < 1 else None,
            ),
            Cell("–" if choice.price is None else signed(choice.price, ".2f"), right=True),
        ]

    def _offer(self) -> None:
        """Offer what fits the selected seat."""
        row = self.seats.currentRow()
        self.choice.clear()
        self.choice.setEnabled(0 <= row < len(self._seats))
        self.cheapest.setEnabled(bool(self._seats))
        if not 0 <= row < len(self._seats):
            self.choice.addItem(shown(say("tab-layout.select-a-seat")))
            return
        seat = self._seats[row]
        self.choice.addItem(shown(PLAIN), None)
        for bearing in seat.fitting:
            price = "" if bearing.price is None else f", {signed(bearing.price, '.2f')}"
            self.choice.addItem(shown(f"{bearing.name}{price}"), bearing.name)
        if seat.chosen is not None:
            self.choice.setCurrentIndex(max(self.choice.findData(seat.chosen.name), 0))

    def _choose(self) -> None:
        row = self.seats.currentRow()
        if 0 <= row < len(self._seats):
            seat = self._seats[row]
            name = self.choice.currentData()
            try:
                edit = choose_bearing(self.session.vehicle, seat.shaft, seat.wall, name)
            except BadgerError as error:
                self.session.refused.emit(str(error))
                return
            self.session.do(edit)

    def _cheapest(self) -> None:
        stack = stack_for(self.session.vehicle)
        if stack is None:
            return
        try:
            self.session.do(choose_cheapest(self.session.vehicle, stack))
        except BadgerError as error:
            self.session.refused.emit(str(error))

"""The tab Layout: where the shafts of the engaged gear's train sit."""

from fractions import Fraction

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from mild_badger.app.drawing.pictures import describe_offset, describe_place, train_picture
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.train_view import TrainPicture, TrainView
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.layout.frame_page import FramePage
from mild_badger.app.tabs.layout.seats_page import SeatsPage
from mild_badger.app.tabs.layout.stack_page import StackPage
from mild_badger.app.tabs.layout.whole_page import WholePage
from mild_badger.app.tabs.tab import PagedTab
from mild_badger.app.theme.style import Theme
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM, bare, in_mm
from mild_badger.core.layout.names import names_of_placed
from mild_badger.core.layout.point_to_point import WayShown, apply_way, ways_anywhere, ways_to
from mild_badger.core.layout.train import Placement
from mild_badger.core.ratios.train import train_text
from mild_badger.core.results import GearResult
from mild_badger.core.words import plural, signed
from mild_badger.text.fields import parse_length
from mild_badger.text.pages import PAGES as TAB_PAGES

__all__ = ["LayoutTab"]


PAGES = TAB_PAGES["Layout"]


class LayoutTab(PagedTab):
    """Pages: the engaged train with every mesh in figures; the whole box placed; seats."""

    title = "Layout"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, PAGES)
        self._found: tuple[str, tuple[WayShown, ...]] = ("", ())
        self.train_page = self._train_page()
        self.whole_page = WholePage(session, theme)
        self.whole_page.search_wanted.connect(self.search_wanted)
        self.whole_page.pictures_wanted.connect(self.pictures_wanted)
        self.stack_page = StackPage(session, theme)
        self.frame_page = FramePage(session, theme)
        self.seats_page = SeatsPage(session, theme)
        for page in (
            self.train_page,
            self.whole_page,
            self.stack_page,
            self.frame_page,
            self.seats_page,
        ):
            self.pictures.addWidget(page)

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
        self.meshes = Table(("pair", "apart", f"seat {MM}", "contact", "sits"), "Meshes")
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
        self.meshes.setToolTip(
            "Seat is how far apart the shafts are beyond the nominal distance. Contact is the "
            "contact ratio at the real distance: below 1 the teeth let go."
        )
        column.addWidget(caption("Between two points", "head"))
        self.out_x, self.out_y = QLineEdit(), QLineEdit()
        for entry, name in ((self.out_x, "Output to the right"), (self.out_y, "Output up")):
            entry.setAccessibleName(shown(name))
            entry.setFixedWidth(44)
            entry.returnPressed.connect(self._find_ways)
        self.find_ways = button("Find routes", self._find_ways)
        self.out_unit = caption("u", "soft")
        self.find_ways.setToolTip("With both fields empty the output may stand anywhere")
        column.addLayout(row_of("output at", self.out_x, self.out_y, self.out_unit, self.find_ways))
        self.ways = Table(
            ("train with its idlers", "output at", f"seats {MM}"), "Routes of the train"
        )
        self.ways.setFixedWidth(324)
        self.ways.header_right(1, 2)
        self.ways.stretch(0)
        self.ways.currentCellChanged.connect(lambda *_at: self._show_way())
        column.addWidget(self.ways, 3)
        self.take = button("Use this train", self._take_way)
        column.addWidget(self.take)
        row.addLayout(column)
        return made

    def _place(self, text: str, name: str) -> float:
        """Read a coordinate: in mm, or in units where the kit has a grid."""
        kit = self.session.vehicle.kit
        if kit.any_seat:
            return parse_length(text, what=name, kit=kit)
        return parse_length(text, what=name, kit=kit, shown="u") / kit.grid_unit_mm

    def _find_ways(self) -> None:
        """Lay the engaged gear's pairs to where the output shall stand."""
        gear = self.session.situation.gear
        if gear is None:
            self.session.refused.emit("Engage a gear first; its train is laid between the points.")
            return
        vehicle = self.session.vehicle
        entries = ((self.out_x, "Output to the right"), (self.out_y, "Output up"))
        try:
            if not any(entry.text().strip() for entry, _ in entries):
                self._found = (gear, ways_anywhere(vehicle, gear))
            else:
                x, y = (self._place(entry.text(), name) for entry, name in entries)
                self._found = (gear, ways_to(vehicle, gear, x, y))
        except InputError as error:
            self.session.refused.emit(str(error))
            return
        self._list_ways()
        if not self._found[1]:
            self.facts.setText(
                "Nothing leads there within "
                f"{vehicle.placing.layers} layers; try another place"
                + ("." if vehicle.kit.any_seat else ", or half units on the page Whole box.")
            )

    def _list_ways(self) -> None:
        rows = [
            [
                Cell(train_text(shown.train), tip=shown.summary),
                Cell("{:g}, {:g}".format(*shown.output), right=True),
                Cell(f"{shown.error_mm:.2f}", right=True),
            ]
            for shown in self._found[1]
        ]
        self.ways.show_cells(rows)
        self.take.setEnabled(bool(rows))
        if rows:
            self.ways.setCurrentCell(0, 0)
            self._show_way()

    def _show_way(self) -> None:
        row, (name, way) = self.ways.currentRow(), self._found
        gear = self.session.evaluation.gear(name)
        if gear is None or not 0 <= row < len(way):
            return
        shown = way[row]
        start = gear.turns[0] if gear.turns and gear.turns[0] else Fraction(1)
        kit = self.session.vehicle.kit
        self.view.show_picture(TrainPicture(kit, shown.placement, shown.turns(start), gear.reverse))
        self.facts.setText(f"Way {row + 1} of {len(way)}: {shown.summary}.")

    def _take_way(self) -> None:
        row, (name, shown) = self.ways.currentRow(), self._found
        if 0 <= row < len(shown):
            self.session.do(apply_way(self.session.vehicle, name, shown[row]))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation."""
        page = self.turn_to_page()
        if page == "whole":
            self.heading.setText("The whole box on the grid")
            self.facts.setText(
                "Press a gear to engage it, a layer of the stack to look at it; drag a shaft to "
                "move it; the wheel zooms."
            )
            self.whole_page.refresh(evaluation)
            return
        if page == "stack":
            self.heading.setText("The stack along the shafts")
            self.facts.setText(
                "Lengths from face to face of the walls; the next longer shaft of the kit is taken."
            )
            self.stack_page.refresh(evaluation)
            return
        if page == "frame":
            self.heading.setText("Walls and bearings")
            self.facts.setText(
                "Every wall to scale, seen from the input end. Select a seat to choose its bearing."
            )
            self.frame_page.refresh(evaluation)
            return
        if page == "seats":
            self.heading.setText(f"Seats of {evaluation.vehicle.kit.name}")
            self.facts.setText(
                "In wood and print every pair sits at its own distance."
                if evaluation.vehicle.kit.any_seat
                else "Where each two sizes sit, and how well; offsets across and up."
            )
            self.seats_page.refresh(evaluation)
            return
        gear = evaluation.engaged
        self.out_unit.setText("mm" if evaluation.vehicle.kit.any_seat else "u")
        self._found = ("", ())
        self._list_ways()
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
            none = "No train yet; choose one on the tab Ratios." if gear.geared else "No box."
            self.facts.setText(placed.problem or none)
            return
        through = (
            "The shafts of input and output can pass through."
            if placed.through
            else "The input's or the output's shaft must end at its own gear."
        )
        size = f"{placed.width_u:g} × {placed.height_u:g} u"
        if kit.any_seat:
            unit = kit.grid_unit_mm
            size = f"{bare(in_mm(placed.width_u * unit, 0))} × {in_mm(placed.height_u * unit, 0)}"
        self.facts.setText(
            f"{len(placed.shafts_u)} shafts in {len(gear.train)} "
            f"{plural('layer', len(gear.train))}, {size} between centres. "
            f"{through}"
        )

    def _fill_meshes(self, gear: GearResult | None) -> None:
        placed = gear.placement if gear is not None else Placement((), (), ())
        kit = self.session.vehicle.kit
        rows = []
        for mesh in placed.meshes:
            one, other = placed.gears[mesh.first], placed.gears[mesh.second]
            engagement = mesh.seat.engagement
            rows.append(
                (
                    Cell(f"{one.teeth} : {other.teeth}"),
                    Cell(describe_offset(kit, mesh.seat)),
                    Cell(bare(in_mm(engagement.seat_error_mm, 2, sign=True)), right=True),
                    Cell(f"{engagement.contact_ratio:.2f}", right=True),
                    Cell(mesh.seat.verdict.value),
                )
            )
        self.meshes.show_cells(rows)

    def _fill_shafts(self, gear: GearResult | None) -> None:
        vehicle = self.session.vehicle
        kit, rows = vehicle.kit, []
        if gear is not None:
            names = names_of_placed(vehicle, gear.id, gear.placement, gear.bodies)
            for number, at in enumerate(gear.placement.shafts_u):
                own = [n for n, g in enumerate(gear.placement.gears) if g.shaft == number]
                turns = gear.turns[own[0]]
                speed = "free" if turns is None else signed(float(turns), "+.3f")
                rows.append(
                    (
                        Cell(names[number]),
                        Cell(describe_place(kit, at)),
                        Cell(" + ".join(str(gear.placement.gears[n].teeth) for n in own)),
                        Cell(speed, right=True),
                    )
                )
        self.shafts.show_cells(rows)

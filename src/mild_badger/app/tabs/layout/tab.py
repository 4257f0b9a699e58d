"""The tab Layout: where the shafts of the engaged gear's train sit."""

from fractions import Fraction
from functools import cached_property

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from mild_badger.app.drawing.pictures import describe_offset, describe_place, train_picture
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.train_view import TrainPicture, TrainView
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.layout.around_page import AroundPage
from mild_badger.app.tabs.layout.frame_page import FramePage
from mild_badger.app.tabs.layout.function_page import FunctionBoxPage
from mild_badger.app.tabs.layout.proof_page import ProofPage
from mild_badger.app.tabs.layout.seats_page import SeatsPage
from mild_badger.app.tabs.layout.space_page import SpacePage
from mild_badger.app.tabs.layout.stack_page import StackPage
from mild_badger.app.tabs.layout.whole_page import WholePage
from mild_badger.app.tabs.tab import PagedTab
from mild_badger.app.theme.style import Theme
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM, bare, in_mm
from mild_badger.core.layout.point_to_point import WayShown, apply_way, ways_anywhere, ways_to
from mild_badger.core.message import say, say_count
from mild_badger.core.ratios.train import train_text
from mild_badger.core.results import GearResult
from mild_badger.core.structure.names import names_of_placed
from mild_badger.core.structure.train import Placement
from mild_badger.core.words import signed, word
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
        self.stack_page.pictures_wanted.connect(self.pictures_wanted)
        self.frame_page = FramePage(session, theme)
        self.seats_page = SeatsPage(session, theme)
        self.proof_page = ProofPage(session, theme)
        self.proof_page.search_wanted.connect(self.search_wanted)
        self.whole_page.taken.connect(self.proof_page.prove)
        for page in (
            self.train_page,
            self.whole_page,
            self.stack_page,
            self.frame_page,
            self.seats_page,
            self.proof_page,
        ):
            self.pictures.addWidget(page)

    @cached_property
    def functions_page(self) -> FunctionBoxPage:
        """The function box in space, made when it is first looked at."""
        made = self.added(FunctionBoxPage(self.session, self.theme))
        made.search_wanted.connect(self.search_wanted)
        return made

    @cached_property
    def space_page(self) -> SpacePage:
        """The box in space, made when it is first looked at."""
        made = self.added(SpacePage(self.session, self.theme))
        made.pictures_wanted.connect(self.pictures_wanted)
        made.bytes_wanted.connect(self.bytes_wanted)
        return made

    @cached_property
    def around_page(self) -> AroundPage:
        """What stands around the box, made when it is first looked at."""
        made = self.added(AroundPage(self.session, self.theme))
        made.search_wanted.connect(self.search_wanted)
        made.bytes_wanted.connect(self.bytes_wanted)
        return made

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
        column.addWidget(caption(say("tab-layout.meshes"), "head"))
        self.meshes = Table(
            (
                say("tab-layout.pair"),
                say("tab-layout.apart-2"),
                say("tab-layout.seat", mm=MM),
                say("tab-layout.contact"),
                say("tab-layout.sits"),
            ),
            say("tab-layout.meshes"),
        )
        self.meshes.setFixedWidth(324)
        self.meshes.header_right(2, 3)
        self.meshes.stretch(4)
        column.addWidget(self.meshes, 3)
        column.addWidget(caption(say("tab-layout.shafts"), "head"))
        self.shafts = Table(
            (
                say("tab-layout.shaft"),
                say("tab-layout.at-3"),
                say("tab-layout.gears"),
                say("tab-layout.turns"),
            ),
            say("tab-layout.shafts"),
        )
        self.shafts.setFixedWidth(324)
        self.shafts.header_right(3)
        self.shafts.stretch(2)
        column.addWidget(self.shafts, 3)
        self.meshes.setToolTip(say("tab-layout.seat-is-how-far-apart-the-shafts-are-beyond"))
        column.addWidget(caption(say("tab-layout.between-two-points"), "head"))
        self.out_x, self.out_y = QLineEdit(), QLineEdit()
        for entry, name in (
            (self.out_x, say("tab-layout.output-to-the-right")),
            (self.out_y, say("tab-layout.output-up")),
        ):
            entry.setAccessibleName(shown(name))
            entry.setFixedWidth(44)
            entry.returnPressed.connect(self._find_ways)
        self.find_ways = button(say("tab-layout.find-routes"), self._find_ways)
        self.out_unit = caption("u", "soft")
        self.find_ways.setToolTip(say("tab-layout.with-both-fields-empty-the-output-may-stand"))
        column.addLayout(
            row_of(
                say("tab-layout.output-at"), self.out_x, self.out_y, self.out_unit, self.find_ways
            )
        )
        self.ways = Table(
            (
                say("tab-layout.train-with-its-idlers"),
                say("tab-layout.output-at"),
                say("tab-layout.seats-2", mm=MM),
            ),
            say("tab-layout.routes-of-the-train"),
        )
        self.ways.setFixedWidth(324)
        self.ways.header_right(1, 2)
        self.ways.stretch(0)
        self.ways.currentCellChanged.connect(lambda *_at: self._show_way())
        column.addWidget(self.ways, 3)
        self.take = button(say("tab-layout.use-this-train"), self._take_way)
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
            self.session.refused.emit(say("tab-layout.engage-a-gear-first-its-train-is-laid"))
            return
        vehicle = self.session.vehicle
        entries = (
            (self.out_x, say("tab-layout.output-to-the-right")),
            (self.out_y, say("tab-layout.output-up")),
        )
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
                say(
                    "tab-layout.nothing-leads-there-within-layers-try",
                    layers=vehicle.placing.layers,
                )
                + (
                    "."
                    if vehicle.kit.any_seat
                    else say("tab-layout.or-half-units-on-the-page-whole-box")
                )
            )

    def _list_ways(self) -> None:
        rows = [
            [
                Cell(train_text(shown.train), tip=shown.summary),
                Cell("{:g}, {:g}".format(*shown.output), right=True),
                Cell(signed(shown.error_mm, ".2f"), right=True),
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
        self.facts.setText(
            say("tab-layout.way-of", row=row + 1, count_of_way=len(way), summary=shown.summary)
        )

    def _take_way(self) -> None:
        row, (name, shown) = self.ways.currentRow(), self._found
        if 0 <= row < len(shown):
            self.session.do(apply_way(self.session.vehicle, name, shown[row]))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation."""
        page = self.turn_to_page()
        if page == "whole":
            on_grid = not evaluation.vehicle.kit.any_seat
            searched = evaluation.vehicle.box.free_trains and on_grid
            self.heading.setText(
                say("tab-layout.the-whole-box-on-the-grid")
                if searched
                else say("tab-layout.the-whole-box")
            )
            self.facts.setText(
                say("tab-layout.press-a-gear-to-engage-it-a-layer-of-the")
                if searched
                else say("tab-layout.press-a-gear-to-engage-it-a-layer-to-look")
            )
            self.whole_page.refresh(evaluation)
            return
        if page == "stack":
            self.heading.setText(say("tab-layout.the-stack-along-the-shafts"))
            self.facts.setText(say("tab-layout.lengths-from-face-to-face-of-the-walls-the"))
            self.stack_page.refresh(evaluation)
            return
        if page == "frame":
            self.heading.setText(say("tab-layout.walls-and-bearings"))
            self.facts.setText(say("tab-layout.every-wall-to-scale-seen-from-the-input-end"))
            self.frame_page.refresh(evaluation)
            return
        if page == "proof":
            self.heading.setText(say("tab-layout.whether-anything-touches"))
            self.facts.setText(say("tab-layout.solids-of-all-parts-in-every-state"))
            self.proof_page.refresh(evaluation)
            return
        if page == "space":
            self.heading.setText(say("tab-layout.the-box-in-space"))
            self.facts.setText(say("tab-layout.go-round-it-run-it-cut-it-open"))
            self.space_page.refresh(evaluation)
            return
        if page == "around":
            self.heading.setText(say("tab-layout.what-stands-around-the-box"))
            self.facts.setText(say("tab-layout.simple-shapes-from-the-box-to-the-wheels"))
            self.around_page.refresh(evaluation)
            return
        if page == "functions":
            self.heading.setText(say("tab-layout.the-function-box-in-space"))
            self.facts.setText(say("tab-layout.the-function-box-stands-beside-the-box"))
            self.functions_page.refresh(evaluation)
            return
        if page == "seats":
            self.heading.setText(say("tab-layout.seats-of", name=evaluation.vehicle.kit.name))
            self.facts.setText(
                say("tab-layout.in-wood-and-print-every-pair-sits-at-its-own")
                if evaluation.vehicle.kit.any_seat
                else say("tab-layout.where-each-two-sizes-sit-and-how-well")
            )
            self.seats_page.refresh(evaluation)
            return
        gear = evaluation.engaged
        self.out_unit.setText("mm" if evaluation.vehicle.kit.any_seat else "u")
        self._found = ("", ())
        self._list_ways()
        self.view.show_picture(train_picture(evaluation, gear))
        if gear is None:
            self.heading.setText(say("tab-layout.neutral"))
            self.facts.setText(say("tab-layout.engage-a-gear-with-1-9-or-r-to-see-where-its"))
        else:
            self._head(gear)
        self._fill_meshes(gear)
        self._fill_shafts(gear)

    def _head(self, gear: GearResult) -> None:
        placed = gear.placement
        kit = self.session.vehicle.kit
        where = say("tab-layout.to-scale") if kit.any_seat else say("tab-layout.on-whole-units")
        self.heading.setText(say("tab-layout.gear", name=gear.name, where=where))
        if gear.direct:
            self.facts.setText(say("tab-layout.direct-drive-a-sleeve-couples-input-and"))
            return
        if placed.problem or not placed.gears:
            none = (
                say("tab-layout.no-train-yet-choose-one-on-the-tab-ratios")
                if gear.geared
                else say("tab-layout.no-box")
            )
            self.facts.setText(placed.problem or none)
            return
        through = (
            say("tab-layout.the-shafts-of-input-and-output-can-pass")
            if placed.through
            else say("tab-layout.the-inputs-or-the-outputs-shaft-must-end-at")
        )
        size = f"{signed(placed.width_u, 'g')} × {signed(placed.height_u, 'g')} u"
        if kit.any_seat:
            unit = kit.grid_unit_mm
            size = f"{bare(in_mm(placed.width_u * unit, 0))} × {in_mm(placed.height_u * unit, 0)}"
        self.facts.setText(
            say(
                "tab-layout.shafts-in-between-centres",
                count_of_shafts_u=len(placed.shafts_u),
                count_of_train=len(gear.train),
                layer=say_count("noun.layer", len(gear.train)),
                size=size,
                through=through,
            )
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
                    Cell(signed(engagement.contact_ratio, ".2f"), right=True),
                    Cell(word(mesh.seat.verdict.value)),
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
                speed = say("tab-layout.free") if turns is None else signed(float(turns), "+.3f")
                rows.append(
                    (
                        Cell(names[number]),
                        Cell(describe_place(kit, at)),
                        Cell(" + ".join(str(gear.placement.gears[n].teeth) for n in own)),
                        Cell(speed, right=True),
                    )
                )
        self.shafts.show_cells(rows)

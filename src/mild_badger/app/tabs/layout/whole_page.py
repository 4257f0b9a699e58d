"""The whole box on the grid: place it, look through its layers, move shafts by hand."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QLayout,
    QMenu,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from mild_badger.app.drawing.fields import DocumentCheckBox, DocumentLineEdit, field_of
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.layout.end_view import EndView
from mild_badger.app.tabs.layout.section_view import SectionView
from mild_badger.app.theme.style import Theme
from mild_badger.core.errors import BadgerError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.findings.finding import Severity
from mild_badger.core.layout.apply_layout import apply_layout
from mild_badger.core.layout.describe import describe_limits, describe_placed, describe_proposal
from mild_badger.core.layout.idler import add_idler, pair_of_body, remove_idler
from mild_badger.core.layout.manual_edit import move_layer, move_shaft
from mild_badger.core.layout.place_box import Placed
from mild_badger.core.layout.reason import why_no_place
from mild_badger.core.layout.reliefs import Reliefs
from mild_badger.core.layout.space import length_u, set_space
from mild_badger.core.layout.turning import engaged_layer
from mild_badger.core.message import say, say_count
from mild_badger.core.structure.names import gear_of_body, shaft_label
from mild_badger.core.structure.pins import pinned, set_pin
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.bodies import column_shaft, input_shaft
from mild_badger.core.vehicle.box import gear_key
from mild_badger.core.vehicle.boxes import SlotBox
from mild_badger.core.vehicle.cache_key import parts_key
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.layout import PlacementSettings
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import listed
from mild_badger.jobs.registry import Job
from mild_badger.text.fields import (
    field_text,
    parse_length,
    parse_place,
    place_text,
    place_unit,
)
from mild_badger.text.quantities import number_text

__all__ = ["WholePage"]

PLACING = say("tab-layout.placing-the-box")
OUTGROWN = {"outside-hull", "pin-missed"}
"""Findings of a layout that does not keep to limits set since."""
STARTING_PX, RANKED_PX = 190, 270
"""Room for the search's button with its time, and for the list of proposals."""

LETTERS = "shaft_letters"


class WholePage(QWidget):
    """End view and stack, linked; a search proposes, the builder takes or moves by hand.

    Signals
    -------
    search_wanted : a job for the search process, what to do with its result, and its words
    pictures_wanted : the views to be saved as pictures, by name
    """

    search_wanted = pyqtSignal(object, object, str)
    taken = pyqtSignal()
    pictures_wanted = pyqtSignal(object)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        self._proposal: Placed | None = None
        self._asked: Vehicle | None = None
        self._help = ""
        self._placing: PlacementSettings | None = None
        session.replaced.connect(self._forget_limits)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.fields = {
            name: field_of(session, ("placing", name), words, width=40)
            for name, words in (
                ("spacing_u", say("tab-layout.column-spacing")),
                ("layers", say("tab-layout.layers-a-side")),
                ("near_percent", say("tab-layout.error-a-train-may-have")),
                ("seconds", say("tab-layout.seconds-to-look")),
            )
        }
        self.half = DocumentCheckBox(
            session, ("placing", "half_units"), say("tab-layout.half-units")
        )
        self.spaces = {
            name: self._space(name, words)
            for name, words in (
                ("wide_mm", say("tab-layout.clear-width")),
                ("high_mm", say("tab-layout.clear-height")),
            )
        }
        self.rows = {
            name: field_of(session, ("box", name), words, width=40)
            for name, words in (
                ("rail_teeth", say("tab-layout.teeth-of-the-drive-row")),
                ("tie_teeth", say("tab-layout.teeth-of-the-tie")),
            )
        }
        fields = self.fields
        self.apart, self.by_teeth = QWidget(), QWidget()
        self.apart.setLayout(
            _tight(
                say("tab-layout.columns"),
                fields["spacing_u"],
                caption(say("tab-layout.u-apart"), "soft"),
            )
        )
        self.by_teeth.setLayout(
            _tight(
                say("tab-layout.drive-row"),
                self.rows["rail_teeth"],
                say("tab-layout.tie"),
                self.rows["tie_teeth"],
                caption(say("tab-layout.teeth-of-both"), "soft"),
            )
        )
        self.space_unit = caption("", "soft")
        self.place = button(say("tab-layout.place-the-box"), self.search, "main")
        self.asks = QWidget()
        self.asks.setLayout(
            row_of(
                self.apart,
                self.by_teeth,
                say("tab-layout.layers"),
                fields["layers"],
                say("tab-layout.within"),
                fields["near_percent"],
                caption("%", "soft"),
                say("tab-layout.wide"),
                self.spaces["wide_mm"],
                say("tab-layout.high"),
                self.spaces["high_mm"],
                self.space_unit,
                self.half,
            )
        )
        asking = self.asks.layout()
        if asking is not None:
            asking.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.asks)
        self.limits = caption("", "soft")
        self.limits.setAccessibleName(say("tab-layout.limits-in-force"))
        column.addWidget(self.limits)
        self.end = EndView(theme)
        self._followed: str | None = None
        self.end.engage.connect(session.engage)
        self.end.part_chosen.connect(session.choose)
        self.end.slab_wanted.connect(self._look_alone)
        self.end.choose(session.part)
        session.part_chosen.connect(self.end.choose)
        self.layers = QCheckBox(shown(say("tab-layout.all-layers")))
        self.layers.toggled.connect(self._show_layers)
        self.end.moved.connect(self._move)
        self.end.outlined.connect(self._outline)
        self.slabs = QComboBox()
        self.slabs.setAccessibleName(say("tab-layout.layer"))
        self.slabs.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.slabs.activated.connect(lambda _n: self._show())
        self.take = button(say("tab-layout.use-this-layout"), self._take, "main")
        self.reject = button(say("tab-layout.reject-proposal"), self._reject)
        self.helped = button(say("tab-layout.what-would-help"), self._ask_help)
        self.by_hand = self._hand_menu()
        self.ranked = QComboBox()
        self.ranked.setAccessibleName(say("tab-layout.proposals-the-best-first"))
        self.ranked.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.ranked.setMaximumWidth(RANKED_PX)
        self.ranked.activated.connect(lambda _n: self._show())
        self.drop = button(say("tab-layout.delete-layout"), self._drop)
        under = QHBoxLayout()
        under.setSpacing(8)
        self.save = button(
            say("tab-layout.save-views"),
            lambda: self.pictures_wanted.emit({"end": self.end, "stack": self.side}),
        )
        self.starting = QWidget()
        starting = row_of(
            self.place, say("tab-layout.for"), fields["seconds"], caption("s", "soft")
        )
        starting.setContentsMargins(0, 0, 0, 0)
        self.starting.setLayout(starting)
        self.starting.setMinimumWidth(STARTING_PX)
        for thing in (self.starting, self.ranked, self.take, self.reject, self.helped):
            under.addWidget(thing)
        under.addStretch(1)
        column.addLayout(under)
        self.holds = QComboBox()
        self.holds.setAccessibleName(say("tab-layout.shaft-to-hold"))
        self.holds.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.holds.activated.connect(lambda _n: self._show_pin())
        self.point = DocumentLineEdit(session, self._hold, say("tab-layout.where-it-is-held"))
        self.point.setFixedWidth(92)
        self.point.setPlaceholderText(say("tab-layout.x-y"))
        self.point.setToolTip(shown(say("tab-layout.two-lengths-from-the-inputs-place")))
        self.holding = QWidget()
        self.holding.setLayout(
            _tight(
                caption(say("tab-layout.hold")), self.holds, say("tab-layout.held-at"), self.point
            )
        )
        column.addLayout(
            row_of(
                caption(say("tab-layout.layer")),
                self.slabs,
                self.layers,
                self.by_hand,
                self.save,
                self.drop,
                self.holding,
            )
        )
        self.side = SectionView(theme)
        self.side.engage.connect(session.engage)
        self.side.slab_wanted.connect(self._look_at)
        self.side.part_chosen.connect(session.choose)
        session.part_chosen.connect(self.side.choose)
        views = QHBoxLayout()
        views.setSpacing(10)
        views.addWidget(self.end, 1)
        views.addWidget(self.side, 1)
        column.addLayout(views, 1)
        self.words = caption("", wrap=True)
        self.words.setAccessibleName(say("tab-layout.result-of-the-placement"))
        column.addWidget(self.words)

    def _space(self, name: str, words: str) -> DocumentLineEdit:
        """Make a field for an outer size: in grid units, in wood and print a length."""

        def commit(text: str) -> object:
            return self.session.do(set_space(name, self._space_mm(text, words)))

        made = DocumentLineEdit(self.session, commit, words)
        made.setFixedWidth(52)
        made.setAlignment(Qt.AlignmentFlag.AlignRight)
        made.setToolTip(shown(words))
        return made

    def _space_mm(self, text: str, words: str) -> float | None:
        vehicle = self.session.vehicle
        if not text.strip():
            return None
        shown_in = place_unit(vehicle)
        return parse_length(text, what=words, kit=vehicle.kit, shown=shown_in)

    def _hold(self, text: str) -> object:
        """Hold the chosen shaft at the point typed, or let go of it where the field is empty."""
        vehicle, shaft = self.session.vehicle, self.holds.currentData()
        if not text.strip():
            return self.session.do(set_pin(vehicle, shaft, None))
        what = str(say("tab-layout.where-it-is-held"))
        place = parse_place(text, what=what, vehicle=vehicle)
        return self.session.do(set_pin(vehicle, shaft, place))

    def _show_pin(self) -> None:
        vehicle = self.session.vehicle
        place = pinned(vehicle).get(self.holds.currentData() or "")
        self.point.show_value("" if place is None else place_text(*place, vehicle))

    def _hand_menu(self) -> QPushButton:
        """Make the button under which stands what the builder can do by hand."""
        made = QPushButton(shown(say("tab-layout.by-hand")))
        menu = QMenu(made)
        for words, act in (
            (say("tab-layout.slide-the-engaged-gears-outermost-pair-on"), self._slide),
            (say("tab-layout.put-an-idler-into-the-engaged-gears-pair-in"), self._add_idler),
            (say("tab-layout.remove-the-idler"), self._drop_idler),
            (say("tab-layout.draw-the-outline-of-the-space-allowed"), self._draw_hull),
            (say("tab-layout.remove-the-outline-of-the-space-allowed"), lambda: self._outline(())),
        ):
            action = menu.addAction(shown(words))
            if action is not None:
                action.triggered.connect(lambda _on=False, act=act: act())
        made.setMenu(menu)
        return made

    @property
    def proposal(self) -> Placed | None:
        """The placement that is shown and not taken yet, of several the one chosen."""
        best, number = self._proposal, self.ranked.currentIndex()
        if best is None or not 0 < number <= len(best.others):
            return best
        return best.others[number - 1]

    def search(self) -> None:
        """Look for a placement of the whole box."""
        self._asked, self._help = self.session.vehicle, ""
        self.ranked.setCurrentIndex(0)
        job = Job("place box", (self.session.vehicle,))
        self.search_wanted.emit(job, self._found, PLACING)

    def show_best(self, placed: Placed) -> None:
        """Show the best placement so far while the search goes on."""
        if self._still_asked():
            self._proposal = placed
            self._show()

    def _still_asked(self) -> bool:
        """Whether nothing that a placement depends on has changed since it was asked for."""
        asked, now = self._asked, self.session.vehicle
        # letters are given to shafts as they come, and bear on no place
        return asked is not None and parts_key(asked, LETTERS) == parts_key(now, LETTERS)

    def _found(self, placed: Placed) -> None:
        self.show_best(placed)
        if not self._still_asked():
            self.session.refuse(say("tab-layout.the-vehicle-changed-while-it-was-placed"))

    def _take(self) -> None:
        placed, self._proposal = self.proposal, None
        if placed is not None:
            self.session.do(apply_layout(self.session.vehicle, placed))
            self.taken.emit()

    def _ask_help(self) -> None:
        job = Job("try relaxed limits", (self.session.vehicle,))
        self.search_wanted.emit(job, self._tell_help, say("tab-layout.trying-relaxed-limits"))

    def _tell_help(self, found: Reliefs) -> None:
        self._help = ""
        if found.helps:
            names = listed(found.helps, "or")
            self._help = say("tab-layout.all-would-be-placed-with", listed=names)
        elif not found.unsure:
            self._help = say("tab-layout.no-single-limit-relaxed-lets-all-be-placed")
        if found.unsure:
            self._help += " " + say("layout.the-time-ran-out-for", listed=listed(found.unsure))
        self._show()

    def forget(self) -> None:
        """Let go of a proposal that is not taken."""
        self._proposal = None

    def _reject(self) -> None:
        """Let go of the proposal; a layout that was accepted stays."""
        self.forget()
        self._show()

    def _drop(self) -> None:
        if self.session.vehicle.layout is not None:
            self.session.do(Edit.one(say("tab-layout.delete-the-layout"), ("layout",), None))
        self._show()

    def _try(self, make: Callable[..., Edit], *arguments: Any) -> None:
        try:
            self.session.do(make(self.session.vehicle, *arguments))
        except BadgerError as error:
            self.session.refused.emit(str(error))

    def _move(self, name: str, x_mm: float, y_mm: float) -> None:
        if self._proposal is not None:
            self.session.refused.emit(say("tab-layout.use-this-layout-first-then-shafts-can-be"))
            return
        self._try(move_shaft, name, x_mm, y_mm)

    def _slide(self) -> None:
        layout, gear = self.session.vehicle.layout, self.session.situation.gear
        mine = (
            [g for g in layout.gears if gear_of_body(self.session.vehicle, g.body) == gear]
            if layout is not None and gear is not None
            else []
        )
        if layout is None or not mine:
            self.session.refused.emit(say("tab-layout.engage-a-gear-that-is-placed-first"))
            return
        outer = max(mine, key=lambda g: g.layer)
        self._try(move_layer, outer.body, outer.layer % layout.layers + 1)

    def _pair_shown(self) -> int | None:
        """Find the number of the engaged gear's pair in the layer that is looked at."""
        layout, gear = self.session.vehicle.layout, self.session.situation.gear
        here = self.slabs.currentData()
        for placed in layout.gears if layout is not None else ():
            own = pair_of_body(self.session.vehicle, placed.body)
            if own is not None and own[0] == gear and here == f"{placed.side} {placed.layer}":
                return own[1]
        self.session.refused.emit(say("tab-layout.engage-a-gear-and-look-at-a-layer-in-which"))
        return None

    def _add_idler(self) -> None:
        number = self._pair_shown()
        if number is not None:
            self._try(add_idler, self.session.situation.gear, number)

    def _drop_idler(self) -> None:
        number = self._pair_shown()
        if number is not None:
            self._try(remove_idler, self.session.situation.gear, number)

    def _draw_hull(self) -> None:
        self.words.setText(say("tab-layout.click-the-corners-of-the-space-allowed-one"))
        self.end.outline_hull()

    def _outline(self, corners: tuple[tuple[float, float], ...]) -> None:
        words = (
            say("tab-layout.draw-the-space-allowed")
            if corners
            else say("tab-layout.remove-the-outline-of-the-space-allowed")
        )
        self.session.do(Edit.one(words, ("placing", "outline_mm"), corners))
        self._show()

    def _list_proposals(self) -> None:
        """List the proposals, the best first; keep the one that was chosen."""
        best = self._proposal
        names = []
        for number, placed in enumerate((best, *best.others) if best is not None else (), start=1):
            names.append(describe_proposal(self.session.vehicle, placed, number))
        if list(map(shown, names)) != [self.ranked.itemText(n) for n in range(self.ranked.count())]:
            chosen = self.ranked.currentIndex()
            self.ranked.clear()
            self.ranked.addItems(list(map(shown, names)))
            self.ranked.setCurrentIndex(min(max(chosen, 0), len(names) - 1))
        self.ranked.setVisible(len(names) > 1)

    def _list_shafts(self, stack: Stack | None) -> None:
        """List the shafts that can be held: input, output, and what else has a place or is held.

        The rows of a slot box stand by its columns: of them the first ones are held for all.
        """
        vehicle = self.session.vehicle
        names = dict.fromkeys((input_shaft(), vehicle.box.output, *pinned(vehicle)))
        rows = vehicle.box.free_trains
        for name in stack.rods if stack is not None else ():
            if not (rows and column_shaft(name) is not None):
                names[name] = None
        entries = [(shown(shaft_label(vehicle, name)), name) for name in names]
        count = range(self.holds.count())
        if entries != [(self.holds.itemText(n), self.holds.itemData(n)) for n in count]:
            here = self.holds.currentData()
            self.holds.clear()
            for words, name in entries:
                self.holds.addItem(words, name)
            self.holds.setCurrentIndex(max(self.holds.findData(here), 0))
        self.holding.setVisible(self.session.vehicle.box.architecture != "none")
        self._show_pin()

    def _look_at(self, slab: str) -> None:
        place = self.slabs.findData(slab)
        if place >= 0:
            self.slabs.setCurrentIndex(place)
            self._show()

    def _shown(self) -> Vehicle:
        """Give the vehicle with what is proposed, or as it stands."""
        vehicle = self.session.vehicle
        placed = self.proposal
        return vehicle if placed is None else apply_edit(vehicle, apply_layout(vehicle, placed))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the layout of a vehicle; a proposal for an earlier one is dropped."""
        if not self._still_asked():
            self._proposal, self._help = None, ""
        placing = evaluation.vehicle.placing
        for name, field in self.fields.items():
            value = getattr(placing, name)
            field.show_value("" if value is None else number_text(value))
        self.half.show_value(placing.half_units)
        vehicle = evaluation.vehicle
        made = vehicle.kit.any_seat
        for name, space in self.spaces.items():
            value = getattr(placing, name)
            if value is not None and made:
                space.show_value(field_text(value, "wide_mm", vehicle.shown_in))
            else:
                units = None if value is None else length_u(vehicle, value)
                space.show_value("" if units is None else number_text(units))
        self.space_unit.setText(place_unit(vehicle))
        box = vehicle.box
        for name, teeth in self.rows.items():
            if isinstance(box, SlotBox):
                teeth.show_value(str(getattr(box, name)))
        self.apart.setVisible(not made)
        self.by_teeth.setVisible(made)
        self.half.setVisible(not made)
        self._meet_new_limits(evaluation)
        slots = evaluation.vehicle.box.free_trains
        self.asks.setVisible(slots)  # other boxes' shafts stand where they must
        self.starting.setVisible(slots)
        limits = describe_limits(vehicle) if slots else ""
        self.limits.setText(limits)
        self.limits.setVisible(bool(limits))
        self._show()

    def _show_layers(self, every: bool) -> None:
        """Show all layers side by side in all the room, or one beside the section."""
        self.side.setVisible(not every)
        self.end.show_layers(every)

    def _look_alone(self, slab: str) -> None:
        """Look at one layer that was pressed among all of them."""
        self.layers.setChecked(False)
        self._look_at(slab)

    def _forget_limits(self) -> None:
        """Another vehicle's limits are not new ones of this."""
        self._placing = None

    def _meet_new_limits(self, evaluation: Evaluation) -> None:
        """Look for another placement where limits have changed and the layout breaks them."""
        vehicle = evaluation.vehicle
        before, self._placing = self._placing, vehicle.placing
        if before in (None, vehicle.placing) or vehicle.layout is None or not self.isVisible():
            return
        if {finding.code for finding in evaluation.findings} & OUTGROWN:
            self.search()

    def _show(self) -> None:
        self._list_proposals()
        evaluation, vehicle = self.session.evaluation, self._shown()
        layout = vehicle.layout
        slabs: list[str] = []
        stack = stack_for(vehicle)
        if stack is not None:
            used = {disc.slab for disc in stack.discs}
            slabs = [name for n, name in enumerate(stack.slabs) if n in used]
        entries = [(vehicle.train_title(name), name) for name in slabs]
        listed = [
            (self.slabs.itemText(n), self.slabs.itemData(n)) for n in range(self.slabs.count())
        ]
        if entries != listed:
            here = self.slabs.currentData()
            self.slabs.clear()
            for words, name in entries:
                self.slabs.addItem(shown(words), name)
            gear = gear_key(evaluation.situation.gear or "")
            start = next((name for name in (here, "front 1", gear) if name in slabs), "")
            self.slabs.setCurrentIndex(max(self.slabs.findData(start), 0))
        gear_in = evaluation.situation.gear
        if stack is not None and gear_in != self._followed:
            self._followed = gear_in
            layer = engaged_layer(vehicle, stack, gear_in)
            if layer:
                self.slabs.setCurrentIndex(self.slabs.findData(layer))
        slab = self.slabs.currentData() or ""
        if vehicle.box.lever is not None:
            self.end.empty = say("tab-layout.a-lever-drive-is-seen-on-the-page-proof")
        elif vehicle.box.free_trains:
            self.end.empty = say("tab-layout.no-layout-yet-press-place-the-box-and-the")
        else:
            self.end.empty = why_no_place(vehicle)
        self.end.show_box(evaluation, vehicle, slab)
        self.side.show_box(evaluation, vehicle, slab)
        proposal = self.proposal
        self.take.setVisible(proposal is not None)
        self.helped.setVisible(proposal is not None and not proposal.complete)
        self.by_hand.setVisible(proposal is None)
        self.reject.setVisible(proposal is not None)
        # not while a proposal is shown: what is deleted is the accepted layout alone
        self.drop.setVisible(proposal is None and layout is not None)
        self.save.setVisible(stack is not None)
        self._list_shafts(stack)
        if proposal is not None:
            self.words.setText(
                say(
                    "tab-layout.proposed",
                    placed=describe_placed(self.session.vehicle, proposal),
                    help=self._help,
                )
            )
        elif stack is not None:
            size = say("tab-layout.shafts-where-their-pairs-mesh", count_of_rods=len(stack.rods))
            if layout is not None:
                size = say(
                    "tab-layout.gears-on-shafts",
                    count_of_gears=len(layout.gears),
                    count_of_shafts=len(layout.shafts),
                )
            self.words.setText(f"{size} {_verdict(evaluation)}")
        elif vehicle.box.free_trains:
            self.words.setText(say("tab-layout.placing-chooses-among-trains-near-the-wanted"))
        else:
            self.words.setText("")


def _tight(*things: QWidget | str) -> QLayout:
    row = row_of(*things)
    row.setContentsMargins(0, 0, 0, 0)
    return row


def _verdict(evaluation: Evaluation) -> str:
    """Say whether the box stands, and how many findings there are on how it holds."""
    mine = evaluation.findings_at("layout")
    wrong = sum(finding.severity is Severity.ERROR for finding in mine)
    if wrong:
        return say(
            "tab-layout.thing-wrong-see-the-findings",
            wrong=wrong,
            value=say("tab-layout.s-are") if wrong > 1 else say("tab-layout.is"),
        )
    words: str = say("tab-layout.checked-every-mesh-seats-nothing-touches")
    if mine:
        words += say("tab-layout.on-how-it-holds", finding=say_count("count.finding", len(mine)))
    return words

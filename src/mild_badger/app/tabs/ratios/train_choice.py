"""One gear: its train drawn, the trains it could have, the fraction ladder."""

from functools import partial

from PyQt6.QtCore import QPoint, pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QMenu, QVBoxLayout, QWidget

from mild_badger.app.drawing.fields import DocumentLineEdit
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button, caption
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.core.driveline.describe import describe_passing
from mild_badger.core.driveline.efficiency import train_efficiencies
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import in_m_s
from mild_badger.core.gear_alternatives import GearAlternative, swaps
from mild_badger.core.message import say, say_count
from mild_badger.core.ratios.gear_trains import GearTrains, gear_trains
from mild_badger.core.ratios.propose import (
    trains_are_quick,
    trains_key,
    wanted_parity,
)
from mild_badger.core.ratios.single import Candidate
from mild_badger.core.ratios.train import mesh_count, parse_train, train_text
from mild_badger.core.results import GearResult
from mild_badger.core.structure.train import PlacedGear
from mild_badger.core.targets.schools import format_ratio
from mild_badger.core.vehicle.box import Slot
from mild_badger.core.vehicle.edit.slots import keep_train, keepable, set_train
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.train import Role, plain_train
from mild_badger.core.words import signed
from mild_badger.jobs.registry import Job

__all__ = ["TrainChoice"]


class TrainChoice(QWidget):
    """The choice of trains for the engaged gear.

    Signals
    -------
    prepare_wanted : a quiet job: working out a large kit's trains
    """

    prepare_wanted = pyqtSignal(object, object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._offers: tuple[Candidate, ...] = ()
        self._made = GearTrains()
        self._made_for: object = None
        self.sizes_menu = QMenu(self)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.list_head = caption(say("tab-ratios.trains"), "head")
        column.addWidget(self.list_head)
        headers = (
            say("tab-ratios.train-driver-first"),
            say("tab-ratios.ratio"),
            say("tab-ratios.err"),
            say("tab-ratios.gears-2"),
            say("tab-ratios.mesh"),
            "%",
        )
        self.table = Table(headers, say("tab-ratios.trains"))
        self.table.header_right(1, 2, 3, 4, 5)
        self.table.stretch(0)
        self.table.setMinimumWidth(252)
        self.table.itemDoubleClicked.connect(lambda _item: self._take_chosen())
        self.table.itemActivated.connect(lambda _item: self._take_chosen())
        column.addWidget(self.table, 3)
        self.take = button(say("tab-ratios.use-this-train"), self._take_chosen)
        self.keep = QCheckBox(shown(say("tab-ratios.keep-this-train-when-searching")))
        self.keep.clicked.connect(self._keep)
        column.addWidget(self.take)
        column.addWidget(self.keep)
        self.ladder_head = caption("", "head")
        column.addWidget(self.ladder_head)
        self.rungs = Table(
            (say("tab-ratios.fraction"), say("tab-ratios.error"), say("tab-ratios.made-of")),
            say("tab-ratios.why-this-fraction"),
        )
        self.rungs.setMinimumWidth(252)
        self.rungs.header_right(1)
        self.rungs.stretch(2)
        column.addWidget(self.rungs, 2)
        column.addWidget(
            caption(say("tab-ratios.or-type-counted-teeth-an-idler-in-brackets"), "soft")
        )
        self.counted = DocumentLineEdit(
            self.session, self._type_train, say("tab-ratios.train-of-this-gear")
        )
        self.counted.setPlaceholderText("12:20 · 8:(24):12")
        column.addWidget(self.counted)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the trains of the engaged gear."""
        gear = evaluation.engaged
        vehicle = evaluation.vehicle
        slot = vehicle.box.slot(gear.id) if gear else None
        own = isinstance(slot, Slot)
        free = vehicle.box.free_trains
        self.counted.setEnabled(gear is not None and (own or free))
        self.take.setEnabled(gear is not None and (free or own))
        self.keep.setEnabled(gear is not None and keepable(vehicle, gear.id))
        self.keep.setChecked(slot is not None and slot.kept)
        self.counted.show_value(train_text(gear.own) if gear else "")
        limit = vehicle.search.tolerance_percent
        self._offers = ()
        if gear is None:
            self.list_head.setText(say("tab-ratios.trains"))
        elif not self._have_trains(vehicle, gear.id):
            self.list_head.setText(say("tab-ratios.working-out-this-kits-trains"))
        elif not free:
            self._offers = self._made.trains
            self.list_head.setText(
                say("tab-ratios.own-pairs-at-this-boxs-distance")
                if self._offers
                else say("tab-ratios.pairs-are-shared-or-unset")
            )
        else:
            self._offers = self._made.trains
            sign = "+" if wanted_parity(vehicle, gear.id) == 0 else "−"
            head = say("tab-ratios.trains-within-turning", limit=limit, sign=sign)
            if self._offers and abs(self._offers[0].error_percent) > limit:
                head = say("tab-ratios.nearest-trains-none-within", limit=limit)
            self.list_head.setText(head)
        self._list(evaluation, gear)
        self._ladder(gear)

    def _have_trains(self, vehicle: Vehicle, gear: str) -> bool:
        """Whether this gear's trains are known; where they take long they are asked for."""
        key = trains_key(vehicle, gear)
        if key == self._made_for:
            return True
        if trains_are_quick(vehicle):
            self._made, self._made_for = gear_trains(vehicle, gear), key
            return True
        self._made, self._made_for = GearTrains(), None

        def ready(made: GearTrains) -> None:
            self._made, self._made_for = made, key

        self.prepare_wanted.emit(Job("trains of a gear", (vehicle, gear)), ready)
        return False

    def _list(self, evaluation: Evaluation, gear: GearResult | None) -> None:
        chosen, rows = -1, []
        trains = [offer.train for offer in self._offers]
        shares: tuple[float | None, ...] = ()
        if gear is not None and trains:
            shares = train_efficiencies(evaluation.vehicle, gear.id, trains)
        for row, (offer, share) in enumerate(zip(self._offers, shares, strict=True)):
            mine = gear is not None and offer.train == plain_train(gear.own)
            chosen = row if mine else chosen
            meshes = mesh_count(offer.train)
            figures = (
                format_ratio(offer.ratio, self.session.school),
                signed(self.session.school.error_percent(offer.error_percent), "+.1f"),
                str(offer.cost.gears),
                str(meshes),
                "" if share is None else signed(100 * share, ".0f"),
            )
            rows.append(
                (
                    Cell(train_text(offer.train), bold=mine, tip=self._tip(offer, meshes, share)),
                    *(Cell(words, right=True, bold=mine) for words in figures),
                )
            )
        self.table.show_cells(rows)
        if chosen >= 0:
            self.table.selectRow(chosen)
        else:
            self.table.clearSelection()

    def _tip(self, offer: Candidate, meshes: int, share: float | None) -> str:
        way = (
            say("tab-ratios.turns-the-same-way-as-the-input")
            if meshes % 2 == 0
            else say("tab-ratios.turns-against-the-input")
        )
        idlers = sum(len(pair.idlers) for pair in offer.train)
        seats = (
            say_count("count.idler", idlers)
            if idlers
            else say("tab-ratios.every-pair-sits-by-itself")
        )
        passes = "" if share is None else f"; {describe_passing(share)}"
        return say(
            "tab-ratios.meshes",
            train=train_text(offer.train),
            seats=seats,
            meshes=meshes,
            way=way,
            passes=passes,
        )

    def _ladder(self, gear: GearResult | None) -> None:
        """Show the way from the decimal over small fractions to pairs."""
        rows = []
        for rung in self._made.rungs if gear is not None else ():
            percent = self.session.school.error_percent(rung.error_percent)
            error = signed(percent, "+.2f")
            taken = gear is not None and gear.ratio is not None and abs(gear.ratio) == rung.ratio
            made = train_text(rung.train) if rung.train else say("tab-ratios.not-from-this-kit")
            rows.append(
                (
                    Cell(str(rung.ratio), bold=taken),
                    Cell(error, right=True, bold=taken),
                    Cell(say("tab-ratios.taken", made=made) if taken else made, bold=taken),
                )
            )
        self.rungs.show_cells(rows)
        wanted = format_ratio(gear.wanted, self.session.school) if gear else ""
        self.ladder_head.setText(
            say("tab-ratios.from-to-pairs", wanted=wanted)
            if gear
            else say("tab-ratios.from-decimal-to-pairs")
        )
        chosen = next((n for n, row in enumerate(rows) if row[0].bold), 0)
        self.rungs.scrollToItem(self.rungs.item(chosen, 0))

    def _take_chosen(self) -> None:
        gear = self.session.situation.gear
        row = self.table.currentRow()
        if gear is not None and 0 <= row < len(self._offers):
            self.session.do(set_train(self.session.vehicle, gear, self._offers[row].train))

    def offer_sizes(self, number: int, where: QPoint) -> None:
        """Open a menu of the sizes that could stand in a gear's place, with what each gives."""
        gear = self.session.evaluation.engaged
        if gear is None:
            return
        place: PlacedGear = gear.placement.gears[number]
        if place.pair >= len(gear.links) or number >= _own_gears(gear):
            self.session.refused.emit(say("tab-ratios.type-the-second-train-of-a-summing"))
            return
        if place.role not in ("driver", "driven"):
            self.session.refused.emit(say("tab-ratios.an-idlers-size-changes-no-ratio-press"))
            return
        role: Role = "driver" if place.role == "driver" else "driven"
        self.sizes_menu = QMenu(self)
        alternatives = swaps(
            self.session.vehicle, gear.id, place.pair, role, self.session.situation
        )
        for swap in alternatives:
            words = self._describe_swap(swap)
            action = self.sizes_menu.addAction(shown(words))
            if action is not None:
                action.setEnabled(not swap.present)
                action.triggered.connect(partial(self._swap, swap))
        if not alternatives:
            none = self.sizes_menu.addAction(shown(say("tab-ratios.no-size-of-the-kit-seats-here")))
            if none is not None:
                none.setEnabled(False)
        self.sizes_menu.popup(where)

    def _swap(self, swap: GearAlternative, _checked: bool = False) -> None:
        self.session.do(swap.edit)

    def _describe_swap(self, swap: GearAlternative) -> str:
        words = say("tab-ratios.teeth", teeth=swap.teeth) + (
            say("tab-ratios.with", mate=swap.mate) if swap.mate else ""
        )
        if swap.ratio is not None and swap.error_percent is not None:
            ratio = format_ratio(abs(swap.ratio), self.session.school)
            percent = self.session.school.error_percent(swap.error_percent)
            words += f": {ratio}, {signed(percent, '+.1f')} %"
        if swap.speed_mm_s is not None:
            words += f", {in_m_s(abs(swap.speed_mm_s) / 1000, 2)}"
        return words + (say("tab-ratios.as-now-2") if swap.present else "")

    def _keep(self, kept: bool) -> None:
        gear = self.session.situation.gear
        if gear is not None:
            self.session.do(keep_train(self.session.vehicle, gear, kept))

    def _type_train(self, text: str) -> bool:
        gear = self.session.situation.gear
        if gear is None:
            return False
        return self.session.do(set_train(self.session.vehicle, gear, parse_train(text)))


def _own_gears(gear: GearResult) -> int:
    """How many gears the first chain has; those of a second branch come after them."""
    return sum(2 + len(link.pair.idlers) for link in gear.links)

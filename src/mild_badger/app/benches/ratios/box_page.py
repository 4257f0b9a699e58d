"""A box that exists: its trains by counted teeth, in any architecture, and its change gear."""

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QTableWidgetItem, QVBoxLayout, QWidget

from mild_badger.app.drawing.box_view import BoxView
from mild_badger.app.drawing.widgets import Cell, Table, button, caption
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.changes import Edit
from mild_badger.core.errors import BadgerError, InputError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.machine.lever_result import lay_out_lever
from mild_badger.core.ratios.train import parse_train, train_ratio, train_text
from mild_badger.core.results import GearResult
from mild_badger.core.targets.schools import format_ratio, parse_number
from mild_badger.core.units import km_per_hour
from mild_badger.core.vehicle.box import (
    ARCHITECTURES,
    Face,
    LeverBox,
    LeverPlace,
    RangeBox,
    Slot,
    SlotBox,
)
from mild_badger.core.vehicle.edits import (
    add_range_pair,
    blank_box,
    mark_change_gear,
    move_slot,
    set_direct,
    set_fulcrum,
    set_range_place,
    set_second,
    set_shared,
    set_train,
    take_box,
)
from mild_badger.core.whatif import Swap, change_gear_swaps, change_places

__all__ = ["BoxPage"]

SLOTTED = ("gear", "own train, driver first", "second, summed", "direct", "place", "ratio", "step",
           "turns", "error %")  # fmt: skip
LEVERED = ("gear", "fulcrum, mm", "", "", "", "ratio", "step", "turns", "error %")
RANGED = ("gear", "splitter pair", "range pair", "", "", "ratio", "step", "turns", "error %")


class BoxPage(QWidget):
    """Architecture and diagram on top, counted teeth below, the change gear beside them."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self._gears: list[str] = []
        self._shared: list[str] = []
        self._swaps: tuple[Swap, ...] = ()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addLayout(self._top())
        self.view = BoxView(theme)
        self.view.engage.connect(session.engage)
        column.addWidget(self.view, 5)
        self.table = Table(SLOTTED, "Trains of the box by counted teeth")
        self.table.header_right(5, 6, 8)
        self.table.stretch(1)
        self.table.itemChanged.connect(self._edited)
        self.table.itemActivated.connect(self.table.editItem)
        column.addWidget(self.table, 6)
        low = QHBoxLayout()
        low.setSpacing(16)
        low.addLayout(self._shared_part(), 2)
        low.addLayout(self._change_part(), 3)
        column.addLayout(low, 2)

    def _top(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(8)
        row.addWidget(caption("The box is a"))
        self.architecture = QComboBox()
        self.architecture.setAccessibleName("Architecture")
        for key, name in ARCHITECTURES.items():
            self.architecture.addItem(name, key)
        self.architecture.activated.connect(lambda _i: self._other_box())
        row.addWidget(self.architecture)
        self.engagement = QComboBox()
        self.engagement.setAccessibleName("Engagement")
        self.engagement.addItem("with dog sleeves", "dog")
        self.engagement.addItem("with sliding gears", "slide")
        self.engagement.activated.connect(
            lambda _i: self.session.do(
                Edit.one(
                    "Change the engagement", ("box", "engagement"), self.engagement.currentData()
                )
            )
        )
        row.addWidget(self.engagement)
        self.summary = caption("", "soft", wrap=True)
        row.addWidget(self.summary, 1)
        return row

    def _shared_part(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(4)
        head = QHBoxLayout()
        self.shared_head = caption("Shared pairs", "head")
        head.addWidget(self.shared_head)
        head.addStretch(1)
        self.more = {
            field: button(f"+ {words}", partial(self._add_pair, field), "link")
            for field, words in (("splitter", "splitter"), ("ranges", "range"))
        }
        for made in self.more.values():
            head.addWidget(made)
        column.addLayout(head)
        self.shared = Table(("pair", "teeth, driver first", "ratio"), "Shared pairs")
        self.shared.header_right(2)
        self.shared.stretch(1)
        self.shared.setMinimumHeight(84)
        self.shared.itemChanged.connect(self._shared_edited)
        self.shared.itemActivated.connect(self.shared.editItem)
        column.addWidget(self.shared, 1)
        return column

    def _change_part(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(4)
        head = QHBoxLayout()
        head.setSpacing(8)
        head.addWidget(caption("Change gear", "head"))
        self.place = QComboBox()
        self.place.setAccessibleName("Change gear")
        self.place.setSizeAdjustPolicy(
            QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        )
        self.place.activated.connect(lambda _i: self._mark())
        head.addWidget(self.place, 1)
        column.addLayout(head)
        headers = ("teeth", "with", "ratio", "m/s", "full-size km/h", "crank rpm", "")
        self.sizes = Table(headers, "Change gear sizes")
        self.sizes.header_right(0, 1, 2, 3, 4, 5)
        self.sizes.stretch(6)
        self.sizes.setMinimumHeight(84)
        self.sizes.itemDoubleClicked.connect(lambda _item: self._swap())
        self.sizes.itemActivated.connect(lambda _item: self._swap())
        column.addWidget(self.sizes, 1)
        return column

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation."""
        box = evaluation.vehicle.box
        self.architecture.setCurrentIndex(self.architecture.findData(box.architecture))
        sliding = not isinstance(box, SlotBox | RangeBox | LeverBox)
        self.engagement.setVisible(sliding)
        if not isinstance(box, SlotBox | RangeBox | LeverBox):
            self.engagement.setCurrentIndex(self.engagement.findData(box.engagement))
        worst = evaluation.worst_error_percent
        self.summary.setText(
            f"{len(box.slots)} gears, {evaluation.sleeves} sleeve{'s' * (evaluation.sleeves != 1)}"
            + ("" if worst is None else f", worst {worst:.2f} %")
        )
        self.view.setVisible(not isinstance(box, SlotBox | LeverBox))
        self.view.show_evaluation(evaluation)
        self._fill(evaluation)
        self._fill_shared(evaluation)
        self._fill_places(evaluation)

    def _fill(self, evaluation: Evaluation) -> None:
        box, school = evaluation.vehicle.box, self.session.school
        ranged = isinstance(box, RangeBox)
        levered = isinstance(box, LeverBox)
        heads = LEVERED if levered else RANGED if ranged else SLOTTED
        self.table.setHorizontalHeaderLabels(list(heads))
        for column in (3, 4):
            self.table.setColumnHidden(column, ranged or levered)
        self.table.setColumnHidden(2, not (ranged or isinstance(box, SlotBox)))
        self.table.setColumnHidden(3, box.architecture != "layshaft")
        self._gears = [gear.name for gear in evaluation.gears]
        rows = []
        for gear in evaluation.gears:
            slot = box.slot(gear.name)
            step = evaluation.step_after(gear.name)
            ratio = "–" if gear.ratio is None else format_ratio(gear.ratio, school)
            rows.append(
                (
                    Cell(gear.name, bold=gear.name == evaluation.situation.gear),
                    *_train_cells(gear, slot, ranged),
                    Cell(ratio, right=True),
                    Cell("" if step is None else f"{step:.3f}", right=True),
                    Cell({1: "forwards +", -1: "backwards −", 0: "–"}[gear.direction]),
                    Cell(
                        "–" if gear.error_percent is None
                        else f"{gear.error_percent:+.2f}".replace("-", "−"),
                        right=True,
                    ),
                )
            )  # fmt: skip
        self.table.show_cells(rows)

    def _fill_shared(self, evaluation: Evaluation) -> None:
        box, school = evaluation.vehicle.box, self.session.school
        shared = [*box.shared()]
        self._shared = [*(s.key for s in shared), "final drive"]
        rows = [
            (
                Cell(key),
                Cell(train_text(train), editable=True),
                Cell("–" if not train else format_ratio(train_ratio(train), school), right=True),
            )
            for key, train in [
                *((s.key, s.train) for s in shared),
                ("final drive", evaluation.vehicle.final_drive.pairs),
            ]
        ]
        self.shared.show_cells(rows)
        for made in self.more.values():
            made.setVisible(isinstance(box, RangeBox))

    def _fill_places(self, evaluation: Evaluation) -> None:
        vehicle, school = evaluation.vehicle, self.session.school
        self.place.clear()
        self.place.addItem("none marked", None)
        for words, mark in change_places(vehicle):
            self.place.addItem(words, mark)
            if mark == vehicle.change_gear:
                self.place.setCurrentIndex(self.place.count() - 1)
        gear, self._swaps = change_gear_swaps(vehicle, evaluation.situation)
        rows = []
        for swap in self._swaps:
            speed, full = swap.speed_mm_s, swap.full_size_mm_s
            ratio = "–" if swap.ratio is None else format_ratio(abs(swap.ratio), school)
            figures = (
                str(swap.teeth), "" if swap.mate is None else str(swap.mate), ratio,
                "–" if speed is None else f"{abs(speed) / 1000:.2f}",
                "–" if full is None else f"{abs(km_per_hour(full)):.0f}",
                "–" if swap.crank_rpm is None else f"{swap.crank_rpm:.0f}".replace("-", "−"),
            )  # fmt: skip
            rows.append(
                [Cell(words, right=True, bold=swap.present) for words in figures]
                + [Cell("as now" if swap.present else "double click to take", bold=swap.present)]
            )
        if gear is not None:
            self.sizes.setToolTip(f"Speeds in gear {gear.name} at the motor's working speed")
        self.sizes.show_cells(rows)
        self.sizes.setColumnHidden(5, vehicle.display is None)

    def _other_box(self) -> None:
        kind = self.architecture.currentData()
        vehicle = self.session.vehicle
        if kind != vehicle.box.architecture:
            if kind == "lever":
                self.session.do(lay_out_lever(vehicle))
                return
            names = [gear.name for gear in vehicle.real.gears]
            self.session.do(
                take_box(vehicle, blank_box(kind, names), f"Lay out a {ARCHITECTURES[kind]}")
            )

    def _add_pair(self, field: str) -> None:
        self._try(lambda: self.session.do(add_range_pair(self.session.vehicle, field)))

    def _mark(self) -> None:
        mark = self.place.currentData()
        self._try(lambda: self.session.do(mark_change_gear(self.session.vehicle, mark)))

    def _swap(self) -> None:
        row = self.sizes.currentRow()
        if 0 <= row < len(self._swaps):
            self.session.do(self._swaps[row].edit)

    def _edited(self, item: QTableWidgetItem) -> None:
        gear, text = self._gears[item.row()], item.text()
        taken = self._try(lambda: self._edit(gear, item.column(), text, item))
        if not taken:
            self.refresh(self.session.evaluation)

    def _edit(self, gear: str, column: int, text: str, item: QTableWidgetItem) -> bool:
        vehicle = self.session.vehicle
        box = vehicle.box
        if isinstance(box, RangeBox):
            number = int(parse_number(text, what=f"Gear {gear}"))
            slot = box.slot(gear)
            now = (slot.splitter, slot.range) if slot else (1, 1)
            splitter, range_ = (number, now[1]) if column == 1 else (now[0], number)
            edit = set_range_place(vehicle, gear, splitter=splitter, range_=range_)
            return self.session.do(edit)
        if isinstance(box, LeverBox):
            return self.session.do(set_fulcrum(vehicle, gear, parse_number(text, what="Fulcrum")))
        if column == 1:
            return self.session.do(set_train(vehicle, gear, parse_train(text)))
        if column == 2:
            return self.session.do(set_second(vehicle, gear, parse_train(text)))
        if column == 3:
            return self.session.do(set_direct(vehicle, gear, bool(item.checkState().value)))
        number, face = _parse_place(gear, text)
        return self.session.do(move_slot(vehicle, gear, number, face))

    def _shared_edited(self, item: QTableWidgetItem) -> None:
        key, text = self._shared[item.row()], item.text()
        taken = self._try(
            lambda: self.session.do(set_shared(self.session.vehicle, key, parse_train(text)))
        )
        if not taken:
            self.refresh(self.session.evaluation)

    def _try(self, do: Callable[[], bool]) -> bool:
        try:
            return do()
        except BadgerError as error:
            self.session.refused.emit(str(error))
            return False


def _train_cells(gear: GearResult, slot: object, ranged: bool) -> tuple[Cell, ...]:
    if ranged:
        splitter = getattr(slot, "splitter", "")
        range_ = getattr(slot, "range", "")
        return (
            Cell(str(splitter), editable=True), Cell(str(range_), editable=True), Cell(""), Cell("")
        )  # fmt: skip
    if isinstance(slot, LeverPlace):
        return Cell(f"{slot.fulcrum_mm:g}", editable=True), Cell(""), Cell(""), Cell("")
    place = f"{slot.column} {slot.face}" if isinstance(slot, Slot) else ""
    return (
        Cell("direct" if gear.direct else train_text(gear.own), editable=not gear.direct),
        Cell(train_text(gear.second), editable=True),
        Cell("", checked=gear.direct),
        Cell(place, editable=True),
    )


def _parse_place(gear: str, text: str) -> tuple[int, Face]:
    words = text.lower().split()
    if len(words) == 2 and words[0].isascii() and words[0].isdigit() and int(words[0]) > 0:
        if words[1] in ("front", "f"):
            return int(words[0]), "front"
        if words[1] in ("back", "b"):
            return int(words[0]), "back"
    raise InputError(
        f"Place of gear {gear}: {text.strip()[:20]!r} is none. Type a column and a side, as 2 back."
    )

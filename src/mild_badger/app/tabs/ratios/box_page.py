"""A box that exists: its trains by counted teeth, in any architecture, and its change gear."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.box_view import BoxView
from mild_badger.app.drawing.fields import number_cell
from mild_badger.app.drawing.flow import Flow
from mild_badger.app.drawing.records import Column, RecordTable
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button, caption
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme
from mild_badger.core.architectures.registry import ARCHITECTURES, architecture_of, blank_box
from mild_badger.core.errors import BadgerError, InputError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import KM_H, M_S, MM, bare, in_km_h, in_m_s
from mild_badger.core.gear_alternatives import GearAlternative, change_gear_swaps, change_places
from mild_badger.core.mechanisms.lever.edits import lay_out_lever
from mild_badger.core.message import say, say_count
from mild_badger.core.ratios.train import parse_train, train_ratio, train_text
from mild_badger.core.results import GearResult
from mild_badger.core.targets.schools import format_ratio, parse_number
from mild_badger.core.units import km_per_hour
from mild_badger.core.vehicle.box import Face, LeverPlace, RangeSlot, Slot, Train
from mild_badger.core.vehicle.edit.box import (
    add_range_pair,
    apply_box,
    set_fulcrum,
    set_range_place,
)
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.slots import move_slot, set_direct, set_second, set_train
from mild_badger.core.vehicle.edit.trains import mark_change_gear, set_shared
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import signed, word
from mild_badger.text.fields import typed_length

__all__ = ["BoxPage"]

WAYS: dict[int, str] = {
    1: say("tab-ratios.forwards-plus"),
    -1: say("tab-ratios.backwards-minus"),
    0: "–",
}


@dataclass(frozen=True)
class _GearRow:
    """One gear of the box, its place, the step to the next gear, and whether it is engaged."""

    gear: GearResult
    slot: object
    step: float | None
    engaged: bool


class BoxPage(QWidget):
    """Architecture and diagram on top, counted teeth below, the change gear beside them."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self._kind = "slot"
        self._swaps: tuple[GearAlternative, ...] = ()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addLayout(self._top())
        self.view = BoxView(theme)
        self.view.engage.connect(session.engage)
        column.addWidget(self.view, 5)
        self.table = RecordTable(
            session, self._columns("slot"), say("tab-ratios.trains-of-the-box-by-counted-teeth")
        )
        self.table.header_right(5, 6, 8)
        self.table.stretch(1)
        column.addWidget(self.table, 6)
        low = QHBoxLayout()
        low.setSpacing(16)
        low.addLayout(self._shared_part(), 2)
        low.addLayout(self._change_part(), 3)
        column.addLayout(low, 2)

    def _top(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(8)
        row.addWidget(caption(say("tab-ratios.the-box-is-a")))
        self.architecture = QComboBox()
        self.architecture.setAccessibleName(say("tab-ratios.architecture"))
        for architecture in ARCHITECTURES:
            self.architecture.addItem(shown(architecture.title), architecture.key)
        self.architecture.activated.connect(lambda _i: self._other_box())
        row.addWidget(self.architecture)
        self.engagement = QComboBox()
        self.engagement.setAccessibleName(say("tab-ratios.engagement"))
        self.engagement.addItem(shown(say("tab-ratios.with-dog-sleeves")), "dog")
        self.engagement.addItem(shown(say("tab-ratios.with-sliding-gears")), "slide")
        self.engagement.activated.connect(
            lambda _i: self.session.do(
                Edit.one(
                    say("tab-ratios.change-the-engagement"),
                    ("box", "engagement"),
                    self.engagement.currentData(),
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
        self.shared_head = caption(say("tab-ratios.shared-pairs"), "head")
        head.addWidget(self.shared_head)
        head.addStretch(1)
        self.more = {
            field: button(f"+ {words}", partial(self._add_pair, field), "link")
            for field, words in (("splitter", "splitter"), ("ranges", "range"))
        }
        for made in self.more.values():
            head.addWidget(made)
        column.addLayout(head)
        self.shared = RecordTable(
            self.session, self._shared_columns(), say("tab-ratios.shared-pairs")
        )
        self.shared.header_right(2)
        self.shared.stretch(1)
        self.shared.setMinimumHeight(84)
        column.addWidget(self.shared, 1)
        return column

    def _change_part(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(4)
        head = Flow()
        head.addWidget(caption(say("tab-ratios.change-gear"), "head"))
        self.place = QComboBox()
        self.place.setAccessibleName(say("tab-ratios.change-gear"))
        self.place.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.place.activated.connect(lambda _i: self._mark())
        head.addWidget(self.place, 1)
        column.addLayout(head)
        headers = (
            say("tab-ratios.teeth-2"),
            say("tab-ratios.with-2"),
            say("tab-ratios.ratio"),
            M_S,
            say("tab-ratios.full-size", km_h=KM_H),
            say("tab-ratios.crank-rpm"),
            "",
        )
        self.sizes = Table(headers, say("tab-ratios.change-gear-sizes"))
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
        self.engagement.setVisible(box.engaged_by is not None)
        if box.engaged_by is not None:
            self.engagement.setCurrentIndex(self.engagement.findData(box.engaged_by))
        worst = evaluation.worst_error_percent
        self.summary.setText(
            (
                say(
                    "tab-ratios.gears",
                    count_of_slots=len(box.slots),
                    sleeves=evaluation.sleeves,
                    sleeve=say_count("noun.sleeve", evaluation.sleeves),
                )
                if box.geared
                else say("tab-ratios.the-motors-shaft-goes-straight-on-to-the")
            )
            + ("" if worst is None else say("tab-ratios.worst", worst=worst))
        )
        self.view.setVisible(evaluation.scheme is not None)
        self.view.show_evaluation(evaluation)
        self._fill(evaluation)
        self._fill_shared(evaluation)
        self._fill_places(evaluation)

    def _fill(self, evaluation: Evaluation) -> None:
        box = evaluation.vehicle.box
        levered = box.lever is not None
        ranged = box.geared and not (levered or box.has_places)
        kind = "lever" if levered else "range" if ranged else "slot"
        if kind != self._kind:
            self._kind = kind
            self.table.set_columns(self._columns(kind))
        for column in (3, 4):
            self.table.setColumnHidden(column, ranged or levered)
        self.table.setColumnHidden(2, not (ranged or box.free_trains))
        self.table.setColumnHidden(3, not box.coaxial)
        self.table.show_records(
            [
                _GearRow(
                    gear,
                    box.slot(gear.id),
                    evaluation.step_after(gear.id),
                    gear.id == evaluation.situation.gear,
                )
                for gear in evaluation.gears
            ]
        )

    def _fill_shared(self, evaluation: Evaluation) -> None:
        box = evaluation.vehicle.box
        self.shared.show_records(
            [
                *((s.key, s.train) for s in box.shared()),
                (say("tab-ratios.final-drive"), evaluation.vehicle.final_drive.pairs),
            ]
        )
        for made in self.more.values():
            made.setVisible(box.geared and box.lever is None and not box.has_places)

    def _fill_places(self, evaluation: Evaluation) -> None:
        vehicle, school = evaluation.vehicle, self.session.school
        self.place.clear()
        self.place.addItem(shown(say("tab-ratios.none-marked")), None)
        for words, mark in change_places(vehicle):
            self.place.addItem(shown(words), mark)
            if mark == vehicle.change_gear:
                self.place.setCurrentIndex(self.place.count() - 1)
        gear, self._swaps = change_gear_swaps(vehicle, evaluation.situation)
        rows = []
        for swap in self._swaps:
            speed, full = swap.speed_mm_s, swap.full_size_mm_s
            ratio = "–" if swap.ratio is None else format_ratio(abs(swap.ratio), school)
            figures = (
                str(swap.teeth),
                "" if swap.mate is None else str(swap.mate),
                ratio,
                "–" if speed is None else bare(in_m_s(abs(speed) / 1000, 2)),
                "–" if full is None else bare(in_km_h(abs(km_per_hour(full)), 0)),
                "–" if swap.crank_rpm is None else signed(swap.crank_rpm, ".0f"),
            )
            rows.append(
                [Cell(words, right=True, bold=swap.present) for words in figures]
                + [
                    Cell(
                        say("tab-ratios.as-now")
                        if swap.present
                        else say("tab-ratios.double-click-to-take"),
                        bold=swap.present,
                    )
                ]
            )
        if gear is not None:
            self.sizes.setToolTip(
                shown(say("tab-ratios.speeds-in-gear-at-the-motors-working-speed", name=gear.name))
            )
        self.sizes.show_cells(rows)
        self.sizes.setColumnHidden(5, vehicle.display_engine is None)

    def _other_box(self) -> None:
        kind = self.architecture.currentData()
        vehicle = self.session.vehicle
        if kind != vehicle.box.architecture:
            if kind == "lever":
                self.session.do(lay_out_lever(vehicle))
                return
            names = [gear.id for gear in vehicle.real.gears]
            title = architecture_of(kind).title
            self.session.do(
                apply_box(vehicle, blank_box(kind, names), say("tab-ratios.lay-out-a", title=title))
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

    def _columns(self, kind: str) -> tuple[Column[_GearRow], ...]:
        """Describe the columns of a kind of box: with slots, with shared ranges, with a lever."""
        nothing = Column[_GearRow]("", lambda _row: Cell(""))
        first: tuple[Column[_GearRow], ...]
        if kind == "range":
            first = (
                Column(
                    say("tab-ratios.splitter-pair"),
                    partial(_number, "splitter"),
                    self._typed_splitter,
                ),
                Column(say("tab-ratios.range-pair"), partial(_number, "range"), self._typed_range),
                nothing,
                nothing,
            )
        elif kind == "lever":
            first = (
                Column(say("tab-ratios.fulcrum", mm=MM), _fulcrum, self._typed_fulcrum),
                nothing,
                nothing,
                nothing,
            )
        else:
            first = (
                Column(
                    say("tab-ratios.own-train-driver-first"),
                    _own,
                    self._typed_train,
                    open=lambda row: not row.gear.direct,
                    may_be_empty=True,
                ),
                Column(
                    say("tab-ratios.second-summed"),
                    lambda row: Cell(train_text(row.gear.second)),
                    self._typed_second,
                    may_be_empty=True,
                ),
                Column(
                    say("tab-ratios.direct"),
                    lambda row: Cell("", checked=row.gear.direct),
                    ticked=self._ticked_direct,
                ),
                Column(say("tab-ratios.place"), _place, self._typed_place),
            )
        return (
            Column(say("tab-ratios.gear"), lambda row: Cell(row.gear.name, bold=row.engaged)),
            *first,
            Column(say("tab-ratios.ratio"), self._ratio),
            Column(
                say("tab-ratios.step"),
                lambda row: Cell("" if row.step is None else signed(row.step, ".3f"), right=True),
            ),
            Column(say("tab-ratios.turns"), lambda row: Cell(WAYS[row.gear.direction])),
            Column(say("tab-ratios.error"), self._error),
        )

    def _ratio(self, row: _GearRow) -> Cell:
        ratio = row.gear.ratio
        return Cell("–" if ratio is None else format_ratio(ratio, self.session.school), right=True)

    def _shared_columns(self) -> tuple[Column[tuple[str, Train]], ...]:
        def typed(vehicle: Vehicle, row: int, text: str) -> Edit:
            return set_shared(vehicle, self.shared.records[row][0], parse_train(text))

        def ratio(record: tuple[str, Train]) -> Cell:
            shown = (
                "–" if not record[1] else format_ratio(train_ratio(record[1]), self.session.school)
            )
            return Cell(shown, right=True)

        return (
            Column(say("tab-ratios.pair"), lambda record: Cell(word(record[0]))),
            Column(
                say("tab-ratios.teeth-driver-first"),
                lambda record: Cell(train_text(record[1])),
                typed,
                may_be_empty=True,
            ),
            Column(say("tab-ratios.ratio"), ratio),
        )

    def _gear(self, row: int) -> str:
        return self.table.records[row].gear.id

    def _error(self, row: _GearRow) -> Cell:
        if row.gear.error_percent is None:
            return Cell("–", right=True)
        percent = self.session.school.error_percent(row.gear.error_percent)
        return Cell(signed(percent, "+.2f"), right=True)

    def _typed_train(self, vehicle: Vehicle, row: int, text: str) -> Edit:
        return set_train(vehicle, self._gear(row), parse_train(text))

    def _typed_second(self, vehicle: Vehicle, row: int, text: str) -> Edit:
        return set_second(vehicle, self._gear(row), parse_train(text))

    def _ticked_direct(self, vehicle: Vehicle, row: int, on: bool) -> Edit:
        return set_direct(vehicle, self._gear(row), on)

    def _typed_place(self, vehicle: Vehicle, row: int, text: str) -> Edit:
        column, face = _parse_place(self._gear(row), text)
        return move_slot(vehicle, self._gear(row), column, face)

    def _typed_splitter(self, vehicle: Vehicle, row: int, text: str) -> Edit:
        return self._range_place(vehicle, row, text, splitter=True)

    def _typed_range(self, vehicle: Vehicle, row: int, text: str) -> Edit:
        return self._range_place(vehicle, row, text, splitter=False)

    def _range_place(self, vehicle: Vehicle, row: int, text: str, *, splitter: bool) -> Edit:
        gear = self._gear(row)
        number = int(parse_number(text, what=say("tab-ratios.gear-2", gear=gear)))
        slot = vehicle.box.slot(gear)
        now = (slot.splitter, slot.range) if isinstance(slot, RangeSlot) else (1, 1)
        asked = (number, now[1]) if splitter else (now[0], number)
        return set_range_place(vehicle, gear, splitter=asked[0], range_=asked[1])

    def _typed_fulcrum(self, vehicle: Vehicle, row: int, text: str) -> Edit:
        return set_fulcrum(
            vehicle, self._gear(row), typed_length(text, say("tab-ratios.fulcrum-2"), vehicle)
        )

    def _try(self, do: Callable[[], bool]) -> bool:
        try:
            return do()
        except BadgerError as error:
            self.session.refused.emit(str(error))
            return False


def _own(row: _GearRow) -> Cell:
    return Cell(say("tab-ratios.direct") if row.gear.direct else train_text(row.gear.own))


def _place(row: _GearRow) -> Cell:
    return Cell(f"{row.slot.column} {word(row.slot.face)}" if isinstance(row.slot, Slot) else "")


def _number(field: str, row: _GearRow) -> Cell:
    return Cell(str(getattr(row.slot, field, "")))


def _fulcrum(row: _GearRow) -> Cell:
    slot = row.slot
    if not isinstance(slot, LeverPlace):
        return Cell("")
    return number_cell(slot.fulcrum_mm, "fulcrum_mm")


def _parse_place(gear: str, text: str) -> tuple[int, Face]:
    words = text.lower().split()
    if len(words) == 2 and words[0].isascii() and words[0].isdigit() and int(words[0]) > 0:
        if words[1] in ("front", "f"):
            return int(words[0]), "front"
        if words[1] in ("back", "b"):
            return int(words[0]), "back"
    raise InputError(
        say(
            "tab-ratios.place-of-gear-is-none-type-a-column-and-a",
            gear=gear,
            strip=text.strip()[:20],
        )
    )

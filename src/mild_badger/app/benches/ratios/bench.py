"""The Ratios bench: the engaged gear's train, the trains it could have, the set as a whole."""

from functools import partial
from typing import Any

from PyQt6.QtCore import QPoint, pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QMenu, QVBoxLayout, QWidget

from mild_badger.app.benches.bench import Bench
from mild_badger.app.benches.ratios.tradeoffs import TradeOffChart
from mild_badger.app.drawing.pictures import train_picture
from mild_badger.app.drawing.train_view import TrainView
from mild_badger.app.drawing.widgets import (
    Cell,
    Entry,
    Table,
    button,
    caption,
    field_of,
)
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.changes import Edit
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.ratios.lanes import Impossible, SetMatch
from mild_badger.core.ratios.match_box import BoxMatch, match_box, trade_offs_for
from mild_badger.core.ratios.propose import (
    ladder_for_gear,
    search_places,
    take_set,
    trains_for_gear,
)
from mild_badger.core.ratios.single import Candidate
from mild_badger.core.ratios.train import parse_train, train_fractions, train_text
from mild_badger.core.results import GearResult, GearState
from mild_badger.core.targets.schools import format_ratio
from mild_badger.core.vehicle.box import MAX_PAIRS, Slot
from mild_badger.core.vehicle.edits import keep_train, set_train
from mild_badger.core.whatif import Role, Swap, swaps

__all__ = ["RatiosBench"]

Answer = SetMatch | Impossible
COUNT = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine")


class RatiosBench(Bench):
    """Picture and set on the left, the choice of trains on the right."""

    title = "Ratios"
    search_wanted = pyqtSignal(object, object)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self._offers: tuple[Candidate, ...] = ()
        self._answers: dict[str, SetMatch] = {}
        self._asked: object = None
        outer = self.headed()
        row = QHBoxLayout()
        row.setSpacing(16)
        left = QVBoxLayout()
        self.view = TrainView(theme)
        self.view.pressed.connect(self._offer_sizes)
        left.addWidget(self.view, 1)
        left.addLayout(self._set_panel())
        row.addLayout(left, 4)
        row.addLayout(self._choice(), 3)
        outer.addLayout(row, 1)

    def _choice(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(6)
        self.list_head = caption("Trains", "head")
        column.addWidget(self.list_head)
        self.table = Table(("train, driver first", "ratio", "error %", "gears"), "Trains")
        self.table.header_right(1, 2, 3)
        self.table.stretch(0)
        self.table.setMinimumWidth(232)
        self.table.itemDoubleClicked.connect(lambda _item: self._take_chosen())
        self.table.itemActivated.connect(lambda _item: self._take_chosen())
        column.addWidget(self.table, 3)
        self.take = button("Take this train", self._take_chosen)
        self.keep = QCheckBox("Keep this train when searching")
        self.keep.clicked.connect(self._keep)
        column.addWidget(self.take)
        column.addWidget(self.keep)
        self.ladder_head = caption("", "head")
        column.addWidget(self.ladder_head)
        self.rungs = Table(("fraction", "error %", "made of"), "Why this fraction")
        self.rungs.setMinimumWidth(232)
        self.rungs.header_right(1)
        self.rungs.stretch(2)
        column.addWidget(self.rungs, 2)
        column.addWidget(caption("Or type counted teeth, an idler in brackets:", "soft"))
        self.counted = Entry(self._type_train, self.session.refused.emit, "Train of this gear")
        self.counted.setPlaceholderText("12:20 · 8:(24):12")
        column.addWidget(self.counted)
        return column

    def _set_panel(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setContentsMargins(0, 8, 0, 0)
        column.setSpacing(6)
        head = QHBoxLayout()
        head.setSpacing(8)
        head.addWidget(caption("The set as a whole", "head"))
        self.present = caption("", "soft", wrap=True)
        head.addWidget(self.present, 1)
        column.addLayout(head)
        column.addLayout(self._settings())
        column.addWidget(self._factor())
        self.find_set = button("Find the set", self.search, "main")
        self.find_set.setToolTip("Looks for both answers at once (Ctrl+F)")
        self.answers = caption("", "soft", wrap=True)
        self.take_size = button("Take fewest", partial(self._take_set, "size"))
        self.take_error = button("Take least error", partial(self._take_set, "error"))
        row = QHBoxLayout()
        row.setSpacing(8)
        for widget in (self.find_set, self.take_size, self.take_error):
            row.addWidget(widget)
        row.addStretch(1)
        column.addLayout(row)
        column.addWidget(self.answers)
        self.chart = TradeOffChart(self.theme)
        self.chart.chosen.connect(
            lambda found: self.session.do(take_set(self.session.vehicle, found))
        )
        column.addWidget(self.chart)
        return column

    def _settings(self) -> QHBoxLayout:
        self.fit = QComboBox()
        self.fit.setAccessibleName("Fit")
        self.fit.addItem("the ratios", "absolute")
        self.fit.addItem("their spacing", "spacing")
        self.fit.activated.connect(lambda _i: self._setting("fit", self.fit.currentData()))
        self.pairs = QComboBox()
        self.pairs.setAccessibleName("Most pairs in a train")
        for number in range(1, MAX_PAIRS + 1):
            self.pairs.addItem(f"{number} pair{'s' * (number > 1)}", number)
        self.pairs.activated.connect(
            lambda _i: self._setting("max_pairs", self.pairs.currentData())
        )
        path = ("search", "tolerance_percent")
        self.tolerance = field_of(self.session, path, "Tolerance", width=44)
        row = QHBoxLayout()
        row.setSpacing(6)
        row.addWidget(caption("Match"))
        row.addWidget(self.fit)
        row.addWidget(caption("up to"))
        row.addWidget(self.pairs)
        row.addWidget(caption("within"))
        row.addWidget(self.tolerance)
        row.addWidget(caption("%"))
        row.addStretch(1)
        return row

    def _factor(self) -> QWidget:
        self.low = field_of(self.session, ("search", "factor_low"), "Least factor", width=44)
        self.high = field_of(self.session, ("search", "factor_high"), "Greatest factor", width=44)
        self.factor_row = QWidget()
        row = QHBoxLayout(self.factor_row)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        row.addWidget(caption("with a factor k from", "soft"))
        row.addWidget(self.low)
        row.addWidget(caption("to", "soft"))
        row.addWidget(self.high)
        row.addWidget(caption("left to the final drive", "soft"))
        row.addStretch(1)
        return self.factor_row

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation."""
        search = evaluation.vehicle.search
        gear = evaluation.engaged
        self._head(gear)
        self.view.show_picture(train_picture(evaluation, gear))
        self.fit.setCurrentIndex(self.fit.findData(search.fit))
        self.pairs.setCurrentIndex(self.pairs.findData(search.max_pairs))
        self.tolerance.show_value(f"{search.tolerance_percent:g}")
        self.low.show_value(f"{search.factor_low:g}")
        self.high.show_value(f"{search.factor_high:g}")
        self.factor_row.setVisible(search.fit == "spacing")
        worst = evaluation.worst_error_percent
        factor = f", k = {evaluation.factor:.3f}" if search.fit == "spacing" else ""
        self.present.setText(
            "no trains yet"
            if worst is None
            else f"now {evaluation.total_gears} gears with rail and tie, "
            f"worst {worst:.1f} %{factor}"
        )
        self.chart.show_now(evaluation.train_gears, worst, search.tolerance_percent)
        if self._asked != self._question():
            self._answers = {}
            self._say_answers(())
            self.chart.show_sets(())
        self._list(evaluation, gear)

    def _head(self, gear: GearResult | None) -> None:
        if gear is None:
            self.heading.setText("Neutral")
            self.facts.setText("Engage a gear with 1–9 or R to see its train.")
            return
        if gear.ratio is None:
            words = "no train yet" if gear.state is GearState.EMPTY else "locks"
            self.heading.setText(f"Gear {gear.name}: {words}")
            self.facts.setText(f"Wants {format_ratio(gear.wanted, self.session.school)}.")
            return
        shown = format_ratio(gear.ratio, self.session.school)
        self.heading.setText(f"Gear {gear.name}: {shown} {self.session.school.value}")
        error = gear.error_percent or 0.0
        exact = "exact" if error == 0 else f"{error:+.2f} %".replace("-", "−")
        self.facts.setText(
            f"{train_fractions(gear.train)}, {exact}. {_count(gear.meshes).capitalize()} mesh"
            f"{'es' * (gear.meshes != 1)}, {_count(gear.gears)} gears; about "
            f"{100 * gear.box_reach:.0f} % of the power passes the box."
        )

    def _list(self, evaluation: Evaluation, gear: GearResult | None) -> None:
        self.counted.setEnabled(gear is not None)
        self.take.setEnabled(gear is not None)
        slot = evaluation.vehicle.box.slot(gear.name) if gear else None
        self.keep.setEnabled(isinstance(slot, Slot) and bool(slot.train))
        self.keep.setChecked(slot is not None and slot.kept)
        self._offers = trains_for_gear(evaluation.vehicle, gear.name) if gear else ()
        limit = evaluation.vehicle.search.tolerance_percent
        self.list_head.setText(f"Trains within {limit:g} %" if gear else "Trains")
        if gear is not None and self._offers and abs(self._offers[0].error_percent) > limit:
            self.list_head.setText(f"Nearest trains (none within {limit:g} %)")
        self.counted.show_value(train_text(gear.train) if gear else "")
        chosen, rows = -1, []
        for row, offer in enumerate(self._offers):
            mine = gear is not None and offer.train == gear.train
            chosen = row if mine else chosen
            rows.append(
                (
                    Cell(train_text(offer.train), bold=mine),
                    Cell(format_ratio(offer.ratio, self.session.school), right=True, bold=mine),
                    Cell(f"{offer.error_percent:+.1f}".replace("-", "−"), right=True, bold=mine),
                    Cell(str(offer.cost.gears), right=True, bold=mine),
                )
            )
        self.table.show_cells(rows)
        self._ladder(evaluation, gear)
        if chosen >= 0:
            self.table.selectRow(chosen)
        else:
            self.table.clearSelection()

    def _ladder(self, evaluation: Evaluation, gear: GearResult | None) -> None:
        """Show the way from the decimal over small fractions to pairs."""
        rows = []
        for rung in ladder_for_gear(evaluation.vehicle, gear.name) if gear else ():
            error = f"{rung.error_percent:+.2f}".replace("-", "−")
            taken = gear is not None and gear.ratio is not None and abs(gear.ratio) == rung.ratio
            made = train_text(rung.train) if rung.train else "not from this kit"
            rows.append(
                (
                    Cell(str(rung.ratio), bold=taken),
                    Cell(error, right=True, bold=taken),
                    Cell(f"{made}, taken" if taken else made, bold=taken),
                )
            )
        self.rungs.show_cells(rows)
        wanted = format_ratio(gear.wanted, self.session.school) if gear else ""
        self.ladder_head.setText(f"From {wanted} to pairs" if gear else "From decimal to pairs")
        chosen = next((n for n, row in enumerate(rows) if row[0].bold), 0)
        self.rungs.scrollToItem(self.rungs.item(chosen, 0))

    def search(self) -> None:
        """Look for both answers in the background."""
        vehicle, question = self.session.vehicle, self._question()
        self._answers = {}
        self.answers.setText("Searching …")

        def work() -> tuple[Answer, Answer, tuple[SetMatch, ...]]:
            return (
                _set(match_box(vehicle, "slot", best="size")),
                _set(match_box(vehicle, "slot", best="error")),
                trade_offs_for(vehicle, stop=lambda: self._question() != question),
            )

        def show(found: Any) -> None:
            if question == self._question():
                self._asked = question
                self._say_answers(found[:2])
                self.chart.show_sets(found[2])

        self.search_wanted.emit(work, show)

    def stopped(self) -> None:
        """Say that the search was cancelled."""
        self._say_answers(())

    def _question(self) -> object:
        vehicle = self.session.vehicle
        return vehicle.real, vehicle.search, vehicle.kit, search_places(vehicle)

    def _say_answers(self, found: tuple[Answer, ...]) -> None:
        lines = []
        titles = (("size", "Fewest"), ("error", "Least error"))
        for (key, title), answer in zip(titles, found, strict=False):
            if isinstance(answer, SetMatch):
                self._answers[key] = answer
                lines.append(
                    f"{title}: {answer.cost.pairs} pairs, {answer.cost.gears} gears, "
                    f"worst {answer.worst_error_percent:.2f} %"
                    + (f", k = {answer.factor:.3f}" if answer.factor != 1 else "")
                )
            else:
                lines.append(f"{title}: {answer.reason}")
        self.answers.setText(
            "\n".join(lines) or "Both the smallest set within the limit and the most exact one."
        )
        self.take_size.setEnabled("size" in self._answers)
        self.take_error.setEnabled("error" in self._answers)

    def _take_set(self, key: str) -> None:
        if key in self._answers:
            self.session.do(take_set(self.session.vehicle, self._answers[key]))

    def _take_chosen(self) -> None:
        gear = self.session.situation.gear
        row = self.table.currentRow()
        if gear is not None and 0 <= row < len(self._offers):
            self.session.do(set_train(self.session.vehicle, gear, self._offers[row].train))

    def _offer_sizes(self, number: int, where: QPoint) -> None:
        """Open a menu of the sizes that could stand in a gear's place, with what each gives."""
        gear = self.session.evaluation.engaged
        if gear is None:
            return
        place = gear.placement.gears[number]
        if place.role not in ("driver", "driven"):
            self.session.refused.emit("An idler's size changes no ratio. Press another gear.")
            return
        role: Role = "driver" if place.role == "driver" else "driven"
        self.sizes_menu = QMenu(self)
        found = swaps(self.session.vehicle, gear.name, place.pair, role, self.session.situation)
        for swap in found:
            words = self._swap_words(swap)
            action = self.sizes_menu.addAction(words)
            if action is not None:
                action.setEnabled(not swap.present)
                action.triggered.connect(partial(self._swap, swap))
        if not found:
            none = self.sizes_menu.addAction("no size of the kit seats here")
            if none is not None:
                none.setEnabled(False)
        self.sizes_menu.popup(where)

    def _swap(self, swap: Swap, _checked: bool = False) -> None:
        self.session.do(swap.edit)

    def _swap_words(self, swap: Swap) -> str:
        words = f"{swap.teeth} teeth"
        if swap.ratio is not None and swap.error_percent is not None:
            ratio = format_ratio(abs(swap.ratio), self.session.school)
            words += f": {ratio}, {swap.error_percent:+.1f} %"
        if swap.speed_mm_s is not None:
            words += f", {abs(swap.speed_mm_s) / 1000:.2f} m/s"
        return (words + (", as now" if swap.present else "")).replace("-", "−")

    def _keep(self, kept: bool) -> None:
        gear = self.session.situation.gear
        if gear is not None:
            self.session.do(keep_train(self.session.vehicle, gear, kept))

    def _type_train(self, text: str) -> bool:
        gear = self.session.situation.gear
        if gear is None:
            return False
        return self.session.do(set_train(self.session.vehicle, gear, parse_train(text)))

    def _setting(self, field: str, value: object) -> None:
        self.session.do(Edit.one("Change the search", ("search", field), value))


def _count(number: int) -> str:
    return COUNT[number] if number < len(COUNT) else str(number)


def _set(found: BoxMatch | Impossible) -> Answer:
    return found if isinstance(found, Impossible) else found.found

"""The set as a whole: what is asked, both answers, the trade-offs."""

from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.fields import field_of
from mild_badger.app.drawing.flow import Flow
from mild_badger.app.drawing.widgets import button, caption
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.ratios.limits import LimitsDialog
from mild_badger.app.tabs.ratios.tradeoffs import Point, TradeOffChart
from mild_badger.app.theme.style import Theme
from mild_badger.core.architectures.relax import WayOut
from mild_badger.core.driveline.describe import describe_passing
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.find_set import SetAnswer
from mild_badger.core.message import say, say_count
from mild_badger.core.ratios.box_question import BoxMatch
from mild_badger.core.ratios.lanes import Impossible, SetMatch
from mild_badger.core.ratios.propose import apply_set, search_places
from mild_badger.core.ratios.tradeoffs import Against
from mild_badger.core.vehicle.box import MAX_PAIRS
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import signed
from mild_badger.jobs.registry import Job
from mild_badger.text.quantities import number_text

__all__ = ["SetPanel"]

Answer = BoxMatch | Impossible
TITLES = (("size", "Fewest"), (say("tab-ratios.error-2"), say("tab-ratios.least-error")))


class SetPanel(QWidget):
    """Settings of the search, its answers, and the chart of trade-offs.

    Signals
    -------
    search_wanted : a job to do in the background, what shows its result, and what it is called
    """

    search_wanted = pyqtSignal(object, object, str)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        self._answers: dict[str, BoxMatch] = {}
        self._fronts: dict[Against, tuple[SetMatch, ...]] = {}
        self._shares: dict[Against, tuple[float, ...]] = {}
        self._asked: object = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 8, 0, 0)
        column.setSpacing(6)
        head = QHBoxLayout()
        head.setSpacing(8)
        head.addWidget(caption(say("tab-ratios.the-set-as-a-whole"), "head"))
        self.present = caption("", "soft", wrap=True)
        head.addWidget(self.present, 1)
        column.addLayout(head)
        column.addLayout(self._settings())
        column.addWidget(self._factor())
        self.find_set = button(say("tab-ratios.find-the-set"), self.search, "main")
        self.find_set.setToolTip(say("tab-ratios.looks-for-both-answers-at-once-ctrl-f"))
        self.answers = caption("", "soft", wrap=True)
        self.take_size = button(say("tab-ratios.use-fewest-gears"), partial(self._take, "size"))
        self.take_error = button(say("tab-ratios.use-least-error"), partial(self._take, "error"))
        row: QLayout = Flow()
        for widget in (self.find_set, self.take_size, self.take_error):
            row.addWidget(widget)
        row.addWidget(self.limits)
        self.against = QComboBox()
        self.against.setAccessibleName(say("tab-ratios.trade-offs-against"))
        self.against.addItem(shown(say("tab-ratios.error-against-gear-count")), "gears")
        self.against.addItem(shown(say("tab-ratios.error-against-power-lost")), "loss")
        self.against.activated.connect(lambda _i: self._show_front())
        row.addWidget(self.against)
        column.addLayout(row)
        column.addWidget(self.answers)
        self.chart = TradeOffChart(theme)
        self.chart.chosen.connect(
            lambda matched: self.session.do(apply_set(self.session.vehicle, matched))
        )
        column.addWidget(self.chart, 100)
        column.addStretch(1)

    def _settings(self) -> Flow:
        self.fit = QComboBox()
        self.fit.setAccessibleName(say("tab-ratios.fit"))
        self.fit.addItem(shown(say("tab-ratios.the-ratios")), "absolute")
        self.fit.addItem(shown(say("tab-ratios.the-spacing")), "spacing")
        self.fit.activated.connect(lambda _i: self._setting("fit", self.fit.currentData()))
        self.pairs = QComboBox()
        self.pairs.setAccessibleName(say("tab-ratios.most-pairs-in-a-train"))
        for number in range(1, MAX_PAIRS + 1):
            self.pairs.addItem(shown(say_count("count.pair", number)), number)
        self.pairs.activated.connect(
            lambda _i: self._setting("max_pairs", self.pairs.currentData())
        )
        path = ("search", "tolerance_percent")
        self.tolerance = field_of(self.session, path, say("tab-ratios.tolerance"), width=44)
        self.limits = button(say("tab-ratios.limits"), self._limits, "link")
        self.limits.setToolTip(say("tab-ratios.stock-centre-distance-gears-in-a-train-hull"))
        row = Flow(6)
        row.addWidget(caption(say("tab-ratios.match")))
        row.addWidget(self.fit)
        self.up_to = caption(say("tab-ratios.up-to"))
        row.addWidget(self.up_to)
        row.addWidget(self.pairs)
        within = QWidget()
        inside = QHBoxLayout(within)
        inside.setContentsMargins(0, 0, 0, 0)
        for thing in (caption(say("tab-ratios.within")), self.tolerance, caption("%")):
            inside.addWidget(thing)
        row.addWidget(within)
        return row

    def _factor(self) -> QWidget:
        self.low = field_of(
            self.session, ("search", "factor_low"), say("tab-ratios.least-factor"), width=44
        )
        self.high = field_of(
            self.session, ("search", "factor_high"), say("tab-ratios.greatest-factor"), width=44
        )
        self.factor_row = QWidget()
        row = QHBoxLayout(self.factor_row)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        row.addWidget(caption(say("tab-ratios.factor-k-from"), "soft"))
        row.addWidget(self.low)
        row.addWidget(caption(say("tab-ratios.to"), "soft"))
        row.addWidget(self.high)
        self.factor_words = caption("", "soft")
        row.addWidget(self.factor_words)
        row.addStretch(1)
        return self.factor_row

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation."""
        search, box = evaluation.vehicle.search, evaluation.vehicle.box
        slot = box.free_trains
        self.fit.setCurrentIndex(self.fit.findData(search.fit))
        self.pairs.setCurrentIndex(self.pairs.findData(search.max_pairs))
        self.pairs.setVisible(slot)
        self.up_to.setVisible(slot)
        self.against.setVisible(slot)
        self.chart.setVisible(slot)
        self.tolerance.show_value(number_text(search.tolerance_percent))
        self.low.show_value(number_text(search.factor_low))
        self.high.show_value(number_text(search.factor_high))
        self.factor_row.setVisible(search.fit == "spacing")
        self.factor_words.setText(
            say("tab-ratios.as-far-as-final-drives-go")
            if search.factor_bound == "final drive"
            else say("tab-ratios.left-to-the-final-drive")
        )
        self.limits.setText(_describe_limit(evaluation.vehicle))
        worst = evaluation.worst_error_percent
        factor = f", k = {signed(evaluation.factor, '.3f')}" if search.fit == "spacing" else ""
        with_what = say("tab-ratios.with-drive-row-and-tie") if slot else ""
        self.present.setText(
            say("tab-ratios.no-trains-yet")
            if worst is None
            else say(
                "tab-ratios.now-gears-worst",
                total_gears=evaluation.total_gears,
                with_what=with_what,
                worst=worst,
                factor=factor,
            )
        )
        if self._asked != self._question():
            self._answers, self._fronts, self._shares = {}, {}, {}
            self._say(())
        self._show_front()

    def search(self) -> None:
        """Look for both answers, and the trade-offs, in the background."""
        vehicle, question = self.session.vehicle, self._question()
        self._answers, self._fronts, self._shares = {}, {}, {}
        if not vehicle.box.geared:
            self.answers.setText(say("tab-ratios.there-is-no-box-so-there-is-no-set-lay-one"))
            return
        self.answers.setText(say("tab-ratios.searching"))
        if vehicle.box.lever is not None:
            self.search_wanted.emit(
                Job("place fulcrum", (vehicle,)),
                self._placed,
                say("tab-ratios.placing-the-fulcrum"),
            )
            return

        def show(answer: SetAnswer) -> None:
            if question == self._question():
                self._asked = question
                self._fronts, self._shares = answer.fronts, answer.efficiencies
                self._say((answer.smallest, answer.nearest), answer.ways)
                self._show_front()

        self.search_wanted.emit(
            Job("find set", (vehicle,)), show, say("tab-ratios.finding-the-set")
        )

    def _placed(self, edit: Edit | None) -> None:
        """Take the fulcrum's places: of a lever drive there is one answer only."""
        if edit is None:
            self.answers.setText(say("tab-ratios.no-target-lies-between-the-lever-drives"))
        elif self.session.do(edit):
            self.answers.setText(say("tab-ratios.the-fulcrum-has-its-place-for-every-target"))

    def stopped(self) -> None:
        """Say that the search was cancelled."""
        self._say(())

    def _question(self) -> object:
        vehicle = self.session.vehicle
        return vehicle.real, vehicle.search, vehicle.kit, search_places(vehicle)

    def _say(self, answers: tuple[Answer, ...], ways: tuple[WayOut, ...] = ()) -> None:
        lines = []
        for (key, title), answer in zip(TITLES, answers, strict=False):
            if isinstance(answer, BoxMatch):
                self._answers[key] = answer
                cost = answer.found.cost
                lines.append(
                    say(
                        "tab-ratios.pairs-gears-worst",
                        title=title,
                        pairs=cost.pairs,
                        gears=cost.gears,
                        worst_error_percent=answer.found.worst_error_percent,
                    )
                    + (
                        f", k = {signed(answer.found.factor, '.3f')}"
                        if answer.found.factor != 1
                        else ""
                    )
                    + ("" if answer.proven else say("tab-ratios.not-proven-the-best"))
                )
            else:
                words = answer.reason
                if key == "size" and ways:
                    words = (
                        say("tab-ratios.nothing-fits-you-could")
                        + ", or ".join(w.words for w in ways)
                        + "."
                    )
                lines.append(f"{title}: {words}")
        self.answers.setText(
            "\n".join(lines) or say("tab-ratios.both-the-smallest-set-within-the-limit-and")
        )
        self.take_size.setEnabled("size" in self._answers)
        self.take_error.setEnabled("error" in self._answers)

    def _take(self, key: str) -> None:
        if key in self._answers:
            self.session.do(self._answers[key].edit(self.session.vehicle))

    def _show_front(self) -> None:
        evaluation = self.session.evaluation
        limit, worst = evaluation.vehicle.search.tolerance_percent, evaluation.worst_error_percent
        against: Against = self.against.currentData()
        lost = against == "loss"
        now = evaluation.box_loss_percent if lost else float(evaluation.train_gears)
        points = tuple(
            Point(
                match,
                100 * (1 - share) if lost else match.cost.gears,
                _describe_point(match, share),
            )
            for match, share in zip(
                self._fronts.get(against, ()), self._shares.get(against, ()), strict=True
            )
        )
        counted = say("tab-ratios.gears-2") if against == "gears" else say("tab-ratios.lost")
        self.chart.show_points(points, counted)
        self.chart.show_now(now, worst, limit)

    def _limits(self) -> None:
        LimitsDialog(self.session, self).open()

    def _setting(self, field: str, value: object) -> None:
        self.session.do(Edit.one(say("tab-ratios.change-the-search"), ("search", field), value))


def _describe_point(matched: SetMatch, share: float) -> str:
    factor = "" if matched.factor == 1 else f", k = {signed(matched.factor, '.3f')}"
    return say(
        "tab-ratios.gears-pairs-worst",
        gears=matched.cost.gears,
        pairs=matched.cost.pairs,
        worst_error_percent=matched.worst_error_percent,
        factor=factor,
        passing=describe_passing(share),
    )


def _describe_limit(vehicle: Vehicle) -> str:
    """Count the limits that bind, so that none is forgotten."""
    search = vehicle.search
    binding = [
        search.within_stock,
        search.max_gears is not None,
        search.max_centre_mm is not None,
        search.factor_bound == "final drive" and search.fit == "spacing",
        bool(vehicle.kit.barred),
    ]
    return (
        say("tab-ratios.limits-2", binding=sum(binding))
        if any(binding)
        else say("tab-ratios.limits")
    )

"""Compare architectures: all of them on the same targets, side by side."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button, caption
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme
from mild_badger.core.compare import Offer, question_of
from mild_badger.core.driveline.describe import COUNTED
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM, bare, in_mm
from mild_badger.core.message import say
from mild_badger.core.targets.schools import format_ratio
from mild_badger.core.words import capitalized, signed
from mild_badger.jobs.registry import Job

__all__ = ["ComparePage"]

HEADERS = (
    say("tab-ratios.architecture-2"),
    say("tab-ratios.within"),
    say("tab-ratios.worst-2"),
    say("tab-ratios.pairs"),
    say("tab-ratios.gears-2"),
    say("tab-ratios.length", mm=MM),
    say("tab-ratios.efficiency"),
    say("tab-ratios.short"),
    "",
)


class ComparePage(QWidget):
    """A table of architectures; below it what the chosen one is made of.

    Signals
    -------
    search_wanted : a job to do in the background, what shows its result, and what it is called
    changed : there is something else to say about the comparison
    """

    search_wanted = pyqtSignal(object, object, str)
    changed = pyqtSignal()

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self._offers: tuple[Offer, ...] = ()
        self._asked: object = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self._busy = False
        self.table = Table(HEADERS, say("tab-ratios.architectures-side-by-side"))
        self.table.header_right(2, 3, 4, 5, 6, 7)
        self.table.setToolTip(shown(COUNTED))
        self.table.stretch(8)
        self.table.setMinimumHeight(226)
        self.table.itemSelectionChanged.connect(self._show_chosen)
        self.table.itemActivated.connect(lambda _item: self._take())
        column.addWidget(self.table, 3)
        row = QHBoxLayout()
        self.compare = button(say("tab-ratios.compare-architectures"), self.search, "main")
        self.take = button(say("tab-ratios.use-this-box"), self._take)
        row.addWidget(self.compare)
        row.addWidget(self.take)
        row.addStretch(1)
        column.addLayout(row)
        self.head = caption("", "head")
        column.addWidget(self.head)
        self.detail = Table(
            (
                say("tab-ratios.gear"),
                say("tab-ratios.train-driver-first"),
                say("tab-ratios.ratio"),
                say("tab-ratios.error"),
                say("tab-ratios.place"),
            ),
            say("tab-ratios.the-set"),
        )
        self.detail.header_right(2, 3)
        self.detail.stretch(1)
        column.addWidget(self.detail, 3)
        self.order = caption("", "soft", wrap=True)
        column.addWidget(self.order)

    def refresh(self, _evaluation: Evaluation) -> None:
        """Show what was found, unless the question has changed since."""
        if self._asked is not None and self._asked != self._question():
            self._asked, self._offers = None, ()
        self._fill()

    def words(self) -> str:
        """Say what the page does, or what it found."""
        limit = self.session.vehicle.search.tolerance_percent
        if self._busy:
            return "Comparing …"
        if not self._offers:
            return say("tab-ratios.runs-every-architecture-on-these-targets-the", limit=limit)
        within = sum(1 for offer in self._offers if offer.within)
        return say(
            "tab-ratios.of-keep-every-gear-within-length-is-an",
            within=within,
            count_of__offers=len(self._offers),
            limit=limit,
        )

    def search(self) -> None:
        """Run every architecture in the background."""
        vehicle, question = self.session.vehicle, self._question()
        self._busy = True
        self.changed.emit()

        def show(offers: tuple[Offer, ...]) -> None:
            self._busy = False
            if question == self._question():
                self._asked, self._offers = question, offers
                self._fill()
                self.table.selectRow(self._first_choice())
            self.changed.emit()

        self.search_wanted.emit(
            Job("compare architectures", (vehicle,)),
            show,
            say("tab-ratios.comparing-architectures"),
        )

    def stopped(self) -> None:
        """Say that the comparison was cancelled."""
        self._busy = False
        self.changed.emit()

    def _first_choice(self) -> int:
        rows = [(not o.within, o.gears, n) for n, o in enumerate(self._offers) if o.rows]
        return min(rows)[2] if rows else 0

    def _question(self) -> object:
        return question_of(self.session.vehicle)

    def _fill(self) -> None:
        rows = []
        for offer in self._offers:
            if not offer.rows:
                blank = [Cell("–"), *(Cell("–", right=True) for _ in range(6))]
                rows.append((Cell(offer.title), *blank, Cell(offer.reason, tip=offer.reason)))
                continue
            color = None if offer.within else self.theme.tokens.warn
            figures = (
                signed(offer.worst_error_percent, ".2f"),
                str(offer.pairs),
                str(offer.gears),
                bare(in_mm(offer.length_mm, 0)),
                signed(100 * offer.efficiency, ".0f"),
                str(offer.short),
            )
            rows.append(
                (
                    Cell(offer.title),
                    Cell(
                        say("tab-ratios.yes") if offer.within else say("tab-ratios.no"), color=color
                    ),
                    Cell(figures[0], right=True, color=color, bold=offer.within),
                    *(Cell(figure, right=True) for figure in figures[1:]),
                    Cell(offer.note, tip=offer.note),
                )
            )
        self.table.show_cells(rows)
        self._show_chosen()

    def _chosen(self) -> Offer | None:
        row = self.table.currentRow()
        return self._offers[row] if 0 <= row < len(self._offers) else None

    def _show_chosen(self) -> None:
        offer = self._chosen()
        self.take.setEnabled(offer is not None and bool(offer.rows))
        rows: list[tuple[Cell, ...]] = []
        self.order.setText("")
        if offer is None or not offer.rows:
            self.head.setText("" if offer is None else f"{offer.title}: {offer.reason[:70]}")
            self.detail.show_cells(rows)
            return
        self.head.setText(capitalized(offer.title))
        school = self.session.school
        for row in offer.rows:
            rows.append(
                (
                    Cell(row.gear),
                    Cell(row.train, tip=row.train),
                    Cell(format_ratio(row.ratio, school), right=True),
                    Cell(
                        signed(school.error_percent(row.error_percent), "+.2f"),
                        right=True,
                    ),
                    Cell(row.place),
                )
            )
        self.detail.show_cells(rows)
        if offer.speeds:
            steps = "  ".join(
                f"{s.splitter}/{s.range}: {format_ratio(s.ratio, school)}"
                + (f" ({s.gear})" if s.gear else " (spare)")
                + (" ≈" if s.near else "")
                for s in offer.speeds
            )
            self.order.setText(
                say("tab-ratios.shift-order-splitter-range-marks-a-speed", steps=steps)
            )

    def _take(self) -> None:
        offer = self._chosen()
        edit = offer.edit_for(self.session.vehicle) if offer is not None else None
        if edit is not None:
            self.session.do(edit)

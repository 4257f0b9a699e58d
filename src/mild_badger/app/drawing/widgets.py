"""Labels, buttons and the frames they stand in, in the house style."""

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QEvent, QObject, QSize, Qt
from PyQt6.QtGui import QFont, QFontMetrics, QResizeEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QLabel,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QStackedWidget,
    QTabBar,
    QWidget,
)

from mild_badger.app.drawing.flow import Flow
from mild_badger.app.shown import Button, Label, shown
from mild_badger.app.theme.tokens import SIZES

__all__ = [
    "FitBar",
    "PageStack",
    "Paragraph",
    "button",
    "caption",
    "fill",
    "page_bar",
    "row_of",
    "scrolled",
]

BAR_STEPS = (
    ((SIZES["tab"], 27), (SIZES["lead"], 18), (SIZES["text"], 12)),
    ((SIZES["text"], 18), (SIZES["small"], 14), (SIZES["small"], 8)),
)
"""How large a bar of tabs and one of pages write, and how far apart, from the usual on."""


def caption(text: str = "", role: str = "", *, wrap: bool = False) -> QLabel:
    """Make a label; role is title, head, soft, strong or problem."""
    label = Label(text)
    if role:
        label.setProperty("role", role)
    label.setWordWrap(wrap)
    if role == "title":  # a long name is cut off rather than widening the window
        label.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
    label.setTextFormat(Qt.TextFormat.PlainText)
    return label


def button(text: str, action: Callable[[], object], role: str = "") -> QPushButton:
    """Make a push button; role is main or link."""
    made = Button(text)
    made.setAutoDefault(False)  # Enter in a dialog's field sends the field, nothing else
    if role:
        made.setProperty("role", role)
    made.clicked.connect(lambda _checked=False: action())
    return made


def fill(box: QComboBox, entries: Sequence[tuple[str, object]]) -> None:
    """Fill a choice anew only where it differs, so that what was chosen stays."""
    if [(shown(words), value) for words, value in entries] != [
        (box.itemText(n), box.itemData(n)) for n in range(box.count())
    ]:
        box.clear()
        for words, value in entries:
            box.addItem(shown(words), value)


class PageStack(QStackedWidget):
    """A stack that asks for no more room than the page in view."""

    def minimumSizeHint(self) -> QSize:
        page = self.currentWidget()
        return super().minimumSizeHint() if page is None else page.minimumSizeHint()


def row_of(*things: QWidget | str) -> Flow:
    """Lay words and widgets out in a row, to the left; what finds no room goes below."""
    row = Flow()
    for thing in things:
        row.addWidget(caption(thing) if isinstance(thing, str) else thing)
    return row


def scrolled(inside: QWidget, width: int | None = None) -> QScrollArea:
    """Let a column of fields be scrolled up and down where it is taller than its place."""
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setFrameShape(QScrollArea.Shape.NoFrame)
    area.setWidget(inside)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    if width is not None:
        area.setFixedWidth(width)
    return area


BAR_PX, LEAST_TEXT_PX = 10, 52
"""Width of a scroll bar; and what a long text keeps where there is less room than it needs."""


class Paragraph(QScrollArea):
    """A long text: as high as it needs to be, ``most`` px, and scrolled where it has less."""

    def __init__(self, label: QLabel, *, most: int = 2000) -> None:
        super().__init__()
        self._label, self._most = label, most
        self.setWidget(label)
        self.setWidgetResizable(True)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Preferred)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() is QEvent.Type.LayoutRequest:
            self._fit()
        return super().eventFilter(watched, event)

    def _fit(self) -> None:
        """Ask for the height that the text takes at this width."""
        high = min(max(self._label.heightForWidth(self.width() - BAR_PX), 0) + 2, self._most)
        if high != self.maximumHeight():
            self.setMinimumHeight(min(high, LEAST_TEXT_PX))
            self.setMaximumHeight(high)

    def sizeHint(self) -> QSize:
        return QSize(200, self.maximumHeight())

    def minimumSizeHint(self) -> QSize:
        return QSize(80, self.minimumHeight())


class FitBar(QTabBar):
    """A bar of tabs that writes closer and smaller before it would have to be scrolled.

    The style sheet writes a bar by its property ``fit``: 0 as a rule, up to 2.
    """

    def __init__(self, name: str = "") -> None:
        super().__init__()
        self._widths: dict[int, int] = {}
        self.setObjectName(name)
        self.setProperty("fit", 0)
        self.setDrawBase(False)
        self.setExpanding(False)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    @property
    def _steps(self) -> Sequence[tuple[int, int]]:
        return BAR_STEPS[self.objectName() == "pages"]

    def tabLayoutChange(self) -> None:
        self._widths.clear()
        super().tabLayoutChange()

    def sizeHint(self) -> QSize:
        return QSize(self._wide(*self._steps[0]), super().sizeHint().height())

    def minimumSizeHint(self) -> QSize:
        return QSize(self._wide(*self._steps[-1]), super().minimumSizeHint().height())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        steps = self._steps
        wide = [self._wide(*step) for step in steps]
        fit = next((n for n, width in enumerate(wide) if width <= self.width()), len(steps) - 1)
        style = self.style()
        if fit != self.property("fit") and style is not None:
            self.setProperty("fit", fit)
            style.unpolish(self)
            style.polish(self)
            self.updateGeometry()

    def _wide(self, px: int, beside: int) -> int:
        """Tell how wide all tabs are together: letters of so many px, so much beside each."""
        if px not in self._widths:
            font = QFont(self.font())
            font.setPixelSize(px)
            words = [self.tabText(n) for n in range(self.count()) if self.isTabVisible(n)]
            self._widths[px] = sum(map(QFontMetrics(font).horizontalAdvance, words))
        shown_tabs = sum(self.isTabVisible(n) for n in range(self.count()))
        return self._widths[px] + beside * shown_tabs


def page_bar(titles: Sequence[str]) -> QTabBar:
    """Make the quiet tabs by which a tab turns its pages."""
    bar = FitBar("pages")
    for title in titles:
        bar.addTab(shown(title))
    return bar

"""Labels, buttons and the frames they stand in, in the house style."""

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QStackedWidget,
    QTabBar,
    QWidget,
)

from mild_badger.app.shown import Label, shown

__all__ = [
    "PageStack",
    "button",
    "caption",
    "fill",
    "page_bar",
    "row_of",
    "scrolled",
]


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
    made = QPushButton(shown(text))
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


def row_of(*things: QWidget | str) -> QHBoxLayout:
    """Lay words and widgets out in a row, to the left."""
    row = QHBoxLayout()
    row.setSpacing(8)
    for thing in things:
        row.addWidget(caption(thing) if isinstance(thing, str) else thing)
    row.addStretch(1)
    return row


def scrolled(inside: QWidget, width: int) -> QScrollArea:
    """Let a column of fields be scrolled up and down where it is taller than its place."""
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setFrameShape(QScrollArea.Shape.NoFrame)
    area.setWidget(inside)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFixedWidth(width)
    return area


def page_bar(titles: Sequence[str]) -> QTabBar:
    """Make the quiet tabs by which a tab turns its pages."""
    bar = QTabBar()
    bar.setObjectName("pages")
    bar.setDrawBase(False)
    bar.setExpanding(False)
    bar.setFocusPolicy(Qt.FocusPolicy.TabFocus)
    for title in titles:
        bar.addTab(shown(title))
    return bar
